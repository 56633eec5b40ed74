package check

import (
	"fmt"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/choose"
	"cablaggio/core/values/quantity"
)

// uneven is how many times as much current an LED may get with the tolerances one way
// as with them the other way, before one may look bright and its neighbour dark
// (common practice: the eye sees half as a little less, a quarter as dim).
const uneven = 4

// ledUneven finds LEDs that have so little voltage to spare that their tolerances
// decide how bright they are.
var ledUneven = rule{"led-uneven", func(f *facts) []Finding {
	var out []Finding
	for _, l := range f.lamps() {
		w := f.worstOf(l.Element)
		if w.Typ < faintBelow || !isUneven(w.Range) || f.toSpare(l, w) {
			continue
		}
		q := newQuantity("current", quantity.Ampere, w.Range)
		q.in(w.at)
		q.Working = f.working(w)
		out = append(out, Finding{
			Level: Care, Parts: []string{l.Part.ID}, which: l.Emitter.ID, Found: &q, State: q.State, At: q.At,
			title: say("%s may be bright or nearly dark: it gets from %s to %s.", called(l.Name), quantity.Format(max(w.Low, 0), quantity.Ampere), quantity.Format(w.High, quantity.Ampere)),
			why: say("It needs about %s, which is nearly all that there is, so little differences between two of them decide. Feed it with more volts, or take another colour.",
				quantity.Format(f.lampValue(l, "forwardVoltage"), quantity.Volt)),
			Fixes: f.evenOut(l),
		})
	}
	return out
}}

// toSpare reports whether the supply has volts to spare for an LED: more than a seventh,
// with the LED at the high end of its tolerance. Then it is not the LED that makes it
// uneven, but too small a resistor, or a source that gives way.
func (f *facts) toSpare(l wiring.Lamp, w worst) bool {
	_, from, to := w.at.Path(w.element)
	volts := f.net.FedVolts(from).Typ - f.net.FedVolts(to).Typ
	return volts-l.Value(f.kind(l.Part), "forwardVoltage").High > volts/7
}

func isUneven(r wiring.Range) bool { return r.High > uneven*max(r.Low, 0) }

// evenOut feeds an LED with more volts, or takes the type that needs less voltage, with
// a resistor that suits it.
func (f *facts) evenOut(l wiring.Lamp) []Fix {
	p := l.Part
	if h, ok := f.kind(p).Hookup("low-side-power"); ok && p.Hookup != "" && f.board.Power != f.board.Logic.Rail {
		fix := f.hookup(p, h)
		if g := f.after(fix[0].Edits); g != nil && !isUneven(g.worstOf(g.lampsOf(g.doc.Part(p.ID))[0].Element).Range) {
			return fix
		}
	}
	tried := map[float64]bool{}
	for _, t := range f.kind(p).Types {
		volts := t.Values["forwardVoltage"].Typ
		if volts >= f.lampValue(l, "forwardVoltage") || t.Values["luminousIntensity"].Typ == 0 || tried[volts] || !f.spend() {
			continue
		}
		tried[volts] = true
		edits := f.asType(p, t.ID)
		label := fmt.Sprintf("Take a %s one", t.ID)
		if r := f.seriesResistor(f.worstOf(l.Element)); r != nil {
			doc, _, err := f.planner().Apply(f.doc, edits)
			if err != nil {
				continue
			}
			candidates, err := f.planner().Candidates(doc, r.ID, p.ID)
			if err != nil {
				continue
			}
			if best := choose.Best(candidates).Ohms; best != f.valueOf(r, "resistance") {
				label += " and " + quantity.Short(best, quantity.Ohm)
				edits = append(edits, value(r.ID, "resistance", best, quantity.Ohm))
			}
		}
		g := f.after(edits)
		if g == nil {
			continue
		}
		if w := g.worstOf(g.lampsOf(g.doc.Part(p.ID))[0].Element); !isUneven(w.Range) && w.High <= g.limitOf(w.element).Recommended {
			return []Fix{{label, edits}}
		}
	}
	return nil
}
