package wiring

import (
	"cablaggio/core/electric/circuit"
	"cablaggio/core/values/spec"
)

// coil is a load whose current goes on for a moment when its switch opens.
func coil(i instance) {
	e := i.element(i.value("resistance"), "resistance")
	e.Coil, e.law = true, law{kind: asOhms}
	i.add(circuit.Element{Kind: circuit.Inductor, Value: i.value("inductance").Typ}, "1", "2", e)
}

// filament is a lamp that has a part of its resistance while it is cold.
func filament(i instance) {
	e := i.element(i.value("resistance"), "resistance when it glows")
	e.control = i.level()
	i.scaled("1", "2", e, response{kind: linear, a: 1})
}

// sounder is a load that makes its own tone: what it takes while it sounds.
func sounder(i instance) {
	i.add(circuit.Element{Kind: circuit.Resistor}, "1", "2", i.element(i.value("resistance"), "resistance while it sounds"))
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

func npn(i instance) {
	base := i.network.places.place("", -1)
	lead := plain(Element{Part: i.part.ID, Role: Inner, Name: "base lead of " + i.part.Name})
	i.network.add(lead, circuit.Element{Kind: circuit.Resistor, A: i.at("base"), B: base, Value: spreading})
	i.transistor(i.at("collector"), base, i.at("emitter"), i.value("gain"), i.limit("maximumCurrent", 0.8))
}

// mosfet is the channel and the diode that every such transistor has from its
// source to its drain.
func mosfet(i instance) {
	e := i.element(i.value("threshold"), "threshold voltage")
	e.Limit = i.limit("maximumCurrent", 0.8)
	e.law = law{kind: asThreshold}
	i.network.add(e, circuit.Element{
		Kind: circuit.Channel, A: i.at("drain"), B: i.at("source"), Control: i.at("gate"), Value: i.value("transconductance").Typ,
	})
	inner := plain(Element{Part: i.part.ID, Role: Inner, Name: "inner diode of " + i.part.Name})
	i.network.add(inner, circuit.Element{Kind: circuit.Diode, A: i.at("source"), B: i.at("drain"), Junction: circuit.FitJunction(0.8, 1, 1.5, 0.05)})
	i.network.Inputs = append(i.network.Inputs, PartInput{Part: i.part, Leg: "gate", Node: i.node("gate")})
}
