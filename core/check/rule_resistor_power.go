package check

import (
	"fmt"

	"cablaggio/core/build"
	"cablaggio/core/plan"
	"cablaggio/core/quantity"
)

// resistorPower holds the heat in everything that is a resistance against its rating.
var resistorPower = rule{"resistor-power", func(f *facts) []Finding {
	var out []Finding
	for i := range f.doc.Parts {
		p := &f.doc.Parts[i]
		if !f.concerns(p.ID) {
			continue
		}
		q, ok := f.power(p)
		if !ok {
			continue
		}
		if c, isTrack := f.trackCurrent(p); isTrack && q.Level != Stop && c.Level != Fine {
			out = append(out, Finding{
				Level: Care, Parts: []string{p.ID}, Found: &c, State: c.State, At: c.At,
				Title: fmt.Sprintf("%s carries up to %s; its track is made for %s.", p.Name, c.MaxText, c.Limit.AbsoluteText),
				Why:   "Near its end all of the current goes through a short piece of the track, which sheds only its share of the heat: in time it burns a gap.",
				Fixes: f.shed(p, q),
			})
			continue
		}
		if q.Level == Fine {
			continue
		}
		x := Finding{
			Level: q.Level, Parts: []string{p.ID}, Found: &q, State: q.State, At: q.At,
			Title: fmt.Sprintf("%s has to get rid of up to %s; it is made for %s.", p.Name, quantity.Format(q.High, quantity.Watt), q.Limit.AbsoluteText),
			Why:   "Over half its rating it gets too hot to touch and browns its surroundings; over the whole it fails.",
			Fixes: f.shed(p, q),
		}
		out = append(out, x)
	}
	return out
}}

// shed takes a resistor with a larger rating, a track or a sensor with more ohms, or puts
// a resistor before it.
func (f *facts) shed(p *build.Part, heat Quantity) (out []Fix) {
	if f.kind(p).Model == "resistor" {
		for _, w := range ratings {
			if w >= 2*heat.High {
				return []Fix{{fmt.Sprintf("Take one made for %s", quantity.Short(w, quantity.Watt)), []plan.Edit{value(p.ID, "powerRating", w, quantity.Watt)}}}
			}
		}
		return nil
	}
	for _, id := range []string{"track", "r10", "r25"} {
		if _, ok := f.kind(p).Value(id); !ok {
			continue
		}
		for _, ohms := range []float64{1e3, 10e3, 100e3} {
			if ohms > f.valueOf(p, id) {
				out = append(out, Fix{fmt.Sprintf("Take one of %s", quantity.Short(ohms, quantity.Ohm)), editsOf(value(p.ID, id, ohms, quantity.Ohm))})
			}
		}
	}
	for _, t := range f.kind(p).Terminals {
		if leg := build.Of(p.ID, t.ID); f.doc.NetOf(leg) >= 0 {
			for _, ohms := range []float64{220, 1e3} {
				text := quantity.Short(ohms, quantity.Ohm)
				out = append(out, Fix{fmt.Sprintf("Put %s before %s", text, p.Name), editsOf(plan.Edit{Op: plan.Insert, Terminal: leg, Text: text})})
			}
		}
	}
	return out
}

// ratings are the power ratings that leaded resistors are sold in, in watts
// (common practice).
var ratings = []float64{0.25, 0.5, 1, 2, 5, 10}
