package program

import (
	"fmt"
	"slices"

	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
)

// partUnused finds parts that the program never uses.
var partUnused = rule{"unused", func(f *facts) []check.Finding {
	var out []check.Finding
	told := map[string]bool{}
	meant := map[string]bool{}
	for _, pin := range f.moved {
		meant[pin] = true
	}
	if f.o.alone.ending.How == machine.Crashed {
		return nil // what it would have used nobody knows
	}
	if (f.o.slow || f.o.alone.longest > f.o.alone.limit) && slices.ContainsFunc(f.tree.Calls, func(c Call) bool { return !f.o.lines[c.Line] }) {
		return nil // it was not come to all of it
	}
	for _, c := range f.idle() {
		if slices.ContainsFunc(f.numbers, func(p *pinFacts) bool { return p.pin-machine.NoInterrupt == f.board.Number(c.Signal.Pin) }) {
			continue
		}
		p := f.o.pins[f.board.Number(c.Signal.Pin)]
		if meant[c.Signal.Pin] || told[c.Part.ID] || p != nil && (p.output() || p.input()) {
			continue
		}
		told[c.Part.ID] = true
		x := check.Finding{Level: check.Care, Parts: []string{c.Part.ID}, Pins: []string{c.Signal.Pin}}
		w := signalWants(c.Signal.Needs)
		x.Title = fmt.Sprintf("The program never uses %s on %s.", c.Part.Name, c.Signal.Pin)
		switch {
		case p != nil:
			x.Line = p.firstLine
			x.Why = "It sets the pin up, and does no more with it."
		case w == drives || w == dims:
			x.Why = "It stays as it is when the board starts."
			if own, ok := f.board.OwnLED(); ok && own.Name != c.Signal.Pin {
				if o := f.o.pins[f.board.Number(own.Name)]; o != nil && o.output() && !f.wired(o.pin) {
					x.Why += fmt.Sprintf(" The program drives %s in %s, which is the lamp on the board itself: is %s meant?", own.Name, f.at(max(o.lowLine, o.highLine, o.firstLine)), c.Signal.Pin)
				}
			}
		default:
			x.Why = "Whatever it does, nothing comes of it."
		}
		out = append(out, x)
	}
	return out
}}
