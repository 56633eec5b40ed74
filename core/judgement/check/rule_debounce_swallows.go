package check

import (
	"math"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/timing"
)

// debounceSwallows finds waits that are longer than the fastest closing lasts.
var debounceSwallows = rule{"debounce-swallows", func(f *facts) []Finding {
	var out []Finding
	for _, b := range f.bouncers() {
		lasts := math.Min(b.duty, 1-b.duty) / b.rate
		if b.wait() <= lasts {
			continue
		}
		survives := timing.Fastest(b.wait(), b.duty)
		q := newQuantity("highest rate", quantity.Hertz, wiring.Range{Low: survives, Typ: survives, High: survives})
		q.Working = b.waited()
		q.Working.Formula = "the shorter side of a period ÷ the wait; " + q.Working.Formula
		x := Finding{
			Level: Care, Parts: []string{b.part.ID}, Pins: []string{b.use.Pin.Name}, Found: &q,
			title: say("%s may close %s times a second; above %s some are swallowed.", called(b.part.Name), quantity.Short(b.rate, quantity.None), q.TypText),
			why:   say("At that rate each side lasts %s, and %s pass before a level counts.", quantity.Format(lasts, quantity.Second), quantity.Format(b.wait(), quantity.Second)),
		}
		shorter := (b.bounce + lasts) / 2
		switch {
		case b.bounce < lasts && b.slow <= lasts:
			x.Fixes = []Fix{{"Wait " + quantity.Short(shorter, quantity.Second) + " in the program", editsOf(value(b.part.ID, "debounce", shorter, quantity.Second))}}
		case b.bounce < lasts:
			x.Fixes = f.withoutCapacitor(b, shorter)
		}
		out = append(out, x)
	}
	return out
}}

// withoutCapacitor takes a capacitor that is too slow away, and lets the program
// wait a little: by the usual hookup, or by taking it off the pin or out.
func (f *facts) withoutCapacitor(b bouncer, wait float64) []Fix {
	inProgram := value(b.part.ID, "debounce", wait, quantity.Second)
	tries := f.usual(b.part)
	for _, i := range b.piece.Elements {
		if !f.isCapacitor(i) {
			continue
		}
		p := f.doc.Part(f.net.Elements[i].Part)
		fix := Fix{"Remove " + p.Name, editsOf(plan.Remove{Part: p.ID})}
		for _, leg := range f.kind(p).Terminals {
			if f.nodeOf(p.ID, leg.ID) == b.node {
				fix = Fix{"Take " + p.Name + " off " + b.use.Pin.Name, editsOf(plan.Free{Terminal: build.Of(p.ID, leg.ID)})}
			}
		}
		tries = append(tries, fix)
	}
	for _, try := range tries {
		try.Label += "; wait " + quantity.Short(wait, quantity.Second)
		try.Edits = append(try.Edits, inProgram)
		if g := f.after(try.Edits); g != nil && !g.swallows(b.part.ID) {
			return []Fix{try}
		}
	}
	return nil
}

// swallows reports whether the waits of a part are longer than its fastest
// closing lasts.
func (f *facts) swallows(part string) bool {
	for _, b := range f.bouncers() {
		if b.part.ID == part && b.wait() > math.Min(b.duty, 1-b.duty)/b.rate {
			return true
		}
	}
	return false
}
