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
	p.columns()
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
	p := &page{Fpdf: fpdf.New("P", "mm", "A4", ""), lib: lib, doc: doc, next: func() bool { return true }}
	p.AddUTF8FontFromBytes(font, "", goregular.TTF)
	p.AddUTF8FontFromBytes(font, "B", gobold.TTF)
	p.AddUTF8FontFromBytes(font, "I", goitalic.TTF)
	p.SetCatalogSort(true)
	p.SetCreationDate(epoch)
	p.SetModificationDate(epoch)
	p.SetTitle(doc.Title, true)
	p.SetMargins(margin, topEdge, margin)
	p.SetAutoPageBreak(true, topEdge)
	p.SetFooterFunc(func() {
		width, _ := p.GetPageSize()
		p.SetXY(margin, -12)
		p.SetFont(font, "", 9)
		p.CellFormat(width-2*margin, 5, p.text(fmt.Sprintf("%s, page %d", doc.Title, p.PageNo())), "", 0, "R", false, 0, "")
	})
	p.AddPage()
	return p
}

// font goes into the file with it: the fonts that every reader has lack Ω and −.
const font = "Go"

type page struct {
	*fpdf.Fpdf
	lib  *build.Library
	doc  *build.Document
	next func() bool // goes on where there is room, on this page (false) or on another one
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

// sectionTall is what must be left of a page for a heading with what follows it, in millimetres.
const sectionTall = 30.0

func (p *page) section(title string) {
	p.room(sectionTall)
	p.Ln(3)
	p.SetFont(font, "B", 14)
	p.CellFormat(0, 7, p.text(title), "B", 1, "L", false, 0, "")
	p.Ln(1)
	p.SetFont(font, "", 11)
}

func (p *page) line(s string) { p.MultiCell(0, 5.2, p.text(s), "", "L", false) }

// Margins of a page, and what lies between two columns, in millimetres.
const (
	margin  = 15.0
	topEdge = 13.0
	between = 8.0
)

// columns lets what follows go down the left half of the page, then down the right half, then onto
// the next page.
func (p *page) columns() {
	width, _ := p.GetPageSize()
	column := (width - 2*margin - between) / 2
	top, right := p.GetY(), false
	side := func() {
		left := margin
		if right {
			left += column + between
		}
		p.SetLeftMargin(left)
		p.SetRightMargin(width - left - column)
		p.SetX(left)
	}
	p.next = func() bool {
		if right = !right; right {
			side()
			p.SetY(top)
			return false
		}
		top = topEdge
		side()
		return true
	}
	p.SetAcceptPageBreakFunc(p.next)
	side()
}

// room goes on where there is so much of it in millimetres: in the next column, or on the next page.
func (p *page) room(tall float64) {
	_, height := p.GetPageSize()
	if p.GetY()+tall <= height-topEdge {
		return
	}
	if p.next() {
		p.AddPage()
	}
}

func (p *page) head(a *check.Analysis) {
	p.SetFont(font, "B", 20)
	p.MultiCell(0, 9, p.text(p.doc.Title), "", "L", false)
	p.SetFont(font, "", 12)
	b, _ := p.lib.Board(p.doc.Board)
	p.line(fmt.Sprintf("%s, fed by %s. %d stop, %d care, %d note.", b.Name, a.Supply.Name, a.Counts.Stop, a.Counts.Care, a.Counts.Note))
}

// mostValues is how many values are told of a part: those that come first say most.
const mostValues = 2

// partTall is what a part with its diagram takes, in millimetres, for the most part.
const partTall = 28.0

// parts draws each part with its hookup as a row of boxes on a wire; parts that are alike but for
// their pins are drawn once.
func (p *page) parts(a *check.Analysis) {
	p.section("Parts and how they are wired")
	for _, like := range p.alike() {
		q := &p.doc.Parts[like[0]]
		kind, _ := p.lib.Catalogue.Kind(q.Kind)
		p.room(partTall)
		p.SetFont(font, "B", 11)
		var names []string
		for _, i := range like {
			names = append(names, p.doc.Parts[i].Name)
		}
		p.MultiCell(0, 5.2, p.text(strings.Join(names, ", ")), "", "L", false)
		p.SetFont(font, "", 10)
		h, ok := kind.Hookup(q.Hookup)
		if ok {
			p.diagram(q, kind, h, len(like) > 1)
		} else {
			p.wires(q)
		}
		for _, i := range like {
			if len(like) > 1 {
				p.where(&p.doc.Parts[i], h)
			}
		}
		if values := p.values(a, like); values != "" {
			p.line(values)
		}
		p.Ln(1.5)
	}
}

// alike puts parts together that are wired in the same way, with values that read the same.
func (p *page) alike() (out [][]int) {
	var keys []string
	for i := range p.doc.Parts {
		q := &p.doc.Parts[i]
		if q.Of != "" {
			continue
		}
		key := fmt.Sprint(q.Kind, q.Type, q.Hookup)
		for _, h := range p.doc.Helpers(q.ID) {
			key += fmt.Sprint(" ", h.Role, p.valueOf(h))
		}
		for _, s := range q.Signals {
			key += fmt.Sprint(" ", s.Name, s.Pull)
		}
		if k := slices.Index(keys, key); k >= 0 && q.Hookup != "" {
			out[k] = append(out[k], i)
			continue
		}
		keys, out = append(keys, key), append(out, []int{i})
	}
	return out
}

// where says which pins, or which leg of another part, one of several parts that are alike is at.
func (p *page) where(q *build.Part, h part.Hookup) {
	var at []string
	for _, s := range q.Signals {
		words := s.Pin
		if len(q.Signals) > 1 {
			words = s.Name + " " + words
		}
		at = append(at, words)
	}
	if leg := p.host(q, h); leg != "" {
		at = append(at, leg)
	}
	if len(at) > 0 {
		p.line(q.Name + ": " + strings.Join(at, ", "))
	}
}

// host is the leg of another part that a part hangs on, in words.
func (p *page) host(q *build.Part, h part.Hookup) string {
	if !slices.Contains(h.Row, "host") {
		return ""
	}
	own := []string{q.ID}
	for _, x := range p.doc.Helpers(q.ID) {
		own = append(own, x.ID)
	}
	for _, net := range p.doc.Nets {
		if !slices.ContainsFunc(net, func(t build.Terminal) bool { id, _ := t.Split(); return slices.Contains(own, id) }) {
			continue
		}
		for _, t := range net {
			id, leg := t.Split()
			x := p.doc.Part(id)
			if x == nil || slices.Contains(own, id) {
				continue
			}
			switch {
			case !slices.Contains(h.Host.Kinds, x.Kind) || !slices.Contains(h.Host.Legs, leg):
			case x.Of != "":
				return x.Name
			default:
				return leg + " of " + x.Name
			}
		}
	}
	return ""
}

// values says the first values of parts that are alike: of the one that has least, and of the one
// that has most.
func (p *page) values(a *check.Analysis, like []int) string {
	all := a.Parts[like[0]].Quantities
	var out []string
	for k, x := range all[:min(len(all), mostValues)] {
		least, most := x, x
		for _, i := range like[1:] {
			if list := a.Parts[i].Quantities; k < len(list) && list[k].Name == x.Name {
				if list[k].Typ < least.Typ {
					least = list[k]
				}
				if list[k].Typ > most.Typ {
					most = list[k]
				}
			}
		}
		words := x.Name + " " + least.Text
		if most.Text != least.Text {
			words += " to " + most.Text
		}
		out = append(out, words)
	}
	return strings.Join(out, "; ")
}

// diagram draws the row of a hookup: ends as text, what lies between as boxes. Of many parts it
// does not say which pins.
func (p *page) diagram(q *build.Part, kind *part.Kind, h part.Hookup, many bool) {
	const tall, gap, drop = 8.0, 3.0, 5.0
	width, _ := p.GetPageSize()
	left, _, right, _ := p.GetMargins()
	room := width - left - right
	wide := min(27, (room-gap*float64(len(h.Row)-1))/float64(len(h.Row)))
	x, y := left, p.GetY()+3.5
	begin := x
	for i, name := range h.Row {
		label, box := p.named(q, h, name, many)
		p.SetXY(x, y)
		style := ""
		if box {
			style = "1"
		}
		label = p.fitted(label, wide+gap/2)
		if box && p.glyph(q, kind, name, x, y, wide, tall) {
			if name != "self" { // whose name stands above
				p.SetXY(x, y-3.2)
				p.CellFormat(wide, 3, p.text(label), "", 0, "C", false, 0, "")
			}
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
		label, _ := p.named(q, h, h.Tap, many)
		p.Line(x, top, x, y+tall+1)
		p.SetXY(x-wide/2, y+tall+1)
		p.CellFormat(wide, drop-1, p.text(label), "", 0, "C", false, 0, "")
		y += drop
	}
	p.SetXY(left, y+tall+1)
	var more []string
	for _, s := range q.Signals {
		if many {
			break // each is told with its part
		}
		drawn := h.Tap == "pin."+s.Name || slices.Contains(h.Row, "pin."+s.Name)
		switch {
		case s.Pull != "":
			more = append(more, s.Name+" on "+s.Pin+" with the internal pull-"+string(s.Pull))
		case !drawn:
			more = append(more, s.Name+" on "+s.Pin)
		}
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

// fitted sets a font in which a label is so wide at most, and cuts the label where none is small
// enough to read.
func (p *page) fitted(label string, wide float64) string {
	for size := 10.0; size >= 6.5; size -= 0.5 {
		if p.SetFont(font, "", size); p.GetStringWidth(p.text(label)) < wide-1 {
			return label
		}
	}
	letters := []rune(label)
	for len(letters) > 1 && p.GetStringWidth(p.text(string(letters)+"…")) >= wide-1 {
		letters = letters[:len(letters)-1]
	}
	return string(letters) + "…"
}

// named says what stands at a place of a row, and whether it is a part.
func (p *page) named(q *build.Part, h part.Hookup, name string, many bool) (label string, box bool) {
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
		if leg := p.host(q, h); leg != "" && !many {
			return leg, false
		}
		return "its leg", false
	}
	if signal, ok := strings.CutPrefix(name, "pin."); ok {
		for _, s := range q.Signals {
			if s.Name == signal && many {
				return "its pin", false
			}
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
		if pin.Amps != nil && math.Max(pin.Amps.High, -pin.Amps.Low) > leastAmps {
			carries += ", " + pin.Way + " " + pin.Amps.Text
		}
		var reads []string
		for _, in := range pin.Inputs {
			reading := string(in.Reads)
			if in.Count != "" {
				reading = in.Count
			}
			if when := p.when(in.State, pin.Parts); in.State != "" && len(when) <= mostWhen {
				reading += " " + when
			}
			if !slices.Contains(reads, reading) {
				reads = append(reads, reading)
			}
		}
		if len(reads) > 0 && len(reads) <= 4 {
			carries += ", reads " + strings.Join(reads, ", ")
		}
		p.room(11)
		p.SetFont(font, "B", 11)
		p.CellFormat(12, 5.2, p.text(pin.Pin), "", 0, "L", false, 0, "")
		p.SetFont(font, "", 11)
		p.MultiCell(0, 5.2, p.text(strings.Join(names, " + ")+": "+carries), "", "L", false)
	}
	if len(a.Pins) == 0 {
		p.line("None is used.")
	}
}

// leastAmps is the current of a pin from which on it is told, and mostWhen how long a state may be
// to be told with its reading.
const (
	leastAmps = 10e-6
	mostWhen  = 40
)

// when is the state of a reading in as few words as tell it on the line of its parts: "in the
// dark", "when pressed".
func (p *page) when(state string, parts []string) string {
	if len(parts) == 1 {
		if is, ok := strings.CutPrefix(state, p.doc.Part(parts[0]).Name+" is "); ok {
			for _, begins := range []string{"in ", "at "} {
				if strings.HasPrefix(is, begins) {
					return is
				}
			}
			return "when " + is
		}
	}
	return "when " + state
}

func (p *page) list(a *check.Analysis) {
	p.section("Parts list")
	p.count(func(i int) []string { return a.Parts[i].Bands })
}

// count lists the parts of a build by what they are, with the bands of each.
func (p *page) count(bands func(part int) []string) {
	type row struct {
		what, marking string
		n             int
	}
	var rows []row
	for i := range p.doc.Parts {
		q := &p.doc.Parts[i]
		kind, _ := p.lib.Catalogue.Kind(q.Kind)
		r := row{what: kind.Name, marking: strings.Join(bands(i), " – "), n: 1}
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
