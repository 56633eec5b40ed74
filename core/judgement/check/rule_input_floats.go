package check

import (
	"fmt"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
)

// inputFloats finds inputs that nothing holds in some state.
var inputFloats = rule{"input-floats", func(f *facts) []Finding {
	var out []Finding
	for _, in := range f.read() {
		pin, part := in.use.Pin.Name, in.claim.Part
		for _, v := range f.visits(in.node) {
			if v.Held(in.node) {
				continue
			}
			out = append(out, Finding{
				Level: Stop, Parts: []string{part.ID}, Pins: []string{pin}, State: v.Words(), At: At(v.Address()),
				Found: f.leakage(in, v),
				title: say("%s floats: nothing holds it%s.", pinName(pin), state(while(v.Words()))),
				why:   say("What it reads is undefined, and changes when a hand comes near."),
				Fixes: f.hold(in),
			})
			break
		}
	}
	return out
}}

// leakage is the voltage that nothing but leakage gives the input.
func (f *facts) leakage(in input, v visit) *Quantity {
	q := newQuantity("voltage", quantity.Volt, v.Volts(in.node))
	q.in(v)
	q.Working = &Working{
		Formula: "no path of resistances leads from the pin to a rail or ground",
		Numbers: fmt.Sprintf("the pin's leakage of up to %s alone", quantity.Short(f.board.Logic.Leakage.High, quantity.Ampere)),
		Result:  "anything from " + quantity.Format(q.Low, quantity.Volt) + " to " + quantity.Format(q.High, quantity.Volt),
		Sources: []string{"leakage: " + f.board.Logic.Leakage.Source},
	}
	return &q
}

// hold switches on the pull that holds the input at the level that its part
// does not give it, or wires the part with a resistor.
func (f *facts) hold(in input) []Fix {
	pull := board.PullUp
	for _, v := range f.visits(in.node) {
		if f.reads(v, in.node) == ReadsHigh {
			pull = board.PullDown
		}
	}
	part := in.claim.Part
	if in.claim.Signal.Needs == board.AnalogIn {
		return f.connect(part)
	}
	otherwise := f.rewire(part)
	if (part.Hookup == "" || len(otherwise) == 0) && !f.board.PullAt(in.use.Pin, pull).IsZero() && in.claim.Signal.Pull == board.NoPull {
		return []Fix{{fmt.Sprintf("Switch on the pull-%s of %s", pull, in.use.Pin.Name),
			[]plan.Edit{plan.SetPull{Part: part.ID, Signal: in.claim.Signal.Name, Pull: pull}}}}
	}
	return otherwise
}
