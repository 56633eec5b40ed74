// Package holemap draws what is on the breadboards as a technical drawing: holes and the strips that join them, the legs and bodies of parts, and
// wires. A [Map] is plain marks; [Map.SVG] and package paper put them down.
package holemap

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"unicode/utf8"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
	"cablaggio/core/layout/placement"
)

// A Shape is what a mark looks like.
type Shape uint8

// The shapes.
const (
	Line    Shape = iota // through all points
	Curve                // from the first point to the third, drawn towards the second
	Circle               // around the first point
	Polygon              // with the points as corners
	Text                 // at the first point
)

// An Align says where a text is beside its point.
type Align uint8

// The alignments.
const (
	Start  Align = iota // it begins there
	Middle              // it is centred there
	End                 // it ends there
)

// A Mark is one thing that is drawn. Lengths are in steps of 2.54 mm, points as
// on the table.
type Mark struct {
	Shape  Shape
	Points []breadboard.Point
	Radius float64 // of a circle
	Text   string
	Size   float64 // of a text: its height
	Align  Align   // of a text
	Turned bool    // of a text: it reads downwards
	Class  string  // what it is: "hole", "strip", "wire", "body"…
	Dash   []float64
	Colour string // of a wire; in one ink its dashes and letters say it
	Leg    string // of a leg: its terminal
	Of     string // what it belongs to: "part led1", "wire 3", "hole e12"; empty: the table
}

// A Map is a drawing.
type Map struct {
	Title    string
	Marks    []Mark
	Spots    []Spot   // where parts shine and are touched
	Carries  []string // of each wire: the place of the board that it is joined to, if it is one
	Min, Max breadboard.Point
}

// Draw draws what is on the table.
func Draw(lib *build.Library, doc *build.Document, table *breadboard.Table, b *build.Built, wires []placement.Jumper) *Map {
	return draw(lib, doc, table, b, wires, math.MaxInt)
}

// DrawUsed draws the same, larger where many rows at the end of the breadboards
// are empty: those are left out, and it is said which.
func DrawUsed(lib *build.Library, doc *build.Document, table *breadboard.Table, b *build.Built, wires []placement.Jumper) *Map {
	return draw(lib, doc, table, b, wires, used(table, b, wires))
}

const (
	spare = 4 // empty rows that are drawn after the last that is used
	few   = 8 // empty rows are not worth a break
)

// used is how many rows are worth drawing.
func used(table *breadboard.Table, b *build.Built, wires []placement.Jumper) int {
	last := 0
	see := func(e breadboard.End) {
		if e.Place.Name == "" {
			last = max(last, e.Hole.Row)
		}
	}
	for _, e := range b.Legs {
		see(e)
	}
	for _, w := range wires {
		see(w.From)
		see(w.To)
	}
	for h := range table.Pins() {
		last = max(last, h.Row)
	}
	for _, size := range table.Sizes {
		if last+spare+few > size.Rows {
			last = max(last, size.Rows)
		}
	}
	return last + spare
}

func draw(lib *build.Library, doc *build.Document, table *breadboard.Table, b *build.Built, wires []placement.Jumper, rows int) *Map {
	m := &Map{Title: doc.Title, Min: breadboard.Point{X: -4.6, Y: -1}, Max: breadboard.Point{X: 15.4}}
	for i, size := range table.Sizes {
		m.breadboard(table, i, size, rows)
	}
	m.board(table)
	for _, q := range doc.Parts {
		m.part(lib, &q, table, b)
	}
	bodies := m.bodies()
	for i, w := range wires {
		path := slices.Concat([]breadboard.Point{table.At(w.From)}, w.Way, []breadboard.Point{table.At(w.To)})
		m.wire(i, path, bodies, w.Colour)
	}
	m.namesLast()
	m.Spots, m.Carries = m.spots(lib, doc), placement.Carried(table, b)
	return m
}

// namesLast puts the names of rows, columns and places over the wires, where they can be read.
func (m *Map) namesLast() {
	isName := func(x Mark) bool { return x.Shape == Text && x.Of == "" }
	names := slices.DeleteFunc(slices.Clone(m.Marks), func(x Mark) bool { return !isName(x) })
	m.Marks = append(slices.DeleteFunc(m.Marks, isName), names...)
}

func (m *Map) add(x Mark) {
	m.Marks = append(m.Marks, x)
	points := x.Points
	if x.Shape == Text && x.Align != Middle {
		points = []breadboard.Point{points[0], {X: points[0].X + x.long(), Y: points[0].Y}}
	}
	for _, p := range points {
		m.Min.X, m.Min.Y = math.Min(m.Min.X, p.X-1), math.Min(m.Min.Y, p.Y-1)
		m.Max.X, m.Max.Y = math.Max(m.Max.X, p.X+1), math.Max(m.Max.Y, p.Y+1)
	}
}

// long is how far a text reaches from its point, about: a letter is half as wide as it is high.
func (x Mark) long() float64 {
	long := 0.55 * x.Size * float64(utf8.RuneCountInString(x.Text))
	if x.Align == End {
		return -long
	}
	return long
}

func (m *Map) line(class, of string, points ...breadboard.Point) {
	m.add(Mark{Shape: Line, Class: class, Of: of, Points: points})
}

func (m *Map) text(class, of, s string, size float64, at breadboard.Point) {
	m.add(Mark{Shape: Text, Class: class, Of: of, Text: s, Size: size, Align: Middle, Points: []breadboard.Point{at}})
}

func (m *Map) box(class, of string, x0, y0, x1, y1 float64) {
	m.add(Mark{Shape: Polygon, Class: class, Of: of, Points: []breadboard.Point{{X: x0, Y: y0}, {X: x1, Y: y0}, {X: x1, Y: y1}, {X: x0, Y: y1}}})
}

// breadboard draws one breadboard, at most so many rows of it: its outline, its
// strips, its holes with the names at the edges.
func (m *Map) breadboard(t *breadboard.Table, i int, size *breadboard.Size, rows int) {
	at := func(c breadboard.Column, row int) breadboard.Point {
		return breadboard.Hole{Board: i, Column: c, Row: row}.At()
	}
	left, right := edges(i, size)
	ends := []float64{0, float64(size.Rows) + 1}
	if rows < size.Rows {
		ends = ends[:1]
		m.broken(left, right, float64(rows)+1)
		m.text("name", "", fmt.Sprintf("rows %d to %d are empty", rows+1, size.Rows), 0.85, breadboard.Point{X: (left + right) / 2, Y: float64(rows) + 2.6})
	} else {
		m.box("outline", "", left, -0.6, right, float64(size.Rows)+1.6)
	}
	rows = min(rows, size.Rows)
	for row := 1; row <= rows; row++ {
		m.line("strip", "", at(breadboard.A, row), at(breadboard.E, row))
		m.line("strip", "", at(breadboard.F, row), at(breadboard.J, row))
		n := strconv.Itoa(row)
		if row == 1 || row%5 == 0 {
			m.text("name", "", n, 0.85, breadboard.Point{X: at(breadboard.A, row).X - 1, Y: float64(row)})
			m.text("name", "", n, 0.85, breadboard.Point{X: at(breadboard.J, row).X + 1, Y: float64(row)})
		}
	}
	for c := breadboard.A; c <= breadboard.J; c++ {
		for _, y := range ends {
			m.text("name", "", c.String(), 0.85, breadboard.Point{X: at(c, 0).X, Y: y})
		}
	}
	for _, r := range t.RailStrips() {
		if r.Board != i || r.Rows[0] > rows {
			continue
		}
		sign := "+"
		if r.Minus() {
			sign = "−"
		}
		first, last := at(r.Column, r.Rows[0]), at(r.Column, r.Rows[len(r.Rows)-1])
		m.text("sign", "", sign, 0.9, breadboard.Point{X: first.X, Y: first.Y - 1})
		if last.Y > float64(rows) {
			last.Y = float64(rows) + 0.5
		} else {
			m.text("sign", "", sign, 0.9, breadboard.Point{X: last.X, Y: last.Y + 1})
		}
		m.line("strip", "", first, last)
	}
	for c := breadboard.A; c <= breadboard.RightMinus; c++ {
		for row := 1; row <= rows; row++ {
			if h := (breadboard.Hole{Board: i, Column: c, Row: row}); t.Check(h) == nil && !t.Covers(h) {
				m.add(Mark{Shape: Circle, Class: "hole", Of: "hole " + h.String(), Radius: 0.16, Points: []breadboard.Point{h.At()}})
			}
		}
	}
}

// broken draws the outline of a breadboard that goes on below, with the break line
// of ISO 128.
func (m *Map) broken(left, right, y float64) {
	m.line("outline", "", breadboard.Point{X: left, Y: y}, breadboard.Point{X: left, Y: -0.6}, breadboard.Point{X: right, Y: -0.6}, breadboard.Point{X: right, Y: y})
	mid := (left + right) / 2
	m.line("outline", "", breadboard.Point{X: left - 0.5, Y: y}, breadboard.Point{X: mid - 0.4, Y: y}, breadboard.Point{X: mid - 0.2, Y: y - 0.6},
		breadboard.Point{X: mid + 0.2, Y: y + 0.6}, breadboard.Point{X: mid + 0.4, Y: y}, breadboard.Point{X: right + 0.5, Y: y})
}

// edges returns where a breadboard begins and ends from left to right.
func edges(i int, size *breadboard.Size) (left, right float64) {
	at := func(c breadboard.Column) float64 { return breadboard.Hole{Board: i, Column: c}.At().X }
	if size.Rails == nil {
		return at(breadboard.A) - 1.6, at(breadboard.J) + 1.6
	}
	return at(breadboard.LeftPlus) - 1, at(breadboard.RightMinus) + 1
}

// board draws the development board with the names of its places.
func (m *Map) board(t *breadboard.Table) {
	if t.Plugged {
		x0, x1, rows := math.Inf(1), math.Inf(-1), 0
		for h := range t.Pins() {
			x0, x1, rows = math.Min(x0, h.At().X), math.Max(x1, h.At().X), max(rows, h.Row)
		}
		m.box("board", "", x0-0.45, 0.4, x1+0.45, float64(rows)+0.6)
		m.text("title", "", t.Board.Name, 0.8, breadboard.Point{X: (x0 + x1) / 2, Y: -1.1})
		for _, h := range slices.SortedFunc(maps.Keys(t.Pins()), byHole) {
			at := h.At()
			in := 0.9
			if h.Column.Right() {
				in = -0.9
			}
			m.add(Mark{Shape: Circle, Class: "pin", Radius: 0.25, Points: []breadboard.Point{at}})
			m.text("place", "", t.Pins()[h].Words(), 0.65, breadboard.Point{X: at.X + in*1.25, Y: at.Y})
		}
		return
	}
	const size, wide = 0.85, 0.62 // of its names: how high, and how wide a letter is beside that
	left, right, bottom := math.Inf(1), math.Inf(-1), 0.0
	for _, header := range t.Board.Headers {
		for _, name := range header.Places {
			for _, place := range t.PlacesOf(name) {
				at := t.At(breadboard.End{Place: place})
				long := 0.5 + size*wide*float64(utf8.RuneCountInString(place.Words()))
				left, right, bottom = math.Min(left, at.X-long), math.Max(right, at.X), math.Max(bottom, at.Y)
			}
		}
	}
	left -= 0.5
	m.box("board", "", left, 0.3, right+0.7, bottom+0.8)
	m.text("title", "", t.Board.Name, 0.9, breadboard.Point{X: (left + right) / 2, Y: -0.4})
	nth := map[string]int{}
	for _, header := range t.Board.Headers {
		for _, name := range header.Places {
			end := breadboard.End{Place: breadboard.Place{Name: name, Nth: nth[name]}}
			nth[name]++
			at := t.At(end)
			m.add(Mark{Shape: Circle, Class: "pin", Radius: 0.25, Points: []breadboard.Point{at}, Of: "hole " + end.String()})
			m.add(Mark{Shape: Text, Class: "place", Text: end.Place.Words(), Size: size, Align: End, Points: []breadboard.Point{{X: at.X - 0.5, Y: at.Y}}})
		}
	}
}

func byHole(a, b breadboard.Hole) int {
	if a.Row != b.Row {
		return a.Row - b.Row
	}
	return int(a.Column) - int(b.Column)
}
