package holemap

import (
	"math"
	"slices"
	"strconv"

	"cablaggio/core/catalogue/breadboard"
)

// wireMarks are the letters of IEC 60757 for the colours of wires, a dash pattern for each, so that a
// drawing in one ink tells them apart, and how they look on a screen.
var wireMarks = map[string]struct {
	letters string
	dash    []float64
	screen  string
}{
	"black":  {"BK", nil, "#1b1b1b"},
	"red":    {"RD", []float64{1, 0.3}, "#d0271d"},
	"orange": {"OG", []float64{0.6, 0.3}, "#f08a24"},
	"yellow": {"YE", []float64{0.3, 0.3}, "#f2cf1d"},
	"green":  {"GN", []float64{1, 0.25, 0.25, 0.25}, "#2f9e4f"},
	"blue":   {"BU", []float64{1.4, 0.3}, "#2f6fd6"},
	"violet": {"VT", []float64{0.6, 0.25, 0.2, 0.25}, "#8d53c9"},
	"grey":   {"GY", []float64{0.2, 0.4}, "#9a9fa5"},
	"white":  {"WH", []float64{0.9, 0.5}, "#ffffff"},
	"brown":  {"BN", []float64{1.4, 0.25, 0.25, 0.25}, "#8a5a33"},
	"pink":   {"PK", []float64{0.4, 0.6}, "#f08db6"},
}

// centre is where the channel of the first breadboard is.
const centre = 5.5

// bows are how far a wire that goes straight is bent on the drawing, as a part of its length, so that
// it can be told from what it passes over: the first with which it touches no body, or not at all.
var bows = []float64{0.12, 0.06, -0.12, -0.06}

// wire draws a wire: as a shallow curve, or with the bends that it goes round parts by; and its colour
// in letters.
func (m *Map) wire(i int, path []breadboard.Point, bodies []box, colour string) {
	of := "wire " + strconv.Itoa(i)
	a, b := path[0], path[len(path)-1]
	mark := wireMarks[colour]
	letters := breadboard.Point{}
	if len(path) > 2 {
		m.add(Mark{Shape: Line, Class: "wire", Of: of, Points: path, Dash: mark.dash, Colour: colour})
		letters = onLongest(path)
	} else {
		bend := bow(a, b, bodies)
		m.add(Mark{Shape: Curve, Class: "wire", Of: of, Points: []breadboard.Point{a, bend, b}, Dash: mark.dash, Colour: colour})
		letters = onCurve(a, bend, b, 0.72)
	}
	for _, p := range []breadboard.Point{a, b} {
		m.add(Mark{Shape: Circle, Class: "end", Of: of, Radius: 0.22, Points: []breadboard.Point{p}})
	}
	if a.To(b) > 1.5 && mark.letters != "" {
		m.text("letters", of, mark.letters, 0.75, letters)
	}
}

// bow returns the point towards which a wire is bent: upwards, or outwards from the middle of the
// breadboard, unless it would lie over a body there and not on the other side.
func bow(a, b breadboard.Point, bodies []box) breadboard.Point {
	mid := along(a, b, 0.5, 0)
	towards := func(by float64) breadboard.Point {
		return breadboard.Point{X: mid.X + (b.Y-a.Y)*by, Y: mid.Y - (b.X-a.X)*by}
	}
	outwards := 1.0
	if first, out := towards(bows[0]), math.Abs(mid.X-centre); math.Abs(b.Y-a.Y) > math.Abs(b.X-a.X) && math.Abs(first.X-centre) < out || math.Abs(b.Y-a.Y) <= math.Abs(b.X-a.X) && first.Y > mid.Y {
		outwards = -1
	}
	for _, by := range bows {
		bend := towards(outwards * by)
		if !slices.ContainsFunc(bodies, func(x box) bool { return !x.has(a) && !x.has(b) && x.touches(a, bend, b) }) {
			return bend
		}
	}
	return mid
}

// onCurve returns the point of a quadratic curve at a part of its way.
func onCurve(a, bend, b breadboard.Point, t float64) breadboard.Point {
	at := func(a, m, b float64) float64 { return (1-t)*(1-t)*a + 2*t*(1-t)*m + t*t*b }
	return breadboard.Point{X: at(a.X, bend.X, b.X), Y: at(a.Y, bend.Y, b.Y)}
}

// onLongest returns a point on the longest piece of a path.
func onLongest(path []breadboard.Point) breadboard.Point {
	best := 0
	for i := range path[1:] {
		if path[i].To(path[i+1]) > path[best].To(path[best+1]) {
			best = i
		}
	}
	return along(path[best], path[best+1], 0.6, 0)
}

// A box is what a body takes on the drawing.
type box struct{ low, high breadboard.Point }

// bodies are those that are drawn.
func (m *Map) bodies() (out []box) {
	for _, x := range m.Marks {
		if x.Class != "body" {
			continue
		}
		b := box{x.Points[0], x.Points[0]}
		for _, p := range x.Points {
			b.low = breadboard.Point{X: math.Min(b.low.X, p.X-x.Radius), Y: math.Min(b.low.Y, p.Y-x.Radius)}
			b.high = breadboard.Point{X: math.Max(b.high.X, p.X+x.Radius), Y: math.Max(b.high.Y, p.Y+x.Radius)}
		}
		out = append(out, b)
	}
	return out
}

func (b box) has(p breadboard.Point) bool {
	return p.X > b.low.X && p.X < b.high.X && p.Y > b.low.Y && p.Y < b.high.Y
}

// touches reports whether a curve comes so near a box that it seems to.
func (b box) touches(from, bend, to breadboard.Point) bool {
	const points, near = 60, 0.1
	b.low, b.high = breadboard.Point{X: b.low.X - near, Y: b.low.Y - near}, breadboard.Point{X: b.high.X + near, Y: b.high.Y + near}
	for k := range points + 1 {
		if b.has(onCurve(from, bend, to, float64(k)/points)) {
			return true
		}
	}
	return false
}
