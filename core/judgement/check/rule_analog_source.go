package check

import (
	"fmt"
	"math"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
)

// analogSource finds analog inputs whose source has more resistance than the
// converter was designed for.
var analogSource = rule{"analog-source", func(f *facts) []Finding {
	var out []Finding
	limit := f.board.Logic.Analog
	for _, in := range f.analog() {
		worst, at := f.weakest(in)
		if worst <= limit.SourceOhms*1.001 {
			continue
		}
		q := newQuantity("source resistance", quantity.Ohm, wiring.Range{Low: worst, Typ: worst, High: worst})
		q.in(at)
		q.Working = &Working{
			Formula: "change of the voltage ÷ change of the current drawn", Result: q.TypText,
			Sources: []string{fmt.Sprintf("at most %s: %s", quantity.Short(limit.SourceOhms, quantity.Ohm), limit.Source)},
		}
		out = append(out, Finding{
			Level: Note, Parts: []string{in.claim.Part.ID}, Pins: []string{in.use.Pin.Name}, Found: &q, State: q.State, At: q.At,
			title: say("%s sees a source of %s; its converter is made for %s.", pinName(in.use.Pin.Name), quantity.Format(worst, quantity.Ohm), quantity.Short(limit.SourceOhms, quantity.Ohm)),
			why:   say("Read alone, it is right. Read just after another pin, its small capacitor may not fill in time, and the reading leans towards the other's. Read it twice and keep the second, or use smaller resistances."),
			Fixes: f.stiffen(in, worst),
		})
	}
	return out
}}

// weakest is the largest source resistance that an input sees, and where.
func (f *facts) weakest(in input) (worst float64, at visit) {
	for _, v := range f.visits(in.node) {
		if ohms := f.sourceOhms(v, in.node); !math.IsInf(ohms, 0) && ohms > worst {
			worst, at = ohms, v
		}
	}
	return worst, at
}

// stiffen finds smaller resistances with which the pin sees a source that its
// converter is made for and still uses the scale: of the helper alone, or of
// the part with its helper chosen again.
func (f *facts) stiffen(in input, ohms float64) []Fix {
	part := in.claim.Part
	for factor := f.board.Logic.Analog.SourceOhms / ohms * 0.9; factor > 1e-3; factor /= 2 {
		var tries []Fix
		for _, id := range f.helperIDs(part) {
			tries = append(tries, f.smaller(f.doc.Part(id), "resistance", factor))
		}
		for _, value := range []string{"track", "r25", "r10"} {
			if _, ok := f.kind(part).Value(value); !ok {
				continue
			}
			try := f.smaller(part, value, factor)
			for _, id := range f.helperIDs(part) {
				try.Edits = append(try.Edits, plan.Size{Part: id})
			}
			tries = append(tries, try)
		}
		for _, try := range tries {
			if f.suits(try, in.use.Pin.Name) {
				return []Fix{try}
			}
		}
	}
	return nil
}

// suits reports whether after a fix the converter at a pin has a source that it
// is made for and uses the scale.
func (f *facts) suits(fix Fix, pin string) bool {
	g := f.after(fix.Edits)
	if g == nil {
		return false
	}
	for _, in := range g.analog() {
		if in.use.Pin.Name == pin {
			ohms, _ := g.weakest(in)
			low, high := g.span(in)
			return ohms <= g.board.Logic.Analog.SourceOhms && high-low >= sliver*g.board.Logic.Analog.Full()
		}
	}
	return false
}
