package check

import (
	"fmt"

	"cablaggio/core/board"
	"cablaggio/core/build"
	"cablaggio/core/quantity"
	"cablaggio/core/spec"
	"cablaggio/core/wiring"
)

// groupCurrent holds what the pins of a port group carry together against the
// group's limit.
var groupCurrent = rule{"group-current", func(f *facts) []Finding {
	var out []Finding
	for i, g := range f.board.Logic.Groups {
		for _, x := range f.total(func(f *facts) wiring.Range { return f.group(g) }, g.Limit, 0,
			"The pins "+g.Name+" "+string(g.Way)+" up to %s together; %s is recommended.",
			"The pins "+g.Name+" "+string(g.Way)+" up to %s together; the chip survives %s.",
			"They share one way to the supply inside the chip, however well each pin does alone.") {
			x.which = fmt.Sprint(i)
			out = append(out, x)
		}
	}
	return out
}}

// group is what the pins of a port group carry in the group's way, each piece
// in its worst state.
func (f *facts) group(g board.Group) wiring.Range {
	role := wiring.HighSide
	if g.Way == board.Sink {
		role = wiring.LowSide
	}
	in := map[string]bool{}
	for _, pin := range g.Pins {
		in[pin] = true
	}
	return f.sum(f.where(func(e *wiring.Element) bool { return e.Role == role && in[e.Pin] }))
}

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

// partCurrent holds the current of everything that states a limit of its own,
// and is neither a lamp nor a pin, against it.
var partCurrent = rule{"part-current", func(f *facts) []Finding {
	var out []Finding
	seen := map[string]bool{}
	for i := range f.net.Elements {
		e := &f.net.Elements[i]
		if e.Limit.Absolute == 0 || e.Part == "" {
			continue
		}
		if _, lamp := f.lampAt(i); lamp {
			continue
		}
		w := f.worstEitherWay(i)
		if w.at.piece == nil {
			continue
		}
		q := f.over("current", w, e.Limit)
		if q == nil || seen[e.Name] {
			continue
		}
		seen[e.Name] = true
		peak := quantity.Format(w.Peak(), quantity.Ampere)
		x := Finding{
			Level: q.Level, Parts: []string{e.Part}, which: e.Name, Found: q, State: q.State,
			Title: fmt.Sprintf("The %s carries up to %s; %s is recommended.", e.Name, peak, q.Limit.RecommendedText),
			Why:   "It gets warmer than its data sheet promises for, and its levels give way.",
			Fixes: f.spare(f.doc.Part(e.Part), w),
		}
		if q.Level == Stop {
			x.Title = fmt.Sprintf("The %s carries up to %s; it survives %s.", e.Name, peak, q.Limit.AbsoluteText)
			x.Why = "It is damaged for good, at once or before long."
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
			if fixes := f.limitLamp(l, f.worstOf(f.planned, d.Element)); fixes != nil {
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
