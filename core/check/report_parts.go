package check

import (
	"fmt"
	"math"

	"cablaggio/core/board"
	"cablaggio/core/build"
	"cablaggio/core/light"
	"cablaggio/core/preferred"
	"cablaggio/core/quantity"
	"cablaggio/core/spec"
	"cablaggio/core/timing"
	"cablaggio/core/wiring"
)

func (f *facts) partReports() []PartReport {
	out := []PartReport{}
	for i := range f.doc.Parts {
		p := &f.doc.Parts[i]
		r := PartReport{ID: p.ID, Quantities: []Quantity{}}
		f.describe(p, &r)
		out = append(out, r)
	}
	return out
}

// describe adds what a part's model has to say.
func (f *facts) describe(p *build.Part, r *PartReport) {
	switch f.kind(p).Model {
	case "led", "leds":
		f.lampReport(p, r)
	case "resistor":
		r.Quantities = append(r.Quantities, f.power(p))
		r.mark(f.valueOf(p, "resistance"), f.valueOf(p, "tolerance")/100)
	case "coil", "filament":
		if f.wired(p) {
			r.Quantities = append(r.Quantities, *f.current(p), f.loadVolts(p))
		}
	case "npn", "mosfet":
		if f.wired(p) {
			r.Quantities = append(r.Quantities, *f.current(p), f.transistorPower(p))
		}
	case "register":
		q := f.sum(f.outputs(p), f.packageLimit(p))
		q.Name = "all outputs"
		r.Quantities = append(r.Quantities, q)
	}
	if _, ok := f.kind(p).Value("resolution"); !ok {
		return
	}
	for _, b := range f.bouncers() {
		if b.part.ID != p.ID {
			continue
		}
		survives := timing.Fastest(math.Max(b.wait(), 1e-6), b.duty)
		q := newQuantity("highest rate", quantity.Hertz, wiring.Range{Low: survives, Typ: survives, High: survives})
		q.Working = b.working()
		n, seconds := timing.Closings(b.rate, timing.Tick, f.valueOf(p, "resolution")/100)
		a := newQuantity("averaging time", quantity.Second, wiring.Range{Low: seconds, Typ: seconds, High: seconds})
		a.Working = &Working{
			Formula: "closings ÷ rate; closings = tick × rate ÷ resolution, rounded up", Numbers: fmt.Sprintf("%d ÷ %s", n, quantity.Short(b.rate, quantity.Hertz)),
			Result: a.TypText, Sources: []string{"common practice: the clock counts milliseconds"},
		}
		r.Quantities = append(r.Quantities, q, f.clocked(p), a)
	}
}

// current is a part's current in the state in which it is largest.
func (f *facts) current(p *build.Part) *Quantity {
	w := f.worstEitherWay(f.body(p))
	if limit := f.limitOf(w.element); limit.Absolute > 0 {
		return f.quantity("current", w, limit)
	}
	q := newQuantity("current", quantity.Ampere, w.Range)
	q.in(w.at)
	q.Working = f.working(w)
	return &q
}

// lampReport says of each LED of a part its current and how bright it looks;
// once for all where they are alike. Of an RGB LED it says the colour as well.
func (f *facts) lampReport(p *build.Part, r *PartReport) {
	var each []Quantity
	var primaries []light.Primary
	var amps []float64
	alike := true
	for _, l := range f.lampsOf(p) {
		w := f.worstOf(l.Element)
		current := *f.quantity("current", w, f.limitOf(l.Element))
		if l.Emitter.ID != "" {
			current.Name += ", " + l.Emitter.Name
		}
		alike = alike && (len(each) == 0 || current.Text == each[0].Text)
		each = append(each, current, f.brightness(l, w))
		if f.dimmed(w) {
			each = append(each, average(current))
		}
		primaries = append(primaries, light.Primary{
			Nanometres: f.lampValue(l, "dominantWavelength"), Candela: f.lampValue(l, "luminousIntensity") / f.lampValue(l, "testCurrent"),
		})
		amps = append(amps, w.Typ)
	}
	if n := len(amps); n > 3 && alike {
		each = each[:len(each)/n]
		each[0].Name = "current, each"
	}
	r.Quantities = append(r.Quantities, each...)
	if rgb, ok := light.Mix(primaries, amps); ok && len(amps) == 3 {
		r.Colour = fmt.Sprintf("#%02x%02x%02x", int(rgb[0]*255+0.5), int(rgb[1]*255+0.5), int(rgb[2]*255+0.5))
	}
}

// brightness is how bright an LED looks beside itself at the current at which
// its light is stated.
func (f *facts) brightness(l wiring.Lamp, w worst) Quantity {
	full := f.lampValue(l, "testCurrent")
	look := func(amps float64) float64 { return light.Lightness(max(amps, 0) / full) }
	q := newQuantity("brightness", quantity.Percent, wiring.Range{Low: look(w.Low), Typ: look(w.Typ), High: look(w.High)})
	if l.Emitter.ID != "" {
		q.Name += ", " + l.Emitter.Name
	}
	q.Text = light.Word(q.Typ) + ", " + q.Text
	q.TypText = light.Word(q.Typ)
	q.Working = &Working{
		Formula: "L* = 116 · ∛(I ÷ Ifull) − 16",
		Numbers: fmt.Sprintf("116 · ∛(%s ÷ %s) − 16", quantity.Format(w.Typ, quantity.Ampere), quantity.Short(full, quantity.Ampere)),
		Result:  quantity.Format(q.Typ, quantity.Percent) + " of the lightness at " + quantity.Short(full, quantity.Ampere),
		Sources: []string{"CIE 15:2004, 8.2.1: lightness; light in proportion to current (common practice)"},
	}
	return q
}

// dimmed reports whether a PWM pin drives the current.
func (f *facts) dimmed(w worst) bool {
	if w.at == nil {
		return false
	}
	drops, _, _ := w.at.Path(w.element)
	for _, d := range drops {
		for _, u := range f.net.Uses {
			if u.Pin.Name == f.net.Elements[d.Element].Pin && u.Signals[0].Signal.Needs == board.PWMOut {
				return true
			}
		}
	}
	return false
}

// average is a current that is switched at half duty: it flows half of the
// time, so its average is half of its peak.
func average(peak Quantity) Quantity {
	q := newQuantity("average at 50 % duty", peak.Unit, wiring.Range{Low: peak.Low / 2, Typ: peak.Typ / 2, High: peak.High / 2})
	q.Working = &Working{Formula: "peak × duty", Numbers: peak.TypText + " × 0.5", Result: q.TypText, Sources: []string{}}
	return q
}

// mark adds what is printed on a resistor, where bands or letters can say it.
func (r *PartReport) mark(ohms, tolerance float64) {
	r.Bands = preferred.BandNames(ohms, tolerance)
	if code, err := preferred.WriteCode(preferred.Marking{Ohms: ohms}); err == nil {
		r.Marked = code
	}
}

// power is the heat in a resistor in the state in which it is most, against
// its rating: half of it is recommended (common practice), all of it absolute.
func (f *facts) power(p *build.Part) Quantity {
	kind := f.kind(p)
	ohms := wiring.ValueOf(kind, p, "resistance").Typ
	rating := wiring.ValueOf(kind, p, "powerRating")
	element := f.body(p)
	var most wiring.Range
	var at visit
	amps := 0.0
	for _, v := range f.visitsOf(element) {
		if r := v.Watts(element); at == nil || r.High > most.High {
			most, at, amps = r, v, math.Abs(v.TypicalAmps(element))
		}
	}
	most.Low = max(most.Low, 0)
	q := newQuantity("heat", quantity.Watt, most)
	q.in(at)
	q.limit(spec.Limit{Recommended: rating.Typ / 2, Absolute: rating.Typ, Source: rating.Source})
	q.Working = &Working{
		Formula: "P = I² × R",
		Numbers: fmt.Sprintf("(%s)² × %s", quantity.Format(amps, quantity.Ampere), quantity.Short(ohms, quantity.Ohm)),
		Result:  q.TypText,
		Sources: []string{"rating: " + rating.Source},
	}
	return q
}
