package wiring

import (
	"fmt"
	"slices"

	"cablaggio/core/board"
	"cablaggio/core/build"
	"cablaggio/core/circuit"
)

// A Use is a pin with the signals on it.
type Use struct {
	Pin     board.Pin
	Signals []Claim
}

// A Claim is one part's signal on a pin.
type Claim struct {
	Part   *build.Part
	Signal build.Signal
}

// Drives reports whether the program drives the pin.
func (u Use) Drives() bool {
	return slices.ContainsFunc(u.Signals, func(c Claim) bool {
		return c.Signal.Needs == board.DigitalOut || c.Signal.Needs == board.PWMOut
	})
}

// Pull returns the pull that the signals switch on.
func (u Use) Pull() board.Pull {
	for _, c := range u.Signals {
		if c.Signal.Pull != board.NoPull {
			return c.Signal.Pull
		}
	}
	return board.NoPull
}

// addPins models the pins that signals use or that wires go to.
func (n *Network) addPins() {
	uses := map[string]*Use{}
	for i := range n.Doc.Parts {
		p := &n.Doc.Parts[i]
		for _, s := range p.Signals {
			u := uses[s.Pin]
			if u == nil {
				pin, _ := n.Board.Pin(s.Pin)
				u = &Use{Pin: pin}
				uses[s.Pin] = u
			}
			u.Signals = append(u.Signals, Claim{p, s})
		}
	}
	for _, pin := range n.Board.Pins {
		u := uses[pin.Name]
		switch {
		case u == nil && n.Doc.NetOf(build.Pin(pin.Name)) < 0:
			continue
		case u == nil:
			n.input(pin.Name, pin.Name, board.NoPull)
			continue
		case u.Drives():
			n.output(pin.Name, u.label())
		default:
			n.input(pin.Name, u.label(), u.Pull())
		}
		n.Uses = append(n.Uses, *u)
	}
}

func (u Use) label() string { return fmt.Sprintf("%s (%s)", u.Pin.Name, u.Signals[0].Part.Name) }

func (n *Network) output(pin, label string) {
	c := n.control(Control{Kind: Output, Of: pin, Name: label, Settings: []string{"low", "high"}})
	n.driver(pin, c, Low, High)
}

// driver adds the two transistors of an output as the resistances they have.
func (n *Network) driver(pin string, control, low, high int) {
	l := n.Board.Logic
	node, rail := n.nodes[build.Pin(pin)], n.rails[l.Rail]
	n.add(Element{Pin: pin, Role: HighSide, Name: "pin " + pin + ", driving high", param: n.param("high side", "pin "+pin, l.High), control: control, when: high},
		circuit.Element{Kind: circuit.Switch, A: rail, B: node})
	n.add(Element{Pin: pin, Role: LowSide, Name: "pin " + pin + ", driving low", param: n.param("low side", "pin "+pin, l.Low), control: control, when: low},
		circuit.Element{Kind: circuit.Switch, A: node, B: circuit.Ground})
}

// clamp is the junction of an input's protection diodes (from memory of 8-bit
// and 32-bit data sheets: about 0.6 V at 1 mA).
var clamp = circuit.FitJunction(0.6, 1e-3, 1, 20)

func (n *Network) input(pin, label string, pull board.Pull) {
	l := n.Board.Logic
	node, rail := n.nodes[build.Pin(pin)], n.rails[l.Rail]
	c := n.control(Control{Kind: Previous, Of: pin, Name: label, Settings: []string{"as planned", "driven low by an old program", "driven high by an old program"}})
	n.driver(pin, c, Low+1, High+1)
	n.add(Element{Pin: pin, Role: Leak, Name: "leakage of pin " + pin, param: n.param("leakage", "pin "+pin, l.Leakage), control: -1},
		circuit.Element{Kind: circuit.CurrentSource, A: node, B: circuit.Ground})
	n.add(Element{Pin: pin, Role: Clamp, Name: "clamp of pin " + pin + " to " + l.Rail, param: -1, control: -1},
		circuit.Element{Kind: circuit.Diode, A: node, B: rail, Junction: clamp})
	n.add(Element{Pin: pin, Role: Clamp, Name: "clamp of pin " + pin + " to ground", param: -1, control: -1},
		circuit.Element{Kind: circuit.Diode, A: circuit.Ground, B: node, Junction: clamp})
	ohms, end := l.PullUp, rail
	if pull == board.PullDown {
		ohms, end = l.PullDown, circuit.Ground
	}
	if pull != board.NoPull && !ohms.IsZero() {
		n.add(Element{Pin: pin, Role: Pull, Name: "internal pull-" + string(pull) + " of pin " + pin, param: n.param("pull", "pin "+pin, ohms), control: c, when: AsPlanned},
			circuit.Element{Kind: circuit.Switch, A: end, B: node})
	}
}
