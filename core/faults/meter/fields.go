package meter

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/values/quantity"
)

// A Field is one thing that a meter's leaflet says, as it is shown and typed.
type Field struct {
	ID   string        `json:"id"`
	Name string        `json:"name"`
	Help string        `json:"help"` // where the leaflet says it
	Unit quantity.Unit `json:"unit"` // "": a number; "%": of the reading
	Text string        `json:"text"`
}

type field struct {
	Field
	at       func(*Instrument) *float64
	count    func(*Instrument) *int // instead, of whole numbers
	min, max float64
}

// fields are all that can be said of a meter but its name.
var fields = []field{
	{Field: Field{ID: "counts", Name: "Counts of the display", Help: "2000 for one that shows up to 1999"},
		count: func(m *Instrument) *int { return &m.Counts }, min: 200, max: 1e7},
	{Field: Field{ID: "accuracy", Name: "Accuracy", Help: "the first half of ± (0.8 % + 2)", Unit: quantity.Percent},
		at: func(m *Instrument) *float64 { return &m.Accuracy }, max: 0.2},
	{Field: Field{ID: "digits", Name: "Last digits", Help: "the second half of it"},
		count: func(m *Instrument) *int { return &m.Digits }, max: 1000},
	{Field: Field{ID: "inputResistance", Name: "Input resistance on volts", Help: "10 MΩ for most", Unit: quantity.Ohm},
		at: func(m *Instrument) *float64 { return &m.InputResistance }, min: 1e3, max: 1e12},
	{Field: Field{ID: "burden", Name: "Shunt on milliamperes", Help: "burden voltage by current: 1 mV a mA is 1 Ω", Unit: quantity.Ohm},
		at: func(m *Instrument) *float64 { return &m.Burden }, min: 1e-3, max: 1e4},
	{Field: Field{ID: "ohms.volts", Name: "Open voltage on ohms", Help: "between the tips, with nothing there", Unit: quantity.Volt},
		at: func(m *Instrument) *float64 { return &m.Ohms.Volts }, min: 0.05, max: 12},
	{Field: Field{ID: "ohms.ohms", Name: "Inner resistance on ohms", Help: "open voltage by test current", Unit: quantity.Ohm},
		at: func(m *Instrument) *float64 { return &m.Ohms.Ohms }, min: 10, max: 1e6},
	{Field: Field{ID: "diode.volts", Name: "Open voltage on diode", Help: "between the tips, with nothing there", Unit: quantity.Volt},
		at: func(m *Instrument) *float64 { return &m.Diode.Volts }, min: 1, max: 12},
	{Field: Field{ID: "diode.ohms", Name: "Inner resistance on diode", Help: "open voltage by test current", Unit: quantity.Ohm},
		at: func(m *Instrument) *float64 { return &m.Diode.Ohms }, min: 100, max: 1e5},
	{Field: Field{ID: "diodeFull", Name: "Diode range ends at", Help: "from there on it shows OL", Unit: quantity.Volt},
		at: func(m *Instrument) *float64 { return &m.DiodeFull }, min: 0.5, max: 12},
	{Field: Field{ID: "beeps", Name: "Beeps below", Help: "of the test of continuity", Unit: quantity.Ohm},
		at: func(m *Instrument) *float64 { return &m.Beeps }, min: 1, max: 1000},
}

// nameField is the field that holds words.
const nameField = "name"

func (f *field) of(m *Instrument) float64 {
	if f.count != nil {
		return float64(*f.count(m))
	}
	return *f.at(m)
}

func (f *field) check(v float64) error {
	if math.IsNaN(v) || v < f.min || v > f.max {
		return fmt.Errorf("%s is %s; it is between %s and %s", f.ID, f.text(v), f.text(f.min), f.text(f.max))
	}
	return nil
}

// text is a value of the field as it would be typed.
func (f *field) text(v float64) string {
	switch f.Unit {
	case "":
		return strconv.FormatFloat(v, 'f', -1, 64)
	case quantity.Percent:
		return strconv.FormatFloat(math.Round(v*1e6)/1e4, 'f', -1, 64) + " %"
	}
	return quantity.Short(v, f.Unit)
}

// Fields are what a meter's leaflet says, in the order in which it is asked for; the first is
// its name.
func (m *Instrument) Fields() []Field {
	out := []Field{{ID: nameField, Name: "Name", Help: "as you call it", Text: m.Name}}
	for _, f := range fields {
		f.Text = f.text(f.of(m))
		out = append(out, f.Field)
	}
	return out
}

// With is the meter with one field as it is typed: "10 MΩ", "0.5 %", "6000". Its error says what
// would be right.
func (m Instrument) With(id, text string) (*Instrument, error) {
	if text = strings.TrimSpace(text); id == nameField {
		m.Name = text
		if what, right := build.NameProblem(text); text == "" || what != "" {
			return nil, fmt.Errorf("that is not a name for a meter%s", strings.TrimSuffix(": "+right, ": "))
		}
		return &m, nil
	}
	for _, f := range fields {
		if f.ID != id {
			continue
		}
		v, err := quantity.Parse(text, f.Unit)
		if f.Unit == quantity.Percent {
			v /= 100
		}
		if err != nil {
			return nil, fmt.Errorf("%q is not a value for it; write it as %s", text, f.text(f.of(Handheld())))
		}
		if f.count != nil && v != math.Trunc(v) {
			return nil, fmt.Errorf("%s is a whole number, such as %s", strings.ToLower(f.Name), f.text(f.of(Handheld())))
		}
		if v < f.min || v > f.max {
			return nil, fmt.Errorf("%s is not %s; it is between %s and %s", strings.ToLower(f.Name), f.text(v), f.text(f.min), f.text(f.max))
		}
		if f.count != nil {
			*f.count(&m) = int(v)
		} else {
			*f.at(&m) = v
		}
		return &m, nil
	}
	return nil, fmt.Errorf("a meter has no %q", id)
}
