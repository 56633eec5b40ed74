package wiring

import (
	"fmt"
	"slices"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/values/spec"
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

func (c Claim) drives() bool {
	return c.Signal.Needs == board.DigitalOut || c.Signal.Needs == board.PWMOut
}

// Drives reports whether the program drives the pin.
func (u Use) Drives() bool { return slices.ContainsFunc(u.Signals, Claim.drives) }

// Pull returns the pull that the signals switch on.
func (u Use) Pull() board.Pull {
	for _, c := range u.Signals {
		if c.Signal.Pull != board.NoPull {
			return c.Signal.Pull
		}
	}
	return board.NoPull
}

func (u Use) label() string { return fmt.Sprintf("%s (%s)", u.Pin.Name, u.Signals[0].Part.Name) }

// addPins models the pins that signals use or that wires go to, and the places
// of the board that are inputs.
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
		switch u := uses[pin.Name]; {
		case u != nil:
			n.Uses = append(n.Uses, *u)
			n.addPin(pin, u)
		case n.wiredPin(pin.Name):
			n.addPin(pin, nil)
		}
	}
	for _, place := range n.Board.Places {
		if place.Pulled != nil && n.wired(build.Pin(place.Name)) {
			n.addPulled(place)
		}
	}
}

// wiredPin reports whether a wire goes to a pin, by any of its names.
func (n *Network) wiredPin(name string) bool {
	return n.wired(build.Pin(name)) || slices.ContainsFunc(n.Board.Places, func(p board.Place) bool { return p.Of == name && n.wired(build.Pin(p.Name)) })
}

// addPin models a pin: what drives it high and low, its pulls, its leakage and
// the diodes that protect it, under one control of its mode. The plan allows it
// the modes that its signals ask for; without any it is let go.
func (n *Network) addPin(pin board.Pin, u *Use) {
	l := n.Board.Logic
	c := Control{Kind: Mode, Of: pin.Name, Name: pin.Name, Settings: make([]string, len(modes)), Planned: []float64{LetGo}, Reads: true}
	has := func(mode int) { c.Settings[mode] = modes[mode] }
	has(LetGo)
	up, down := n.Board.PullAt(pin, board.PullUp), n.Board.PullAt(pin, board.PullDown)
	if pin.Has(board.DigitalOut) {
		has(DrivenLow)
		has(DrivenHigh)
	}
	if !up.IsZero() {
		has(PulledUp)
	}
	if !down.IsZero() {
		has(PulledDown)
	}
	if u != nil {
		c.Name = u.label()
		c.Reads = !u.Drives()
		c.Planned = slices.DeleteFunc(n.plannedModes(*u, up, down), func(mode float64) bool { return c.Settings[int(mode)] == "" })
		if len(c.Planned) == 0 { // it is asked for what it has not
			c.Planned = []float64{LetGo}
		}
	}
	control := n.control(c)
	place, rail := n.at(build.Pin(pin.Name)), n.at(build.Pin(l.Rail))
	switched := func(role Role, name string, ohms spec.Value, a, b circuit.Node, mode int) {
		if c.Settings[mode] == "" {
			return
		}
		e := Element{Pin: pin.Name, Role: role, Name: name, param: n.param(name, ohms), control: control, switching: switching{on: bits(mode)}}
		if role != Pull {
			e.Limit = l.Pin
		}
		n.add(e, circuit.Element{Kind: circuit.Switch, A: a, B: b})
	}
	switched(HighSide, "pin "+pin.Name+", driving high", l.High, rail, place, DrivenHigh)
	switched(LowSide, "pin "+pin.Name+", driving low", l.Low, place, circuit.Ground, DrivenLow)
	switched(Pull, "internal pull-up of pin "+pin.Name, up, rail, place, PulledUp)
	switched(Pull, "internal pull-down of pin "+pin.Name, down, place, circuit.Ground, PulledDown)
	n.addLeak(pin.Name, control)
}

// plannedModes are the modes that the signals of a pin ask for.
func (n *Network) plannedModes(u Use, up, down spec.Value) []float64 {
	if u.Drives() {
		// What any of its signals asks for: one that is let go between may be pulled low for one
		// part and high for another.
		var asked [3]bool // low, let go, high
		for _, c := range u.Signals {
			if c.drives() {
				low := c.Signal.Active == part.ActiveLow
				asked[0] = asked[0] || low || !c.Signal.Open
				asked[1] = asked[1] || c.Signal.Open
				asked[2] = asked[2] || !low || !c.Signal.Open
			}
		}
		var out []float64
		for i, mode := range []float64{DrivenLow, LetGo, DrivenHigh} {
			if asked[i] {
				out = append(out, mode)
			}
		}
		return out
	}
	switch pull := u.Pull(); {
	case pull == board.PullUp && !up.IsZero():
		return []float64{PulledUp}
	case pull == board.PullDown && !down.IsZero():
		return []float64{PulledDown}
	}
	return []float64{LetGo}
}

// clamp is the junction of an input's protection diodes (from memory of 8-bit
// and 32-bit data sheets: about 0.6 V at 1 mA).
var clamp = circuit.FitJunction(0.6, 1e-3, 1, 20)

// addLeak adds what a pin does to its node without wanting to: leakage while it
// is not driven, and the diodes that protect it.
func (n *Network) addLeak(pin string, control int) {
	l := n.Board.Logic
	place, rail := n.at(build.Pin(pin)), n.at(build.Pin(l.Rail))
	leak := Element{Pin: pin, Role: Leak, Name: "leakage of pin " + pin, param: n.param("leakage of pin "+pin, l.Leakage), control: control, switching: switching{on: bits(LetGo, PulledUp, PulledDown)}}
	n.add(leak, circuit.Element{Kind: circuit.CurrentSource, A: place, B: circuit.Ground})
	n.add(plain(Element{Pin: pin, Role: Clamp, Name: "clamp of pin " + pin + " to " + l.Rail}),
		circuit.Element{Kind: circuit.Diode, A: place, B: rail, Junction: clamp})
	n.add(plain(Element{Pin: pin, Role: Clamp, Name: "clamp of pin " + pin + " to ground"}),
		circuit.Element{Kind: circuit.Diode, A: circuit.Ground, B: place, Junction: clamp})
}

// addPulled models a place of the board that is an input with a pull of its own:
// a reset, an enable.
func (n *Network) addPulled(place board.Place) {
	at, rail := n.at(build.Pin(place.Name)), n.at(build.Pin(place.Pulled.To))
	n.add(Element{Pin: place.Name, Role: Pull, Name: "the board's own pull-up of " + place.Name, param: n.param("pull-up of "+place.Name, place.Pulled.Ohms), control: -1},
		circuit.Element{Kind: circuit.Resistor, A: rail, B: at})
	n.add(plain(Element{Pin: place.Name, Role: Clamp, Name: "clamp of " + place.Name + " to ground"}),
		circuit.Element{Kind: circuit.Diode, A: circuit.Ground, B: at, Junction: clamp})
}

// addGlow adds the board's own LEDs on the pins that are used or wired.
func (n *Network) addGlow() {
	for _, pin := range n.Board.Pins {
		if pin.Own == nil || pin.Own.LED == nil || n.controlNamed(pin.Name) < 0 {
			continue
		}
		n.addGlowOf(pin)
	}
}

func (n *Network) addGlowOf(pin board.Pin) {
	g := pin.Own.LED
	inner := n.places.place("", -1)
	n.add(plain(Element{Pin: pin.Name, Role: Glow, Name: "resistor of the board's LED"}),
		circuit.Element{Kind: circuit.Resistor, A: n.at(build.Pin(pin.Name)), B: inner, Value: g.Ohms})
	n.add(plain(Element{Pin: pin.Name, Role: Glow, Name: "the board's LED on " + pin.Name}),
		circuit.Element{Kind: circuit.Diode, A: inner, B: circuit.Ground, Junction: circuit.FitJunction(g.Volts, 1e-3, 2, 10)})
}

// control adds a control, or returns the one that there is already of the same.
func (n *Network) control(c Control) int {
	if i := slices.IndexFunc(n.Controls, func(x Control) bool { return x.Of == c.Of }); i >= 0 {
		return i
	}
	n.Controls = append(n.Controls, c)
	return len(n.Controls) - 1
}
