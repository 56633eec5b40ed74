package placement

import (
	"slices"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/general/union"
)

// A stop is something that wires of a net go to: a strip, a rail, or a place on
// a header.
type stop struct {
	ends []breadboard.End // where a wire may end there, while they are free
	rail bool
	near breadboard.Point
}

// linked groups the stops that parts join inside, as buttons do, or the plugged-in
// board, so that no wire is laid between them. It returns the group of each.
func (s *state) linked(stops []stop) union.Sets {
	group := union.Apart(len(stops))
	at := func(h breadboard.Hole) int {
		return slices.IndexFunc(stops, func(x stop) bool {
			e := x.ends[0]
			return !e.OnBoard() && s.table.StripOf(e.Hole) == s.table.StripOf(h)
		})
	}
	for _, p := range s.doc.Parts {
		seat := Seat{p.ID, s.seats[p.ID]}
		for _, link := range s.kind(&p).Links {
			a, okA := seat.Hole(link[0])
			b, okB := seat.Hole(link[1])
			if !okA || !okB {
				continue
			}
			if i, j := at(a), at(b); i >= 0 && j >= 0 {
				group.Join(i, j)
			}
		}
	}
	pins := map[string]int{}
	for i, x := range stops {
		if x.ends[0].OnBoard() || x.rail {
			continue
		}
		if name := s.pins[s.table.StripOf(x.ends[0].Hole)]; name != "" {
			if first, seen := pins[name]; seen {
				group.Join(first, i)
			} else {
				pins[name] = i
			}
		}
	}
	return group
}

// capacities is how many wires can still end at the stops of the group of one.
func (s *state) capacities(stops []stop, group union.Sets, of int) (n int) {
	for i := range stops {
		if group.Are(i, of) {
			n += s.capacity(stops[i])
		}
	}
	return n
}

// capacity is how many wires can still end at a stop.
func (s *state) capacity(x stop) (n int) {
	for _, e := range x.ends {
		if s.freeEnd(e) {
			n++
		}
	}
	return n
}

// hub gives an empty strip to a net whose own have no holes left for the wires
// between them: the nearest to the top.
func (s *state) hub(net int) (stop, bool) {
	for b, size := range s.table.Sizes {
		for row := 1; row <= size.Rows; row++ {
			for _, half := range halves {
				h := breadboard.Hole{Board: b, Column: half[0], Row: row}
				strip := s.table.StripOf(h)
				if s.owner[strip] == nobody && s.room(h) == len(half) {
					s.own(strip, net)
					return s.strip(strip), true
				}
			}
		}
	}
	return stop{}, false
}

// strip is a strip as a stop.
func (s *state) strip(strip breadboard.Strip) stop {
	x := stop{near: s.table.Hole(strip, 2).At()}
	for k := range 5 {
		x.ends = append(x.ends, breadboard.InHole(s.table.Hole(strip, k)))
	}
	return x
}

// between is how far two stops are apart: a rail is wherever it is nearest.
func (a stop) between(b stop) float64 {
	p, q := a.near, b.near
	switch {
	case a.rail && b.rail:
		return 1 // rails are linked before anything hangs on them
	case a.rail:
		p.Y = q.Y
	case b.rail:
		q.Y = p.Y
	}
	return p.To(q)
}

// stops lists what the wires of a net go to: the place on the header first, for
// that has one hole.
func (s *state) stops(net int) []stop {
	var out []stop
	if !s.table.Plugged {
		for _, t := range s.nets.members[net] {
			if _, name := t.Split(); t.OnBoard() {
				x := stop{}
				for _, place := range s.table.PlacesOf(name) {
					x.ends = append(x.ends, breadboard.End{Place: place})
				}
				x.near = s.table.At(x.ends[0])
				out = append(out, x)
			}
		}
	}
	var sides [breadboard.MaxBoards][2][2]bool // by breadboard, half, and part of a rail
	var pins, strips []stop
	reached := s.reached(net)
	for _, strip := range s.strips[net] {
		x := s.strip(strip)
		if name := s.pins[strip]; name != "" && !s.seated(strip) {
			if !reached[name] {
				reached[name] = true
				pins = append(pins, x)
			}
			continue
		}
		h := x.ends[0].Hole
		sides[h.Board][side(h.Column)][s.lower(h)] = true
		strips = append(strips, x)
	}
	out = append(out, pins...)
	for _, r := range s.rails[net] {
		x := stop{rail: true}
		for _, row := range r.Rows {
			x.ends = append(x.ends, breadboard.InHole(breadboard.Hole{Board: r.Board, Column: r.Column, Row: row}))
		}
		x.near = x.ends[0].Hole.At()
		half := 0
		if r.Lower {
			half = 1
		}
		if sides[r.Board][side(r.Column)][half] || slices.ContainsFunc(x.ends, func(e breadboard.End) bool { return s.taken.has(e.Hole) }) {
			out = append(out, x)
		}
	}
	return append(out, strips...)
}

// reached lists the places of the plugged-in board in whose strips parts of a
// net sit. The board joins its places of one name, so no wire has to go there.
func (s *state) reached(net int) map[string]bool {
	out := map[string]bool{}
	for _, strip := range s.strips[net] {
		if name := s.pins[strip]; name != "" && s.seated(strip) {
			out[name] = true
		}
	}
	return out
}

// lower is 1 for a row whose rail is the lower half of a broken one.
func (s *state) lower(h breadboard.Hole) int {
	for _, r := range s.railStrips {
		if r.Board == h.Board && r.Column == breadboard.LeftPlus && r.Lower && h.Row >= r.Rows[0]-1 {
			return 1
		}
	}
	return 0
}

// seated reports whether a leg is in a strip.
func (s *state) seated(strip breadboard.Strip) bool { return s.sitting[strip] > 0 }

func (s *state) freeEnd(e breadboard.End) bool {
	if e.OnBoard() {
		return !s.used[e.Place]
	}
	return !s.taken.has(e.Hole)
}
