package placement

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"cablaggio/core/breadboard"
	"cablaggio/core/build"
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

// A shape is where the legs of a unit go beside each other: the first leg of its head is in the
// row origin. Pitch is how many rows further the next unit begins.
type shape struct {
	holes [][]breadboard.Hole // of each part
	low   int                 // the rows that it takes
	high  int
	pitch int
	half  int // 0 left, 1 right, 2 both
}

const (
	origin    = 20 // leaves rows on either side
	mostPitch = 16
	beam      = 400 // shapes that are gone on with, while helpers are added
	perHalf   = 6   // shapes that are tried of each half
)

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

// A claim is what parts take of a breadboard, and which net is in which strip.
type claim struct {
	legs, taken, bodies holeSet
	owner               [2][64]int32 // of the half and the row: the net and 1 more
}

// owns is the net in the strip of a hole, and 1 more; 0: none.
func (c *claim) owns(h breadboard.Hole) *int32 { return &c.owner[side(h.Column)][h.Row] }

// add puts a part in, if there is room for it.
func (c *claim) add(s *state, p *build.Part, holes []breadboard.Hole, nets []int) bool {
	for i, h := range holes {
		if net := *c.owns(h); c.taken.has(h) || c.bodies.has(h) || net != 0 && net != int32(nets[i])+1 {
			return false
		}
		for k, o := range holes[:i] {
			if side(o.Column) == side(h.Column) && o.Row == h.Row && nets[k] != nets[i] {
				return false
			}
		}
	}
	under := s.under(holes)
	for _, h := range under {
		if c.taken.has(h) {
			return false
		}
	}
	over := s.over(holes, s.pack(p))
	for _, h := range over {
		if c.bodies.has(h) || c.legs.has(h) {
			return false
		}
	}
	for i, h := range holes {
		c.legs.add(h)
		c.taken.add(h)
		*c.owns(h) = int32(nets[i]) + 1
	}
	for _, h := range under {
		c.taken.add(h)
	}
	for _, h := range over {
		c.bodies.add(h)
	}
	return true
}

// open reports whether each strip with a net that goes on beyond the unit has a hole left.
func (c *claim) open(s *state) bool {
	for side, rows := range c.owner {
		for row, net := range rows {
			if net != 0 && s.goesOn(int(net)-1) && !slices.ContainsFunc(halves[side], func(col breadboard.Column) bool {
				return !c.taken.has(breadboard.Hole{Column: col, Row: row})
			}) {
				return false
			}
		}
	}
	return true
}

func (s *state) netsOfPart(p *build.Part) []int {
	legs := s.kind(p).LegOrder()
	nets := make([]int, len(legs))
	for i, leg := range legs {
		nets[i] = s.nets.of[build.Of(p.ID, leg)]
	}
	return nets
}

// A draft is a unit of which some parts have their places.
type draft struct {
	shape
	claim claim
}

// shapesOf lists the shapes of a class's units that repeat: in turns for each half, those first
// that take the fewest rows.
func (s *state) shapesOf(c *class) []shape {
	unit := c.units[0]
	drafts := []draft{{}}
	for k, p := range unit {
		var next []draft
		nets := c.nets[0][k]
		for i := range drafts {
			d := &drafts[i]
			s.eachShape(p, k == 0, func(holes []breadboard.Hole) {
				if k > 0 && !d.joins(holes, nets) {
					return
				}
				e := draft{claim: d.claim}
				if !e.claim.add(s, p, holes, nets) {
					return
				}
				e.holes = append(slices.Clone(d.holes), slices.Clone(holes))
				e.measure()
				next = append(next, e)
			})
		}
		slices.SortStableFunc(next, func(a, b draft) int { return cmp.Compare(a.size(), b.size()) })
		drafts = next[:min(len(next), beam)]
	}
	var out []shape
	for i := range drafts {
		if d := &drafts[i]; d.claim.open(s) && s.repeats(c, d) {
			out = append(out, d.shape)
		}
	}
	n := float64(len(c.units) - 1)
	slices.SortStableFunc(out, func(a, b shape) int {
		return cmp.Compare(float64(a.pitch)*n+a.size(), float64(b.pitch)*n+b.size())
	})
	of, seen := [3][]shape{}, map[string]bool{}
	for _, x := range out {
		key := x.rows()
		if !seen[key] && len(of[x.half]) < perHalf { // what lies in the same rows is much the same
			seen[key] = true
			of[x.half] = append(of[x.half], x)
		}
	}
	out = out[:0]
	for i := range perHalf { // the best of each first
		for _, list := range of {
			if i < len(list) {
				out = append(out, list[i])
			}
		}
	}
	return out
}

// rows says in which row and half each leg is.
func (x *shape) rows() string {
	var b []byte
	for _, holes := range x.holes {
		for _, h := range holes {
			b = append(b, byte(h.Row), byte(side(h.Column)))
		}
	}
	return string(b)
}

// joins reports whether a part shares a strip with the unit, as helpers do that need no wire.
func (d *draft) joins(holes []breadboard.Hole, nets []int) bool {
	for i, h := range holes {
		if *d.claim.owns(h) == int32(nets[i])+1 {
			return true
		}
	}
	return false
}

// measure works out which rows and halves a shape takes.
func (x *shape) measure() {
	x.low, x.high = math.MaxInt, 0
	left, right := false, false
	for _, holes := range x.holes {
		for _, h := range holes {
			x.low, x.high = min(x.low, h.Row), max(x.high, h.Row)
			left, right = left || !h.Column.Right(), right || h.Column.Right()
		}
	}
	switch {
	case left && right:
		x.half = 2
	case right:
		x.half = 1
	default:
		x.half = 0
	}
}

// size is what a shape is judged by before it is tried: its rows, and a little for legs far from
// the channel, where wires end.
func (x *shape) size() float64 {
	size := float64(x.high - x.low)
	for _, holes := range x.holes {
		for _, h := range holes {
			size += 0.02 * math.Abs(h.Column.X()-5.5)
		}
	}
	return size
}

// repeats finds the least pitch at which the class's second unit fits beside the first.
func (s *state) repeats(c *class, d *draft) bool {
	for pitch := 1; pitch <= mostPitch; pitch++ {
		claim, fits := d.claim, true
		for k, p := range c.units[1] {
			if fits = fits && claim.add(s, p, d.shape.at(k, pitch, 0, false, nil), c.nets[1][k]); !fits {
				break
			}
		}
		if fits && claim.open(s) {
			d.pitch = pitch
			return true
		}
	}
	return false
}

// eachShape tries the ways in which a part can lie: a head at the origin, a helper near it.
func (s *state) eachShape(p *build.Part, head bool, try func([]breadboard.Hole)) {
	pack := s.pack(p)
	from, to := origin, origin
	if !head {
		from, to = origin-8, origin+12
	}
	at := func(c breadboard.Column, row int) breadboard.Hole { return breadboard.Hole{Column: c, Row: row} }
	for row := from; row <= to; row++ {
		switch {
		case pack.Span[1] > 0:
			reach := int(pack.Span[1])
			for side, half := range halves {
				for i, c := range half {
					for other := row - reach; other <= row+reach; other++ {
						if d := math.Abs(float64(other - row)); d >= pack.Span[0] && d <= pack.Span[1] {
							try([]breadboard.Hole{at(c, row), at(c, other)})
						}
					}
					across := at(halves[1-side][i], row)
					if d := at(c, row).At().To(across.At()); d >= pack.Span[0] && d <= pack.Span[1] {
						try([]breadboard.Hole{at(c, row), across})
					}
				}
			}
		case len(pack.Right) > 0:
			var holes []breadboard.Hole
			for _, off := range pack.Left {
				holes = append(holes, at(breadboard.E, row+off))
			}
			for _, off := range pack.Right {
				holes = append(holes, at(breadboard.F, row+off))
			}
			try(holes)
		default:
			holes := make([]breadboard.Hole, len(pack.Left))
			for _, half := range halves {
				for _, c := range half {
					for _, turned := range []bool{false, true} {
						for i, off := range pack.Left {
							if turned {
								off = pack.rows() - 1 - off
							}
							holes[i] = at(c, row+off)
						}
						try(holes)
					}
				}
			}
		}
	}
}

// at are the holes of a part, moved down, onto a breadboard, and over to the other half; in a
// list that is written over.
func (x *shape) at(part, rows, board int, mirrored bool, list []breadboard.Hole) []breadboard.Hole {
	list = list[:0]
	for _, h := range x.holes[part] {
		if mirrored {
			h.Column = mirror(h.Column)
		}
		list = append(list, breadboard.Hole{Board: board, Column: h.Column, Row: h.Row + rows})
	}
	return list
}

// mirror is the column at the same distance from the channel in the other half.
func mirror(c breadboard.Column) breadboard.Column {
	return halves[1-side(c)][slices.Index(halves[side(c)], c)]
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
	unlike = 20.0 // a unit that lies otherwise than most of its class
	uneven = 4.0  // and one that is not as far from the one before as most are
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
