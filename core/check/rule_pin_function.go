package check

import (
	"fmt"

	"cablaggio/core/board"
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
			} else if s.Pull != board.NoPull && f.board.PullAt(u.Pin, s.Pull).IsZero() {
				x := Finding{
					Level: Stop, Parts: []string{c.Part.ID}, Pins: []string{u.Pin.Name},
					Title: fmt.Sprintf("%s has no pull-%s inside, which %s relies on.", u.Pin.Name, s.Pull, c.Part.Name),
					Why:   "The program can ask for it; nothing will hold the pin.",
					Fixes: f.rewire(c.Part),
				}
				if f.hasPull(s.Pull) {
					x.Why = "It is only an input, without pulls. " + x.Why
					x.Fixes = append(f.moveTo(c), x.Fixes...)
				}
				out = append(out, x)
			}
		}
	}
	return out
}}
