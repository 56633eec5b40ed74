package placement

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
)

// A class is parts that are alike, each with its helpers: of the same kinds, wired in the same
// way. A careful hand lays them in one line, in the order of their pins, each as the one before.
type class struct {
	units  [][]*build.Part // in the order of their pins
	nets   [][][]int       // of each leg of each part of each unit
	shapes []shape         // of a unit, the ones that take least room first
}

// has reports whether a part is in the class.
func (c *class) has(p *build.Part) bool {
	return slices.ContainsFunc(c.units, func(u []*build.Part) bool { return slices.Contains(u, p) })
}

// within reports whether all parts of the class are in a list.
func (c *class) within(list []*build.Part) bool {
	return !slices.ContainsFunc(c.units, func(u []*build.Part) bool {
		return slices.ContainsFunc(u, func(p *build.Part) bool { return !slices.Contains(list, p) })
	})
}

// classes finds the parts that are alike and free to go anywhere.
func (s *state) classes() (out []*class) {
	by := map[string]*class{}
	for _, g := range s.groups() {
		key, ok := s.signature(g)
		if !ok {
			continue
		}
		c := by[key]
		if c == nil {
			c = &class{}
			by[key] = c
			out = append(out, c)
		}
		c.units = append(c.units, g)
	}
	out = slices.DeleteFunc(out, func(c *class) bool { return len(c.units) < 2 })
	for _, c := range out {
		slices.SortStableFunc(c.units, func(a, b []*build.Part) int { return cmp.Compare(s.place(a[0]), s.place(b[0])) })
		for _, unit := range c.units {
			var nets [][]int
			for _, p := range unit {
				nets = append(nets, s.netsOfPart(p))
			}
			c.nets = append(c.nets, nets)
		}
		c.shapes = s.shapesOf(c)
	}
	return slices.DeleteFunc(out, func(c *class) bool { return len(c.shapes) == 0 })
}

// signature says what a unit is, and how it is wired: two with the same are alike. There is none
// of what stands across the channel with many legs, or comes on wires.
func (s *state) signature(unit []*build.Part) (string, bool) {
	var b strings.Builder
	first := map[int]int{}
	n := 0
	for _, p := range unit {
		pack := s.pack(p)
		if pack.Loose || len(pack.Right) > 2 {
			return "", false
		}
		fmt.Fprintf(&b, "%s %s:", p.Kind, pack.ID)
		for _, leg := range s.kind(p).LegOrder() {
			net := s.nets.of[build.Of(p.ID, leg)]
			if _, seen := first[net]; !seen {
				first[net] = n
			}
			switch {
			case len(s.rails[net]) > 0:
				fmt.Fprintf(&b, "r%d ", net)
			case len(s.headers[net]) > 0:
				fmt.Fprintf(&b, "h%d ", first[net])
			default:
				fmt.Fprintf(&b, "%d%s ", first[net], s.hosts(net, unit))
			}
			n++
		}
	}
	return b.String(), true
}

// hosts names the parts outside a unit that a net leads to: what hangs on one chip is laid by
// that chip.
func (s *state) hosts(net int, unit []*build.Part) string {
	var out []string
	for _, t := range s.nets.members[net] {
		id, _ := t.Split()
		if !t.OnBoard() && !slices.ContainsFunc(unit, func(p *build.Part) bool { return p.ID == id }) && !slices.Contains(out, id) {
			out = append(out, id)
		}
	}
	slices.Sort(out)
	return strings.Join(out, "+")
}

func (s *state) netsOfPart(p *build.Part) []int {
	legs := s.kind(p).LegOrder()
	nets := make([]int, len(legs))
	for i, leg := range legs {
		nets[i] = s.nets.of[build.Of(p.ID, leg)]
	}
	return nets
}

// seatRun seats a whole class by one of its shapes, where that costs least. It reports whether
// there was room. What does not fit in one half goes on in the other, mirrored.
func (s *state) seatRun(c *class, variant int) bool {
	x := c.shapes[variant/2%len(c.shapes)]
	r := run{class: c, shape: x, upwards: variant%2 == 1}
	for _, unit := range c.nets {
		for _, nets := range unit {
			for _, net := range nets {
				s.links[net] = slices.Repeat([]float64{unknown}, s.table.Strips())
			}
		}
	}
	rows := []int{len(c.units)} // of how many units each half gets
	if x.half < 2 && len(c.units) > 3 {
		rows = append(rows, (len(c.units)+1)/2)
	}
	best, least := r, math.Inf(1)
	for r.board = range s.table.Sizes {
		for r.shift = 1 - x.low; r.shift+x.high <= s.table.Sizes[r.board].Rows; r.shift++ {
			for _, r.first = range rows {
				if cost := s.runCost(&r, least); cost < least {
					best, least = r, cost
				}
			}
		}
	}
	if math.IsInf(least, 1) {
		return false
	}
	for i, unit := range c.units {
		for k, p := range unit {
			s.put(p, best.holes(i, k, nil))
		}
	}
	return true
}

// A run is a class that lies in a line by a shape.
type run struct {
	class   *class
	shape   shape
	board   int
	shift   int  // of the rows of the shape
	first   int  // so many units lie in its half, the others mirrored in the other
	upwards bool // the last comes first
}

// holes are those of a part of a unit, in a list that is written over.
func (r *run) holes(unit, part int, list []breadboard.Hole) []breadboard.Hole {
	if r.upwards {
		unit = len(r.class.units) - 1 - unit
	}
	mirrored := unit >= r.first
	if mirrored {
		unit -= r.first
	}
	return r.shape.at(part, r.shift+unit*r.shape.pitch, r.board, mirrored, list)
}

// runCost is what a run costs; infinite where it cannot be, or costs no less than the least so far.
func (s *state) runCost(r *run, least float64) float64 {
	if r.shift+r.shape.high+(min(r.first, len(r.class.units))-1)*r.shape.pitch > s.table.Sizes[r.board].Rows {
		return math.Inf(1)
	}
	cost := 0.0
	var list [16]breadboard.Hole
	for i, unit := range r.class.units {
		for k, p := range unit {
			holes := r.holes(i, k, list[:])
			for _, h := range holes {
				if s.bodies.has(h) {
					return math.Inf(1)
				}
			}
			c := s.costOf(holes, r.class.nets[i][k], least-cost)
			if math.IsInf(c, 1) {
				return c
			}
			for _, h := range s.over(holes, s.pack(p)) {
				if s.bodies.has(h) || s.legs.has(h) {
					return math.Inf(1)
				}
			}
			cost += c
		}
	}
	return cost
}

// What irregularity costs, beside a wire's 10.
const (
	unlike = 30.0 // a unit that lies otherwise than most of its class
	uneven = 8.0  // and one that is not as far from the one before as most are
)

// irregular is what the classes cost that are not laid alike.
func (s *state) irregular() float64 {
	cost := 0.0
	for _, c := range s.alike {
		shapes, steps, apart := map[string]int{}, map[int]int{}, 0
		var before breadboard.Hole
		for i, unit := range c.units {
			key, at := s.lies(unit)
			shapes[key]++
			if i > 0 && at.Board == before.Board && at.Column == before.Column {
				steps[at.Row-before.Row]++
			} else if i > 0 {
				apart++
			}
			before = at
		}
		cost += unlike * float64(len(c.units)-most(shapes))
		cost += uneven * float64(len(c.units)-1-most(steps)-min(apart, 1))
	}
	return cost
}

func most[K comparable](counts map[K]int) (n int) {
	for _, c := range counts {
		n = max(n, c)
	}
	return n
}

// lies says how a unit lies, in either half, and where its first leg is.
func (s *state) lies(unit []*build.Part) (key string, at breadboard.Hole) {
	var b strings.Builder
	at = s.seats[unit[0].ID][0].Hole
	for _, p := range unit {
		for _, l := range s.seats[p.ID] {
			column := l.Hole.Column
			if at.Column.Right() && !column.IsRail() {
				column = mirror(column)
			}
			fmt.Fprintf(&b, "%d%c%d ", l.Hole.Board-at.Board, 'a'+rune(column), l.Hole.Row-at.Row)
		}
	}
	return b.String(), at
}
