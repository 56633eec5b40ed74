package paper

import (
	"fmt"
	"strings"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goitalic"
	"golang.org/x/image/font/gofont/goregular"

	"cablaggio/core/document/build"
	"cablaggio/core/general/version"
)

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
	p.SetCreator(version.Name, true)
	p.SetMargins(margin, topEdge, margin)
	p.SetAutoPageBreak(true, topEdge)
	p.SetFooterFunc(func() {
		width, _ := p.GetPageSize()
		p.SetXY(margin, -12)
		p.SetFont(font, "", 9)
		p.CellFormat(width-2*margin, 5, p.text(fmt.Sprintf("%s, page %d", doc.Title, p.PageNo())), "", 0, "R", false, 0, "")
		p.SetXY(margin, -12)
		p.CellFormat(width-2*margin, 5, version.Name, "", 0, "L", false, 0, "")
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
