package check

import (
	"fmt"
	"math"
	"slices"

	"cablaggio/core/board"
	"cablaggio/core/build"
	"cablaggio/core/circuit"
	"cablaggio/core/quantity"
	"cablaggio/core/spec"
	"cablaggio/core/supply"
	"cablaggio/core/wiring"
)

func (f *facts) pinReports() []PinReport {
	out := []PinReport{}
	for _, u := range f.net.Uses {
		r := PinReport{Pin: u.Pin.Name, Does: u.Signals[0].Signal.Needs.Name()}
		for _, c := range u.Signals {
			r.Parts = append(r.Parts, c.Part.ID)
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
	if u, ok := f.use(r.Pin); ok && u.Signals[0].Signal.Needs == board.PWMOut {
		half := average(*r.Amps)
		r.Average = &half
	}
}

// use returns what a pin is used for.
func (f *facts) use(pin string) (wiring.Use, bool) {
	i := slices.IndexFunc(f.net.Uses, func(u wiring.Use) bool { return u.Pin.Name == pin })
	if i < 0 {
		return wiring.Use{}, false
	}
	return f.net.Uses[i], true
}

// margin is how far a level is from the threshold that it must keep clear of,
// in the worst corner.
func (r *Reading) margin(volts float64, threshold string) {
	q := newQuantity("margin to "+threshold, quantity.Volt, wiring.Range{Low: volts, Typ: volts, High: volts})
	r.Margin = &q
}

// source is the resistance that the pin sees; one that floats sees none.
func (r *Reading) source(ohms float64) {
	if !math.IsInf(ohms, 0) {
		q := newQuantity("source resistance", quantity.Ohm, wiring.Range{Low: ohms, Typ: ohms, High: ohms})
		r.Ohms = &q
	}
}

// telling returns the visits of a node's piece that say what a builder wants to
// know of it: all, or of more than a few those with the lowest and the highest
// voltage, and the first in which it has no sure level.
func (f *facts) telling(node circuit.Node) []visit {
	const few = 8
	all := f.planned[f.net.PieceOf(node)]
	if len(all) <= few {
		return all
	}
	low, high, unsure := 0, 0, -1
	for i, v := range all {
		if v.Volts(node).Typ < all[low].Volts(node).Typ {
			low = i
		}
		if v.Volts(node).Typ > all[high].Volts(node).Typ {
			high = i
		}
		if r := f.reads(v, node); unsure < 0 && (r == Floats || r == ReadsEither) {
			unsure = i
		}
	}
	at := []int{low, high}
	if unsure >= 0 {
		at = append(at, unsure)
	}
	slices.Sort(at)
	var out []visit
	for _, i := range slices.Compact(at) {
		out = append(out, all[i])
	}
	return out
}

func (f *facts) sense(r *PinReport, u wiring.Use) {
	node := f.net.Node(build.Pin(u.Pin.Name))
	if u.Signals[0].Signal.Needs == board.AnalogIn {
		for _, v := range f.telling(node) {
			r.Inputs = append(r.Inputs, f.measured(v, u, node))
		}
		return
	}
	vil, vih := f.thresholds()
	for _, v := range f.telling(node) {
		volts := newQuantity("voltage", quantity.Volt, v.Volts(node))
		volts.Working = &Working{
			Formula: "low below VIL, high above VIH",
			Numbers: fmt.Sprintf("VIL %s, VIH %s", quantity.Format(vil, quantity.Volt), quantity.Format(vih, quantity.Volt)),
			Result:  string(f.reads(v, node)),
			Sources: []string{"thresholds: " + f.board.Logic.VIL.Source},
		}
		reading := Reading{State: v.words(), Volts: volts, Reads: f.reads(v, node)}
		switch reading.Reads {
		case ReadsLow:
			reading.margin(vil-volts.High, "VIL")
		case ReadsHigh:
			reading.margin(volts.Low-vih, "VIH")
		}
		reading.source(f.sourceOhms(v, node))
		r.Inputs = append(r.Inputs, reading)
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
	return f.where(func(e *wiring.Element) bool { return e.Role == role })
}

// where returns the sum of the currents of a piece's elements of a sort.
func (f *facts) where(match func(*wiring.Element) bool) func(visit) wiring.Range {
	return func(v visit) (sum wiring.Range) {
		for _, i := range v.piece.Elements {
			if match(&f.net.Elements[i]) {
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
	out := []Load{load("pins", "pins together", f.pinsTogether(), f.board.Logic.Total, &Working{
		Formula: "sum over the pins, each in its worst state", Numbers: f.pinSum()})}
	if g, worst := f.fullestGroup(); worst.High > 0 {
		out = append(out, load("group", "fullest port", worst, g.Limit, &Working{Formula: "sum over the port's pins, each in its worst state", Numbers: fmt.Sprintf("what %s %s", g.Name, g.Way)}))
	}
	feeds := f.feeds()
	if g := f.second(); g != nil {
		for _, l := range g.feeds() {
			l.ID += "-also"
			feeds = append(feeds, l)
		}
		for i := range feeds {
			feeds[i].Name += " alone"
		}
	}
	out = append(out, feeds...)
	for _, r := range f.board.Rails {
		out = append(out, load("rail-"+r.Name, r.Name+" rail", f.sum(f.fromRail(r.Name)), r.Limit, &Working{
			Formula: "sum of what the parts draw from it, each in its worst state"}))
	}
	return out
}

// feeds is what the supply gives, and the heat in its regulator.
func (f *facts) feeds() []Load {
	own := f.board.Appetite
	all := f.fromSupply()
	out := []Load{load("supply", f.supply().Name, all, f.supply().Limit, &Working{
		Formula: "the board itself + the parts",
		Numbers: fmt.Sprintf("%s + %s", quantity.Format(own.Typ, quantity.Ampere), quantity.Format(all.Typ-own.Typ, quantity.Ampere)),
		Sources: []string{"the board itself: " + own.Source}})}
	if heat, ok := f.heat(); ok {
		out = append(out, Load{"regulator", "regulator heat", heat, heat.share()})
	}
	return out
}

// load holds a sum of currents against its limit.
func load(id, name string, r wiring.Range, limit spec.Limit, working *Working) Load {
	q := newQuantity("current", quantity.Ampere, r)
	q.limit(limit)
	working.Sources = append(working.Sources, "limit: "+limit.Source)
	working.Result = q.TypText
	q.Working = working
	return Load{id, name, q, q.share()}
}

// fullestGroup is the port group that comes nearest to its limit.
func (f *facts) fullestGroup() (fullest board.Group, amps wiring.Range) {
	share := 0.0
	for _, g := range f.board.Logic.Groups {
		if r := f.group(g); r.High/g.Limit.Absolute > share {
			fullest, amps, share = g, r, r.High/g.Limit.Absolute
		}
	}
	return fullest, amps
}

// supplyReport is what feeds the board.
func (f *facts) supplyReport() (r SupplyReport) {
	s := f.supply()
	fed := f.doc.Fed(s)
	r = SupplyReport{Name: s.Name, Volts: newQuantity("voltage", quantity.Volt, wiring.Range{Low: fed.Low, Typ: fed.Typ, High: fed.High})}
	r.Volts.Working = &Working{Result: r.Volts.Text, Sources: []string{fed.Source}}
	if second, ok := f.board.Supply(f.doc.Also); ok && f.doc.Also != "" {
		defer func() { r.Name += " and " + second.Name }()
	}
	if c := f.doc.Cells; c != nil {
		cell, _ := supply.CellOf(c.Type)
		r.Name = fmt.Sprintf("%d × %s at %s", c.Count, cell.Name, s.Name)
		amps := f.drawn()
		h := supply.Hours(cell, amps)
		q := newQuantity("run time", quantity.Hour, wiring.Range{Low: h.Low, Typ: h.Typ, High: h.High})
		q.Working = &Working{
			Formula: "charge ÷ current", Numbers: fmt.Sprintf("%.3g Ah ÷ %s", cell.AmpHours.Typ, quantity.Format(amps.Typ, quantity.Ampere)), Result: q.TypText,
			Sources: []string{"charge: " + cell.AmpHours.Source, "with everything on all the time; a program that sleeps makes it longer"},
		}
		r.RunTime = &q
	}
	return r
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
