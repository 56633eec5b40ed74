// Package board describes development boards. A [Profile] is data: the boards
// that ship with Cablaggio and those that a builder adds are files in the same
// open format, read and validated by [Parse].
package board

import (
	"slices"

	"cablaggio/core/values/spec"
)

// Format is the name and version of the file format.
const Format = "cablaggio.board/1"

// A Function is something a pin can do; it is what a signal needs.
type Function string

// The functions that signals ask for.
const (
	DigitalOut Function = "digital-out"
	PWMOut     Function = "pwm-out"
	DigitalIn  Function = "digital-in"
	AnalogIn   Function = "analog-in"
	Interrupt  Function = "interrupt"
)

// Functions lists every function, in the order in which they are shown.
var Functions = []Function{DigitalOut, PWMOut, DigitalIn, AnalogIn, Interrupt}

// Name is the function in words.
func (f Function) Name() string {
	switch f {
	case DigitalOut:
		return "digital out"
	case PWMOut:
		return "PWM out"
	case DigitalIn:
		return "digital in"
	case AnalogIn:
		return "analog in"
	}
	return string(f)
}

// A Pull is a resistor inside the chip that an input can switch on.
type Pull string

// The pulls. The zero Pull is none.
const (
	NoPull   Pull = ""
	PullUp   Pull = "up"
	PullDown Pull = "down"
)

// A Profile describes one board. Currents are in amperes, resistances in ohms.
type Profile struct {
	Format   string     `json:"format"`
	ID       string     `json:"id"`
	Name     string     `json:"name"`
	Summary  string     `json:"summary"`
	Ground   string     `json:"ground"` // the name of the ground on the headers
	Power    string     `json:"power"`  // the rail for what needs more current than logic does
	Rails    []Rail     `json:"rails"`
	Supplies []Supply   `json:"supplies"`
	Appetite spec.Value `json:"appetite"` // current that the board takes for itself
	Logic    Logic      `json:"logic"`
	Pins     []Pin      `json:"pins"`
	Places   []Place    `json:"places,omitempty"` // what else on the headers a wire can go to
	Plugs    *Plugs     `json:"plugs,omitempty"`  // nil: it does not plug into a breadboard
	Headers  []Header   `json:"headers"`
	Program  *Code      `json:"program,omitempty"` // nil: what boards of its voltage have, see Programs
}

// A Rail is a supply voltage that the board offers on its headers.
type Rail struct {
	Name  string     `json:"name"`
	Volts spec.Value `json:"volts"`
	Limit spec.Limit `json:"limit"` // what parts may draw from it
}

// A Supply is a way to feed the board.
type Supply struct {
	ID        string                `json:"id"`
	Name      string                `json:"name"`
	Limit     spec.Limit            `json:"limit"`               // current for the board and all that hangs on it
	Rail      string                `json:"rail"`                // the rail that it feeds, straight or through the regulator
	Input     spec.Value            `json:"input"`               // the voltage that it may have: at least, usually, at most
	Survives  float64               `json:"survives,omitempty"`  // volts that it survives, above what is recommended; zero: no more than that
	Rails     map[string]spec.Value `json:"rails,omitempty"`     // the rails that have another voltage with it
	Regulator *Regulator            `json:"regulator,omitempty"` // nil: the rail is fed straight
}

// A Regulator makes a rail's voltage of a supply's. A linear one has a Drop, a
// switching one an Efficiency.
type Regulator struct {
	Rail       string     `json:"rail"`
	Drop       spec.Value `json:"drop"`       // volts that it needs above the rail's
	Efficiency spec.Value `json:"efficiency"` // of the power that goes in, the part that comes out
	Heat       spec.Limit `json:"heat"`       // watts that its package sheds in still air
}

// Linear reports whether what the supply has too much becomes heat.
func (r *Regulator) Linear() bool { return r.Efficiency.IsZero() }

// RailVolts returns the voltage of a rail with the supply, which has the
// voltage fed.
func (s Supply) RailVolts(r Rail, fed spec.Value) spec.Value {
	if v, ok := s.Rails[r.Name]; ok {
		return v
	}
	if s.Regulator == nil && s.Rail == r.Name {
		return fed
	}
	return r.Volts
}

// RailAt returns the voltage of one of the rails while the supply has so many volts: a linear
// regulator lets through what is left of it after its drop, a switching one stops where there is
// less than it needs, and what is made of another rail is not above that one. Zero of a name that
// is no rail and not where the supply comes in.
func (s Supply) RailAt(rails []Rail, name string, volts float64) float64 {
	main := volts // of the rail that the supply feeds, straight or through its regulator
	if g := s.Regulator; g != nil {
		i := slices.IndexFunc(rails, func(r Rail) bool { return r.Name == g.Rail })
		switch made := rails[i].Volts.Typ; {
		case g.Linear():
			main = max(0, min(made, volts-g.Drop.Typ))
		case volts >= s.Input.Low:
			main = made
		default:
			main = 0
		}
	}
	for _, r := range rails {
		switch {
		case r.Name != name:
		case r.Name == s.Rail:
			return main
		default:
			return min(s.RailVolts(r, spec.Exactly(volts, "")).Typ, main)
		}
	}
	return volts
}

// Logic is the electrical model that the pins share.
type Logic struct {
	Rail      string     `json:"rail"`     // the rail that outputs drive to
	High      spec.Value `json:"high"`     // output resistance to the rail
	Low       spec.Value `json:"low"`      // output resistance to ground
	Leakage   spec.Value `json:"leakage"`  // into an input
	PullUp    spec.Value `json:"pullUp"`   // zero: it has none
	PullDown  spec.Value `json:"pullDown"` // zero: it has none
	VIL       Threshold  `json:"vil"`      // surely read as low below it
	VIH       Threshold  `json:"vih"`      // surely read as high above it
	Pin       spec.Limit `json:"pin"`      // current of one pin, sourced or sunk
	Total     spec.Limit `json:"total"`    // of all pins together, sourced or sunk
	Groups    []Group    `json:"groups"`   // of pins whose currents have a limit together
	Tolerates Above      `json:"tolerates"`
	Analog    Analog     `json:"analog"`
}

// A Group is pins that share a way to the supply inside the chip.
type Group struct {
	Name  string     `json:"name"` // of the pins: "D5 to D13"
	Pins  []string   `json:"pins"`
	Way   Way        `json:"way"`
	Limit spec.Limit `json:"limit"`
}

// A Way is the direction of a pin's current.
type Way string

// The ways.
const (
	Source Way = "source" // out of a pin that drives high
	Sink   Way = "sink"   // into a pin that drives low
)

// Above is how far above the logic's rail an input may be, and the current that its
// protection survives when it is further.
type Above struct {
	Volts  float64 `json:"volts"`
	Amps   float64 `json:"amps,omitempty"`
	Source string  `json:"source"`
}

// Analog describes the converter behind the analog inputs.
type Analog struct {
	Bits       int     `json:"bits"`
	Reference  string  `json:"reference"`  // the rail that reads as full scale
	SourceOhms float64 `json:"sourceOhms"` // the source resistance it was designed for, at most
	Source     string  `json:"source"`
}

// Full is the largest reading.
func (a Analog) Full() float64 { return float64(int(1)<<a.Bits - 1) }

// A Threshold is a voltage, or a fraction of the logic's rail.
type Threshold struct {
	Fraction float64 `json:"fraction,omitempty"`
	Volts    float64 `json:"volts,omitempty"`
	Source   string  `json:"source"`
}

// At returns the threshold in volts for a rail voltage.
func (t Threshold) At(rail float64) float64 { return t.Volts + t.Fraction*rail }

// A Pin is one input or output.
type Pin struct {
	Name      string     `json:"name"`
	Functions []Function `json:"functions"`
	PWM       *PWM       `json:"pwm,omitempty"`
	Also      []string   `json:"also,omitempty"` // "serial in", "two-wire clock": what else is printed at it
	Own       *Own       `json:"own,omitempty"`  // what the board itself uses it for
	// Number is what programs in C++ know it by, where the digits of its name do not say it.
	Number *int `json:"number,omitempty"`
}

// Has reports whether the pin has the function.
func (p Pin) Has(f Function) bool { return slices.Contains(p.Functions, f) }

// Own is a use that the board has for one of its pins.
type Own struct {
	For    string `json:"for"`    // "serial link", "on-board LED"
	Effect string `json:"effect"` // what happens to a part on this pin, as a sentence
	Care   bool   `json:"care"`   // whether it disturbs; otherwise it is only worth knowing
	LED    *Glow  `json:"led,omitempty"`
}

// A Glow is an LED of the board's own between a pin and ground.
type Glow struct {
	Ohms   float64 `json:"ohms"`  // before it
	Volts  float64 `json:"volts"` // across it at a milliampere
	Source string  `json:"source"`
}

// PWM says how a pin's duty comes about.
type PWM struct {
	Channel string  `json:"channel,omitempty"` // pins with the same one have the same duty; empty: its own
	Hertz   float64 `json:"hertz"`
	Bits    int     `json:"bits"`
	Source  string  `json:"source"`
}

// A Header is a row of places on the board, from top to bottom with the USB
// socket at the top. A place is the name of a pin, a rail or the ground, or of
// something that parts are not wired to.
type Header struct {
	Name   string   `json:"name"`
	Places []string `json:"places"`
}

// Plugs is how a board stands in a breadboard: its first two headers are rows of
// pins across the channel, level with each other.
type Plugs struct {
	Across int    `json:"across"` // between the two rows of pins, in steps of 2.54 mm
	Source string `json:"source"`
}

// Pin returns the pin of that name.
func (p *Profile) Pin(name string) (Pin, bool) {
	i := slices.IndexFunc(p.Pins, func(q Pin) bool { return q.Name == name })
	if i < 0 {
		return Pin{}, false
	}
	return p.Pins[i], true
}

// PullAt returns the pull that a pin can switch on, in ohms; zero when it has none.
// In this class a pin that is only an input has neither.
func (p *Profile) PullAt(pin Pin, pull Pull) spec.Value {
	if !pin.Has(DigitalOut) {
		return spec.Value{}
	}
	switch pull {
	case PullUp:
		return p.Logic.PullUp
	case PullDown:
		return p.Logic.PullDown
	}
	return spec.Value{}
}

// Suits reports whether a pin has what a signal needs. A pull that no pin of the
// board has is not asked of any.
func (p *Profile) Suits(pin Pin, needs Function, pull Pull) bool {
	none := func(q Pin) bool { return p.PullAt(q, pull).IsZero() }
	return pin.Has(needs) && (pull == NoPull || !none(pin) || !slices.ContainsFunc(p.Pins, func(q Pin) bool { return !none(q) }))
}

// Rail returns the rail of that name.
func (p *Profile) Rail(name string) (Rail, bool) {
	i := slices.IndexFunc(p.Rails, func(r Rail) bool { return r.Name == name })
	if i < 0 {
		return Rail{}, false
	}
	return p.Rails[i], true
}

// Supply returns the supply of that id; an empty id is the first one.
func (p *Profile) Supply(id string) (Supply, bool) {
	if id == "" {
		return p.Supplies[0], true
	}
	i := slices.IndexFunc(p.Supplies, func(s Supply) bool { return s.ID == id })
	if i < 0 {
		return Supply{}, false
	}
	return p.Supplies[i], true
}

// Terminals lists what a wire can go to on the board: ground, rails and pins.
func (p *Profile) Terminals() []string {
	out := []string{p.Ground}
	for _, r := range p.Rails {
		out = append(out, r.Name)
	}
	for _, q := range p.Pins {
		out = append(out, q.Name)
	}
	for _, q := range p.Places {
		out = append(out, q.Name)
	}
	return out
}

// HasTerminal reports whether a wire can go to a place of that name.
func (p *Profile) HasTerminal(name string) bool {
	if name == p.Ground {
		return true
	}
	if _, ok := p.Rail(name); ok {
		return true
	}
	return slices.ContainsFunc(p.Pins, func(q Pin) bool { return q.Name == name }) ||
		slices.ContainsFunc(p.Places, func(q Place) bool { return q.Name == name })
}

// A Place is a place of the board that carries no signal of the program's: a
// second name, a reference, an input of the board's own.
type Place struct {
	Name   string  `json:"name"`
	Is     string  `json:"is"`               // what it is, as a sentence says it: "the same as A4"
	Of     string  `json:"of,omitempty"`     // the pin, the rail or the ground that it is joined to inside
	Pulled *Pulled `json:"pulled,omitempty"` // an input that the board pulls up itself
	Supply string  `json:"supply,omitempty"` // the supply that comes in here
}

// A Pulled is the board's own pull-up of a place.
type Pulled struct {
	To   string     `json:"to"` // a rail
	Ohms spec.Value `json:"ohms"`
}

// LogicVolts returns the voltage of the rail that outputs drive to, as the first supply gives it.
func (p *Profile) LogicVolts() float64 {
	r, _ := p.Rail(p.Logic.Rail)
	return r.Volts.Typ
}
