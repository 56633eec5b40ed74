package check

import (
	"fmt"
	"math"

	"cablaggio/core/catalogue/supply"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/spec"
)

// feedRight feeds the board with a voltage that suits, from as many of the
// same cells as it takes, or else from its first supply.
func (f *facts) feedRight() []Fix {
	s := f.supply()
	var tries []Fix
	if c := f.doc.Cells; c != nil {
		for n := 1; n <= supply.MaxCells; n++ {
			cell, _ := supply.CellOf(c.Type)
			label := fmt.Sprintf("Take %d cells of the sort %s", n, cell.Name)
			tries = append(tries, Fix{label, f.fedBy(plan.Supply{Supply: s.ID, Cells: c.Type, Count: n})})
		}
	} else if s.Regulator != nil {
		// A linear regulator wastes what is too much, so the least that does.
		volts := math.Ceil(s.Input.Low / 0.95)
		if volts*1.05 > s.Input.High {
			volts = s.Input.Typ
		}
		tries = append(tries, Fix{fmt.Sprintf("Feed it with %s", quantity.Short(volts, quantity.Volt)), f.fedBy(plan.Supply{Supply: s.ID, Text: quantity.Short(volts, quantity.Volt)})})
	}
	first := f.board.Supplies[0]
	tries = append(tries, Fix{"Feed it from " + first.Name, f.fedBy(plan.Supply{Supply: first.ID})})
	for _, try := range tries {
		if g := f.after(try.Edits); g != nil && g.wellFed() {
			return []Fix{try}
		}
	}
	return nil
}

// fedBy feeds the board in another way; a second supply stays in.
func (f *facts) fedBy(e plan.Supply) []plan.Edit {
	if e.Supply != f.doc.Also {
		e.With = f.doc.Also
	}
	return editsOf(e)
}

// wellFed reports whether nothing about the supply is worth a finding.
func (f *facts) wellFed() bool {
	s, fed := f.supply(), f.doc.Fed(f.supply())
	heat, _ := f.heat()
	fits := fed.High <= s.Input.High*1.001 && fed.Low >= s.Input.Low*0.95 && fed.Typ >= s.Input.Low*0.999
	gives := f.fromSupply().High <= s.Limit.Recommended
	if f.doc.Cells != nil {
		cell, _ := supply.CellOf(f.doc.Cells.Type)
		gives = gives && f.drawn().High <= cell.Amps
	}
	return fits && gives && heat.Level == Fine
}

// heat is what the board's regulator turns into heat, and its limit.
func (f *facts) heat() (q Quantity, ok bool) {
	s := f.supply()
	r := s.Regulator
	if r == nil {
		return q, false
	}
	taken := f.regulated(r)
	rail := f.net.RailVolts(r.Rail)
	fed := f.doc.Fed(s)
	h := supply.Heat(r, fed, rail, spec.Value{Low: taken.Low, Typ: taken.Typ, High: taken.High})
	q = newQuantity("heat in the regulator", quantity.Watt, wiring.Range{Low: h.Low, Typ: h.Typ, High: h.High})
	q.limit(r.Heat)
	q.Working = &Working{
		Formula: "P = (Usupply − Urail) × I",
		Numbers: fmt.Sprintf("(%s − %s) × %s", quantity.Format(fed.Typ, quantity.Volt), quantity.Format(rail.Typ, quantity.Volt), quantity.Format(taken.Typ, quantity.Ampere)),
		Result:  q.TypText, Sources: []string{"limit: " + r.Heat.Source},
	}
	if !r.Linear() {
		q.Working.Formula = "P = Urail × I × (1 ÷ efficiency − 1)"
		q.Working.Numbers = fmt.Sprintf("%s × %s × (1 ÷ %.2f − 1)", quantity.Format(rail.Typ, quantity.Volt), quantity.Format(taken.Typ, quantity.Ampere), r.Efficiency.Typ)
	}
	return q, true
}

// drawn is the current that the supply gives.
func (f *facts) drawn() spec.Value {
	taken := f.fromSupply()
	amps := spec.Value{Low: taken.Low, Typ: taken.Typ, High: taken.High}
	s := f.supply()
	if s.Regulator == nil {
		return amps
	}
	return supply.Drawn(s.Regulator, f.doc.Fed(s), f.net.RailVolts(s.Regulator.Rail), amps)
}
