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
		swapped := false
		for _, r := range f.o.all() {
			y := r.rig.Registers()[i]
			clocked, taken = max(clocked, y.Clocked), max(taken, y.Taken)
			// Its data rises at most once for each clock; a clock does so for each bit.
			swapped = swapped || y.Fed >= 16 && y.Fed > y.Clocked+y.Clocked/2
		}
		clock, latch := f.signalPin(x.Part, "clock"), f.signalPin(x.Part, "latch")
		data := f.signalPin(x.Part, "data")
		switch {
		case swapped && clocked > 0 && data != nil && clock != nil && data.output() && clock.output():
			y := f.about(check.Finding{Level: check.Stop, Line: max(data.lowLine, data.highLine, data.firstLine)}, data.pin, clock.pin)
			y.Title = fmt.Sprintf("%s gets its clock at the data, and its data at the clock.", build.Capital(x.Part.Name))
			y.Why = fmt.Sprintf("%s, its data, rises once for each bit, as a clock does; %s, its clock, does not. Exchange the two, in the program or on the board.", f.o.words(data.pin), f.o.words(clock.pin))
			out = append(out, y)
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
