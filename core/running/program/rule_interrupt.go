package program

import (
	"fmt"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
)

// handlers finds what does not belong into a function that handles an interrupt, and variables
// that it shares without saying so.
var handlers = rule{"interrupt", func(f *facts) []check.Finding {
	var out []check.Finding
	for _, v := range f.tree.Shared {
		x := check.Finding{Level: check.Care, Line: v.Line}
		x.Title = fmt.Sprintf("%q is changed by an interrupt and used elsewhere, and is not volatile.", v.Name)
		x.Why = "The compiler may keep its value in a register, and the rest of the program never sees it change."
		x.Fixes = f.rewrite("Make it volatile", v.Line, indented("volatile ", f.line(v.Line)))
		out = append(out, x)
	}
	told := map[int]bool{}
	add := func(line int, what, why string) {
		if !told[line] {
			told[line] = true
			out = append(out, check.Finding{Level: check.Care, Line: line, Title: fmt.Sprintf("%s %s in a function that handles an interrupt.", build.Capital(f.at(line)), what), Why: why})
		}
	}
	for _, r := range f.o.all() {
		for _, e := range r.notes {
			if e.Kind == machine.Paused && e.InHandler && e.Value > 100e3 {
				add(e.Line, "pauses", "Meanwhile nothing else runs, on some boards not even the clock that ends the pause. Note that it happened, and do the rest in loop.")
			}
		}
		for _, p := range r.prints {
			if p.handler {
				add(p.line, "prints", "Printing waits for the link, which waits for an interrupt that cannot come now. Note that it happened, and print in loop.")
			}
		}
	}
	for _, c := range f.tree.Calls {
		switch {
		case !c.Handler:
		case c.Name == "delay":
			add(c.Line, "pauses", "Meanwhile nothing else runs, on some boards not even the clock that ends the pause. Note that it happened, and do the rest in loop.")
		case c.Name == "print" || c.Name == "println":
			add(c.Line, "prints", "Printing waits for the link, which waits for an interrupt that cannot come now. Note that it happened, and print in loop.")
		}
	}
	return out
}}

// indented puts a word before the first of a line.
func indented(word, line string) string {
	trimmed := strings.TrimLeft(line, " \t")
	return line[:len(line)-len(trimmed)] + word + trimmed
}
