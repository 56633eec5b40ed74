package paper

import (
	"fmt"
	"io"
	"math"
	"strings"

	"github.com/go-pdf/fpdf"

	"cablaggio/core/assembly"
	"cablaggio/core/breadboard"
	"cablaggio/core/build"
	"cablaggio/core/holemap"
)

// Steps writes the steps as a booklet in large type, with the hole map on its
// first page: A4 pages, the same bytes for the same build.
func Steps(w io.Writer, lib *build.Library, doc *build.Document, r *assembly.Report, m *holemap.Map) error {
	p := newPage(lib, doc)
	p.SetFont(font, "B", 20)
	p.MultiCell(0, 9, p.text(doc.Title+", step by step"), "", "L", false)
	p.Ln(2)
	p.holeMap(m, 240)
	p.AddPage()
	group := ""
	for i, s := range r.Steps {
		if p.GetY() > 255 {
			p.AddPage()
		}
		if s.Group != group {
			group = s.Group
			p.section(group)
			p.Ln(1)
		}
		p.step(i+1, s)
	}
	p.section("Cautions")
	for _, c := range Cautions {
		p.line("• " + c)
	}
	return p.Output(w)
}

// step writes one step with a box to tick.
func (p *page) step(n int, s assembly.Step) {
	const indent = 14
	left, _, _, _ := p.GetMargins()
	y := p.GetY()
	p.Rect(left, y+1, 5, 5, "D")
	if s.Done {
		p.Line(left, y+1, left+5, y+6)
		p.Line(left+5, y+1, left, y+6)
	}
	p.SetLeftMargin(left + indent)
	p.SetX(left + indent)
	style := ""
	if s.Look {
		style = "I"
	}
	p.SetFont(font, style, 14)
	p.MultiCell(0, 7, p.text(fmt.Sprintf("%d. %s", n, s.Do)), "", "L", false)
	p.SetFont(font, "", 11)
	if len(s.Bands) > 0 {
		p.line("Bands: " + strings.Join(s.Bands, ", ") + ".")
	}
	for _, words := range s.Watch {
		p.line(words)
	}
	p.SetLeftMargin(left)
	p.Ln(3)
}

// holeMap draws the map as large as the width of the page and a height allow, in
// millimetres.
func (p *page) holeMap(m *holemap.Map, tall float64) {
	left, _, right, _ := p.GetMargins()
	width, _ := p.GetPageSize()
	scale := math.Min((width-left-right)/(m.Max.X-m.Min.X), tall/(m.Max.Y-m.Min.Y))
	y0 := p.GetY()
	at := func(q breadboard.Point) fpdf.PointType {
		return fpdf.PointType{X: left + (q.X-m.Min.X)*scale, Y: y0 + (q.Y-m.Min.Y)*scale}
	}
	for _, x := range m.Marks {
		p.pen(x.Class)
		var points []fpdf.PointType
		for _, q := range x.Points {
			points = append(points, at(q))
		}
		var dash []float64
		for _, d := range x.Dash {
			dash = append(dash, d*scale)
		}
		p.SetDashPattern(dash, 0)
		switch x.Shape {
		case holemap.Line:
			for i := 1; i < len(points); i++ {
				p.Line(points[i-1].X, points[i-1].Y, points[i].X, points[i].Y)
			}
		case holemap.Curve:
			p.Curve(points[0].X, points[0].Y, points[1].X, points[1].Y, points[2].X, points[2].Y, "D")
		case holemap.Circle:
			p.Circle(points[0].X, points[0].Y, x.Radius*scale, fill(x.Class))
		case holemap.Polygon:
			p.Polygon(points, fill(x.Class))
		case holemap.Text:
			p.mark(x, points[0], scale)
		}
	}
	p.SetDashPattern(nil, 0)
	p.SetDrawColor(0, 0, 0)
	p.SetFillColor(0, 0, 0)
	p.SetLineWidth(0.2)
	p.SetY(y0 + (m.Max.Y-m.Min.Y)*scale)
}

// mark writes a text of the map.
func (p *page) mark(x holemap.Mark, at fpdf.PointType, scale float64) {
	const pointsPerMM = 72 / 25.4
	size := x.Size * scale
	p.SetFont(font, "", size*pointsPerMM)
	s := p.text(x.Text)
	if x.Turned {
		p.TransformBegin()
		p.TransformRotate(-90, at.X, at.Y)
		defer p.TransformEnd()
	}
	switch x.Align {
	case holemap.Middle:
		at.X -= p.GetStringWidth(s) / 2
	case holemap.End:
		at.X -= p.GetStringWidth(s)
	}
	p.Text(at.X, at.Y+0.35*size, s)
}

// pen sets the lines and fills of a class of marks.
func (p *page) pen(class string) {
	p.SetDrawColor(29, 39, 51)
	p.SetFillColor(255, 255, 255)
	p.SetLineWidth(0.2)
	switch class {
	case "strip":
		p.SetDrawColor(216, 208, 192)
		p.SetLineWidth(0.5)
	case "hole":
		p.SetDrawColor(120, 130, 140)
		p.SetLineWidth(0.1)
	case "wire":
		p.SetLineWidth(0.4)
	case "leg", "end", "pin":
		p.SetFillColor(29, 39, 51)
	}
}

// fill is how a class of shapes is put down: with its outline alone, filled, or
// both.
func fill(class string) string {
	switch class {
	case "leg", "end", "pin":
		return "F"
	case "outline", "edge":
		return "D"
	}
	return "FD"
}
