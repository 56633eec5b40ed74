package check

import (
	"fmt"
	"math"
	"slices"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
)

// short finds a state in which a contact, a knob or a wire carries more than the
// supply can give: it joins the supply to ground.
var short = rule{"supply-short", func(f *facts) []Finding {
	var out []Finding
	seen := map[string]bool{}
	for i := range f.net.Elements {
		e := &f.net.Elements[i]
		if e.Role != wiring.Wire && !(e.Role == wiring.Body && e.Controlled()) {
			continue
		}
		part := f.doc.Part(e.Part)
		limit := f.supply().Limit
		if !f.near(i, limit.Absolute) {
			continue
		}
		w := f.worstEitherWay(i)
		if w.Peak() <= limit.Absolute {
			continue
		}
		if part != nil && seen[part.ID] {
			continue
		}
		q := f.quantity("current", w, limit)
		x := Finding{
			Level: Stop, Found: q, State: q.State, At: q.At,
			why: say("The supply sees almost no resistance: the wire and the contact heat up, and the computer switches the USB socket off, or worse."),
		}
		if part != nil {
			seen[part.ID] = true
			x.title = say("%s joins the supply to ground: %s.", called(part.Name), q.State)
			x.Parts = []string{part.ID}
			x.Fixes = f.unshort(part)
		} else {
			x.title = say("A wire joins two rails: about %s would flow.", quantity.Format(math.Abs(w.Typ), quantity.Ampere))
			x.Fixes = f.cutRails()
		}
		out = append(out, x)
	}
	return out
}}

// unshort wires a part the safe way, takes a rail out of a row that it shares with other
// things, or takes one leg of the part off its rail.
func (f *facts) unshort(p *build.Part) []Fix {
	var out, legs []Fix
	for _, r := range f.all(part.Resistor) {
		if touches := func(t build.Terminal) bool {
			return slices.ContainsFunc(f.kind(p).Terminals, func(x part.Terminal) bool {
				return f.net.Node(build.Of(p.ID, x.ID)) == f.net.Node(t) && !f.net.Stiff(f.net.Node(t))
			})
		}; touches(build.Of(r.ID, "1")) || touches(build.Of(r.ID, "2")) {
			out = append(out, f.moreOhms(r)...)
		}
	}
	if len(p.Signals) > 0 {
		out = append(out, f.rewire(p)...)
	}
	for _, term := range f.kind(p).Terminals {
		leg := build.Of(p.ID, term.ID)
		net := f.doc.NetOf(leg)
		if net < 0 {
			continue
		}
		for _, t := range f.doc.Nets[net] {
			if _, name := t.Split(); len(f.doc.Nets[net]) > 2 && t.OnBoard() && f.net.Stiff(f.net.Node(t)) {
				out = append(out, Fix{fmt.Sprintf("Take the wire from %s to %s out", f.leg(leg), name), editsOf(plan.Free{Terminal: t})})
			}
		}
		legs = append(legs, Fix{"Take the wire off " + f.leg(leg), editsOf(plan.Free{Terminal: leg})})
	}
	if len(p.Signals) > 0 {
		out = append(out, f.connect(p)...)
		out = append(out, f.usual(p)...)
	}
	return append(out, legs...)
}

// cutRails takes every rail but the first out of the nets that join several.
func (f *facts) cutRails() []Fix {
	for _, net := range f.doc.Nets {
		found := false
		for _, t := range net {
			_, leg := t.Split()
			_, isRail := f.board.Rail(leg)
			if !t.OnBoard() || !isRail && leg != f.board.Ground {
				continue
			}
			if found {
				return []Fix{{"Take the wire off " + leg, []plan.Edit{plan.Free{Terminal: t}}}}
			}
			found = true
		}
	}
	return nil
}
