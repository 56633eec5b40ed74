package check

import (
	"math"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
)

// twoSupplies looks at what happens when the board is fed at two places at once.
var twoSupplies = rule{"two-supplies", func(f *facts) []Finding {
	if f.doc.Also == "" {
		return nil
	}
	first := f.supply()
	second, _ := f.board.Supply(f.doc.Also)
	x := Finding{Level: Note, Fixes: []Fix{f.unplug()}}
	a, b := f.doc.Fed(first), second.Input
	switch {
	case f.second() == nil:
		x.Level = Stop
		x.title = say("Fed by %s alone this circuit has no answer.", second.Name)
		x.why = say("Something joins what must not be joined, and only the other supply hides it.")
	case first.Rail == second.Rail && first.Regulator == nil && second.Regulator == nil:
		x.Level = Stop
		x.title = say("%s and %s are both tied straight to the %s rail.", build.Capital(first.Name), second.Name, first.Rail)
		x.why = say("The higher one drives current backwards into the lower one: into the computer's socket, or into cells that must not be charged.")
		volts := newQuantity("difference", quantity.Volt, wiring.Range{Low: max(0, a.Low-b.High), Typ: math.Abs(a.Typ - b.Typ), High: max(a.High-b.Low, b.High-a.Low)})
		volts.Working = &Working{Formula: "U1 − U2", Result: volts.Text, Sources: []string{a.Source, b.Source}}
		x.Found = &volts
	default:
		x.title = say("Fed by %s and %s at once: the board takes the one whose rail is higher.", first.Name, second.Name)
		x.why = say("The other one idles and takes over when it is pulled. So everything is looked at with each of them alone.")
	}
	return []Finding{x}
}}

// unplug takes the second supply away; the first stays as it is.
func (f *facts) unplug() Fix {
	second, _ := f.board.Supply(f.doc.Also)
	alone := plan.Supply{Supply: f.doc.Supply}
	if c := f.doc.Cells; c != nil {
		alone.Cells, alone.Count = c.Type, c.Count
	} else if f.doc.Volts > 0 {
		alone.Text = quantity.Short(f.doc.Volts, quantity.Volt)
	}
	return Fix{"Unplug " + second.Name, editsOf(alone)}
}
