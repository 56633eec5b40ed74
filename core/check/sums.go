package check

import (
	"fmt"

	"cablaggio/core/quantity"
	"cablaggio/core/spec"
	"cablaggio/core/wiring"
)

// total makes the finding for a sum of which a part, own, cannot be lowered.
func (f *facts) total(sum func(*facts) wiring.Range, limit spec.Limit, own float64, care, stop, why string) []Finding {
	q := newQuantity("current", quantity.Ampere, sum(f))
	q.limit(limit)
	if q.Level == Fine {
		return nil
	}
	x := Finding{Level: q.Level, Found: &q, Why: why, proven: true,
		Title: fmt.Sprintf(care, quantity.Format(q.High, quantity.Ampere), q.Limit.RecommendedText),
		Fixes: f.lighten(sum, limit.Recommended, own),
	}
	if len(x.Fixes) == 0 {
		x.Fixes = f.unload(sum, limit.Recommended)
	}
	if q.Level == Stop {
		x.Title = fmt.Sprintf(stop, quantity.Format(q.High, quantity.Ampere), q.Limit.AbsoluteText)
	}
	q.Working = &Working{Formula: "sum, each piece of the circuit in its worst state", Result: q.TypText, Sources: []string{"limit: " + limit.Source}}
	return []Finding{x}
}

// unload finds a part that, wired the usual way, brings a sum of currents below
// the recommended limit.
func (f *facts) unload(sum func(*facts) wiring.Range, recommended float64) []Fix {
	for i := range f.doc.Parts {
		p := &f.doc.Parts[i]
		if h := f.kind(p).Hookups; len(p.Signals) == 0 || p.Hookup == "" || len(h) == 0 || h[0].ID == p.Hookup {
			continue
		}
		fix := f.usual(p)
		if g := f.after(fix[0].Edits); g != nil && sum(g).High <= recommended {
			return fix
		}
	}
	return nil
}
