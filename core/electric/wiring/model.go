package wiring

import (
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/values/spec"
)

// models are the electrical models of parts, by the name that the catalogue
// calls them.
var models = map[string]func(instance){
	"led":             lamp,
	"leds":            lamps,
	"rectifier":       rectifier,
	"resistor":        resistor,
	"capacitor":       capacitor,
	"buzzer":          buzzer,
	"contact":         contact,
	"keypad":          keypad,
	"potentiometer":   potentiometer,
	"light-resistor":  lightResistor,
	"thermistor":      thermistor,
	"phototransistor": phototransistor,
	"voltage-sensor":  voltageSensor,
	"push-pull":       pushPull,
	"open-collector":  openCollector,
	"register":        register,
	"coil":            coil,
	"filament":        filament,
	"sounder":         sounder,
	"npn":             npn,
	"mosfet":          mosfet,
}

// An instance is one part of a build as a model sees it.
type instance struct {
	network *Network
	part    *build.Part
	kind    *part.Kind
}

func (i instance) value(id string) spec.Value { return ValueOf(i.kind, i.part, id) }

// at returns the place of a leg.
func (i instance) at(leg string) circuit.Node { return i.network.at(build.Of(i.part.ID, leg)) }

// node returns the node of a leg.
func (i instance) node(leg string) circuit.Node { return i.network.places.node[i.at(leg)] }

// add adds an element between two legs.
func (i instance) add(c circuit.Element, a, b string, e Element) {
	c.A, c.B = i.at(a), i.at(b)
	i.network.add(e, c)
}

// element describes the part's body, with the value that varies.
func (i instance) element(v spec.Value, what string) Element {
	return Element{Part: i.part.ID, Role: Body, Name: i.part.Name, param: i.network.param(what+" of "+i.part.Name, v), control: -1}
}

// limit is a limit of the part's, of which the recommended value is a part.
func (i instance) limit(id string, recommended float64) spec.Limit {
	most := i.value(id)
	return spec.Limit{Recommended: most.Typ * recommended, Absolute: most.Typ, Source: most.Source}
}

func resistor(i instance) {
	i.add(circuit.Element{Kind: circuit.Resistor}, "1", "2", i.element(i.toleranced("resistance"), "resistance"))
}

// toleranced is a value within the tolerance that is printed on the part, or within what a
// meter may be off when it was measured.
func (i instance) toleranced(id string) spec.Value {
	v := i.value(id)
	if _, ok := i.part.IsMeasured(id); ok {
		return v
	}
	return spec.Within(v.Typ, i.value("tolerance").Typ/100, v.Source)
}

func capacitor(i instance) {
	i.add(circuit.Element{Kind: circuit.Capacitor}, i.kind.Terminals[0].ID, i.kind.Terminals[1].ID, i.element(i.toleranced("capacitance"), "capacitance"))
}

// buzzer is a piezo disc: a capacitor, and next to nothing at rest.
func buzzer(i instance) {
	i.add(circuit.Element{Kind: circuit.Resistor}, "1", "2", i.element(i.value("resistance"), "resistance"))
	e := i.element(i.value("capacitance"), "capacitance")
	e.Role = Inner
	i.add(circuit.Element{Kind: circuit.Capacitor}, "1", "2", e)
}

// ValueOf returns a value of a part: the builder's own where there is one, or
// else the catalogue's.
func ValueOf(kind *part.Kind, p *build.Part, id string) spec.Value {
	stated := kind.Stated(p.Type, id)
	if own, ok := p.Values[id]; ok {
		if within, ok := p.IsMeasured(id); ok {
			return spec.Within(own, within, "measured")
		}
		if p.Chosen {
			return stated.Rescaled(own, "chosen for this build")
		}
		return stated.Rescaled(own, "your own value")
	}
	return stated
}
