package diagnose

import (
	"math"
	"slices"

	"cablaggio/core/values/quantity"
)

// What is on no list is at some part, too. It is about as common there, beside what is on the
// list, as that is common; near the part anything may be seen and read, about as often as people
// see it, and all else is as planned. So no fault becomes certain only because the others of
// the list have become less likely.

// strangers is how much of what is wrong on benches is on no list, as a part of what is on it
// (our own guess: one in eleven; what is tried in the tests holds it).
const strangers = 0.1

// A strange is a part at which something may be that is on no list.
type strange struct {
	part    string
	prior   float64
	classes []int // of the faults of the list that are there
}

// listStrange lists the parts, with how common something is there.
func (c *Case) listStrange() {
	at := map[string]int{}
	for f := range c.faults {
		x := &c.faults[f]
		if x.Sometimes() || len(x.Parts) == 0 {
			continue
		}
		k, ok := at[x.Parts[0]]
		if !ok {
			k = len(c.strange)
			at[x.Parts[0]] = k
			c.strange = append(c.strange, strange{part: x.Parts[0]})
		}
		s := &c.strange[k]
		s.prior += strangers * c.priors[f]
		if !slices.Contains(s.classes, c.classOf[f]) {
			s.classes = append(s.classes, c.classOf[f])
		}
	}
}

// strangeNear reports whether an answer to an ask may be anything when something strange is at a part.
func (c *Case) strangeNear(part string, a *Ask) bool {
	if a.Sort == Look || a.Sort == Try {
		return false // what is on no list is not seen, and none of the cures helps
	}
	i := slices.IndexFunc(c.strange, func(s strange) bool { return s.part == part })
	return slices.ContainsFunc(c.strange[i].classes, func(k int) bool { return c.near(k, a) })
}

// asUsual is how much of what is asked near a strange thing is as planned all the same.
const asUsual = 0.3

// strangely is how likely an answer is when something strange is at a part.
func (c *Case) strangely(part string, a *answer) float64 {
	planned := c.likely(-1, a)
	if ask := &c.asks[a.ask]; c.strangeNear(part, ask) {
		return asUsual*planned + (1-asUsual)*c.anything(ask, a)
	}
	return planned
}

// seldom is how often people see, read and feel things where something is wrong (common practice).
var seldom = map[string]float64{
	dark: 0.4, faint: 0.1, dim: 0.15, lit: 0.15, bright: 0.05, flickers: 0.15,
	readsLow: 0.35, readsHigh: 0.35, jumps: 0.2, nothing: 0.1,
}

// anything is how likely an answer is where everything may be.
func (c *Case) anything(ask *Ask, a *answer) float64 {
	switch {
	case ask.Sort == Feel:
		return 0.5
	case ask.Sort == Pin && ask.pin.Analog:
		return 1 / float64(len(shares))
	case !a.number:
		return seldom[a.label]
	case ask.Sort == Reads:
		if a.value < 0.02 || a.value > 0.98 {
			return 0.25 // an end of the scale
		}
		return 0.08
	case a.over:
		return 0.25
	}
	zero := 0.02 // volts, or amperes beside what flows
	if x, ok := c.expectation(0, a.ask); ok && x.Unit == quantity.Ohm {
		zero = 5
	}
	if math.Abs(a.value) < zero {
		return 0.25
	}
	return 0.1
}
