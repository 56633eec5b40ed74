package wiring

import (
	"fmt"
	"slices"
	"strings"

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

// ParseCorner reads "low", "typical" or "high"; empty is typical.
func ParseCorner(s string) (Corner, error) {
	switch s {
	case "low":
		return AtLow, nil
	case "typical", "":
		return AtTypical, nil
	case "high":
		return AtHigh, nil
	}
	return AtTypical, fmt.Errorf("%q is not a corner; it is low, typical or high", s)
}

// Settings returns a setting for every control, by index into Controls: what is
// named, as in "D4=high" or "button1=pressed", and the first of all others.
func (n *Network) Settings(named []string) ([]int, error) {
	out := make([]int, len(n.Controls))
	for _, name := range named {
		of, setting, _ := strings.Cut(name, "=")
		found := false
		var known []string
		for i, c := range n.Controls {
			for k, s := range c.Settings {
				if c.Of == of && s == setting {
					out[i], found = k, true
				}
				known = append(known, c.Of+"="+s)
			}
		}
		if !found {
			slices.Sort(known)
			return nil, fmt.Errorf("%q is not a setting of this build; they are %s", name, strings.Join(known, ", "))
		}
	}
	return out, nil
}

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
