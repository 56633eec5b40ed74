package bench

import (
	"slices"

	"cablaggio/core/machine"
	"cablaggio/core/quantity"
	"cablaggio/core/rig"
	"cablaggio/core/supply"
	"cablaggio/core/wiring"
)

// held is how long the button of a reset is held down, in nanoseconds: no finger is faster.
const held = int64(shortest * 1e9)

// stops is the part of its rail's usual voltage below which the chip of a board does nothing, and
// from which on it begins anew (common practice: 2.7 V of 5 V, 1.8 V of 3.3 V).
const stops = 0.55

// A power is what hands have made of the supply, and when the board runs for it.
type power struct {
	plan      *wiring.Network
	usual     float64 // volts of the supply, as the run begins
	asPlanned bool    // the rails have what they have in the plan then
	levels    []level // of the supply, in the order of time
	out       bool    // it is unplugged
	until     int64   // the button of the reset is held down
	past      []state // in the order of time
}

// A state is whether the board runs from a time on, and what it does, in words.
type state struct {
	at   int64
	runs bool
	text string
}

// A level is the voltage of the supply from a time on, and the charge of cells in per cents.
type level struct {
	at            int64
	volts, charge float64
}

func newPower(net *wiring.Network) *power {
	p := &power{plan: net, past: []state{{0, true, "runs"}}}
	p.usual, p.asPlanned = rig.Usual(net)
	p.levels = []level{{0, p.usual, half}}
	if !p.asPlanned {
		p.past = []state{p.stands(0)}
	}
	return p
}

// at is the state at a time.
func (p *power) at(t int64) state { return since(p.past, t, func(s state) int64 { return s.at }) }

// since is what holds at a time, of a list in its order whose first holds from the start.
func since[T any](list []T, t int64, at func(T) int64) T {
	i := len(list) - 1
	for i > 0 && at(list[i]) > t {
		i--
	}
	return list[i]
}

// next is when the board stops, or begins anew, after a time; [machine.Never].
func (p *power) next(after int64) int64 {
	was := p.at(after).runs
	for _, s := range p.past {
		if s.at > after && s.runs != was {
			return s.at
		}
	}
	return machine.Never
}

// drains is in how many steps cells run down.
const drains = 100

// do does what an action does to the supply, instead of what was to become of it later, and returns
// its moves.
func (p *power) do(a Action, at int64) (moves []rig.Move) {
	p.levels = slices.DeleteFunc(p.levels, func(l level) bool { return l.at > at })
	from := p.level(at).charge
	switch a.Do {
	case Unplug:
		p.out = true
	case Plug:
		p.out = false
	case Reset:
		p.until = at + held
	case Set:
		p.levels = append(p.levels, level{at, charged(p.plan, a.To), a.To})
	case Drain:
		for k := 1.0; k <= drains; k++ {
			charge := from + (a.To-from)*k/drains
			p.levels = append(p.levels, level{at + nanoseconds(a.Over*k/drains), charged(p.plan, charge), charge})
		}
	}
	p.note(at)
	moves = append(moves, rig.Move{At: at, Control: rig.Supply, To: p.now(at)})
	for _, l := range p.levels {
		if l.at > at {
			p.note(l.at)
			moves = append(moves, rig.Move{At: l.at, Control: rig.Supply, To: p.now(l.at)})
		}
	}
	return moves
}

// level is the supply's at a time.
func (p *power) level(t int64) level { return since(p.levels, t, func(l level) int64 { return l.at }) }

// note notes what the board does from a time on.
func (p *power) note(at int64) {
	p.past = slices.DeleteFunc(p.past, func(s state) bool { return s.at > at })
	stands := p.stands(at)
	if stands.runs && p.until > at {
		p.past = append(p.past, state{at, false, "held in reset"})
		stands.at = p.until
	}
	p.past = append(p.past, stands)
}

// stands is the state from a time on with the supply as it is.
func (p *power) stands(at int64) state {
	now := p.now(at)
	s := state{at, p.fed(now), "at " + quantity.Short(now, quantity.Volt)}
	switch {
	case p.out:
		s.text = "unplugged"
	case !s.runs:
		s.text = "still, " + s.text
	case now == p.usual && p.asPlanned:
		s.text = "runs"
	default:
		s.text = "runs, " + s.text
	}
	return s
}

// now is what the supply gives at a time, in volts.
func (p *power) now(at int64) float64 {
	if p.out {
		return 0
	}
	return p.level(at).volts
}

// fed reports whether the board runs with so many volts of its supply.
func (p *power) fed(volts float64) bool {
	if volts == p.usual && p.asPlanned {
		return true
	}
	s, _ := p.plan.Board.Supply(p.plan.Doc.Supply)
	rail := p.plan.Board.Logic.Rail
	return s.RailAt(p.plan.Board.Rails, rail, volts) >= stops*p.plan.RailVolts(rail).Typ
}

// half is the charge in per cents at which cells have their usual voltage.
const half = 50

// charged is the voltage of the build's cells at a charge in per cents: from fresh to in use over
// the first half, to empty over the second (common practice; of lithium cells the middle is flatter).
func charged(net *wiring.Network, charge float64) float64 {
	cell, _ := supply.CellOf(net.Doc.Cells.Type)
	v, n := cell.Volts, float64(net.Doc.Cells.Count)
	if charge >= half {
		return n * (v.Typ + (v.High-v.Typ)*(charge-half)/half)
	}
	return n * (v.Low + (v.Typ-v.Low)*charge/half)
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
