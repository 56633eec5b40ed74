package wiring

import (
	"slices"

	"cablaggio/core/electric/circuit"
)

// Reach lists the nodes to which a current may find a way from a node in some planned
// state, without passing through an element: the node itself, what lies behind
// resistances, closed contacts, diodes either way and transistors, up to rails and
// ground, which it names and does not pass. Protection diodes and leakage are no way.
func (n *Network) Reach(from circuit.Node, without int) []circuit.Node {
	return n.spread(from, func(i int) bool { return i != without && n.mayConduct(i) })
}

// spread lists the nodes to which elements that pass lead from a node, the node itself
// first. It comes to rails and to ground and does not go past them.
func (n *Network) spread(from circuit.Node, passes func(element int) bool) []circuit.Node {
	out := []circuit.Node{from}
	for k := 0; k < len(out); k++ {
		if n.stiff[out[k]] {
			continue
		}
		for i := range n.circuit.Elements {
			e := &n.circuit.Elements[i]
			if e.A != out[k] && e.B != out[k] || n.isGone(i) || !passes(i) {
				continue
			}
			other := e.A
			if other == out[k] {
				other = e.B
			}
			if !slices.Contains(out, other) {
				out = append(out, other)
			}
		}
	}
	return out
}

// mayConduct reports whether an element lets a lasting current through in some planned
// setting of its control.
func (n *Network) mayConduct(element int) bool {
	e, c := &n.Elements[element], &n.circuit.Elements[element]
	switch {
	case c.Kind == circuit.Capacitor, c.Kind == circuit.CurrentSource, e.Role == Rail:
		return false
	case c.Kind == circuit.Diode && c.Junction == clamp:
		return false
	case e.control >= 0:
		return slices.ContainsFunc(n.Controls[e.control].Planned, e.conducts)
	}
	return true
}
