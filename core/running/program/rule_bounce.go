package program

import (
	"fmt"
	"math"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/rig"
)

// bounces finds presses that act more than once when the contact bounces.
var bounces = rule{"bounce", func(f *facts) []check.Finding {
	var out []check.Finding
	for _, pair := range f.clean() {
		clean, bouncing := pair[0], pair[1]
		if bouncing == nil {
			continue
		}
		c := f.contact(clean)
		from, to := bouncing.presses[1].from, bouncing.presses[2].from-1
		what, more := "", false
		for i := range clean.rig.Actors {
			a, b := &clean.rig.Actors[i], &bouncing.rig.Actors[i]
			n, m := a.Changes(from, to), b.Changes(from, to)
			if n > 8 || a.Lost || b.Lost {
				continue // it goes on and off by itself
			}
			// What blinks by itself may do so once more or less.
			alone := f.o.alone.rig.Actors[i].Changes(from, to)
			if on := a.At(to).Amps >= a.On; n != m && alone == 0 || alone == 0 && on != (b.At(to).Amps >= b.On) {
				// Follows of the contact itself are no harm: after the bounce all is as it should be.
				if on == (b.At(to).Amps >= b.On) && follows(a, clean) {
					continue
				}
				what, more = a.Name, true
				break
			}
		}
		// What the release does only where the contact bounces, after it was held for long.
		let := clean.presses[2].to
		for i := range clean.rig.Actors {
			a, b := &clean.rig.Actors[i], &bouncing.rig.Actors[i]
			settled := let + rig.BounceOf(f.net, f.net.Whose(c)) + 300*ms
			if !more && steady(&f.o.alone.rig.Actors[i], 0, f.o.alone.limit) && steady(a, let-50*ms, settled) && !steady(b, let-50*ms, settled) &&
				(a.At(settled).Amps >= a.On) != (b.At(settled).Amps >= b.On) {
				what, more = a.Name, true
			}
		}
		if !more {
			n, m, alone := prints(clean, from, to), prints(bouncing, from, to), prints(f.o.alone, from, to)
			if alone == 0 && n > 0 && n <= 6 && m > n {
				what, more = "what it prints", true
			}
		}
		if !more {
			continue
		}
		p := f.net.Whose(c)
		x := check.Finding{Level: check.Care, Parts: []string{c.Of}, State: bouncing.name}
		if p != nil {
			for _, s := range p.Signals {
				x.Pins = append(x.Pins, s.Pin)
				if q := f.o.pins[f.board.Number(s.Pin)]; q != nil {
					x.Line = max(x.Line, q.readLine)
				}
			}
			x.Why = fmt.Sprintf("Its contact opens and closes several times within %s; the program takes each for a press, as %s shows. Let it wait until the pin has stayed as it is for %s.",
				seconds(rig.BounceOf(f.net, p)), what, seconds(int64(math.Max(0.02, 2*rig.ValueOf(f.net, p, "bounce"))*1e9)))
		}
		x.Title = fmt.Sprintf("One press of %s can act more than once.", c.Name)
		out = append(out, x)
	}
	return append(out, f.keysBounce()...)
}}

// keysBounce finds keypads of which one press acts more than once when the keys bounce.
func (f *facts) keysBounce() (out []check.Finding) {
	for i, r := range f.o.runs {
		if r.control < 0 || f.net.Controls[r.control].Kind != wiring.Keys || i+1 >= len(f.o.runs) || f.o.runs[i+1].control != r.control || len(r.presses) == 0 || r.presses[0].bounces {
			continue
		}
		bouncing := f.o.runs[i+1]
		c := &f.net.Controls[r.control]
		what := ""
		for k := range r.rig.Actors {
			a, b, base := &r.rig.Actors[k], &bouncing.rig.Actors[k], &f.o.alone.rig.Actors[k]
			if a.Lost || b.Lost || base.Changes(0, f.o.alone.limit) > 1 {
				continue
			}
			for _, p := range r.presses {
				// Once it has come to rest, down and up again, all should be as without the bounce.
				for _, still := range []int64{p.from + 60*ms, p.to + 60*ms} {
					if (a.At(still).Amps >= a.On) != (b.At(still).Amps >= b.On) {
						what = a.Name
					}
				}
			}
		}
		if n, m := prints(r, 0, r.limit), prints(bouncing, 0, r.limit); what == "" && prints(f.o.alone, 0, f.o.alone.limit) <= 1 && n > 0 && m > n {
			what = "what it prints"
		}
		if what == "" {
			continue
		}
		x := check.Finding{Level: check.Care, Parts: []string{c.Of}, State: bouncing.name}
		for _, s := range f.net.Whose(c).Signals {
			if q := f.o.pins[f.board.Number(s.Pin)]; q != nil && s.Needs == board.DigitalIn {
				x.Pins, x.Line = append(x.Pins, s.Pin), max(x.Line, q.readLine)
			}
		}
		x.Title = fmt.Sprintf("One press of a key of %s can act more than once.", c.Name)
		x.Why = fmt.Sprintf("Keys bounce; the program takes each opening and closing for a press, as %s shows. Pause for some 20 ms when the key that is down has changed.", what)
		out = append(out, x)
	}
	return out
}
