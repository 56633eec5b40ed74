// Package part is the catalogue of what can hang on a board. A [Kind] is data:
// terminals, what is inside, values with their provenance, types and the usual ways
// to wire it.
package part

import (
	"bytes"
	"embed"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"unicode"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/spec"
)

// A Kind is one kind of part: LED, resistor, button.
type Kind struct {
	ID        string     `json:"id"`
	Family    string     `json:"family"` // what it is listed with: lamps, contacts, sensors…
	Name      string     `json:"name"`
	Words     []string   `json:"words"` // what people call it, in the singular and in lower case
	Summary   string     `json:"summary"`
	Inside    []Element  `json:"inside"`            // what it is made of
	Acts      string     `json:"acts,omitempty"`    // of what is no lamp: what one notices when current flows through it
	Shows     string     `json:"shows,omitempty"`   // what it is read by: Digits
	Legends   string     `json:"legends,omitempty"` // of a keypad: what is usually printed on its keys, row by row
	Symbol    string     `json:"symbol"`            // the drawing of IEC 60617 that stands for it
	Body      Body       `json:"body"`
	Terminals []Terminal `json:"terminals"`
	Links     [][]string `json:"links,omitempty"`    // terminals that are joined inside the part
	Emitters  []Emitter  `json:"emitters,omitempty"` // of a case with several LEDs
	Inputs    []string   `json:"inputs,omitempty"`   // terminals that read a level
	Outputs   []string   `json:"outputs,omitempty"`  // terminals that are driven, high or low each
	Feed      *Feed      `json:"feed,omitempty"`     // the terminals that it is fed through; nil: it needs no supply
	Hands     []Hand     `json:"hands,omitempty"`    // what a hand or the world changes about it
	Values    []Value    `json:"values"`
	Types     []Type     `json:"types"`
	Hookups   []Hookup   `json:"hookups"` // the safest first; which is the default, see [Kind.Usual]

	// A kind may take a set of hookups that several kinds share. Legs says which
	// of its terminals stand for the legs in the set.
	Set  string            `json:"set,omitempty"`
	Legs map[string]string `json:"legs,omitempty"`
}

// Digits is what a kind shows whose signals are the bars a to g of a digit, and its point, in this
// order (common practice for their letters: a on top, then clockwise, g in the middle).
const Digits = "digits"

// Figures are the bars of a digit that are lit of 0 to 9, in the order of the alphabet: with their tails
// first, and behind them as other tables have them (common practice).
var Figures = [10][]string{{"abcdef"}, {"bc", "ef"}, {"abdeg"}, {"abcdg"}, {"bcfg"}, {"acdfg"}, {"acdefg", "cdefg"}, {"abc", "abcf"}, {"abcdefg"}, {"abcdfg", "abcfg"}}

// FigureOf is the figure that bars make, in the order of the alphabet; -1: none.
func FigureOf(bars string) int {
	return slices.IndexFunc(Figures[:], func(ways []string) bool { return slices.Contains(ways, bars) })
}

// A Body is what a builder holds: the package that says where its legs are.
type Body struct {
	Package string   `json:"package"`         // id of a package in package placement
	Legs    []string `json:"legs,omitempty"`  // the terminals by the legs of the package; none: in their own order
	Alike   bool     `json:"alike,omitempty"` // two legs, or two joined pairs, may change places and nothing changes
}

// LegOrder returns the terminals in the order of the package's legs.
func (k *Kind) LegOrder() []string {
	if len(k.Body.Legs) > 0 {
		return k.Body.Legs
	}
	out := make([]string, len(k.Terminals))
	for i, t := range k.Terminals {
		out[i] = t.ID
	}
	return out
}

// A Feed is the two terminals between which a part gets its supply.
type Feed struct {
	Plus  string `json:"plus"`
	Minus string `json:"minus"`
}

// A Hand is something about a part that a hand or the world changes.
type Hand struct {
	ID       string    `json:"id,omitempty"`       // of one of several; it is called as the signal that reads it
	Name     string    `json:"name,omitempty"`     // of one of several: "x axis"
	Settings []Setting `json:"settings"`           // of keys: none, for each is up or down
	Quantity *Quantity `json:"quantity,omitempty"` // what the levels of the settings measure
}

// Hand returns the hand of that id.
func (k *Kind) Hand(id string) (Hand, bool) {
	i := slices.IndexFunc(k.Hands, func(h Hand) bool { return h.ID == id })
	if i < 0 {
		return Hand{}, false
	}
	return k.Hands[i], true
}

// A Setting is one of the settings that a part can be put to: a contact up or
// pressed, a knob at an end, a sensor in the dark.
type Setting struct {
	Name  string  `json:"name"`
	Level float64 `json:"level"` // what the model makes of it: a position, an illuminance, a temperature
}

// A Quantity is what a sensor measures, as it is written.
type Quantity struct {
	Name string `json:"name"` // "temperature"
	Unit string `json:"unit"` // "°C"
	// What the sensor may be put to, ends included; both zero: what its settings say.
	Least float64 `json:"least,omitempty"`
	Most  float64 `json:"most,omitempty"`
	// Levels that one may point at instead of measuring: "a window at noon".
	Points []Setting `json:"points,omitempty"`
}

// The values in which a builder says between which levels a sensor is to work: the
// darkest and the brightest, the coldest and the hottest.
const (
	RangeFrom = "rangeFrom"
	RangeTo   = "rangeTo"
)

// An Emitter is one LED in a case with several. Its values are those of the
// case and, with the emitter's id and a point before them, its own: "red.forwardVoltage".
type Emitter struct {
	ID      string `json:"id"`
	Name    string `json:"name"`
	Type    string `json:"type"`          // the type of LED that it is
	Ink     string `json:"ink,omitempty"` // the colour that this has
	Anode   string `json:"anode"`
	Cathode string `json:"cathode"`
}

// A Terminal is a leg of a part.
type Terminal struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Look string `json:"look,omitempty"` // what one sees that it is, where that is less than its name: "long leg"
}

// A Value is a quantity of a part that a builder may set, in SI base units.
type Value struct {
	ID      string        `json:"id"`
	Name    string        `json:"name"`
	Unit    quantity.Unit `json:"unit"`
	Min     float64       `json:"min"` // what a builder may set, ends included
	Max     float64       `json:"max"`
	Default spec.Value    `json:"default"` // zero: every type states its own
	Shown   bool          `json:"shown"`   // whether it is shown without being asked for
}

// A Type is a variety of a kind with its own values: a red LED.
type Type struct {
	ID     string                `json:"id"`
	Name   string                `json:"name"`
	Ink    string                `json:"ink"` // the colour it is drawn with, by name
	Values map[string]spec.Value `json:"values"`
}

// A Hookup is a usual way to wire a part. Its joins are nets in terms of
// "self", the roles of the helpers, "pin" with the name of a signal, "host" for
// the leg of another part, and "board.ground", "board.supply" (the logic's
// rail) and "board.power" (the rail for what needs more current).
type Hookup struct {
	ID      string   `json:"id"`
	Name    string   `json:"name"`
	Why     string   `json:"why"`
	Signals []Signal `json:"signals"`
	Helpers []Helper `json:"helpers"`
	Host    *Host    `json:"host,omitempty"`
	// LogicFrom is the logic's voltage from which on it is the usual one: a part's own 5 V are too
	// much for lower ones.
	LogicFrom float64 `json:"logicFrom,omitempty"`
	// Exclusive: the part is never on at the same time as the owner of its host.
	Exclusive bool       `json:"exclusive,omitempty"`
	Joins     [][]string `json:"joins"`
	Row       []string   `json:"row"`           // what is drawn in a row, end to end; other helpers branch off
	Tap       string     `json:"tap,omitempty"` // the end that is joined to the row in its middle
}

// A Signal is what a part needs of a pin.
type Signal struct {
	Name  string         `json:"name"`
	Needs board.Function `json:"needs"`
	Pull  board.Pull     `json:"pull,omitempty"`
	Drive
}

// A Drive says how the program drives an output. The zero Drive is an output of
// its own that is active high.
type Drive struct {
	Active string `json:"active,omitempty"` // "low": the level that lights, selects, switches on
	Group  string `json:"group,omitempty"`  // of signals of a part of which one is active at a time
	Open   bool   `json:"open,omitempty"`   // it is let go instead of being driven to the idle level
	Bus    string `json:"bus,omitempty"`    // signals of other parts with the same bus share its pin
}

// ActiveLow is the Active of an output that is active low.
const ActiveLow = "low"

// A Host is the leg of another part that a part hangs on: the first that is
// free, of the first part that will do.
type Host struct {
	Kinds  []string `json:"kinds"`
	Legs   []string `json:"legs"`
	Hookup string   `json:"hookup,omitempty"` // the host is a helper of a part wired this way
	Shared bool     `json:"shared,omitempty"` // the leg need not be free
}

// A Helper is a part that a hookup brings along.
type Helper struct {
	Role  string  `json:"role"`
	Kind  string  `json:"kind"`
	Value float64 `json:"value,omitempty"` // its first value; zero: the catalogue's, or it is chosen
}

// Type returns the type of that id.
func (k *Kind) Type(id string) (Type, bool) {
	i := slices.IndexFunc(k.Types, func(t Type) bool { return t.ID == id })
	if i < 0 {
		return Type{}, false
	}
	return k.Types[i], true
}

// Value returns the value of that id.
func (k *Kind) Value(id string) (Value, bool) {
	i := slices.IndexFunc(k.Values, func(v Value) bool { return v.ID == id })
	if i < 0 {
		return Value{}, false
	}
	return k.Values[i], true
}

// Hookup returns the hookup of that id.
func (k *Kind) Hookup(id string) (Hookup, bool) {
	i := slices.IndexFunc(k.Hookups, func(h Hookup) bool { return h.ID == id })
	if i < 0 {
		return Hookup{}, false
	}
	return k.Hookups[i], true
}

// Usual returns the hookup that a part has unless another is asked for, on a board: the first one
// that suits the voltage of its logic, or else the first. It is false of a kind without hookups.
func (k *Kind) Usual(b *board.Profile) (Hookup, bool) {
	if len(k.Hookups) == 0 {
		return Hookup{}, false
	}
	volts := b.LogicVolts()
	i := slices.IndexFunc(k.Hookups, func(h Hookup) bool { return volts >= h.LogicFrom })
	return k.Hookups[max(i, 0)], true
}

// TapAt returns where the end that taps the row of a hookup is joined to it, in
// places from its start: a whole number between two of them, a half at the
// middle of one. It is false when nothing taps the row.
func (h Hookup) TapAt() (at float64, ok bool) {
	i := slices.IndexFunc(h.Joins, func(join []string) bool { return h.Tap != "" && slices.Contains(join, h.Tap) })
	if i < 0 {
		return 0, false
	}
	var places []int
	for k, name := range h.Row {
		if slices.ContainsFunc(h.Joins[i], func(t string) bool { return t == name || strings.HasPrefix(t, name+".") }) {
			places = append(places, k)
		}
	}
	switch len(places) {
	case 0:
		return 0, false
	case 1:
		return float64(places[0]) + 0.5, true
	}
	return float64(places[len(places)-1]), true
}

// HasTerminal reports whether the kind has a terminal of that id.
func (k *Kind) HasTerminal(id string) bool {
	return slices.ContainsFunc(k.Terminals, func(t Terminal) bool { return t.ID == id })
}

// Stated returns what the catalogue says of a value for a type ("" for a kind
// without types): the type's own, or else the kind's default.
func (k *Kind) Stated(typeID, valueID string) spec.Value {
	if t, ok := k.Type(typeID); ok {
		if v, ok := t.Values[valueID]; ok {
			return v
		}
	}
	v, _ := k.Value(valueID)
	return v.Default
}

//go:embed data/*.json
var files embed.FS

// Catalogue is the shipped kinds, by id and in the order in which they are
// offered.
type Catalogue struct {
	Kinds []Kind `json:"kinds"`
}

// Kind returns the kind of that id.
func (c *Catalogue) Kind(id string) (*Kind, bool) {
	for i := range c.Kinds {
		if c.Kinds[i].ID == id {
			return &c.Kinds[i], true
		}
	}
	return nil, false
}

// provenance is the sources that the catalogue's files name by a word.
var provenance = map[string]string{
	"memory": "from memory of manufacturers' data sheets for this class; check your own",
}

// Shipped returns the catalogue that comes with Cablaggio.
func Shipped() *Catalogue {
	entries, err := files.ReadDir("data")
	if err != nil {
		panic(err)
	}
	c, sets := &Catalogue{}, map[string][]Hookup{}
	for _, e := range entries {
		var data struct {
			Kinds []Kind              `json:"kinds"`
			Sets  map[string][]Hookup `json:"sets"`
		}
		text, err := files.ReadFile("data/" + e.Name())
		if err != nil {
			panic(err)
		}
		d := json.NewDecoder(bytes.NewReader(text))
		d.DisallowUnknownFields()
		if err := d.Decode(&data); err != nil {
			panic(fmt.Sprintf("part: %s: %v", e.Name(), err))
		}
		c.Kinds = append(c.Kinds, data.Kinds...)
		maps.Copy(sets, data.Sets)
	}
	for i := range c.Kinds {
		k := &c.Kinds[i]
		for _, h := range sets[k.Set] {
			k.Hookups = append(k.Hookups, h.of(k))
		}
		if k.Hookups == nil {
			k.Hookups = []Hookup{}
		}
		for v := range k.Values {
			state(&k.Values[v].Default)
		}
		for _, t := range k.Types {
			for id, v := range t.Values {
				state(&v)
				t.Values[id] = v
			}
		}
	}
	led, _ := c.Kind("led")
	for i := range c.Kinds {
		c.Kinds[i].spread(led)
	}
	return c
}

// state completes a value as the catalogue's files write it: a typical value
// alone is exact, and a word stands for a longer source.
func state(v *spec.Value) {
	if v.Low == 0 && v.High == 0 {
		v.Low, v.High = v.Typ, v.Typ
	}
	if long, ok := provenance[v.Source]; ok {
		v.Source = long
	}
}

// spread gives a case with several LEDs the values of each: those of the type
// of LED that it is. Where all are alike they are stated once.
func (k *Kind) spread(led *Kind) {
	alike := len(k.Emitters) > 0
	for i, e := range k.Emitters {
		t, _ := led.Type(e.Type)
		k.Emitters[i].Ink = t.Ink
		alike = alike && e.Type == k.Emitters[0].Type
	}
	for n, e := range k.Emitters {
		if alike && n > 0 {
			break
		}
		for _, v := range led.Values {
			own, ok := led.Types[slices.IndexFunc(led.Types, func(t Type) bool { return t.ID == e.Type })].Values[v.ID]
			if v.ID == "targetCurrent" && !alike {
				own, ok = v.Default, true
			}
			if !ok {
				continue
			}
			v.Default = own
			if !alike {
				v.ID, v.Name = e.ID+"."+v.ID, v.Name+", "+e.Name
			}
			k.Values = append(k.Values, v)
		}
	}
}

// of returns a hookup of a set in terms of a kind's own terminals and name.
func (h Hookup) of(k *Kind) Hookup {
	name := k.Name
	if unicode.IsLower(rune(name[1])) { // not an abbreviation
		name = strings.ToLower(name[:1]) + name[1:]
	}
	h.Name = strings.ReplaceAll(h.Name, "{part}", name)
	joins := make([][]string, len(h.Joins))
	for i, join := range h.Joins {
		for _, t := range join {
			if leg, ok := strings.CutPrefix(t, "self."); ok && k.Legs[leg] != "" {
				t = "self." + k.Legs[leg]
			}
			joins[i] = append(joins[i], t)
		}
	}
	h.Joins = joins
	return h
}
