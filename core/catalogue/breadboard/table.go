package breadboard

import (
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"cablaggio/core/catalogue/board"
)

// A Strip is holes that are joined inside a breadboard: half a row, or a rail,
// or what a break leaves of one. Strips of a [Table] run from 0.
type Strip int

// NoStrip is the strip of what is not a hole.
const NoStrip Strip = -1

// A Table is what lies on the table: breadboards side by side, and the
// development board, plugged into the first of them or beside them.
type Table struct {
	Sizes   []*Size
	Board   *board.Profile
	Plugged bool

	first  []Strip // of each breadboard
	strips int
	pins   map[Hole]Place
	places map[Place]Point // of a board that lies beside
}

// NewTable lays breadboards side by side. A board that can be plugged in stands
// at the top of the first one, unless it is to lie beside. The error says which
// size there is not, or that the board does not fit.
func NewTable(ids []string, b *board.Profile, beside bool) (*Table, error) {
	t := &Table{Board: b, Plugged: b.Plugs != nil && !beside, pins: map[Hole]Place{}, places: map[Place]Point{}}
	if len(ids) == 0 || len(ids) > MaxBoards {
		return nil, fmt.Errorf("%d breadboards; 1 to %d lie side by side", len(ids), MaxBoards)
	}
	for _, id := range ids {
		s, ok := SizeOf(id)
		if !ok {
			return nil, fmt.Errorf("there is no breadboard %q; there are %s", clip(id), strings.Join(sizeIDs(), ", "))
		}
		t.Sizes = append(t.Sizes, s)
		t.first = append(t.first, Strip(t.strips))
		t.strips += 2*s.Rows + 4*s.Rails.segments()
	}
	if !t.Plugged {
		t.lay()
		return t, nil
	}
	if n := len(b.Headers[0].Places); n > t.Sizes[0].Rows {
		return nil, fmt.Errorf("the %s takes %d rows, and the %s has %d", b.Name, n, t.Sizes[0].short(), t.Sizes[0].Rows)
	}
	left := E - Column((b.Plugs.Across-2)/2)
	nth := map[string]int{}
	for i, x := range []float64{left.X(), left.X() + float64(b.Plugs.Across)} {
		for row, name := range b.Headers[i].Places {
			t.pins[Hole{0, columnAt(x), row + 1}] = Place{name, nth[name]}
			nth[name]++
		}
	}
	return t, nil
}

func sizeIDs() []string {
	out := make([]string, len(sizes))
	for i, s := range sizes {
		out[i] = s.ID
	}
	return out
}

// columnAt returns the column, a to j, at an x.
func columnAt(x float64) Column {
	for c := A; c <= J; c++ {
		if c.X() == x {
			return c
		}
	}
	panic("breadboard: no column there")
}

// Where the headers of a board lie that is beside the breadboards: the second
// nearest, then the first, then what others there are.
const (
	nearHeader  = -8
	headerStep  = 8
	otherHeader = 5
)

// lay says where the places of a board are that lies left of the breadboards.
func (t *Table) lay() {
	nth := map[string]int{}
	for i, h := range t.Board.Headers {
		for k, name := range h.Places {
			t.places[Place{name, nth[name]}] = Point{headerX(i), float64(k + 1)}
			nth[name]++
		}
	}
}

func headerX(i int) float64 {
	if i < 2 {
		return nearHeader - headerStep*float64(1-i)
	}
	return nearHeader - headerStep - otherHeader*float64(i-1)
}

// Strips returns how many strips there are.
func (t *Table) Strips() int { return t.strips }

// Check reports why a hole is not on the table, in words.
func (t *Table) Check(h Hole) error {
	if h.Board >= len(t.Sizes) {
		if len(t.Sizes) == 1 {
			return fmt.Errorf("%s: there is one breadboard", h)
		}
		return fmt.Errorf("%s: there are %d breadboards", h, len(t.Sizes))
	}
	s := t.Sizes[h.Board]
	switch {
	case h.Column.IsRail() && s.Rails == nil:
		return fmt.Errorf("%s: the %s has no rails", h, s.short())
	case h.Column.IsRail() && !s.Rails.Has(h.Row):
		return fmt.Errorf("%s: the rail has no hole there; its groups of five begin beside row %d, then every %d rows", h, s.Rails.First, groupRows)
	case h.Row < 1 || h.Row > s.Rows || h.Column > RightMinus:
		return fmt.Errorf("%s: the %s has rows 1 to %d", h, s.short(), s.Rows)
	}
	return nil
}

// CheckEnd reports why an end is not on the table, in words.
func (t *Table) CheckEnd(e End) error {
	if !e.OnBoard() {
		if err := t.Check(e.Hole); err != nil {
			return err
		}
		if p, ok := t.pins[e.Hole]; ok {
			return fmt.Errorf("%s: the board's pin %s is in it", e.Hole, p.Name)
		}
		return nil
	}
	if t.Plugged {
		return errors.New("the board is plugged in; wires go to the holes beside its pins")
	}
	if _, ok := t.places[e.Place]; !ok {
		return fmt.Errorf("the board has no place %s; board.%s is one", clip(strings.TrimPrefix(e.String(), boardPrefix)), t.Board.Pins[0].Name)
	}
	return nil
}

// StripOf returns the strip that a hole of the table is in.
func (t *Table) StripOf(h Hole) Strip {
	s := t.Sizes[h.Board]
	at := t.first[h.Board]
	if !h.Column.IsRail() {
		if h.Column.Right() {
			return at + Strip(s.Rows+h.Row-1)
		}
		return at + Strip(h.Row-1)
	}
	n := s.Rails.segments()
	return at + Strip(2*s.Rows+int(h.Column-LeftPlus)*n+s.Rails.segment(h.Row))
}

// RailStrips lists the strips of the rails with their columns and breadboards.
func (t *Table) RailStrips() []RailStrip {
	var out []RailStrip
	for b, s := range t.Sizes {
		for c := LeftPlus; c <= RightMinus; c++ {
			for seg := range s.Rails.segments() {
				r := RailStrip{Board: b, Column: c, Broken: s.Rails.Broken, Lower: seg == 1}
				for row := 1; row <= s.Rows; row++ {
					if s.Rails.Has(row) && s.Rails.segment(row) == seg {
						r.Rows = append(r.Rows, row)
					}
				}
				r.Strip = t.StripOf(Hole{b, c, r.Rows[0]})
				out = append(out, r)
			}
		}
	}
	return out
}

// A RailStrip is a rail, or what a break leaves of one.
type RailStrip struct {
	Strip  Strip
	Board  int
	Column Column
	Broken bool
	Lower  bool
	Rows   []int // that have a hole
}

// Name names the rail as a builder does: "left − rail", "the lower half of the
// right + rail".
func (r RailStrip) Name() string {
	side, sign := "left", "+"
	if r.Column.Right() {
		side = "right"
	}
	if r.Column == LeftMinus || r.Column == RightMinus {
		sign = "−"
	}
	name := side + " " + sign + " rail"
	if r.Board > 0 {
		name += " of breadboard " + strconv.Itoa(r.Board+1)
	}
	switch {
	case r.Lower:
		name = "lower half of the " + name
	case r.Broken:
		name = "upper half of the " + name
	}
	return name
}

// Minus reports whether the rail is a − rail.
func (r RailStrip) Minus() bool { return r.Column == LeftMinus || r.Column == RightMinus }

// Pins returns the holes that the plugged-in board's pins take.
func (t *Table) Pins() map[Hole]Place { return t.pins }

// Covers reports whether the plugged-in board lies over a hole or takes it.
func (t *Table) Covers(h Hole) bool {
	if !t.Plugged || h.Board > 0 || h.Column.IsRail() || h.Row > len(t.Board.Headers[0].Places) {
		return false
	}
	left := E - Column((t.Board.Plugs.Across-2)/2)
	return h.Column >= left && h.Column.X() <= left.X()+float64(t.Board.Plugs.Across)
}

// At returns where an end is. It must be on the table.
func (t *Table) At(e End) Point {
	if e.OnBoard() {
		return t.places[e.Place]
	}
	return e.Hole.At()
}

// PlacesOf lists the places of a name on the headers of a board that lies
// beside, in the order of the headers.
func (t *Table) PlacesOf(name string) []Place {
	var out []Place
	for p := range t.places {
		if p.Name == name {
			out = append(out, p)
		}
	}
	slices.SortFunc(out, func(a, b Place) int { return a.Nth - b.Nth })
	return out
}

// Hole returns a hole of a strip: the k-th outwards from the channel, or of a
// rail the k-th from the top.
func (t *Table) Hole(strip Strip, k int) Hole {
	b := len(t.first) - 1
	for t.first[b] > strip {
		b--
	}
	n := int(strip - t.first[b])
	if rows := t.Sizes[b].Rows; n < 2*rows {
		if n < rows {
			return Hole{b, E - Column(k), n + 1}
		}
		return Hole{b, F + Column(k), n - rows + 1}
	}
	for _, r := range t.RailStrips() {
		if r.Strip == strip {
			return Hole{b, r.Column, r.Rows[k]}
		}
	}
	panic("breadboard: no such strip")
}
