package program

import (
	"cablaggio/core/catalogue/board"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/machine"
)

// A want is how a program uses a pin, or how a signal wants one used.
type want uint8

const (
	drives want = iota
	dims
	reads
	converts
)

// wants is how the program uses a pin.
func (p *pinFacts) wants() (w want, ok bool) {
	switch {
	case p.reading.line > 0:
		return converts, true
	case p.duty.line > 0:
		return dims, true
	case p.output():
		return drives, true
	case p.input():
		return reads, true
	}
	return 0, false
}

// signalWants is how a signal wants its pin used.
func signalWants(needs board.Function) want {
	switch needs {
	case board.DigitalOut:
		return drives
	case board.PWMOut:
		return dims
	case board.AnalogIn:
		return converts
	}
	return reads
}

// serves reports whether a use of a pin can be what a signal wants: a dimmed lamp may be
// switched, and a switched one dimmed; a sensor may be asked for a level.
func (w want) serves(signal want) bool {
	switch signal {
	case drives, dims:
		return w == drives || w == dims
	case reads:
		return w == reads
	}
	return w == converts || w == reads
}

// beyond reports whether a line reaches beyond a list: what it takes for a pin is chance.
func (f *facts) beyond(line int) bool {
	for _, r := range f.o.all() {
		for _, e := range r.notes {
			if e.Kind == machine.Wronged && e.Text == "bounds" && e.Line == line {
				return true
			}
		}
	}
	return false
}

// idle are the signals whose pins the program does not use as they want.
func (f *facts) idle() (out []wiring.Claim) {
	for _, u := range f.net.Uses {
		p := f.o.pins[f.board.Number(u.Pin.Name)]
		for _, c := range u.Signals {
			if p != nil {
				if w, ok := p.wants(); ok && w.serves(signalWants(c.Signal.Needs)) {
					continue
				}
			}
			out = append(out, c)
		}
	}
	return out
}
