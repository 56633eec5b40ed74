package build

import (
	"encoding/json"
	"fmt"
	"path"
	"slices"
	"strings"
	"unicode/utf8"
)

// A Language is a dialect that programs are written in.
type Language string

// The languages.
const (
	CPP           Language = "cpp"            // C++ with setup and loop
	PythonBoard   Language = "python-board"   // Python with board, digitalio, analogio, pwmio
	PythonMachine Language = "python-machine" // Python with machine
)

// Languages lists every language.
var Languages = []Language{CPP, PythonBoard, PythonMachine}

// Name is the language in words.
func (l Language) Name() string {
	switch l {
	case CPP:
		return "C++"
	case PythonBoard:
		return "Python with board"
	case PythonMachine:
		return "Python with machine"
	}
	return string(l)
}

// Python reports whether it is a dialect of Python.
func (l Language) Python() bool { return l == PythonBoard || l == PythonMachine }

// File is the name of the main file of a program in the language.
func (l Language) File() string {
	if l.Python() {
		return "program.py"
	}
	return "program.cpp"
}

// MaxProgram is how many bytes a program has at most, all its files together.
const MaxProgram = 64 << 10

// MaxFiles is how many files a program has beside its main one.
const MaxFiles = 8

// A Program is what the builder wrote for the board.
type Program struct {
	Language Language      `json:"language"`
	Text     string        `json:"text"`
	Files    []ProgramFile `json:"files,omitempty"` // of C++: what the main file includes, and other parts
}

// LineStep is by how much the lines of each further file of a program are higher than they are in
// it, so that one number says both.
const LineStep = 100000

// Line says in words which line a number stands for: "line 4", "line 4 of lamp.h".
func (p *Program) Line(n int) string {
	if i := n/LineStep - 1; p != nil && i >= 0 && i < len(p.Files) {
		return fmt.Sprintf("line %d of %s", n%LineStep, p.Files[i].Name)
	}
	return fmt.Sprintf("line %d", n)
}

// LineText is what stands in the line of a number; "" where there is none.
func (p *Program) LineText(n int) string {
	text := p.Text
	if i := n/LineStep - 1; i >= 0 && i < len(p.Files) {
		text, n = p.Files[i].Text, n%LineStep
	}
	lines := strings.Split(text, "\n")
	if n < 1 || n > len(lines) {
		return ""
	}
	return lines[n-1]
}

// A ProgramFile is one more file of a program.
type ProgramFile struct {
	Name string `json:"name"`
	Text string `json:"text"`
}

// Clone returns a copy, nil of nil.
func (p *Program) Clone() *Program {
	if p == nil {
		return nil
	}
	c := *p
	c.Files = slices.Clone(p.Files)
	return &c
}

// WithProgram returns the file of a build with a program in it.
func WithProgram(file []byte, p Program) ([]byte, error) {
	var fields map[string]json.RawMessage
	if err := json.Unmarshal(file, &fields); err != nil {
		return nil, err
	}
	program, err := json.Marshal(p)
	if err != nil {
		return nil, err
	}
	fields["program"] = program
	return json.MarshalIndent(fields, "", "  ")
}

// program checks the program of a document.
func (v *validator) program() {
	p := v.doc.Program
	if p == nil {
		return
	}
	if !slices.Contains(Languages, p.Language) {
		v.bad("program.language", fmt.Sprintf("there is no language %q", clip(string(p.Language))), fmt.Sprintf("the languages are %s, %s and %s", CPP, PythonBoard, PythonMachine))
		return
	}
	if len(p.Files) > MaxFiles || p.Language.Python() && len(p.Files) > 0 {
		v.bad("program.files", fmt.Sprintf("there are %d", len(p.Files)), fmt.Sprintf("C++ has at most %d beside the main file, Python none", MaxFiles))
	}
	size := len(p.Text)
	v.source("program.text", p.Text)
	seen := map[string]bool{p.Language.File(): true}
	for i, f := range p.Files {
		where := fmt.Sprintf("program.files[%d]", i)
		size += len(f.Text)
		if ext := path.Ext(f.Name); path.Base(f.Name) != f.Name || !ValidID(strings.TrimSuffix(f.Name, ext)) || ext != ".h" && ext != ".cpp" || seen[f.Name] {
			v.bad(where+".name", fmt.Sprintf("%q", clip(f.Name)), "a name of its own of small letters, digits and hyphens that ends in .h or .cpp")
		}
		seen[f.Name] = true
		v.source(where+".text", f.Text)
	}
	if size > MaxProgram {
		v.bad("program", fmt.Sprintf("it has %d kB", size/1024), fmt.Sprintf("a program has at most %d kB", MaxProgram/1024))
	}
}

func (v *validator) source(where, text string) {
	if !utf8.ValidString(text) || strings.ContainsRune(text, 0) {
		v.bad(where, "it is not text in UTF-8", "save it as plain text")
	}
}
