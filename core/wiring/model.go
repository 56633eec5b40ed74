package wiring

import (
	"fmt"

	"cablaggio/core/build"
	"cablaggio/core/circuit"
	"cablaggio/core/part"
	"cablaggio/core/spec"
)

// models are the electrical models of parts, by the name that the catalogue
// calls them.
var models = map[string]func(instance){
	"diode":    diode,
	"resistor": resistor,
	"button":   button,
}

// An instance is one part of a build as a model sees it.
type instance struct {
	network *Network
	part    *build.Part
	kind    *part.Kind
}

func (i instance) value(id string) spec.Value { return ValueOf(i.kind, i.part, id) }

func (i instance) node(leg string) circuit.Node {
	return i.network.nodes[build.Of(i.part.ID, leg)]
}

// element adds the part's body between two legs, with the value that varies.
func (i instance) element(c circuit.Element, a, b string, v spec.Value, what string) Element {
	c.A, c.B = i.node(a), i.node(b)
	return Element{Part: i.part.ID, Role: Body, Name: i.part.Name, param: i.network.param(what+" of "+i.part.Name, v), control: -1}
}

// diode is the Shockley model with a series resistance, fitted through the
// forward voltage at the current it is stated at; its corners shift the
// forward voltage.
func diode(i instance) {
	amps := i.value("testCurrent").Typ
	n := i.value("ideality").Typ
	volts := i.value("forwardVoltage")
	// A builder's own values may ask for more drop across the series
	// resistance than there is; at least half is the junction's.
	rs := min(i.value("seriesResistance").Typ, volts.Low/amps/2)
	c := circuit.Element{Kind: circuit.Diode, A: i.node("anode"), B: i.node("cathode")}
	e := i.element(c, "anode", "cathode", volts, "forward voltage")
	e.apply = func(ce *circuit.Element, v float64) { ce.Junction = circuit.FitJunction(v, amps, n, rs) }
	i.network.add(e, c)
}

func resistor(i instance) {
	ohms := i.value("resistance")
	ohms = spec.Within(ohms.Typ, i.value("tolerance").Typ/100, ohms.Source)
	c := circuit.Element{Kind: circuit.Resistor, A: i.node("1"), B: i.node("2")}
	i.network.add(i.element(c, "1", "2", ohms, "resistance"), c)
}

// button is one contact between its two pairs of legs.
func button(i instance) {
	c := circuit.Element{Kind: circuit.Switch, A: i.node("1a"), B: i.node("2a")}
	e := i.element(c, "1a", "2a", i.value("contactResistance"), "contact resistance")
	e.control = i.network.control(Control{Kind: Contact, Of: i.part.ID, Name: i.part.Name, Settings: []string{"up", "pressed"}})
	e.when = Closed
	e.Name = fmt.Sprintf("contact of %s", i.part.Name)
	i.network.add(e, c)
}
