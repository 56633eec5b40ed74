package check

import (
	"fmt"

	"cablaggio/core/quantity"
	"cablaggio/core/spec"
	"cablaggio/core/wiring"
)

// pinsTotal holds what all pins carry together against the chip's limit.
var pinsTotal = rule{"pins-total", func(f *facts) []Finding {
	return f.total((*facts).pinsTogether, f.board.Logic.Total, 0,
		"The pins carry up to %s together; %s is recommended.",
		"The pins carry up to %s together; the chip survives %s.",
		"All of it passes through the chip's own supply legs, however well each pin does alone.")
}}

// supplyLoad holds what the board and its parts take against the supply.
var supplyLoad = rule{"supply-load", func(f *facts) []Finding {
	supply := f.supply()
	return f.total((*facts).fromSupply, supply.Limit, f.board.Appetite.High,
		"Board and parts take up to %s from "+supply.Name+"; %s is recommended.",
		"Board and parts take up to %s from "+supply.Name+"; it gives %s.",
		"The voltage sags and the board restarts, or the computer switches the socket off.")
}}

// railLoad holds what parts draw from each rail against what it can give them.
var railLoad = rule{"rail-load", func(f *facts) []Finding {
	var out []Finding
	for _, r := range f.board.Rails {
		for _, x := range f.total(func(f *facts) wiring.Range { return f.sum(f.fromRail(r.Name)) }, r.Limit, 0,
			"Parts draw up to %s from the "+r.Name+" rail; %s is recommended.",
			"Parts draw up to %s from the "+r.Name+" rail; it gives %s.",
			"Its voltage sags, and with it everything that is fed from it.") {
			x.which = r.Name
			out = append(out, x)
		}
	}
	return out
}}

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
