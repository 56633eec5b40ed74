package bench

import (
	"fmt"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/machine"
	"cablaggio/core/running/rig"
	"cablaggio/core/values/quantity"
)

// held is how long the button of a reset is held down, in nanoseconds: no finger is faster.
const held = int64(shortest * 1e9)

// wakes is after how many nanoseconds a board begins anew whose supply had fallen too low and has come
// back (common practice: 8-bit chips wait 65 ms).
const wakes = int64(65e6)

// stops is the part of its rail's usual voltage below which the chip of a board does nothing, and
// from which on it begins anew (common practice: 2.7 V of 5 V, 1.8 V of 3.3 V).
const stops = 0.55

// A power is when a board runs, for what its supply gives and what hands do.
type power struct {
	plan      *wiring.Network
	usual     float64 // volts of the supply
	asPlanned bool    // the rails have what they have in the plan then
	feed      rig.Feed
	until     int64   // it does not begin before
	waits     string  // why, in words
	past      []state // in the order of time
}

// A state is whether the board runs from a time on, and what it does, in words.
type state struct {
	at   int64
	runs bool
	text string
}

// newPower is of a board that gets a feed as a run begins.
func newPower(net *wiring.Network, f rig.Feed) *power {
	p := &power{plan: net, feed: f}
	p.usual, p.asPlanned = rig.Usual(net)
	p.note(0)
	return p
}

// at is the state at a time.
func (p *power) at(t int64) state {
	i := len(p.past) - 1
	for i > 0 && p.past[i].at > t {
		i--
	}
	return p.past[i]
}

// next is when the board stops, or begins anew, after a time, as far as that has happened yet;
// [machine.Never].
func (p *power) next(after int64) int64 {
	was := p.at(after).runs
	for _, s := range p.past {
		if s.at > after && s.runs != was {
			return s.at
		}
	}
	return machine.Never
}

// fed takes in what the supply gives from a time on. It returns when the board begins if nothing else
// happens, where that is later.
func (p *power) fed(at int64, f rig.Feed) (begins int64) {
	low := p.feed.In && !p.suffices()
	p.feed = f
	if low && f.In && p.suffices() {
		p.until, p.waits = at+wakes, "about to begin"
		begins = p.until
	}
	p.note(at)
	return begins
}

// reset takes in that its button is pressed.
func (p *power) reset(at int64) {
	p.until, p.waits = at+held, "held in reset"
	p.note(at)
}

// note notes what the board does from a time on.
func (p *power) note(at int64) {
	s := p.stands(at)
	if n := len(p.past); n == 0 || p.past[n-1].runs != s.runs || p.past[n-1].text != s.text {
		p.past = append(p.past, s)
	}
}

// stands is the state from a time on.
func (p *power) stands(at int64) state {
	s := state{at, false, "runs"}
	switch {
	case !p.feed.In:
		s.text = "unplugged"
	case !p.suffices():
		s.text = "too few volts"
	case p.until > at:
		s.text = p.waits
	default:
		s.runs = true
	}
	if p.plan.Doc.Cells == nil && p.feed.In && !p.asPlanned {
		s.text += ", at " + quantity.Short(p.feed.Volts, quantity.Volt)
	}
	return s
}

// suffices reports whether the board runs with what its supply gives.
func (p *power) suffices() bool {
	if p.feed.Volts == p.usual && p.asPlanned {
		return true
	}
	s, _ := p.plan.Board.Supply(p.plan.Doc.Supply)
	rail := p.plan.Board.Logic.Rail
	return s.RailAt(p.plan.Board.Rails, rail, p.feed.Volts) >= stops*p.plan.RailVolts(rail).Typ
}

// cells says how the cells stand.
func (p *power) cells() string {
	return fmt.Sprintf("%.0f %%, %.2f V", p.feed.Charge, p.feed.Volts)
}

// A life is the world from the moment on at which the board came up in it.
type life struct {
	machine.World
	begun int64
}

// Next implements [machine.World].
func (l life) Next() int64 {
	if n := l.World.Next(); n != machine.Never {
		return n - l.begun
	}
	return machine.Never
}

// Happen implements [machine.World].
func (l life) Happen(at int64) bool { return l.World.Happen(at + l.begun) }

// Set implements [machine.World].
func (l life) Set(pin int, d machine.Drive, at int64) { l.World.Set(pin, d, at+l.begun) }

// Level implements [machine.World].
func (l life) Level(pin int, at int64) bool { return l.World.Level(pin, at+l.begun) }

// Reading implements [machine.World].
func (l life) Reading(pin int, at int64) float64 { return l.World.Reading(pin, at+l.begun) }
