package check

import (
	"fmt"
	"math"
	"slices"

	"cablaggio/core/circuit"
	"cablaggio/core/plan"
	"cablaggio/core/quantity"
	"cablaggio/core/wiring"
)

// counts is the reading of an analog input over its corners. The converter
// measures against its reference, so only the ratio matters.
func (f *facts) counts(v visit, pin string) wiring.Range {
	full := f.board.Logic.Analog.Full()
	r, _ := v.Ratio(pin)
	reads := func(ratio float64) float64 { return math.Round(min(max(ratio, 0), 1) * full) }
	return wiring.Range{Low: reads(r.Low), Typ: reads(r.Typ), High: reads(r.High)}
}

// measured is what an analog input reads in a visit, with its working.
func (f *facts) measured(v visit, u wiring.Use, node circuit.Node) Reading {
	a := f.board.Logic.Analog
	reference := f.net.RailVolts(a.Reference).Typ
	q := newQuantity("voltage", quantity.Volt, v.Volts(node))
	q.State = v.words()
	counts := f.counts(v, u.Pin.Name)
	r := Reading{State: v.words(), Count: fmt.Sprintf("%.0f", counts.Typ), Counts: fmt.Sprintf("%.0f – %.0f – %.0f", counts.Low, counts.Typ, counts.High)}
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
	unit := f.kind(p).Quantity
	control := slices.IndexFunc(f.net.Controls, func(c wiring.Control) bool { return c.Of == p.ID && len(c.Levels) > 0 })
	if unit == nil || control < 0 {
		return
	}
	setting, ok := v.piece.SettingOf(v.state, control)
	if !ok {
		return
	}
	write := func(x float64) string {
		s := quantity.Short(x, quantity.None)
		if x != 0 && math.Abs(x) < 1e-3 {
			s = fmt.Sprintf("%.2g", x)
		}
		return s + " " + unit.Unit
	}
	r.Level = write(f.net.Controls[control].Levels[setting])
	slope, err := v.piece.Sensitivity(v.state, control, node)
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
	ohms, err := v.SourceOhms(v.state, node, leak)
	if err != nil {
		return math.Inf(1)
	}
	return ohms
}

// analogSource finds analog inputs whose source has more resistance than the
// converter was designed for.
var analogSource = rule{"analog-source", func(f *facts) []Finding {
	var out []Finding
	limit := f.board.Logic.Analog
	for _, in := range f.analog() {
		worst, at := f.weakest(in)
		if worst <= limit.SourceOhms*1.001 {
			continue
		}
		q := newQuantity("source resistance", quantity.Ohm, wiring.Range{Low: worst, Typ: worst, High: worst})
		q.State = at.words()
		q.Working = &Working{
			Formula: "change of the voltage ÷ change of the current drawn", Result: q.TypText,
			Sources: []string{fmt.Sprintf("at most %s: %s", quantity.Short(limit.SourceOhms, quantity.Ohm), limit.Source)},
		}
		out = append(out, Finding{
			Level: Note, Parts: []string{in.claim.Part.ID}, Pins: []string{in.use.Pin.Name}, Found: &q, State: q.State,
			Title: fmt.Sprintf("%s sees a source of %s; its converter is made for %s.", in.use.Pin.Name, quantity.Format(worst, quantity.Ohm), quantity.Short(limit.SourceOhms, quantity.Ohm)),
			Why:   "Its small capacitor does not fill in time: the reading lags, and the pin read before shines through. Read it twice and keep the second, or use smaller resistances.",
			Fixes: f.stiffen(in, worst),
		})
	}
	return out
}}

// weakest is the largest source resistance that an input sees, and where.
func (f *facts) weakest(in input) (worst float64, at visit) {
	for _, v := range f.planned[in.piece] {
		if ohms := f.sourceOhms(v, in.node); !math.IsInf(ohms, 0) && ohms > worst {
			worst, at = ohms, v
		}
	}
	return worst, at
}

// stiffen finds smaller resistances with which the pin sees a source that its
// converter is made for and still uses the scale: of the helper alone, or of
// the part with its helper chosen again.
func (f *facts) stiffen(in input, ohms float64) []Fix {
	part := in.claim.Part
	for factor := f.board.Logic.Analog.SourceOhms / ohms * 0.9; factor > 1e-3; factor /= 2 {
		var tries []Fix
		for _, id := range f.helperIDs(part) {
			tries = append(tries, f.smaller(f.doc.Part(id), "resistance", factor))
		}
		for _, value := range []string{"track", "r25", "r10"} {
			if _, ok := f.kind(part).Value(value); !ok {
				continue
			}
			try := f.smaller(part, value, factor)
			for _, id := range f.helperIDs(part) {
				try.Edits = append(try.Edits, plan.Edit{Op: plan.Size, Part: id})
			}
			tries = append(tries, try)
		}
		for _, try := range tries {
			if f.suits(try, in.use.Pin.Name) {
				return []Fix{try}
			}
		}
	}
	return nil
}

// suits reports whether after a fix the converter at a pin has a source that it
// is made for and uses the scale.
func (f *facts) suits(fix Fix, pin string) bool {
	g := f.after(fix.Edits)
	if g == nil {
		return false
	}
	for _, in := range g.analog() {
		if in.use.Pin.Name == pin {
			ohms, _ := g.weakest(in)
			low, high := g.span(in)
			return ohms <= g.board.Logic.Analog.SourceOhms && high-low >= sliver*g.board.Logic.Analog.Full()
		}
	}
	return false
}

// span is the range of an analog input's typical readings.
func (f *facts) span(in input) (low, high float64) {
	low, high = math.Inf(1), math.Inf(-1)
	for _, v := range f.planned[in.piece] {
		n := f.counts(v, in.use.Pin.Name).Typ
		low, high = min(low, n), max(high, n)
	}
	return low, high
}

// analogRange finds analog inputs that use a sliver of the scale.
var analogRange = rule{"analog-range", func(f *facts) []Finding {
	var out []Finding
	full := f.board.Logic.Analog.Full()
	for _, in := range f.analog() {
		low, high := f.span(in)
		if in.piece == nil || high-low >= sliver*full {
			continue
		}
		out = append(out, Finding{
			Level: Care, Parts: []string{in.claim.Part.ID}, Pins: []string{in.use.Pin.Name},
			Title: fmt.Sprintf("%s reads only from %.0f to %.0f of %.0f, whatever %s does.", in.use.Pin.Name, low, high, full, in.claim.Part.Name),
			Why:   "Most of the converter's steps are never used, so each one that is left stands for a large change.",
			Fixes: f.widen(in),
		})
	}
	return out
}}

// sliver is the part of the scale below which a range is one (common practice:
// a quarter costs two bits).
const sliver = 0.25

// widen chooses the divider's resistor again, or wires the part as usual.
func (f *facts) widen(in input) []Fix {
	for _, id := range f.helperIDs(in.claim.Part) {
		if fixes := f.chooseAgain(id); fixes != nil {
			return fixes
		}
	}
	return f.connect(in.claim.Part)
}
