package holemap

import (
	"math"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/layout/placement"
)

// part draws the legs and the body of a part as they lie.
func (m *Map) part(lib *build.Library, q *build.Part, table *breadboard.Table, b *build.Built) {
	kind, _ := lib.Catalogue.Kind(q.Kind)
	pack, _ := placement.PackageOf(kind.Body.Package)
	of := "part " + q.ID
	var at []breadboard.Point
	var ends []breadboard.End
	var legs []build.Terminal
	for _, leg := range kind.LegOrder() {
		t := build.Of(q.ID, leg)
		if e, ok := b.Legs[t]; ok {
			at, ends, legs = append(at, table.At(e)), append(ends, e), append(legs, t)
		}
	}
	if len(at) == 0 {
		return
	}
	whole := len(at) == len(kind.Terminals)
	switch {
	case pack.Loose || !whole:
		m.leads(of, q.Name, table, ends)
	case placement.IsLamp(kind):
		m.lamp(of, at[0], at[1])
	case pack.Span[1] > 0:
		m.bent(of, build.FirstValue(kind, q), kind.Symbol == "diode", at[0], at[1])
	default:
		m.body(of, q.Name, at, pack, kind.Is(part.Contact))
	}
	for i, p := range at {
		m.add(Mark{Shape: Circle, Class: "leg", Of: of, Leg: string(legs[i]), Radius: 0.22, Points: []breadboard.Point{p}})
	}
}

// leads draws wires of a part's own: off the edge of the breadboard, with its name
// there, or where something lies beside it short ends.
func (m *Map) leads(of, name string, table *breadboard.Table, ends []breadboard.End) {
	var named [End + 1]bool // on each side
	for _, e := range ends {
		p := table.At(e)
		to, align := breadboard.Point{X: p.X + 0.7, Y: p.Y - 0.6}, Start
		if !e.OnBoard() {
			left, right := edges(e.Hole.Board, table.Sizes[e.Hole.Board])
			switch {
			case e.Hole.Column.Right() && e.Hole.Board == len(table.Sizes)-1:
				to = breadboard.Point{X: right + 0.6, Y: p.Y - 0.3}
			case !e.Hole.Column.Right() && e.Hole.Board == 0 && table.Plugged:
				to, align = breadboard.Point{X: left - 0.6, Y: p.Y - 0.3}, End
			}
		}
		m.line("lead", of, p, to)
		if !named[align] {
			named[align] = true
			beside := 0.15
			if align == End {
				beside = -beside
			}
			m.add(Mark{Shape: Text, Class: "label", Of: of, Text: name, Size: 0.6, Align: align, Points: []breadboard.Point{{X: to.X + beside, Y: to.Y}}})
		}
	}
}

// along returns a point between two, and beside the line between them.
func along(a, b breadboard.Point, part, beside float64) breadboard.Point {
	d := math.Max(a.To(b), 1e-9)
	return breadboard.Point{
		X: a.X + (b.X-a.X)*part - (b.Y-a.Y)/d*beside,
		Y: a.Y + (b.Y-a.Y)*part + (b.X-a.X)/d*beside,
	}
}

// lamp draws an LED as seen from above: round, flat at the cathode, with a + at
// the anode.
func (m *Map) lamp(of string, anode, cathode breadboard.Point) {
	const r = placement.LampRadius
	mid := along(anode, cathode, 0.5, 0)
	m.line("lead", of, anode, cathode)
	m.add(Mark{Shape: Circle, Class: "body", Of: of, Radius: r, Points: []breadboard.Point{mid}})
	d := math.Max(anode.To(cathode), 1e-9)
	flat := 0.5 + r*0.8/d
	m.line("edge", of, along(anode, cathode, flat, -r*0.6), along(anode, cathode, flat, r*0.6))
	m.text("label", of, "+", 0.7, along(anode, cathode, 0.5-0.5/d, 0.55))
}

// bent draws a resistor or a diode between its legs, with its value.
func (m *Map) bent(of, value string, ring bool, a, b breadboard.Point) {
	d := math.Max(a.To(b), 1e-9)
	half := placement.Half(d) / d
	const wide = placement.BentWide
	m.line("lead", of, a, along(a, b, 0.5-half, 0))
	m.line("lead", of, along(a, b, 0.5+half, 0), b)
	m.add(Mark{Shape: Polygon, Class: "body", Of: of, Points: []breadboard.Point{
		along(a, b, 0.5-half, -wide), along(a, b, 0.5+half, -wide), along(a, b, 0.5+half, wide), along(a, b, 0.5-half, wide),
	}})
	if ring {
		m.line("edge", of, along(a, b, 0.5+half*0.6, -wide), along(a, b, 0.5+half*0.6, wide))
	}
	m.add(Mark{Shape: Text, Class: "label", Of: of, Text: value, Size: 0.52, Align: Middle, Turned: math.Abs(b.Y-a.Y) > math.Abs(b.X-a.X), Points: []breadboard.Point{along(a, b, 0.5, 0)}})
}

// body draws a box around the legs, with a mark at the first leg of a chip, and
// the knob of a button.
func (m *Map) body(of, name string, at []breadboard.Point, pack *placement.Package, press bool) {
	x0, y0, x1, y1 := at[0].X, at[0].Y, at[0].X, at[0].Y
	for _, p := range at {
		x0, x1 = math.Min(x0, p.X), math.Max(x1, p.X)
		y0, y1 = math.Min(y0, p.Y), math.Max(y1, p.Y)
	}
	m.box("body", of, x0-pack.Beside(), y0-placement.Edge, x1+pack.Beside(), y1+placement.Edge)
	mid := breadboard.Point{X: (x0 + x1) / 2, Y: (y0 + y1) / 2}
	if pack.Notch {
		first, last := at[0], at[len(at)-1]
		m.add(Mark{Shape: Circle, Class: "edge", Of: of, Radius: 0.35, Points: []breadboard.Point{along(first, last, 0.5, 0)}})
	}
	if press && len(at) == 4 {
		m.add(Mark{Shape: Circle, Class: "edge", Of: of, Radius: 0.7, Points: []breadboard.Point{mid}})
		return
	}
	if y1-y0 >= 2 {
		m.add(Mark{Shape: Text, Class: "label", Of: of, Text: short(name, int((y1-y0+1)/0.36)), Size: 0.6, Align: Middle, Turned: true, Points: []breadboard.Point{mid}})
	}
}

// short cuts a name to the room there is.
func short(name string, n int) string {
	r := []rune(name)
	if len(r) <= n {
		return name
	}
	return string(r[:max(n-1, 1)]) + "…"
}
