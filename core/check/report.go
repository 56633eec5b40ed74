package check

import (
	"fmt"
	"math"
	"slices"

	"cablaggio/core/board"
	"cablaggio/core/build"
	"cablaggio/core/circuit"
	"cablaggio/core/preferred"
	"cablaggio/core/quantity"
	"cablaggio/core/spec"
	"cablaggio/core/wiring"
)

func (f *facts) partReports(findings []Finding) []PartReport {
	out := []PartReport{}
	for i := range f.doc.Parts {
		p := &f.doc.Parts[i]
		r := PartReport{ID: p.ID, Quantities: []Quantity{}}
		for _, x := range findings {
			if slices.Contains(x.Parts, p.ID) && x.Level.Worse(r.Level) {
				r.Level = x.Level
			}
		}
		switch w := f.worstOf(f.planned, f.body(p)); f.kind(p).Model {
		case "diode":
			r.Quantities = append(r.Quantities, *f.quantity("current", w, f.limitOf(w.element)))
		case "resistor":
			ohms := wiring.ValueOf(f.kind(p), p, "resistance").Typ
			r.Quantities = append(r.Quantities, f.power(p))
			r.mark(ohms, wiring.ValueOf(f.kind(p), p, "tolerance").Typ/100)
		}
		out = append(out, r)
	}
	return out
}

// mark adds what is printed on a resistor, where bands or letters can say it.
func (r *PartReport) mark(ohms, tolerance float64) {
	m := preferred.Marking{Ohms: ohms, Tolerance: tolerance}
	if bands, err := preferred.WriteBands(m, 4); err == nil {
		for _, c := range bands {
			r.Bands = append(r.Bands, string(c))
		}
	}
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
	for _, v := range f.planned[f.net.PieceWith(element)] {
		r := v.Amps(element)
		if at.piece == nil || r.Peak() > most.Peak() {
			most, at = r, v
		}
	}
	low, high := math.Abs(most.Low), math.Abs(most.High)
	if low > high {
		low, high = high, low
	}
	if most.Low < 0 && most.High > 0 {
		low = 0
	}
	q := newQuantity("heat", quantity.Watt, wiring.Range{Low: low * low * ohms, Typ: most.Typ * most.Typ * ohms, High: high * high * ohms})
	if at.piece != nil {
		q.State = at.words()
	}
	q.limit(spec.Limit{Recommended: rating.Typ / 2, Absolute: rating.Typ, Source: rating.Source})
	q.Working = &Working{
		Formula: "P = I² × R",
		Numbers: fmt.Sprintf("(%s)² × %s", quantity.Format(math.Abs(most.Typ), quantity.Ampere), quantity.Short(ohms, quantity.Ohm)),
		Result:  q.TypText,
		Sources: []string{"rating: " + rating.Source},
	}
	return q
}

func (f *facts) pinReports(findings []Finding) []PinReport {
	out := []PinReport{}
	for _, u := range f.net.Uses {
		r := PinReport{Pin: u.Pin.Name, Does: u.Signals[0].Signal.Needs.Name()}
		for _, c := range u.Signals {
			r.Parts = append(r.Parts, c.Part.ID)
		}
		for _, x := range findings {
			if slices.Contains(x.Pins, r.Pin) && x.Level.Worse(r.Level) {
				r.Level = x.Level
			}
		}
		if u.Drives() {
			f.drive(&r)
		} else {
			f.sense(&r, u)
		}
		out = append(out, r)
	}
	return out
}

// drive reports the larger of what an output sources and sinks.
func (f *facts) drive(r *PinReport) {
	high, low := f.driver(r.Pin)
	source, sink := f.worstOf(f.planned, high), f.worstOf(f.planned, low)
	w, way := source, "sources"
	if sink.High > source.High {
		w, way = sink, "sinks"
	}
	if w.at.piece == nil {
		return
	}
	r.Way = way
	r.Amps = f.quantity("current", w, f.board.Logic.Pin)
	r.Share = r.Amps.share()
}

func (f *facts) sense(r *PinReport, u wiring.Use) {
	node := f.net.Node(build.Pin(u.Pin.Name))
	if u.Signals[0].Signal.Needs == board.AnalogIn {
		for _, v := range f.planned[f.net.PieceOf(node)] {
			volts, count := f.converted(v, node)
			r.Inputs = append(r.Inputs, Reading{State: v.words(), Volts: volts, Count: count})
		}
		return
	}
	vil, vih := f.thresholds()
	for _, v := range f.planned[f.net.PieceOf(node)] {
		volts := newQuantity("voltage", quantity.Volt, v.Volts(node))
		volts.Working = &Working{
			Formula: "low below VIL, high above VIH",
			Numbers: fmt.Sprintf("VIL %s, VIH %s", quantity.Format(vil, quantity.Volt), quantity.Format(vih, quantity.Volt)),
			Result:  string(f.reads(v, node)),
			Sources: []string{"thresholds: " + f.board.Logic.VIL.Source},
		}
		r.Inputs = append(r.Inputs, Reading{State: v.words(), Volts: volts, Reads: f.reads(v, node)})
	}
}

// add sums currents that can flow at the same time, each in its worst state:
// pieces do not influence each other, so their worst states can coincide.
func add(a, b wiring.Range) wiring.Range {
	return wiring.Range{Low: a.Low + b.Low, Typ: a.Typ + b.Typ, High: a.High + b.High}
}

// sum adds, over the pieces, the worst state's current of the elements in a
// role, counted in their own direction.
func (f *facts) sum(current func(visit) wiring.Range) wiring.Range {
	var total wiring.Range
	for _, p := range f.net.Pieces {
		var most wiring.Range
		for _, v := range f.planned[p] {
			if r := current(v); r.High > most.High {
				most = r
			}
		}
		total = add(total, most)
	}
	return total
}

// inRole returns the sum of the currents of a piece's elements in a role.
func (f *facts) inRole(role wiring.Role) func(visit) wiring.Range {
	return f.where(func(e wiring.Element) bool { return e.Role == role })
}

// where returns the sum of the currents of a piece's elements of a sort.
func (f *facts) where(match func(wiring.Element) bool) func(visit) wiring.Range {
	return func(v visit) (sum wiring.Range) {
		for _, i := range v.piece.Elements {
			if match(f.net.Elements[i]) {
				sum = add(sum, v.Amps(i))
			}
		}
		return sum
	}
}

// fromRail returns the current that a piece draws from a rail.
func (f *facts) fromRail(name string) func(visit) wiring.Range {
	source := f.net.Find(wiring.Rail, "", name)
	return func(v visit) wiring.Range {
		// Through a source from plus to minus a delivered current is negative.
		r := v.Amps(source)
		return wiring.Range{Low: max(-r.High, 0), Typ: max(-r.Typ, 0), High: max(-r.Low, 0)}
	}
}

// pinsTogether is the larger of what all pins source and what they sink.
func (f *facts) pinsTogether() wiring.Range {
	source, sink := f.sum(f.inRole(wiring.HighSide)), f.sum(f.inRole(wiring.LowSide))
	if sink.High > source.High {
		return sink
	}
	return source
}

// fromSupply is what the board and all that hangs on it take.
func (f *facts) fromSupply() wiring.Range {
	own := f.board.Appetite
	total := wiring.Range{Low: own.Low, Typ: own.Typ, High: own.High}
	for _, r := range f.board.Rails {
		total = add(total, f.sum(f.fromRail(r.Name)))
	}
	return total
}

func (f *facts) supply() board.Supply {
	s, _ := f.board.Supply(f.doc.Supply)
	return s
}

func (f *facts) loads() []Load {
	load := func(id, name string, r wiring.Range, limit spec.Limit, working *Working) Load {
		q := newQuantity("current", quantity.Ampere, r)
		q.limit(limit)
		working.Sources = append(working.Sources, "limit: "+limit.Source)
		working.Result = q.TypText
		q.Working = working
		return Load{id, name, q, q.share()}
	}
	own := f.board.Appetite
	parts := add(f.fromSupply(), wiring.Range{Low: -own.Low, Typ: -own.Typ, High: -own.High})
	out := []Load{
		load("pins", "pins together", f.pinsTogether(), f.board.Logic.Total, &Working{
			Formula: "sum over the pins, each in its worst state", Numbers: f.pinSum()}),
		load("supply", f.supply().Name, f.fromSupply(), f.supply().Limit, &Working{
			Formula: "the board itself + the parts",
			Numbers: fmt.Sprintf("%s + %s", quantity.Format(own.Typ, quantity.Ampere), quantity.Format(parts.Typ, quantity.Ampere)),
			Sources: []string{"the board itself: " + own.Source}}),
	}
	for _, r := range f.board.Rails {
		out = append(out, load("rail-"+r.Name, r.Name+" rail", f.sum(f.fromRail(r.Name)), r.Limit, &Working{
			Formula: "sum of what the parts draw from it, each in its worst state"}))
	}
	return out
}

// pinSum writes the sum over the pins with its numbers.
func (f *facts) pinSum() string {
	var terms []string
	for _, u := range f.net.Uses {
		if !u.Drives() {
			continue
		}
		high, low := f.driver(u.Pin.Name)
		most := math.Max(f.worstOf(f.planned, high).Typ, f.worstOf(f.planned, low).Typ)
		terms = append(terms, fmt.Sprintf("%s %s", u.Pin.Name, quantity.Format(most, quantity.Ampere)))
	}
	if len(terms) == 0 {
		return "no pin drives anything"
	}
	return join(terms)
}

// nodeOf returns the node of a part's leg.
func (f *facts) nodeOf(partID, leg string) circuit.Node { return f.net.Node(build.Of(partID, leg)) }
