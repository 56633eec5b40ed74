package choose

import (
	"fmt"
	"slices"
	"strings"

	"cablaggio/core/board"
)

// Scarcity says what it costs to take a pin for a signal that does not need
// all it can do: the scarcer the function on usual boards, the more.
var scarcity = map[board.Function]int{board.PWMOut: 3, board.AnalogIn: 6, board.Interrupt: 1}

const (
	disturbs = 1000 // a pin whose use by the board gets in the way
	noticed  = 4    // a pin whose use by the board only shows
)

// A PinChoice is a pin with what speaks for and against it.
type PinChoice struct {
	Pin     string   `json:"pin"`
	Cost    int      `json:"cost"`
	Reasons []string `json:"reasons"`
}

// Pins returns the free pins of the board that have the function, the best
// first. Of equally good ones the earlier in the board's own order is better.
func Pins(b *board.Profile, needs board.Function, taken []string) []PinChoice {
	var out []PinChoice
	for _, p := range b.Pins {
		if !p.Has(needs) || slices.Contains(taken, p.Name) {
			continue
		}
		c := PinChoice{Pin: p.Name, Reasons: []string{"free, and it can do " + needs.Name()}}
		var wasted []string
		for _, f := range p.Functions {
			// A function that every pin has is not scarce.
			if cost := scarcity[f]; f != needs && cost > 0 && !everyPin(b, f) {
				c.Cost += cost
				wasted = append(wasted, f.Name())
			}
		}
		if len(wasted) > 0 {
			c.Reasons = append(c.Reasons, "leaves "+strings.Join(wasted, " and ")+" unused")
		} else {
			c.Reasons = append(c.Reasons, "wastes no scarce function")
		}
		if p.Own != nil {
			cost, reason := noticed, "shares the "+p.Own.For
			if p.Own.LED != nil && needs != board.DigitalOut && needs != board.PWMOut {
				cost, reason = disturbs, "its own LED drags on an input"
			}
			if p.Own.Care {
				cost, reason = disturbs, fmt.Sprintf("the board needs it itself (%s)", p.Own.For)
			}
			c.Cost += cost
			c.Reasons = append(c.Reasons, reason)
		}
		out = append(out, c)
	}
	slices.SortStableFunc(out, func(a, b PinChoice) int { return a.Cost - b.Cost })
	return out
}

func everyPin(b *board.Profile, f board.Function) bool {
	return !slices.ContainsFunc(b.Pins, func(p board.Pin) bool { return !p.Has(f) })
}
