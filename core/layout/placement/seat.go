package placement

import (
	"fmt"
	"math"
	"slices"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
)

// What a leg costs where it would go, in wires: a wire of its own is one.
const (
	aWire     = 1.0
	aRailWire = 0.4  // short, and nobody minds it
	aStrip    = 0.1  // one that was empty
	perStep   = 0.04 // of the length of a wire
	perLevel  = 0.12 // row away from its place on a header: level wires do not cross
	perRow    = 0.01 // further down
	aCrossing = 0.3  // with a wire that is likely to stay
	aGap      = 0.02 // for each row that is left empty above
	slack     = 14   // rows below the lowest one in use that are tried
)

// seat puts a part where it costs least.
func (s *state) seat(p *build.Part) error {
	legs := s.kind(p).LegOrder()
	nets := make([]int, len(legs))
	wants := make([]*breadboard.Hole, len(legs))
	for i, leg := range legs {
		nets[i] = s.nets.of[build.Of(p.ID, leg)]
		if h, ok := s.fixed[build.Of(p.ID, leg)]; ok {
			wants[i] = &h
		}
	}
	for _, net := range nets {
		s.links[net] = slices.Repeat([]float64{unknown}, s.table.Strips())
	}
	if holes := s.standing(p, legs, nets); holes != nil {
		s.put(p, holes)
		return nil
	}
	pack := s.pack(p)
	best, least := []breadboard.Hole(nil), math.Inf(1)
	try := func(holes []breadboard.Hole) {
		for i, h := range holes {
			if wants[i] != nil && *wants[i] != h {
				return
			}
			if s.bodies.has(h) {
				return
			}
		}
		cost := s.costOf(holes, nets, least)
		if cost >= least {
			return
		}
		for _, h := range s.over(holes, pack) {
			if s.bodies.has(h) || s.legs.has(h) {
				return
			}
		}
		best, least = slices.Clone(holes), cost
	}
	switch {
	case pack.Loose:
		s.eachLoose(p, legs, nets, try)
	case pack.Span[1] > 0:
		s.eachBent(p, legs, pack, nets, false, try)
		if best == nil { // neither along a column nor straight across
			s.eachBent(p, legs, pack, nets, true, try)
		}
	case len(pack.Right) > 0:
		s.eachAcross(pack, try)
	default:
		s.eachInline(pack, try)
	}
	if best == nil {
		return s.noRoom(p, legs)
	}
	s.put(p, best)
	return nil
}

// put seats a part with its legs in holes.
func (s *state) put(p *build.Part, holes []breadboard.Hole) {
	seat := make([]Leg, len(holes))
	for i, leg := range s.kind(p).LegOrder() {
		s.take(holes[i], s.nets.of[build.Of(p.ID, leg)])
		seat[i] = Leg{leg, holes[i]}
	}
	s.seats[p.ID] = seat
	for _, h := range s.under(holes) {
		s.taken.add(h)
	}
	for _, h := range s.over(holes, s.pack(p)) {
		s.bodies.add(h)
	}
}

// standing returns the holes of a part that is plugged in already, if it can
// stay there: nil otherwise.
func (s *state) standing(p *build.Part, legs []string, nets []int) []breadboard.Hole {
	var holes []breadboard.Hole
	for i, leg := range legs {
		t := build.Of(p.ID, leg)
		e, ok := s.kept.Legs[t]
		if _, moved := s.fixed[t]; !ok || moved || s.table.CheckEnd(e) != nil || s.taken.has(e.Hole) || s.bodies.has(e.Hole) || s.owned(e.Hole, nets[i]) {
			return nil
		}
		holes = append(holes, e.Hole)
	}
	for _, h := range slices.Concat(s.under(holes), s.over(holes, s.pack(p))) {
		if s.legs.has(h) {
			return nil
		}
	}
	return holes
}

// owned reports whether the strip of a hole belongs to another net, or is a rail
// that carries none.
func (s *state) owned(h breadboard.Hole, net int) bool {
	owner := s.owner[s.table.StripOf(h)]
	return owner != net && (owner != nobody || h.Column.IsRail())
}

func (s *state) noRoom(p *build.Part, legs []string) error {
	e := &NoRoomError{Part: p.Name, Why: "take a bigger breadboard or a second one, or leave parts out"}
	for _, leg := range legs {
		h, ok := s.fixed[build.Of(p.ID, leg)]
		if !ok {
			continue
		}
		e.Why = fmt.Sprintf("it cannot sit with a leg in %s", h)
		switch net := s.owner[s.table.StripOf(h)]; {
		case s.taken.has(h):
			e.Why = fmt.Sprintf("%s is taken", h)
		case net != nobody && net != s.nets.of[build.Of(p.ID, leg)]:
			e.Why = fmt.Sprintf("the row of %s belongs to %s", h, s.holds(net))
		}
	}
	return e
}

func (s *state) take(h breadboard.Hole, net int) {
	s.taken.add(h)
	s.legs.add(h)
	strip := s.table.StripOf(h)
	s.sitting[strip]++
	if !h.Column.IsRail() {
		s.own(strip, net)
		s.bottom = max(s.bottom, h.Row)
	}
	s.waiting[net]--
}

// costOf returns what legs of nets cost in holes: infinity where they cannot be,
// or where they cost no less than the least so far.
func (s *state) costOf(holes []breadboard.Hole, nets []int, least float64) float64 {
	cost := 0.0
	for i, h := range holes {
		if s.taken.has(h) {
			return math.Inf(1)
		}
		strip := s.table.StripOf(h)
		owner := s.owner[strip]
		if owner != nobody && owner != nets[i] {
			return math.Inf(1)
		}
		if h.Column.IsRail() {
			if owner == nobody {
				return math.Inf(1)
			}
			continue
		}
		if owner == nobody {
			if s.room(h) < 2 && (s.goesOn(nets[i]) || len(s.strips[nets[i]]) > 0) {
				return math.Inf(1) // other parts lie over the rest
			}
			cost += aStrip + s.link(nets[i], h) + perRow*float64(h.Row) + aGap*math.Max(0, float64(h.Row-s.bottom-1))
			// The outer columns stay free for wires.
			cost += 0.005 * math.Abs(h.Column.X()-5.5)
			continue
		}
		if s.room(h) < 2 && s.goesOn(nets[i]) {
			return math.Inf(1) // a wire must still find a hole
		}
		cost += 0.005 * math.Abs(h.Column.X()-5.5)
	}
	if cost >= least {
		return math.Inf(1)
	}
	covered := s.under(holes)
	for _, h := range covered {
		if s.taken.has(h) {
			return math.Inf(1)
		}
		strip := s.table.StripOf(h)
		in := func(o breadboard.Hole) bool { return s.table.StripOf(o) == strip }
		gone := count(covered, in) + count(holes, in)
		if owner := s.owner[strip]; owner != nobody && s.room(h) <= gone && s.comesTo(owner, nets) {
			return math.Inf(1)
		}
	}
	return cost
}

// room counts the free holes of the strip that a hole is in.
func (s *state) room(h breadboard.Hole) (n int) {
	for _, c := range halves[side(h.Column)] {
		if !s.taken.has(breadboard.Hole{Board: h.Board, Column: c, Row: h.Row}) {
			n++
		}
	}
	return n
}

func side(c breadboard.Column) int {
	if c.Right() {
		return 1
	}
	return 0
}

// goesOn reports whether a net has more than the one strip that a leg of it is
// about to join.
func (s *state) goesOn(net int) bool {
	return s.waiting[net] > 1 || len(s.strips[net]) > 1 || len(s.rails[net]) > 0 || len(s.headers[net]) > 0
}

// comesTo reports whether something will come to the strips that a net has, after a part
// with legs in these nets is seated: another leg of it, or a wire.
func (s *state) comesTo(net int, nets []int) bool {
	own := 0
	for _, n := range nets {
		if n == net {
			own++
		}
	}
	return s.waiting[net] > own || s.goesOn(net)
}

// unknown stands for what link has not found out yet.
const unknown = -1

// link returns what it costs to join a new strip, that of a hole, to the rest of
// its net.
func (s *state) link(net int, h breadboard.Hole) float64 {
	known := &s.links[net][s.table.StripOf(h)]
	if *known == unknown {
		*known = s.findLink(net, middle(h))
	}
	return *known
}

func (s *state) findLink(net int, h breadboard.Hole) float64 {
	nearest := math.Inf(1)
	for _, r := range s.rails[net] {
		if r.Board == h.Board {
			nearest = math.Min(nearest, math.Abs(h.Column.X()-r.Column.X()))
		}
	}
	if !math.IsInf(nearest, 1) {
		return aRailWire + perStep*nearest/4
	}
	from, to := h.At(), breadboard.Point{}
	for _, strip := range s.strips[net] {
		at := s.table.Hole(strip, 2).At()
		if d := from.To(at); d < nearest {
			nearest, to = d, at
		}
	}
	cost := aWire + perStep*nearest
	if len(s.strips[net]) == 0 {
		cost = math.Inf(1)
		for _, at := range s.headers[net] {
			if away := aWire + perStep*from.To(at) + perLevel*math.Abs(from.Y-at.Y); away < cost {
				cost, to = away, at
			}
		}
	}
	if math.IsInf(cost, 1) {
		return 0
	}
	for _, l := range s.lie {
		if l.crosses(line{from, to}) {
			cost += aCrossing
		}
	}
	return cost
}

// middle returns the middle hole of the row that a hole is in.
func middle(h breadboard.Hole) breadboard.Hole {
	h.Column = halves[side(h.Column)][2]
	return h
}

// over lists the holes beside its legs that the body of a part covers: a wire
// still finds its way there, another part does not. The next call writes over
// the list.
func (s *state) over(holes []breadboard.Hole, pack *Package) []breadboard.Hole {
	if pack.Wide == 0 {
		return nil
	}
	out := s.body[:0]
	first, last := holes[0], holes[0]
	for _, h := range holes {
		first.Row, last.Row = min(first.Row, h.Row), max(last.Row, h.Row)
	}
	for by := -pack.Wide; by <= pack.Wide; by++ {
		c := int(first.Column) + by
		if c < int(breadboard.A) || c > int(breadboard.J) || breadboard.Column(c).Right() != first.Column.Right() {
			continue
		}
		for row := first.Row; row <= last.Row; row++ {
			if h := (breadboard.Hole{Board: first.Board, Column: breadboard.Column(c), Row: row}); !slices.Contains(holes, h) {
				out = append(out, h)
			}
		}
	}
	s.body = out
	return out
}

// under lists the holes that lie under a part: between legs in one column, and
// between two legs in one row. The next call writes over the list.
func (s *state) under(holes []breadboard.Hole) []breadboard.Hole {
	if len(holes) == 1 {
		return nil
	}
	out := s.covered[:0]
	for i, a := range holes {
		for _, b := range holes[i+1:] {
			if a.Board != b.Board || a.Column.IsRail() || b.Column.IsRail() {
				continue
			}
			switch {
			case a.Column == b.Column:
				for row := min(a.Row, b.Row) + 1; row < max(a.Row, b.Row); row++ {
					out = append(out, breadboard.Hole{Board: a.Board, Column: a.Column, Row: row})
				}
			case a.Row == b.Row && len(holes) == 2:
				for c := min(a.Column, b.Column) + 1; c < max(a.Column, b.Column); c++ {
					out = append(out, breadboard.Hole{Board: a.Board, Column: c, Row: a.Row})
				}
			}
		}
	}
	s.covered = slices.DeleteFunc(out, func(h breadboard.Hole) bool { return slices.Contains(holes, h) })
	return s.covered
}

func count[T any](list []T, is func(T) bool) (n int) {
	for _, x := range list {
		if is(x) {
			n++
		}
	}
	return n
}
