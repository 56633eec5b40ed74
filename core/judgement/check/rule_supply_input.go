package check

import (
	"fmt"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
)

// supplyInput finds supplies with a voltage that the board cannot make use of.
var supplyInput = rule{"supply-input", func(f *facts) []Finding {
	s, fed := f.supply(), f.doc.Fed(f.supply())
	q := newQuantity("supply voltage", quantity.Volt, wiring.Range{Low: fed.Low, Typ: fed.Typ, High: fed.High})
	q.Working = &Working{Result: q.Text, Sources: []string{"voltage: " + fed.Source, fmt.Sprintf("%s takes %s to %s: %s", s.Name, quantity.Short(s.Input.Low, quantity.Volt), quantity.Short(s.Input.High, quantity.Volt), s.Input.Source)}}
	x := Finding{Found: &q}
	switch {
	case fed.High > max(s.Input.High, s.Survives)*1.001:
		x.Level = Stop
		x.title = say("%s gets up to %s; it survives %s.", build.Capital(s.Name), quantity.Format(fed.High, quantity.Volt), quantity.Short(max(s.Input.High, s.Survives), quantity.Volt))
		x.why = say("The board's regulator is damaged, or the board itself where there is none.")
	case fed.Typ > s.Input.High*1.001:
		x.Level = Care
		x.title = say("%s gets %s; up to %s is recommended.", build.Capital(s.Name), q.TypText, quantity.Short(s.Input.High, quantity.Volt))
		x.why = say("The regulator survives it, but all that is too much becomes heat in it.")
	case fed.Typ < s.Input.Low*0.999:
		x.Level = Stop
		x.title = say("%s gets %s; it needs %s.", build.Capital(s.Name), q.TypText, quantity.Short(s.Input.Low, quantity.Volt))
		x.why = say("The board does not start, or restarts whenever something is switched on.")
	case fed.Low < s.Input.Low*0.95:
		x.Level = Care
		x.title = say("%s may fall to %s; it needs %s.", build.Capital(s.Name), quantity.Format(fed.Low, quantity.Volt), quantity.Short(s.Input.Low, quantity.Volt))
		x.why = say("As the cells run down the board stops before they are empty.")
	default:
		return nil
	}
	x.Fixes = f.feedRight()
	return []Finding{x}
}}
