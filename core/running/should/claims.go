package should

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"sort"

	"cablaggio/core/running/bench"
)

// during says where one of the things does not do in a span what it should.
func (s *Sentence) during(rec *bench.Recording, x span) *breach {
	for _, y := range s.things {
		if b := s.does(rec, x, y); b != nil {
			return b
		}
	}
	return nil
}

// does says where a thing does not do in a span what it should.
func (s *Sentence) does(rec *bench.Recording, x span, y thing) *breach {
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

// pulses reports whether something that is off at a time comes on again soon: an alarm that
// beeps sounds.
func (s *Sentence) pulses(r *bench.Row, at float64, x span) bool {
	const soon = 1.5 // s
	for _, t := range changesIn(r, span{at, math.Min(at+soon, x.to)}) {
		if value(r, t) > 0 {
			return true
		}
	}
	return at+soon > x.to && at > x.from
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
	for _, t := range changesIn(r, x) {
		if value(r, t) >= visible && value(r, t-1e-6) < visible {
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
		return no(x.to, "has not blinked")
	}
	hertz := float64(len(rises)-1) / (rises[len(rises)-1] - rises[0])
	if s.hertz > 0 && math.Abs(hertz/s.hertz-1) > 0.15 {
		return no(rises[len(rises)-1], fmt.Sprintf("blinks at %.3g Hz", hertz))
	}
	gap := x.from
	for _, t := range append(rises, x.to) {
		if t-gap > slow {
			return no(t, "has stopped blinking")
		}
		gap = t
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
	sort.Float64s(edges)
	edges = append(edges, rec.Ended)
	for i := 0; i+1 < len(edges); i++ {
		if edges[i+1]-edges[i] < overlaps {
			continue
		}
		first := ""
		for k, x := range s.things {
			if value(rows[k], edges[i]) < visible {
				continue
			}
			if first != "" {
				return &breach{edges[i], fmt.Sprintf("at %.3g s %s and %s are lit together", edges[i], first, x.name), x.of}
			}
			first = x.name
		}
	}
	return nil
}

// presses says which press did not do what it should.
func (s *Sentence) presses(rec *bench.Recording) *breach {
	y := s.things[0]
	r := row(rec, y)
	on := func(t float64) bool {
		if y.kind == bench.LampRow {
			return looks(r, t) >= visible
		}
		return value(r, t) > 0
	}
	of := s.hand.Name
	for i, a := range rec.Actions {
		if a.Of != s.hand.Of || a.Do != bench.Press || a.Key != s.key {
			continue
		}
		// Until something else is done, or the time is over.
		end := a.At + s.within.Seconds()
		next := rec.Ended
		for _, b := range rec.Actions[i+1:] {
			if b.Do == bench.Press || b.Of != s.hand.Of {
				next = b.At
				break
			}
		}
		if end > next {
			continue // too soon to tell
		}
		before, after := on(a.At), on(end)
		no := func(words string) *breach {
			return &breach{end, fmt.Sprintf("%s was pressed at %.3g s, and %s %s", of, a.At, y.name, words), y.of}
		}
		switch s.claim {
		case changes:
			flips, was := 0, before
			for _, t := range append(changesIn(r, span{a.At, next}), end) {
				if now := on(math.Min(t+eye, next)); now != was {
					flips, was = flips+1, now
				}
			}
			if after == before {
				return no(map[bool]string{true: "stayed lit", false: "stayed dark"}[before])
			}
			if flips > 1 {
				return no(fmt.Sprintf("changed %d times", flips))
			}
		case lit, sounds:
			if !after {
				return no(map[claim]string{lit: "is dark", sounds: "is silent"}[s.claim])
			}
		case dark, silent:
			if after {
				return no(map[claim]string{dark: "is lit", silent: "sounds"}[s.claim])
			}
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
