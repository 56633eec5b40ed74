package check

import (
	"fmt"

	"cablaggio/core/board"
	"cablaggio/core/wiring"
)

// groupCurrent holds what the pins of a port group carry together against the
// group's limit.
var groupCurrent = rule{"group-current", func(f *facts) []Finding {
	var out []Finding
	for i, g := range f.board.Logic.Groups {
		for _, x := range f.total(func(f *facts) wiring.Range { return f.group(g) }, g.Limit, 0,
			"The pins "+g.Name+" "+string(g.Way)+" up to %s together; %s is recommended.",
			"The pins "+g.Name+" "+string(g.Way)+" up to %s together; the chip survives %s.",
			"They share one way to the supply inside the chip, however well each pin does alone.") {
			x.which = fmt.Sprint(i)
			out = append(out, x)
		}
	}
	return out
}}

// group is what the pins of a port group carry in the group's way, each piece
// in its worst state.
func (f *facts) group(g board.Group) wiring.Range {
	role := wiring.HighSide
	if g.Way == board.Sink {
		role = wiring.LowSide
	}
	in := map[string]bool{}
	for _, pin := range g.Pins {
		in[pin] = true
	}
	return f.sum(f.where(func(e *wiring.Element) bool { return e.Role == role && in[e.Pin] }))
}
