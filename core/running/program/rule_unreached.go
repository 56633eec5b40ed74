package program

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
)

// endless is a loop without an end and with nothing in it.
var endless = regexp.MustCompile(`(?:while\s*\(\s*(?:true|1)\s*\)|for\s*\(\s*;\s*;\s*\))\s*(?:;|\{\s*\})`)

// stuckAt is the line of an endless loop; 0: there is none, or not one alone.
func (f *facts) stuckAt() int {
	text := f.doc.Program.Text
	all := endless.FindAllStringIndex(text, -1)
	if f.doc.Program.Language != build.CPP || len(all) != 1 {
		return 0
	}
	return 1 + strings.Count(text[:all[0][0]], "\n")
}

// silent are the calls that the board may hear nothing of, or that say nothing of a pin.
var silent = []string{"print", "println", "begin", "delay", "Pin", "PWM", "ADC"}

// unreached finds calls of the board that no run came to.
var unreached = rule{"unreached", func(f *facts) []check.Finding {
	if f.o.slow || f.o.alone.ending.How == machine.Crashed || f.o.alone.longest > f.o.alone.limit {
		return nil
	}
	var lines []int
	for _, c := range f.tree.Calls {
		if !f.o.lines[c.Line] && (len(lines) == 0 || lines[len(lines)-1] != c.Line) && !slices.Contains(silent, c.Name) {
			lines = append(lines, c.Line)
		}
	}
	if len(lines) == 0 {
		return nil
	}
	if line := f.stuckAt(); line > 0 && line < lines[0] {
		return []check.Finding{{
			Level: check.Stop, Line: line,
			Title: fmt.Sprintf("The program stays in %s for ever: nothing behind it is ever done.", f.at(line)),
			Why:   "A loop whose condition is always so, with nothing in it, has no end.",
		}}
	}
	words := []string{f.at(lines[0])}
	for _, n := range lines[1:] {
		words = append(words, strings.TrimPrefix(f.at(n), "line "))
	}
	tried := "Each contact was pressed, each knob turned and each key tried"
	if f.o.grown > 0 {
		tried += fmt.Sprintf(", and then %d sequences of them with pauses between", f.o.grown)
	}
	return []check.Finding{{
		Level: check.Note, Line: lines[0],
		Title: "Nothing that was tried led to " + list(words, 5) + ".",
		Why:   tried + ". Either something else has to happen first, or the program never gets there. Nothing is said of what is done there.",
	}}
}}
