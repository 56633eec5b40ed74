package check

import (
	"fmt"
	"slices"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
)

// pushedAmps is a current in amperes into a rail below which nothing happens: what a
// protection diode or a pull lets through is less than what the board idles with.
const pushedAmps = 1e-3

// railPushed finds currents that are pushed into a rail: a regulator gives and does not
// take, so what nobody draws lifts the rail.
var railPushed = rule{"rail-pushed", func(f *facts) []Finding {
	var out []Finding
	for i := range f.net.Elements {
		e := &f.net.Elements[i]
		if e.Role != wiring.Rail {
			break
		}
		// Through a source from plus to minus what is pushed into it is positive.
		t := f.add([]wiring.Term{{Element: i, By: 1}}, f.pinOf)
		own := 0.0
		if e.Pin == f.board.Logic.Rail {
			own = f.board.Appetite.Low
		}
		if t.High <= pushedAmps {
			continue
		}
		node, _ := f.net.Ends(i)
		part := f.pusher(node)
		if part == nil {
			continue
		}
		q := newQuantity("current pushed in", quantity.Ampere, t.Range)
		q.Working = &Working{Formula: "sum of what flows into the rail, less what is drawn from it", Result: q.TypText, Sources: []string{f.board.Appetite.Source}}
		x := Finding{
			Level: Stop, Parts: []string{part.ID}, which: e.Pin, Found: &q,
			title: say("%s pushes up to %s into the %s rail.", called(part.Name), quantity.Format(t.High, quantity.Ampere), e.Pin),
			why:   say("A regulator gives current and takes none: the rail rises above what the parts on it survive."),
			Fixes: f.unjoin(part, node),
		}
		if t.High <= own {
			x.Level = Care
			x.why = say("The board itself draws at least %s there, so it goes well while the chip is awake; asleep it draws less, and the rail rises.", quantity.Format(own, quantity.Ampere))
		}
		q.Level = x.Level
		out = append(out, x)
	}
	return out
}}

// pusher is the part through which most current flows into a rail.
func (f *facts) pusher(rail circuit.Node) *build.Part {
	var best *build.Part
	most := 0.0
	for i := range f.net.Elements {
		a, b := f.net.Ends(i)
		p := f.doc.Part(f.net.Elements[i].Part)
		if p == nil || a != rail && b != rail || a == b {
			continue
		}
		for _, v := range f.visitsOf(i) {
			into := v.TypicalAmps(i)
			if a == rail {
				into = -into
			}
			if into > most {
				best, most = p, into
			}
		}
	}
	if most < pushedAmps/2 {
		return nil
	}
	return best
}

// unjoin takes a leg of a part off a rail.
func (f *facts) unjoin(p *build.Part, rail circuit.Node) (out []Fix) {
	for _, t := range f.kind(p).Terminals {
		if leg := build.Of(p.ID, t.ID); f.net.Node(leg) == rail && f.doc.NetOf(leg) >= 0 {
			out = append(out, Fix{fmt.Sprintf("Take %s off its rail", f.leg(leg)), editsOf(plan.Free{Terminal: leg})})
		}
	}
	return slices.Concat(out, f.connect(p))
}
