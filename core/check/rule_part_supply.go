package check

import (
	"fmt"
	"math"

	"cablaggio/core/quantity"
	"cablaggio/core/wiring"
)

// partSupply finds parts with supply legs that get no supply, the wrong way
// round, too little or too much.
var partSupply = rule{"part-supply", func(f *facts) []Finding {
	var out []Finding
	for i := range f.doc.Parts {
		p := &f.doc.Parts[i]
		kind := f.kind(p)
		if _, ok := kind.Value("supplyMinimum"); !ok || !f.wired(p) {
			continue
		}
		least, most := f.valueOf(p, "supplyMinimum"), f.valueOf(p, "supplyMaximum")
		volts, held := f.between(f.nodeOf(p.ID, "vcc"), f.nodeOf(p.ID, "gnd"))
		q := newQuantity("supply voltage", quantity.Volt, volts)
		q.Working = &Working{
			Formula: "voltage at the supply leg − voltage at the ground leg", Result: q.TypText,
			Sources: []string{fmt.Sprintf("%s to %s: %s", quantity.Short(least, quantity.Volt), quantity.Short(most, quantity.Volt), wiring.ValueOf(kind, p, "supplyMaximum").Source)},
		}
		x := Finding{Level: Stop, Parts: []string{p.ID}, Found: &q}
		switch {
		case !held || math.Abs(volts.Typ) < 0.3:
			x.Title = p.Name + " has no supply."
			x.Why = "One of its supply legs leads nowhere, or both to the same place; what it puts out means nothing."
		case volts.Typ < 0:
			x.Title = p.Name + " has its supply legs the wrong way round."
			x.Why = "Most such parts do not survive it: they get hot within seconds."
		case volts.High > most:
			x.Title = fmt.Sprintf("%s gets up to %s; it stands %s.", p.Name, quantity.Format(volts.High, quantity.Volt), quantity.Short(most, quantity.Volt))
			x.Why = "It is damaged, or ages quickly."
		case volts.High < least:
			x.Title = fmt.Sprintf("%s gets %s; it needs %s.", p.Name, q.TypText, quantity.Short(least, quantity.Volt))
			x.Why = "It does not work, or gives readings that mean nothing."
		case volts.Low < least:
			x.Level = Care
			x.Title = fmt.Sprintf("%s may get as little as %s; it needs %s.", p.Name, quantity.Format(volts.Low, quantity.Volt), quantity.Short(least, quantity.Volt))
			x.Why = "It works only while the supply is at its best."
		default:
			continue
		}
		for _, h := range kind.Hookups {
			fix := f.hookup(p, h)
			if g := f.after(fix[0].Edits); g != nil {
				if v, held := g.between(g.nodeOf(p.ID, "vcc"), g.nodeOf(p.ID, "gnd")); held && v.Low >= least && v.High <= most {
					x.Fixes = fix
					break
				}
			}
		}
		out = append(out, x)
	}
	return out
}}
