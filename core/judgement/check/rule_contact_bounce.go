package check

import (
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
)

// contactBounce finds contacts that bounce longer than anybody waits.
var contactBounce = rule{"contact-bounce", func(f *facts) []Finding {
	var out []Finding
	for _, b := range f.bouncers() {
		if b.bounce <= b.guard() {
			continue
		}
		q := newQuantity("debounce", quantity.Second, wiring.Range{Low: b.guard(), Typ: b.guard(), High: b.guard()})
		q.Working = b.guarded()
		need := 2 * b.bounce
		out = append(out, Finding{
			Level: Care, Parts: []string{b.part.ID}, Pins: []string{b.use.Pin.Name}, Found: &q,
			title: say("%s bounces for up to %s, and nothing waits longer than %s.", called(b.part.Name), quantity.Format(b.bounce, quantity.Second), q.TypText),
			why:   say("One press counts as several."),
			Fixes: []Fix{{"Wait " + quantity.Short(need, quantity.Second) + " in the program", editsOf(value(b.part.ID, "debounce", need, quantity.Second))}},
		})
	}
	return out
}}
