package check

import (
	"fmt"
	"math"

	"cablaggio/core/build"
	"cablaggio/core/circuit"
	"cablaggio/core/quantity"
	"cablaggio/core/spec"
	"cablaggio/core/wiring"
)

// Parts of a load's rated voltage between which it works as it should (common
// practice: within a fifth; coils pull at three quarters).
const (
	tooLittle = 0.75
	tooMuch   = 1.2
)

// loadVoltage finds loads that get too little or too much voltage.
var loadVoltage = rule{"load-voltage", func(f *facts) []Finding {
	var out []Finding
	for _, model := range []string{"coil", "filament"} {
		for _, p := range f.ofModel(model) {
			if !f.wired(p) {
				continue
			}
			q := f.loadVolts(p)
			x := Finding{Level: q.Level, Parts: []string{p.ID}, Found: &q, State: q.State}
			rated := quantity.Short(f.valueOf(p, "ratedVoltage"), quantity.Volt)
			switch {
			case q.Level == Fine:
				continue
			case math.Abs(q.Typ) > f.valueOf(p, "ratedVoltage"):
				x.Title = fmt.Sprintf("%s gets %s; it is made for %s.", p.Name, q.TypText, rated)
				x.Why = "It runs hot and does not last."
			case q.Level == Stop:
				x.Title = fmt.Sprintf("%s is never on: it gets %s at most.", p.Name, q.TypText)
				x.Why = "No current finds a way through it, or its switch never closes."
			default:
				x.Title = fmt.Sprintf("%s gets only %s of the %s that it is made for.", p.Name, q.TypText, rated)
				x.Why = "The rest is lost in what switches it; a motor may not start, a relay may not pull."
			}
			for _, fix := range append(f.connect(p), f.usual(p)...) {
				if g := f.after(fix.Edits); g != nil && g.loadVolts(g.doc.Part(p.ID)).Level == Fine {
					x.Fixes = []Fix{fix}
					break
				}
			}
			out = append(out, x)
		}
	}
	return out
}}

// loadVolts is the voltage across a load in the state in which it is most.
func (f *facts) loadVolts(p *build.Part) Quantity {
	element := f.body(p)
	a, b := f.net.Ends(element)
	rated := wiring.ValueOf(f.kind(p), p, "ratedVoltage")
	var best wiring.Range
	state := ""
	for _, v := range f.planned[f.net.PieceWith(element)] {
		if r := across(v, a, b); math.Abs(r.Typ) > math.Abs(best.Typ) || state == "" {
			best, state = r, v.words()
		}
	}
	q := newQuantity("voltage", quantity.Volt, best)
	q.State = state
	q.Working = &Working{Formula: "voltage at one leg − voltage at the other", Result: q.TypText, Sources: []string{"made for " + quantity.Short(rated.Typ, quantity.Volt) + ": " + rated.Source}}
	switch part := math.Abs(best.Typ) / rated.Typ; {
	case part < 0.1:
		q.Level = Stop
	case part < tooLittle || part > tooMuch:
		q.Level = Care
	}
	return q
}

// across is the voltage between two nodes. Its ends are those of the nodes that
// lie farthest apart, so it is no narrower than it can be.
func across(v visit, a, b circuit.Node) wiring.Range {
	x, y := v.Volts(a), v.Volts(b)
	return wiring.Range{Low: x.Low - y.High, Typ: x.Typ - y.Typ, High: x.High - y.Low}
}

// coilKick finds coils whose current has no way when their switch opens.
var coilKick = rule{"coil-kick", func(f *facts) []Finding {
	var out []Finding
	for i, e := range f.net.Elements {
		if !e.Coil {
			continue
		}
		p := f.doc.Part(e.Part)
		piece := f.net.PieceWith(i)
		on := f.worstEitherWay(i)
		if piece == nil || on.Peak() < 1e-3 {
			continue
		}
		for _, k := range piece.Elements {
			t := f.doc.Part(f.net.Elements[k].Part)
			if t == nil || f.net.Elements[k].Role != wiring.Body || f.kind(t).Model != "npn" && f.kind(t).Model != "mosfet" {
				continue
			}
			most := wiring.ValueOf(f.kind(t), t, "maximumVoltage")
			volts := 0.0
			for _, v := range f.planned[piece] {
				if math.Abs(v.Amps(i).Typ) < 0.1*math.Abs(on.Typ) {
					volts = math.Max(volts, piece.Kick(v.state, i, on.Typ, k))
				}
			}
			q := newQuantity("voltage", quantity.Volt, wiring.Range{Low: volts, Typ: volts, High: volts})
			q.limit(spec.Limit{Recommended: most.Typ * 0.8, Absolute: most.Typ, Source: most.Source})
			if q.Level == Fine {
				continue
			}
			if volts > 1000 {
				q.TypText, q.Text, q.MaxText = "hundreds of volts", "hundreds of volts", "hundreds of volts"
				q.Low, q.Typ, q.High = 1000, 1000, 1000
			}
			q.Working = &Working{
				Formula: "the coil's current, taken as a source, in the circuit with its switch open",
				Numbers: quantity.Format(on.Peak(), quantity.Ampere), Result: q.TypText, Sources: []string{"limit: " + most.Source},
			}
			out = append(out, Finding{
				Level: Stop, Parts: []string{p.ID, t.ID}, Found: &q,
				Title: fmt.Sprintf("When %s is switched off, its coil drives %s to %s.", p.Name, t.Name, q.TypText),
				Why:   "The current of a coil cannot stop at once; without a diode across the coil it breaks through the transistor.",
				Fixes: f.usual(p),
			})
		}
	}
	return out
}}

// transistorHeat holds the heat in each transistor against what it sheds.
var transistorHeat = rule{"transistor-heat", func(f *facts) []Finding {
	var out []Finding
	for _, model := range []string{"npn", "mosfet"} {
		for _, p := range f.ofModel(model) {
			q := f.transistorPower(p)
			if q.Level == Fine {
				continue
			}
			x := Finding{
				Level: q.Level, Parts: []string{p.ID}, Found: &q, State: q.State,
				Title: fmt.Sprintf("%s turns up to %s into heat; it sheds %s.", p.Name, q.MaxText, q.Limit.AbsoluteText),
				Why:   "It is not fully on: it keeps a voltage for itself while the whole current flows.",
			}
			if owner := f.doc.Part(p.Of); owner != nil {
				x.Parts = append(x.Parts, owner.ID)
				for _, h := range f.kind(owner).Hookups {
					fix := f.hookup(owner, h)
					if g := f.after(fix[0].Edits); g != nil && g.cool(owner.ID) {
						x.Fixes = fix
						break
					}
				}
			}
			out = append(out, x)
		}
	}
	return out
}}

// cool reports whether no transistor that came with a part is too hot, and the
// part has its voltage.
func (f *facts) cool(owner string) bool {
	for _, h := range f.doc.Helpers(owner) {
		if m := f.kind(h).Model; (m == "npn" || m == "mosfet") && f.transistorPower(h).Level != Fine {
			return false
		}
	}
	return f.loadVolts(f.doc.Part(owner)).Level == Fine
}

// transistorPower is the heat in a transistor in the state in which it is most.
func (f *facts) transistorPower(p *build.Part) Quantity {
	element := f.body(p)
	a, b := f.net.Ends(element)
	most := wiring.ValueOf(f.kind(p), p, "maximumHeat")
	var worst wiring.Range
	state, numbers := "", ""
	for _, v := range f.planned[f.net.PieceWith(element)] {
		i, u := v.Amps(element), across(v, a, b)
		r := wiring.Range{Low: math.Abs(i.Low * u.Low), Typ: math.Abs(i.Typ * u.Typ), High: i.Peak() * math.Abs(u.Typ)}
		r.Low, r.High = min(r.Low, r.Typ), max(r.High, r.Typ)
		if state == "" || r.High > worst.High {
			worst, state = r, v.words()
			numbers = quantity.Format(math.Abs(u.Typ), quantity.Volt) + " × " + quantity.Format(math.Abs(i.Typ), quantity.Ampere)
		}
	}
	q := newQuantity("heat", quantity.Watt, worst)
	q.State = state
	q.limit(spec.Limit{Recommended: most.Typ / 2, Absolute: most.Typ, Source: most.Source})
	q.Working = &Working{Formula: "P = U × I", Numbers: numbers, Result: q.TypText, Sources: []string{"limit: " + most.Source}}
	return q
}

// capacitorVoltage holds the voltage across each capacitor against its rating.
var capacitorVoltage = rule{"capacitor-voltage", func(f *facts) []Finding {
	var out []Finding
	for _, p := range f.ofModel("capacitor") {
		element := f.body(p)
		a, b := f.net.Ends(element)
		rated := wiring.ValueOf(f.kind(p), p, "ratedVoltage")
		var most wiring.Range
		state := ""
		for _, v := range f.planned[f.net.PieceWith(element)] {
			if r := across(v, a, b); r.Peak() > most.Peak() {
				most, state = r, v.words()
			}
		}
		q := newQuantity("voltage", quantity.Volt, most)
		q.State = state
		q.limit(spec.Limit{Recommended: rated.Typ * 0.8, Absolute: rated.Typ, Source: rated.Source})
		q.Working = &Working{Formula: "voltage at one leg − voltage at the other", Result: q.TypText, Sources: []string{"rating: " + rated.Source}}
		if q.Level == Fine {
			continue
		}
		x := Finding{
			Level: q.Level, Parts: []string{p.ID}, Found: &q, State: state,
			Title: fmt.Sprintf("%s has up to %s across it; it is made for %s.", p.Name, q.MaxText, q.Limit.AbsoluteText),
			Why:   "Over four fifths of its rating it does not last (common practice); over the whole it breaks through.",
		}
		for _, volts := range []float64{10, 16, 25, 35, 50, 63, 100} {
			if volts*0.8 > most.Peak() {
				x.Fixes = []Fix{{"Take one made for " + quantity.Short(volts, quantity.Volt), editsOf(value(p.ID, "ratedVoltage", volts, quantity.Volt))}}
				break
			}
		}
		out = append(out, x)
	}
	return out
}}
