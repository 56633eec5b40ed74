package check

import (
	"fmt"
	"slices"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
)

// A mend is one change of the wiring about a load that puts right what is easily got wrong
// there, and the cause that it is then.
type mend struct {
	fix Fix
	why sentence
}

// mends proposes what may put a load right: a diode the other way round, two legs of a
// transistor exchanged (pinouts differ from type to type), a smaller resistor before a base.
func (f *facts) mends(p *build.Part) (out []mend) {
	piece := f.net.PieceWith(f.body(p))
	if piece == nil {
		return nil
	}
	var seen []string
	for _, k := range piece.Elements {
		id := f.net.Elements[k].Part
		if id == "" || slices.Contains(seen, id) {
			continue
		}
		seen = append(seen, id)
		t := f.doc.Part(id)
		switch kind := f.kind(t); {
		case kind.Is(part.Diode):
			out = append(out, mend{
				turned(t),
				say("%s is the wrong way round: the current goes through it instead.", called(build.Capital(t.Name))),
			})
		case kind.Is(part.NPN):
			out = append(out, f.exchanges(t, "base", "emitter", "collector")...)
			out = append(out, f.moreBase(t)...)
		case kind.Is(part.MOSFET):
			out = append(out, f.exchanges(t, "gate", "source", "drain")...)
		}
	}
	return out
}

// exchanges are the three ways of exchanging two legs of a transistor.
func (f *facts) exchanges(t *build.Part, input, low, high string) (out []mend) {
	for _, pair := range [][2]string{{low, high}, {input, low}, {input, high}} {
		a, b := build.Of(t.ID, pair[0]), build.Of(t.ID, pair[1])
		toA, toB := f.neighbour(a, b), f.neighbour(b, a)
		if toA == "" || toB == "" {
			continue
		}
		out = append(out, mend{
			Fix{fmt.Sprintf("Exchange %s and %s of %s", pair[0], pair[1], t.Name), editsOf(
				plan.Free{Terminal: a}, plan.Free{Terminal: b},
				plan.Join{Terminal: a, To: toB}, plan.Join{Terminal: b, To: toA})},
			say("%s and %s of %s are exchanged. Look its legs up for its type.", build.Capital(pair[0]), pair[1], called(t.Name)),
		})
	}
	return out
}

// neighbour is another terminal of a leg's net, which is not that of another leg.
func (f *facts) neighbour(leg, not build.Terminal) build.Terminal {
	n := f.doc.NetOf(leg)
	if n < 0 || f.doc.Joined(leg, not) {
		return ""
	}
	for _, t := range f.doc.Nets[n] {
		if t != leg {
			return t
		}
	}
	return ""
}

// moreBase are smaller resistors before a base, the largest first.
func (f *facts) moreBase(t *build.Part) (out []mend) {
	base := f.net.Node(build.Of(t.ID, "base"))
	for _, r := range f.all(part.Resistor) {
		a, b := f.net.Ends(f.body(r))
		if a != base && b != base {
			continue
		}
		now := f.valueOf(r, "resistance")
		for _, ohms := range []float64{2200, 1000, 470, 330} {
			if ohms < now {
				out = append(out, mend{
					ofOhms(r, ohms),
					say("%s lets too little current into the base of %s, which amplifies what it gets.", called(build.Capital(r.Name)), called(t.Name)),
				})
			}
		}
	}
	return out
}

// turnRectifiers turns the diodes around that carry much more than a signal.
func (f *facts) turnRectifiers() (out []Fix) {
	const much = 0.1 // amperes: above what any pin gives, so it comes from a supply
	for i := range f.doc.Parts {
		p := &f.doc.Parts[i]
		if f.kind(p).Is(part.Diode) && f.worstEitherWay(f.body(p)).Peak() > much {
			out = append(out, turned(p))
		}
	}
	return out
}

// turned turns a part of two legs around.
func turned(p *build.Part) Fix {
	return Fix{fmt.Sprintf("Turn %s around", p.Name), editsOf(plan.Flip{Part: p.ID})}
}

// ofOhms takes another value for a resistor.
func ofOhms(r *build.Part, ohms float64) Fix {
	return Fix{fmt.Sprintf("Take %s for %s", quantity.Short(ohms, quantity.Ohm), r.Name), editsOf(value(r.ID, "resistance", ohms, quantity.Ohm))}
}

// catch puts a diode across a coil, its stripe at the end with the higher voltage.
func (f *facts) catch(coil int, at visit) []Fix {
	p := f.doc.Part(f.net.Elements[coil].Part)
	plus, minus := build.Of(p.ID, f.kind(p).Terminals[0].ID), build.Of(p.ID, f.kind(p).Terminals[1].ID)
	if at.Typical(f.net.Node(plus)) < at.Typical(f.net.Node(minus)) {
		plus, minus = minus, plus
	}
	id := f.freshIDs("diode", 1)[0]
	return []Fix{{"Put a diode across it, its stripe at " + f.leg(plus), editsOf(
		plan.Add{Kind: "diode"},
		plan.Join{Terminal: build.Of(id, "cathode"), To: plus},
		plan.Join{Terminal: build.Of(id, "anode"), To: minus})}}
}

// across is the diode that lies across a coil; nil where none does.
func (f *facts) across(coil int) *build.Part {
	a, b := f.net.Ends(coil)
	for i := range f.doc.Parts {
		p := &f.doc.Parts[i]
		if !f.kind(p).Is(part.Diode) {
			continue
		}
		if c, d := f.net.Node(build.Of(p.ID, "anode")), f.net.Node(build.Of(p.ID, "cathode")); c == a && d == b || c == b && d == a {
			return p
		}
	}
	return nil
}

// gets reports whether a load has its voltage.
func (f *facts) gets(p *build.Part) bool { return f.loadVolts(f.doc.Part(p.ID)).Level == Fine }

// tooFaint is the part of its voltage below which a load does nothing useful (common practice:
// relays let go at half and less, motors stand still).
const tooFaint = 0.5
