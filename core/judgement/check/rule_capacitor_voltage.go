package check

import (
	"cablaggio/core/catalogue/part"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/spec"
)

// capacitorVoltage holds the voltage across each capacitor against its rating.
var capacitorVoltage = rule{"capacitor-voltage", func(f *facts) []Finding {
	var out []Finding
	for _, p := range f.all(part.Capacitor) {
		rated := wiring.ValueOf(f.kind(p), p, "ratedVoltage")
		q := f.voltsAcross(p, wiring.Range.Peak)
		q.limit(spec.Limit{Recommended: rated.Typ * 0.8, Absolute: rated.Typ, Source: rated.Source})
		q.Working.Sources = []string{"rating: " + rated.Source}
		if q.Level == Fine {
			continue
		}
		x := Finding{
			Level: q.Level, Parts: []string{p.ID}, Found: &q, State: q.State, At: q.At,
			title: say("%s has up to %s across it; it is made for %s.", called(p.Name), q.MaxText, q.Limit.AbsoluteText),
			why:   say("Over four fifths of its rating it does not last (common practice); over the whole it breaks through."),
		}
		for _, volts := range []float64{10, 16, 25, 35, 50, 63, 100} {
			if volts*0.8 > max(q.High, -q.Low) {
				x.Fixes = []Fix{{"Take one made for " + quantity.Short(volts, quantity.Volt), editsOf(value(p.ID, "ratedVoltage", volts, quantity.Volt))}}
				break
			}
		}
		out = append(out, x)
	}
	return out
}}
