package placement

import (
	"cmp"
	"math"
	"slices"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
)

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
			left, right := pack.sides()
			for _, off := range pack.Left {
				holes = append(holes, at(left, row+off))
			}
			for _, off := range pack.Right {
				holes = append(holes, at(right, row+off))
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
