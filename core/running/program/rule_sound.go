package program

import (
	"fmt"
	"slices"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
	"cablaggio/core/running/rig"
)

// sounds finds buzzers without a tone of their own that are only switched on and off, and tones
// that nothing ends.
var sounds = rule{"sound", func(f *facts) []check.Finding {
	if f.o.slow || f.o.alone.ending.How == machine.Crashed || len(f.moved) > 0 {
		return nil
	}
	heard := func(a *rig.Actor) bool {
		return slices.ContainsFunc(a.Acts, func(x rig.Act) bool { return x.Hertz > 0 })
	}
	var out []check.Finding
	for i := range f.o.alone.rig.Actors {
		a := &f.o.alone.rig.Actors[i]
		pin, line := f.driver(a)
		if kind, _ := f.lib.Catalogue.Kind(a.Part.Kind); pin == "" || kind.Acts != part.Tone {
			continue
		}
		p := f.o.pins[f.board.Number(pin)]
		if slices.ContainsFunc(f.o.all(), func(r *run) bool { return heard(&r.rig.Actors[i]) }) {
			if f.unended(i, p) {
				x := f.about(check.Finding{Level: check.Care, Line: p.toneLine}, p.pin)
				x.Title = fmt.Sprintf("Once %s sounds it goes on: nothing that was tried ends its tone.", a.Name)
				x.Why = "A tone without a length lasts until noTone, or until a duty of 0. Is it missing where it is to be quiet again?"
				out = append(out, x)
			}
			continue
		}
		if !p.high || p.duty.line+p.toneLine > 0 {
			continue
		}
		x := f.about(check.Finding{Level: check.Care, Line: line}, p.pin)
		x.Title = fmt.Sprintf("%s is only switched on and off: it clicks, and gives no tone.", a.Name)
		x.Why = "A buzzer without a tone of its own sounds as often a second as its pin goes over: tone(pin, 880), or a PWM of some hundred hertz. One with its own tone is another part, an active buzzer."
		out = append(out, x)
	}
	return out
}}

// unended reports whether a tone that a hand brings about never ends, in no run and of none that
// hands bring about: it may come with time, or be typed.
func (f *facts) unended(actor int, p *pinFacts) bool {
	if p.toneLine == 0 || f.tree.Clock != 0 || f.tree.Receives || f.contacts() >= riddles {
		return false
	}
	begun := false
	for _, r := range f.o.all() {
		sounding := false
		for _, x := range r.rig.Actors[actor].Acts {
			if sounding && x.Hertz == 0 {
				return false
			}
			// What sounds from the start on may be meant to; what begins later has a reason, which goes.
			begun = begun || !sounding && x.Hertz > 0 && x.At > 100*ms
			sounding = x.Hertz > 0
		}
	}
	return begun
}
