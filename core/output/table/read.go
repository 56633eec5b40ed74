package table

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/planning/plan"
)

// MaxBytes bounds a pin table.
const MaxBytes = 1 << 20

// ReadPins reads a pin table and returns the edits that bring the build to it,
// with each in words. It needs the columns pin and part, and signal where a
// part has several; other columns are not looked at. Its error is a
// [build.Problems] that names the lines.
func ReadPins(lib *build.Library, doc *build.Document, r io.Reader) (edits []plan.Edit, words []string, err error) {
	reader := csv.NewReader(io.LimitReader(r, MaxBytes))
	reader.FieldsPerRecord = -1
	reader.TrimLeadingSpace = true
	rows, err := reader.ReadAll()
	if err != nil {
		var parse *csv.ParseError
		if errors.As(err, &parse) {
			return nil, nil, build.Problems{{Where: fmt.Sprintf("line %d", parse.Line), What: "this is not CSV: " + parse.Err.Error(), Right: "write the pin table out to see the form"}}
		}
		return nil, nil, build.Problems{{What: "the table cannot be read: " + err.Error()}}
	}
	if len(rows) == 0 {
		return nil, nil, build.Problems{{What: "the table is empty", Right: "write the pin table out to see the form"}}
	}
	column := func(name string) int {
		return slices.IndexFunc(rows[0], func(head string) bool {
			return strings.EqualFold(strings.TrimSpace(strings.TrimPrefix(head, "\ufeff")), name)
		})
	}
	pin, part, signal := column("pin"), column("part"), column("signal")
	if pin < 0 || part < 0 {
		return nil, nil, build.Problems{{Where: "line 1", What: "there is no column pin or no column part", Right: "the first line names the columns: pin, part, signal"}}
	}
	b, _ := lib.Board(doc.Board)
	var problems build.Problems
	for i, row := range rows[1:] {
		cell := func(c int) string {
			if c < 0 || c >= len(row) {
				return ""
			}
			return strings.TrimSpace(build.FromCell(row[c]))
		}
		bad := func(what, right string) {
			if len(problems) < 20 {
				problems = append(problems, build.Problem{Where: fmt.Sprintf("line %d", i+2), What: what, Right: right})
			}
		}
		if cell(pin) == "" && cell(part) == "" {
			continue
		}
		edit, done, what, right := move(b, doc, cell(pin), cell(part), cell(signal))
		switch {
		case what != "":
			bad(what, right)
		case done != "":
			edits, words = append(edits, edit), append(words, done)
		}
	}
	if len(edits) > plan.MaxEdits {
		problems = append(problems, build.Problem{What: fmt.Sprintf("the table moves %d signals", len(edits)), Right: fmt.Sprintf("at most %d at once", plan.MaxEdits)})
	}
	if len(problems) > 0 {
		return nil, nil, problems
	}
	return edits, words, nil
}

// move is the edit for one line, or what is wrong with it. Done is empty when
// nothing has to move.
func move(b *board.Profile, doc *build.Document, pin, name, signal string) (edit plan.MovePin, done, what, right string) {
	i := slices.IndexFunc(doc.Parts, func(p build.Part) bool { return strings.EqualFold(p.Name, name) })
	if i < 0 {
		return edit, "", fmt.Sprintf("there is no part called %q", name), "the names are those of the build"
	}
	p := doc.Parts[i]
	if len(p.Signals) == 0 {
		return edit, "", fmt.Sprintf("%s uses no pin", p.Name), "leave the line out"
	}
	j := 0
	if len(p.Signals) > 1 || signal != "" {
		j = slices.IndexFunc(p.Signals, func(s build.Signal) bool { return strings.EqualFold(s.Name, signal) })
	}
	if j < 0 {
		var names []string
		for _, s := range p.Signals {
			names = append(names, s.Name)
		}
		return edit, "", fmt.Sprintf("%s has no signal %q", p.Name, signal), "its signals are " + strings.Join(names, ", ")
	}
	k := slices.IndexFunc(b.Pins, func(q board.Pin) bool { return strings.EqualFold(q.Name, pin) })
	if k < 0 {
		return edit, "", fmt.Sprintf("the %s has no pin %q", b.Name, pin), "its pins are those of the ledger"
	}
	s := p.Signals[j]
	if s.Pin == b.Pins[k].Name {
		return edit, "", "", ""
	}
	edit = plan.MovePin{Part: p.ID, Signal: s.Name, Pin: b.Pins[k].Name}
	return edit, fmt.Sprintf("%s goes from %s to %s", p.Name, s.Pin, edit.Pin), "", ""
}
