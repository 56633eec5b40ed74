package program

import (
	"fmt"
	"math"
	"strings"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
	"cablaggio/core/values/quantity"
)

// fights finds pins that the program drives against what is wired to them: a contact, a
// sensor, another output.
var fights = rule{"fights", func(f *facts) []check.Finding {
	var out []check.Finding
	for _, p := range f.used {
		name := f.o.words(p.pin)
		u, used := f.uses[name]
		c, piece := f.place(p.pin)
		_, driven := p.modes[machine.Driven]
		if piece == nil || used && u.Drives() || !driven && p.duty.line+p.toneLine == 0 {
			continue
		}
		worst, at := f.fight(piece, c, p)
		if worst.High < f.board.Logic.Pin.Recommended {
			continue
		}
		q := check.Against("current", quantity.Ampere, worst, f.board.Logic.Pin)
		line := p.modes[machine.Driven]
		if line == 0 {
			line = p.firstLine
		}
		state := strings.ReplaceAll(at.Words(), wiring.ByAnOldProgram, "") // it is this one
		x := f.about(check.Finding{Level: q.Level, Line: line, Found: q, State: state, At: check.At(at.Address())}, p.pin)
		x.Title = fmt.Sprintf("The program drives %s against what is wired there: %s flows.", f.named(p.pin), q.TypText)
		x.Why = fmt.Sprintf("That is through the pin while %s. A pin with a contact or a sensor on it is an input.", state)
		if used {
			x.Fixes = f.makeInput(p, u)
		}
		out = append(out, x)
	}
	return out
}}

// fight is the largest current of a pin that is driven as the program drives it, over what
// everything else can do.
func (f *facts) fight(piece *wiring.Piece, control int, p *pinFacts) (worst wiring.Range, at *wiring.Solved) {
	planned, err := piece.Planned(wiring.Subject{})
	if err != nil {
		return worst, nil
	}
	k := -1
	for i, c := range piece.Controls {
		if c == control {
			k = i
		}
	}
	for _, mode := range []struct {
		setting float64
		role    wiring.Role
		done    bool
	}{{wiring.DrivenLow, wiring.LowSide, true}, {wiring.DrivenHigh, wiring.HighSide, p.high || p.duty.line+p.toneLine > 0}} {
		if !mode.done {
			continue
		}
		element := f.net.Find(mode.role, "", f.net.Controls[control].Of)
		if element < 0 {
			continue
		}
		seen := map[string]bool{}
		for _, s := range planned {
			state := append(wiring.State{}, s.State...)
			state[k] = mode.setting
			key := fmt.Sprint(state)
			if seen[key] || len(seen) > 256 {
				continue
			}
			seen[key] = true
			t, err := piece.At(state)
			if err == nil && math.Abs(t.TypicalAmps(element)) > math.Abs(worst.Typ) {
				r := t.Amps(element)
				worst, at = wiring.Range{Low: math.Abs(r.Low), Typ: math.Abs(r.Typ), High: r.Peak()}, t
			}
		}
	}
	return worst, at
}
