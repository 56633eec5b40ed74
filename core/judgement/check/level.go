package check

import (
	"math"
	"slices"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
)

// A span of levels is what a sensor is moved over, with the rest of its piece as the plan
// begins.
type levels struct {
	piece     *wiring.Piece
	control   int // index into the piece's controls
	unit      string
	low, high float64
}

// levelOf returns the range of levels of the part whose signal an input reads, or nil when
// it has none.
func (f *facts) levelOf(in input) *levels {
	control := slices.IndexFunc(f.net.Controls, func(c wiring.Control) bool { return c.Of == in.claim.Part.ID && c.Kind == wiring.Level })
	if control < 0 || in.piece == nil || !slices.Contains(in.piece.Controls, control) {
		return nil
	}
	c := &f.net.Controls[control]
	return &levels{in.piece, slices.Index(in.piece.Controls, control), c.Unit, slices.Min(c.Planned), slices.Max(c.Planned)}
}

// between is the level a part of the way from the lowest to the highest. What spans
// decades, as light does, is even in its logarithm.
func (l *levels) between(part float64) float64 {
	if l.low > 0 && l.high > 20*l.low {
		return l.low * math.Pow(l.high/l.low, part)
	}
	return l.low + part*(l.high-l.low)
}

// at returns the piece with the sensor at a level, or nil when it has no answer.
func (l *levels) at(level float64) visit {
	n := l.piece.Network()
	s := make(wiring.State, len(l.piece.Controls))
	for i, c := range l.piece.Controls {
		s[i] = n.Controls[c].Planned[0]
	}
	s[l.control] = level
	v, err := l.piece.At(s)
	if err != nil {
		return nil
	}
	return v
}

// text writes a level in its unit.
func (l *levels) text(level float64) string { return quantity.Rough(level, 2) + " " + l.unit }
