package program

import (
	"fmt"

	"cablaggio/core/judgement/check"
)

// held finds presses that act again and again while the contact is held.
var held = rule{"held", func(f *facts) []check.Finding {
	var out []check.Finding
	for _, pair := range f.clean() {
		r := pair[0]
		c := f.contact(r)
		h := r.presses[2]
		for i := range r.rig.Actors {
			a := &r.rig.Actors[i]
			n := a.Changes(h.from+100*ms, h.to)
			rate := float64(n) / (float64(h.to-h.from-100*ms) / 1e9)
			if rate < 12 || f.o.alone.rig.Actors[i].Changes(h.from, h.to) > n/4 {
				continue
			}
			x := check.Finding{Level: check.Care, Parts: []string{c.Of, a.Part.ID}, State: r.name}
			_, x.Line = f.driver(a)
			if p := f.net.Whose(c); p != nil && len(p.Signals) > 0 {
				x.Pins = []string{p.Signals[0].Pin}
			}
			x.Title = fmt.Sprintf("While %s is held, %s goes on and off %.0f times a second.", c.Name, a.Name, rate/2)
			x.Why = "So it is chance how it ends. Compare what the pin reads with what it read the last time, and act only when it has changed."
			out = append(out, x)
			break
		}
	}
	return out
}}
