package holemap_test

import (
	"bytes"
	"encoding/xml"
	"fmt"
	"io"
	"slices"
	"strings"
	"testing"

	"cablaggio/core/testkit/ready"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
	"cablaggio/core/layout/holemap"
	"cablaggio/core/layout/placement"
	"cablaggio/demo"
)

var lib = build.Shipped()

// elements counts the elements of an SVG drawing by an attribute, and fails on
// what is not XML.
func elements(t *testing.T, svg []byte, attribute string) map[string]int {
	t.Helper()
	out := map[string]int{}
	for d := xml.NewDecoder(bytes.NewReader(svg)); ; {
		token, err := d.Token()
		if err == io.EOF {
			return out
		}
		require.NoError(t, err)
		if e, ok := token.(xml.StartElement); ok {
			for _, a := range e.Attr {
				if a.Name.Local == attribute {
					out[a.Value]++
				}
			}
		}
	}
}

// No wire is drawn over a body, but where it ends there.
func TestNoWireIsDrawnOverABody(t *testing.T) {
	bent := 0
	for name, doc := range ready.Builds(t, lib) {
		p, err := laid.Place(lib, doc)
		require.NoError(t, err)
		m := holemap.Draw(lib, doc, p.Table(lib, doc), p.Built(), p.Wires)
		inside := func(body holemap.Mark, p breadboard.Point) bool {
			low, high := body.Points[0], body.Points[0]
			for _, q := range body.Points {
				low, high = breadboard.Point{X: min(low.X, q.X), Y: min(low.Y, q.Y)}, breadboard.Point{X: max(high.X, q.X), Y: max(high.Y, q.Y)}
			}
			if body.Shape == holemap.Circle {
				return low.To(p) < body.Radius
			}
			return p.X > low.X && p.X < high.X && p.Y > low.Y && p.Y < high.Y
		}
		for _, wire := range m.Marks {
			if wire.Class != "wire" {
				continue
			}
			way := points(wire)
			if wire.Shape == holemap.Line {
				bent++
			}
			for _, body := range m.Marks {
				if body.Class != "body" || inside(body, way[0]) || inside(body, way[len(way)-1]) {
					continue
				}
				assert.False(t, slices.ContainsFunc(way, func(p breadboard.Point) bool { return inside(body, p) }), "%s: %s over %s", name, wire.Of, body.Of)
			}
		}
	}
	assert.Positive(t, bent, "some go round something")
}

// points are many along a line or a curve that is drawn.
func points(x holemap.Mark) (out []breadboard.Point) {
	const n = 50
	mid := func(a, b breadboard.Point, t float64) breadboard.Point {
		return breadboard.Point{X: a.X + t*(b.X-a.X), Y: a.Y + t*(b.Y-a.Y)}
	}
	for i := range x.Points[1:] {
		for k := range n + 1 {
			t := float64(k) / n
			if x.Shape == holemap.Curve {
				out = append(out, mid(mid(x.Points[0], x.Points[1], t), mid(x.Points[1], x.Points[2], t), t))
			} else {
				out = append(out, mid(x.Points[i], x.Points[i+1], t))
			}
		}
	}
	return out
}

// Every part, every wire and every leg of a demo build is in its drawing, which
// is always the same, and nothing lies outside of it.
func TestEverythingIsDrawn(t *testing.T) {
	for _, d := range demo.Builds() {
		doc, err := lib.Parse(d.Data)
		require.NoError(t, err)
		p, err := laid.Place(lib, doc)
		require.NoError(t, err)
		draw := func() []byte {
			m := holemap.DrawUsed(lib, doc, p.Table(lib, doc), p.Built(), p.Wires)
			for _, x := range m.Marks {
				for _, q := range x.Points {
					require.True(t, q.X >= m.Min.X && q.X <= m.Max.X && q.Y >= m.Min.Y && q.Y <= m.Max.Y, "%v", x)
				}
			}
			var b bytes.Buffer
			require.NoError(t, m.SVG(&b))
			return b.Bytes()
		}
		svg := draw()
		assert.Equal(t, svg, draw())
		parts, wires, legs := elements(t, svg, "data-part"), elements(t, svg, "data-wire"), elements(t, svg, "data-leg")
		assert.Len(t, parts, len(doc.Parts))
		assert.Len(t, wires, len(p.Wires))
		for _, s := range p.Seats {
			for _, l := range s.Legs {
				assert.Equal(t, 1, legs[string(build.Of(s.Part, l.Leg))], l.Leg)
			}
		}
		assert.Contains(t, string(svg), ">BK<", "a wire says its colour in letters")
		spotted(t, doc, p)
	}
}

// spotted holds where things are on a drawing: each part once, within what is near, each lamp that is
// seen apart in its part; and each wire at the pin of the plan's net that it is joined to.
func spotted(t *testing.T, doc *build.Document, p *placement.Placement) {
	m := holemap.DrawUsed(lib, doc, p.Table(lib, doc), p.Built(), p.Wires)
	var x, y, width, height float64
	_, err := fmt.Sscan(m.Near(), &x, &y, &width, &height)
	require.NoError(t, err)
	parts := map[string]holemap.Spot{}
	for _, s := range m.Spots {
		assert.True(t, s.X >= x && s.Y >= y && s.X+s.Width <= x+width && s.Y+s.Height <= y+height, "%+v is not in %s", s, m.Near())
		if s.Lamp == "" {
			parts[s.Of] = s
			continue
		}
		of := parts[s.Of]
		assert.True(t, s.X >= of.X && s.Y >= of.Y && s.X+s.Width <= of.X+of.Width && s.Y+s.Height <= of.Y+of.Height, "%+v is not in its case", s)
	}
	assert.Len(t, parts, len(doc.Parts))
	pins := map[string]int{}
	for _, pin := range m.Carries {
		pins[pin]++
	}
	for _, q := range doc.Parts {
		for _, signal := range q.Signals {
			// What sits in the board's own row needs no wire.
			if board := p.Table(lib, doc); !board.Plugged {
				assert.Positive(t, pins[signal.Pin], "no wire is joined to %s", signal.Pin)
			}
		}
	}
	assert.Zero(t, pins["board"])
}

// The holes that are left out are those of the rows that are said to be empty,
// and no end of a leg or a wire is in them.
func TestEmptyRowsAreLeftOut(t *testing.T) {
	left := 0
	for _, doc := range ready.Builds(t, lib) {
		p, err := laid.Place(lib, doc)
		require.NoError(t, err)
		table := p.Table(lib, doc)
		holes := func(m *holemap.Map) (all []string) {
			for _, x := range m.Marks {
				if x.Class == "hole" {
					all = append(all, x.Of)
				}
			}
			return all
		}
		whole, used := holemap.Draw(lib, doc, table, p.Built(), p.Wires), holemap.DrawUsed(lib, doc, table, p.Built(), p.Wires)
		var from, to int
		for _, x := range used.Marks {
			if _, err := fmt.Sscanf(x.Text, "rows %d to %d are empty", &from, &to); err == nil {
				left++
			}
		}
		var want []string
		for _, h := range holes(whole) {
			hole, err := breadboard.ParseHole(strings.TrimPrefix(h, "hole "))
			require.NoError(t, err)
			if from == 0 || hole.Row < from || hole.Row > to {
				want = append(want, h)
			}
		}
		assert.Equal(t, want, holes(used), doc.Title)
		for _, x := range used.Marks {
			if (x.Class == "leg" || x.Class == "end") && x.Points[0].X >= breadboard.LeftPlus.X() {
				assert.True(t, from == 0 || x.Points[0].Y < float64(from), doc.Title)
			}
		}
	}
	assert.Positive(t, left)
}

// What a builder writes cannot break out of the drawing.
func TestNamesAreText(t *testing.T) {
	doc := build.New("<script>&\"", "classic-5v")
	doc.Parts = append(doc.Parts, build.Part{ID: "potentiometer1", Kind: "potentiometer", Name: `"><script>x</script>`})
	require.NoError(t, lib.Validate(doc))
	p, err := laid.Place(lib, doc)
	require.NoError(t, err)
	var b strings.Builder
	require.NoError(t, holemap.Draw(lib, doc, p.Table(lib, doc), p.Built(), p.Wires).SVG(&b))
	assert.NotContains(t, b.String(), "<script")
	elements(t, []byte(b.String()), "class")
}

// Colours are said by the letters of IEC 60757 (from memory), and by a dash
// pattern of their own.
func TestColoursAreSaid(t *testing.T) {
	letters := map[string]string{"black": "BK", "brown": "BN", "red": "RD", "orange": "OG", "yellow": "YE", "green": "GN", "blue": "BU", "violet": "VT", "grey": "GY", "white": "WH", "pink": "PK"}
	require.Len(t, build.WireColours, len(letters))
	doc := build.New("t", "classic-5v")
	p, err := laid.Place(lib, doc)
	require.NoError(t, err)
	dashes := map[string]string{}
	for _, colour := range build.WireColours {
		from, err := breadboard.ParseEnd("a1")
		require.NoError(t, err)
		to, err := breadboard.ParseEnd("a20")
		require.NoError(t, err)
		m := holemap.Draw(lib, doc, p.Table(lib, doc), p.Built(), []placement.Jumper{{Wire: build.Wire{From: from, To: to}, Colour: colour}})
		for _, x := range m.Marks {
			switch x.Class {
			case "letters":
				assert.Equal(t, letters[colour], x.Text)
			case "wire":
				pattern := fmt.Sprint(x.Dash)
				assert.Empty(t, dashes[pattern], "%s and %s look alike", colour, dashes[pattern])
				dashes[pattern] = colour
			}
		}
	}
	assert.Len(t, dashes, len(letters))
}

// Wires of a part's own leave a breadboard on which the board stands, with the
// name beside it on each side that they leave by, and nothing of the name over the
// holes. With the board beside there is no room on its side.
func TestLeadsLeaveTheBreadboard(t *testing.T) {
	i := slices.IndexFunc(demo.Builds(), func(d demo.Build) bool { return d.Name == "seedling-shelf" })
	doc, err := lib.Parse(demo.Builds()[i].Data)
	require.NoError(t, err)
	p, err := laid.Place(lib, doc)
	require.NoError(t, err)
	require.True(t, p.Plugged)
	left, right := breadboard.LeftPlus.X(), breadboard.RightMinus.X()
	m := holemap.Draw(lib, doc, p.Table(lib, doc), p.Built(), p.Wires)
	loose := 0
	for _, q := range doc.Parts {
		kind, _ := lib.Catalogue.Kind(q.Kind)
		if pack, _ := placement.PackageOf(kind.Body.Package); !pack.Loose {
			continue
		}
		loose++
		sides, named := map[bool]bool{}, map[bool]int{}
		for _, l := range p.Seat(q.ID).Legs {
			sides[l.Hole.Column.Right()] = true
		}
		for _, x := range m.Marks {
			if x.Of != "part "+q.ID || x.Shape != holemap.Text {
				continue
			}
			at := x.Points[0].X
			named[at > right]++
			assert.True(t, at < left && x.Align == holemap.End || at > right && x.Align == holemap.Start, "%s at %.1f", q.Name, at)
		}
		assert.Len(t, named, len(sides), q.Name)
		for side := range sides {
			assert.Equal(t, 1, named[side], q.Name)
		}
	}
	assert.Positive(t, loose)
}

// laid places each build once for all tests.
var laid = placement.NewMemory()
