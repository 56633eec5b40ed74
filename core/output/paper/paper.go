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

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
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

func (p *page) head(a *check.Analysis) {
	p.SetFont(font, "B", 20)
	p.MultiCell(0, 9, p.text(p.doc.Title), "", "L", false)
	p.SetFont(font, "", 12)
	b, _ := p.lib.Board(p.doc.Board)
	p.line(fmt.Sprintf("%s, fed by %s. %d stop, %d care, %d note.", b.Name, a.Supply.Name, a.Counts.Stop, a.Counts.Care, a.Counts.Note))
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
