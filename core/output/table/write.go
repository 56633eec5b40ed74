// Package table writes what was planned as tables that other programs read, and
// reads the pin table back: CSV after RFC 4180, safe to open in a spreadsheet.
package table

import (
	"encoding/csv"
	"fmt"
	"io"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/judgement/shopping"
)

// Parts writes the parts list, one line for all parts that are alike: how many,
// what, its value, its marking, and their names.
func Parts(w io.Writer, lib *build.Library, doc *build.Document, a *check.Analysis) error {
	type row struct {
		what, value, marking string
		names                []string
	}
	var rows []*row
	for i := range doc.Parts {
		p := &doc.Parts[i]
		kind, _ := lib.Catalogue.Kind(p.Kind)
		r := row{what: kind.Name}
		if t, ok := kind.Type(p.Type); ok {
			r.what = t.Name + " " + kind.Name
		}
		r.value = build.FirstValue(kind, p)
		r.marking = strings.Join(a.Parts[i].Bands, " ")
		known := false
		for _, other := range rows {
			if other.what == r.what && other.value == r.value {
				other.names = append(other.names, p.Name)
				known = true
			}
		}
		if !known {
			r.names = []string{p.Name}
			rows = append(rows, &r)
		}
	}
	out := newSheet(w, "count", "part", "value", "marking", "names")
	for _, r := range rows {
		out.row(fmt.Sprint(len(r.names)), r.what, r.value, r.marking, strings.Join(r.names, ", "))
	}
	return out.end()
}

// Pins writes the pin table, one line for each signal: the pin, the part, the
// signal, and what the pin carries or reads. [ReadPins] reads it back.
func Pins(w io.Writer, doc *build.Document, a *check.Analysis) error {
	out := newSheet(w, "pin", "part", "signal", "does", "current or readings")
	for _, pin := range a.Pins {
		var carries []string
		if pin.Amps != nil {
			carries = append(carries, pin.Way+" "+pin.Amps.Text)
		}
		for _, in := range pin.Inputs {
			reads := string(in.Reads)
			if in.Count != "" {
				reads = in.Count
			}
			carries = append(carries, reads+" when "+in.State)
		}
		for _, id := range pin.Parts {
			p := doc.Part(id)
			for _, s := range p.Signals {
				if s.Pin == pin.Pin {
					out.row(pin.Pin, p.Name, s.Name, s.Needs.Name(), strings.Join(carries, "; "))
				}
			}
		}
	}
	return out.end()
}

// Shopping writes what a build needs beside what there is of it.
func Shopping(w io.Writer, lines []shopping.Line) error {
	out := newSheet(w, "part", "value", "needed", "have", "buy", "or instead", "for")
	for _, l := range lines {
		instead := ""
		if l.Instead != nil {
			instead = l.Instead.Value
		}
		out.row(l.What, l.Value, fmt.Sprint(l.Needed), fmt.Sprint(l.Have), fmt.Sprint(l.Buy), instead, strings.Join(l.Names, ", "))
	}
	return out.end()
}

// A sheet writes CSV and keeps the first error.
type sheet struct {
	csv *csv.Writer
	err error
}

func newSheet(w io.Writer, heads ...string) *sheet {
	t := &sheet{csv: csv.NewWriter(w)}
	t.csv.UseCRLF = true
	t.row(heads...)
	return t
}

func (t *sheet) row(cells ...string) {
	safe := make([]string, len(cells))
	for i, c := range cells {
		safe[i] = build.Cell(c)
	}
	if err := t.csv.Write(safe); t.err == nil {
		t.err = err
	}
}

func (t *sheet) end() error {
	t.csv.Flush()
	if err := t.csv.Error(); t.err == nil {
		t.err = err
	}
	return t.err
}
