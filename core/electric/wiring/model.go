package wiring

import (
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/values/spec"
	"strings"
)

// primitives are what makes the circuit of each thing that a part may be made of.
var primitives = map[part.Primitive]func(instance, part.Element){
	part.Resistor:        resistor,
	part.Resistance:      resistance,
	part.Track:           track,
	part.Capacitor:       capacitor,
	part.Piezo:           piezo,
	part.Coil:            coil,
	part.LED:             lamp,
	part.LEDs:            lamps,
	part.Diode:           diode,
	part.NPN:             npn,
	part.MOSFET:          mosfet,
	part.Phototransistor: phototransistor,
	part.Contact:         contact,
	part.Encoder:         encoder,
	part.Keys:            keys,
	part.Supply:          appetite,
	part.Voltage:         voltage,
	part.PushPull:        pushPull,
	part.Regulated:       regulated,
	part.OpenCollector:   openCollector,
	part.Register:        register,
	part.Echo:            echo,
	part.Servo:           register, // an input as that of a chip
}

// An instance is one part of a build as a model sees it.
type instance struct {
	network *Network
	part    *build.Part
	kind    *part.Kind
	hands   map[string]int          // controls made so far, by the hand's id
	points  map[string]circuit.Node // inside the part, by their names, which begin with a point
}

// make makes what is inside the part.
func (i instance) make() {
	i.hands, i.points = map[string]int{}, map[string]circuit.Node{}
	for _, e := range i.kind.Inside {
		primitives[e.Is](i, e)
	}
}

func (i instance) value(id string) spec.Value { return ValueOf(i.kind, i.part, id) }

// at returns the place of a leg, or of a point inside the part.
func (i instance) at(leg string) circuit.Node {
	if !strings.HasPrefix(leg, ".") {
		return i.network.at(build.Of(i.part.ID, leg))
	}
	if _, ok := i.points[leg]; !ok {
		i.points[leg] = i.network.places.place("", -1)
	}
	return i.points[leg]
}

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

// of describes an element of the part: the part's body, unless a hand of its own says which of
// several it is.
func (i instance) of(in part.Element, value string, v spec.Value) Element {
	what, _ := i.kind.Value(in.Value(value))
	e := i.element(v, what.Name)
	if h, ok := i.kind.Hand(in.Hand); ok && h.ID != "" {
		e.Name = h.Name + " of " + i.part.Name
	}
	return e
}

func resistor(i instance, in part.Element) {
	i.add(circuit.Element{Kind: circuit.Resistor}, in.Legs[0], in.Legs[1], i.of(in, "resistance", i.toleranced(in.Value("resistance"))))
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

func capacitor(i instance, in part.Element) {
	i.add(circuit.Element{Kind: circuit.Capacitor}, in.Legs[0], in.Legs[1], i.of(in, "capacitance", i.toleranced(in.Value("capacitance"))))
}

// piezo is a disc between two plates: a capacitor, and next to nothing at rest.
func piezo(i instance, in part.Element) {
	i.add(circuit.Element{Kind: circuit.Resistor}, in.Legs[0], in.Legs[1], i.of(in, "resistance", i.value(in.Value("resistance"))))
	e := i.of(in, "capacitance", i.value(in.Value("capacitance")))
	e.Role = Inner
	i.add(circuit.Element{Kind: circuit.Capacitor}, in.Legs[0], in.Legs[1], e)
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
