package check

import (
	"cmp"
	"math"
	"slices"
	"strings"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/spec"
)

// A total is a sum of currents at its worst, with what it is the sum of.
type total struct {
	wiring.Range
	terms []term
	own   spec.Value // what the board takes for itself, where that is in it
}

// A term is one summand, at the typical values of the state in which the sum is
// largest.
type term struct {
	name string
	amps float64
}

// add sums the currents of elements, each in its own direction, and takes the
// sum in the state and at the corner in which it is largest.
func (f *facts) add(terms []wiring.Term, name func(element int) string) total {
	worst, err := f.net.Worst(terms)
	if err != nil {
		f.unsolved.Store(true)
		return total{}
	}
	t := total{Range: worst.Range}
	for _, v := range worst.Pieces {
		for _, x := range terms {
			amps := x.By * v.TypicalAmps(x.Element)
			if math.Abs(amps) < leastTerm {
				continue
			}
			label := name(x.Element)
			if f.net.Elements[x.Element].Role == wiring.Rail {
				label = f.belongsTo(v.Piece)
			}
			t.terms = append(t.terms, term{label, amps})
		}
	}
	return t
}

// leastTerm is a current in amperes below which a summand is not listed.
const leastTerm = 0.5e-6

// belongsTo names what a piece is there for: the first part in it that no other
// brought.
func (f *facts) belongsTo(p *wiring.Piece) string {
	for _, i := range p.Elements {
		q := f.doc.Part(f.net.Elements[i].Part)
		if q == nil {
			continue
		}
		if owner := f.doc.Part(q.Of); owner != nil {
			q = owner
		}
		return q.Name
	}
	return f.net.Elements[p.Elements[0]].Name
}

// elements lists the elements of a sort as terms.
func (f *facts) elements(match func(*wiring.Element) bool) (out []wiring.Term) {
	for i := range f.net.Elements {
		if match(&f.net.Elements[i]) {
			out = append(out, wiring.Term{Element: i, By: 1})
		}
	}
	return out
}

func (f *facts) pinOf(element int) string { return f.net.Elements[element].Pin }

// pins is what pins carry together in one of the two ways.
func (f *facts) pins(role wiring.Role, in func(pin string) bool) total {
	return f.add(f.elements(func(e *wiring.Element) bool { return e.Role == role && in(e.Pin) }), f.pinOf)
}

// pinsTogether is the larger of what all pins source and what they sink.
func (f *facts) pinsTogether() total {
	return f.totals.get("pins", func() total { return f.addPinsTogether() })
}

func (f *facts) addPinsTogether() total {
	all := func(string) bool { return true }
	source, sink := f.pins(wiring.HighSide, all), f.pins(wiring.LowSide, all)
	if sink.High > source.High {
		return sink
	}
	return source
}

// group is what the pins of a port group carry in the group's way.
func (f *facts) group(g board.Group) total {
	return f.totals.get("group "+string(g.Way)+g.Name, func() total { return f.addGroup(g) })
}

func (f *facts) addGroup(g board.Group) total {
	role := wiring.HighSide
	if g.Way == board.Sink {
		role = wiring.LowSide
	}
	in := map[string]bool{}
	for _, pin := range g.Pins {
		in[pin] = true
	}
	return f.pins(role, func(pin string) bool { return in[pin] })
}

// outputs is the larger of what all outputs of a part source and what they sink.
func (f *facts) outputs(p *build.Part) total {
	return f.totals.get("outputs "+p.ID, func() total { return f.addOutputs(p) })
}

func (f *facts) addOutputs(p *build.Part) total {
	feed := f.kind(p).Feed
	vcc, gnd := f.nodeOf(p.ID, feed.Plus), f.nodeOf(p.ID, feed.Minus)
	var sums [2]total
	for k, from := range []bool{true, false} {
		var terms []wiring.Term
		for i := range f.net.Elements {
			a, b := f.net.Ends(i)
			if e := &f.net.Elements[i]; e.Role == wiring.PartOut && e.Part == p.ID && (from && a == vcc || !from && b == gnd) {
				terms = append(terms, wiring.Term{Element: i, By: 1})
			}
		}
		sums[k] = f.add(terms, func(i int) string { return f.net.Controls[f.net.Elements[i].ControlOf()].Name })
	}
	if sums[1].High > sums[0].High {
		return sums[1]
	}
	return sums[0]
}

// fromRail is what parts draw from a rail. Through a source from plus to minus a
// delivered current is negative.
func (f *facts) fromRail(name string) total {
	return f.totals.get("rail "+name, func() total { return f.addFromRail(name) })
}

func (f *facts) addFromRail(name string) total {
	source := f.net.Find(wiring.Rail, "", name)
	return f.add([]wiring.Term{{Element: source, By: -1}}, f.pinOf).delivered()
}

// delivered leaves out what would flow backwards: a supply does not take it.
func (t total) delivered() total {
	if t.Typ < 0 {
		t.terms = nil
	}
	t.Low, t.Typ, t.High = max(t.Low, 0), max(t.Typ, 0), max(t.High, 0)
	return t
}

// fromSupply is what the board and all that hangs on it take.
func (f *facts) fromSupply() total {
	return f.totals.get("supply", func() total { return f.addFromRails(func(string) bool { return true }) })
}

// regulated is what goes through the board's regulator: what its rail and those that are
// made of it give, and what the board itself takes. What hangs on the supply's own place
// goes past it.
func (f *facts) regulated(by *board.Regulator) total {
	return f.totals.get("regulated", func() total {
		own := f.net.RailVolts(by.Rail).Typ
		return f.addFromRails(func(name string) bool {
			_, isRail := f.board.Rail(name)
			return isRail && f.net.RailVolts(name).Typ <= own
		})
	})
}

func (f *facts) addFromRails(of func(rail string) bool) total {
	var terms []wiring.Term
	for _, x := range f.elements(func(e *wiring.Element) bool { return e.Role == wiring.Rail && of(e.Pin) }) {
		x.By = -1
		// A rail that is fed backwards gives nothing back to what feeds the others.
		if one := []wiring.Term{x}; f.add(one, f.pinOf).Typ >= 0 {
			terms = append(terms, x)
		}
	}
	t := f.add(terms, f.pinOf).delivered()
	t.own = f.board.Appetite
	t.Range = t.Add(wiring.Range{Low: t.own.Low, Typ: t.own.Typ, High: t.own.High})
	return t
}

// sum makes a total ready to be shown, with its working.
func (f *facts) sum(t total, limit spec.Limit) Quantity {
	q := newQuantity("current", quantity.Ampere, t.Range)
	q.limit(limit)
	w := &Working{Formula: "sum, each in the state in which it takes most", Result: q.TypText}
	var words []string
	if !t.own.IsZero() {
		w.Formula = "the board itself + the parts, each in the state in which it takes most"
		w.Sources = append(w.Sources, "the board itself: "+t.own.Source)
		words = append(words, "the board "+quantity.Format(t.own.Typ, quantity.Ampere))
	}
	for _, x := range t.terms {
		words = append(words, x.name+" "+quantity.Format(x.amps, quantity.Ampere))
	}
	if len(words) == 0 {
		words = []string{"nothing draws a current"}
	}
	w.Numbers = strings.Join(words, " + ")
	w.Sources = append(w.Sources, "limit: "+limit.Source)
	q.Working = w
	return q
}

// total makes the finding for a sum of which a part, own, cannot be lowered. Its sentences have the sum,
// the limit, and what it is the sum of, if that has a name.
func (f *facts) total(sum func(*facts) total, limit spec.Limit, own float64, of called, care, stop, why string) []Finding {
	q := f.sum(sum(f), limit)
	if q.Level == Fine {
		return nil
	}
	about := []any{quantity.Format(q.High, quantity.Ampere), q.Limit.RecommendedText}
	if of != "" {
		about = append(about, of)
	}
	x := Finding{Level: q.Level, Found: &q, why: words(why), title: say(care, about...),
		Fixes: f.turnedRight(sum, limit.Recommended),
	}
	if len(x.Fixes) == 0 {
		x.Fixes = f.lighten(sum, limit.Recommended, own)
	}
	if len(x.Fixes) == 0 {
		x.Fixes = f.unload(sum, limit.Recommended)
	}
	if len(x.Fixes) == 0 {
		x.Fixes = f.withoutMost(sum, limit.Recommended)
	}
	if q.Level == Stop {
		about[1] = q.Limit.AbsoluteText
		x.title = say(stop, about...)
	}
	return []Finding{x}
}

// turnedRight finds a diode that lets a current past what should take it: turned around, the
// sum is below the recommended limit.
func (f *facts) turnedRight(sum func(*facts) total, recommended float64) []Fix {
	for _, fix := range f.turnRectifiers() {
		if g := f.after(fix.Edits); g != nil && g.sum(sum(g), spec.Limit{Recommended: recommended, Absolute: recommended}).Level == Fine {
			return []Fix{fix}
		}
	}
	return nil
}

// withoutMost finds a part without which a sum of currents is below the recommended limit:
// of those that draw a current the one that draws most.
func (f *facts) withoutMost(sum func(*facts) total, recommended float64) []Fix {
	type drawer struct {
		part *build.Part
		amps float64
	}
	var all []drawer
	for i := range f.doc.Parts {
		if p := &f.doc.Parts[i]; p.Of == "" && f.spend() {
			most := 0.0
			for k := range f.net.Elements {
				if f.net.Elements[k].Part == p.ID {
					most = max(most, f.worstEitherWay(k).Peak())
				}
			}
			all = append(all, drawer{p, most})
		}
	}
	slices.SortStableFunc(all, func(a, b drawer) int { return cmp.Compare(b.amps, a.amps) })
	for _, d := range all[:min(len(all), 6)] {
		fix := Fix{"Remove " + d.part.Name, editsOf(plan.Remove{Part: d.part.ID})}
		if g := f.after(fix.Edits); g != nil && sum(g).High <= recommended {
			return []Fix{fix}
		}
	}
	return nil
}

// unload finds a part that, wired the usual way, brings a sum of currents below
// the recommended limit.
func (f *facts) unload(sum func(*facts) total, recommended float64) []Fix {
	for i := range f.doc.Parts {
		p := &f.doc.Parts[i]
		if h := f.kind(p).Hookups; len(p.Signals) == 0 || len(h) == 0 || h[0].ID == p.Hookup {
			continue
		}
		fix := f.usual(p)
		if g := f.after(fix[0].Edits); g != nil && sum(g).High <= recommended {
			return fix
		}
	}
	return nil
}
