package breadboard

import (
	"fmt"
	"strconv"
	"strings"
)

// An End is where a wire ends: in a hole, or at a place on the development
// board's headers.
type End struct {
	Hole  Hole
	Place Place // zero: the end is in Hole
}

// A Place is a named place on the board's headers. Of several with the same
// name, which the board joins, it says which.
type Place struct {
	Name string
	Nth  int // counted from 0, in the order of the headers
}

// boardPrefix begins the name of an end that is on the board: "board.D4", and
// "board.GND/2" for the second place of that name.
const boardPrefix = "board."

// OnBoard reports whether the end is on the board's headers.
func (e End) OnBoard() bool { return e.Place.Name != "" }

func (e End) String() string {
	switch {
	case !e.OnBoard():
		return e.Hole.String()
	case e.Place.Nth > 0:
		return boardPrefix + e.Place.Name + "/" + strconv.Itoa(e.Place.Nth+1)
	}
	return boardPrefix + e.Place.Name
}

// Words names the end in a sentence: "e12", "the board's D4", "the board's 2nd GND".
func (e End) Words() string {
	if e.OnBoard() {
		return "the board's " + e.Place.Words()
	}
	return e.Hole.String()
}

// Words names the place among those of its name, counted along the headers: "GND", "2nd GND".
func (p Place) Words() string {
	switch n := p.Nth + 1; n {
	case 1:
		return p.Name
	case 2:
		return "2nd " + p.Name
	case 3:
		return "3rd " + p.Name
	default:
		return fmt.Sprintf("%dth %s", n, p.Name)
	}
}

// InHole is the end in a hole.
func InHole(h Hole) End { return End{Hole: h} }

// ParseEnd reads the name of a hole or of a place on the board.
func ParseEnd(s string) (End, error) {
	s = strings.TrimSpace(s)
	name, ok := strings.CutPrefix(s, boardPrefix)
	if !ok {
		h, err := ParseHole(s)
		if err != nil {
			return End{}, fmt.Errorf("%w, and board.D4 is a place on the board", err)
		}
		return InHole(h), nil
	}
	p := Place{Name: name}
	if before, nth, ok := strings.Cut(name, "/"); ok {
		n, err := strconv.ParseUint(nth, 10, 8)
		if err != nil || n < 2 {
			return End{}, fmt.Errorf("%q is not a place; board.GND/2 is the second GND", clip(s))
		}
		p = Place{before, int(n) - 1}
	}
	if p.Name == "" {
		return End{}, fmt.Errorf("%q names no place on the board", clip(s))
	}
	return End{Place: p}, nil
}

// MarshalText writes the end's name.
func (e End) MarshalText() ([]byte, error) { return []byte(e.String()), nil }

// UnmarshalText reads the end's name.
func (e *End) UnmarshalText(text []byte) (err error) {
	*e, err = ParseEnd(string(text))
	return err
}
