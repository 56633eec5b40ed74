package check

import (
	"fmt"
	"math"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/timing"
)

// pulseReport says of a pulse sensor which rates can be read, how finely, and after how
// long; in closings a second and in the builder's own unit.
func (f *facts) pulseReport(p *build.Part, r *PartReport) {
	exactly := func(name string, unit quantity.Unit, v float64) Quantity {
		return newQuantity(name, unit, wiring.Range{Low: v, Typ: v, High: v})
	}
	for _, b := range f.bouncers() {
		if b.part.ID != p.ID {
			continue
		}
		top := exactly("highest rate", quantity.Hertz, timing.Fastest(math.Max(b.wait(), 1e-6), b.duty))
		top.Working = b.waited()
		f.inOwn(p, &top)

		reads := f.clocked(p)
		f.inOwn(p, &reads)

		patience := f.valueOf(p, "patience")
		least := exactly("lowest rate told from standing still", quantity.Hertz, 1/patience)
		least.Working = &Working{
			Formula: "1 ÷ the longest wait for a closing", Numbers: "1 ÷ " + quantity.Short(patience, quantity.Second),
			Result: least.TypText, Sources: []string{"the wait: " + wiring.ValueOf(f.kind(p), p, "patience").Source},
		}
		f.inOwn(p, &least)

		n, seconds := timing.Closings(b.rate, timing.Tick, f.valueOf(p, "resolution")/100)
		wait := exactly("averaging time", quantity.Second, seconds)
		wait.Working = &Working{
			Formula: "closings ÷ rate; closings = tick × rate ÷ resolution, rounded up", Numbers: fmt.Sprintf("%d ÷ %s", n, quantity.Short(b.rate, quantity.Hertz)),
			Result: wait.TypText, Sources: []string{"common practice: the clock counts milliseconds"},
		}
		if slow := 1 / patience; b.rate > slow {
			// At the lowest rate one closing takes the whole wait, and one tick is nothing.
			wait.Working.Result += fmt.Sprintf("; at %s one closing takes %s", quantity.Short(slow, quantity.Hertz), quantity.Short(patience, quantity.Second))
		}
		r.Quantities = append(r.Quantities, top, reads, least, wait)
	}
}

// inOwn adds to a rate what it is in the unit of the builder: closings over closings a
// turn, times what a turn stands for.
func (f *facts) inOwn(p *build.Part, q *Quantity) {
	closures, factor := f.valueOf(p, "closures"), f.valueOf(p, "factor")
	if closures == 1 && factor == 1 {
		return
	}
	digits := 3
	own := func(hertz float64) string { return quantity.Rough(hertz/closures*factor, digits) }
	text := own(q.Typ)
	if q.Low < q.Typ && q.Typ < q.High {
		// Digits enough that the three differ: "15 – 15 – 15.1" would say that there is
		// nothing between the first two. Eight, as no clock is better.
		for digits < 8 && (own(q.Low) == own(q.Typ) || own(q.Typ) == own(q.High)) {
			digits++
		}
		text = own(q.Low) + " – " + own(q.Typ) + " – " + own(q.High)
	}
	q.Text += fmt.Sprintf(" = %s of your unit a second", text)
	q.TypText += fmt.Sprintf(" = %s of your unit a second", own(q.Typ))
	if q.Working != nil {
		q.Working.Formula += "; your unit: closings ÷ closings a turn × what a turn stands for"
	}
}
