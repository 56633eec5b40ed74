package check

import (
	"cablaggio/core/build"
	"cablaggio/core/spec"
	"cablaggio/core/wiring"
)

// packageCurrent holds what the outputs of a chip carry together against the
// limit of its package.
var packageCurrent = rule{"package-current", func(f *facts) []Finding {
	var out []Finding
	for _, p := range f.ofModel("register") {
		for _, x := range f.total(func(f *facts) wiring.Range { return f.outputs(p) }, f.packageLimit(p), 0,
			"The outputs of "+p.Name+" carry up to %s together; %s is recommended.",
			"The outputs of "+p.Name+" carry up to %s together; its package survives %s.",
			"All of it passes through the chip's own supply legs.") {
			x.Parts = []string{p.ID}
			out = append(out, x)
		}
	}
	return out
}}

func (f *facts) packageLimit(p *build.Part) spec.Limit {
	kind := f.kind(p)
	most := wiring.ValueOf(kind, p, "packageLimit")
	return spec.Limit{Recommended: wiring.ValueOf(kind, p, "packageRecommended").Typ, Absolute: most.Typ, Source: most.Source}
}

// outputs is the larger of what all outputs of a part source and what they sink.
func (f *facts) outputs(p *build.Part) wiring.Range {
	vcc, gnd := f.nodeOf(p.ID, "vcc"), f.nodeOf(p.ID, "gnd")
	side := func(e int, from bool) bool {
		a, b := f.net.Ends(e)
		return from && a == vcc || !from && b == gnd
	}
	var sums [2]wiring.Range
	for k, from := range []bool{true, false} {
		sums[k] = f.sum(func(v visit) (sum wiring.Range) {
			for _, i := range v.piece.Elements {
				if e := f.net.Elements[i]; e.Role == wiring.PartOut && e.Part == p.ID && side(i, from) {
					sum = add(sum, v.Amps(i))
				}
			}
			return sum
		})
	}
	if sums[1].High > sums[0].High {
		return sums[1]
	}
	return sums[0]
}
