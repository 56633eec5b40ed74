package paper

import (
	"codeberg.org/go-pdf/fpdf"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
)

// grain is how many millimetres a unit of a symbol is on paper.
const grain = 0.2

// glyph draws the symbol for what stands at a place of a row, on a wire through the middle of its
// field.
func (p *page) glyph(q *build.Part, kind *part.Kind, name string, x, y, wide, tall float64) {
	symbol := kind.Symbol
	for _, h := range p.doc.Helpers(q.ID) {
		if h.Role == name {
			k, _ := p.lib.Catalogue.Kind(h.Kind)
			symbol = k.Symbol
		}
	}
	half := part.SymbolWidth * grain / 2
	p.Line(x, y+tall/2, x+wide/2-half, y+tall/2)
	p.Line(x+wide/2+half, y+tall/2, x+wide, y+tall/2)
	p.symbol(part.Symbols()[symbol], x+wide/2-half, y+tall/2)
}

// symbol draws a symbol with its left terminal at a place.
func (p *page) symbol(s part.Symbol, x, y float64) {
	at := func(q [2]float64) (float64, float64) { return x + q[0]*grain, y + q[1]*grain }
	for _, m := range s {
		switch {
		case m.Text != "":
			foot, base := at(m.At)
			size, _ := p.GetFontSize()
			p.SetFontSize(m.Size * grain * 72 / 25.4)
			p.Text(foot-p.GetStringWidth(p.text(m.Text))/2, base, p.text(m.Text))
			p.SetFontSize(size)
		case m.Circle[2] > 0:
			cx, cy := at([2]float64{m.Circle[0], m.Circle[1]})
			p.Circle(cx, cy, m.Circle[2]*grain, map[bool]string{true: "F", false: "D"}[m.Fill == "solid"])
		default:
			p.path(m.Path, at)
		}
	}
}

// path draws the lines of a path.
func (p *page) path(path part.Path, at func([2]float64) (float64, float64)) {
	strokes, err := path.Strokes()
	if err != nil {
		p.SetError(err)
		return
	}
	var begun, here fpdf.PointType
	for _, s := range strokes {
		points := make([]fpdf.PointType, len(s.To))
		for i, to := range s.To {
			points[i].X, points[i].Y = at(to)
		}
		was := here
		switch s.Do {
		case 'M':
			here, begun = points[0], points[0]
		case 'L':
			here = points[0]
			p.Line(was.X, was.Y, here.X, here.Y)
		case 'C':
			here = points[2]
			p.CurveBezierCubic(was.X, was.Y, points[0].X, points[0].Y, points[1].X, points[1].Y, here.X, here.Y, "D")
		case 'Z':
			here = begun
			p.Line(was.X, was.Y, here.X, here.Y)
		}
	}
}
