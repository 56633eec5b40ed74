package breadboard

import (
	"fmt"
	"math"
	"strconv"
	"strings"
)

// A Column is a line of holes along a breadboard: a to j, or one of the rails.
type Column uint8

// The columns. Between E and F lies the channel.
const (
	A Column = iota
	B
	C
	D
	E
	F
	G
	H
	I
	J
	LeftPlus
	LeftMinus
	RightPlus
	RightMinus
)

var columnNames = [...]string{"a", "b", "c", "d", "e", "f", "g", "h", "i", "j", "L+", "L-", "R+", "R-"}

func (c Column) String() string {
	if int(c) >= len(columnNames) {
		return "?"
	}
	return columnNames[c]
}

// IsRail reports whether the column is a rail.
func (c Column) IsRail() bool { return c >= LeftPlus }

// Right reports whether the column is on the right of the channel.
func (c Column) Right() bool { return c >= F && c <= J || c == RightPlus || c == RightMinus }

// X is how far the column is right of column a. The channel takes two steps
// more than two columns do, and a rail keeps its distance.
func (c Column) X() float64 {
	switch {
	case c <= E:
		return float64(c)
	case c <= J:
		return float64(c) + 2
	case c == LeftPlus:
		return -3
	case c == LeftMinus:
		return -2
	case c == RightPlus:
		return 13
	}
	return 14
}

// A Hole is one hole. Its name is as printed on common breadboards: "e12";
// "L-7" is the hole of the left − rail that is level with row 7. With several
// breadboards side by side a number comes first: "2.e12" is on the second.
type Hole struct {
	Board  int // counted from 0
	Column Column
	Row    int // counted from 1
}

func (h Hole) String() string {
	name := h.Column.String() + strconv.Itoa(h.Row)
	if h.Board > 0 {
		return strconv.Itoa(h.Board+1) + "." + name
	}
	return name
}

// MaxBoards is how many breadboards lie side by side at most.
const MaxBoards = 4

// ParseHole reads a hole's name. Capitals and the sign − for - do not matter.
func ParseHole(s string) (Hole, error) {
	bad := fmt.Errorf("%q is not a hole; e12 is one, and L-7 is the left − rail beside row 7", clip(s))
	rest := strings.ReplaceAll(strings.TrimSpace(s), "−", "-")
	var h Hole
	if number, name, ok := strings.Cut(rest, "."); ok {
		n, err := strconv.Atoi(number)
		if err != nil || n < 1 || n > MaxBoards {
			return Hole{}, bad
		}
		h.Board, rest = n-1, name
	}
	for c, name := range columnNames {
		if len(rest) <= len(name) || !strings.EqualFold(rest[:len(name)], name) {
			continue
		}
		row, err := strconv.ParseUint(rest[len(name):], 10, 8)
		if err != nil || row == 0 {
			break
		}
		h.Column, h.Row = Column(c), int(row)
		return h, nil
	}
	return Hole{}, bad
}

// MarshalText writes the hole's name.
func (h Hole) MarshalText() ([]byte, error) { return []byte(h.String()), nil }

// UnmarshalText reads a hole's name.
func (h *Hole) UnmarshalText(text []byte) (err error) {
	*h, err = ParseHole(string(text))
	return err
}

// boardStep is how far a breadboard lies right of the one before it.
const boardStep = 20

// At returns where the hole is: right of column a of the first breadboard, and
// down, level with row 0.
func (h Hole) At() Point {
	return Point{float64(h.Board*boardStep) + h.Column.X(), float64(h.Row)}
}

// A Point is a place on the table.
type Point struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
}

// To returns the distance to another point.
func (p Point) To(q Point) float64 { return math.Hypot(p.X-q.X, p.Y-q.Y) }

func clip(s string) string {
	if r := []rune(s); len(r) > 40 {
		return string(r[:40]) + "…"
	}
	return s
}
