package wiring

import (
	"math"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/electric/circuit"
)

// lamp is a part that is one LED.
func lamp(i instance, in part.Element) {
	i.emitter(part.Emitter{Anode: in.Legs[0], Cathode: in.Legs[1]}, i.part.Name)
}

// lamps is a case with several LEDs.
func lamps(i instance, _ part.Element) {
	for _, e := range i.kind.Emitters {
		i.emitter(e, e.Name+" of "+i.part.Name)
	}
}

// emitter is one LED: the Shockley model with a series resistance, fitted
// through the forward voltage at the current it is stated at; its corners shift
// the forward voltage.
func (i instance) emitter(em part.Emitter, name string) {
	l := Lamp{Part: i.part, Emitter: em, Name: name, Element: len(i.network.Elements)}
	volts := l.Value(i.kind, "forwardVoltage")
	most := l.Value(i.kind, "maximumCurrent")
	e := i.element(volts, "forward voltage")
	e.Name = name
	e.Limit.Absolute, e.Limit.Source = most.Typ, most.Source
	e.Limit.Recommended = math.Min(l.Value(i.kind, "comfortableCurrent").Typ, most.Typ)
	e.law = junction(volts.Low, l.Value(i.kind, "testCurrent").Typ, l.Value(i.kind, "ideality").Typ, l.Value(i.kind, "seriesResistance").Typ)
	i.add(circuit.Element{Kind: circuit.Diode}, em.Anode, em.Cathode, e)
	i.network.Lamps = append(i.network.Lamps, l)
}

// junction is the law of a diode's forward voltage. A builder's own values may
// ask for more drop across the series resistance than there is; at least half is
// the junction's.
func junction(least, amps, n, rs float64) law {
	return law{asJunction, amps, n, min(rs, least/amps/2)}
}

// diode is one that is not there for its light.
func diode(i instance, in part.Element) {
	volts := i.value(in.Value("forwardVoltage"))
	e := i.of(in, "forwardVoltage", volts)
	e.Limit = i.limit(in.Value("maximumCurrent"), 0.8)
	e.law = junction(volts.Low, i.value(in.Value("testCurrent")).Typ, i.value(in.Value("ideality")).Typ, i.value(in.Value("seriesResistance")).Typ)
	i.add(circuit.Element{Kind: circuit.Diode}, in.Legs[0], in.Legs[1], e)
}
