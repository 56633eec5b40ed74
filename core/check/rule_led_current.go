package check

import (
	"fmt"

	"cablaggio/core/quantity"
)

// ledCurrent holds the current of each LED against its limits.
var ledCurrent = rule{"led-current", func(f *facts) []Finding {
	var out []Finding
	for _, l := range f.lamps() {
		w := f.worstOf(l.Element)
		q := f.over("current", w, f.limitOf(l.Element))
		if q == nil {
			continue
		}
		x := Finding{
			Level: q.Level, Parts: []string{l.Part.ID}, which: l.Emitter.ID, Found: q, State: q.State, At: q.At,
			Title: fmt.Sprintf("%s gets up to %s; %s is comfortable.", l.Name, quantity.Format(q.High, quantity.Ampere), q.Limit.RecommendedText),
			Why:   "It ages quickly, and on a hot day or with a strong supply it gets more still.",
			Fixes: f.limitLamp(l, w),
		}
		if q.Level == Stop {
			x.Title = fmt.Sprintf("%s gets up to %s; it survives %s.", l.Name, quantity.Format(q.High, quantity.Ampere), q.Limit.AbsoluteText)
			x.Why = "It burns out, at once or within days, and takes its pin with it."
		}
		if f.seriesResistor(w) == nil {
			x.Why = "No resistor holds the current back, only the pin itself. " + x.Why
		}
		out = append(out, x)
	}
	return out
}}
