package check

import (
	"slices"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
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
			title: say("%s gets up to %s; %s is comfortable.", called(l.Name), quantity.Format(q.High, quantity.Ampere), q.Limit.RecommendedText),
			why:   say("It ages quickly, and on a hot day or with a strong supply it gets more still."),
			Fixes: f.limitLamp(l, w),
		}
		if q.Level == Stop {
			x.title = say("%s gets up to %s; it survives %s.", called(l.Name), quantity.Format(q.High, quantity.Ampere), q.Limit.AbsoluteText)
			x.why = say("It burns out, at once or within days.")
			if f.throughPin(w) {
				x.why = say("It burns out, at once or within days, and takes its pin with it.")
			}
		}
		if f.seriesResistor(w) == nil {
			only := "the supply"
			if f.throughPin(w) {
				only = "the pin itself"
			}
			x.why = x.why.after(say("No resistor holds the current back, only %s.", only))
		}
		out = append(out, x)
	}
	return out
}}

// throughPin reports whether a pin drives a current.
func (f *facts) throughPin(w worst) bool {
	drops, _, _ := w.at.Path(w.element)
	return slices.ContainsFunc(drops, func(d wiring.Drop) bool {
		role := f.net.Elements[d.Element].Role
		return role == wiring.HighSide || role == wiring.LowSide
	})
}
