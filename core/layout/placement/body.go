package placement

import (
	"math"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/catalogue/part"
)

// How large bodies are, seen from above, in holes: lamps of 5 mm and resistors of a quarter of a watt
// with what a hand leaves around them, and boxes around the legs of everything else (common practice).
const (
	LampRadius = 0.95
	BentHalf   = 1.25 // of a resistor or a diode, along; shorter where its legs stand close
	BentWide   = 0.42 // of it, to either side
	Edge       = 0.42 // of a box, beyond the legs
)

// Beside is how far a body that is a box goes beyond its legs to the left and to the right: not as
// far as the holes that stay free there.
func (p *Package) Beside() float64 { return math.Max(Edge, float64(p.Wide)-Edge) }

// IsLamp reports whether a body is that of a lamp with two legs: round, between them.
func IsLamp(kind *part.Kind) bool { return kind.Is(part.LED) && kind.Symbol == "led" }

// Half is half the length of the body of a resistor or a diode whose legs are so far apart.
func Half(legs float64) float64 { return math.Min(BentHalf, 0.36*legs) }

// covers counts the parts whose bodies a line crosses, and does not end under.
func (s *state) covers(l line) (count int) {
	for _, b := range s.boxes() {
		if b.lies(l) {
			count++
		}
	}
	return count
}

// hides counts the bodies that a line crosses or ends under.
func (s *state) hides(l line) (count int) {
	for _, b := range s.boxes() {
		if b.crosses(l) {
			count++
		}
	}
	return count
}

// A box is what the body of a part covers, seen from above.
type box struct {
	low, high breadboard.Point
	part      string
}

// lies reports whether a line lies over a box, and does not end in it.
func (b box) lies(l line) bool { return b.crosses(l) && !b.has(l.from) && !b.has(l.to) }

func (b box) has(p breadboard.Point) bool {
	return p.X > b.low.X && p.X < b.high.X && p.Y > b.low.Y && p.Y < b.high.Y
}

// crosses reports whether a line goes through a box (Liang and Barsky, ACM Trans. Graph. 3, 1984).
func (b box) crosses(l line) bool {
	if max(l.from.X, l.to.X) <= b.low.X || min(l.from.X, l.to.X) >= b.high.X || max(l.from.Y, l.to.Y) <= b.low.Y || min(l.from.Y, l.to.Y) >= b.high.Y {
		return false
	}
	from, to := 0.0, 1.0
	for _, side := range [4][2]float64{
		{l.from.X - l.to.X, l.from.X - b.low.X}, {l.to.X - l.from.X, b.high.X - l.from.X},
		{l.from.Y - l.to.Y, l.from.Y - b.low.Y}, {l.to.Y - l.from.Y, b.high.Y - l.from.Y},
	} {
		switch p, q := side[0], side[1]; {
		case p == 0 && q <= 0:
			return false
		case p < 0:
			from = math.Max(from, q/p)
		case p > 0:
			to = math.Min(to, q/p)
		}
	}
	return from < to
}

// boxes are those of all bodies.
func (s *state) boxes() []box {
	if s.covering != nil {
		return s.covering
	}
	for i := range s.doc.Parts {
		p := &s.doc.Parts[i]
		pack := s.pack(p)
		if pack.Loose || len(s.seats[p.ID]) == 0 {
			continue
		}
		b := boxOf(s.kind(p), pack, s.seats[p.ID])
		b.part = p.ID
		s.covering = append(s.covering, b)
	}
	return s.covering
}

// boxOf is the box of a body that sits there.
func boxOf(kind *part.Kind, pack *Package, legs []Leg) box {
	b := box{low: breadboard.Point{X: math.Inf(1), Y: math.Inf(1)}, high: breadboard.Point{X: math.Inf(-1), Y: math.Inf(-1)}}
	for _, leg := range legs {
		at := leg.Hole.At()
		b.low.X, b.high.X = math.Min(b.low.X, at.X), math.Max(b.high.X, at.X)
		b.low.Y, b.high.Y = math.Min(b.low.Y, at.Y), math.Max(b.high.Y, at.Y)
	}
	within := func(x, y float64) {
		mid := breadboard.Point{X: (b.low.X + b.high.X) / 2, Y: (b.low.Y + b.high.Y) / 2}
		b.low, b.high = breadboard.Point{X: mid.X - x, Y: mid.Y - y}, breadboard.Point{X: mid.X + x, Y: mid.Y + y}
	}
	dx, dy := b.high.X-b.low.X, b.high.Y-b.low.Y
	switch {
	case IsLamp(kind):
		within(LampRadius, LampRadius)
	case pack.Span[1] > 0:
		d := math.Hypot(dx, dy)
		half := Half(d)
		within((half*dx+BentWide*dy)/d, (half*dy+BentWide*dx)/d)
	default:
		wide := pack.Beside()
		b.low, b.high = breadboard.Point{X: b.low.X - wide, Y: b.low.Y - Edge}, breadboard.Point{X: b.high.X + wide, Y: b.high.Y + Edge}
	}
	return b
}
