package should

import (
	"math"
	"slices"
	"sort"

	"cablaggio/core/running/bench"
	"cablaggio/core/values/light"
)

// A breach is the first moment at which a recording is not as a sentence says.
type breach struct {
	at    float64 // s
	words string
	of    string // the part that it is seen at
}

// together is within which time two things act together, in seconds, where no hand and no level
// lies between.
const together = 0.1

// What an eye makes of what a lamp does.
const (
	eye      = 0.04 // s over which it averages (common practice: 25 pictures a second do not blink)
	visible  = 8.0  // CIE lightness from which on a lamp counts as lit
	overlaps = 0.002
)

// judge says where a recording first is not as the sentence says; nil: nowhere.
func (s *Sentence) judge(rec *bench.Recording) *breach {
	first := s.alone(rec)
	for _, x := range []*Sentence{s.and, s.then} {
		if x == nil {
			continue
		}
		if b := x.judge(rec); b != nil && (first == nil || b.at < first.at) {
			first = b
		}
	}
	return first
}

// alone judges a sentence without what is said beside it.
func (s *Sentence) alone(rec *bench.Recording) *breach {
	switch s.form {
	case limits:
		if len(rec.Stress) > 0 {
			x := rec.Stress[0]
			return &breach{x.At, x.Words, x.Of}
		}
		return nil
	case oneOf:
		return s.together(rec)
	case alike:
		return s.apart(rec)
	case each:
		return s.presses(rec)
	case turning:
		return s.turned(rec)
	case inTurn:
		return s.turnsOf(rec)
	}
	for _, span := range s.spans(rec, true) {
		if b := s.during(rec, span); b != nil {
			return b
		}
	}
	if !s.only {
		return nil
	}
	other := *s
	other.claim, _ = opposite(s.claim)
	for _, span := range s.spans(rec, false) {
		if b := other.during(rec, span); b != nil {
			return b
		}
	}
	return nil
}

// A span is a time from and to, in seconds.
type span struct{ from, to float64 }

// spans are the times in which all that the sentence asks for is so, or is not, and has been so
// for long enough.
func (s *Sentence) spans(rec *bench.Recording, so bool) (out []span) {
	soon := s.within.Seconds()
	if s.within == usual && len(s.conds) > 0 && !slices.ContainsFunc(s.conds, func(c cond) bool { return c.thing == nil }) {
		soon = together // what one program does to two things it does at once
	}
	edges := []float64{0}
	for _, a := range rec.Actions {
		edges = append(edges, math.Min(a.At, rec.Ended)) // a hand may let go after the end
	}
	for i := range s.conds {
		edges = append(edges, s.conds[i].edges(rec)...)
	}
	sort.Float64s(edges)
	edges = append(slices.Compact(edges), rec.Ended)
	for i := 0; i+1 < len(edges); i++ {
		if s.met(rec, edges[i], so) != so || s.first && i > 0 {
			continue
		}
		if n := len(out); n > 0 && out[n-1].to == edges[i] {
			out[n-1].to = edges[i+1]
			continue
		}
		out = append(out, span{edges[i], edges[i+1]})
	}
	for i := range out {
		out[i].from += soon
		if soon == together && out[i].to < rec.Ended { // what a program does to another thing a moment before
			out[i].to -= eye
		}
	}
	return slices.DeleteFunc(out, func(x span) bool { return x.to <= x.from })
}

// met reports whether the conditions are so from a time on; surely so, or else surely not.
func (s *Sentence) met(rec *bench.Recording, at float64, surely bool) bool {
	for i := range s.conds {
		if !s.conds[i].so(rec, at, surely) {
			return false
		}
	}
	return true
}

// so reports whether a condition is so from a time on, or has not been yet.
func (c *cond) so(rec *bench.Recording, at float64, surely bool) bool {
	if c.since {
		return c.happened(rec, at)
	}
	if !c.before {
		return c.met(rec, at, surely)
	}
	for _, t := range append([]float64{0, at}, c.edges(rec)...) {
		if t <= at && c.met(rec, t, surely) {
			return false
		}
	}
	for _, a := range rec.Actions {
		if a.At <= at && c.met(rec, a.At, surely) {
			return false
		}
	}
	return true
}

// margin is how far beyond a number a level is surely beyond it: a converter of ten bits and a
// thermometer's scale tell no more apart (common practice).
func (c *cond) margin() float64 {
	switch {
	case c.hand.Kind == bench.Spins || c.hand.Unit == turns || c.narrow:
		return 0
	case c.hand.Log:
		return max(c.most, c.least) / 20
	}
	return (c.hand.Most - c.hand.Least) / 200
}

func (c *cond) met(rec *bench.Recording, at float64, surely bool) bool {
	switch {
	case len(c.any) > 0:
		return slices.ContainsFunc(c.any, func(x cond) bool { return x.met(rec, at, surely) }) != c.not
	case c.thing != nil:
		r := row(rec, *c.thing)
		on := value(r, at+1e-6) > 0
		if c.thing.kind == bench.LampRow {
			on = looks(r, math.Min(at+eye, rec.Ended)) >= visible
		}
		return on == (c.claim == lit || c.claim == sounds || c.claim == runs)
	}
	if len(c.keys) > 0 {
		return c.typedBy(rec, at)
	}
	level, down := c.level(rec, at), false
	on := c.hand.Rest == 1
	for _, a := range c.acts(rec, at) {
		switch a.Do {
		case bench.Press:
			on = c.hand.Rest == 0
			down = down || a.Key == c.key
		case bench.Release:
			on = c.hand.Rest == 1
			if a.Key == c.key {
				down = false
			}
		}
	}
	switch {
	case c.hand.Kind == bench.PadOf:
		return down != c.not
	case !c.ranged:
		return on == c.on
	}
	limit := c.limit(surely)
	if c.under() {
		return level < limit
	}
	return level > limit
}

// limit is the number beyond which a level surely is as a condition asks, or else up to which it
// surely is not.
func (c *cond) limit(surely bool) float64 {
	if c.surely != c.barely {
		if surely {
			return c.surely
		}
		return c.barely
	}
	margin := c.margin()
	if surely == c.under() {
		margin = -margin
	}
	return c.most + c.least + margin
}

// acts is what was done to a condition's hand up to a time.
func (c *cond) acts(rec *bench.Recording, at float64) []bench.Action {
	return slices.DeleteFunc(slices.Clone(rec.Actions), func(a bench.Action) bool { return a.At > at || a.Of != c.hand.Of })
}

// level is at which level a hand is from a time on.
func (c *cond) level(rec *bench.Recording, at float64) float64 {
	level := c.hand.Rest
	var wheel bench.Coast
	since := 0.0
	for _, a := range c.acts(rec, at) {
		switch a.Do {
		case bench.Turn:
			level = c.hand.Least + (c.hand.Most-c.hand.Least)*a.To
		case bench.Set:
			level = a.To
		case bench.Spin:
			wheel, since = spun(wheel, a.At-since, a.To), a.At
		}
	}
	if c.hand.Kind == bench.Spins {
		return wheel.At(at - since)
	}
	return level
}

// edges are the times beside those of hands at which a condition may become another: where a
// thing changes, and where a wheel that coasts comes below what is asked for.
func (c *cond) edges(rec *bench.Recording) (out []float64) {
	for i := range c.any {
		out = append(out, c.any[i].edges(rec)...)
	}
	if c.thing == nil {
		return append(out, c.slows(rec)...)
	}
	const most = 400
	r := row(rec, *c.thing)
	for _, t := range changesIn(r, span{0, rec.Ended}) {
		out = append(out, t)
		if len(out) > most {
			break
		}
	}
	return out
}

// spun is a wheel that is brought to a rate some seconds after it was brought to another.
func spun(w bench.Coast, after, to float64) bench.Coast {
	return bench.Coast{Rate: to, Excess: math.Max(0, w.At(after)-to)}
}

// slows are the times at which a wheel that coasts comes below what a condition asks for.
func (c *cond) slows(rec *bench.Recording) (out []float64) {
	const just = 1e-6 // after it
	var wheel bench.Coast
	since := 0.0
	for _, a := range rec.Actions {
		if c.hand.Kind != bench.Spins || a.Of != c.hand.Of || a.Do != bench.Spin {
			continue
		}
		wheel, since = spun(wheel, a.At-since, a.To), a.At
		for _, surely := range []bool{true, false} {
			if at := since + wheel.Below(c.limit(surely)) + just; at < rec.Ended {
				out = append(out, at)
			}
		}
	}
	return out
}

// row is the row of a thing; nil when it never did anything.
func row(rec *bench.Recording, x thing) *bench.Row {
	i := slices.IndexFunc(rec.Rows, func(r bench.Row) bool { return r.Kind == x.kind && r.Of == x.of && r.Name == x.name })
	if i < 0 {
		return nil
	}
	return &rec.Rows[i]
}

// value is what a row has at a time.
func value(r *bench.Row, at float64) float64 {
	if r == nil {
		return 0
	}
	i := sort.Search(len(r.Changes), func(i int) bool { return r.Changes[i].At > at })
	if i == 0 {
		return 0
	}
	return r.Changes[i-1].Value
}

// looks is the lightness that an eye sees at a time: of the light's average.
func looks(r *bench.Row, at float64) float64 {
	if r == nil {
		return 0
	}
	from := math.Max(0, at-eye)
	if at <= from {
		return value(r, at)
	}
	sum, t := 0.0, from
	i := sort.Search(len(r.Changes), func(i int) bool { return r.Changes[i].At > from })
	for ; i < len(r.Changes) && r.Changes[i].At < at; i++ {
		sum += (r.Changes[i].At - t) * light.Share(value(r, t))
		t = r.Changes[i].At
	}
	sum += (at - t) * light.Share(value(r, t))
	return light.Lightness(sum / (at - from))
}

// moments are the times in a span at which something may be another: its ends, and just
// before and after each change.
func moments(r *bench.Row, x span) []float64 {
	const most = 400
	out := []float64{x.from, x.to}
	if r != nil {
		for _, c := range r.Changes {
			for _, t := range []float64{c.At, c.At + eye} {
				if t > x.from && t < x.to {
					out = append(out, t)
				}
			}
			if len(out) > most {
				break
			}
		}
	}
	sort.Float64s(out)
	return out
}
