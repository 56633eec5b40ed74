package check

import (
	"slices"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/spec"
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
		limit, read := f.promised(i)
		if !f.near(i, limit.Recommended) {
			continue
		}
		w := f.worstEitherWay(i)
		q := f.over("current", w, limit)
		if q == nil || seen[e.Name] {
			continue
		}
		seen[e.Name] = true
		peak := quantity.Format(w.Peak(), quantity.Ampere)
		x := Finding{
			Level: q.Level, Parts: []string{e.Part}, which: e.Name, Found: q, State: q.State, At: q.At,
			title: say("The %s carries up to %s; %s is recommended.", called(e.Name), peak, q.Limit.RecommendedText),
			why:   say("It gets warm."),
			Fixes: append(f.turnRectifiers(), f.spare(f.doc.Part(e.Part), w)...),
		}
		if read {
			x.why = say("It gets warmer than its data sheet promises for, and its levels give way.")
		}
		if q.Level == Stop {
			x.title = say("The %s carries up to %s; it survives %s.", called(e.Name), peak, q.Limit.AbsoluteText)
			x.why = say("It is damaged for good, at once or before long.")
		}
		out = append(out, x)
	}
	return out
}}

// easy is the part of what an output of a chip survives that is no strain where nobody reads its
// level (common practice).
const easy = 0.6

// promised is the limit of an element, and whether its data sheet's word counts: what is recommended
// for an output of a chip is where its levels are promised, and matters where a level is read.
func (f *facts) promised(element int) (spec.Limit, bool) {
	e := &f.net.Elements[element]
	limit := e.Limit
	if e.Role != wiring.PartOut {
		return limit, true
	}
	x, y := f.net.Ends(element)
	for _, node := range []circuit.Node{x, y} {
		if !f.net.Stiff(node) && f.levelRead(node) {
			return limit, true
		}
	}
	limit.Recommended = max(limit.Recommended, easy*limit.Absolute)
	return limit, false
}

// levelRead reports whether a chip or the board reads a level at a node.
func (f *facts) levelRead(node circuit.Node) bool {
	return slices.ContainsFunc(f.net.Inputs, func(in wiring.PartInput) bool { return in.Node == node }) ||
		slices.ContainsFunc(f.net.Uses, func(u wiring.Use) bool { return !u.Drives() && f.net.Node(build.Pin(u.Pin.Name)) == node })
}

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
