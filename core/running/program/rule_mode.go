package program

import (
	"fmt"

	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
	"cablaggio/core/running/rig"
	"cablaggio/core/values/quantity"
)

// pinMode finds pins that drive something and were never made outputs, and outputs that only
// are read.
var pinMode = rule{"mode", func(f *facts) []check.Finding {
	var out []check.Finding
	for _, p := range f.used {
		name := f.o.words(p.pin)
		if _, moved := f.moved[p.pin]; moved || !f.wired(p.pin) {
			continue
		}
		_, driven := p.modes[machine.Driven]
		if p.wroteBefore && !driven && p.duty.line == 0 && p.toneLine == 0 && !p.input() {
			x := f.about(check.Finding{Level: check.Stop, Line: p.wroteBeforeLine}, p.pin)
			x.Title = fmt.Sprintf("%s is written, but never made an output.", f.named(p.pin))
			x.Why = "So nothing drives what hangs on it."
			if amps, part := f.faint(p.pin); f.board.Programs().WritePulls && amps > 1e-6 {
				x.Why = fmt.Sprintf("Writing high to an input switches its pull-up on: %s gets %s, and glows faintly at most.", part, quantity.Format(amps, quantity.Ampere))
			}
			x.Fixes = f.makeOutput(p, name)
			out = append(out, x)
			continue
		}
		u, used := f.uses[name]
		if used && !u.Drives() && driven && p.input() {
			x := f.about(check.Finding{Level: check.Stop, Line: p.modes[machine.Driven]}, p.pin)
			x.Title = fmt.Sprintf("%s is made an output, and then read.", f.named(p.pin))
			x.Why = "An output reads what it drives itself, and fights with what is wired to it. Make it an input."
			x.Fixes = f.makeInput(p, u)
			out = append(out, x)
		}
	}
	return out
}}

// faint is the current that a pull-up alone drives through what hangs on a pin, and through
// which part.
func (f *facts) faint(pin int) (amps float64, part string) {
	r := rig.New(f.net)
	r.Set(pin, machine.Drive{Mode: machine.PulledUp}, 0)
	for i := range r.Actors {
		a := &r.Actors[i]
		if r.Beside(a, pin) {
			if through, _ := r.Through(a); through > amps {
				amps, part = through, a.Name
			}
		}
	}
	return amps, part
}

// makeOutput is the fix that makes a pin an output.
func (f *facts) makeOutput(p *pinFacts, name string) []check.Fix {
	return f.setMode(p, "Make "+name+" an output", `INPUT(?:_PULLUP|_PULLDOWN)?`, "OUTPUT")
}
