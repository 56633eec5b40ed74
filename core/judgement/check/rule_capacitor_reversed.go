package check

import (
	"cablaggio/core/catalogue/part"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/spec"
)

// capacitorReversed finds capacitors with a plus and a minus that are the wrong way
// round.
var capacitorReversed = rule{"capacitor-reversed", func(f *facts) []Finding {
	var out []Finding
	for _, p := range f.all(part.Capacitor) {
		if _, ok := f.kind(p).Value("maximumReverse"); !ok {
			continue
		}
		most := wiring.ValueOf(f.kind(p), p, "maximumReverse")
		q := f.voltsAcross(p, func(r wiring.Range) float64 { return -r.Low })
		if -q.Low <= most.Typ {
			continue
		}
		q.limit(spec.Limit{Recommended: most.Typ, Absolute: most.Typ, Source: most.Source})
		q.Level = Stop
		q.Working.Sources = []string{"limit: " + most.Source}
		out = append(out, Finding{
			Level: Stop, Parts: []string{p.ID}, Found: &q, State: q.State, At: q.At,
			title: say("%s is the wrong way round: its minus is up to %s above its plus.", called(p.Name), quantity.Format(-q.Low, quantity.Volt)),
			why:   say("It heats up and may burst. The stripe marks the minus; the minus goes to the lower voltage, most often to ground."),
			Fixes: f.turnAround(p),
		})
	}
	return out
}}
