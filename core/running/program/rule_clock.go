package program

import (
	"fmt"

	"cablaggio/core/judgement/check"
)

// clockOver finds programs in which something stands still once the clock has run over.
var clockOver = rule{"clock", func(f *facts) []check.Finding {
	for _, r := range f.o.runs {
		if r.name != overflow {
			continue
		}
		from, to := r.limit/2, r.limit
		// What goes round slowly may be between two of its steps: only when nothing at all moves
		// any more does something stand still.
		moves, before := prints(r, from, to), 0
		for i := range r.rig.Actors {
			moves += len(r.rig.Actors[i].Within(from, to)) - 1
			before += f.o.alone.rig.Actors[i].Changes(from, to)
		}
		for i := range r.rig.Actors {
			a, base := &r.rig.Actors[i], &f.o.alone.rig.Actors[i]
			still := moves <= 0 && before >= 3 && base.Changes(from, to) > 0
			races := a.Lost || a.Changes(0, to) > 3*base.Changes(0, to)+10
			if base.Lost || base.Changes(0, to) == 0 || !still && !races {
				continue
			}
			pin, line := f.driver(a)
			x := check.Finding{Level: check.Care, Parts: []string{a.Part.ID}, Line: line, State: r.name}
			if pin != "" {
				x.Pins = []string{pin}
			}
			days := float64(f.tree.Clock) / 86400e3
			x.Title = fmt.Sprintf("After %.1f days %s stands still.", days, a.Name)
			if !still {
				x.Title = fmt.Sprintf("After %.1f days %s goes on and off as fast as the program runs, for a while.", days, a.Name)
			}
			x.Why = "Then the milliseconds begin again at 0. What is compared should be how long ago something was: now − then, not now with then + pause."
			return []check.Finding{x}
		}
	}
	return nil
}}
