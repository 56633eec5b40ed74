package paper

import (
	"fmt"
	"io"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/shopping"
)

// Shopping writes what a build needs as a PDF of A4 pages to take along: first what is to be
// bought, with a box to tick, then what is there. The same lines give the same bytes.
func Shopping(w io.Writer, lib *build.Library, doc *build.Document, lines []shopping.Line) error {
	p := newPage(lib, doc)
	p.SetFont(font, "B", 20)
	p.MultiCell(0, 9, p.text(doc.Title+", to buy"), "", "L", false)
	p.Ln(3)
	bought := false
	for _, l := range lines {
		if l.Buy > 0 {
			p.buy(l)
			bought = true
		}
	}
	p.SetFont(font, "", 11)
	if !bought {
		p.line("Nothing: all of it is there.")
	}
	p.section("There already")
	there := false
	for _, l := range lines {
		if l.Have > 0 {
			p.line(fmt.Sprintf("%d × %s, for %s", l.Have, goods(l), strings.Join(l.Names, ", ")))
			there = true
		}
	}
	if !there {
		p.line("Nothing yet.")
	}
	return p.Output(w)
}

// buy is a line with a box to tick.
func (p *page) buy(l shopping.Line) {
	p.room(20)
	left, _, _, _ := p.GetMargins()
	p.Rect(left, p.GetY()+1, 5, 5, "D")
	p.SetLeftMargin(left + indent)
	p.SetX(left + indent)
	p.SetFont(font, "B", 14)
	p.MultiCell(0, 7, p.text(fmt.Sprintf("%d × %s", l.Buy, goods(l))), "", "L", false)
	p.SetFont(font, "", 11)
	words := "for " + strings.Join(l.Names, ", ")
	if l.Instead != nil {
		words += "; " + l.Instead.Value + " from the drawer would do as well"
	}
	p.line(words)
	p.SetLeftMargin(left)
	p.Ln(3)
}

// goods is what to ask for.
func goods(l shopping.Line) string { return strings.TrimSuffix(l.What+" "+l.Value, " ") }
