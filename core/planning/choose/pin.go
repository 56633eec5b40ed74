package choose

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"cablaggio/core/catalogue/board"
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

// A PinRefusal is a pin that a signal cannot have, and why.
type PinRefusal struct {
	Pin    string `json:"pin"`
	Reason string `json:"reason"`
	Able   bool   `json:"able"` // it could do it, were it free
}

func taken(used []Used, pin string) bool {
	return slices.ContainsFunc(used, func(u Used) bool { return u.Pin == pin })
}

// Refused returns the pins of the board that are used or cannot do it, with
// the reason. By says who has a pin.
func Refused(b *board.Profile, want Want, used []Used, by func(pin string) string) []PinRefusal {
	var out []PinRefusal
	for _, p := range b.Pins {
		switch {
		case !b.Suits(p, want.Needs, want.Pull):
			out = append(out, PinRefusal{p.Name, "cannot do " + want.what(), false})
		case taken(used, p.Name):
			out = append(out, PinRefusal{p.Name, "has " + by(p.Name), true})
		}
	}
	return out
}

// Pins returns the free pins of the board that have the function, the best
// first. Of equally good ones the earlier in the board's own order is better.
func Pins(b *board.Profile, want Want, used []Used) []PinChoice {
	var out []PinChoice
	for _, p := range b.Pins {
		if !b.Suits(p, want.Needs, want.Pull) || taken(used, p.Name) {
			continue
		}
		c := PinChoice{Pin: p.Name}
		c.Cost, c.Reasons = weigh(b, want.Needs, p)
		if points, reason := crowds(b, p.Name, want.Load, used); points > 0 {
			c.Cost, c.Reasons = c.Cost+int(math.Ceil(points)), append(c.Reasons, reason)
		}
		out = append(out, c)
	}
	slices.SortStableFunc(out, func(a, b PinChoice) int { return a.Cost - b.Cost })
	return out
}

// weigh is what it costs to give a pin that can do it to a signal, and why.
func weigh(b *board.Profile, needs board.Function, p board.Pin) (cost int, reasons []string) {
	reasons = []string{"free, and it can do " + needs.Name()}
	var wasted []string
	for _, f := range p.Functions {
		// A function that every pin has is not scarce.
		if points := scarcity[f]; f != needs && points > 0 && !everyPin(b, f) {
			cost += points
			wasted = append(wasted, f.Name())
		}
	}
	if len(wasted) > 0 {
		reasons = append(reasons, "leaves "+strings.Join(wasted, " and ")+" unused")
	} else {
		reasons = append(reasons, "wastes no scarce function")
	}
	if p.Own != nil {
		points, reason := noticed, "shares the "+p.Own.For
		if p.Own.LED != nil && needs != board.DigitalOut && needs != board.PWMOut {
			points, reason = disturbs, "its own LED drags on an input"
		}
		if p.Own.Care {
			points, reason = disturbs, fmt.Sprintf("the board needs it itself (%s)", p.Own.For)
		}
		cost += points
		reasons = append(reasons, reason)
	}
	if needs == board.PWMOut && p.PWM.Channel != "" {
		for _, q := range b.Pins {
			if q.Name == p.Name {
				break
			}
			if q.PWM != nil && q.PWM.Channel == p.PWM.Channel {
				cost += noticed
				reasons = append(reasons, "shares its PWM channel with "+q.Name)
				break
			}
		}
	}
	return cost, reasons
}

func everyPin(b *board.Profile, f board.Function) bool {
	return !slices.ContainsFunc(b.Pins, func(p board.Pin) bool { return !p.Has(f) })
}
