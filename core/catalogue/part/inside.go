package part

import (
	"slices"
	"strings"
)

// An Element is one of the things that a part is made of: a resistor, a contact, a
// module's output. Package wiring makes its circuit.
type Element struct {
	Is Primitive `json:"is"`
	// Legs are the part's, in the order that the primitive has them in; a name that begins with a
	// point is a point inside the part.
	Legs []string `json:"legs"`
	// Values says which value of the part is which of the primitive's, where they are not
	// called alike: {"resistance": "r25"}.
	Values map[string]string `json:"values,omitempty"`
	Hand   string            `json:"hand,omitempty"` // the id of the part's hand that moves it
	// When is the settings of its hand in which a contact conducts, an open collector ties its
	// output to ground, another output is high; none: all but the first.
	When []string `json:"when,omitempty"`
	// Trips is the id of the value at which an output goes over, where its hand is moved to levels:
	// at that level and above it is as in When, or below it where Falls is set.
	Trips string `json:"trips,omitempty"`
	Falls bool   `json:"falls,omitempty"`
	Law   Law    `json:"law,omitempty"`  // of a resistance: how it follows the level of its hand
	Rows  int    `json:"rows,omitempty"` // of keys: how many of the legs are rows; the others are columns
}

// Value returns the id of the part's value that is one of the primitive's.
func (e Element) Value(name string) string {
	if id, ok := e.Values[name]; ok {
		return id
	}
	return name
}

// OwnPrefix begins the id of each kind of a builder's own, and of no other: so none that comes with
// a later version can take its place.
const OwnPrefix = "own-"

// Own reports whether a builder described the kind.
func (k *Kind) Own() bool { return strings.HasPrefix(k.ID, OwnPrefix) }

// A Primitive is a thing whose physics the core knows. Beside each stand its legs and its
// values.
type Primitive string

// The primitives.
const (
	Resistor        Primitive = "resistor"        // a, b: resistance, tolerance (%)
	Resistance      Primitive = "resistance"      // a, b: resistance, and what its law takes
	Track           Primitive = "track"           // end, wiper, end: track, endResistance; its hand goes from 0 to 1
	Capacitor       Primitive = "capacitor"       // a, b: capacitance, tolerance (%)
	Piezo           Primitive = "piezo"           // a, b: capacitance, resistance
	Coil            Primitive = "coil"            // a, b: resistance, inductance
	LED             Primitive = "led"             // anode, cathode: those of an LED
	LEDs            Primitive = "leds"            // none, for the emitters name theirs
	Diode           Primitive = "diode"           // anode, cathode: forwardVoltage, testCurrent, ideality, seriesResistance, maximumCurrent
	NPN             Primitive = "npn"             // collector, base, emitter: gain, maximumCurrent
	MOSFET          Primitive = "mosfet"          // drain, gate, source: threshold, transconductance, maximumCurrent
	Phototransistor Primitive = "phototransistor" // collector, emitter: photocurrent, maximumCurrent; its hand is in lux
	Contact         Primitive = "contact"         // a, b: contactResistance
	Encoder         Primitive = "encoder"         // a, b, common: contactResistance; its hand counts clicks
	Keys            Primitive = "keys"            // the rows, the columns: contactResistance
	Supply          Primitive = "supply"          // plus, minus: supplyMinimum, supplyMaximum, supplyCurrent
	Voltage         Primitive = "voltage"         // output: offset, slope, outputResistance; of a part that is fed
	PushPull        Primitive = "push-pull"       // output: outputResistance, outputLimit; of a part that is fed
	Regulated       Primitive = "regulated"       // output: outputHigh, outputResistance; of a part that is fed
	OpenCollector   Primitive = "open-collector"  // output: contactResistance, outputLimit; of a part that is fed
	Register        Primitive = "register"        // none, for inputs and outputs are the kind's
	Servo           Primitive = "servo"           // its signal, which is the kind's input: vil, vih, pulseLeast, pulseMost, sweep
	Echo            Primitive = "echo"            // trigger, echo, which are the kind's input and output; its hand is in centimetres
)

// Clicks is the unit of what an encoder is turned by: from a whole number to the next its two
// contacts close and open one after the other.
const Clicks = "click"

// A Law says how a resistance follows a level.
type Law string

// The laws.
const (
	Steady Law = ""      // not at all
	Share  Law = "share" // in proportion
	Power  Law = "power" // (level ÷ 10 lx)^−gamma, which makers of light-dependent resistors give (common practice)
	ByB    Law = "b"     // by the B equation of IEC 60539-1, at a level in °C
)

// What one notices of a part through which current flows.
const (
	Tone   = "tone"  // it sounds as often a second as it is switched
	Sounds = "sound" // it makes a tone of its own
	Turns  = "turn"
	Pulls  = "pull"
	Glows  = "glow"
)

// IsLoad reports whether a part does its work by the current through it: a motor, a relay, a
// lamp that glows, a buzzer with a tone of its own.
func (k *Kind) IsLoad() bool { return k.Acts != "" && k.Acts != Tone }

// Gives is how many outputs a part has that it drives by itself.
func (k *Kind) Gives() (n int) {
	for _, e := range k.Inside {
		if slices.Contains([]Primitive{Voltage, PushPull, Regulated, OpenCollector}, e.Is) {
			n++
		}
	}
	return n
}

// Is reports whether a part is, before anything else, a primitive.
func (k *Kind) Is(p Primitive) bool { return len(k.Inside) > 0 && k.Inside[0].Is == p }

// Like reports whether two kinds are, before anything else, the same.
func (k *Kind) Like(other *Kind) bool {
	return len(k.Inside) > 0 && len(other.Inside) > 0 && k.Inside[0].Is == other.Inside[0].Is && k.Inside[0].Law == other.Inside[0].Law && k.Acts == other.Acts
}
