package placement

import (
	"math"
	"slices"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
)

// lowest is the lowest row of a breadboard that is worth a try.
func (s *state) lowest(b int) int {
	if len(s.fixed) > 0 || b > 0 {
		return s.table.Sizes[b].Rows
	}
	return min(s.table.Sizes[b].Rows, max(s.bottom, 1)+slack)
}

// halves are the columns of the two halves, from the channel outwards.
var halves = [2][]breadboard.Column{
	{breadboard.E, breadboard.D, breadboard.C, breadboard.B, breadboard.A},
	{breadboard.F, breadboard.G, breadboard.H, breadboard.I, breadboard.J},
}

// eachInline tries a part with all legs in one column, both ways round.
func (s *state) eachInline(pack *Package, try func([]breadboard.Hole)) {
	n := pack.rows()
	holes := make([]breadboard.Hole, len(pack.Left))
	for b := range s.table.Sizes {
		for row := 1; row+n-1 <= s.lowest(b); row++ {
			for _, half := range halves {
				for _, column := range half {
					for _, turned := range []bool{false, true} {
						for i, off := range pack.Left {
							if turned {
								off = n - 1 - off
							}
							holes[i] = breadboard.Hole{Board: b, Column: column, Row: row + off}
						}
						try(holes)
					}
				}
			}
		}
	}
}

// eachAcross tries a part across the channel. Its first leg is always at the
// top left, so that chips all look the same way.
func (s *state) eachAcross(pack *Package, try func([]breadboard.Hole)) {
	var holes []breadboard.Hole
	left, right := pack.sides()
	for b := range s.table.Sizes {
		for row := 1; row+pack.rows()-1 <= s.lowest(b); row++ {
			holes = holes[:0]
			for _, off := range pack.Left {
				holes = append(holes, breadboard.Hole{Board: b, Column: left, Row: row + off})
			}
			for _, off := range pack.Right {
				holes = append(holes, breadboard.Hole{Board: b, Column: right, Row: row + off})
			}
			try(holes)
		}
	}
}

// eachBent tries two bent legs: the first in any strip, the second as far as
// the legs reach, along a column or across the channel: straight, or slanted.
func (s *state) eachBent(p *build.Part, legs []string, pack *Package, nets []int, slanted bool, try func([]breadboard.Hole)) {
	reach := int(pack.Span[1])
	for b := range s.table.Sizes {
		for row := 1; row <= s.lowest(b); row++ {
			for side, half := range halves {
				if s.shut(b, half[0], row, nets[0]) {
					continue
				}
				for to := max(1, row-reach); to <= min(s.lowest(b), row+reach); to++ {
					if !slanted && !s.shut(b, half[0], to, nets[1]) {
						for _, c := range half {
							s.bent(pack, breadboard.Hole{Board: b, Column: c, Row: row}, breadboard.Hole{Board: b, Column: c, Row: to}, try)
						}
					}
					if (row != to) != slanted || s.shut(b, halves[1-side][0], to, nets[1]) {
						continue
					}
					// Across: at the same distance from the channel.
					for i, c := range half {
						s.bent(pack, breadboard.Hole{Board: b, Column: c, Row: row}, breadboard.Hole{Board: b, Column: halves[1-side][i], Row: to}, try)
					}
				}
			}
		}
	}
	// What the builder has fixed may be anywhere that the legs reach.
	a, okA := s.fixed[build.Of(p.ID, legs[0])]
	c, okC := s.fixed[build.Of(p.ID, legs[1])]
	if okA && okC {
		s.bent(pack, a, c, try)
	}
}

func (s *state) bent(pack *Package, from, to breadboard.Hole, try func([]breadboard.Hole)) {
	if d := from.At().To(to.At()); d >= pack.Span[0] && d <= pack.Span[1] {
		try([]breadboard.Hole{from, to})
	}
}

// shut reports whether a strip belongs to another net.
func (s *state) shut(b int, c breadboard.Column, row, net int) bool {
	owner := s.owner[s.table.StripOf(breadboard.Hole{Board: b, Column: c, Row: row})]
	return owner != nobody && owner != net
}

// eachLoose lets each wire of a part go where it costs least by itself: into a
// rail that carries its net, or into a strip.
func (s *state) eachLoose(p *build.Part, legs []string, nets []int, try func([]breadboard.Hole)) {
	holes := make([]breadboard.Hole, len(legs))
	// Rails are everywhere: their wires go where the others have gone.
	order := make([]int, len(legs))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return len(s.rails[nets[a]]) - len(s.rails[nets[b]]) })
	var gone []breadboard.Hole // the builder's own choices first: the others go beside them
	fixed := make([]bool, len(legs))
	for i, leg := range legs {
		if holes[i], fixed[i] = s.fixed[build.Of(p.ID, leg)]; fixed[i] {
			gone = append(gone, holes[i])
		}
	}
	for _, i := range order {
		net := nets[i]
		if fixed[i] {
			continue
		}
		least := math.Inf(1)
		look := func(h breadboard.Hole) {
			if s.bodies.has(h) {
				return
			}
			if slices.Contains(gone, h) || slices.ContainsFunc(gone, func(o breadboard.Hole) bool { return s.table.StripOf(o) == s.table.StripOf(h) }) && s.owner[s.table.StripOf(h)] == nobody {
				return
			}
			cost := s.costOf([]breadboard.Hole{h}, nets[i:i+1], math.Inf(1))
			if len(gone) > 0 {
				cost += perRow * math.Abs(float64(h.Row-gone[0].Row))
			}
			if cost < least {
				holes[i], least = h, cost
			}
		}
		for _, r := range s.rails[net] {
			for _, row := range r.Rows {
				look(breadboard.Hole{Board: r.Board, Column: r.Column, Row: row})
			}
		}
		for b := range s.table.Sizes {
			for row := 1; row <= s.lowest(b); row++ {
				for _, half := range halves {
					for _, c := range half {
						look(breadboard.Hole{Board: b, Column: c, Row: row})
					}
				}
			}
		}
		if math.IsInf(least, 1) {
			return
		}
		gone = append(gone, holes[i])
	}
	try(holes)
}
