package paper

import (
	"github.com/go-pdf/fpdf"

	"cablaggio/core/build"
	"cablaggio/core/part"
)

// glyph draws the symbol of IEC 60617 for what stands at a place of a row, on a
// wire through the middle of its field. It reports whether it knows one; what
// it does not know is a box with its name.
func (p *page) glyph(q *build.Part, kind *part.Kind, name string, x, y, wide, tall float64) bool {
	symbol := kind.Symbol
	if name != "self" {
		for _, h := range p.doc.Helpers(q.ID) {
			if h.Role == name {
				k, _ := p.lib.Catalogue.Kind(h.Kind)
				symbol = k.Symbol
			}
		}
	}
	mid, c := y+tall/2, x+wide/2
	wire := func(half float64) {
		p.Line(x, mid, c-half, mid)
		p.Line(c+half, mid, x+wide, mid)
	}
	triangle := func() {
		p.Polygon([]fpdf.PointType{{X: c - 2.5, Y: mid - 2.5}, {X: c + 2.5, Y: mid}, {X: c - 2.5, Y: mid + 2.5}}, "D")
		p.Line(c+2.5, mid-2.5, c+2.5, mid+2.5)
	}
	switch symbol {
	case "resistor":
		wire(5)
		p.Rect(c-5, mid-1.8, 10, 3.6, "D")
	case "led":
		wire(2.5)
		triangle()
		for _, dx := range []float64{0, 2} {
			p.Line(c+dx, mid-2.8, c+dx+1.6, mid-4.2)
		}
	case "diode":
		wire(2.5)
		triangle()
	case "button", "switch":
		wire(4)
		p.Line(c-4, mid, c+3, mid-3)
	case "capacitor", "capacitor-polarised":
		wire(0.8)
		p.Line(c-0.8, mid-3, c-0.8, mid+3)
		p.Line(c+0.8, mid-3, c+0.8, mid+3)
		if symbol == "capacitor-polarised" {
			p.Line(c-4, mid-2.4, c-2, mid-2.4)
			p.Line(c-3, mid-3.4, c-3, mid-1.4)
		}
	case "potentiometer", "light-resistor", "thermistor":
		wire(5)
		p.Rect(c-5, mid-1.8, 10, 3.6, "D")
		p.Line(c-4, mid+3.5, c+3, mid-3.5)
	case "motor", "bulb":
		wire(3.5)
		p.Circle(c, mid, 3.5, "D")
	default:
		return false
	}
	return true
}
