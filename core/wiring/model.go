package wiring

import (
	"math"
	"slices"

	"cablaggio/core/build"
	"cablaggio/core/circuit"
	"cablaggio/core/part"
	"cablaggio/core/spec"
)

// models are the electrical models of parts, by the name that the catalogue
// calls them.
var models = map[string]func(instance){
	"diode":          diode,
	"resistor":       resistor,
	"contact":        contact,
	"potentiometer":  potentiometer,
	"light-resistor": lightResistor,
	"thermistor":     thermistor,
	"push-pull":      pushPull,
	"open-collector": openCollector,
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

// add adds an element between two legs.
func (i instance) add(c circuit.Element, a, b string, e Element) {
	c.A, c.B = i.node(a), i.node(b)
	i.network.add(e, c)
}

// element describes the part's body, with the value that varies.
func (i instance) element(v spec.Value, what string) Element {
	return Element{Part: i.part.ID, Role: Body, Name: i.part.Name, param: i.network.param(what, i.part.Name, v), control: -1}
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
	e := i.element(volts, "forward voltage")
	e.apply = func(ce *circuit.Element, v float64) { ce.Junction = circuit.FitJunction(v, amps, n, rs) }
	i.add(circuit.Element{Kind: circuit.Diode}, "anode", "cathode", e)
}

func resistor(i instance) {
	ohms := i.value("resistance")
	ohms = spec.Within(ohms.Typ, i.value("tolerance").Typ/100, ohms.Source)
	i.add(circuit.Element{Kind: circuit.Resistor}, "1", "2", i.element(ohms, "resistance"))
}

// contact is one contact between the first two terminals that are not linked
// inside the part.
func contact(i instance) {
	a, b := i.kind.Terminals[0].ID, i.kind.Terminals[1].ID
	for _, link := range i.kind.Links {
		if slices.Contains(link, a) && slices.Contains(link, b) {
			b = i.kind.Terminals[2].ID
		}
	}
	e := i.element(i.value("contactResistance"), "contact resistance")
	e.control, e.when, e.Name = i.setting(), Closed, "contact of "+i.part.Name
	i.add(circuit.Element{Kind: circuit.Switch}, a, b, e)
}

// setting adds the control of what a hand or the world changes about the part.
func (i instance) setting() int {
	c := Control{Kind: Contact, Of: i.part.ID, Name: i.part.Name}
	for _, s := range i.kind.Settings {
		c.Settings = append(c.Settings, s.Name)
	}
	return i.network.control(c)
}

// scaled adds a resistance between two legs: the part's body, multiplied by a
// factor for each setting of its control.
func (i instance) scaled(a, b string, e Element, factor func(level float64) float64) {
	e.scale = nil
	for _, s := range i.kind.Settings {
		e.scale = append(e.scale, factor(s.Level))
	}
	i.add(circuit.Element{Kind: circuit.Resistor}, a, b, e)
}

// potentiometer is a track divided by the position of its wiper. At the ends a
// little of the track is left.
func potentiometer(i instance) {
	track, left := i.value("track"), i.value("endResistance")
	least := left.Typ / track.Typ
	part := func(x float64) float64 { return max(least, min(1-least, x)) }
	// Both sides are the same track: one tolerance moves them together.
	e := i.element(track, "track")
	e.control = i.setting()
	i.scaled("1", "wiper", e, part)
	i.scaled("wiper", "2", e, func(x float64) float64 { return part(1 - x) })
}

// lightResistor is the power law R = R10 · (E ÷ 10 lx)^−gamma, which makers of
// these sensors give (common practice).
func lightResistor(i instance) {
	gamma := i.value("gamma").Typ
	e := i.element(i.value("r10"), "resistance at 10 lx")
	e.control = i.setting()
	i.scaled("1", "2", e, func(lux float64) float64 { return math.Pow(lux/10, -gamma) })
}

// thermistor is the B equation of IEC 60539-1: R = R25 · exp(B·(1/T − 1/298.15 K)).
func thermistor(i instance) {
	b := i.value("b").Typ
	e := i.element(i.value("r25"), "resistance at 25 °C")
	e.control = i.setting()
	i.scaled("1", "2", e, func(celsius float64) float64 {
		return math.Exp(b * (1/(celsius+273.15) - 1/298.15))
	})
}

// pushPull is a sensor that drives its output to one of its supply legs, and
// draws a current of its own from them.
func pushPull(i instance) {
	control := i.setting()
	for when, leg := range []string{"gnd", "vcc"} {
		e := i.element(i.value("outputResistance"), "output resistance to "+leg)
		e.control, e.when, e.Name = control, when, "output of "+i.part.Name
		i.add(circuit.Element{Kind: circuit.Switch}, leg, "out", e)
	}
	i.appetite()
}

// openCollector is a sensor that ties its output to ground or lets it go.
func openCollector(i instance) {
	e := i.element(i.value("contactResistance"), "output resistance")
	e.control, e.when, e.Name = i.setting(), Closed, "output of "+i.part.Name
	i.add(circuit.Element{Kind: circuit.Switch}, "out", "gnd", e)
	i.appetite()
}

// appetite is what a sensor draws between its supply legs.
func (i instance) appetite() {
	e := i.element(i.value("supplyResistance"), "supply resistance")
	e.Name = "supply of " + i.part.Name
	i.add(circuit.Element{Kind: circuit.Resistor}, "vcc", "gnd", e)
}
