package check

import (
	"cablaggio/core/catalogue/board"
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
					title: say("%s cannot do %s, which %s needs.", pinName(u.Pin.Name), s.Needs.Name(), called(c.Part.Name)),
					why:   say("The chip has nothing behind this pin that could."),
					Fixes: f.moveTo(c),
				})
			} else if s.Pull != board.NoPull && f.board.PullAt(u.Pin, s.Pull).IsZero() {
				x := Finding{
					Level: Stop, Parts: []string{c.Part.ID}, Pins: []string{u.Pin.Name},
					title: say("%s has no pull-%s inside, which %s relies on.", pinName(u.Pin.Name), s.Pull, called(c.Part.Name)),
					why:   say("The program can ask for it; nothing will hold the pin."),
					Fixes: f.rewire(c.Part),
				}
				if f.hasPull(s.Pull) {
					x.why = x.why.after(say("It is only an input, without pulls."))
					x.Fixes = append(f.moveTo(c), x.Fixes...)
				}
				out = append(out, x)
			}
		}
	}
	return out
}}
