package program

import (
	"fmt"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
)

// registers finds shift registers that what the program sends never comes out of.
var registers = rule{"register", func(f *facts) []check.Finding {
	if f.o.slow {
		return nil
	}
	var out []check.Finding
	for i, x := range f.o.alone.rig.Registers() {
		clocked, taken := 0, 0 // at most in a run
		for _, r := range f.o.all() {
			y := r.rig.Registers()[i]
			clocked, taken = max(clocked, y.Clocked), max(taken, y.Taken)
		}
		clock, latch := f.signalPin(x.Part, "clock"), f.signalPin(x.Part, "latch")
		switch {
		case clocked <= 1 && clock != nil && clock.output():
			y := f.about(check.Finding{Level: check.Stop, Line: max(clock.lowLine, clock.highLine, clock.firstLine)}, clock.pin)
			y.Title = fmt.Sprintf("Nothing is ever shifted into %s.", x.Part.Name)
			y.Why = fmt.Sprintf("It takes in a bit when its clock goes from low to high, and %s never does.", f.o.words(clock.pin))
			if clocked == 1 { // as it becomes an output
				y.Title = fmt.Sprintf("Not more than one bit is ever shifted into %s.", x.Part.Name)
				y.Why = fmt.Sprintf("It takes in a bit when its clock goes from low to high, and %s stays high from the first time on.", f.o.words(clock.pin))
			}
			out = append(out, y)
		case clocked > 1 && x.Latched && taken == 0 && latch != nil && latch.output():
			y := f.about(check.Finding{Level: check.Stop, Line: max(latch.lowLine, latch.highLine, latch.firstLine)}, latch.pin)
			y.Title = fmt.Sprintf("What is shifted into %s never comes to its outputs.", x.Part.Name)
			y.Why = fmt.Sprintf("They take it over when the latch goes from low to high, and after the shifting %s never does. Until then they are as chance left them.", f.o.words(latch.pin))
			out = append(out, y)
		}
	}
	return out
}}

// signalPin is what the program did with the pin of a signal of a part; nil: nothing, or there is
// no such pin.
func (f *facts) signalPin(p *build.Part, name string) *pinFacts {
	for _, s := range p.Signals {
		if s.Name == name {
			return f.o.pins[f.board.Number(s.Pin)]
		}
	}
	return nil
}
