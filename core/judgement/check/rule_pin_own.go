package check

import (
	"fmt"
	"slices"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/choose"
	"cablaggio/core/planning/plan"
)

// pinOwn finds signals on pins that the board uses itself.
var pinOwn = rule{"pin-own", func(f *facts) []Finding {
	var out []Finding
	for _, u := range f.net.Uses {
		own := u.Pin.Own
		if own == nil {
			continue
		}
		c := u.Signals[0]
		x := Finding{
			Level: Note, Parts: []string{c.Part.ID}, Pins: []string{u.Pin.Name}, why: words(own.Effect),
			title: say("%s is on %s, which is the board's %s too.", called(c.Part.Name), pinName(u.Pin.Name), own.For),
			Fixes: f.moveAway(c),
		}
		if own.Care {
			x.Level = Care
			if len(x.Fixes) == 0 {
				x.Stuck = "No other pin that suits is free. Free one, and it can move there."
			}
		}
		out = append(out, x)
	}
	return out
}}

// moveAway moves a signal to the best free pin that the board leaves alone.
func (f *facts) moveAway(c wiring.Claim) []Fix {
	free := plan.PinsFor(f.lib, f.doc, c.Part, c.Signal)
	i := slices.IndexFunc(free, func(p choose.PinChoice) bool { pin, _ := f.board.Pin(p.Pin); return pin.Own == nil })
	if i < 0 {
		return nil
	}
	return []Fix{{fmt.Sprintf("Move %s to %s", c.Part.Name, free[i].Pin), editsOf(plan.MovePin{Part: c.Part.ID, Signal: c.Signal.Name, Pin: free[i].Pin})}}
}
