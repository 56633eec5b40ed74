package check

import (
	"fmt"

	"cablaggio/core/catalogue/supply"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/spec"
)

// cellCurrent holds the current of a battery against what its cells give.
var cellCurrent = rule{"cell-current", func(f *facts) []Finding {
	if f.doc.Cells == nil {
		return nil
	}
	cell, _ := supply.CellOf(f.doc.Cells.Type)
	amps := f.drawn()
	q := newQuantity("current", quantity.Ampere, wiring.Range{Low: amps.Low, Typ: amps.Typ, High: amps.High})
	q.limit(spec.Limit{Recommended: cell.Amps, Absolute: cell.Amps * 3, Source: cell.Volts.Source})
	q.Working = &Working{Formula: "the board itself + the parts, each piece in its worst state", Result: q.TypText, Sources: []string{"limit: " + cell.Volts.Source}}
	if q.Level == Fine {
		return nil
	}
	x := Finding{
		Level: q.Level, Found: &q,
		title: say("The cells have to give up to %s; %s gives %s without sagging.", q.MaxText, called(cell.Name), q.Limit.RecommendedText),
		why:   say("Their voltage falls under the load, and the board restarts."),
	}
	first := f.board.Supplies[0]
	tries := []Fix{}
	for _, c := range supply.Cells() {
		for n := 1; n <= 6; n++ {
			tries = append(tries, Fix{fmt.Sprintf("Take %d cells of the sort %s", n, c.Name), f.fedBy(plan.Supply{Supply: f.supply().ID, Cells: c.ID, Count: n})})
		}
	}
	tries = append(tries, Fix{"Feed it from " + first.Name, f.fedBy(plan.Supply{Supply: first.ID})})
	for _, try := range tries {
		if g := f.after(try.Edits); g != nil && g.wellFed() {
			x.Fixes = []Fix{try}
			break
		}
	}
	return []Finding{x}
}}
