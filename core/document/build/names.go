package build

import (
	"slices"

	"cablaggio/core/catalogue/part"
)

// OnlyOnes are, by the ids of parts, the names and words of the kind of which a part is the only
// one: somebody who says "the button" means it.
func OnlyOnes(lib *Library, doc *Document) map[string][]string {
	out := map[string][]string{}
	for i := range doc.Parts {
		p := &doc.Parts[i]
		alone := p.Of == "" && !slices.ContainsFunc(doc.Parts, func(q Part) bool { return q.ID != p.ID && q.Of == "" && q.Kind == p.Kind })
		kind, ok := lib.Catalogue.Kind(p.Kind)
		if !ok || !alone {
			continue
		}
		out[p.ID] = append([]string{kind.Name}, kind.Words...)
		if kind.Is(part.Track) || kind.Symbol == "potentiometer" {
			out[p.ID] = append(out[p.ID], "knob")
		}
	}
	return out
}
