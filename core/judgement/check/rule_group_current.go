package check

import (
	"fmt"
)

// groupCurrent holds what the pins of a port group carry together against the
// group's limit.
var groupCurrent = rule{"group-current", func(f *facts) []Finding {
	var out []Finding
	for i, g := range f.board.Logic.Groups {
		for _, x := range f.total(func(f *facts) total { return f.group(g) }, g.Limit, 0, called(g.Name+" "+string(g.Way)),
			"The pins %[3]s up to %[1]s together; %[2]s is recommended.",
			"The pins %[3]s up to %[1]s together; the chip survives %[2]s.",
			"They share one way to the supply inside the chip, however well each pin does alone.") {
			x.which = fmt.Sprint(i)
			out = append(out, x)
		}
	}
	return out
}}
