package check

import (
	"fmt"
	"math"
	"strings"

	"cablaggio/core/board"
	"cablaggio/core/plan"
	"cablaggio/core/quantity"
	"cablaggio/core/spec"
	"cablaggio/core/supply"
	"cablaggio/core/wiring"
)

// supplyInput finds supplies with a voltage that the board cannot make use of.
var supplyInput = rule{"supply-input", func(f *facts) []Finding {
	s, fed := f.supply(), f.doc.Fed(f.supply())
	q := newQuantity("supply voltage", quantity.Volt, wiring.Range{Low: fed.Low, Typ: fed.Typ, High: fed.High})
	q.Working = &Working{Result: q.Text, Sources: []string{"voltage: " + fed.Source, fmt.Sprintf("%s takes %s to %s: %s", s.Name, quantity.Short(s.Input.Low, quantity.Volt), quantity.Short(s.Input.High, quantity.Volt), s.Input.Source)}}
	x := Finding{Found: &q}
	switch {
	case fed.High > s.Input.High*1.001:
		x.Level = Stop
		x.Title = fmt.Sprintf("%s gets up to %s; it takes %s at most.", s.Name, quantity.Format(fed.High, quantity.Volt), quantity.Short(s.Input.High, quantity.Volt))
		x.Why = "The board's regulator is damaged, or the board itself where there is none."
	case fed.Typ < s.Input.Low*0.999:
		x.Level = Stop
		x.Title = fmt.Sprintf("%s gets %s; it needs %s.", s.Name, q.TypText, quantity.Short(s.Input.Low, quantity.Volt))
		x.Why = "The board does not start, or restarts whenever something is switched on."
	case fed.Low < s.Input.Low*0.95:
		x.Level = Care
		x.Title = fmt.Sprintf("%s may fall to %s; it needs %s.", s.Name, quantity.Format(fed.Low, quantity.Volt), quantity.Short(s.Input.Low, quantity.Volt))
		x.Why = "As the cells run down the board stops before they are empty."
	default:
		return nil
	}
	x.Fixes = f.feedRight()
	return []Finding{x}
}}

// twoSupplies looks at what happens when the board is fed at two places at once.
var twoSupplies = rule{"two-supplies", func(f *facts) []Finding {
	if f.doc.Also == "" {
		return nil
	}
	first := f.supply()
	second, _ := f.board.Supply(f.doc.Also)
	alone := plan.Edit{Op: plan.Supply, Supply: f.doc.Supply}
	if c := f.doc.Cells; c != nil {
		alone.Cells, alone.Count = c.Type, c.Count
	} else if f.doc.Volts > 0 {
		alone.Text = quantity.Short(f.doc.Volts, quantity.Volt)
	}
	x := Finding{Level: Note, Fixes: []Fix{{"Unplug " + second.Name, editsOf(alone)}}}
	a, b := f.doc.Fed(first), second.Input
	switch {
	case first.Rail == second.Rail && first.Regulator == nil && second.Regulator == nil:
		x.Level = Stop
		x.Title = fmt.Sprintf("%s and %s are both tied straight to the %s rail.", first.Name, second.Name, first.Rail)
		x.Why = "The higher one drives current backwards into the lower one: into the computer's socket, or into cells that must not be charged."
		volts := newQuantity("difference", quantity.Volt, wiring.Range{Low: max(0, a.Low-b.High), Typ: math.Abs(a.Typ - b.Typ), High: max(a.High-b.Low, b.High-a.Low)})
		volts.Working = &Working{Formula: "U1 − U2", Result: volts.Text, Sources: []string{a.Source, b.Source}}
		x.Found = &volts
	default:
		x.Title = fmt.Sprintf("Fed by %s and %s at once: the board takes the one whose rail is higher.", first.Name, second.Name)
		x.Why = "The other one idles and takes over when it is pulled. So everything is looked at with each of them alone."
	}
	return []Finding{x}
}}

// feedRight feeds the board with a voltage that suits, from as many of the
// same cells as it takes, or else from its first supply.
func (f *facts) feedRight() []Fix {
	s := f.supply()
	var tries []Fix
	if c := f.doc.Cells; c != nil {
		for n := 1; n <= supply.MaxCells; n++ {
			cell, _ := supply.CellOf(c.Type)
			label := fmt.Sprintf("Take %d cells of the sort %s", n, cell.Name)
			tries = append(tries, Fix{label, editsOf(plan.Edit{Op: plan.Supply, Supply: s.ID, Cells: c.Type, Count: n})})
		}
	} else if s.Regulator != nil {
		// A linear regulator wastes what is too much, so the least that does.
		volts := math.Ceil(s.Input.Low / 0.95)
		if volts*1.05 > s.Input.High {
			volts = s.Input.Typ
		}
		tries = append(tries, Fix{fmt.Sprintf("Feed it with %s", quantity.Short(volts, quantity.Volt)), editsOf(plan.Edit{Op: plan.Supply, Supply: s.ID, Text: quantity.Short(volts, quantity.Volt)})})
	}
	first := f.board.Supplies[0]
	tries = append(tries, Fix{"Feed it from " + first.Name, editsOf(plan.Edit{Op: plan.Supply, Supply: first.ID})})
	for _, try := range tries {
		if g := f.after(try.Edits); g != nil && g.wellFed() {
			return []Fix{try}
		}
	}
	return nil
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
	taken := f.fromSupply()
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

// regulatorHeat holds the heat in the board's regulator against what its
// package sheds.
var regulatorHeat = rule{"regulator-heat", func(f *facts) []Finding {
	q, ok := f.heat()
	if !ok || q.Level == Fine {
		return nil
	}
	x := Finding{
		Level: q.Level, Found: &q, Fixes: f.feedRight(),
		Title: fmt.Sprintf("The board's regulator turns up to %s into heat; %s is recommended.", quantity.Format(q.High, quantity.Watt), q.Limit.RecommendedText),
		Why:   "All the volts above the rail's become heat in it: it is too hot to touch.",
	}
	if q.Level == Stop {
		x.Title = fmt.Sprintf("The board's regulator turns up to %s into heat; its package sheds %s.", quantity.Format(q.High, quantity.Watt), q.Limit.AbsoluteText)
		x.Why = "It switches itself off when it is too hot, and the board goes on and off."
	}
	return []Finding{x}
}}

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
		Title: fmt.Sprintf("The cells have to give up to %s; %s gives %s without sagging.", q.MaxText, cell.Name, q.Limit.RecommendedText),
		Why:   "Their voltage falls under the load, and the board restarts.",
	}
	first := f.board.Supplies[0]
	tries := []Fix{}
	for _, c := range supply.Cells() {
		for n := 1; n <= 6; n++ {
			tries = append(tries, Fix{fmt.Sprintf("Take %d cells of the sort %s", n, c.Name), editsOf(plan.Edit{Op: plan.Supply, Supply: f.supply().ID, Cells: c.ID, Count: n})})
		}
	}
	tries = append(tries, Fix{"Feed it from " + first.Name, editsOf(plan.Edit{Op: plan.Supply, Supply: first.ID})})
	for _, try := range tries {
		if g := f.after(try.Edits); g != nil && g.wellFed() {
			x.Fixes = []Fix{try}
			break
		}
	}
	return []Finding{x}
}}

// unusedPins advises to switch on the pull-ups of what is left when every
// microampere counts.
var unusedPins = rule{"unused-pins", func(f *facts) []Finding {
	if f.doc.Cells == nil || f.doc.UnusedPulled || !f.hasPull(board.PullUp) {
		return nil
	}
	var left []string
	for _, p := range plan.FreePins(f.lib, f.doc, board.DigitalIn) {
		if pin, _ := f.board.Pin(p.Pin); pin.Has(board.DigitalOut) {
			left = append(left, p.Pin)
		}
	}
	if len(left) == 0 {
		return nil
	}
	return []Finding{{
		Level: Note, Pins: left[:1], which: "all",
		Title: fmt.Sprintf("%d unused pins float: %s.", len(left), shorten(left)),
		Why:   "A loose input wanders between low and high, and draws current each time it passes the middle; with the pull-up on it draws none.",
		Fixes: []Fix{{"Let the program switch their pull-ups on", editsOf(plan.Edit{Op: plan.Unused, Pull: board.PullUp})}},
	}}
}}

// shorten lists a few names and says how many more there are.
func shorten(names []string) string {
	if len(names) <= 6 {
		return strings.Join(names, ", ")
	}
	return fmt.Sprintf("%s and %d more", strings.Join(names[:5], ", "), len(names)-5)
}

// pwmChannel finds pins whose duties are one.
var pwmChannel = rule{"pwm-channel", func(f *facts) []Finding {
	var out []Finding
	first := map[string]wiring.Claim{}
	for _, u := range f.net.Uses {
		for _, c := range u.Signals {
			if c.Signal.Needs != board.PWMOut || u.Pin.PWM == nil || u.Pin.PWM.Channel == "" {
				continue
			}
			channel := u.Pin.PWM.Channel
			other, ok := first[channel]
			if !ok {
				first[channel] = c
				continue
			}
			if other.Signal.Pin == u.Pin.Name {
				continue
			}
			out = append(out, Finding{
				Level: Stop, Parts: []string{other.Part.ID, c.Part.ID}, Pins: []string{other.Signal.Pin, u.Pin.Name},
				Title: fmt.Sprintf("%s and %s share PWM channel %s: they always have the same duty.", other.Signal.Pin, u.Pin.Name, channel),
				Why:   fmt.Sprintf("What the program sets for %s it sets for %s too.", other.Part.Name, c.Part.Name),
				Fixes: f.moveOffChannels(c),
			})
		}
	}
	return out
}}

// moveOffChannels moves a PWM signal to a free pin whose channel nobody uses.
func (f *facts) moveOffChannels(c wiring.Claim) []Fix {
	used := map[string]bool{}
	for _, u := range f.net.Uses {
		for _, s := range u.Signals {
			if s.Signal.Needs == board.PWMOut && u.Pin.PWM != nil {
				used[u.Pin.PWM.Channel] = true
			}
		}
	}
	for _, p := range plan.PinsFor(f.lib, f.doc, c.Part, c.Signal) {
		if pin, _ := f.board.Pin(p.Pin); pin.PWM.Channel == "" || !used[pin.PWM.Channel] {
			return []Fix{{fmt.Sprintf("Move %s to %s", c.Part.Name, p.Pin), editsOf(plan.Edit{Op: plan.MovePin, Part: c.Part.ID, Signal: c.Signal.Name, Pin: p.Pin})}}
		}
	}
	return nil
}
