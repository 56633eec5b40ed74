// Package check says whether a build will work, and why. Every answer is
// computed from the circuit: in every state that the wiring can be in, and at
// the low and high ends of everything that has a tolerance.
package check

import (
	"math"
	"slices"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/general/parallel"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/spec"
)

// A Level says how bad a finding is.
type Level string

// The levels, the worst first. The zero Level is fine.
const (
	Stop Level = "stop" // damage, or it cannot work
	Care Level = "care" // outside recommended values, or works only sometimes
	Note Level = "note" // worth knowing
	Fine Level = ""
)

// rank orders levels, the worst first.
func (l Level) rank() int {
	switch l {
	case Stop:
		return 0
	case Care:
		return 1
	case Note:
		return 2
	}
	return 3
}

// Worse reports whether l is worse than m.
func (l Level) Worse(m Level) bool { return l.rank() < m.rank() }

// An Analysis is everything that is computed about a build. The same build
// gives the same analysis, byte for byte.
type Analysis struct {
	Parts      []PartReport `json:"parts"`
	Pins       []PinReport  `json:"pins"`
	Loads      []Load       `json:"loads"`
	Supply     SupplyReport `json:"supply"`
	Findings   []Finding    `json:"findings"` // the worst first
	Counts     Counts       `json:"counts"`
	States     int          `json:"states"`            // how many were solved
	Exhaustive bool         `json:"exhaustive"`        // whether those are all, each tolerance moved alone; otherwise the extremes were looked at
	Missing    []string     `json:"missing,omitempty"` // what is not worked out yet, and why, in sentences; none: this is all

	breaks []*parallel.Panic
}

// Breaks lists what broke off by a mistake of this program while the analysis was made, each
// with its stack: what is missing by it is said in Missing. They are for a log.
func (a *Analysis) Breaks() []*parallel.Panic { return a.breaks }

// Counts is how many findings there are of each level.
type Counts struct {
	Stop int `json:"stop"`
	Care int `json:"care"`
	Note int `json:"note"`
}

// A Quantity is a computed number with its corners, ready to be shown.
type Quantity struct {
	Name    string        `json:"name"`
	Unit    quantity.Unit `json:"unit"`
	Low     float64       `json:"low"`
	Typ     float64       `json:"typ"`
	High    float64       `json:"high"`
	Text    string        `json:"text"`            // "11.9 – 13.8 – 15.9 mA"
	TypText string        `json:"typText"`         // "13.8 mA"
	MaxText string        `json:"maxText"`         // "15.9 mA": the end that lies farther from zero
	State   string        `json:"state,omitempty"` // in which state, in words
	At      At            `json:"at,omitempty"`    // and by its address
	Limit   *Limit        `json:"limit,omitempty"`
	Level   Level         `json:"level,omitempty"`
	Working *Working      `json:"working,omitempty"`
}

// An At is the address of a state: what each control that matters is set to, by
// the pin, the part or the leg that it is of, as wiring.Settings has it.
type At map[string]string

// in says in which state a quantity is; nil is none.
func (q *Quantity) in(v visit) {
	if v != nil {
		q.State, q.At = v.Words(), At(v.Address())
	}
}

// A Limit is what a quantity should not exceed, ready to be shown.
type Limit struct {
	Recommended     float64 `json:"recommended"`
	Absolute        float64 `json:"absolute"`
	RecommendedText string  `json:"recommendedText"`
	AbsoluteText    string  `json:"absoluteText"`
	Source          string  `json:"source"`
}

// A Working is the arithmetic behind a typical value.
type Working struct {
	Formula string   `json:"formula,omitempty"` // "I = (U − VF) ÷ R"
	Numbers string   `json:"numbers,omitempty"` // with the numbers put in
	Result  string   `json:"result,omitempty"`
	Drops   []Drop   `json:"drops,omitempty"` // along the way of the current
	Sources []string `json:"sources"`
}

// A Drop is one step along the way of a current.
type Drop struct {
	Name  string `json:"name"`
	Volts string `json:"volts"`
	Amps  string `json:"amps"`
}

// A PartReport is what was computed about a part.
type PartReport struct {
	ID         string     `json:"id"`
	Quantities []Quantity `json:"quantities"`
	Bands      []string   `json:"bands,omitempty"` // of a resistor: four colours, when they can say its value
	Marked     string     `json:"marked,omitempty"`
	Colour     string     `json:"colour,omitempty"` // of an RGB LED with all colours lit: sRGB, "#ffc080"
	Says       []string   `json:"says,omitempty"`   // what is worth knowing about it, in sentences
	Level      Level      `json:"level,omitempty"`  // the worst finding about it
}

// A PinReport is what was computed about a pin that is used.
type PinReport struct {
	Pin     string    `json:"pin"`
	Parts   []string  `json:"parts"` // ids of the parts whose signals are on it
	Does    string    `json:"does"`  // "digital out"
	Way     string    `json:"way,omitempty"`
	Amps    *Quantity `json:"amps,omitempty"`    // of an output: the larger of sourced and sunk
	Average *Quantity `json:"average,omitempty"` // of a PWM output, at half duty
	Share   float64   `json:"share"`             // of the absolute limit, in the worst corner
	Inputs  []Reading `json:"inputs,omitempty"`
	Level   Level     `json:"level,omitempty"`
}

// A Reading is what an input sees in one state.
type Reading struct {
	State    string    `json:"state"` // in words
	At       At        `json:"at,omitempty"`
	Volts    Quantity  `json:"volts"`
	Reads    Reads     `json:"reads,omitempty"`    // of a digital input
	Margin   *Quantity `json:"margin,omitempty"`   // of a digital input: to the threshold
	Ohms     *Quantity `json:"ohms,omitempty"`     // that the pin sees; none when it floats
	Count    string    `json:"count,omitempty"`    // of an analog input: the typical reading
	Counts   string    `json:"counts,omitempty"`   // with its corners: "505 – 511 – 517"
	Level    string    `json:"level,omitempty"`    // what the sensor measures there, in its own unit: "25 °C"
	PerCount string    `json:"perCount,omitempty"` // what one step of the reading is worth there: "0.11 °C"
}

// Reads is what a digital input makes of a voltage.
type Reads string

// What an input can read.
const (
	ReadsLow    Reads = "low"
	ReadsHigh   Reads = "high"
	ReadsEither Reads = "low or high" // between the thresholds in some corner
	Floats      Reads = "floating"    // nothing holds it
)

// A SupplyReport is what was computed about what feeds the board.
type SupplyReport struct {
	Name    string    `json:"name"`
	Volts   Quantity  `json:"volts"`
	RunTime *Quantity `json:"runTime,omitempty"` // of a battery
}

// A Load is a sum of currents, or of heat, against what it may be.
type Load struct {
	ID      string   `json:"id"`
	Name    string   `json:"name"`
	Carries Quantity `json:"carries"`
	Share   float64  `json:"share"` // of the absolute limit, in the worst corner
}

// A Finding is something that the check has to say.
type Finding struct {
	ID    string    `json:"id"` // of rule and place; the same finding keeps it from one edit to the next
	Rule  string    `json:"rule"`
	Level Level     `json:"level"`
	Title string    `json:"title"` // what happens
	Why   string    `json:"why"`   // one plain sentence
	Parts []string  `json:"parts"`
	Pins  []string  `json:"pins"`
	State string    `json:"state,omitempty"` // in words
	At    At        `json:"at,omitempty"`
	Line  int       `json:"line,omitempty"`  // of the program
	Found *Quantity `json:"found,omitempty"` // with its limit and its working
	Fixes []Fix     `json:"fixes"`
	Stuck string    `json:"stuck,omitempty"` // said where no fix was found
	Also  []string  `json:"also,omitempty"`  // the ids of the findings about like parts that it stands for

	title, why sentence // of which Title and Why are made last
	which      string   // of several things that a part has: part of the finding's ID
}

// IsNew reports whether a finding that is more than a note is not among others, or was less bad
// there.
func (x *Finding) IsNew(before []Finding) bool {
	return x.Level != Note && !slices.ContainsFunc(before, func(y Finding) bool { return y.ID == x.ID && !x.Level.Worse(y.Level) })
}

// A Fix is an edit after which the finding is gone.
type Fix struct {
	Label string     `json:"label"`
	Edits plan.Edits `json:"edits"`
}

// noAmps is the current in amperes below which there is none to speak of: what
// the solution's own way to ground lets through is less, what an input leaks more.
const noAmps = 1e-9

// nothing is, by unit, what there is none of below: nobody at a bench measures less.
var nothing = map[quantity.Unit]float64{quantity.Ampere: noAmps, quantity.Volt: 1e-6, quantity.Watt: 1e-6}

// newQuantity formats a range in a unit.
func newQuantity(name string, unit quantity.Unit, r wiring.Range) Quantity {
	for _, v := range []*float64{&r.Low, &r.Typ, &r.High} {
		if math.Abs(*v) < nothing[unit] {
			*v = 0
		}
	}
	q := Quantity{Name: name, Unit: unit, Low: r.Low, Typ: r.Typ, High: r.High}
	q.TypText = quantity.Format(r.Typ, unit)
	q.MaxText = quantity.Format(r.High, unit)
	if -r.Low > r.High {
		q.MaxText = quantity.Format(r.Low, unit)
	}
	q.Text = quantity.FormatRange(r.Low, r.Typ, r.High, unit)
	return q
}

// Against returns a computed number beside its limit, for those who compute on.
func Against(name string, unit quantity.Unit, r wiring.Range, limit spec.Limit) *Quantity {
	q := newQuantity(name, unit, r)
	q.limit(limit)
	return &q
}
