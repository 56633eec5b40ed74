package check

import (
	"fmt"

	"cablaggio/core/quantity"
	"cablaggio/core/spec"
	"cablaggio/core/wiring"
)

// inputVoltage finds inputs that are driven above what they tolerate.
var inputVoltage = rule{"input-voltage", func(f *facts) []Finding {
	var out []Finding
	above := f.board.Logic.Tolerates
	rail := f.net.RailVolts(f.board.Logic.Rail)
	for _, in := range f.read() {
		pin := in.use.Pin.Name
		over := 0.0
		var at visit
		var volts wiring.Range
		if in.piece == nil {
			volts, _ = f.everywhere(in.node)
			over = volts.Typ - rail.Typ
		}
		for _, v := range f.visits(in.node) {
			if r := v.Volts(in.node); r.Typ-rail.Typ > over {
				over, volts, at = r.Typ-rail.Typ, r, v
			}
		}
		if over <= above.Volts {
			continue
		}
		q := newQuantity("voltage", quantity.Volt, volts)
		q.in(at)
		q.limit(spec.Limit{Recommended: rail.Typ, Absolute: rail.Typ + above.Volts, Source: above.Source})
		q.Level = Stop
		q.Working = &Working{
			Formula: "the pin's voltage, held back by its own clamp diode", Result: q.TypText,
			Sources: []string{fmt.Sprintf("at most %s above its supply: %s", quantity.Short(above.Volts, quantity.Volt), above.Source)},
		}
		claimed := in.claim.Part
		x := Finding{
			Level: Stop, Parts: []string{claimed.ID}, Pins: []string{pin}, Found: &q, State: q.State, At: q.At,
			Title: fmt.Sprintf("%s is driven to %s; it tolerates %s.", pin, q.TypText, q.Limit.AbsoluteText),
			Why:   "The current goes through the chip's clamp diode into its supply, and damages it.",
		}
		for _, h := range f.kind(claimed).Hookups {
			fix := f.hookup(claimed, h)
			if g := f.after(fix[0].Edits); g != nil && g.tolerated(claimed.ID) && g.sure(claimed.ID) {
				x.Fixes = fix
				break
			}
		}
		out = append(out, x)
	}
	return out
}}

// tolerated reports whether no input of a part is above what its pin tolerates.
func (f *facts) tolerated(part string) bool {
	rail := f.net.RailVolts(f.board.Logic.Rail)
	for _, in := range f.read() {
		if in.claim.Part.ID != part {
			continue
		}
		if r, _ := f.everywhere(in.node); r.Typ > rail.Typ+f.board.Logic.Tolerates.Volts {
			return false
		}
	}
	return true
}
