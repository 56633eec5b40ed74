package check

import (
	"slices"

	"cablaggio/core/planning/plan"
)

// turnsLoose finds parts that are said to be on one at a time, but that no output
// of their own switches: what was declared cannot be honoured.
var turnsLoose = rule{"turns-loose", func(f *facts) []Finding {
	var out []Finding
	for _, t := range f.net.Turns {
		for _, id := range t.Loose {
			p := f.doc.Part(id)
			others := slices.DeleteFunc(slices.Clone(t.Parts), func(x string) bool { return x == id })
			out = append(out, Finding{
				Level: Care, Parts: []string{id},
				title: say("%s is said to take turns with %s, but no output of its own switches it.", called(p.Name), called(f.doc.Part(others[0]).Name)),
				why:   say("It is on whenever its wires let it be, so its current is counted beside that of the others."),
				Fixes: []Fix{{p.Name + " may be on at any time", editsOf(plan.Turns{Part: id})}},
			})
		}
	}
	return out
}}
