package check

import (
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
)

// ledAlways finds LEDs that the program is to switch and that never quite go out.
var ledAlways = rule{"led-always", func(f *facts) []Finding {
	var out []Finding
	for _, l := range f.lamps() {
		piece := f.net.PieceWith(l.Element)
		if piece == nil || !f.switched(l) {
			continue
		}
		least := worst{element: l.Element}
		for _, v := range f.allOf(l.Element) {
			if least.at == nil || v.TypicalAmps(l.Element) < least.Typ {
				least.at, least.Range = v, wiring.Range{Typ: v.TypicalAmps(l.Element)}
			}
		}
		if least.Typ < darkBelow {
			continue
		}
		least.Range = least.at.Amps(l.Element)
		q := newQuantity("current", quantity.Ampere, least.Range)
		q.in(least.at)
		q.Working = f.working(least)
		x := Finding{
			Level: Care, Parts: []string{l.Part.ID}, which: l.Emitter.ID, Found: &q, State: q.State, At: q.At,
			title: say("%s never quite goes out: it keeps at least %s.", called(l.Name), q.TypText),
			why:   say("The level that should switch it off leaves it enough voltage to glow."),
			Fixes: append(f.connect(l.Part), f.usual(l.Part)...),
		}
		if least.Typ > 0.9*f.worstOf(l.Element).Typ {
			x.Level = Stop
			x.title = say("%s is always lit, whatever the program does.", called(l.Name))
			x.why = say("Its pin is not on the way of its current.")
		}
		out = append(out, x)
	}
	return out
}}

// switched reports whether the program is to switch an LED: its part has a signal that
// drives.
func (f *facts) switched(l wiring.Lamp) bool {
	for _, u := range f.net.Uses {
		for _, c := range u.Signals {
			if c.Part.ID == l.Part.ID && u.Drives() {
				return true
			}
		}
	}
	return false
}
