package check

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/light"
	"cablaggio/core/values/preferred"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/spec"
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

// describe adds what is to be said of what a part is.
func (f *facts) describe(p *build.Part, r *PartReport) {
	switch kind := f.kind(p); {
	case kind.Is(part.LED) || kind.Is(part.LEDs):
		f.lampReport(p, r)
	case kind.Is(part.Contact) || kind.Is(part.Keys):
		if w := f.through(p); w.at != nil {
			r.Quantities = append(r.Quantities, f.named("current when closed", w))
		}
	case kind.Acts == "" && (kind.Is(part.Resistor) || kind.Is(part.Track) || kind.Is(part.Resistance)):
		if q, ok := f.trackCurrent(p); ok {
			r.Quantities = append(r.Quantities, q)
		} else if w := f.through(p); w.at != nil {
			r.Quantities = append(r.Quantities, f.named("current", w))
		}
		if q, ok := f.power(p); ok {
			r.Quantities = append(r.Quantities, q)
		}
		if !kind.Is(part.Resistor) {
			break
		}
		r.mark(f.valueOf(p, "resistance"), f.valueOf(p, "tolerance")/100)
	case kind.IsLoad():
		if f.wired(p) {
			r.Quantities = append(r.Quantities, *f.current(p), f.loadVolts(p))
		}
	case kind.Is(part.NPN) || kind.Is(part.MOSFET):
		if f.wired(p) {
			r.Quantities = append(r.Quantities, *f.current(p), f.transistorPower(p))
		}
	case kind.Is(part.Register):
		q := f.sum(f.outputs(p), f.packageLimit(p))
		q.Name = "all outputs"
		r.Quantities = append(r.Quantities, q)
	}
	if f.kind(p).Is(part.Keys) {
		r.Says = f.keypadSays(p)
	}
	f.pulls(p, r)
	if _, ok := f.kind(p).Value("resolution"); ok {
		f.pulseReport(p, r)
	}
}

// pulls adds the currents of the pulls inside the board that a part's signals switch on.
func (f *facts) pulls(p *build.Part, r *PartReport) {
	first := len(r.Quantities)
	for _, s := range p.Signals {
		pull := f.pullAt(s.Pin, s.Pull)
		if pull < 0 {
			continue
		}
		if w := f.worstEitherWay(pull); w.at != nil {
			closed := slices.IndexFunc(r.Quantities[:first], func(q Quantity) bool { return math.Abs(q.Typ-w.Typ) < 0.05*w.Typ })
			if closed >= 0 { // all that flows through the contact comes from the pull
				r.Quantities[closed].Name = "through the pull-" + string(s.Pull) + " when closed"
				continue
			}
			r.Quantities = append(r.Quantities, f.named("current of the pull-"+string(s.Pull)+" at "+s.Pin, w))
		}
	}
	if own := r.Quantities[first:]; len(own) > 1 && !slices.ContainsFunc(own, func(q Quantity) bool { return q.Text != own[0].Text }) {
		own[0].Name = "current of each pull"
		r.Quantities = r.Quantities[:first+1]
	}
}

// pullAt returns the element of a pin's pull, or -1: a pull-up leads to the pin, a
// pull-down away from it.
func (f *facts) pullAt(pin string, pull board.Pull) int {
	node := f.net.Node(build.Pin(pin))
	for i := range f.net.Elements {
		if e := &f.net.Elements[i]; e.Role != wiring.Pull || e.Pin != pin {
			continue
		}
		from, to := f.net.Ends(i)
		if pull == board.PullUp && to == node || pull == board.PullDown && from == node {
			return i
		}
	}
	return -1
}

// through is the largest current through any element of a part's body.
func (f *facts) through(p *build.Part) (most worst) {
	for i := range f.net.Elements {
		if e := &f.net.Elements[i]; e.Part != p.ID || e.Role != wiring.Body {
			continue
		}
		if w := f.worstEitherWay(i); w.at != nil && (most.at == nil || w.Peak() > most.Peak()) {
			most = w
		}
	}
	return most
}

// named makes a current without a limit ready to be shown.
func (f *facts) named(name string, w worst) Quantity {
	if w.Typ < 0 { // which leg is first says nothing about the way of a current
		w.Range = w.Minus()
	}
	q := newQuantity(name, quantity.Ampere, w.Range)
	q.in(w.at)
	q.Working = f.working(w)
	return q
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
		if r := f.robbery(l); r != nil {
			q := r.quantity(f)
			if l.Emitter.ID != "" {
				q.Name = "current, " + l.Emitter.Name + ", while others are lit"
			}
			each, alike = append(each, q), false
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
		r.Says = append(r.Says, f.missedWhite(p, primaries, amps)...)
	}
}

// tinted is how many times as much of its wanted current one colour may get as another
// before white looks tinted (common practice).
const tinted = 1.15

// missedWhite says what is reached where currents that give white are wanted and the
// resistors that there are do not give them.
func (f *facts) missedWhite(p *build.Part, primaries []light.Primary, amps []float64) []string {
	white, ok := light.White(primaries, 1)
	if !ok {
		return nil
	}
	var wants, gets []string
	least, most, strongest := math.Inf(1), 0.0, ""
	scale := 0.0
	for i, e := range f.kind(p).Emitters {
		want, asked := p.Values[e.ID+".targetCurrent"]
		if !asked || scale > 0 && math.Abs(want/white[i]/scale-1) > 0.02 {
			return nil // it is not white that is wanted
		}
		scale = want / white[i]
		wants = append(wants, e.Name+" "+quantity.Format(want, quantity.Ampere))
		gets = append(gets, quantity.Format(amps[i], quantity.Ampere))
		if part := amps[i] / want; part > most {
			most, strongest = part, e.Name
		}
		least = min(least, amps[i]/want)
	}
	if most <= tinted*least {
		return nil
	}
	return []string{fmt.Sprintf("White needs %s; with its resistors it gets %s, and looks tinted towards %s.", strings.Join(wants, ", "), strings.Join(gets, ", "), strongest)}
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

// power is the heat in what a part's resistance is made of, in the state in which it is
// most, against its rating: half of it is recommended (common practice), all of it
// absolute. It is false for a part without one.
func (f *facts) power(p *build.Part) (Quantity, bool) {
	kind := f.kind(p)
	if _, ok := kind.Value("powerRating"); !ok {
		return Quantity{}, false
	}
	rating := wiring.ValueOf(kind, p, "powerRating")
	var most wiring.Range
	var at visit
	amps, ohms := 0.0, 0.0
	for i := range f.net.Elements {
		if e := &f.net.Elements[i]; e.Part != p.ID || e.Role != wiring.Body {
			continue
		}
		for _, v := range f.visitsOf(i) {
			if r := v.Watts(i); at == nil || r.High > most.High {
				a, b := f.net.Ends(i)
				most, at, amps = r, v, math.Abs(v.TypicalAmps(i))
				ohms = math.Abs(v.Typical(a)-v.Typical(b)) / max(amps, noAmps)
			}
		}
	}
	if kind.Is(part.Resistor) {
		ohms = f.valueOf(p, "resistance")
	}
	most.Low = max(most.Low, 0)
	q := newQuantity("heat", quantity.Watt, most)
	q.in(at)
	q.limit(spec.Limit{Recommended: rating.Typ / 2, Absolute: rating.Typ, Source: rating.Source})
	q.Working = &Working{
		Formula: "P = I² × R",
		Numbers: fmt.Sprintf("(%s)² × %s", quantity.Format(amps, quantity.Ampere), quantity.Format(ohms, quantity.Ohm)),
		Result:  q.TypText,
		Sources: []string{"rating: " + rating.Source},
	}
	return q, true
}

// trackCurrent is the largest current through a piece of a track, against that which
// turns the whole track into its rated heat: a rating holds for all of the track, and a
// piece of it sheds only its share (common practice). More is a care, never a stop, for
// short pieces survive it a while. It is false for a part without a track.
func (f *facts) trackCurrent(p *build.Part) (Quantity, bool) {
	kind := f.kind(p)
	_, rated := kind.Value("powerRating")
	if _, ok := kind.Value("track"); !ok || !rated {
		return Quantity{}, false
	}
	w := f.through(p)
	if w.at == nil {
		return Quantity{}, false
	}
	rating, track := wiring.ValueOf(kind, p, "powerRating"), wiring.ValueOf(kind, p, "track")
	most := math.Sqrt(rating.Typ / track.Typ)
	q := f.named("current", w)
	q.limit(spec.Limit{Recommended: most, Absolute: most, Source: "√(power rating ÷ track): " + rating.Source})
	if q.Level != Fine {
		q.Level = Care
	}
	return q, true
}
