package check

import (
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
)

// partCurrent holds the current of everything that states a limit of its own,
// and is neither a lamp nor a pin, against it.
var partCurrent = rule{"part-current", func(f *facts) []Finding {
	var out []Finding
	seen := map[string]bool{}
	for i := range f.net.Elements {
		e := &f.net.Elements[i]
		if e.Limit.Absolute == 0 || e.Part == "" || !f.concerns(e.Part) {
			continue
		}
		if _, lamp := f.lampAt(i); lamp {
			continue
		}
		if !f.near(i, e.Limit.Recommended) {
			continue
		}
		w := f.worstEitherWay(i)
		q := f.over("current", w, e.Limit)
		if q == nil || seen[e.Name] {
			continue
		}
		seen[e.Name] = true
		peak := quantity.Format(w.Peak(), quantity.Ampere)
		x := Finding{
			Level: q.Level, Parts: []string{e.Part}, which: e.Name, Found: q, State: q.State, At: q.At,
			title: say("The %s carries up to %s; %s is recommended.", called(e.Name), peak, q.Limit.RecommendedText),
			why:   say("It gets warmer than its data sheet promises for, and its levels give way."),
			Fixes: append(f.turnRectifiers(), f.spare(f.doc.Part(e.Part), w)...),
		}
		if q.Level == Stop {
			x.title = say("The %s carries up to %s; it survives %s.", called(e.Name), peak, q.Limit.AbsoluteText)
			x.why = say("It is damaged for good, at once or before long.")
		}
		out = append(out, x)
	}
	return out
}}

// spare lowers a current: by a better resistor before a lamp on its way, or by
// another hookup of the part or of the one that brought it.
func (f *facts) spare(p *build.Part, w worst) []Fix {
	drops, _, _ := w.at.Path(w.element)
	for _, d := range drops {
		if l, ok := f.lampAt(d.Element); ok {
			if fixes := f.limitLamp(l, f.worstOf(d.Element)); fixes != nil {
				return fixes
			}
		}
	}
	if owner := f.doc.Part(p.Of); owner != nil {
		p = owner
	}
	if len(f.kind(p).Hookups) == 0 {
		return f.guardPath(drops)
	}
	for _, fix := range append(f.rewire(p), f.connect(p)...) {
		if f.cures(fix, p, w.element) {
			return []Fix{fix}
		}
	}
	return nil
}

// guardPath puts a resistor at the pin that a current comes from.
func (f *facts) guardPath(drops []wiring.Drop) []Fix {
	for _, d := range drops {
		if e := f.net.Elements[d.Element]; e.Role == wiring.HighSide || e.Role == wiring.LowSide {
			return f.guard(e.Pin)
		}
	}
	return nil
}

// cures reports whether after a fix nothing of the part that states a limit is
// over it.
func (f *facts) cures(fix Fix, p *build.Part, element int) bool {
	g := f.after(fix.Edits)
	if g == nil {
		return false
	}
	owned := map[string]bool{p.ID: true}
	for _, h := range g.doc.Helpers(p.ID) {
		owned[h.ID] = true
	}
	for i, e := range g.net.Elements {
		if owned[e.Part] && e.Limit.Absolute > 0 && g.worstEitherWay(i).Peak() > e.Limit.Recommended {
			return false
		}
	}
	return true
}
