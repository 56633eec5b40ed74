package wiring

import (
	"slices"

	"cablaggio/core/circuit"
)

// A Corner says which end of every tolerance is meant.
type Corner int8

// The corners.
const (
	AtLow     Corner = -1
	AtTypical Corner = 0
	AtHigh    Corner = 1
)

// Circuit returns the circuit of the whole build with every control at a
// setting, by index into Controls, and every tolerance at one corner. Element i
// of the circuit is Elements[i].
func (n *Network) Circuit(settings []int, corner Corner) *circuit.Circuit {
	c := n.circuit
	c.Elements = append([]circuit.Element(nil), c.Elements...)
	for i := range c.Elements {
		e := n.Elements[i]
		if e.control >= 0 {
			c.Elements[i].Open = !e.conducts(settings[e.control])
		}
		if e.param >= 0 {
			factor := 1.0
			if e.control >= 0 {
				factor = e.factor(settings[e.control])
			}
			e.apply(&c.Elements[i], factor*n.Params[e.param].Value.At(int(corner)))
		}
	}
	return &c
}

// Circuit returns the circuit of the piece alone, with the rails that it
// touches, in a state and at one of its [Piece.Corners].
func (p *Piece) Circuit(s State, corner []int8) (*circuit.Circuit, error) {
	p.busy.Lock()
	defer p.busy.Unlock()
	solved := p.set(s)
	if err := p.solveCorner(&solved.typical, corner); err != nil {
		return nil, err
	}
	c := p.circuit
	c.Elements = slices.Clone(c.Elements)
	return &c, nil
}
