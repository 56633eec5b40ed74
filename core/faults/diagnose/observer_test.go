package diagnose

import (
	"fmt"
	"maps"
	"math"
	"math/rand/v2"
	"slices"

	"cablaggio/core/faults/fault"
	"cablaggio/core/values/quantity"
)

// An observer is someone at the bench, with a fault in the build that the case does not know.
type observer struct {
	c     *Case
	f     []int // what is wrong
	rand  *rand.Rand
	wrong float64  // how often an observation is not what is there
	list  []string // what is asked, instead of what the diagnosis asks; nil: that
}

// starts is what is noticed at first: what each lamp and each input does, of which something
// is not as it should be; it is false when nothing is.
func (o *observer) starts() (out []Observation, wrong bool) {
	for i := range o.c.asks {
		a := &o.c.asks[i]
		if a.Sort != See && a.Sort != Reads || a.test {
			continue
		}
		is, should := o.predict(i), o.c.predict(0, i)
		if is.none || should.none {
			continue
		}
		out = append(out, Observation{a.ID, o.answer(i, true)})
		if is.number != should.number || !is.number && likeliest(is.labels) != likeliest(should.labels) || is.number && math.Abs(is.value-should.value) > 0.15 {
			wrong = true
		}
	}
	return out, wrong
}

// class is the fault that shows in an ask: of two, the first that makes a difference.
func (o *observer) class(i int) int {
	well := o.c.predict(0, i)
	for _, f := range o.f {
		k := o.c.classOf[f]
		if !o.c.classes[k].fault.Everywhere() && !o.c.near(k, &o.c.asks[i]) {
			continue
		}
		is := o.c.predict(k, i)
		if is.none != well.none || is.number != well.number || math.Abs(is.value-well.value) > 0.02 || !maps.Equal(is.labels, well.labels) {
			return k
		}
	}
	return 0
}

func (o *observer) predict(i int) prediction { return o.c.predict(o.class(i), i) }

// answer is what the observer says to an ask.
func (o *observer) answer(i int, honest bool) string {
	a := &o.c.asks[i]
	if !honest && o.rand.Float64() < o.wrong {
		return o.mistaken(i)
	}
	switch a.Sort {
	case Look:
		for _, f := range o.f {
			if slices.Contains(o.c.looks[a.look].faults, f) {
				return o.c.faults[f].Cure
			}
		}
		return asDrawn
	case Try:
		if slices.ContainsFunc(o.f, func(f int) bool { return o.c.faults[f].Cure == a.cure }) {
			return works
		}
		return unchanged
	case See, Reads:
		p := o.predict(i)
		if p.number {
			full := o.c.net.Board.Logic.Analog.Full()
			return fmt.Sprintf("%.0f", math.Max(0, math.Min(1, p.value*(1+0.03*o.rand.NormFloat64())))*full)
		}
		if p.none {
			return map[Sort]string{See: dark, Reads: jumps}[a.Sort]
		}
		return o.c.word(a, likeliest(p.labels))
	}
	x, ok := o.c.expectation(o.class(i), i)
	if !ok {
		return "0"
	}
	if x.Surely || x.Over && x.Typ == 0 {
		return "OL"
	}
	part := func(end float64) float64 { return x.Typ + (end-x.Typ)*math.Min(1, math.Abs(o.rand.NormFloat64())/2.5) }
	v := part(x.Low)
	if o.rand.Float64() < 0.5 && !x.Over {
		v = part(x.High)
	}
	return fmt.Sprintf("%.4g %s", v, unitOf(x.Unit))
}

func unitOf(u quantity.Unit) string { return string(u) }

// mistaken is an answer as something else would give it.
func (o *observer) mistaken(i int) string {
	a := &o.c.asks[i]
	switch {
	case a.Sort == Look:
		l := o.c.looks[a.look].faults
		if o.rand.Float64() < 0.5 {
			return asDrawn
		}
		return o.c.faults[l[o.rand.IntN(len(l))]].Cure
	case a.Sort == Try:
		return unchanged
	case a.Sort == See:
		return o.c.word(a, doings[o.rand.IntN(len(doings))].name)
	case a.Sort == Reads && !o.c.inputs[a.input].analog:
		return []string{readsLow, readsHigh, jumps}[o.rand.IntN(3)]
	case a.Sort == Reads:
		return fmt.Sprintf("%.0f", o.rand.Float64()*o.c.net.Board.Logic.Analog.Full())
	}
	x, _ := o.c.expectation(0, i)
	return fmt.Sprintf("%.3g %s", o.rand.Float64()*5, unitOf(x.Unit))
}

// cures puts right what the first cause says, and reports whether anything of it was wrong.
func (o *observer) cures(r *Result) bool {
	right := false
	for _, id := range r.Causes[0].Faults {
		cure := o.c.byFault(id).Cure
		o.f = slices.DeleteFunc(o.f, func(f int) bool {
			is := o.c.faults[f].Cure == cure
			right = right || is
			return is
		})
	}
	return right
}

func (c *Case) byFault(id string) *fault.Fault {
	return &c.faults[slices.IndexFunc(c.faults, func(f fault.Fault) bool { return f.ID == id })]
}
