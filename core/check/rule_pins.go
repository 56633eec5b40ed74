package check

import (
	"fmt"
	"slices"

	"cablaggio/core/choose"
	"cablaggio/core/plan"
	"cablaggio/core/wiring"
)

// pinFunction finds signals on pins that cannot do what they need.
var pinFunction = rule{"pin-function", func(f *facts) []Finding {
	var out []Finding
	for _, u := range f.net.Uses {
		for _, c := range u.Signals {
			s := c.Signal
			if !u.Pin.Has(s.Needs) {
				out = append(out, Finding{
					Level: Stop, Parts: []string{c.Part.ID}, Pins: []string{u.Pin.Name},
					Title: fmt.Sprintf("%s cannot do %s, which %s needs.", u.Pin.Name, s.Needs.Name(), c.Part.Name),
					Why:   "The chip has nothing behind this pin that could.",
					Fixes: f.moveTo(c),
				})
			} else if !f.hasPull(s.Pull) {
				out = append(out, Finding{
					Level: Stop, Parts: []string{c.Part.ID}, Pins: []string{u.Pin.Name},
					Title: fmt.Sprintf("The %s has no pull-%s inside, which %s relies on.", f.board.Name, s.Pull, c.Part.Name),
					Why:   "The program can ask for it; nothing will hold the pin.",
					Fixes: f.rewire(c.Part),
				})
			}
		}
	}
	return out
}}

// pinShared finds pins that more than one signal claims.
var pinShared = rule{"pin-shared", func(f *facts) []Finding {
	var out []Finding
	for _, u := range f.net.Uses {
		for _, c := range u.Signals[1:] {
			first := u.Signals[0]
			if c.Signal.Bus != "" && c.Signal.Bus == first.Signal.Bus {
				continue // meant to be one line
			}
			x := Finding{
				Level: Stop, Parts: []string{first.Part.ID, c.Part.ID}, Pins: []string{u.Pin.Name},
				Title: fmt.Sprintf("%s and %s are both on %s.", first.Part.Name, c.Part.Name, u.Pin.Name),
				Why:   "A pin cannot drive the one and read the other.",
				Fixes: f.moveTo(c),
			}
			if first.Signal.Needs == c.Signal.Needs {
				x.Level = Care
				x.Why = "The program cannot tell them apart: what it does to one it does to the other."
			}
			out = append(out, x)
		}
	}
	return out
}}

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
			Level: Note, Parts: []string{c.Part.ID}, Pins: []string{u.Pin.Name}, Why: own.Effect,
			Title: fmt.Sprintf("%s is on %s, which is the board's %s too.", c.Part.Name, u.Pin.Name, own.For),
			Fixes: f.moveAway(c),
		}
		if own.Care {
			x.Level = Care
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
	return []Fix{{fmt.Sprintf("Move %s to %s", c.Part.Name, free[i].Pin), editsOf(plan.Edit{Op: plan.MovePin, Part: c.Part.ID, Signal: c.Signal.Name, Pin: free[i].Pin})}}
}
