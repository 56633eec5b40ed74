package wiring

import (
	"fmt"
	"slices"
	"strings"

	"cablaggio/core/electric/circuit"
)

// Settings address a state: what each control is set to, by the pin, the part or
// the leg that it is of. What is not named is as the plan begins: outputs low,
// contacts open.
type Settings map[string]string

// ParseSettings reads settings as they are typed: "D4=high", "button1=pressed",
// "potentiometer1=0.3".
func ParseSettings(named []string) (Settings, error) {
	out := Settings{}
	for _, x := range named {
		of, setting, ok := strings.Cut(x, "=")
		if !ok {
			return nil, fmt.Errorf("%q sets nothing; write what is set, an equals sign and how, as in D4=high", x)
		}
		out[strings.TrimSpace(of)] = strings.TrimSpace(setting)
	}
	return out, nil
}

// Resolve returns a setting for every control, by index into Controls.
func (n *Network) Resolve(settings Settings) ([]float64, error) {
	out := make([]float64, len(n.Controls))
	known := make([]string, len(n.Controls))
	for i := range n.Controls {
		c := &n.Controls[i]
		known[i] = c.Of
		if len(c.Planned) > 0 {
			out[i] = c.Planned[0]
		}
		if text, ok := settings[c.Of]; ok {
			v, err := c.Parse(text)
			if err != nil {
				return nil, err
			}
			out[i] = v
		}
	}
	for of := range settings {
		if !slices.Contains(known, of) {
			slices.Sort(known)
			return nil, fmt.Errorf("%q cannot be set in this build; what can be set is %s", of, strings.Join(known, ", "))
		}
	}
	return out, nil
}

// Address returns the settings of the piece's controls in a state. It is the
// inverse of [Network.Resolve] and [Piece.Restrict].
func (p *Piece) Address(s State) Settings {
	out := make(Settings, len(p.Controls))
	for i, k := range p.Controls {
		c := &p.network.Controls[k]
		out[c.Of] = c.Text(s[i])
	}
	return out
}

// Restrict returns the state of a piece, of settings for every control.
func (p *Piece) Restrict(settings []float64) State {
	s := make(State, len(p.Controls))
	for i, k := range p.Controls {
		s[i] = settings[k]
	}
	return s
}

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

// Circuit returns the circuit of the whole build with every control at a
// setting, by index into Controls, and every tolerance at one corner. Its
// elements are those of the network, in order; origin says which, and nodes says
// which of its nodes are nodes of the network.
func (n *Network) Circuit(settings []float64, corner Corner) (c *circuit.Circuit, origin []int, nodes map[circuit.Node]circuit.Node) {
	c = &circuit.Circuit{}
	nodes = map[circuit.Node]circuit.Node{circuit.Ground: circuit.Ground}
	node := func(g circuit.Node) circuit.Node {
		l, ok := nodes[g]
		if !ok {
			l = c.Node()
			nodes[g] = l
		}
		return l
	}
	for i := range n.Elements {
		if n.isGone(i) {
			continue
		}
		e, ce := &n.Elements[i], n.circuit.Elements[i]
		ce.A, ce.B = node(ce.A), node(ce.B)
		if ce.Steered() {
			ce.Control = node(ce.Control)
		} else {
			ce.Control = circuit.Ground
		}
		factor := 1.0
		if e.control >= 0 {
			factor = e.turn(&ce, settings[e.control])
		}
		if e.param >= 0 {
			v := n.Params[e.param].Value
			e.law.apply(&ce, factor*v.At(int(corner)))
		}
		c.Add(ce)
		origin = append(origin, i)
	}
	return c, origin, nodes
}
