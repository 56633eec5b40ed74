package wiring

import (
	"fmt"
	"slices"

	"cablaggio/core/board"
	"cablaggio/core/build"
	"cablaggio/core/circuit"
	"cablaggio/core/part"
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
	turns := map[string][]*Use{}
	for _, pin := range n.Board.Pins {
		if u := uses[pin.Name]; u != nil && u.Drives() {
			if key := n.turnOf(u.lead()); key != "" {
				turns[key] = append(turns[key], u)
			}
		}
	}
	done := map[string]bool{}
	for _, pin := range n.Board.Pins {
		u := uses[pin.Name]
		switch {
		case u == nil && n.Doc.NetOf(build.Pin(pin.Name)) < 0:
			continue
		case u == nil:
			n.input(pin.Name, pin.Name, board.NoPull)
			continue
		case u.Drives():
			key := n.turnOf(u.lead())
			if key == "" {
				n.output(u)
			} else if !done[key] {
				done[key] = true
				n.turn(key, turns[key])
			}
		default:
			n.input(pin.Name, u.label(), u.Pull())
		}
		n.Uses = append(n.Uses, *u)
	}
}

// lead returns the first claim that drives the pin.
func (u Use) lead() Claim {
	return u.Signals[slices.IndexFunc(u.Signals, func(c Claim) bool {
		return c.Signal.Needs == board.DigitalOut || c.Signal.Needs == board.PWMOut
	})]
}

func (u Use) label() string { return fmt.Sprintf("%s (%s)", u.Pin.Name, u.Signals[0].Part.Name) }

// turnOf returns what names the group in which the signal is active one at a
// time, or nothing.
func (n *Network) turnOf(c Claim) string {
	for i, group := range n.Doc.Exclusive {
		if slices.Contains(group, c.Part.ID) {
			return fmt.Sprintf("group %d", i)
		}
	}
	if c.Signal.Group != "" {
		return c.Part.ID + " " + c.Signal.Group
	}
	return ""
}

// output adds a pin that the program drives by itself.
func (n *Network) output(u *Use) {
	d := u.lead().Signal.Drive
	c := Control{Kind: Output, Of: u.Pin.Name, Name: u.label(), Settings: []string{"low", "high"}}
	high, low := two(High), two(Low)
	if d.Open {
		idle := High
		if d.Active != part.ActiveLow {
			idle = Low
		}
		c.Settings[idle] = "let go"
		high[idle], low[idle] = false, false
	}
	n.driver(u.Pin.Name, n.control(c), low, high)
	if d.Open {
		n.leak(u.Pin.Name)
	}
}

// turn adds the pins of a group of which one is active at a time, under one
// control: setting 0 is that none is, setting k that the k-th is.
func (n *Network) turn(key string, uses []*Use) {
	c := Control{Kind: Turn, Of: key, Name: "the turn", Settings: []string{"nobody's"}}
	for _, u := range uses {
		c.Settings = append(c.Settings, u.label()+"'s")
	}
	control := n.control(c)
	for k, u := range uses {
		d := u.lead().Signal.Drive
		high, low := make([]bool, len(c.Settings)), make([]bool, len(c.Settings))
		for s := range c.Settings {
			isHigh := (s == k+1) == (d.Active != part.ActiveLow)
			driven := s == k+1 || !d.Open
			high[s], low[s] = driven && isHigh, driven && !isHigh
		}
		n.driver(u.Pin.Name, control, low, high)
		if d.Open {
			n.leak(u.Pin.Name)
		}
	}
}

// driver adds the two transistors of an output as the resistances they have.
func (n *Network) driver(pin string, control int, low, high []bool) {
	l := n.Board.Logic
	node, rail := n.nodes[build.Pin(pin)], n.rails[l.Rail]
	n.add(Element{Pin: pin, Role: HighSide, Name: "pin " + pin + ", driving high", Limit: l.Pin, param: n.param("high side", "pin "+pin, l.High), control: control, on: high},
		circuit.Element{Kind: circuit.Switch, A: rail, B: node})
	n.add(Element{Pin: pin, Role: LowSide, Name: "pin " + pin + ", driving low", Limit: l.Pin, param: n.param("low side", "pin "+pin, l.Low), control: control, on: low},
		circuit.Element{Kind: circuit.Switch, A: node, B: circuit.Ground})
}

// clamp is the junction of an input's protection diodes (from memory of 8-bit
// and 32-bit data sheets: about 0.6 V at 1 mA).
var clamp = circuit.FitJunction(0.6, 1e-3, 1, 20)

// leak adds what an input does to its node without wanting to: leakage, and
// the diodes that protect it.
func (n *Network) leak(pin string) {
	l := n.Board.Logic
	node, rail := n.nodes[build.Pin(pin)], n.rails[l.Rail]
	n.add(Element{Pin: pin, Role: Leak, Name: "leakage of pin " + pin, param: n.param("leakage", "pin "+pin, l.Leakage), control: -1},
		circuit.Element{Kind: circuit.CurrentSource, A: node, B: circuit.Ground})
	n.add(Element{Pin: pin, Role: Clamp, Name: "clamp of pin " + pin + " to " + l.Rail, param: -1, control: -1},
		circuit.Element{Kind: circuit.Diode, A: node, B: rail, Junction: clamp})
	n.add(Element{Pin: pin, Role: Clamp, Name: "clamp of pin " + pin + " to ground", param: -1, control: -1},
		circuit.Element{Kind: circuit.Diode, A: circuit.Ground, B: node, Junction: clamp})
}

func (n *Network) input(pin, label string, pull board.Pull) {
	l := n.Board.Logic
	node, rail := n.nodes[build.Pin(pin)], n.rails[l.Rail]
	c := n.control(Control{Kind: Previous, Of: pin, Name: label, Settings: []string{"as planned", "driven low by an old program", "driven high by an old program"}})
	n.driver(pin, c, []bool{false, true, false}, []bool{false, false, true})
	n.leak(pin)
	ohms, end := l.PullUp, rail
	if pull == board.PullDown {
		ohms, end = l.PullDown, circuit.Ground
	}
	if pull != board.NoPull && !ohms.IsZero() {
		n.add(Element{Pin: pin, Role: Pull, Name: "internal pull-" + string(pull) + " of pin " + pin, param: n.param("pull", "pin "+pin, ohms), control: c, on: []bool{true, false, false}},
			circuit.Element{Kind: circuit.Switch, A: end, B: node})
	}
}

// addGlow adds the board's own LEDs on the pins that are used or wired.
func (n *Network) addGlow() {
	for _, pin := range n.Board.Pins {
		if pin.Own == nil || pin.Own.LED == nil || n.Doc.NetOf(build.Pin(pin.Name)) < 0 {
			continue
		}
		g := pin.Own.LED
		inner := n.circuit.Node()
		n.add(Element{Pin: pin.Name, Role: Glow, Name: "resistor of the board's LED", param: -1, control: -1},
			circuit.Element{Kind: circuit.Resistor, A: n.nodes[build.Pin(pin.Name)], B: inner, Value: g.Ohms})
		n.add(Element{Pin: pin.Name, Role: Glow, Name: "the board's LED on " + pin.Name, param: -1, control: -1},
			circuit.Element{Kind: circuit.Diode, A: inner, B: circuit.Ground, Junction: circuit.FitJunction(g.Volts, 1e-3, 2, 10)})
	}
}
