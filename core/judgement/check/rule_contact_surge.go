package check

import (
	"fmt"
	"math"
	"slices"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
)

// contactAmps is the current in amperes that melts the spots of a small contact that
// touch (from memory: buttons for boards are rated for 50 mA, so that an ampere is
// far beyond).
const contactAmps = 1

// contactSurge finds contacts that discharge a capacitor with nothing between, and those
// that are read and charge one. A switch in a supply charges what smooths it each time it
// is put on: that is what it is for.
var contactSurge = rule{"contact-surge", func(f *facts) []Finding {
	var out []Finding
	for i := range f.net.Elements {
		e := &f.net.Elements[i]
		if e.Part == "" || !f.concerns(e.Part) || e.ControlOf() < 0 || f.net.Controls[e.ControlOf()].Kind != wiring.Contact {
			continue
		}
		s := f.rush(i)
		if s.lasts < surgeNoted {
			continue
		}
		p := f.doc.Part(e.Part)
		ohms := s.volts / s.amps
		q := newQuantity("resistance in the way", quantity.Ohm, wiring.Range{Low: ohms, Typ: ohms, High: ohms})
		q.in(s.at)
		q.Working = &Working{
			Formula: "the circuit in time, from the moment at which the contact closes; what the leads and the capacitor itself hold back comes on top",
			Numbers: fmt.Sprintf("%s with %s in the way: %s, above %s for %s", quantity.Format(s.volts, quantity.Volt), q.TypText, quantity.Format(s.amps, quantity.Ampere),
				quantity.Short(contactAmps, quantity.Ampere), quantity.Format(s.lasts, quantity.Second)),
			Result:  q.TypText,
			Sources: []string{"what a small contact bears: from memory of manufacturers' data sheets for this class; check your own"},
		}
		x := Finding{
			Level: Note, Parts: []string{p.ID, s.part.ID}, Found: &q, State: q.State, At: q.At,
			title: say("Each time %s closes, %s discharges through it at once: next to nothing holds the current back.", called(p.Name), called(s.part.Name)),
			why:   say("Amperes through a small contact melt the spots that touch: it wears, and may stick. A resistor in series with the capacitor keeps it as useful."),
			Fixes: f.slow(s.part),
		}
		if s.charges {
			x.title = say("Each time %s closes, %s charges through it at once: next to nothing holds the current back.", called(p.Name), called(s.part.Name))
		}
		if s.lasts >= surgeShort {
			x.Level = Care
		}
		q.Level = x.Level
		out = append(out, x)
	}
	return out
}}

// A rush is what flows through a contact that closes.
type rush struct {
	surge
	volts   float64 // what the capacitor loses or gains
	charges bool
}

// rush is the worst that discharges or charges a capacitor when a contact closes: each
// planned state in which it is closed, and the same with the contact otherwise before.
func (f *facts) rush(contact int) (worst rush) {
	piece := f.net.PieceWith(contact)
	if piece == nil || !slices.ContainsFunc(piece.Elements, f.isCapacitor) {
		return rush{}
	}
	control := f.net.Elements[contact].ControlOf()
	at := slices.Index(piece.Controls, control)
	for _, v := range f.visitsOf(contact) {
		for _, setting := range f.net.Controls[control].Planned {
			if at < 0 || setting == v.State[at] {
				continue
			}
			other := slices.Clone(v.State)
			other[at] = setting
			before, err := piece.At(other)
			if err != nil {
				continue
			}
			p, volts := f.changes(before, v)
			if p == nil || volts > 0 && len(f.doc.Part(f.net.Elements[contact].Part).Signals) == 0 {
				continue
			}
			if amps, lasts := v.Surge(before, contact, contactAmps); lasts > worst.lasts {
				worst = rush{surge{amps, lasts, v, p}, math.Abs(volts), volts > 0}
			}
		}
	}
	return worst
}

// changes is the capacitor whose voltage changes most from one state to another, and by
// how much it grows; nil when none does.
func (f *facts) changes(before, after visit) (out *build.Part, volts float64) {
	for _, i := range after.Piece.Elements {
		if !f.isCapacitor(i) {
			continue
		}
		a, b := f.net.Ends(i)
		across := func(v visit) float64 { return math.Abs(v.Volts(a).Typ - v.Volts(b).Typ) }
		if by := across(after) - across(before); math.Abs(by) > math.Abs(volts) {
			volts, out = by, f.doc.Part(f.net.Elements[i].Part)
		}
	}
	return out, volts
}
