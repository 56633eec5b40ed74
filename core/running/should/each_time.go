package should

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"time"

	"cablaggio/core/running/bench"
)

// lengths are for how long something is, each time: at least, and at most. The zero lengths are
// any.
type lengths struct{ least, most time.Duration }

func (l lengths) words() string {
	switch {
	case l == lengths{}:
		return ""
	case l.least == l.most:
		return " for " + howLong(l.least) + " at a time"
	case l.most > 0:
		return " for at most " + howLong(l.most) + " at a time"
	}
	return " for at least " + howLong(l.least) + " at a time"
}

// A stretch is a time in which a thing is on, or off.
type stretch struct {
	span
	on    bool
	whole bool // it is seen from its beginning to its end
}

// stretches are those of a thing in a span, as an eye sees them.
func stretches(r *bench.Row, y thing, x span) (out []stretch) {
	at := append([]float64{x.from}, changesIn(r, x)...)
	for i, t := range at {
		on := value(r, t) > 0
		if y.kind == bench.LampRow {
			on = looks(r, math.Min(t+eye, x.to)) >= visible
		}
		if n := len(out); n > 0 && out[n-1].on == on {
			continue
		}
		if n := len(out); n > 0 {
			out[n-1].to, out[n-1].whole = t, n > 1
		}
		out = append(out, stretch{span{t, x.to}, on, false})
		if i > 4000 { // what changes so often is seen as one
			break
		}
	}
	return out
}

// each says where a thing is on, or off, for longer or shorter than it should be each time.
func (s *Sentence) eachTime(rec *bench.Recording, x span, y thing) *breach {
	on := s.wants()
	least, most := s.atATime.least.Seconds(), s.atATime.most.Seconds()
	slack := func(d float64) float64 { return math.Max(0.01, 0.05*d) }
	for _, p := range stretches(row(rec, y), y, x) {
		d := p.to - p.from
		switch {
		case p.on != on:
		case most > 0 && d > most+slack(most):
			return &breach{p.from + most + slack(most), fmt.Sprintf("from %.3g s on %s %s for %.3g s", p.from, y.name, s.oneDoes(), d), y.of}
		case p.whole && d < least-slack(least):
			return &breach{p.to, fmt.Sprintf("at %.3g s %s %s for %.3g s only", p.from, y.name, s.oneDoes(), d), y.of}
		}
	}
	return nil
}

// oneDoes is what one of the things does, in words.
func (s *Sentence) oneDoes() string {
	one := Sentence{things: s.things[:1], claim: s.claim}
	return one.do()[len(s.things[0].name)+1:]
}

// byItself says where a thing blinks, or changes, while no hand does anything.
func (s *Sentence) byItself(rec *bench.Recording, x span, y thing) *breach {
	r := row(rec, y)
	edges := append([]float64{x.from - s.within.Seconds()}, actedBetween(rec, x.from-s.within.Seconds(), x.to)...)
	sort.Float64s(edges)
	for i, from := range edges {
		quiet := span{from + s.within.Seconds(), x.to}
		if i+1 < len(edges) {
			quiet.to = math.Min(edges[i+1], x.to)
		}
		if quiet.to <= quiet.from || coasts(rec, quiet.from) {
			continue
		}
		list := stretches(r, y, quiet)
		if s.claim == steady {
			const soon = 2.5 // s in which something that blinks does so twice
			for k := 0; k+3 < len(list); k++ {
				if a, b := list[k+1], list[k+3]; b.from-a.from < soon {
					return &breach{b.from, fmt.Sprintf("from %.3g s on %s blinks", a.from, y.name), y.of}
				}
			}
			continue
		}
		for _, p := range list[1:] {
			if s.claim == idle || p.on == (s.claim == unlit) {
				words := map[bool]string{true: "comes on by itself", false: "goes off by itself"}[p.on]
				return &breach{p.from, fmt.Sprintf("at %.3g s %s %s", p.from, y.name, words), y.of}
			}
		}
		if s.claim == idle {
			was := looks(r, quiet.from)
			for _, t := range moments(r, quiet) {
				if math.Abs(looks(r, t)-was) > 5 {
					return &breach{t, fmt.Sprintf("at %.3g s %s changed by itself", t, y.name), y.of}
				}
			}
		}
	}
	return nil
}

// coasts reports whether a wheel may turn still.
func coasts(rec *bench.Recording, at float64) bool {
	return slices.ContainsFunc(rec.Actions, func(a bench.Action) bool { return a.Do == bench.Spin && a.At <= at })
}

// turnsOf says where lamps do not light one after the other, in their order.
func (s *Sentence) turnsOf(rec *bench.Recording) *breach {
	list := s.comings(rec)
	for i, c := range list {
		if i == 0 {
			continue
		}
		if want := (list[i-1].nth + 1) % len(s.things); c.nth != want {
			return &breach{c.at, fmt.Sprintf("at %.3g s after %s comes %s", c.at, s.things[list[i-1].nth].name, s.things[c.nth].name), s.things[c.nth].of}
		}
	}
	return nil
}

type coming struct {
	at  float64
	nth int
}

// comings are the times at which the things come on, one after the other.
func (s *Sentence) comings(rec *bench.Recording) (out []coming) {
	for n, y := range s.things {
		for k, p := range stretches(row(rec, y), y, span{0, rec.Ended}) {
			if p.on && (k > 0 || p.from == 0) {
				out = append(out, coming{p.from, n})
			}
		}
	}
	slices.SortStableFunc(out, func(a, b coming) int {
		switch {
		case a.at < b.at:
			return -1
		case a.at > b.at:
			return 1
		}
		return 0
	})
	return out
}
