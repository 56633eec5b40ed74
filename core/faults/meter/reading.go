package meter

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/spec"
)

// A Way is a way to measure.
type Way string

// The ways.
const (
	Volts      Way = "volts"      // with power, between two places
	Amps       Way = "amps"       // with power, in series with a leg
	Ohms       Way = "ohms"       // without power
	Diode      Way = "diode"      // without power
	Continuity Way = "continuity" // without power: it beeps or not
	Lifted     Way = "lifted"     // ohms of a part by itself, before it goes in
	Hertz      Way = "hertz"      // with power, the frequency of a pin with a duty
	Duty       Way = "duty"       // with power, its duty
	Counts     Way = "counts"     // with power, what the test program prints while a pulse sensor is turned
)

// Powered reports whether the build is fed while it is measured so.
func (w Way) Powered() bool { return w == Volts || w == Amps || w == Hertz || w == Duty || w == Counts }

// A Question asks for one reading.
type Question struct {
	Way   Way             `json:"way"`
	Red   build.Terminal  `json:"red"`   // of amps: the leg that is lifted out of its hole
	Black build.Terminal  `json:"black"` // of amps: none
	Set   wiring.Settings `json:"set,omitempty"`
	At    float64         `json:"at,omitempty"`     // the duty that the program writes, 0 to 1, of hertz, duty, or pulsed volts
	Pulse bool            `json:"pulsed,omitempty"` // of volts: the pin there has the duty At
}

// ID names a question: the same one in the same build has the same name.
func (q Question) ID() string {
	id := fmt.Sprintf("%s:%s:%s", q.Way, q.Red, q.Black)
	var set []string
	for of, to := range q.Set {
		set = append(set, of+"="+to)
	}
	slices.Sort(set)
	if q.Pulse || q.Way == Hertz || q.Way == Duty {
		set = append(set, fmt.Sprintf("at=%g", q.At))
	}
	return strings.Join(append([]string{id}, set...), ":")
}

// An Expectation is what the meter may read when all is well: corners of parts, supply
// and meter. Of the diode range it is volts.
type Expectation struct {
	Unit    quantity.Unit `json:"unit"`
	Low     float64       `json:"low"`
	Typ     float64       `json:"typ"`
	High    float64       `json:"high"`             // 0 when Over
	Over    bool          `json:"over,omitempty"`   // it may show OL, more than it can show
	Surely  bool          `json:"surely,omitempty"` // it shows OL and nothing else
	Text    string        `json:"text"`             // "2.01 – 2.13 – 2.25 V", "OL"
	TypText string        `json:"typText"`          // "2.13 V", "OL"
	Range   string        `json:"range"`            // the range to set
	Working []string      `json:"working"`          // how it comes about, line by line
	Leans   []Lean        `json:"leans,omitempty"`  // of a check: what each tolerance alone makes of it, the one that does most first
}

// A Lean is what the meter reads when one thing is at the ends of its tolerance, and all else as it
// is typically.
type Lean struct {
	Of   string  `json:"of"` // "resistance of R1"
	Low  float64 `json:"low"`
	High float64 `json:"high"`
}

// mostLeans is of how many tolerances is told, and leastLean the least share of the one that does
// most.
const (
	mostLeans = 3
	leastLean = 0.05
)

// leans says what the tolerances do to a reading, as far as it is a voltage or a resistance; an
// answer with none says nothing.
func (m *Instrument) leans(n *wiring.Network, q Question, typ float64) (out []Lean) {
	settings, err := n.Resolve(q.Set)
	if err != nil {
		return nil
	}
	var all []wiring.Lean
	reads := func(by float64) float64 { return typ + by }
	switch q.Way {
	case Volts:
		all, err = n.Leans(settings, q.Red, q.Black)
	case Diode:
		all, err = n.TestLeans(settings, m.Diode, q.Red, q.Black)
	case Ohms:
		var volts float64
		volts, _, err = n.TypicalTest(settings, m.Ohms, q.Red, q.Black)
		reads = func(by float64) float64 { return m.Ohms.Makes(volts + by) }
		if err == nil {
			all, err = n.TestLeans(settings, m.Ohms, q.Red, q.Black)
		}
	case Lifted:
		v := lifted(n, q)
		id, _ := q.Red.Split()
		return []Lean{{"resistance of " + n.Doc.Part(id).Name, v.Low, v.High}}
	}
	if err != nil {
		return nil
	}
	for _, l := range all[:min(len(all), mostLeans)] {
		low, high := reads(l.Low), reads(l.High)
		if !math.IsInf(low, 0) && !math.IsInf(high, 0) && math.Abs(high-low) > leastLean*math.Abs(all[0].High-all[0].Low) {
			out = append(out, Lean{l.Of, low, high})
		}
	}
	return out
}

// toward is the lean that brings a reading furthest to one end, and what it reads then.
func (x *Expectation) toward(high bool) (of string, reads float64) {
	reads = x.Typ
	for _, l := range x.Leans {
		for _, v := range []float64{l.Low, l.High} {
			if high == (v > reads) && v != reads {
				of, reads = l.Of, v
			}
		}
	}
	return of, reads
}

// Ask returns what a meter must read in the build. The network is with or without power
// as [Way.Powered] says; [Network] makes both. Its error says why there is no answer.
func (m *Instrument) Ask(n *wiring.Network, q Question) (Expectation, error) {
	settings, err := n.Resolve(q.Set)
	if err != nil {
		return Expectation{}, err
	}
	switch q.Way {
	case Volts:
		if q.Pulse {
			return m.mean(n, q)
		}
		return m.volts(n, settings, q)
	case Hertz, Duty:
		return m.rhythm(n, q)
	case Counts:
		return m.counts(n, q)
	case Amps:
		return m.amps(n, settings, q)
	case Diode:
		t, err := n.Test(settings, m.Diode, q.Red, q.Black)
		if err != nil {
			return Expectation{}, err
		}
		x := m.expect(quantity.Volt, t.Volts, m.full(q.Way))
		x.Range = "diode"
		x.Working = append(x.Working, fmt.Sprintf("the meter drives it from %s behind %s", quantity.Short(m.Diode.Volts, quantity.Volt), quantity.Short(m.Diode.Ohms, quantity.Ohm)))
		return x, nil
	case Lifted:
		v := lifted(n, q)
		return m.expect(quantity.Ohm, wiring.Range{Low: v.Low, Typ: v.Typ, High: v.High}, m.full(Ohms)), nil
	case Ohms, Continuity:
		t, err := n.Test(settings, m.Ohms, q.Red, q.Black)
		if err != nil {
			return Expectation{}, err
		}
		x := m.expect(quantity.Ohm, t.Ohms, m.full(q.Way))
		if q.Way == Continuity {
			m.beeps(&x)
		}
		return x, nil
	}
	return Expectation{}, fmt.Errorf("%q is not a way to measure; they are volts, amps, ohms, diode, continuity, hertz, duty, counts", q.Way)
}

// full is from where on the meter shows OL.
func (m *Instrument) full(w Way) float64 {
	switch w {
	case Diode:
		return m.DiodeFull
	case Ohms, Continuity, Lifted:
		_, full := m.digit(math.MaxFloat64, quantity.Ohm)
		return full
	}
	return math.Inf(1)
}

// lifted is what a resistor has by itself.
func lifted(n *wiring.Network, q Question) spec.Value {
	id, _ := q.Red.Split()
	return n.ValueAt(n.Find(wiring.Body, id, ""))
}

// Typical is what the meter shows at the typical values, without its own errors and its
// input resistance; +Inf is OL. It is the cheap half of [Instrument.Ask].
func (m *Instrument) Typical(n *wiring.Network, q Question) (float64, error) {
	settings, err := n.Resolve(q.Set)
	if err != nil {
		return 0, err
	}
	switch q.Way {
	case Diode:
		v, _, err := n.TypicalTest(settings, m.Diode, q.Red, q.Black)
		if v >= m.DiodeFull {
			v = math.Inf(1)
		}
		return v, err
	case Lifted:
		return lifted(n, q).Typ, nil
	case Counts:
		return counted(n, q)
	case Ohms, Continuity:
		_, ohms, err := n.TypicalTest(settings, m.Ohms, q.Red, q.Black)
		if ohms >= m.full(q.Way) {
			ohms = math.Inf(1)
		}
		return ohms, err
	}
	red, err := n.Typical(settings, q.Red)
	if err != nil {
		return 0, err
	}
	black, err := n.Typical(settings, q.Black)
	return red - black, err
}

// volts solves the build with the meter's input resistance between the places.
func (m *Instrument) volts(n *wiring.Network, settings []float64, q Question) (Expectation, error) {
	p, err := m.loaded(n, q)
	if err != nil {
		return Expectation{}, err
	}
	x := m.expect(quantity.Volt, p, math.Inf(1))
	bare, err := n.Volts(settings, q.Red, q.Black)
	if err == nil && math.Abs(bare.Typ-p.Typ) > 0.01*math.Abs(bare.Typ)+1e-3 {
		x.Working = append(x.Working, fmt.Sprintf("without the meter's %s it is %s", quantity.Short(m.InputResistance, quantity.Ohm), quantity.Format(bare.Typ, quantity.Volt)))
	}
	return x, nil
}

// loaded is the voltage between two places with the meter's input resistance between them.
func (m *Instrument) loaded(n *wiring.Network, q Question) (wiring.Range, error) {
	if n.Node(q.Red) == n.Node(q.Black) {
		return wiring.Range{}, nil
	}
	with := n.With(wiring.Between(q.Red, q.Black, circuit.Element{Kind: circuit.Resistor, Value: m.InputResistance}))
	full, err := with.Resolve(q.Set)
	if err != nil {
		return wiring.Range{}, err
	}
	p, err := with.Volts(full, q.Red, q.Black)
	return p.Range, err
}

// amps solves the build with the meter's burden between a leg and the wires that it was on.
func (m *Instrument) amps(n *wiring.Network, settings []float64, q Question) (Expectation, error) {
	r, err := n.AmpsThrough(settings, q.Red, m.Burden)
	if err != nil {
		return Expectation{}, err
	}
	x := m.expect(quantity.Ampere, r, math.Inf(1))
	x.Working = append(x.Working, fmt.Sprintf("with the meter's %s in its way", quantity.Short(m.Burden, quantity.Ohm)))
	return x, nil
}

// expect widens a range by what the meter may be off, and says it in words.
func (m *Instrument) expect(unit quantity.Unit, r wiring.Range, full float64) Expectation {
	x := Expectation{Unit: unit, Low: r.Low, Typ: r.Typ, High: r.High, Working: []string{}}
	if r.High >= full {
		x.Over = true
		x.Surely = r.Low >= full
	}
	if x.Surely {
		x.Low, x.Typ, x.High, x.Text, x.TypText, x.Range = 0, 0, 0, "OL", "OL", m.setting(full/1.001, unit)
		return x
	}
	x.Range = m.setting(math.Max(math.Abs(x.Low), math.Abs(min(x.High, full/1.001))), unit)
	x.Working = append(x.Working,
		fmt.Sprintf("parts and supply: %s", quantity.FormatRange(x.Low, min(x.Typ, full), min(x.High, full), unit)),
		fmt.Sprintf("the meter: ± %.2g %% and %d of the last digit", 100*m.Accuracy, m.Digits))
	x.Low -= m.error(x.Low, unit)
	if unit == quantity.Ohm {
		x.Low = math.Max(0, x.Low)
	}
	if x.Over {
		x.High = 0
		x.Text = "more than " + quantity.Short(roundTo(x.Low, 2), unit) + ", or OL"
		x.TypText = quantity.Short(x.Typ, unit)
		if x.Typ >= full {
			x.Typ, x.TypText = 0, "OL"
		}
		return x
	}
	x.High += m.error(x.High, unit)
	// As the display shows it: the last digit is the last.
	d, _ := m.digit(math.Max(math.Abs(x.Low), math.Abs(x.High)), unit)
	last := func(v float64) float64 { return math.Round(v/d) * d }
	x.Text = quantity.FormatRange(last(x.Low), last(x.Typ), last(x.High), unit)
	x.TypText = quantity.Format(last(x.Typ), unit)
	return x
}

// roundTo keeps so many digits.
func roundTo(v float64, digits int) float64 {
	if v == 0 {
		return 0
	}
	d := math.Pow(10, math.Floor(math.Log10(math.Abs(v)))-float64(digits-1))
	return math.Round(v/d) * d
}

// beeps says a continuity test in words.
func (m *Instrument) beeps(x *Expectation) {
	x.Range = "continuity"
	switch {
	case !x.Over && x.High < m.Beeps:
		x.Text, x.TypText = "it beeps", "beep"
	case x.Low > m.Beeps:
		x.Text, x.TypText = "no beep", "no beep"
	default:
		x.Text = "it may beep: " + x.Text
	}
}

// Allows reports whether a reading is one that may be expected; over: it shows OL.
func (x *Expectation) Allows(reading float64, over bool) bool {
	switch {
	case over:
		return x.Over
	case x.Surely:
		return false
	case x.Over:
		return reading >= x.Low
	}
	return reading >= x.Low && reading <= x.High
}

// Apart reports whether no reading is allowed by both.
func (x *Expectation) Apart(y *Expectation) bool {
	switch {
	case x.Over && y.Over:
		return false
	case x.Surely || y.Surely:
		return !(x.Surely && y.Surely)
	case x.Over:
		return y.High < x.Low
	case y.Over:
		return x.High < y.Low
	}
	return x.High < y.Low || y.High < x.Low
}
