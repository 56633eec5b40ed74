package holemap

import (
	"math"
	"slices"
	"strings"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
)

// A Spot is where something is on the drawing: there it shines, and there a finger touches it.
// Lengths are in units of the drawing, as those of [Map.Inner].
type Spot struct {
	Of     string  `json:"of"`             // the part
	Lamp   string  `json:"lamp,omitempty"` // the emitter, where those of a case are seen apart
	X      float64 `json:"x"`              // of the corner at the top left
	Y      float64 `json:"y"`
	Width  float64 `json:"width"`
	Height float64 `json:"height"`
	Bar    bool    `json:"bar,omitempty"` // it shines all over, as a bar of a digit does
}

// spots returns where the parts are: their bodies, or what stands for one that hangs on wires of its
// own; and the lamps of cases in which each is seen by itself.
func (m *Map) spots(lib *build.Library, doc *build.Document) []Spot {
	out := []Spot{}
	for i := range doc.Parts {
		q := &doc.Parts[i]
		kind, _ := lib.Catalogue.Kind(q.Kind)
		if in, ok := m.bounds("part " + q.ID); ok {
			out = append(out, spot(q.ID, "", in.low, in.high))
		}
		if kind.Shows == part.Digits {
			out = append(out, m.bars(q, kind)...)
		}
		if !apart(kind) {
			continue
		}
		for _, e := range kind.Emitters {
			a, okA := m.leg(build.Of(q.ID, e.Anode))
			k, okK := m.leg(build.Of(q.ID, e.Cathode))
			if mid := along(a, k, 0.5, 0); okA && okK {
				const r = 0.36 // of a segment: rows are 1 apart
				out = append(out, spot(q.ID, e.ID, breadboard.Point{X: mid.X - r, Y: mid.Y - r}, breadboard.Point{X: mid.X + r, Y: mid.Y + r}))
			}
		}
	}
	return out
}

// figure is where the bars of a digit lie in it, from its lower left corner to its upper right one
// at 1, 1: the ends of each (common practice; the figure stands upright here).
var figure = map[string][4]float64{
	"a": {0, 1, 1, 1}, "b": {1, 1, 1, 0.5}, "c": {1, 0.5, 1, 0}, "d": {0, 0, 1, 0}, "e": {0, 0.5, 0, 0}, "f": {0, 1, 0, 0.5}, "g": {0, 0.5, 1, 0.5}, "point": {1.3, 0, 1.3, 0},
}

// bars returns where the bars of a digit are. It lies on its side: its lower edge is at its first
// legs, and its left edge is the upper one.
func (m *Map) bars(q *build.Part, kind *part.Kind) (out []Spot) {
	order := kind.LegOrder()
	low, okLow := m.leg(build.Of(q.ID, order[0]))
	high, okHigh := m.leg(build.Of(q.ID, order[len(order)/2]))
	if !okLow || !okHigh {
		return nil
	}
	const wide = 0.16 // half of a bar's width: rows are 1 apart
	at := func(x, y float64) breadboard.Point {
		return breadboard.Point{X: low.X + (high.X-low.X)*(0.22+0.56*y), Y: low.Y + (high.Y-low.Y)*(0.16+0.56*x)}
	}
	for _, e := range kind.Emitters {
		f, ok := figure[e.ID]
		if !ok {
			continue
		}
		a, b := at(f[0], f[1]), at(f[2], f[3])
		x := spot(q.ID, e.ID, breadboard.Point{X: math.Min(a.X, b.X) - wide, Y: math.Min(a.Y, b.Y) - wide}, breadboard.Point{X: math.Max(a.X, b.X) + wide, Y: math.Max(a.Y, b.Y) + wide})
		x.Bar = true
		out = append(out, x)
	}
	return out
}

// apart reports whether the lamps of a case are seen each by itself: those that share a leg sit in
// one lens, and mix.
func apart(kind *part.Kind) bool {
	legs := map[string]bool{}
	for _, e := range kind.Emitters {
		if legs[e.Anode] || legs[e.Cathode] {
			return false
		}
		legs[e.Anode], legs[e.Cathode] = true, true
	}
	return len(kind.Emitters) > 1
}

func spot(of, lamp string, low, high breadboard.Point) Spot {
	return Spot{Of: of, Lamp: lamp, X: low.X * unit, Y: low.Y * unit, Width: (high.X - low.X) * unit, Height: (high.Y - low.Y) * unit}
}

// Near returns the view box of what is in use: the board, the parts and the wires, and little around
// them. The holes on the far side of a channel that nobody uses are not in it.
func (m *Map) Near() string {
	in := nowhere
	for _, x := range m.Marks {
		if strings.HasPrefix(x.Of, "part ") || strings.HasPrefix(x.Of, "wire ") || slices.Contains([]string{"board", "pin", "place", "title"}, x.Class) {
			in.take(x)
		}
	}
	const around = 1.6
	return viewBox(
		breadboard.Point{X: math.Max(m.Min.X, in.low.X-around), Y: math.Max(m.Min.Y, in.low.Y-around)},
		breadboard.Point{X: math.Min(m.Max.X, in.high.X+around), Y: math.Min(m.Max.Y, in.high.Y+around)})
}

// An extent is the corners of what was taken into it.
type extent struct{ low, high breadboard.Point }

// nowhere is the extent of nothing.
var nowhere = extent{breadboard.Point{X: math.Inf(1), Y: math.Inf(1)}, breadboard.Point{X: math.Inf(-1), Y: math.Inf(-1)}}

func (e *extent) take(x Mark) {
	for _, p := range x.ends() {
		e.low = breadboard.Point{X: math.Min(e.low.X, p.X), Y: math.Min(e.low.Y, p.Y)}
		e.high = breadboard.Point{X: math.Max(e.high.X, p.X), Y: math.Max(e.high.Y, p.Y)}
	}
}

// bounds returns the extent of a part's body, or of its name where it has none.
func (m *Map) bounds(of string) (in extent, ok bool) {
	for _, class := range []string{"body", "label"} {
		i := slices.IndexFunc(m.Marks, func(x Mark) bool { return x.Of == of && x.Class == class })
		if i >= 0 {
			in = nowhere
			in.take(m.Marks[i])
			return in, true
		}
	}
	return in, false
}

// ends returns the points that a mark reaches to.
func (x Mark) ends() []breadboard.Point {
	p := x.Points[0]
	switch x.Shape {
	case Circle:
		return []breadboard.Point{{X: p.X - x.Radius, Y: p.Y - x.Radius}, {X: p.X + x.Radius, Y: p.Y + x.Radius}}
	case Text:
		to := p.X + x.long()
		return []breadboard.Point{{X: p.X, Y: p.Y - x.Size/2}, {X: to, Y: p.Y + x.Size/2}}
	default:
		return x.Points
	}
}

// leg returns where a leg is.
func (m *Map) leg(t build.Terminal) (breadboard.Point, bool) {
	for _, x := range m.Marks {
		if x.Leg == string(t) {
			return x.Points[0], true
		}
	}
	return breadboard.Point{}, false
}
