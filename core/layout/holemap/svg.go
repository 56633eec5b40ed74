package holemap

import (
	"fmt"
	"html"
	"io"
	"strconv"
	"strings"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/general/version"
)

// unit is how many units of the drawing a step of 2.54 mm takes.
const unit = 10

// style is how the drawing looks by itself. On the screen the page's own style
// is used instead.
const style = `<style>
text{font-family:sans-serif;fill:#1d2733}
.outline{fill:none;stroke:#1d2733;stroke-width:1}
.board{fill:#fff;stroke:#1d2733;stroke-width:1}
.strip{stroke:#d8d0c0;stroke-width:1.6;fill:none}
.hole{fill:#fff;stroke:#56606b;stroke-width:.5}
.pin{fill:#1d2733}
.name,.place,.sign{fill:#56606b}
.wire,.case{fill:none}
.case{stroke:#1d2733;stroke-width:2.6}
.wire{stroke-width:1.8}
.end,.leg{fill:#1d2733}
.letters,.label,.name,.place,.sign{paint-order:stroke;stroke:#fff;stroke-width:2}
.lead,.edge{fill:none;stroke:#1d2733;stroke-width:1.2}
.body{fill:#fff;stroke:#1d2733;stroke-width:1.2}
</style>`

// SVG writes the map as a drawing that stands alone.
func (m *Map) SVG(w io.Writer) error {
	var b strings.Builder
	fmt.Fprintf(&b, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="%s" role="img" aria-label="Hole map of %s">`, m.viewBox(), html.EscapeString(m.Title))
	fmt.Fprintf(&b, "<metadata>%s</metadata>", version.Name)
	b.WriteString(style)
	m.marks(&b)
	b.WriteString("</svg>\n")
	_, err := io.WriteString(w, b.String())
	return err
}

// Inner returns what is inside the drawing, and its view box, for a page with a
// style of its own.
func (m *Map) Inner() (marks, viewBox string) {
	var b strings.Builder
	m.marks(&b)
	return b.String(), m.viewBox()
}

func (m *Map) viewBox() string { return viewBox(m.Min, m.Max) }

func viewBox(low, high breadboard.Point) string {
	return fmt.Sprintf("%s %s %s %s", num(low.X), num(low.Y), num(high.X-low.X), num(high.Y-low.Y))
}

func num(v float64) string {
	s := strconv.FormatFloat(v*unit, 'f', 2, 64)
	return strings.TrimRight(strings.TrimRight(s, "0"), ".")
}

// marks writes the marks; those of one part or wire are a group.
func (m *Map) marks(b *strings.Builder) {
	open := ""
	for _, x := range m.Marks {
		of := x.Of
		if x.Class == "hole" || x.Class == "pin" {
			of = ""
		}
		if of != open {
			if open != "" {
				b.WriteString("</g>")
			}
			if of != "" {
				kind, id, _ := strings.Cut(of, " ")
				fmt.Fprintf(b, `<g data-%s="%s">`, kind, html.EscapeString(id))
			}
			open = of
		}
		x.svg(b)
	}
	if open != "" {
		b.WriteString("</g>")
	}
}

// svg writes a mark. A wire has its colour on a darker case, which shows between its dashes, so that
// pale ones can be seen.
func (x Mark) svg(b *strings.Builder) {
	if colour, ok := wireMarks[x.Colour]; ok {
		under := x
		under.Class, under.Dash, under.Colour = "case", nil, ""
		under.svg(b)
		x.put(b, ` stroke="`+colour.screen+`"`)
		return
	}
	more := ""
	if x.Class == "wire" {
		more = ` stroke="currentColor"`
	}
	x.put(b, more)
}

// put writes a mark with more attributes.
func (x Mark) put(b *strings.Builder, more string) {
	p := x.Points
	attr := ` class="` + x.Class + `"` + more
	if hole, ok := strings.CutPrefix(x.Of, "hole "); ok {
		attr += ` data-hole="` + html.EscapeString(hole) + `"`
	}
	if x.Leg != "" {
		attr += ` data-leg="` + html.EscapeString(x.Leg) + `"`
	}
	if len(x.Dash) > 0 {
		var parts []string
		for _, d := range x.Dash {
			parts = append(parts, num(d))
		}
		attr += ` stroke-dasharray="` + strings.Join(parts, " ") + `"`
	}
	switch x.Shape {
	case Line, Polygon:
		d := ""
		for i, q := range p {
			op := "L"
			if i == 0 {
				op = "M"
			}
			d += op + num(q.X) + " " + num(q.Y)
		}
		if x.Shape == Polygon {
			d += "Z"
		}
		fmt.Fprintf(b, `<path%s d="%s"/>`, attr, d)
	case Curve:
		fmt.Fprintf(b, `<path%s d="M%s %sQ%s %s %s %s"/>`, attr, num(p[0].X), num(p[0].Y), num(p[1].X), num(p[1].Y), num(p[2].X), num(p[2].Y))
	case Circle:
		fmt.Fprintf(b, `<circle%s cx="%s" cy="%s" r="%s"/>`, attr, num(p[0].X), num(p[0].Y), num(x.Radius))
	case Text:
		switch x.Align {
		case Middle:
			attr += ` text-anchor="middle"`
		case End:
			attr += ` text-anchor="end"`
		}
		if x.Turned {
			attr += fmt.Sprintf(` transform="rotate(90 %s %s)"`, num(p[0].X), num(p[0].Y))
		}
		fmt.Fprintf(b, `<text%s x="%s" y="%s" font-size="%s" dominant-baseline="central">%s</text>`, attr, num(p[0].X), num(p[0].Y), num(x.Size), html.EscapeString(x.Text))
	}
}
