package check

import (
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/spec"
)

// packageCurrent holds what the outputs of a chip carry together against the
// limit of its package.
var packageCurrent = rule{"package-current", func(f *facts) []Finding {
	var out []Finding
	for _, p := range f.all(part.Register) {
		for _, x := range f.total(func(f *facts) total { return f.outputs(p) }, f.packageLimit(p), 0, called(p.Name),
			"The outputs of %[3]s carry up to %[1]s together; %[2]s is recommended.",
			"The outputs of %[3]s carry up to %[1]s together; its package survives %[2]s.",
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
