package choose

import (
	"errors"
	"fmt"
	"math"
	"slices"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/preferred"
)

// A Span is a value for the resistor that divides a voltage with a sensor, and
// what the pin then sees.
type Span struct {
	Ohms   float64 `json:"ohms"`
	Low    float64 `json:"low"`    // volts, of the sensor's settings
	High   float64 `json:"high"`   // volts
	Part   float64 `json:"part"`   // of the converter's scale that is used
	Source float64 `json:"source"` // ohms that the converter sees at most
	Best   bool    `json:"best"`   // the widest, and of nearly equal ones (1 %) the smallest; see [Spans]
	Drawer bool    `json:"drawer"` // it is in the drawer
}

// Spans returns the E12 values from 100 Ω to 820 kΩ, and those in the drawer, for
// the resistor that divides a voltage with a sensor, in order, with the range
// that the sensor's settings move the voltage at its analog pin over. The
// converter sees the resistor as that of its source, so a small one is better: where one
// with a source that the converter is made for gives four fifths of the widest range, the
// widest of those is best.
func Spans(known *wiring.Cache, lib *build.Library, doc *build.Document, resistor, sensor string, have []float64) ([]Span, error) {
	s := doc.Part(sensor)
	if s == nil {
		return nil, fmt.Errorf("there is no part %q", sensor)
	}
	n := known.Build(lib, doc)
	element := n.Find(wiring.Body, resistor, "")
	reference := n.RailVolts(n.Board.Logic.Analog.Reference).Typ
	for _, signal := range s.Signals {
		node := n.Node(build.Pin(signal.Pin))
		if piece := n.PieceOf(node); signal.Needs != board.AnalogIn || piece == nil || n.PieceWith(element) == nil {
			continue
		}
		values := slices.Clone(have)
		for exp := 2; exp <= 5; exp++ {
			for _, d := range preferred.E12.Decade() {
				values = append(values, float64(d)*math.Pow10(exp-2))
			}
		}
		slices.Sort(values)
		var out []Span
		best, widest := -1, 0.0
		stiff, wide := -1, 0.0 // the same of those with a source that the converter is made for
		leak := n.Leak(node)
		for _, ohms := range slices.Compact(values) {
			m := n.With(wiring.Set(resistor, "resistance", ohms))
			x := Span{Ohms: ohms, Low: math.Inf(1), High: math.Inf(-1), Drawer: slices.Contains(have, ohms)}
			states, err := m.PieceOf(node).Planned(wiring.Voltage(node))
			if err != nil {
				return nil, err
			}
			for _, solved := range states {
				v := solved.Typical(node)
				x.Low, x.High = math.Min(x.Low, v), math.Max(x.High, v)
				if leak >= 0 {
					x.Source = math.Max(x.Source, solved.SourceOhms(node, leak))
				}
			}
			x.Part = (x.High - x.Low) / reference
			span := x.High - x.Low
			if span > widest*1.01 {
				best, widest = len(out), span
			}
			if span > wide*1.01 && x.Source <= n.Board.Logic.Analog.SourceOhms {
				stiff, wide = len(out), span
			}
			out = append(out, x)
		}
		if wide >= fair*widest {
			best = stiff
		}
		if best >= 0 {
			out[best].Best = true
			return out, nil
		}
	}
	return nil, errors.New("the resistor and the sensor divide nothing at an analog pin")
}

// fair is the part of the widest range that is enough for a source that the converter is
// made for (common practice: a third of a bit is nothing beside a reading that lags).
const fair = 0.8

// Divider returns the best of [Spans], in ohms: of the library's resistors, if
// one of them gives half of the range that is to be had, or else of the E12
// series.
func Divider(known *wiring.Cache, lib *build.Library, doc *build.Document, resistor, sensor string) (float64, error) {
	spans, err := Spans(known, lib, doc, resistor, sensor, lib.Resistors)
	if err != nil {
		return 0, err
	}
	best := spans[slices.IndexFunc(spans, func(x Span) bool { return x.Best })]
	chosen := best
	for _, x := range spans {
		if x.Drawer && x.Part >= serves*best.Part && (!chosen.Drawer || x.Part > chosen.Part*1.01) {
			chosen = x
		}
	}
	return chosen.Ohms, nil
}
