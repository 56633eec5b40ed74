package placement

import (
	"cmp"
	"math"
	"slices"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
	"cablaggio/core/general/union"
)

// route joins the strips of each net with wires: a shortest tree over strips,
// rails and places on the headers (Prim, Bell Syst. Tech. J. 36, 1957), in which
// every end has a hole of its own.
func (s *state) route() error {
	order := make([]int, len(s.nets.members))
	for i := range order {
		order[i] = i
	}
	// Rails first: their wires are short and belong outside.
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(len(s.rails[b]), len(s.rails[a])) })
	for _, net := range order {
		if err := s.routeNet(net); err != nil {
			return err
		}
	}
	return nil
}

func (s *state) routeNet(net int) error {
	stops := s.stops(net)
	if len(stops) < 2 {
		return nil
	}
	group := s.linked(stops)
	s.relay(net, stops, group)
	joined := make([]bool, len(group)) // by group
	left := 0                          // free ends in the tree
	join := func(i int) {
		joined[group[i]] = true
		for j := range stops {
			if group[j] == group[i] {
				left += s.capacity(stops[j])
			}
		}
	}
	join(0)
	for missing := group.Count() - 1; missing > 0; {
		from, to, least := -1, -1, math.Inf(1)
		for i := range stops {
			if !joined[group[i]] || s.capacity(stops[i]) == 0 {
				continue
			}
			for j := range stops {
				// The tree must not close before everything is in it.
				if joined[group[j]] || s.capacity(stops[j]) == 0 || missing > 1 && left+s.capacities(stops, group, j) < 3 {
					continue
				}
				d := stops[i].between(stops[j])
				// A net with rails goes by them, and not from row to row.
				if len(s.rails[net]) > 0 && !stops[i].rail && !stops[j].rail {
					d += 30
				}
				if d < least {
					from, to, least = i, j, d
				}
			}
		}
		if to < 0 {
			hub, ok := s.hub(net)
			if !ok {
				return &NoRoomError{Part: s.holds(net), Why: "no hole is left for a wire; take a bigger breadboard"}
			}
			group, joined = append(group, len(joined)), append(joined, false)
			stops = append(stops, hub)
			missing++
			continue
		}
		join(to)
		left -= 2
		missing--
		s.wire(net, stops[from], stops[to])
	}
	s.prune(net, stops)
	return nil
}

// prune takes out the wires to rails that serve nothing else: no leg sits in
// them, and no second wire leaves them.
func (s *state) prune(net int, stops []stop) {
	within := func(e breadboard.End, x stop) bool {
		return !e.OnBoard() && s.table.StripOf(e.Hole) == s.table.StripOf(x.ends[0].Hole)
	}
	for pruned := true; pruned; {
		pruned = false
		for _, x := range stops {
			if !x.rail || s.seated(s.table.StripOf(x.ends[0].Hole)) {
				continue
			}
			var at []int
			for i, w := range s.wires {
				if w.net == net && (within(w.From, x) || within(w.To, x)) {
					at = append(at, i)
				}
			}
			if len(at) != 1 {
				continue
			}
			s.vacate(s.wires[at[0]].Wire)
			s.wires = slices.Delete(s.wires, at[0], at[0]+1)
			pruned = true
		}
	}
}

// relay lays those wires of a net first that are there already, and joins the
// groups of what they lead to. The holes of those that lead nowhere are free.
func (s *state) relay(net int, stops []stop, group union.Sets) {
	at := func(e breadboard.End) int {
		return slices.IndexFunc(stops, func(x stop) bool { return slices.Contains(x.ends, e) })
	}
	for _, w := range s.standingWires {
		i, j := at(w.From), at(w.To)
		switch {
		case i < 0 && j < 0:
			continue // of another net
		case i < 0 || j < 0 || group[i] == group[j]:
			s.vacate(w)
		default:
			group.Join(i, j)
			s.lay(net, w)
		}
	}
}

// around is how many holes longer a wire may be, to cross one wire or one body less.
const around = 3.0

// wire joins two stops by the shortest way that crosses few others, and few bodies.
func (s *state) wire(net int, a, b stop) {
	best, least := build.Wire{}, math.Inf(1)
	type end struct {
		breadboard.End
		at breadboard.Point
	}
	var room [16]end
	far := room[:0]
	for _, to := range b.ends {
		if s.freeEnd(to) {
			far = append(far, end{to, s.table.At(to)})
		}
	}
	for _, from := range a.ends {
		if !s.freeEnd(from) {
			continue
		}
		at := s.table.At(from)
		for _, to := range far {
			l := line{at, to.at}
			cost := l.length()
			if cost >= least {
				continue
			}
			if cost += around * float64(s.crossings(l, len(s.wires))); cost >= least {
				continue
			}
			if cost += around * float64(s.hides(l)); cost < least {
				best, least = build.Wire{From: from, To: to.End}, cost
			}
		}
	}
	s.lay(net, best)
}

// lay puts a wire in.
func (s *state) lay(net int, w build.Wire) {
	s.occupy(w)
	j := Jumper{Wire: w, For: s.serves(net, w), net: net, line: line{s.table.At(w.From), s.table.At(w.To)}}
	s.cut(&j)
	s.wires = append(s.wires, j)
}

// cut says how long a wire has to be that lies as it does, or which of those at hand to take.
func (s *state) cut(j *Jumper) {
	j.Millimetres, j.TooLong = millimetres(lengthOf(j.path())), false
	if a := s.doc.Assembly; a != nil && a.Stock != nil && len(a.Stock.Lengths) > 0 {
		i, _ := slices.BinarySearch(a.Stock.Lengths, j.Millimetres)
		if j.TooLong = i == len(a.Stock.Lengths); !j.TooLong {
			j.Millimetres = a.Stock.Lengths[i]
		}
	}
}

// occupy takes the holes of a wire, vacate gives them back.
func (s *state) occupy(w build.Wire) {
	for _, e := range []breadboard.End{w.From, w.To} {
		if e.OnBoard() {
			s.used[e.Place] = true
		} else {
			s.taken.add(e.Hole)
		}
	}
}

func (s *state) vacate(w build.Wire) {
	for _, e := range []breadboard.End{w.From, w.To} {
		if e.OnBoard() {
			delete(s.used, e.Place)
		} else {
			s.taken.remove(e.Hole)
		}
	}
}

// crossings counts the wires before the n-th that a line crosses.
func (s *state) crossings(l line, n int) (count int) {
	for i := range s.wires[:n] {
		if l.crosses(s.wires[i].line) {
			count++
		}
	}
	return count
}

// liesOn reports whether two lines of about the same direction lie on each other.
func (l line) liesOn(o line) bool {
	long := l.length()
	ux, uy := (l.to.X-l.from.X)/long, (l.to.Y-l.from.Y)/long
	at := func(p breadboard.Point) (along, beside float64) {
		x, y := p.X-l.from.X, p.Y-l.from.Y
		return x*ux + y*uy, x*uy - y*ux
	}
	a, besideA := at(o.from)
	b, besideB := at(o.to)
	from, to := math.Max(0, math.Min(a, b)), math.Min(long, math.Max(a, b))
	if to-from < onTopFor {
		return false
	}
	beside := func(t float64) float64 { return besideA + (besideB-besideA)*(t-a)/(b-a) }
	return math.Abs(beside(from)) < onTop && math.Abs(beside(to)) < onTop || beside(from)*beside(to) < 0
}

// A line is the straight way of a wire.
type line struct{ from, to breadboard.Point }

func (l line) length() float64 { return l.from.To(l.to) }

// Two wires lie on each other, and cannot be told apart, where they run less than this beside each
// other for more than that, in holes.
const onTop, onTopFor = 0.4, 1.5

// crosses reports whether two lines cross between their ends, or lie on each other.
func (l line) crosses(o line) bool {
	if max(l.from.X, l.to.X) < min(o.from.X, o.to.X)-onTop || max(o.from.X, o.to.X) < min(l.from.X, l.to.X)-onTop ||
		max(l.from.Y, l.to.Y) < min(o.from.Y, o.to.Y)-onTop || max(o.from.Y, o.to.Y) < min(l.from.Y, l.to.Y)-onTop {
		return false
	}
	dx, dy, ex, ey := l.to.X-l.from.X, l.to.Y-l.from.Y, o.to.X-o.from.X, o.to.Y-o.from.Y
	if turn := dx*ey - dy*ex; turn*turn < 0.04*(dx*dx+dy*dy)*(ex*ex+ey*ey) {
		return l.liesOn(o)
	}
	side := func(p, q, r breadboard.Point) float64 { return (q.X-p.X)*(r.Y-p.Y) - (q.Y-p.Y)*(r.X-p.X) }
	return side(l.from, l.to, o.from)*side(l.from, l.to, o.to) < 0 && side(o.from, o.to, l.from)*side(o.from, o.to, l.to) < 0
}

// Both ends of a wire go 7 mm into a hole (common practice), and a wire is cut to
// whole centimetres.
const inHoles, cutTo = 2 * 7, 10

// Length returns how long a wire has to be that goes straight, in millimetres.
func Length(t *breadboard.Table, w build.Wire) int { return millimetres(t.At(w.From).To(t.At(w.To))) }

// millimetres is how long a wire has to be for a way of so many holes.
func millimetres(way float64) int {
	return int(math.Ceil((way*breadboard.Pitch+inHoles)/cutTo)) * cutTo
}

// serves returns the part that a wire belongs to when things are done part by
// part: the one with a leg in its strip, of a lamp's resistor the lamp.
func (s *state) serves(net int, w build.Wire) string {
	var heads []string
	for _, e := range []breadboard.End{w.From, w.To} {
		if e.OnBoard() || e.Hole.Column.IsRail() {
			continue
		}
		var here []string
		for _, p := range s.doc.Parts {
			for _, l := range s.seats[p.ID] {
				if s.table.StripOf(l.Hole) != s.table.StripOf(e.Hole) {
					continue
				}
				head := p.ID
				if s.doc.Part(p.Of) != nil {
					head = p.Of
				}
				if !slices.Contains(here, head) {
					here = append(here, head)
				}
			}
		}
		if len(here) > 0 {
			heads = append(heads, here[len(here)-1])
		}
	}
	if len(heads) == 0 {
		return ""
	}
	return heads[len(heads)-1]
}
