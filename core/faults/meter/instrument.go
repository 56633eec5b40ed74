// Package meter says what a meter must read in a build, and what it means when it does
// not. A reading is solved with the meter in the circuit.
package meter

import (
	"bytes"
	_ "embed"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
)

// Format names the open format of instruments.
const Format = "cablaggio.meter/1"

// An Instrument is a meter as its leaflet describes it, in SI base units.
type Instrument struct {
	ID              string        `json:"id"`
	Name            string        `json:"name"`
	Counts          int           `json:"counts"`          // the display shows less than that
	Accuracy        float64       `json:"accuracy"`        // part of the reading, on all ranges
	Digits          int           `json:"digits"`          // and so many of the last digit
	InputResistance float64       `json:"inputResistance"` // of the volts ranges
	Burden          float64       `json:"burden"`          // ohms of the milliampere ranges
	Ohms            wiring.Tester `json:"ohms"`
	Diode           wiring.Tester `json:"diode"`
	DiodeFull       float64       `json:"diodeFull"` // volts from which the diode range shows OL
	Beeps           float64       `json:"beeps"`     // ohms below which continuity beeps
	Source          string        `json:"source"`
}

//go:embed data/handheld.json
var handheld []byte

// Handheld returns a usual handheld meter.
func Handheld() *Instrument {
	m, err := Parse(bytes.NewReader(handheld))
	if err != nil {
		panic("meter: " + err.Error()) // a test would have seen it
	}
	return m
}

// Parse reads an instrument. Its error says what is wrong and what would be right.
func Parse(r io.Reader) (*Instrument, error) {
	d := json.NewDecoder(io.LimitReader(r, 64<<10))
	d.DisallowUnknownFields()
	var m Instrument
	if err := d.Decode(&m); err != nil {
		return nil, fmt.Errorf("this is not a meter: %w", err)
	}
	return &m, m.check()
}

func (m *Instrument) check() error {
	for _, f := range fields {
		if err := f.check(f.of(m)); err != nil {
			return err
		}
	}
	if what, right := build.NameProblem(m.Name); strings.TrimSpace(m.Name) == "" || what != "" {
		return errors.New("name is empty, or not one; give the meter a name" + strings.TrimSuffix(": "+right, ": "))
	}
	return nil
}

// ranges are where the ranges of each unit begin, as parts of the counts: the first shows
// the last digit as that much (common practice).
var ranges = map[quantity.Unit][]float64{
	quantity.Volt:    {1e-4, 1e-3, 1e-2, 1e-1},
	quantity.Ampere:  {1e-7, 1e-6, 1e-5, 1e-4, 1e-2},
	quantity.Ohm:     {1e-1, 1, 10, 100, 1e3},
	quantity.Hertz:   {1e-2, 1e-1, 1, 10, 100, 1e3},
	quantity.Percent: {1e-1},
}

// digit returns what one of the last digit stands for on the smallest range that shows a
// value, and the end of that range. What is counted is exact, on no range.
func (m *Instrument) digit(v float64, unit quantity.Unit) (digit, full float64) {
	list := ranges[unit]
	if len(list) == 0 {
		return 0, math.Inf(1)
	}
	for _, d := range list {
		if full = d * float64(m.Counts); math.Abs(v) < full {
			return d, full
		}
	}
	return list[len(list)-1], full
}

// error returns by how much the meter may be off at a value.
func (m *Instrument) error(v float64, unit quantity.Unit) float64 {
	d, _ := m.digit(v, unit)
	return m.Accuracy*math.Abs(v) + float64(m.Digits)*d
}

// setting names the range to choose for a value: "20 V", "2 kΩ".
func (m *Instrument) setting(v float64, unit quantity.Unit) string {
	_, full := m.digit(v, unit)
	return quantity.Short(full, unit)
}
