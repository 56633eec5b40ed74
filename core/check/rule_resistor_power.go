package check

import (
	"fmt"

	"cablaggio/core/plan"
	"cablaggio/core/quantity"
)

// resistorPower holds the heat in each resistor against its rating.
var resistorPower = rule{"resistor-power", func(f *facts) []Finding {
	var out []Finding
	for _, p := range f.ofModel("resistor") {
		q := f.power(p)
		if q.Level == Fine {
			continue
		}
		x := Finding{
			Level: q.Level, Parts: []string{p.ID}, Found: &q, State: q.State, At: q.At,
			Title: fmt.Sprintf("%s has to get rid of up to %s; it is made for %s.", p.Name, quantity.Format(q.High, quantity.Watt), q.Limit.AbsoluteText),
			Why:   "Over half its rating a resistor gets too hot to touch and browns its surroundings; over the whole it fails.",
		}
		for _, w := range ratings {
			if w >= 2*q.High {
				x.Fixes = []Fix{{fmt.Sprintf("Take one made for %s", quantity.Short(w, quantity.Watt)), []plan.Edit{value(p.ID, "powerRating", w, quantity.Watt)}}}
				break
			}
		}
		out = append(out, x)
	}
	return out
}}

// ratings are the power ratings that leaded resistors are sold in, in watts
// (common practice).
var ratings = []float64{0.25, 0.5, 1, 2, 5, 10}
