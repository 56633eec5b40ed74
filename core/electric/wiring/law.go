package wiring

import (
	"math"

	"cablaggio/core/electric/circuit"
)

// A law says what a value of a param does to its element. It is data, so that
// pieces can be told alike. The zero law sets the element's value.
type law struct {
	kind    lawKind
	a, b, c float64
}

type lawKind uint8

const (
	asValue     lawKind = iota
	asOhms              // of an inductor
	asThreshold         // of a channel
	asJunction          // forward voltage at a amperes, with ideality b and series resistance c
	asGain              // of a transistor whose saturation current is a
	overOhms            // volts that a resistance of a makes a current of
	underVolts          // amperes that a resistance takes at a volts
)

func (l law) apply(ce *circuit.Element, v float64) {
	switch l.kind {
	case asValue:
		ce.Value = v
	case asOhms:
		ce.Ohms = v
	case asThreshold:
		ce.Threshold = v
	case asJunction:
		ce.Junction = circuit.FitJunction(v, l.a, l.b, l.c)
	case asGain:
		ce.Junction = circuit.Junction{Is: l.a / v, N: 1}
	case overOhms:
		ce.Value = v / l.a
	case underVolts:
		ce.Value = l.a / math.Max(v, 1e-9)
	}
}

// A response says by what an element's value is multiplied at a level of its
// control. The zero response is 1 at every level.
type response struct {
	kind responseKind
	a, b float64
	most float64
}

type responseKind uint8

const (
	steady   responseKind = iota
	linear                // level ÷ a
	position              // level, of which at least a is left at both ends
	opposite              // the rest of that
	power                 // (level ÷ 10) to the power of −a
	between               // level, but such that a + b × level is at least 0 and at most most
	byB                   // the B equation of IEC 60539-1 with B = a, at a level in °C
)

// at returns the factor at a level.
func (r response) at(level float64) float64 {
	switch r.kind {
	case linear:
		return level / r.a
	case position:
		return max(r.a, min(1-r.a, level))
	case opposite:
		return max(r.a, min(1-r.a, 1-level))
	case power:
		return math.Pow(math.Max(level, 1e-6)/10, -r.a)
	case between:
		if r.b == 0 { // its output stays where it is
			return level
		}
		ends := [2]float64{-r.a / r.b, (r.most - r.a) / r.b} // where the output is at its ground, and at most
		return max(min(ends[0], ends[1]), min(level, max(ends[0], ends[1])))
	case byB:
		return math.Exp(r.a * (1/(level+273.15) - 1/298.15))
	}
	return 1
}

// bits is a set of settings.
func bits(settings ...int) (set uint64) {
	for _, s := range settings {
		set |= 1 << uint(s)
	}
	return set
}

// A switching says in which settings of its control an element conducts, or by
// what its value is multiplied at a level of it.
type switching struct {
	on    uint64 // a bit for each setting
	key   bool   // on is the bit in the setting instead
	trips bool   // the setting is a level, and it conducts from a level on
	from  float64
	below bool // or below that
	turns bool // the setting counts clicks, and it conducts half of each from a part of it on
	scale response
}

// conducts reports whether the element conducts with its control at a setting.
func (x switching) conducts(setting float64) bool {
	switch {
	case x.turns:
		part := setting - x.from
		return part-math.Floor(part) < 0.5
	case x.trips:
		return (setting >= x.from) != x.below
	case x.scale != response{} && x.on == 0:
		return true
	case x.key:
		return uint64(setting)&x.on != 0
	}
	return x.on&(1<<uint(setting)) != 0
}

// turn puts an element to a setting of its control, and returns what its value is
// multiplied by.
func (x switching) turn(e *circuit.Element, setting float64) float64 {
	e.Open = !x.conducts(setting)
	if e.Open && e.Kind == circuit.CurrentSource {
		return 0
	}
	if x.trips || x.turns || x.on != 0 {
		return x.scale.at(1)
	}
	return x.scale.at(setting)
}
