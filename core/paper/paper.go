// Package paper writes the plan of a build as a PDF to lay beside the board: the
// parts with their hookups as small diagrams, the pin table, the parts list,
// loads, findings and cautions, in large type.
package paper

import (
	"fmt"
	"io"
	"math"
	"slices"
	"strings"

	"github.com/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goitalic"
	"golang.org/x/image/font/gofont/goregular"

	"cablaggio/core/build"
	"cablaggio/core/check"
	"cablaggio/core/part"
)

// Cautions go with every build.
var Cautions = []string{
	"Unplug the board before you wire or move a wire.",
	"Smoke or heat: unplug first, look later.",
	"Never mains on a breadboard. Beyond low-voltage cells and USB, local codes and licensed practice decide.",
	"Charge lithium cells with their own charger only. Do not look into bright LEDs close up.",
}

// Plan writes the plan as a PDF of A4 pages. The same build gives the same
// bytes.
func Plan(w io.Writer, lib *build.Library, doc *build.Document, a *check.Analysis) error {
	p := newPage(lib, doc)
	p.head(a)
	p.parts(a)
	p.pins(a)
	p.list(a)
	p.loads(a)
	p.findings(a)
	p.section("Cautions")
	for _, c := range Cautions {
		p.line("• " + c)
	}
	return p.Output(w)
}

// newPage begins a document of A4 pages.
func newPage(lib *build.Library, doc *build.Document) *page {
	p := &page{Fpdf: fpdf.New("P", "mm", "A4", ""), lib: lib, doc: doc}
	p.AddUTF8FontFromBytes(font, "", goregular.TTF)
	p.AddUTF8FontFromBytes(font, "B", gobold.TTF)
	p.AddUTF8FontFromBytes(font, "I", goitalic.TTF)
	p.SetCatalogSort(true)
	p.SetCreationDate(epoch)
	p.SetModificationDate(epoch)
	p.SetTitle(doc.Title, true)
	p.SetMargins(18, 16, 18)
	p.SetAutoPageBreak(true, 16)
	p.SetFooterFunc(func() {
		p.SetY(-12)
		p.SetFont(font, "", 9)
		p.CellFormat(0, 5, p.text(fmt.Sprintf("%s, page %d", doc.Title, p.PageNo())), "", 0, "R", false, 0, "")
	})
	p.AddPage()
	return p
}

// font goes into the file with it: the fonts that every reader has lack Ω and −.
const font = "Go"

type page struct {
	*fpdf.Fpdf
	lib *build.Library
	doc *build.Document
}

// text writes what the font has no sign for in another way.
func (p *page) text(s string) string {
	return strings.Map(func(r rune) rune {
		if r > 0xffff { // nor can a font in a PDF of this kind number it
			return '□'
		}
		return r
	}, strings.ReplaceAll(s, "∛", "cube root of "))
}

func (p *page) section(title string) {
	if p.GetY() > 250 {
		p.AddPage()
	}
	p.Ln(4)
	p.SetFont(font, "B", 14)
	p.CellFormat(0, 8, p.text(title), "B", 1, "L", false, 0, "")
	p.Ln(1)
	p.SetFont(font, "", 11)
}

func (p *page) line(s string) { p.MultiCell(0, 5.5, p.text(s), "", "L", false) }

func (p *page) head(a *check.Analysis) {
	p.SetFont(font, "B", 20)
	p.MultiCell(0, 9, p.text(p.doc.Title), "", "L", false)
	p.SetFont(font, "", 12)
	b, _ := p.lib.Board(p.doc.Board)
	p.line(fmt.Sprintf("%s, fed by %s. %d stop, %d care, %d note.", b.Name, a.Supply.Name, a.Counts.Stop, a.Counts.Care, a.Counts.Note))
}

// parts draws each part with its hookup as a row of boxes on a wire.
func (p *page) parts(a *check.Analysis) {
	p.section("Parts and how they are wired")
	for i := range p.doc.Parts {
		q := &p.doc.Parts[i]
		if q.Of != "" {
			continue
		}
		kind, _ := p.lib.Catalogue.Kind(q.Kind)
		if p.GetY() > 262 {
			p.AddPage()
		}
		p.SetFont(font, "B", 11)
		var values []string
		for _, x := range a.Parts[i].Quantities {
			values = append(values, x.Name+" "+x.Text)
		}
		if len(values) > 3 {
			values = values[:3]
		}
		p.CellFormat(0, 6, p.text(q.Name), "", 1, "L", false, 0, "")
		p.SetFont(font, "", 10)
		if h, ok := kind.Hookup(q.Hookup); ok {
			p.diagram(q, kind, h)
		} else {
			p.wires(q)
		}
		if len(values) > 0 {
			p.line(strings.Join(values, "; "))
		}
		p.Ln(1.5)
	}
}

// diagram draws the row of a hookup: ends as text, what lies between as boxes.
func (p *page) diagram(q *build.Part, kind *part.Kind, h part.Hookup) {
	const wide, tall, gap, drop = 27.0, 8.0, 4.0, 5.0
	x, y := p.GetX(), p.GetY()+3.5
	begin := x
	for i, name := range h.Row {
		label, box := p.named(q, name)
		p.SetXY(x, y)
		style := ""
		if box {
			style = "1"
		}
		for size := 10.0; ; size-- {
			p.SetFont(font, "", size)
			if p.GetStringWidth(p.text(label)) < wide-1 || size <= 6 {
				break
			}
		}
		if box && p.glyph(q, kind, name, x, y, wide, tall) {
			p.SetXY(x, y-3.2)
			p.CellFormat(wide, 3, p.text(label), "", 0, "C", false, 0, "")
		} else {
			p.CellFormat(wide, tall, p.text(label), style, 0, "C", false, 0, "")
		}
		if i < len(h.Row)-1 {
			p.Line(x+wide, y+tall/2, x+wide+gap, y+tall/2)
		}
		x += wide + gap
	}
	p.SetFont(font, "", 10)
	if at, ok := h.TapAt(); ok {
		// Between two places, or at the middle of one.
		k, half := math.Modf(at)
		x, top := begin+k*(wide+gap)-gap/2, y+tall/2
		if half > 0 {
			x, top = begin+k*(wide+gap)+wide/2, y+tall
			if kind.Symbol == "potentiometer" {
				top = y + tall/2 + 1.8
			}
		}
		label, _ := p.named(q, h.Tap)
		p.Line(x, top, x, y+tall+1)
		p.SetXY(x-wide/2, y+tall+1)
		p.CellFormat(wide, drop-1, p.text(label), "", 0, "C", false, 0, "")
		y += drop
	}
	p.SetXY(18, y+tall+1)
	var more []string
	for _, s := range q.Signals {
		words := s.Name + " on " + s.Pin
		if s.Pull != "" {
			words += " with the internal pull-" + string(s.Pull)
		}
		more = append(more, words)
	}
	for _, helper := range p.doc.Helpers(q.ID) {
		if !slices.Contains(h.Row, helper.Role) {
			more = append(more, helper.Role+" "+p.valueOf(helper))
		}
	}
	if len(more) > 0 {
		p.line(strings.Join(more, "; "))
	}
}

// named says what stands at a place of a row, and whether it is a part.
func (p *page) named(q *build.Part, name string) (label string, box bool) {
	b, _ := p.lib.Board(p.doc.Board)
	switch name {
	case "self":
		return q.Name, true
	case "board.ground":
		return b.Ground, false
	case "board.supply":
		return b.Logic.Rail, false
	case "board.power":
		return b.Power, false
	case "host":
		return "other part", false
	}
	if signal, ok := strings.CutPrefix(name, "pin."); ok {
		for _, s := range q.Signals {
			if s.Name == signal {
				return "pin " + s.Pin, false
			}
		}
	}
	for _, h := range p.doc.Helpers(q.ID) {
		if h.Role == name {
			return p.valueOf(h), true
		}
	}
	return name, true
}

func (p *page) valueOf(q *build.Part) string {
	kind, _ := p.lib.Catalogue.Kind(q.Kind)
	if s := build.FirstValue(kind, q); s != "" {
		return s
	}
	return kind.Name
}

// wires lists what a part that was wired by hand is joined to.
func (p *page) wires(q *build.Part) {
	kind, _ := p.lib.Catalogue.Kind(q.Kind)
	for _, t := range kind.Terminals {
		net := p.doc.NetOf(build.Of(q.ID, t.ID))
		if net < 0 {
			continue
		}
		var others []string
		for _, u := range p.doc.Nets[net] {
			if u != build.Of(q.ID, t.ID) {
				others = append(others, strings.TrimPrefix(string(u), "board."))
			}
		}
		p.line(t.Name + " to " + strings.Join(others, ", "))
	}
}

func (p *page) pins(a *check.Analysis) {
	p.section("Pins")
	for _, pin := range a.Pins {
		var names []string
		for _, id := range pin.Parts {
			names = append(names, p.doc.Part(id).Name)
		}
		carries := pin.Does
		if pin.Amps != nil {
			carries += ", " + pin.Way + " " + pin.Amps.Text
		}
		var reads []string
		for _, in := range pin.Inputs {
			if in.Count != "" {
				reads = append(reads, in.Count)
			} else {
				reads = append(reads, string(in.Reads))
			}
		}
		if len(reads) > 0 && len(reads) <= 4 {
			carries += ", reads " + strings.Join(reads, ", ")
		}
		p.SetFont(font, "B", 11)
		p.CellFormat(18, 6, p.text(pin.Pin), "", 0, "L", false, 0, "")
		p.SetFont(font, "", 11)
		p.MultiCell(0, 6, p.text(strings.Join(names, " + ")+": "+carries), "", "L", false)
	}
	if len(a.Pins) == 0 {
		p.line("None is used.")
	}
}

func (p *page) list(a *check.Analysis) {
	p.section("Parts list")
	type row struct {
		what, marking string
		n             int
	}
	var rows []row
	for i := range p.doc.Parts {
		q := &p.doc.Parts[i]
		kind, _ := p.lib.Catalogue.Kind(q.Kind)
		r := row{what: kind.Name, marking: strings.Join(a.Parts[i].Bands, " – "), n: 1}
		if t, ok := kind.Type(q.Type); ok {
			r.what = t.Name + " " + kind.Name
		} else if v := build.FirstValue(kind, q); v != "" {
			r.what += " " + v
		}
		if k := slices.IndexFunc(rows, func(x row) bool { return x.what == r.what }); k >= 0 {
			rows[k].n++
			continue
		}
		rows = append(rows, r)
	}
	for _, r := range rows {
		s := fmt.Sprintf("%d × %s", r.n, r.what)
		if r.marking != "" {
			s += " (" + r.marking + ")"
		}
		p.line(s)
	}
}

func (p *page) loads(a *check.Analysis) {
	p.section("Load at worst")
	for _, l := range a.Loads {
		p.line(fmt.Sprintf("%s: %s of %s", l.Name, l.Carries.MaxText, l.Carries.Limit.AbsoluteText))
	}
	if a.Supply.RunTime != nil {
		p.line("run time with everything on: " + a.Supply.RunTime.Text)
	}
}

func (p *page) findings(a *check.Analysis) {
	p.section("Findings")
	if len(a.Findings) == 0 {
		p.line("Nothing found.")
	}
	for _, x := range a.Findings {
		p.SetFont(font, "B", 11)
		p.line(strings.ToUpper(string(x.Level)) + "  " + x.Title)
		p.SetFont(font, "", 11)
		p.line(x.Why)
		for _, fix := range x.Fixes {
			p.line("Fix: " + fix.Label)
		}
		p.Ln(1.5)
	}
}
