package check

import (
	"math"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/spec"
)

// coilKick finds coils whose current has no way when their switch opens.
var coilKick = rule{"coil-kick", func(f *facts) []Finding {
	var out []Finding
	for i, e := range f.net.Elements {
		if !e.Coil {
			continue
		}
		p := f.doc.Part(e.Part)
		piece := f.net.PieceWith(i)
		on := f.worstEitherWay(i)
		if piece == nil || on.Peak() < 1e-3 {
			continue
		}
		for _, k := range piece.Breakers() {
			t := f.doc.Part(f.net.Elements[k].Part)
			most := wiring.ValueOf(f.kind(t), t, "maximumVoltage")
			volts := 0.0
			for _, v := range f.visitsOf(i) {
				if math.Abs(v.TypicalAmps(i)) < 0.1*math.Abs(on.Typ) {
					volts = math.Max(volts, v.Kick(on.at, k))
				}
			}
			q := newQuantity("voltage", quantity.Volt, wiring.Range{Low: volts, Typ: volts, High: volts})
			q.limit(spec.Limit{Recommended: most.Typ * 0.8, Absolute: most.Typ, Source: most.Source})
			if q.Level == Fine {
				continue
			}
			if volts > wiring.MostKick {
				words := wiring.KickWords(volts)
				q.TypText, q.Text, q.MaxText = words, words, words
				q.Low, q.Typ, q.High = wiring.MostKick, wiring.MostKick, wiring.MostKick
			}
			q.Working = &Working{
				Formula: "the circuit in time, from the coil at rest with its current to its switch open",
				Numbers: quantity.Format(on.Peak(), quantity.Ampere), Result: q.TypText, Sources: []string{"limit: " + most.Source},
			}
			x := Finding{
				Level: Stop, Parts: []string{p.ID, t.ID}, Found: &q,
				title: say("When %s is switched off, its coil drives %s to %s.", called(p.Name), called(t.Name), q.TypText),
				why:   say("The current of a coil cannot stop at once; without a diode across the coil it breaks through the transistor."),
				Fixes: append(f.catch(i, on.at), f.usual(p)...),
			}
			if d := f.across(i); d != nil {
				x.why = say("%s lies across the coil the wrong way round: it blocks the current that it should catch, and lets the other one past.", called(build.Capital(d.Name)))
				x.Fixes = f.turnAround(d)
			}
			out = append(out, x)
		}
	}
	return out
}}
