package check

import (
	"fmt"

	"cablaggio/core/plan"
	"cablaggio/core/quantity"
	"cablaggio/core/wiring"
)

// An indicator LED behind 10 kΩ on 5 V glows at 0.3 mA and can be seen in a
// room; at a tenth of that it cannot (common practice).
const (
	darkBelow  = 30e-6 // amperes
	faintBelow = 300e-6
)

// ledDark finds LEDs that stay dark in every state, or nearly so.
var ledDark = rule{"led-dark", func(f *facts) []Finding {
	var out []Finding
	for _, l := range f.lamps() {
		p := l.Part
		w := f.worstOf(l.Element)
		if w.Typ >= faintBelow {
			continue
		}
		q := f.quantity("current", w, f.limitOf(l.Element))
		q.Limit = nil
		x := Finding{Level: Care, Parts: []string{p.ID}, which: l.Emitter.ID, Found: q, State: q.State, At: q.At}
		switch r := f.seriesResistor(w); {
		case w.Typ >= darkBelow && r != nil:
			x.Title = fmt.Sprintf("%s gets %s at most: too faint to see by day.", l.Name, quantity.Format(q.Typ, quantity.Ampere))
			x.Why = "The resistor leaves it too little."
			x.Fixes = f.resize(r, p)
		case f.reversed(l):
			x.Level = Stop
			x.Title = l.Name + " is the wrong way round and stays dark."
			x.Why = "Its short leg is on the side that the current comes from; an LED conducts one way only."
			x.Fixes = f.turnAround(p)
		case f.starved(l):
			x.Level = Stop
			x.Title = l.Name + " needs more voltage than there is, and stays dark."
			x.Why = fmt.Sprintf("It lights at %s; pin and supply leave it less.", quantity.Format(f.lampValue(l, "forwardVoltage"), quantity.Volt))
			x.Fixes = f.lowest(l)
		default:
			x.Level = Stop
			x.Title = l.Name + " stays dark in every state."
			x.Why = "No current finds a way through it: one of its legs leads nowhere, or both lead to the same place."
			x.Fixes = f.connect(p)
		}
		out = append(out, x)
	}
	return out
}}

// reversed reports whether some state puts a voltage on the LED backwards and
// none puts one on it forwards.
func (f *facts) reversed(l wiring.Lamp) bool {
	forward, backward := f.bothWays(l)
	return backward > 0.8 && forward < 0.8
}

// starved reports whether the LED gets a voltage forwards that is too low for it.
func (f *facts) starved(l wiring.Lamp) bool {
	forward, _ := f.bothWays(l)
	return forward >= 0.8 && forward > 0.6*f.lampValue(l, "forwardVoltage")
}

// lowest takes the type of the kind that needs least voltage and can be seen.
func (f *facts) lowest(l wiring.Lamp) []Fix {
	p := l.Part
	kind := f.kind(p)
	best, volts := "", f.lampValue(l, "forwardVoltage")
	for _, t := range kind.Types {
		if v := t.Values["forwardVoltage"].Typ; v < volts && t.Values["luminousIntensity"].Typ > 0 {
			best, volts = t.ID, v
		}
	}
	if best == "" {
		return nil
	}
	edits := []plan.Edit{{Op: plan.SetType, Part: p.ID, Type: best}}
	if _, own := p.Values["forwardVoltage"]; own {
		edits = append(edits, plan.Edit{Op: plan.Value, Part: p.ID, Value: "forwardVoltage"})
	}
	return []Fix{{fmt.Sprintf("Take a %s one", best), edits}}
}
