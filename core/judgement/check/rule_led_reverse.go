package check

import (
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/spec"
)

// ledReverse holds the voltage that LEDs get backwards against their limit.
var ledReverse = rule{"led-reverse", func(f *facts) []Finding {
	var out []Finding
	for _, l := range f.lamps() {
		a, k := f.net.Ends(l.Element)
		most := l.Value(f.kind(l.Part), "maximumReverse")
		var back wiring.Range
		var at visit
		for _, v := range f.visitsAcross(f.net.PieceWith(l.Element), k, a) {
			if !v.Held(a) || !v.Held(k) {
				continue
			}
			if r := v.Across(k, a); r.Typ > back.Typ {
				back, at = r, v
			}
		}
		if back.High <= most.Typ {
			continue
		}
		q := newQuantity("reverse voltage", quantity.Volt, back)
		q.in(at)
		q.limit(spec.Limit{Recommended: most.Typ, Absolute: most.Typ, Source: most.Source})
		level := Care
		if back.Typ <= most.Typ && f.worstOf(l.Element).Typ >= faintBelow {
			level = Note // the rail's upper end alone is more, and only between what it is there for
		}
		q.Level = level
		q.Working = &Working{Formula: "voltage at the cathode − voltage at the anode", Result: q.TypText, Sources: []string{"limit: " + most.Source}}
		out = append(out, Finding{
			Level: level, Parts: []string{l.Part.ID}, which: l.Emitter.ID, Found: &q, State: q.State, At: q.At,
			title: say("%s gets %s backwards; it stands %s.", called(l.Name), q.TypText, q.Limit.AbsoluteText),
			why:   say("An LED breaks down backwards at little more than its supply, and dims for good."),
			Fixes: f.turnAround(l.Part),
		})
	}
	return out
}}
