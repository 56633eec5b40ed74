package check

import (
	"math"
	"slices"

	"cablaggio/core/electric/circuit"
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
	rest      wiring.State // of all others
}

// levelOf returns the range of levels of the part whose signal an input reads, or nil when
// it has none.
func (f *facts) levelOf(in input) *levels {
	control := f.net.HandOf(in.claim.Part.ID, in.claim.Signal.Name)
	if control < 0 || f.net.Controls[control].Kind != wiring.Level || in.piece == nil || !slices.Contains(in.piece.Controls, control) {
		return nil
	}
	c := &f.net.Controls[control]
	l := &levels{in.piece, slices.Index(in.piece.Controls, control), c.Unit, slices.Min(c.Planned), slices.Max(c.Planned), nil}
	l.feed(f.net, in.node)
	return l
}

// feed sets the rest of the piece as the program does while it measures: as the plan begins, but
// for pins that it drives, as they let the sensor do most. What is fed from a pin is read while
// that is on.
func (l *levels) feed(n *wiring.Network, node circuit.Node) {
	l.rest = make(wiring.State, len(l.piece.Controls))
	var pins []int
	for i, c := range l.piece.Controls {
		l.rest[i] = n.Controls[c].Planned[0]
		if k := &n.Controls[c]; k.Kind == wiring.Mode && !k.Reads && len(k.Planned) > 1 {
			pins = append(pins, i)
		}
	}
	const most = 4 // pins that are tried in all ways
	if len(pins) > most {
		return
	}
	best, begun := 0.0, slices.Clone(l.rest)
	for bits := range 1 << len(pins) {
		l.rest = slices.Clone(l.rest)
		for k, i := range pins {
			planned := n.Controls[l.piece.Controls[i]].Planned
			l.rest[i] = planned[0]
			if bits>>k&1 != 0 {
				l.rest[i] = planned[len(planned)-1]
			}
		}
		a, b := l.at(l.low), l.at(l.high)
		if a == nil || b == nil {
			continue
		}
		if moved := math.Abs(a.Typical(node) - b.Typical(node)); moved > best*1.01 {
			best, begun = moved, l.rest
		}
	}
	l.rest = begun
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
	s := slices.Clone(l.rest)
	s[l.control] = level
	v, err := l.piece.At(s)
	if err != nil {
		return nil
	}
	return v
}

// text writes a level in its unit.
func (l *levels) text(level float64) string { return quantity.Rough(level, 2) + " " + l.unit }
