package program

import (
	"fmt"

	"cablaggio/core/check"
	"cablaggio/core/machine"
)

// unreached finds calls of the board that no run came to.
var unreached = rule{"unreached", func(f *facts) []check.Finding {
	if f.o.slow || f.o.alone.ending.How == machine.Crashed || f.o.alone.longest > f.o.alone.limit {
		return nil
	}
	var lines []int
	for _, c := range f.tree.Calls {
		if !f.o.lines[c.Line] && (len(lines) == 0 || lines[len(lines)-1] != c.Line) && c.Name != "print" && c.Name != "println" && c.Name != "begin" && c.Name != "delay" {
			lines = append(lines, c.Line)
		}
	}
	if len(lines) == 0 {
		return nil
	}
	return []check.Finding{{
		Level: check.Note, Line: lines[0],
		Title: fmt.Sprintf("Nothing that was tried led to line %s.", list(lines, 5)),
		Why:   "Each contact was pressed, each knob turned and each key tried. Either something else has to happen first, or the program never gets there.",
	}}
}}
