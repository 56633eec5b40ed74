package check

import (
	"fmt"
	"math"
	"slices"

	"cablaggio/core/values/quantity"
)

// working explains the typical value of a current by the way that it takes
// from rail to rail: what each element on the way drops, and, where it is the
// same current all the way, Ohm's law over the resistances of the loop.
func (f *facts) working(w worst, sources ...string) *Working {
	out := &Working{Sources: []string{}}
	if w.at == nil {
		return out
	}
	drops, from, to := w.at.Path(w.element)
	if len(drops) == 0 {
		return out
	}
	between := f.net.FedVolts(from).Typ - f.net.FedVolts(to).Typ
	ohms, junctions := 0.0, 0.0
	single := true
	var names []string
	for _, d := range drops {
		out.Drops = append(out.Drops, Drop{d.Name, quantity.Format(d.Volts, quantity.Volt), quantity.Format(d.Amps, quantity.Ampere)})
		single = single && math.Abs(d.Amps-drops[0].Amps) <= 1e-3*drops[0].Amps
		if f.isJunction(d.Element) {
			junctions += d.Volts
		} else {
			ohms += d.Volts / d.Amps
			names = append(names, quantity.Short(d.Volts/d.Amps, quantity.Ohm))
		}
		sources = append(sources, f.sourceOf(d.Element)...)
	}
	// Where junctions take nearly all, what is left is a difference of rounded numbers.
	if single && ohms > leastDrop && between-junctions > between/20 && drops[0].Amps > leastTerm {
		out.Formula = "I = U ÷ R"
		out.Numbers = fmt.Sprintf("%s ÷ (%s)", quantity.Format(between, quantity.Volt), join(names))
		if junctions > 0 {
			out.Formula = "I = (U − VF) ÷ R"
			out.Numbers = fmt.Sprintf("(%s − %s) ÷ (%s)", quantity.Format(between, quantity.Volt), quantity.Format(junctions, quantity.Volt), join(names))
		}
		out.Result = quantity.Format(drops[0].Amps, quantity.Ampere)
	}
	for _, s := range sources {
		if s != "" && !slices.Contains(out.Sources, s) {
			out.Sources = append(out.Sources, s)
		}
	}
	return out
}

func join(names []string) string {
	s := names[0]
	for _, n := range names[1:] {
		s += " + " + n
	}
	return s
}

func (f *facts) isJunction(element int) bool {
	return f.net.IsJunction(element)
}

// sourceOf says where the values of an element come from.
func (f *facts) sourceOf(element int) []string {
	if v := f.net.ValueAt(element); v.Source != "" {
		return []string{fmt.Sprintf("%s: %s", f.net.Elements[element].Name, v.Source)}
	}
	return nil
}

// leastDrop is a voltage below which Ohm's law over the rest of the way says
// nothing.
const leastDrop = 1e-3
