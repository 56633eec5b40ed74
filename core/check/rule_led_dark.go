package check

import (
	"fmt"

	"cablaggio/core/build"
	"cablaggio/core/plan"
	"cablaggio/core/quantity"
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
	for _, p := range f.ofModel("diode") {
		w := f.worstOf(f.planned, f.body(p))
		if w.Typ >= faintBelow {
			continue
		}
		q := f.quantity("current", w, f.lampLimit(p))
		q.Limit = nil
		x := Finding{Level: Care, Parts: []string{p.ID}, Found: q, State: q.State}
		switch r := f.seriesResistor(w); {
		case w.Typ >= darkBelow && r != nil:
			x.Title = fmt.Sprintf("%s gets %s at most: too faint to see by day.", p.Name, quantity.Format(q.Typ, quantity.Ampere))
			x.Why = "The resistor leaves it too little."
			x.Fixes = f.resize(r, p)
		case f.reversed(p):
			x.Level = Stop
			x.Title = p.Name + " is the wrong way round and stays dark."
			x.Why = "Its short leg is on the side that the current comes from; an LED conducts one way only."
			x.Fixes = []Fix{{"Turn it around", []plan.Edit{{Op: plan.Flip, Part: p.ID}}}}
		case f.starved(p):
			x.Level = Stop
			x.Title = p.Name + " needs more voltage than there is, and stays dark."
			x.Why = fmt.Sprintf("It lights at %s; pin and supply leave it less.", quantity.Format(f.forward(p), quantity.Volt))
			x.Fixes = f.lowest(p)
		default:
			x.Level = Stop
			x.Title = p.Name + " stays dark in every state."
			x.Why = "No current finds a way through it: one of its legs leads nowhere, or both lead to the same place."
			x.Fixes = f.connect(p)
		}
		out = append(out, x)
	}
	return out
}}

// reversed reports whether some state puts a voltage on the LED backwards and
// none puts one on it forwards.
func (f *facts) reversed(p *build.Part) bool {
	forward, backward := f.across(p)
	return backward > 0.8 && forward < 0.8
}

// starved reports whether the LED gets a voltage forwards that is too low for it.
func (f *facts) starved(p *build.Part) bool {
	forward, _ := f.across(p)
	return forward >= 0.8 && forward > 0.6*f.forward(p)
}

// across returns the largest voltages on a part both ways.
func (f *facts) across(p *build.Part) (forward, backward float64) {
	terms := f.kind(p).Terminals
	a, k := f.nodeOf(p.ID, terms[0].ID), f.nodeOf(p.ID, terms[1].ID)
	for _, v := range of(f.planned, f.net.PieceWith(f.body(p))) {
		if !v.Held(a) || !v.Held(k) {
			continue
		}
		d := v.Volts(a).Typ - v.Volts(k).Typ
		forward, backward = max(forward, d), max(backward, -d)
	}
	return forward, backward
}

func (f *facts) forward(p *build.Part) float64 { return f.valueOf(p, "forwardVoltage") }

// lowest takes the type of the kind that needs least voltage.
func (f *facts) lowest(p *build.Part) []Fix {
	kind := f.kind(p)
	best, volts := "", f.forward(p)
	for _, t := range kind.Types {
		if v := t.Values["forwardVoltage"].Typ; v < volts {
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

// connect wires a part by its hookup again, or by the usual one.
func (f *facts) connect(p *build.Part) []Fix {
	h := f.kind(p).Hookups[0]
	if own, ok := f.kind(p).Hookup(p.Hookup); ok {
		h = own
	}
	return []Fix{{"Wire it as: " + h.Name, []plan.Edit{{Op: plan.Hookup, Part: p.ID, Hookup: h.ID}}}}
}
