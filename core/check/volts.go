package check

import (
	"slices"

	"cablaggio/core/build"
	"cablaggio/core/circuit"
	"cablaggio/core/part"
	"cablaggio/core/wiring"
)

// across returns the largest voltages on an LED both ways.
func (f *facts) across(l wiring.Lamp) (forward, backward float64) {
	a, k := f.net.Ends(l.Element)
	for _, v := range f.planned[f.net.PieceWith(l.Element)] {
		if !v.Held(a) || !v.Held(k) {
			continue
		}
		d := v.Volts(a).Typ - v.Volts(k).Typ
		forward, backward = max(forward, d), max(backward, -d)
	}
	return forward, backward
}

// between is the voltage from one node to another over all states, and whether
// both are held in all of them.
func (f *facts) between(a, b circuit.Node) (r wiring.Range, held bool) {
	ra, heldA := f.everywhere(a)
	rb, heldB := f.everywhere(b)
	return wiring.Range{Low: ra.Low - rb.High, Typ: ra.Typ - rb.Typ, High: ra.High - rb.Low}, heldA && heldB
}

// everywhere is a node's voltage over all states; its typical value is that of
// the state in which it is largest.
func (f *facts) everywhere(node circuit.Node) (r wiring.Range, held bool) {
	if node == circuit.Ground {
		return r, true
	}
	if rail, ok := f.railOf(node); ok {
		v := f.net.RailVolts(rail.Name)
		return wiring.Range{Low: v.Low, Typ: v.Typ, High: v.High}, true
	}
	held = true
	for i, v := range f.planned[f.net.PieceOf(node)] {
		x := v.Volts(node)
		held = held && v.Held(node)
		if i == 0 {
			r = x
			continue
		}
		r = wiring.Range{Low: min(r.Low, x.Low), Typ: max(r.Typ, x.Typ), High: max(r.High, x.High)}
	}
	return r, held && f.net.PieceOf(node) != nil
}

// wired reports whether a leg of the part is wired to anything.
func (f *facts) wired(p *build.Part) bool {
	return slices.ContainsFunc(f.kind(p).Terminals, func(t part.Terminal) bool { return f.doc.NetOf(build.Of(p.ID, t.ID)) >= 0 })
}

// sure reports whether every digital input of a part reads a sure level in
// every state.
func (f *facts) sure(part string) bool {
	for _, in := range f.digital() {
		for _, v := range f.planned[in.piece] {
			if r := f.reads(v, in.node); in.claim.Part.ID == part && r != ReadsLow && r != ReadsHigh {
				return false
			}
		}
	}
	return true
}

// across is the voltage between two nodes. Its ends are those of the nodes that
// lie farthest apart, so it is no narrower than it can be.
func across(v visit, a, b circuit.Node) wiring.Range {
	x, y := v.Volts(a), v.Volts(b)
	return wiring.Range{Low: x.Low - y.High, Typ: x.Typ - y.Typ, High: x.High - y.Low}
}
