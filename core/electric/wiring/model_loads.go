package wiring

import (
	"cablaggio/core/catalogue/part"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/values/spec"
)

// coil is a load whose current goes on for a moment when its switch opens.
func coil(i instance, in part.Element) {
	e := i.of(in, "resistance", i.value(in.Value("resistance")))
	e.Coil, e.law = true, law{kind: asOhms}
	i.add(circuit.Element{Kind: circuit.Inductor, Value: i.value(in.Value("inductance")).Typ}, in.Legs[0], in.Legs[1], e)
}

// saturation is the saturation current of a small silicon transistor, in
// amperes (from memory): 0.65 V between base and emitter at a milliampere.
const saturation = 1e-14

// backwards is the current gain of a small transistor with collector and
// emitter exchanged (from memory).
const backwards = 5

// transistor adds the three elements of an NPN transistor: the base's two
// junctions and the body, which is the current from collector to emitter.
func (i instance) transistor(collector, base, emitter circuit.Node, gain spec.Value, limit spec.Limit) {
	e := i.element(gain, "current gain")
	e.Role, e.Name = Inner, "base of "+i.part.Name
	e.law = law{kind: asGain, a: saturation}
	i.network.add(e, circuit.Element{Kind: circuit.Diode, A: base, B: emitter})
	back := plain(Element{Part: i.part.ID, Role: Inner, Name: "base to collector of " + i.part.Name})
	i.network.add(back, circuit.Element{Kind: circuit.Diode, A: base, B: collector, Junction: circuit.Junction{Is: saturation / backwards, N: 1}})
	body := plain(Element{Part: i.part.ID, Role: Body, Name: i.part.Name, Limit: limit})
	i.network.add(body, circuit.Element{Kind: circuit.Transport, A: collector, B: emitter, Control: base, Value: saturation})
}

// spreading is the resistance in ohms between the base's leg and its junctions
// (from memory: some ohms to some tens). Without it a base that is wired straight
// to a supply would have no end of current.
const spreading = 10

func npn(i instance, in part.Element) {
	collector, foot, emitter := i.at(in.Legs[0]), i.at(in.Legs[1]), i.at(in.Legs[2])
	base := i.network.places.place("", -1)
	lead := plain(Element{Part: i.part.ID, Role: Inner, Name: "base lead of " + i.part.Name})
	i.network.add(lead, circuit.Element{Kind: circuit.Resistor, A: foot, B: base, Value: spreading})
	i.transistor(collector, base, emitter, i.value(in.Value("gain")), i.limit(in.Value("maximumCurrent"), 0.8))
}

// mosfet is the channel and the diode that every such transistor has from its
// source to its drain.
func mosfet(i instance, in part.Element) {
	drain, gate, source := i.at(in.Legs[0]), i.at(in.Legs[1]), i.at(in.Legs[2])
	e := i.of(in, "threshold", i.value(in.Value("threshold")))
	e.Limit = i.limit(in.Value("maximumCurrent"), 0.8)
	e.law = law{kind: asThreshold}
	i.network.add(e, circuit.Element{
		Kind: circuit.Channel, A: drain, B: source, Control: gate, Value: i.value(in.Value("transconductance")).Typ,
	})
	inner := plain(Element{Part: i.part.ID, Role: Inner, Name: "inner diode of " + i.part.Name})
	i.network.add(inner, circuit.Element{Kind: circuit.Diode, A: source, B: drain, Junction: circuit.FitJunction(0.8, 1, 1.5, 0.05)})
	i.network.Inputs = append(i.network.Inputs, PartInput{Part: i.part, Leg: in.Legs[1], Node: i.node(in.Legs[1])})
}
