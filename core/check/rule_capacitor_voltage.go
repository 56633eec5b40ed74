package check

import (
	"fmt"

	"cablaggio/core/quantity"
	"cablaggio/core/spec"
	"cablaggio/core/wiring"
)

// capacitorVoltage holds the voltage across each capacitor against its rating.
var capacitorVoltage = rule{"capacitor-voltage", func(f *facts) []Finding {
	var out []Finding
	for _, p := range f.ofModel("capacitor") {
		element := f.body(p)
		a, b := f.net.Ends(element)
		rated := wiring.ValueOf(f.kind(p), p, "ratedVoltage")
		var most wiring.Range
		state := ""
		for _, v := range f.planned[f.net.PieceWith(element)] {
			if r := across(v, a, b); r.Peak() > most.Peak() {
				most, state = r, v.words()
			}
		}
		q := newQuantity("voltage", quantity.Volt, most)
		q.State = state
		q.limit(spec.Limit{Recommended: rated.Typ * 0.8, Absolute: rated.Typ, Source: rated.Source})
		q.Working = &Working{Formula: "voltage at one leg − voltage at the other", Result: q.TypText, Sources: []string{"rating: " + rated.Source}}
		if q.Level == Fine {
			continue
		}
		x := Finding{
			Level: q.Level, Parts: []string{p.ID}, Found: &q, State: state,
			Title: fmt.Sprintf("%s has up to %s across it; it is made for %s.", p.Name, q.MaxText, q.Limit.AbsoluteText),
			Why:   "Over four fifths of its rating it does not last (common practice); over the whole it breaks through.",
		}
		for _, volts := range []float64{10, 16, 25, 35, 50, 63, 100} {
			if volts*0.8 > most.Peak() {
				x.Fixes = []Fix{{"Take one made for " + quantity.Short(volts, quantity.Volt), editsOf(value(p.ID, "ratedVoltage", volts, quantity.Volt))}}
				break
			}
		}
		out = append(out, x)
	}
	return out
}}
