package program

import (
	"fmt"
	"slices"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
)

// effect finds contacts that the program reads, and does nothing with that anybody notices.
var effect = rule{"effect", func(f *facts) []check.Finding {
	if f.o.slow || f.o.alone.ending.How == machine.Crashed || len(f.moved) > 0 {
		return nil
	}
	contacts, others := 0, false
	for _, c := range f.net.Controls {
		switch c.Kind {
		case wiring.Contact:
			contacts++
		case wiring.Keys, wiring.Level:
			others = true
		}
	}
	if contacts >= riddles {
		return nil // it may take several of them in some order
	}
	var out []check.Finding
	for _, pair := range f.clean() {
		c := f.contact(pair[0])
		p := f.net.Whose(c)
		if p == nil || slices.ContainsFunc(pair[:], func(r *run) bool { return r != nil && (r.ending.How == machine.Crashed || f.shows(r)) }) || f.showsAfter(pair[0].control) {
			continue
		}
		for _, s := range p.Signals {
			x := f.o.pins[f.board.Number(s.Pin)]
			if x == nil || !x.input() {
				continue // that it is never used is told otherwise
			}
			y := f.about(check.Finding{Level: check.Care, Line: max(x.readLine, x.attachLine), Parts: []string{p.ID}}, x.pin)
			y.Title = fmt.Sprintf("Nothing comes of %s: it was used for short and for longer, and what is lit and printed stays the same.", c.Name)
			y.Why = "The program reads it, and does nothing that shows with what it read. Is it read only once, or compared with what it never is?"
			if contacts > 1 || others || f.tree.Clock != 0 || f.tree.Receives {
				y.Level = check.Note
				y.Why += " It may be that something else has to happen at the same time, or first."
			}
			out = append(out, y)
			break
		}
	}
	return out
}}

// showsAfter reports whether a contact changes anything once another was used, which had come to
// rest.
func (f *facts) showsAfter(control int) bool {
	const rests = 150 * ms
	for _, r := range f.o.runs {
		if r.control != -2 || r.second != control || len(r.presses) != 2 {
			continue
		}
		first, second := r.presses[0], r.presses[1]
		for i := range r.rig.Actors {
			a := &r.rig.Actors[i]
			if steady(a, first.to+rests, second.from) && !steady(a, second.from, r.limit) {
				return true
			}
		}
	}
	return false
}

// shows reports whether what hands do in a run changes anything that acts, or is printed.
func (f *facts) shows(r *run) bool {
	for k, p := range r.presses {
		until := r.limit
		if k+1 < len(r.presses) {
			until = r.presses[k+1].from
		}
		if _, by := f.answer(r, p.from, until); by != nil {
			return true
		}
	}
	if len(r.prints) != len(f.o.alone.prints) {
		return true
	}
	for i, p := range r.prints {
		if p.text != f.o.alone.prints[i].text {
			return true
		}
	}
	// What goes on by itself all the time hides an answer; it shows in how often it goes.
	for i := range r.rig.Actors {
		a, b := &r.rig.Actors[i], &f.o.alone.rig.Actors[i]
		if len(a.Acts) != len(b.Acts) {
			return true
		}
		for k := range a.Acts {
			if a.Acts[k].Amps != b.Acts[k].Amps {
				return true
			}
		}
	}
	return false
}
