package program

import (
	"fmt"
	"slices"

	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
)

// untried reports whether a line that writes a pin was never come to.
func (f *facts) untried() bool {
	for _, c := range f.tree.Calls {
		if c.Name != "digitalWrite" {
			continue
		}
		if !slices.ContainsFunc(f.o.all(), func(r *run) bool { return r.lines[c.Line] }) {
			return true
		}
	}
	return false
}

// latched finds what a hand switches on, and nothing that hands do switches off again.
var latched = rule{"latched", func(f *facts) []check.Finding {
	if f.o.slow || f.o.alone.ending.How == machine.Crashed || f.tree.Clock != 0 || f.tree.Receives || len(f.moved) > 0 {
		return nil // it may come with time, or be typed
	}
	if f.contacts() >= riddles {
		return nil
	}
	var out []check.Finding
	for i := range f.o.alone.rig.Actors {
		a := &f.o.alone.rig.Actors[i]
		pin, line := f.driver(a)
		if pin == "" || len(a.Acts) > 0 && a.At(f.o.alone.limit-1).Amps >= a.On && a.At(100*ms).Amps < a.On {
			continue // it comes on by itself
		}
		on, off := 0, false
		for _, r := range f.o.all() {
			b := &r.rig.Actors[i]
			lit := false
			for _, x := range b.Acts {
				if x.Amps >= b.On {
					lit = true
				} else if lit {
					off = true
				}
			}
			if lit && b.At(100*ms).Amps < b.On {
				on++
			}
		}
		p := f.o.pins[f.board.Number(pin)]
		if on == 0 || off || p.duty.line+p.toneLine > 0 || p.lowLine == p.highLine || f.untried() {
			continue // a line that writes either may write the other, some time
		}
		for _, low := range a.Part.Signals {
			if p := f.o.pins[f.board.Number(low.Pin)]; low.Pin == pin && p.lowLine > 0 && p.highLine > 0 {
				line = p.highLine
				if low.Active == "low" {
					line = p.lowLine
				}
			}
		}
		x := f.about(check.Finding{Level: check.Care, Line: line}, f.board.Number(pin))
		x.Title = fmt.Sprintf("Once %s is on it stays on: nothing that was tried switches it off again.", a.Name)
		x.Why = "Is there a line that writes the other level, for when the button is let go, or is pressed again?"
		out = append(out, x)
	}
	return out
}}
