package check

import (
	"fmt"
	"math"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/timing"
)

// clockResolution finds pulse rates that a clock of milliseconds blurs.
var clockResolution = rule{"clock-resolution", func(f *facts) []Finding {
	var out []Finding
	for i := range f.doc.Parts {
		p := &f.doc.Parts[i]
		if _, ok := f.kind(p).Value("resolution"); !ok {
			continue
		}
		rate, wished, over := f.valueOf(p, "rate"), f.valueOf(p, "resolution")/100, int(f.valueOf(p, "average"))
		n, seconds := timing.Closings(rate, timing.Tick, wished)
		if over >= n {
			continue
		}
		low, high := timing.Clock(rate, timing.Tick, over)
		q := f.clocked(p)
		f.inOwn(p, &q)
		blur := quantity.Short(100*timing.Tick*rate/float64(over), quantity.Percent)
		title := say("At %s closings a second one millisecond more or less is %s of the reading.", quantity.Short(rate, quantity.None), blur)
		if low != high {
			title = say("%s closings a second read as %.4g or %.4g on a millisecond clock.", quantity.Short(rate, quantity.None), low, high)
		}
		out = append(out, Finding{
			Level: Note, Parts: []string{p.ID}, Found: &q, title: title,
			why:   say("You wish for %s; the time of %d closings together, %s, gives it.", quantity.Short(wished*100, quantity.Percent), n, quantity.Format(seconds, quantity.Second)),
			Fixes: []Fix{{fmt.Sprintf("Average over %d closings", n), editsOf(value(p.ID, "average", float64(n), quantity.None))}},
		})
	}
	return out
}}

// clocked is what the highest rate of a pulse sensor reads as.
func (f *facts) clocked(p *build.Part) Quantity {
	rate, over := f.valueOf(p, "rate"), max(1, int(f.valueOf(p, "average")))
	low, high := timing.Clock(rate, timing.Tick, over)
	if math.IsInf(high, 1) {
		high = rate * 10
	}
	q := newQuantity("reads", quantity.Hertz, wiring.Range{Low: low, Typ: rate, High: high})
	q.Text = fmt.Sprintf("%.4g – %.4g – %.4g Hz", low, rate, high)
	q.Working = &Working{
		Formula: "closings ÷ (whole ticks × 1 ms)", Numbers: fmt.Sprintf("%d closing(s) in %s", over, quantity.Format(float64(over)/rate, quantity.Second)),
		Result: q.Text, Sources: []string{"common practice: the clock counts milliseconds"},
	}
	return q
}
