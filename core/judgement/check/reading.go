package check

import (
	"fmt"
	"math"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
)

// counts is the reading of an analog input over its corners. The converter
// measures against its reference, so only the ratio matters.
func (f *facts) counts(v visit, pin string) wiring.Range {
	full := f.board.Logic.Analog.Full()
	r, _ := v.Ratio(f.net.Node(build.Pin(pin)), f.net.RailNode(f.board.Logic.Analog.Reference))
	reads := func(ratio float64) float64 { return math.Round(min(max(ratio, 0), 1) * full) }
	return wiring.Range{Low: reads(r.Low), Typ: reads(r.Typ), High: reads(r.High)}
}

// measured is what an analog input reads in a visit, with its working.
func (f *facts) measured(v visit, u wiring.Use, node circuit.Node) Reading {
	a := f.board.Logic.Analog
	reference := f.net.RailVolts(a.Reference).Typ
	q := newQuantity("voltage", quantity.Volt, v.Volts(node))
	q.in(v)
	counts := f.counts(v, u.Pin.Name)
	r := Reading{State: v.Words(), At: At(v.Address()), Count: fmt.Sprintf("%.0f", counts.Typ), Counts: fmt.Sprintf("%.0f – %.0f – %.0f", counts.Low, counts.Typ, counts.High)}
	q.Working = &Working{
		Formula: fmt.Sprintf("reading = U ÷ Uref × %.0f", a.Full()),
		Numbers: fmt.Sprintf("%s ÷ %s × %.0f", q.TypText, quantity.Format(reference, quantity.Volt), a.Full()),
		Result:  r.Counts,
		Sources: []string{fmt.Sprintf("converter of %d bits: %s", a.Bits, a.Source)},
	}
	ohms := f.sourceOhms(v, node)
	r.source(ohms)
	if r.Ohms != nil {
		q.Working.Result += ", from a source of " + r.Ohms.TypText
	}
	f.inOwnUnit(&r, v, u, node)
	if r.PerCount != "" {
		q.Working.Result += "; one step is " + r.PerCount
	}
	r.Volts = q
	return r
}

// inOwnUnit adds what the sensor measures in the state, and what one step of
// the reading is worth there.
func (f *facts) inOwnUnit(r *Reading, v visit, u wiring.Use, node circuit.Node) {
	p := u.Signals[0].Part
	control := f.net.HandOf(p.ID, u.Signals[0].Signal.Name)
	if control < 0 || f.net.Controls[control].Kind != wiring.Level {
		return
	}
	unit := f.net.Controls[control].Unit
	if unit == "" {
		return
	}
	level, ok := v.Piece.SettingOf(v.State, control)
	if !ok {
		return
	}
	write := func(x float64) string {
		s := quantity.Short(x, quantity.None)
		if x != 0 && math.Abs(x) < 1e-3 {
			s = fmt.Sprintf("%.2g", x)
		}
		return s + " " + unit
	}
	r.Level = write(level)
	slope, err := v.Sensitivity(control, node)
	if perVolt := f.board.Logic.Analog.Full() / f.net.RailVolts(f.board.Logic.Analog.Reference).Typ; err == nil && slope > 0 {
		r.PerCount = write(1 / (slope * perVolt))
	}
}

// sourceOhms is the resistance that a node shows to what draws a little current
// from it: the change of its voltage over the change of its leakage.
func (f *facts) sourceOhms(v visit, node circuit.Node) float64 {
	leak := f.net.Leak(node)
	if leak < 0 || !v.Held(node) {
		return math.Inf(1)
	}
	return v.SourceOhms(node, leak)
}
