package program

import (
	"fmt"
	"regexp"
	"strings"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
)

// pinFunction finds pins that are asked for what they have not.
var pinFunction = rule{"function", func(f *facts) []check.Finding {
	var out []check.Finding
	add := func(p *pinFacts, line int, level check.Level, title, why string) {
		out = append(out, f.about(check.Finding{Level: level, Line: line, Title: title, Why: why}, p.pin))
	}
	for _, p := range f.numbers {
		x := check.Finding{Level: check.Stop, Line: p.attachLine}
		x.Title = fmt.Sprintf("There is no interrupt with the number %d: the function is never called.", p.pin-machine.NoInterrupt)
		x.Why = "Interrupts have numbers of their own on this board, which are not those of the pins; digitalPinToInterrupt gives the one of a pin."
		x.Fixes = f.rewrite("Ask for the interrupt of the pin", p.attachLine, attaches.ReplaceAllString(f.line(p.attachLine), "attachInterrupt(digitalPinToInterrupt($1),"))
		out = append(out, x)
	}
	for _, p := range f.used {
		pin, ok := f.board.Numbered(p.pin)
		name := f.named(p.pin)
		if !ok {
			add(p, p.firstLine, check.Stop, fmt.Sprintf("The %s has no pin %d.", f.board.Name, p.pin), "Nothing happens there.")
			continue
		}
		if p.output() && !pin.Has(board.DigitalOut) {
			add(p, p.firstLine, check.Stop, name+" is only an input: it cannot drive anything.", "Take a pin that can be an output.")
		}
		if p.duty.line > 0 && pin.PWM == nil && p.duty.between {
			add(p, p.duty.line, check.Care, name+" has no PWM: a duty below a half is off, one from a half on is on.", fmt.Sprintf("Nothing is dimmed. Pins with PWM are %s.", f.having(board.PWMOut)))
		}
		if p.reading.line > 0 && !pin.Has(board.AnalogIn) {
			add(p, p.reading.line, check.Stop, name+" has no converter: what is read there means nothing.", fmt.Sprintf("Pins with a converter are %s.", f.having(board.AnalogIn)))
		}
		if p.attachLine > 0 && !pin.Has(board.Interrupt) {
			add(p, p.attachLine, check.Stop, name+" has no interrupt: the function is never called.", fmt.Sprintf("Pins with an interrupt are %s.", f.having(board.Interrupt)))
		}
		if _, up := p.modes[machine.PulledUp]; up && f.board.PullAt(pin, board.PullUp).IsZero() {
			add(p, p.modes[machine.PulledUp], check.Stop, name+" has no pull-up of its own: asked for one, it floats.", "Wire a resistor of 10 kΩ from the pin to the supply of the logic.")
		}
		if _, down := p.modes[machine.PulledDown]; down && f.board.PullAt(pin, board.PullDown).IsZero() {
			add(p, p.modes[machine.PulledDown], check.Stop, name+" has no pull-down of its own: asked for one, it floats.", "Wire a resistor of 10 kΩ from the pin to ground.")
		}
	}
	return out
}}

var attaches = regexp.MustCompile(`attachInterrupt\(\s*(\w+)\s*,`)

// having lists the pins that have a function.
func (f *facts) having(fn board.Function) string {
	var out []string
	for _, p := range f.board.Pins {
		if p.Has(fn) {
			out = append(out, p.Name)
		}
	}
	if len(out) > 8 {
		out = append(out[:8], "…")
	}
	return strings.Join(out, ", ")
}
