package wiring

import "cablaggio/core/circuit"

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
