package paper

import (
	"fmt"
	"io"
	"maps"
	"math"
	"slices"
	"strings"

	"codeberg.org/go-pdf/fpdf"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
	"cablaggio/core/layout/holemap"
	"cablaggio/core/output/assembly"
)

// Steps writes the steps as a booklet in large type: a cover with what to lay ready and what the
// build should do in the end, then on each
// left page the hole map as far as it is filled, with what comes in next in ink and what is in
// already in grey, and on the right page the steps; A4 pages, the same bytes for the same build.
func Steps(w io.Writer, lib *build.Library, doc *build.Document, r *assembly.Report, m *holemap.Map) error {
	p := newPage(lib, doc)
	p.SetFont(font, "B", 20)
	p.MultiCell(0, 9, p.text(doc.Title+", step by step"), "", "L", false)
	p.ready(r)
	p.section("Cautions")
	for _, c := range Cautions {
		p.line("• " + c)
	}
	p.should()
	if p.PageNo()%2 == 0 { // the maps stand on left pages
		p.AddPage()
	}
	n := 0
	in := map[string]bool{}
	for _, steps := range p.spreads(r.Steps) {
		now := map[string]bool{}
		for _, s := range steps {
			for _, id := range s.Parts {
				now["part "+id] = true
			}
			for _, i := range s.Wires {
				now[fmt.Sprint("wire ", i)] = true
			}
		}
		p.AddPage()
		p.holeMap(m, 245, in, now)
		maps.Copy(in, now)
		p.AddPage()
		p.SetY(topEdge - 3) // the heading below brings its own distance
		group := ""
		for _, s := range steps {
			if s.Group != group {
				group = s.Group
				p.section(group)
				p.Ln(1)
			}
			n++
			p.step(n, s)
		}
	}
	return p.Output(w)
}

// should lists what the build should do once it is built, to be ticked off.
func (p *page) should() {
	if len(p.doc.Should) == 0 {
		return
	}
	p.section("Once it is built, it should")
	for _, s := range p.doc.Should {
		p.line("[  ]  " + s)
	}
}

// spreads are the steps of each right page.
func (p *page) spreads(all []assembly.Step) (out [][]assembly.Step) {
	_, height := p.GetPageSize()
	left := 0.0
	group := ""
	for _, s := range all {
		tall := p.stepTall(s, s.Group != group)
		if left < tall || s.Group != group && left < sectionTall {
			out, left = append(out, nil), height-2*topEdge
			tall = p.stepTall(s, true)
		}
		left -= tall
		group = s.Group
		out[len(out)-1] = append(out[len(out)-1], s)
	}
	return out
}

// ready lists what to lay ready: the parts, and the wires by colour and length.
func (p *page) ready(r *assembly.Report) {
	p.section("Lay ready")
	bands := map[string][]string{}
	for _, s := range r.Steps {
		for _, id := range s.Parts {
			if len(s.Bands) > 0 {
				bands[id] = s.Bands
			}
		}
	}
	p.count(func(i int) []string { return bands[p.doc.Parts[i].ID] })
	if r.Placement == nil {
		return
	}
	var wires []string
	n := map[string]int{}
	for _, x := range r.Placement.Wires {
		words := fmt.Sprintf("%s wire, %d mm", x.Colour, x.Millimetres)
		if n[words]++; n[words] == 1 {
			wires = append(wires, words)
		}
	}
	slices.Sort(wires)
	for _, words := range wires {
		p.line(fmt.Sprintf("%d × %s", n[words], words))
	}
}

// stepTall is how tall a step is on the page, with the heading of its group where it begins one.
func (p *page) stepTall(s assembly.Step, heading bool) float64 {
	width, _ := p.GetPageSize()
	left, _, right, _ := p.GetMargins()
	p.SetFont(font, "", 14)
	tall := 7*float64(len(p.SplitText(p.text("99. "+s.Do), width-left-right-indent))) + 3
	p.SetFont(font, "", 11)
	for _, words := range s.Watch {
		tall += 5.2 * float64(len(p.SplitText(p.text(words), width-left-right-indent)))
	}
	if len(s.Bands) > 0 {
		tall += 5.2
	}
	if heading {
		tall += 12
	}
	return tall
}

// indent is how far the words of a step stand from their box, in millimetres.
const indent = 14

// step writes one step with a box to tick.
func (p *page) step(n int, s assembly.Step) {
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
// millimetres: what is in already in grey, and what comes in now in ink.
func (p *page) holeMap(m *holemap.Map, tall float64, in, now map[string]bool) {
	left, _, right, _ := p.GetMargins()
	width, _ := p.GetPageSize()
	scale := math.Min((width-left-right)/(m.Max.X-m.Min.X), tall/(m.Max.Y-m.Min.Y))
	y0 := p.GetY()
	at := func(q breadboard.Point) fpdf.PointType {
		return fpdf.PointType{X: left + (q.X-m.Min.X)*scale, Y: y0 + (q.Y-m.Min.Y)*scale}
	}
	for _, x := range m.Marks {
		thing := strings.HasPrefix(x.Of, "part ") || strings.HasPrefix(x.Of, "wire ")
		if thing && !in[x.Of] && !now[x.Of] {
			continue
		}
		p.pen(x.Class)
		p.SetTextColor(0, 0, 0)
		switch {
		case thing && in[x.Of] && !now[x.Of]:
			p.SetDrawColor(170, 170, 170)
			p.SetTextColor(150, 150, 150)
			if fill(x.Class) == "F" {
				p.SetFillColor(170, 170, 170)
			}
		case thing:
			p.SetLineWidth(0.5)
		}
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
	p.SetTextColor(0, 0, 0)
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
