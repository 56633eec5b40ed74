package check

import (
	"fmt"
	"slices"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/spec"
)

// unfelt is a current in amperes through a protection diode below which nobody would
// speak of one: an LED's leakage, a pull of megaohms.
const unfelt = 10e-6

// inputVoltage finds pins that are driven above what they tolerate. A pin with a wire is
// a pin, whether a signal claims it or not; and before the program runs every pin is an
// input.
var inputVoltage = rule{"input-voltage", func(f *facts) []Finding {
	var out []Finding
	above := f.board.Logic.Tolerates
	rail := f.net.RailVolts(f.board.Logic.Rail)
	for i := range f.net.Controls {
		c := &f.net.Controls[i]
		if c.Kind != wiring.Mode {
			continue
		}
		use, claimed := f.use(c.Of)
		if !f.concerns(c.Of) && !(claimed && f.concerns(use.Signals[0].Part.ID)) {
			continue
		}
		high := f.highest(c.Of)
		if high.volts.Typ-rail.Typ <= above.Volts || high.at != nil && high.amps < unfelt {
			continue
		}
		if high.at != nil {
			high.volts = high.at.Volts(f.net.Node(build.Pin(c.Of)))
		}
		q := newQuantity("voltage", quantity.Volt, high.volts)
		q.in(high.at)
		q.limit(spec.Limit{Recommended: rail.Typ, Absolute: rail.Typ + above.Volts, Source: above.Source})
		q.Level = Stop
		q.Working = &Working{
			Formula: "the pin's voltage, held back by its own clamp diode", Result: q.TypText,
			Sources: []string{fmt.Sprintf("at most %s above its supply: %s", quantity.Short(above.Volts, quantity.Volt), above.Source)},
		}
		x := Finding{
			Pins: []string{c.Of}, Found: &q, State: q.State, At: q.At,
			title: say("%s gets %s; it tolerates %s.", pinName(c.Of), q.TypText, q.Limit.AbsoluteText),
			why:   say("The current goes through the chip's protection diode into its supply, and damages it."),
		}
		if high.reset {
			x.title = say("Before the program runs, %s gets %s; it tolerates %s.", pinName(c.Of), q.TypText, q.Limit.AbsoluteText)
			x.why = x.why.after(say("Until then it is an input."))
		}
		if high.amps > 0 && high.amps <= above.Amps {
			q.Level = Care
			x.why = say("A current of %s goes through the chip's protection diode. It survives that, but is not made for it, and what the pins beside it read shifts.", quantity.Format(high.amps, quantity.Ampere))
		}
		x.Level = q.Level
		if claimed {
			for _, s := range use.Signals {
				x.Parts = append(x.Parts, s.Part.ID)
			}
		}
		if !f.judging {
			x.Fixes = f.lower(c.Of, use)
		}
		out = append(out, x)
	}
	return out
}}

// A height is the highest voltage of a pin.
type height struct {
	volts wiring.Range // of what is not wired straight to a rail the typical value alone
	at    visit        // nil: it is wired straight to a rail
	reset bool         // before the program runs
	amps  float64      // through its protection diode; zero: the pin is wired straight to a rail
}

// highest is the highest voltage of a pin, with the program running and before it.
func (f *facts) highest(pin string) (out height) {
	node := f.net.Node(build.Pin(pin))
	piece := f.net.PieceOf(node)
	if piece == nil {
		out.volts, _ = f.everywhere(node)
		return out
	}
	clamp := f.net.Find(wiring.Clamp, "", pin)
	look := func(v visit, reset bool) {
		least := out.volts.Typ
		if reset {
			least += 0.05 // what happens with the program as well is told of the program
		}
		if volts := v.Typical(node); out.at == nil || volts > least {
			out = height{wiring.Range{Typ: volts}, v, reset, max(0, v.TypicalAmps(clamp))}
		}
	}
	for _, v := range f.visits(node) {
		look(v, false)
	}
	list, err := piece.Reset()
	if err != nil {
		f.unsolved.Store(true)
	}
	for _, v := range list {
		look(v, true)
	}
	return out
}

// lower wires the part whose signal a pin has such that the pin tolerates it: from the
// logic's rail, or through a divider where its supply must stay; or takes the wire off a
// pin that no signal claims.
func (f *facts) lower(pin string, use wiring.Use) []Fix {
	var tries []Fix
	for _, c := range use.Signals {
		for _, h := range f.kind(c.Part).Hookups {
			tries = append(tries, f.hookup(c.Part, h)...)
		}
	}
	tries = append(tries, f.divide(pin, use)...)
	if len(use.Signals) == 0 {
		tries = append(tries, Fix{"Take the wire off " + pin, editsOf(plan.Free{Terminal: build.Pin(pin)})})
	}
	for _, try := range tries {
		g := f.after(try.Edits)
		if g == nil || !g.tolerated(pin) {
			continue
		}
		if !slices.ContainsFunc(use.Signals, func(c wiring.Claim) bool {
			p := g.doc.Part(c.Part.ID)
			return p == nil || !g.sure(p.ID) || g.kind(p).Feed != nil && !g.suited(p)
		}) {
			return []Fix{try}
		}
	}
	return nil
}

// divide puts a divider between a pin and the leg of the part that it reads: for a part
// that was wired by hand and whose supply must stay.
func (f *facts) divide(pin string, use wiring.Use) []Fix {
	if len(use.Signals) != 1 || use.Drives() || use.Signals[0].Part.Hookup != "" {
		return nil
	}
	p := build.Pin(pin)
	net := f.doc.NetOf(p)
	if net < 0 || len(f.doc.Nets[net]) < 2 {
		return nil
	}
	rail, high := f.net.RailVolts(f.board.Logic.Rail).Typ, 0.0
	for _, r := range f.board.Rails {
		high = max(high, f.net.RailVolts(r.Name).Typ)
	}
	if high <= rail {
		return nil
	}
	upper, lower := 10e3, 15e3 // leave three fifths: of 5 V what 3.3 V logic reads as high
	var other build.Terminal
	for _, t := range f.doc.Nets[net] {
		if t != p {
			other = t
		}
	}
	ids := f.freshIDs("resistor", 2)
	first, second := ids[0], ids[1]
	return []Fix{{fmt.Sprintf("Divide it: %s from %s to %s, %s from there to %s", quantity.Short(upper, quantity.Ohm), f.leg(other), pin, quantity.Short(lower, quantity.Ohm), f.board.Ground), editsOf(
		plan.Free{Terminal: p},
		plan.Add{Kind: "resistor", Value: "resistance", Text: quantity.Short(upper, quantity.Ohm)},
		plan.Add{Kind: "resistor", Value: "resistance", Text: quantity.Short(lower, quantity.Ohm)},
		plan.Join{Terminal: build.Of(first, "1"), To: other},
		plan.Join{Terminal: build.Of(first, "2"), To: p},
		plan.Join{Terminal: build.Of(second, "1"), To: p},
		plan.Join{Terminal: build.Of(second, "2"), To: build.Pin(f.board.Ground)})}}
}

// tolerated reports whether a pin is never above what it tolerates.
func (f *facts) tolerated(pin string) bool {
	if f.net.Node(build.Pin(pin)) == circuit.Ground {
		return true
	}
	high := f.highest(pin)
	return high.at != nil && high.amps < unfelt || high.volts.Typ <= f.net.RailVolts(f.board.Logic.Rail).Typ+f.board.Logic.Tolerates.Volts
}
