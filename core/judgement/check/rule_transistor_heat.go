package check

import (
	"math"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/spec"
)

// transistorHeat holds the heat in each transistor against what it sheds.
var transistorHeat = rule{"transistor-heat", func(f *facts) []Finding {
	var out []Finding
	for _, p := range f.all(part.NPN, part.MOSFET) {
		q := f.transistorPower(p)
		if q.Level == Fine {
			continue
		}
		x := Finding{
			Level: q.Level, Parts: []string{p.ID}, Found: &q, State: q.State, At: q.At,
			title: say("%s turns up to %s into heat; it sheds %s.", called(p.Name), q.MaxText, q.Limit.AbsoluteText),
			why:   say("It is not fully on: it keeps a voltage for itself while the whole current flows."),
			Fixes: f.turnRectifiers(),
		}
		if owner := f.doc.Part(p.Of); owner != nil {
			x.Parts = append(x.Parts, owner.ID)
			for _, h := range f.kind(owner).Hookups {
				fix := f.hookup(owner, h)
				if g := f.after(fix[0].Edits); g != nil && g.cool(owner.ID) {
					x.Fixes = fix
					break
				}
			}
		}
		out = append(out, x)
	}
	return out
}}

// cool reports whether no transistor that came with a part is too hot, and the
// part has its voltage.
func (f *facts) cool(owner string) bool {
	for _, h := range f.doc.Helpers(owner) {
		if kind := f.kind(h); (kind.Is(part.NPN) || kind.Is(part.MOSFET)) && f.transistorPower(h).Level != Fine {
			return false
		}
	}
	return f.loadVolts(f.doc.Part(owner)).Level == Fine
}

// transistorPower is the heat in a transistor in the state in which it is most.
func (f *facts) transistorPower(p *build.Part) Quantity {
	element := f.body(p)
	a, b := f.net.Ends(element)
	most := wiring.ValueOf(f.kind(p), p, "maximumHeat")
	var worst wiring.Range
	numbers := ""
	var at visit
	for _, v := range f.visitsOf(element) {
		if r := v.Watts(element); at == nil || r.High > worst.High {
			worst, at = r, v
			numbers = quantity.Format(math.Abs(v.Typical(a)-v.Typical(b)), quantity.Volt) + " × " + quantity.Format(math.Abs(v.TypicalAmps(element)), quantity.Ampere)
		}
	}
	q := newQuantity("heat", quantity.Watt, worst)
	q.in(at)
	q.limit(spec.Limit{Recommended: most.Typ / 2, Absolute: most.Typ, Source: most.Source})
	q.Working = &Working{Formula: "P = U × I", Numbers: numbers, Result: q.TypText, Sources: []string{"limit: " + most.Source}}
	return q
}
