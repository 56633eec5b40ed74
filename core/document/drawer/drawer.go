// Package drawer is what the builder owns: parts by kind and value, with how
// many there are. It goes out and comes in as CSV.
package drawer

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"maps"
	"slices"
	"strconv"
	"strings"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/values/quantity"
)

// An Item is parts that are alike.
type Item struct {
	ID       string             `json:"id,omitempty"`
	Kind     string             `json:"kind"`
	Type     string             `json:"type,omitempty"`
	Name     string             `json:"name,omitempty"`
	Values   map[string]float64 `json:"values"` // in SI base units
	Pieces   int                `json:"pieces"`
	Measured bool               `json:"measured,omitempty"` // its first value was measured, not read
}

// Bounds of a drawer.
const (
	MaxItems  = 1000
	MaxPieces = 100_000
	MaxBytes  = 1 << 20
)

// Check reports everything that is wrong with items, as a [build.Problems].
func Check(c *part.Catalogue, items []Item) error {
	var ps build.Problems
	bad := func(i int, what, right string) {
		if len(ps) < 20 {
			ps = append(ps, build.Problem{Where: fmt.Sprintf("line %d", i+2), What: what, Right: right})
		}
	}
	if len(items) > MaxItems {
		return build.Problems{{What: fmt.Sprintf("there are %d different things", len(items)), Right: fmt.Sprintf("a drawer holds %d", MaxItems)}}
	}
	for i, it := range items {
		kind, ok := c.Kind(it.Kind)
		if !ok {
			bad(i, fmt.Sprintf("there is no kind of part %q", it.Kind), "the kinds are those of the catalogue")
			continue
		}
		if _, ok := kind.Type(it.Type); !ok && it.Type != "" {
			bad(i, fmt.Sprintf("there is no %s of type %q", kind.Name, it.Type), "")
		}
		if it.Pieces < 0 || it.Pieces > MaxPieces {
			bad(i, fmt.Sprintf("%d pieces", it.Pieces), fmt.Sprintf("0 to %d", MaxPieces))
		}
		if what, right := build.NameProblem(it.Name); what != "" {
			bad(i, "the name: "+what, right)
		}
		for _, id := range sorted(it.Values) {
			if err := build.CheckValue(kind, id, it.Values[id]); err != nil {
				bad(i, err.Error(), "")
			}
		}
	}
	if len(ps) > 0 {
		return ps
	}
	return nil
}

// Same reports whether two items are of things that lie in one compartment, whatever their numbers.
func (it Item) Same(other Item) bool {
	return it.Kind == other.Kind && it.Type == other.Type && it.Name == other.Name && it.Measured == other.Measured && maps.Equal(it.Values, other.Values)
}

// Missing are the items that a drawer has not.
func Missing(items, in []Item) []Item {
	var out []Item
	for _, it := range items {
		if !slices.ContainsFunc(slices.Concat(in, out), it.Same) {
			it.ID = ""
			out = append(out, it)
		}
	}
	return out
}

func sorted(m map[string]float64) []string {
	var keys []string
	for k := range m {
		keys = append(keys, k)
	}
	slices.Sort(keys)
	return keys
}

// Kit returns a kit of the usual 30 resistor values, n of each: the E6 values
// of five decades (common practice).
func Kit(n int) []Item {
	var out []Item
	for _, decade := range []float64{10, 100, 1e3, 10e3, 100e3} {
		for _, m := range []float64{1, 1.5, 2.2, 3.3, 4.7, 6.8} {
			out = append(out, Item{Kind: "resistor", Values: map[string]float64{"resistance": m * decade}, Pieces: n})
		}
	}
	return out
}

// Resistors returns the resistances in the drawer, in ohms, of which there is
// one at least.
func Resistors(items []Item) []float64 {
	var out []float64
	for _, it := range items {
		if v := it.Values["resistance"]; it.Kind == "resistor" && it.Pieces > 0 && v > 0 && !slices.Contains(out, v) {
			out = append(out, v)
		}
	}
	slices.Sort(out)
	return out
}

// Write writes items as CSV (RFC 4180): kind, type, name, pieces, measured, and
// the values as "resistance=220 Ω; tolerance=1 %".
func Write(w io.Writer, c *part.Catalogue, items []Item) error {
	out := csv.NewWriter(w)
	out.UseCRLF = true
	if err := out.Write([]string{"kind", "type", "name", "pieces", "measured", "values"}); err != nil {
		return err
	}
	for _, it := range items {
		kind, _ := c.Kind(it.Kind)
		var values []string
		for _, id := range sorted(it.Values) {
			v, _ := kind.Value(id)
			values = append(values, id+"="+strconv.FormatFloat(it.Values[id], 'g', -1, 64)+strings.TrimSuffix(" "+string(v.Unit), " "))
		}
		measured := ""
		if it.Measured {
			measured = "yes"
		}
		if err := out.Write([]string{it.Kind, it.Type, build.Cell(it.Name), strconv.Itoa(it.Pieces), measured, strings.Join(values, "; ")}); err != nil {
			return err
		}
	}
	out.Flush()
	return out.Error()
}

// Read reads what [Write] writes. The kind may also be named by a word of the
// catalogue, and a column "value" holds the first value alone. Its error is a
// [build.Problems] that names the lines.
func Read(r io.Reader, c *part.Catalogue) ([]Item, error) {
	in := csv.NewReader(io.LimitReader(r, MaxBytes))
	in.FieldsPerRecord = -1
	rows, err := in.ReadAll()
	if err != nil {
		var parse *csv.ParseError
		if errors.As(err, &parse) {
			return nil, build.Problems{{Where: fmt.Sprintf("line %d", parse.Line), What: "this is not CSV: " + parse.Err.Error(), Right: "write the drawer out to see the form"}}
		}
		return nil, build.Problems{{What: "the table cannot be read: " + err.Error()}}
	}
	if len(rows) == 0 {
		return nil, build.Problems{{What: "the table is empty", Right: "write the drawer out to see the form"}}
	}
	column := func(name string) int {
		return slices.IndexFunc(rows[0], func(h string) bool {
			return strings.EqualFold(strings.TrimSpace(strings.TrimPrefix(h, "\ufeff")), name)
		})
	}
	if column("kind") < 0 {
		return nil, build.Problems{{Where: "line 1", What: "there is no column kind", Right: "the first line names the columns: kind, type, name, pieces, measured, values"}}
	}
	var ps build.Problems
	items := []Item{}
	for i, row := range rows[1:] {
		cell := func(name string) string {
			if k := column(name); k >= 0 && k < len(row) {
				return strings.TrimSpace(row[k])
			}
			return ""
		}
		if strings.Join(row, "") == "" {
			continue
		}
		it, what := item(c, cell)
		if what != "" && len(ps) < 20 {
			ps = append(ps, build.Problem{Where: fmt.Sprintf("line %d", i+2), What: what})
		}
		items = append(items, it)
	}
	if len(ps) > 0 {
		return nil, ps
	}
	return items, Check(c, items)
}

func item(c *part.Catalogue, cell func(string) string) (it Item, what string) {
	name := cell("kind")
	i := slices.IndexFunc(c.Kinds, func(k part.Kind) bool {
		return k.ID == name || strings.EqualFold(k.Name, name) || slices.Contains(k.Words, strings.ToLower(name))
	})
	if i < 0 {
		return it, fmt.Sprintf("there is no kind of part %q", name)
	}
	kind := &c.Kinds[i]
	it = Item{Kind: kind.ID, Type: strings.ToLower(cell("type")), Name: build.FromCell(cell("name")), Pieces: 1, Values: map[string]float64{}}
	it.Measured = slices.Contains([]string{"yes", "true", "1", "x"}, strings.ToLower(cell("measured")))
	if text := cell("pieces"); text != "" {
		n, err := strconv.Atoi(text)
		if err != nil {
			return it, fmt.Sprintf("%q is not a number of pieces", text)
		}
		it.Pieces = n
	}
	set := func(id, text string) string {
		v, ok := kind.Value(id)
		if !ok {
			return fmt.Sprintf("a %s has no value %q", kind.Name, id)
		}
		x, err := quantity.Parse(text, v.Unit)
		if err != nil {
			return v.Name + ": " + err.Error()
		}
		it.Values[id] = x
		return ""
	}
	if text := cell("value"); text != "" && len(kind.Values) > 0 {
		if what := set(kind.Values[0].ID, text); what != "" {
			return it, what
		}
	}
	for pair := range strings.SplitSeq(cell("values"), ";") {
		id, text, ok := strings.Cut(pair, "=")
		if strings.TrimSpace(pair) == "" {
			continue
		}
		if !ok {
			return it, fmt.Sprintf("%q is not a value; write resistance=220", strings.TrimSpace(pair))
		}
		if what := set(strings.TrimSpace(id), text); what != "" {
			return it, what
		}
	}
	return it, ""
}
