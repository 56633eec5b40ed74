package check

import (
	"strings"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
)

// previousProgram finds pins that nothing drives now and that an old program, still in the board when the
// new wiring gets power, could drive against what they are wired to. It is one
// advice for all of them: the new program goes in first.
var previousProgram = rule{"previous-program", func(f *facts) []Finding {
	var x Finding
	var edits []plan.Edit
	for i := range f.net.Controls {
		c := &f.net.Controls[i]
		if c.Kind != wiring.Mode || !c.Reads {
			continue
		}
		pin := c.Of
		high, low := f.driver(pin)
		w := f.worstBefore(high)
		if other := f.worstBefore(low); other.High > w.High {
			w = other
		}
		if w.at == nil {
			continue
		}
		q := f.over("current", w, f.board.Logic.Pin)
		if q == nil {
			continue
		}
		q.Level = Note // it flows only if nobody takes the advice
		if x.Found == nil || q.High > x.Found.High {
			x.Found, x.State, x.At = q, q.State, q.At
		}
		x.Pins = append(x.Pins, pin)
		if use, ok := f.use(pin); ok {
			for _, claim := range use.Signals {
				x.Parts = append(x.Parts, claim.Part.ID)
			}
			edits = append(edits, f.guardInput(use)...)
			continue
		}
		edits = append(edits, f.guard(pin)[0].Edits...)
	}
	if x.Found == nil {
		return nil
	}
	x.Level = Note
	x.title = say("Load the new program before this wiring gets power: an old one could drive %s.", strings.Join(x.Pins, ", "))
	x.why = say("A pin that it drives would be tied to the other level, with %s through it.", x.Found.TypText)
	if len(edits) <= plan.MaxEdits {
		x.Fixes = []Fix{{"Or guard with resistors: " + strings.Join(x.Pins, ", "), edits}}
	}
	return []Finding{x}
}}

// guardInput gives the part a hookup with a guard resistor, or puts one at the
// pin.
func (f *facts) guardInput(u wiring.Use) []plan.Edit {
	part := u.Signals[0].Part
	usual, _ := f.kind(part).Usual(f.net.Board)
	if h, ok := f.withHelper(part, "guard"); ok && part.Hookup == usual.ID && f.hasPulls(h) {
		return []plan.Edit{plan.Hookup{Part: part.ID, Hookup: h.ID}}
	}
	return f.guard(u.Pin.Name)[0].Edits
}
