package check

import (
	"fmt"
	"math"
	"slices"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/supply"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/spec"
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
	source, sink := f.worstOf(high), f.worstOf(low)
	w, way := source, "sources"
	if sink.High > source.High {
		w, way = sink, "sinks"
	}
	if w.at == nil {
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
	const some = 8
	all := f.visits(node)
	if len(all) <= some {
		return all
	}
	low, high, unsure := 0, 0, -1
	for i, v := range all {
		if v.Typical(node) < all[low].Typical(node) {
			low = i
		}
		if v.Typical(node) > all[high].Typical(node) {
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
		s := f.stands(v, node)
		volts := newQuantity("voltage", quantity.Volt, v.Volts(node))
		volts.Working = &Working{
			Formula: "reliably low below one voltage, reliably high above another; both follow the supply",
			Numbers: fmt.Sprintf("%s and %s", quantity.Format(vil, quantity.Volt), quantity.Format(vih, quantity.Volt)),
			Result:  string(s.reads),
			Sources: []string{"thresholds: " + f.board.Logic.VIL.Source},
		}
		reading := Reading{State: v.Words(), At: At(v.Address()), Volts: volts, Reads: s.reads}
		switch s.reads {
		case ReadsLow:
			reading.margin(s.margin(), "the voltage that is reliably low")
		case ReadsHigh:
			reading.margin(s.margin(), "the voltage that is reliably high")
		}
		reading.source(f.sourceOhms(v, node))
		r.Inputs = append(r.Inputs, reading)
	}
}

func (f *facts) supply() board.Supply {
	s, _ := f.board.Supply(f.doc.Supply)
	return s
}

func (f *facts) loads() []Load {
	out := []Load{f.load("pins", "pins together", f.pinsTogether(), f.board.Logic.Total)}
	if g, worst := f.fullestGroup(); worst.High > 0 {
		l := f.load("group", "most loaded port", worst, g.Limit)
		l.Carries.Working.Formula = fmt.Sprintf("sum of what %s %s, each in the state in which it takes most", g.Name, g.Way)
		out = append(out, l)
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
		out = append(out, f.load("rail-"+r.Name, r.Name+" rail", f.fromRail(r.Name), r.Limit))
	}
	return out
}

// feeds is what the supply gives, and the heat in its regulator.
func (f *facts) feeds() []Load {
	out := []Load{f.load("supply", f.supply().Name, f.fromSupply(), f.supply().Limit)}
	if heat, ok := f.heat(); ok {
		out = append(out, Load{"regulator", "regulator heat", heat, heat.share()})
	}
	return out
}

// load holds a sum of currents against its limit.
func (f *facts) load(id, name string, t total, limit spec.Limit) Load {
	q := f.sum(t, limit)
	return Load{id, name, q, q.share()}
}

// fullestGroup is the port group that comes nearest to its limit.
func (f *facts) fullestGroup() (fullest board.Group, amps total) {
	share := 0.0
	for _, g := range f.board.Logic.Groups {
		if t := f.group(g); t.High/g.Limit.Absolute > share {
			fullest, amps, share = g, t, t.High/g.Limit.Absolute
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

// nodeOf returns the node of a part's leg.
func (f *facts) nodeOf(partID, leg string) circuit.Node { return f.net.Node(build.Of(partID, leg)) }
