// Package part is the catalogue of what can hang on a board. A [Kind] is data:
// terminals, values with their provenance, types, the usual ways to wire it,
// and the name of the electrical model that package wiring gives it.
package part

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"unicode"

	"cablaggio/core/board"
	"cablaggio/core/quantity"
	"cablaggio/core/spec"
)

// A Kind is one kind of part: LED, resistor, button.
type Kind struct {
	ID        string     `json:"id"`
	Name      string     `json:"name"`
	Words     []string   `json:"words"` // what people call it, in the singular and in lower case
	Summary   string     `json:"summary"`
	Model     string     `json:"model"`
	Symbol    string     `json:"symbol"` // the drawing of IEC 60617 that stands for it
	Terminals []Terminal `json:"terminals"`
	Links     [][]string `json:"links,omitempty"`    // terminals that are joined inside the part
	Settings  []Setting  `json:"settings,omitempty"` // of what a hand or the world changes about it
	Values    []Value    `json:"values"`
	Types     []Type     `json:"types"`
	Hookups   []Hookup   `json:"hookups"` // the first one is the default: the safest

	// A kind may take a set of hookups that several kinds share. Legs says which
	// of its terminals stand for the legs in the set.
	Set  string            `json:"set,omitempty"`
	Legs map[string]string `json:"legs,omitempty"`
}

// A Setting is one of the settings that a part can be put to: a contact up or
// pressed, a knob at an end, a sensor in the dark.
type Setting struct {
	Name  string  `json:"name"`
	Level float64 `json:"level"` // what the model makes of it: a position, an illuminance, a temperature
}

// A Terminal is a leg of a part.
type Terminal struct {
	ID   string `json:"id"`
	Name string `json:"name"`
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
// "self", the roles of the helpers, "pin" with the name of a signal, and
// "board.ground" and "board.supply".
type Hookup struct {
	ID      string     `json:"id"`
	Name    string     `json:"name"`
	Why     string     `json:"why"`
	Signals []Signal   `json:"signals"`
	Helpers []Helper   `json:"helpers"`
	Lit     string     `json:"lit,omitempty"` // the level of the drive signal that lights it
	Joins   [][]string `json:"joins"`
	Row     []string   `json:"row"`           // what is drawn in a row, end to end; other helpers branch off
	Tap     string     `json:"tap,omitempty"` // the end that is joined to the row in its middle
}

// A Signal is what a part needs of a pin.
type Signal struct {
	Name  string         `json:"name"`
	Needs board.Function `json:"needs"`
	Pull  board.Pull     `json:"pull,omitempty"`
}

// A Helper is a part that a hookup brings along.
type Helper struct {
	Role  string  `json:"role"`
	Kind  string  `json:"kind"`
	Value float64 `json:"value,omitempty"` // its first value; zero: it is chosen
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

//go:embed catalogue.json
var file []byte

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

// Shipped returns the catalogue that comes with Cablaggio.
func Shipped() *Catalogue {
	d := json.NewDecoder(strings.NewReader(string(file)))
	d.DisallowUnknownFields()
	var data struct {
		Kinds []Kind              `json:"kinds"`
		Sets  map[string][]Hookup `json:"sets"`
	}
	if err := d.Decode(&data); err != nil {
		panic(fmt.Sprintf("part: catalogue: %v", err))
	}
	for i := range data.Kinds {
		k := &data.Kinds[i]
		for _, h := range data.Sets[k.Set] {
			k.Hookups = append(k.Hookups, h.of(k))
		}
		if k.Hookups == nil {
			k.Hookups = []Hookup{}
		}
	}
	return &Catalogue{Kinds: data.Kinds}
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
