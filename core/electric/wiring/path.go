package wiring

import (
	"math"
	"slices"

	"cablaggio/core/electric/circuit"
)

// A Drop is one step of a current's way, with the voltage that is lost there.
type Drop struct {
	Element int
	Name    string
	Volts   float64
	Amps    float64
}

// Path follows the typical current of an element both ways to the rails: at
// each node it goes on through the element that carries most of it. The drops
// run from the higher rail to the lower one and sum to the voltage between
// them. It returns nil when the current gets lost on the way, as that of an
// element that carries none does.
func (s *Solved) Path(element int) (drops []Drop, from, to circuit.Node) {
	n := s.Piece.network
	k := s.Piece.localElement(element)
	if k < 0 {
		return nil, 0, 0
	}
	visited := map[int]bool{k: true}
	step := func(k int) Drop {
		e := &s.Piece.circuit.Elements[k]
		i := s.Piece.elements[k]
		return Drop{i, n.Elements[i].Name, math.Abs(s.volts(e.A) - s.volts(e.B)), math.Abs(s.amps(k))}
	}
	tail, head := s.flow(k)
	drops = []Drop{step(k)}
	for !s.stiff(tail) {
		k, ok := s.feeding(tail, visited)
		if !ok {
			return nil, 0, 0
		}
		visited[k] = true
		drops = slices.Insert(drops, 0, step(k))
		tail, _ = s.flow(k)
	}
	for !s.stiff(head) {
		k, ok := s.draining(head, visited)
		if !ok {
			return nil, 0, 0
		}
		visited[k] = true
		drops = append(drops, step(k))
		_, head = s.flow(k)
	}
	return drops, s.global(tail), s.global(head)
}

// flow returns the nodes of an element in the direction of its current.
func (s *Solved) flow(k int) (from, to circuit.Node) {
	e := &s.Piece.circuit.Elements[k]
	if s.amps(k) < 0 {
		return e.B, e.A
	}
	return e.A, e.B
}

func (s *Solved) stiff(local circuit.Node) bool { return s.Piece.network.Stiff(s.global(local)) }

func (s *Solved) global(local circuit.Node) circuit.Node { return s.Piece.nodes[local] }

// feeding returns the element that brings most current into the node.
func (s *Solved) feeding(node circuit.Node, visited map[int]bool) (int, bool) {
	return s.strongest(visited, func(k int) bool { _, to := s.flow(k); return to == node })
}

// draining returns the element that takes most current out of the node.
func (s *Solved) draining(node circuit.Node, visited map[int]bool) (int, bool) {
	return s.strongest(visited, func(k int) bool { from, _ := s.flow(k); return from == node })
}

func (s *Solved) strongest(visited map[int]bool, match func(k int) bool) (best int, ok bool) {
	most := 1e-9 // amperes; less than an input's leakage is no way for a current
	for k := range s.Piece.elements {
		if i := math.Abs(s.amps(k)); !visited[k] && i > most && match(k) {
			best, most, ok = k, i, true
		}
	}
	return best, ok
}
