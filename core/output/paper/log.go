package paper

import (
	"bytes"
	"fmt"
	"io"
	"time"

	"codeberg.org/go-pdf/fpdf"

	"cablaggio/core/document/build"
)

// An Entry is something that was noted at the bench, as it is printed.
type Entry struct {
	Made     time.Time // in the zone that it is printed in
	Part     string    // the name of what it is about; may be empty
	Text     string
	Expected string // of a reading, what was expected; empty: it is none
	Differs  bool   // and it was not as expected
	Picture  []byte // JPEG; nil: none
}

const (
	clockWide   = 16.0 // mm, for the time of day
	pictureWide = 120.0
	pictureHigh = 90.0
)

// Log writes the log of a build as a PDF of A4 pages, in the order of the entries, day by day. The
// same entries give the same bytes.
func Log(w io.Writer, lib *build.Library, doc *build.Document, entries []Entry) error {
	p := newPage(lib, doc)
	p.SetFont(font, "B", 20)
	p.MultiCell(0, 9, p.text(doc.Title), "", "L", false)
	p.SetFont(font, "", 12)
	if len(entries) == 0 {
		p.line("Nothing was noted yet.")
	}
	day := ""
	for i, e := range entries {
		if d := e.Made.Format("2 January 2006"); d != day {
			day = d
			p.section(day)
		}
		if err := p.entry(e, i); err != nil {
			return err
		}
	}
	return p.Output(w)
}

func (p *page) entry(e Entry, n int) error {
	if p.GetY() > 270 {
		p.AddPage()
	}
	left, _, _, _ := p.GetMargins()
	p.CellFormat(clockWide, 5.5, e.Made.Format("15:04"), "", 0, "L", false, 0, "")
	p.SetLeftMargin(left + clockWide)
	defer p.SetLeftMargin(left)
	if e.Part != "" {
		p.SetFont(font, "B", 11)
		p.line(e.Part)
		p.SetFont(font, "", 11)
	}
	if e.Text != "" {
		p.line(e.Text)
	}
	if e.Expected != "" {
		should := "It should read "
		if e.Differs {
			p.SetFont(font, "B", 11)
			should = "Not as expected: it should read "
		}
		p.line(should + e.Expected + ".")
		p.SetFont(font, "", 11)
	}
	if e.Picture != nil {
		if err := p.photo(e.Picture, fmt.Sprintf("entry %d", n)); err != nil {
			return err
		}
	}
	p.Ln(1.5)
	p.SetX(left)
	return nil
}

// photo puts a picture in, as large as it may be.
func (p *page) photo(jpeg []byte, name string) error {
	info := p.RegisterImageOptionsReader(name, fpdf.ImageOptions{ImageType: "JPEG"}, bytes.NewReader(jpeg))
	if p.Err() {
		return fmt.Errorf("a picture of the log cannot be printed: %w", p.Error())
	}
	scale := min(pictureWide/info.Width(), pictureHigh/info.Height())
	wide, high := scale*info.Width(), scale*info.Height()
	if p.GetY()+high > 278 {
		p.AddPage()
	}
	p.ImageOptions(name, p.GetX(), p.GetY()+1, wide, high, false, fpdf.ImageOptions{ImageType: "JPEG"}, 0, "")
	p.SetY(p.GetY() + high + 2)
	return p.Error()
}
