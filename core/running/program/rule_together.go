package program

import (
	"fmt"
	"slices"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/rig"
	"cablaggio/core/values/quantity"
)

// together finds parts that are said to be on one at a time, and that the program has on
// together.
var together = rule{"together", func(f *facts) []check.Finding {
	var out []check.Finding
	for _, group := range f.doc.Exclusive {
		for _, r := range f.o.all() {
			a, b, at, amps := overlap(r, group)
			if a == nil {
				continue
			}
			q := check.Against("current", quantity.Ampere, wiring.Range{Low: amps, Typ: amps, High: amps}, f.board.Logic.Total)
			x := check.Finding{Level: check.Care, Parts: []string{a.Part.ID, b.Part.ID}, Found: q, State: r.name}
			_, x.Line = f.driver(b)
			for _, l := range []*rig.Actor{a, b} {
				if pin, _ := f.driver(l); pin != "" {
					x.Pins = append(x.Pins, pin)
				}
			}
			x.Title = fmt.Sprintf("%s and %s are on together, after %s; they are said to take turns.", a.Name, b.Name, seconds(at))
			x.Why = "The wiring was worked out for one at a time: with a shared resistor both are darker, and without one the pins carry more than was counted. Switch the one off before the other goes on."
			out = append(out, x)
			break
		}
	}
	for _, r := range f.o.all() {
		for _, t := range r.turns {
			name := f.doc.Part(t.part).Name
			if !t.broken || slices.ContainsFunc(out, func(x check.Finding) bool { return slices.Contains(x.Parts, t.part) }) {
				continue
			}
			x := f.about(check.Finding{Level: check.Stop, Line: t.line, Parts: []string{t.part}, State: r.name}, t.both[0], t.both[1])
			x.Title = fmt.Sprintf("%s and %s of %s are selected together.", f.o.words(t.both[0]), f.o.words(t.both[1]), name)
			x.Why = "Then nobody can tell which of the two a key belongs to. Let each go before the next is driven."
			if slices.ContainsFunc(r.rig.Actors, func(a rig.Actor) bool { return a.Part.ID == t.part }) {
				x.Level = check.Care
				x.Title = fmt.Sprintf("%s and %s of %s are on together; they are said to take turns.", f.o.words(t.both[0]), f.o.words(t.both[1]), name)
				x.Why = "They share a resistor, so each is darker than alone. Switch the one off before the other goes on."
			}
			out = append(out, x)
		}
	}
	return out
}}

// overlap looks for two parts of a group that are on at the same time for longer than a
// program takes from one write to the next.
func overlap(r *run, group []string) (a, b *rig.Actor, at int64, amps float64) {
	const least = 2 * ms
	for i := range r.rig.Actors {
		x := &r.rig.Actors[i]
		if !slices.Contains(group, x.Part.ID) {
			continue
		}
		for k := i + 1; k < len(r.rig.Actors); k++ {
			y := &r.rig.Actors[k]
			if y.Part == x.Part || !slices.Contains(group, y.Part.ID) {
				continue
			}
			for n, act := range x.Acts {
				if act.Amps < x.On {
					continue
				}
				end := r.limit
				if n+1 < len(x.Acts) {
					end = x.Acts[n+1].At
				}
				for m, other := range y.Within(act.At, end) {
					_ = m
					from := max(act.At, other.At)
					if other.Amps >= y.On && end-from > least && y.At(from+least).Amps >= y.On {
						return x, y, from, act.Amps + other.Amps
					}
				}
			}
		}
	}
	return nil, nil, 0, 0
}
