package check

import (
	"fmt"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
)

// inputLevel finds inputs with a voltage between the thresholds.
var inputLevel = rule{"input-level", func(f *facts) []Finding {
	var out []Finding
	for _, in := range f.digital() {
		pin, part := in.use.Pin.Name, in.claim.Part
		if f.levelOf(in) != nil {
			continue // level-between says between which levels
		}
		for _, v := range f.visits(in.node) {
			if !v.Held(in.node) {
				continue
			}
			s := f.stands(v, in.node)
			if s.reads != ReadsEither {
				continue
			}
			q := newQuantity("voltage", quantity.Volt, v.Volts(in.node))
			q.in(v)
			q.Working = f.levelWorking(v, in, s)
			x := Finding{Level: Care, Parts: []string{part.ID}, Pins: []string{pin}, State: q.State, At: q.At, Found: &q, Fixes: f.clear(in)}
			volts, threshold := quantity.Format(s.volts, quantity.Volt), quantity.Format(s.threshold, quantity.Volt)
			if s.low {
				x.title = say("%s may get as much as %s%s, which is not reliably low.", pinName(pin), volts, state(while(q.State)))
				x.why = say("Its supply is at %s then, and it reads low for sure only up to %s.", quantity.Format(s.rail, quantity.Volt), threshold)
			} else {
				x.title = say("%s may get as little as %s%s, which is not reliably high.", pinName(pin), volts, state(while(q.State)))
				x.why = say("Its supply is at %s then, and it reads high for sure only from %s up.", quantity.Format(s.rail, quantity.Volt), threshold)
			}
			if f.hopeless(v, in.node) {
				x.Level = Stop
				x.title = say("%s gets %s%s: neither low nor high.", pinName(pin), q.TypText, state(while(q.State)))
				vil, vih := f.thresholds()
				x.why = say("It reads low for sure below %s and high for sure above %s; between them what it reads is undefined.", quantity.Format(vil, quantity.Volt), quantity.Format(vih, quantity.Volt))
			}
			out = append(out, x)
			break
		}
	}
	return out
}}

func (f *facts) levelWorking(v visit, in input, s standing) *Working {
	vil, vih := f.thresholds()
	w := &Working{
		Formula: "reliably low below one voltage, reliably high above another; both follow the supply",
		Numbers: fmt.Sprintf("%s and %s at a typical supply", quantity.Format(vil, quantity.Volt), quantity.Format(vih, quantity.Volt)),
		Result:  fmt.Sprintf("%s against %s in the worst corner", quantity.Format(s.volts, quantity.Volt), quantity.Format(s.threshold, quantity.Volt)),
		Sources: []string{"thresholds: " + f.board.Logic.VIL.Source},
	}
	// The way of the current past the pin shows what divides the voltage.
	for _, i := range in.piece.Elements {
		if f.net.Elements[i].Role == wiring.Pull {
			path := f.working(worst{element: i, Range: v.Amps(i), at: v})
			w.Drops, w.Sources = path.Drops, append(w.Sources, path.Sources...)
		}
	}
	return w
}

// clear finds the change that gives the input sure levels: the pull switched
// off, another hookup, or a resistor that somebody put there taken off.
func (f *facts) clear(in input) []Fix {
	owner, pin := in.claim.Part, in.use.Pin.Name
	var tries []Fix
	if in.claim.Signal.Pull != board.NoPull {
		tries = append(tries, Fix{"Switch off the pull of " + pin, []plan.Edit{plan.SetPull{Part: owner.ID, Signal: in.claim.Signal.Name}}})
	}
	tries = append(tries, f.rewire(owner)...)
	if net := f.doc.NetOf(build.Pin(pin)); net >= 0 {
		for _, t := range f.doc.Nets[net] {
			id, _ := t.Split()
			if p := f.doc.Part(id); p != nil && p.Of == "" && f.kind(p).Is(part.Resistor) {
				tries = append(tries, Fix{"Take " + p.Name + " off " + pin, []plan.Edit{plan.Free{Terminal: t}}})
			}
		}
	}
	tries = append(tries, f.moveTo(in.claim)...)
	for _, try := range tries {
		if f.clears(try.Edits, in) {
			return []Fix{try}
		}
	}
	return nil
}

// clears reports whether the input reads a sure level in every state after the
// edits.
func (f *facts) clears(edits []plan.Edit, in input) bool {
	g := f.after(edits)
	return g != nil && g.sure(in.claim.Part.ID)
}
