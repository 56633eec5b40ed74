package build_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
)

// A program in a file of a build is taken, or refused with what would be right; the build is
// the same with it as without.
func TestAProgramInAFile(t *testing.T) {
	many := make([]build.ProgramFile, build.MaxFiles+1)
	for i := range many {
		many[i].Name = "f" + strings.Repeat("x", i) + ".h"
	}
	for name, c := range map[string]struct {
		program build.Program
		says    string
	}{
		"empty":              {build.Program{Language: build.CPP}, ""},
		"with a part":        {build.Program{Language: build.CPP, Text: "#include \"lamp.h\"\n", Files: []build.ProgramFile{{Name: "lamp.h", Text: "int lamp;\n"}}}, ""},
		"as much as it may":  {build.Program{Language: build.CPP, Text: strings.Repeat(" ", build.MaxProgram)}, ""},
		"a byte more":        {build.Program{Language: build.CPP, Text: strings.Repeat(" ", build.MaxProgram), Files: []build.ProgramFile{{Name: "a.h", Text: " "}}}, "at most 64 kB"},
		"no language":        {build.Program{}, "the languages are cpp"},
		"another language":   {build.Program{Language: "basic"}, `no language "basic"`},
		"parts of Python":    {build.Program{Language: build.PythonMachine, Files: many[:1]}, "Python none"},
		"too many parts":     {build.Program{Language: build.CPP, Files: many}, "at most 8"},
		"up and away":        {build.Program{Language: build.CPP, Files: []build.ProgramFile{{Name: "../a.h"}}}, "ends in .h or .cpp"},
		"a part of a part":   {build.Program{Language: build.CPP, Files: []build.ProgramFile{{Name: "a/b.h"}}}, "ends in .h or .cpp"},
		"a picture":          {build.Program{Language: build.CPP, Files: []build.ProgramFile{{Name: "a.png"}}}, "ends in .h or .cpp"},
		"the main file":      {build.Program{Language: build.CPP, Files: []build.ProgramFile{{Name: "program.cpp"}}}, "a name of its own"},
		"the same one twice": {build.Program{Language: build.CPP, Files: []build.ProgramFile{{Name: "a.h"}, {Name: "a.h"}}}, "a name of its own"},
		"a zero in it":       {build.Program{Language: build.CPP, Text: "int a;\x00"}, "not text"},
	} {
		file, err := build.WithProgram([]byte(small), c.program)
		require.NoError(t, err, name)
		doc, err := lib.Parse(file)
		if c.says != "" {
			assert.ErrorContains(t, err, c.says, name)
			continue
		}
		require.NoError(t, err, name)
		assert.Equal(t, &c.program, doc.Program, name)
		bare, err := lib.Parse([]byte(small))
		require.NoError(t, err)
		doc.Program = nil
		assert.Equal(t, bare, doc, name)
	}
	_, err := build.WithProgram([]byte("no build"), build.Program{})
	var syntax *json.SyntaxError
	assert.ErrorAs(t, err, &syntax)
}

// A copy is one's own.
func TestACopyOfAProgram(t *testing.T) {
	var none *build.Program
	assert.Nil(t, none.Clone())
	p := &build.Program{Language: build.CPP, Files: []build.ProgramFile{{Name: "a.h", Text: "1"}}}
	c := p.Clone()
	c.Files[0].Text = "2"
	assert.Equal(t, "1", p.Files[0].Text)
}

// A text says of itself in which language it is written; where it says nothing, its file does.
func TestRecognise(t *testing.T) {
	for _, c := range []struct {
		file, text string
		want       build.Language
	}{
		{"", "import board\nimport digitalio\n", build.PythonBoard},
		{"a.cpp", "import board, pwmio\n", build.PythonBoard},
		{"", "from machine import Pin\n", build.PythonMachine},
		{"", "import machine\nwhile True:\n    pass\n", build.PythonMachine},
		{"a.py", "", build.PythonMachine},
		{"a.txt", "def on():\n    pass\n\nwhile True:\n    on()\n", build.PythonMachine},
		{"a.cpp", "", build.CPP},
		{"lamp.h", "", build.CPP},
		{"a.txt", "int lamp = 4; // import board\nvoid loop() {\n}\n", build.CPP},
		{"", "", build.CPP},
	} {
		assert.Equal(t, c.want, build.Recognise(c.file, c.text), "%s %q", c.file, c.text)
	}
}

// What people read of a language, and the file that it is saved as.
func TestLanguages(t *testing.T) {
	names := map[string]bool{}
	for _, l := range build.Languages {
		names[l.Name()] = true
		assert.Equal(t, l.Python(), strings.HasSuffix(l.File(), ".py"), l)
		assert.Equal(t, l.Python(), strings.Contains(l.Name(), "Python"), l)
	}
	assert.Len(t, names, len(build.Languages))
}

// One number says the file and the line; a program that has no such file takes it as it is.
func TestLinesInWords(t *testing.T) {
	p := &build.Program{Language: build.CPP, Files: []build.ProgramFile{{Name: "lamp.h"}, {Name: "show.cpp"}}}
	for n, words := range map[int]string{
		1: "line 1", 99999: "line 99999", build.LineStep + 7: "line 7 of lamp.h", 2*build.LineStep + 40: "line 40 of show.cpp", 3*build.LineStep + 1: "line 300001",
	} {
		assert.Equal(t, words, p.Line(n))
	}
	assert.Equal(t, "line 5", (*build.Program)(nil).Line(5))
}
