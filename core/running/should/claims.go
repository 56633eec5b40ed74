package should

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"sort"

	"cablaggio/core/running/bench"
	"cablaggio/core/values/light"
)

// during says where one of the things does not do in a span what it should.
func (s *Sentence) during(rec *bench.Recording, x span) *breach {
	if s.printed != nil {
		return s.printing(rec, x)
	}
	for _, y := range s.things {
		if b := s.does(rec, x, y); b != nil {
			return b
		}
	}
	return nil
}

// does says where a thing does not do in a span what it should.
func (s *Sentence) does(rec *bench.Recording, x span, y thing) *breach {
	switch {
	case s.atATime != lengths{}:
		return s.eachTime(rec, x, y)
	case s.claim >= steady:
		return s.byItself(rec, x, y)
	}
	r := row(rec, y)
	meanwhile := ""
	if len(s.conds) > 0 {
		meanwhile = fmt.Sprintf(" (it is to be so from %.3g s on)", x.from)
	}
	no := func(at float64, words string) *breach {
		return &breach{at, fmt.Sprintf("at %.3g s %s %s%s", at, y.name, words, meanwhile), y.of}
	}
	switch s.claim {
	case lit, dark, full:
		most := y.most
		if r != nil {
			for _, c := range r.Changes {
				most = math.Max(most, c.Value)
			}
		}
		for _, t := range moments(r, x) {
			l := looks(r, t)
			switch {
			case s.claim == lit && l < visible:
				return no(t, "is dark")
			case s.claim == dark && l >= visible:
				return no(t, fmt.Sprintf("is lit, at %.0f %%", l))
			case s.claim == full && (l < visible || l < 0.95*most):
				return no(t, fmt.Sprintf("is at %.0f %%, not at its brightest", l))
			}
		}
	case bright:
		for _, t := range moments(r, x) {
			l := looks(r, t)
			share := 100 * light.Share(l) / math.Max(light.Share(y.most), 1e-9)
			if (l < s.low-3 || l > s.high+3) && (share < s.low-3 || share > s.high+3) { // half is half of the light, or what looks so
				return no(t, fmt.Sprintf("is at %.0f %%", l))
			}
		}
	case stands:
		for _, t := range moments(r, x) {
			if v := value(r, t); r == nil || v < s.low || v > s.high {
				return no(t, map[bool]string{true: "has not moved", false: fmt.Sprintf("is at %.0f°", v)}[r == nil])
			}
		}
	case leaves:
		was := looks(r, x.from)
		for _, t := range moments(r, x) {
			if l := looks(r, t); math.Abs(l-was) > 5 || y.kind != bench.LampRow && (value(r, t) > 0) != (value(r, x.from) > 0) {
				return no(t, "changed")
			}
		}
	case rises, falls:
		return s.going(r, x, y, no)
	case blinks:
		return s.blinking(rec, r, x, no)
	case sounds, silent, runs, rests:
		on := s.claim == sounds || s.claim == runs
		for _, t := range append([]float64{x.from}, changesIn(r, x)...) {
			v := value(r, t)
			switch {
			case on && v <= 0 && !s.pulses(r, t, x):
				return no(t, map[claim]string{sounds: "is silent", runs: "does not run"}[s.claim])
			case !on && v > 0:
				return no(t, map[claim]string{silent: "sounds", rests: "runs"}[s.claim])
			case on && s.hertz > 0 && v > 0 && math.Abs(v/s.hertz-1) > 0.1:
				return no(t, fmt.Sprintf("sounds at %.4g Hz", v))
			}
		}
	}
	return nil
}

// going says where a lamp does not get brighter, or darker, as far as it can.
func (s *Sentence) going(r *bench.Row, x span, y thing, no func(float64, string) *breach) *breach {
	const step = 5.0 // that an eye notices, of the lightness
	sign, end := 1.0, 80.0
	if y.most > 0 {
		end = y.most - 8
	}
	if s.claim == falls {
		sign, end = -1, -visible
	}
	if x.to-x.from < s.within.Seconds() {
		return nil // too short to tell
	}
	begin := sign * looks(r, x.from)
	far := begin
	for _, t := range moments(r, x) {
		l := sign * looks(r, t)
		if l < far-step {
			return no(t, fmt.Sprintf("is at %.0f %%, after %.0f %%", sign*l, sign*far))
		}
		far = math.Max(far, l)
	}
	if far < begin+1 && far < end {
		return no(x.to, fmt.Sprintf("stayed at %.0f %%", sign*far))
	}
	return nil
}

// pulses reports whether something that is off at a time comes on again soon: an alarm that
// beeps sounds.
func (s *Sentence) pulses(r *bench.Row, at float64, x span) bool {
	const soon = 2.5 // s
	for _, t := range changesIn(r, span{at, math.Min(at+soon, x.to)}) {
		if value(r, t) > 0 {
			return true
		}
	}
	return at+soon > x.to && (at > x.from || x.to-x.from < soon)
}

func changesIn(r *bench.Row, x span) (out []float64) {
	if r == nil {
		return nil
	}
	for _, c := range r.Changes {
		if c.At > x.from && c.At < x.to {
			out = append(out, c.At)
		}
	}
	return out
}

// blinking says where a lamp does not blink, or at another rate.
func (s *Sentence) blinking(rec *bench.Recording, r *bench.Row, x span, no func(float64, string) *breach) *breach {
	var rises []float64
	least := visible
	if r != nil && r.Kind != bench.LampRow {
		least = 1e-6
	}
	for _, t := range changesIn(r, x) {
		if value(r, t) >= least && value(r, t-1e-6) < least {
			rises = append(rises, t)
		}
	}
	slow := 2.5 // s in which something that blinks does so twice
	if s.hertz > 0 {
		slow = 2.6 / s.hertz
	}
	if x.to-x.from < slow {
		return nil // too short to tell
	}
	if len(rises) < 2 {
		return no(x.to, map[bool]string{true: "has not blinked", false: "has not beeped"}[least == visible])
	}
	hertz := float64(len(rises)-1) / (rises[len(rises)-1] - rises[0])
	if s.hertz > 0 && math.Abs(hertz/s.hertz-1) > 0.15 {
		return no(rises[len(rises)-1], fmt.Sprintf("%s at %.3g Hz", map[bool]string{true: "blinks", false: "beeps"}[least == visible], hertz))
	}
	if s.litFor > 0 {
		on := 0.0
		for _, t := range rises[:len(rises)-1] {
			for _, u := range append(changesIn(r, span{t, x.to}), x.to) {
				if value(r, u) < least {
					on += u - t
					break
				}
			}
		}
		if on /= float64(len(rises) - 1); math.Abs(on/s.litFor.Seconds()-1) > 0.15 {
			return no(rises[len(rises)-1], fmt.Sprintf("is lit for %.3g s each time", on))
		}
	}
	gap := x.from
	for _, t := range append(rises, x.to) {
		if t-gap > slow {
			return no(t, map[bool]string{true: "has stopped blinking", false: "has stopped beeping"}[least == visible])
		}
		gap = t
	}
	return nil
}

// apart says where lamps that are to light together do not.
func (s *Sentence) apart(rec *bench.Recording) *breach {
	edges := []float64{0}
	rows := make([]*bench.Row, len(s.things))
	for i, x := range s.things {
		rows[i] = row(rec, x)
		edges = append(edges, changesIn(rows[i], span{0, rec.Ended})...)
	}
	sort.Float64s(edges)
	since := -1.0
	for i, t := range append(edges, rec.Ended) {
		if since >= 0 && t-since >= together {
			return &breach{since + together, fmt.Sprintf("at %.3g s one of %s is on, and another is not", since+together, names(s.things)), s.things[0].of}
		}
		if i == len(edges) {
			break
		}
		n := 0
		for k, y := range s.things {
			if isOn(rows[k], y, math.Min(t+eye, rec.Ended)) {
				n++
			}
		}
		switch {
		case n == 0 || n == len(s.things):
			since = -1
		case since < 0:
			since = t
		}
	}
	return nil
}

// together says where two of several lamps are lit at the same time.
func (s *Sentence) together(rec *bench.Recording) *breach {
	rows := make([]*bench.Row, len(s.things))
	var edges []float64
	for i, x := range s.things {
		if rows[i] = row(rec, x); rows[i] != nil {
			for _, c := range rows[i].Changes {
				edges = append(edges, c.At)
			}
		}
	}
	spans := []span{{0, rec.Ended}}
	if len(s.conds) > 0 {
		spans = s.spans(rec, true)
	}
	for _, x := range spans {
		edges = append(edges, x.from, x.to)
	}
	sort.Float64s(edges)
	for i := 0; i+1 < len(edges); i++ {
		within := slices.ContainsFunc(spans, func(x span) bool { return edges[i] >= x.from && edges[i+1] <= x.to })
		if edges[i+1]-edges[i] < overlaps || !within {
			continue
		}
		first := ""
		for k, x := range s.things {
			if value(rows[k], edges[i]) < visible {
				continue
			}
			if first != "" && !s.more {
				return &breach{edges[i], fmt.Sprintf("at %.3g s %s and %s are lit together", edges[i], first, x.name), x.of}
			}
			first = x.name
		}
		const gap = 0.1 // s from one to the next
		if s.one && first == "" && edges[i+1]-edges[i] > gap && edges[i+1] > s.within.Seconds() {
			return &breach{math.Max(edges[i], s.within.Seconds()), fmt.Sprintf("from %.3g s on none is lit", edges[i]), s.things[0].of}
		}
	}
	return nil
}

// turned says where a lamp does not follow its knob.
func (s *Sentence) turned(rec *bench.Recording) *breach {
	y := s.things[0]
	r := row(rec, y)
	type point struct{ at, x, l float64 }
	points := []point{}
	at, x := 0.0, (s.hand.Rest-s.hand.Least)/(s.hand.Most-s.hand.Least)
	note := func(to float64) {
		if to-at >= s.within.Seconds() {
			points = append(points, point{to, x, looks(r, to-1e-6)})
		}
	}
	for _, a := range rec.Actions {
		if a.Of == s.hand.Of {
			note(a.At)
			at = a.At
			if x = a.To; a.Do == bench.Set {
				x = (a.To - s.hand.Least) / (s.hand.Most - s.hand.Least)
			}
		}
	}
	note(rec.Ended)
	most := 0.0
	for i := range points {
		if s.back {
			points[i].x = 1 - points[i].x
		}
		most = math.Max(most, points[i].l)
	}
	slices.SortStableFunc(points, func(a, b point) int { return cmp.Compare(a.x, b.x) })
	for i, p := range points {
		where := p.x
		if s.back {
			where = 1 - p.x
		}
		no := func(words string) *breach {
			return &breach{p.at, fmt.Sprintf("with %s at %.0f %% of its way %s %s", s.hand.Name, 100*where, y.name, words), y.of}
		}
		switch {
		case p.x == 0 && p.l >= visible:
			return no(fmt.Sprintf("is lit, at %.0f %%", p.l))
		case p.x == 1 && p.l < visible:
			return no("is dark")
		case p.x == 1 && p.l < y.most-8:
			return no(fmt.Sprintf("is at %.0f %%, and driven without a pause it is at %.0f %%", p.l, y.most))
		case p.x == 1 && p.l < most-5:
			return no(fmt.Sprintf("is at %.0f %%, and was brighter before", p.l))
		case i > 0 && p.l < points[i-1].l-5:
			return no(fmt.Sprintf("is at %.0f %%, darker than at %.0f %% of its way", p.l, 100*points[i-1].x))
		}
	}
	return nil
}
