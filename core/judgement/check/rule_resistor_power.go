package check

import (
	"fmt"
	"slices"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
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
				title: say("%s carries up to %s; its track is made for %s.", called(p.Name), c.MaxText, c.Limit.AbsoluteText),
				why:   say("Near its end all of the current goes through a short piece of the track, which sheds only its share of the heat: in time it burns a gap."),
				Fixes: f.shed(p, q),
			})
			continue
		}
		if q.Level == Fine {
			continue
		}
		x := Finding{
			Level: q.Level, Parts: []string{p.ID}, Found: &q, State: q.State, At: q.At,
			title: say("%s has to get rid of up to %s; it is made for %s.", called(p.Name), quantity.Format(q.High, quantity.Watt), q.Limit.AbsoluteText),
			why:   say("Over half its rating it gets too hot to touch and browns its surroundings; over the whole it fails."),
			Fixes: f.shed(p, q),
		}
		out = append(out, x)
	}
	return out
}}

// shed takes a resistor with a larger rating, a track or a sensor with more ohms, or puts
// a resistor before it.
func (f *facts) shed(p *build.Part, heat Quantity) (out []Fix) {
	if f.kind(p).Is(part.Resistor) {
		if !f.limits(p) {
			out = f.moreOhms(p)
		}
		for _, w := range ratings {
			if w >= 2*heat.High {
				return append(out, Fix{fmt.Sprintf("Take one made for %s", quantity.Short(w, quantity.Watt)), []plan.Edit{value(p.ID, "powerRating", w, quantity.Watt)}})
			}
		}
		return out
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
				out = append(out, Fix{fmt.Sprintf("Put %s before %s", text, f.leg(leg)), editsOf(plan.Insert{Terminal: leg, Text: text})})
			}
		}
	}
	return out
}

// limits reports whether a resistor is on the way of a lamp's or a load's current, which is
// what it is there for.
func (f *facts) limits(r *build.Part) bool {
	w := f.worstEitherWay(f.body(r))
	if w.at == nil {
		return false
	}
	drops, _, _ := w.at.Path(w.element)
	return slices.ContainsFunc(drops, func(d wiring.Drop) bool {
		p := f.doc.Part(f.net.Elements[d.Element].Part)
		if p == nil || p.ID == r.ID {
			return false
		}
		kind := f.kind(p)
		return !kind.Is(part.Contact) && !kind.Is(part.Resistor) && !kind.Is(part.Track)
	})
}

// moreOhms takes one of the usual values of a pull for a resistor that has less.
func (f *facts) moreOhms(r *build.Part) (out []Fix) {
	for _, ohms := range []float64{10e3, 1e3} {
		if f.valueOf(r, "resistance") < ohms {
			out = append(out, ofOhms(r, ohms))
		}
	}
	return out
}

// ratings are the power ratings that leaded resistors are sold in, in watts
// (common practice).
var ratings = []float64{0.25, 0.5, 1, 2, 5, 10}
