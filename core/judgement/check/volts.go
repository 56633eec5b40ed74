package check

import (
	"slices"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
)

// bothWays returns the largest voltages on an LED forwards and backwards.
func (f *facts) bothWays(l wiring.Lamp) (forward, backward float64) {
	a, k := f.net.Ends(l.Element)
	for _, v := range f.visitsAcross(f.net.PieceWith(l.Element), a, k) {
		if !v.Held(a) || !v.Held(k) {
			continue
		}
		d := v.Typical(a) - v.Typical(k)
		forward, backward = max(forward, d), max(backward, -d)
	}
	return forward, backward
}

// between is the voltage from one node to another over all states, and whether
// both are held in all of them.
func (f *facts) between(a, b circuit.Node) (r wiring.Range, held bool) {
	piece := f.net.PieceOf(a)
	if piece == nil {
		piece = f.net.PieceOf(b)
	}
	if piece == nil || !piece.Has(a) || !piece.Has(b) {
		// Nothing is between them: two rails, or places that have no part in common.
		ra, heldA := f.everywhere(a)
		rb, heldB := f.everywhere(b)
		return ra.Add(rb.Minus()), heldA && heldB
	}
	held = true
	for i, v := range f.visitsAcross(piece, a, b) {
		x := v.Across(a, b)
		held = held && v.Held(a) && v.Held(b)
		if i == 0 {
			r = x
			continue
		}
		r = wiring.Range{Low: min(r.Low, x.Low), Typ: max(r.Typ, x.Typ), High: max(r.High, x.High)}
	}
	return r, held
}

// everywhere is a node's voltage over all states; its typical value is that of
// the state in which it is largest.
func (f *facts) everywhere(node circuit.Node) (r wiring.Range, held bool) {
	if node == circuit.Ground {
		return r, true
	}
	if f.net.Stiff(node) {
		v := f.net.FedVolts(node)
		return wiring.Range{Low: v.Low, Typ: v.Typ, High: v.High}, true
	}
	held = true
	for i, v := range f.visits(node) {
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
		if in.claim.Part.ID != part {
			continue
		}
		for _, v := range f.visits(in.node) {
			if r := f.reads(v, in.node); r != ReadsLow && r != ReadsHigh {
				return false
			}
		}
	}
	return true
}

// voltsAcross is the voltage across a part with two legs in the state in which it
// is largest, with the arithmetic but without a source.
func (f *facts) voltsAcross(p *build.Part, size func(wiring.Range) float64) Quantity {
	element := f.body(p)
	a, b := f.net.Ends(element)
	var most wiring.Range
	var at visit
	for _, v := range f.visitsAcross(f.net.PieceWith(element), a, b) {
		if r := v.Across(a, b); size(r) > size(most) || at == nil {
			most, at = r, v
		}
	}
	q := newQuantity("voltage", quantity.Volt, most)
	q.in(at)
	q.Working = &Working{Formula: "voltage at one leg − voltage at the other", Result: q.TypText}
	return q
}
