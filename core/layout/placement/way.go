package placement

import (
	"math"
	"slices"

	"cablaggio/core/catalogue/breadboard"
)

// apart is how far beside a body a wire is laid that goes round it, in holes, the next one further
// out; where bodies stand too close for that, as little as there is.
var apart = [][]float64{{0.35, 0.6, 0.85}, {0.1, 0.02}}

// own is how far from the bends of others those of a wire are, in holes, so that it can be followed.
const own = 0.2

// mostMet is how many bodies a wire goes round at most: one that meets more lies over them, as it would
// be longer to find a way, and to follow it, than it is worth.
const mostMet = 16

// goRound lays the wires that would lie over a body round it, where there is a way: the shortest along
// the corners of what stands there (Lozano-Pérez and Wesley, Commun. ACM 22, 1979), in which
// crossing another wire counts as much as [around].
func (s *state) goRound() {
	for i := range s.wires {
		w := &s.wires[i]
		if s.covers(w.line) == 0 {
			continue
		}
		for _, beside := range apart {
			if way := s.wayRound(i, beside); way != nil {
				w.Way, w.Round = way, s.across(w.line)
				s.cut(w)
				break
			}
		}
	}
}

// path is where a wire lies, from end to end.
func (w Jumper) path() []breadboard.Point {
	return slices.Concat([]breadboard.Point{w.line.from}, w.Way, []breadboard.Point{w.line.to})
}

func lengthOf(path []breadboard.Point) (length float64) {
	for i, p := range path[1:] {
		length += path[i].To(p)
	}
	return length
}

// wayRound returns the bends of the shortest way of the i-th wire that goes over no body, nil where
// there is none. Only the bodies that are met are gone round: those on the straight line at first,
// then those on the way found, until it is free.
func (s *state) wayRound(i int, beside []float64) []breadboard.Point {
	from, to := s.wires[i].line.from, s.wires[i].line.to
	var bodies []box
	for _, b := range s.boxes() {
		if !b.has(from) && !b.has(to) {
			bodies = append(bodies, b)
		}
	}
	others := s.others(i)
	var met []box
	for way := []breadboard.Point{}; ; {
		path, more := slices.Concat([]breadboard.Point{from}, way, []breadboard.Point{to}), false
		for _, b := range bodies {
			if !slices.Contains(met, b) && slices.ContainsFunc(segments(path), b.crosses) {
				met, more = append(met, b), true
			}
		}
		switch {
		case !more:
			return way
		case len(met) > mostMet:
			return nil
		}
		at := []breadboard.Point{from, to}
		for _, b := range met {
			for _, by := range beside {
				for _, c := range b.corners(by) {
					if !slices.ContainsFunc(bodies, func(o box) bool { return o.has(c) }) && !s.bends(c) {
						at = append(at, c)
					}
				}
			}
		}
		if way = shortest(at, met, others); way == nil {
			return nil
		}
	}
}

// shortest returns the places at which the shortest way bends from the first of some places to the
// second, over none of the bodies; nil where there is none (Dijkstra, Numer. Math. 1, 1959).
func shortest(at []breadboard.Point, bodies []box, wires []line) []breadboard.Point {
	far := slices.Repeat([]float64{math.Inf(1)}, len(at))
	before, done := make([]int, len(at)), make([]bool, len(at))
	for far[0] = 0; ; {
		near := -1
		for k := range at {
			if !done[k] && !math.IsInf(far[k], 1) && (near < 0 || far[k] < far[near]) {
				near = k
			}
		}
		switch near {
		case -1:
			return nil
		case 1:
			way := []breadboard.Point{}
			for k := before[1]; k != 0; k = before[k] {
				way = append(way, at[k])
			}
			slices.Reverse(way)
			return way
		}
		done[near] = true
		for k := range at {
			l := line{at[near], at[k]}
			if done[k] || far[near]+l.length() >= far[k] || slices.ContainsFunc(bodies, func(b box) bool { return b.crosses(l) }) {
				continue
			}
			if d := far[near] + l.length() + around*float64(crossed(wires, l)); d < far[k] {
				far[k], before[k] = d, near
			}
		}
	}
}

// segments are the lines of a path.
func segments(path []breadboard.Point) []line {
	var out []line
	for k := range path[1:] {
		out = append(out, line{path[k], path[k+1]})
	}
	return out
}

// others are the lines along which the wires lie, but for the i-th.
func (s *state) others(i int) (out []line) {
	for j, w := range s.wires {
		if j == i {
			continue
		}
		out = append(out, segments(w.path())...)
	}
	return out
}

func crossed(lines []line, l line) (count int) {
	for _, o := range lines {
		if l.crosses(o) {
			count++
		}
	}
	return count
}

// bends reports whether another wire bends there.
func (s *state) bends(at breadboard.Point) bool {
	return slices.ContainsFunc(s.wires, func(w Jumper) bool {
		return slices.ContainsFunc(w.Way, func(p breadboard.Point) bool { return p.To(at) < own })
	})
}

// corners are those of a box that is larger on every side.
func (b box) corners(by float64) [4]breadboard.Point {
	return [4]breadboard.Point{
		{X: b.low.X - by, Y: b.low.Y - by}, {X: b.high.X + by, Y: b.low.Y - by},
		{X: b.high.X + by, Y: b.high.Y + by}, {X: b.low.X - by, Y: b.high.Y + by},
	}
}

// across are the parts over whose bodies a line lies.
func (s *state) across(l line) (ids []string) {
	for _, b := range s.boxes() {
		if b.lies(l) {
			ids = append(ids, b.part)
		}
	}
	return ids
}
