package choose

import (
	"fmt"
	"math"
	"slices"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/values/quantity"
)

// A Load is the current that a signal's pin carries, in amperes, and which way.
// The zero Load is that of a signal that carries none.
type Load struct {
	Amps float64
	Way  board.Way
}

// A Used pin has a signal or a wire.
type Used struct {
	Pin  string
	Load Load
}

// crowdedPoints is what it costs to load a group of pins to just over what is
// recommended for it; more load costs more in proportion.
const crowdedPoints = 20

// Crowding returns the points for the groups of the board's pins that carry more
// together than is recommended.
func Crowding(b *board.Profile, used []Used) float64 {
	sum := 0.0
	for i := range b.Logic.Groups {
		sum += crowding(&b.Logic.Groups[i], sumOf(&b.Logic.Groups[i], used))
	}
	return sum
}

func crowding(g *board.Group, amps float64) float64 {
	if above(g, amps) <= 0 {
		return 0
	}
	return crowdedPoints * amps / g.Limit.Recommended
}

// above is by how much a group carries more than is recommended, in amperes; what
// sums are off by when they are added up in another order is nothing.
func above(g *board.Group, amps float64) float64 {
	over := amps - g.Limit.Recommended
	if math.Abs(over) < 1e-9*g.Limit.Recommended {
		return 0
	}
	return over
}

func sumOf(g *board.Group, used []Used) (amps float64) {
	for _, u := range used {
		if u.Load.Way == g.Way && slices.Contains(g.Pins, u.Pin) {
			amps += u.Load.Amps
		}
	}
	return amps
}

// crowds says what a load makes of the groups of a pin, in points and in words.
func crowds(b *board.Profile, pin string, load Load, used []Used) (points float64, reason string) {
	for i := range b.Logic.Groups {
		g := &b.Logic.Groups[i]
		if load.Way != g.Way || !slices.Contains(g.Pins, pin) {
			continue
		}
		was := sumOf(g, used)
		if more := crowding(g, was+load.Amps) - crowding(g, was); more > 0 {
			points += more
			reason = fmt.Sprintf("its group (%s) would %s %s of %s", g.Name, g.Way, quantity.Short(was+load.Amps, quantity.Ampere), quantity.Short(g.Limit.Recommended, quantity.Ampere))
		}
	}
	return points, reason
}
