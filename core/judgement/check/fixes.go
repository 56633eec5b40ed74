package check

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/choose"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/preferred"
	"cablaggio/core/values/quantity"
)

// limitLamp brings the current of a lamp into its limits: by a better value
// for the resistor that is there, or else by a resistor.
func (f *facts) limitLamp(l wiring.Lamp, w worst) []Fix {
	if !f.spend() {
		return nil
	}
	p := l.Part
	if r := f.seriesResistor(w); r != nil {
		return f.resize(r, p)
	}
	if p.Hookup != "" {
		if h, ok := f.withHelper(p, "resistor"); ok {
			edit := plan.Hookup{Part: p.ID, Hookup: h.ID}
			after, _, err := f.planner().Apply(f.doc, []plan.Edit{edit})
			if err != nil {
				return nil
			}
			for _, helper := range after.Helpers(p.ID) {
				return []Fix{{"Put in a resistor of " + quantity.Short(helper.Values["resistance"], quantity.Ohm), []plan.Edit{edit}}}
			}
		}
		return nil
	}
	return f.insertBefore(l)
}

// resize chooses the value of the resistor before a lamp again.
func (f *facts) resize(r, lamp *build.Part) []Fix {
	if !f.spend() {
		return nil
	}
	candidates, err := f.planner().Candidates(f.doc, r.ID, lamp.ID)
	if err != nil {
		return nil
	}
	best := choose.Best(candidates).Ohms
	edit := value(r.ID, "resistance", best, quantity.Ohm)
	if r.Of == lamp.ID {
		edit = plan.Size{Part: r.ID}
	}
	return []Fix{{fmt.Sprintf("Take %s for %s", quantity.Short(best, quantity.Ohm), r.Name), []plan.Edit{edit}}}
}

// insertBefore puts a resistor into the wire at a lamp that was wired by hand.
func (f *facts) insertBefore(l wiring.Lamp) []Fix {
	lamp, leg := l.Part, l.Emitter.Anode
	if leg == "" {
		leg = f.kind(lamp).Terminals[0].ID
	} else if slices.ContainsFunc(f.kind(lamp).Emitters, func(e part.Emitter) bool { return e.ID != l.Emitter.ID && e.Anode == leg }) {
		leg = l.Emitter.Cathode // the anode is common
	}
	edit := plan.Insert{Terminal: build.Of(lamp.ID, leg), Text: "1k"}
	after, _, err := f.planner().Apply(f.doc, []plan.Edit{edit})
	if err != nil {
		return nil
	}
	candidates, err := f.planner().Candidates(after, after.Parts[len(after.Parts)-1].ID, lamp.ID)
	if err != nil {
		return nil
	}
	edit.Text = quantity.Short(choose.Best(candidates).Ohms, quantity.Ohm)
	return []Fix{{"Put in a resistor of " + edit.Text, []plan.Edit{edit}}}
}

// seriesResistor returns the resistor that carries the same current.
func (f *facts) seriesResistor(w worst) *build.Part {
	if w.at == nil {
		return nil
	}
	drops, _, _ := w.at.Path(w.element)
	for _, d := range drops {
		p := f.doc.Part(f.net.Elements[d.Element].Part)
		if p != nil && f.kind(p).Is(part.Resistor) && math.Abs(d.Amps-w.Typ) < 1e-3*w.Typ {
			return p
		}
	}
	return nil
}

// withHelper returns the first hookup of a part's kind that brings a helper in
// the role.
func (f *facts) withHelper(p *build.Part, role string) (part.Hookup, bool) {
	for _, h := range f.kind(p).Hookups {
		if slices.ContainsFunc(h.Helpers, func(x part.Helper) bool { return strings.HasPrefix(x.Role, role) }) {
			return h, true
		}
	}
	return part.Hookup{}, false
}

// guard puts a resistor between a pin and what it is wired to, large enough
// for the pin's recommended current with the whole rail across it.
func (f *facts) guard(pin string) []Fix {
	rail, _ := f.board.Rail(f.board.Logic.Rail)
	ohms := math.Max(1000, preferred.E12.Up(rail.Volts.High/(0.75*f.board.Logic.Pin.Recommended)))
	text := quantity.Short(ohms, quantity.Ohm)
	return []Fix{{fmt.Sprintf("Put %s between %s and its wire", text, pin), []plan.Edit{plan.Insert{Terminal: build.Pin(pin), Text: text}}}}
}

// rewire wires a part the safe way again: by the first of its hookups whose
// pulls the board has.
func (f *facts) rewire(p *build.Part) []Fix {
	for _, h := range f.kind(p).Hookups {
		if h.ID != p.Hookup && f.hasPulls(h) {
			return []Fix{{fmt.Sprintf("Wire it as: %s", h.Name), []plan.Edit{plan.Hookup{Part: p.ID, Hookup: h.ID}}}}
		}
	}
	return nil
}

func (f *facts) hasPulls(h part.Hookup) bool {
	return !slices.ContainsFunc(h.Signals, func(s part.Signal) bool { return !f.hasPull(s.Pull) })
}

// hasPull reports whether the board's inputs have the pull.
func (f *facts) hasPull(p board.Pull) bool {
	switch p {
	case board.PullUp:
		return !f.board.Logic.PullUp.IsZero()
	case board.PullDown:
		return !f.board.Logic.PullDown.IsZero()
	}
	return true
}

// moveTo moves a signal to the best free pin, when there is one.
func (f *facts) moveTo(c wiring.Claim) []Fix {
	free := plan.PinsFor(f.lib, f.doc, c.Part, c.Signal)
	if len(free) == 0 {
		return nil
	}
	return []Fix{{fmt.Sprintf("Move %s to %s", c.Part.Name, free[0].Pin), []plan.Edit{plan.MovePin{Part: c.Part.ID, Signal: c.Signal.Name, Pin: free[0].Pin}}}}
}

// lighten brings a sum of currents below the recommended limit, of which own
// cannot be lowered: lamps without a resistor get one, and where that is not
// enough every lamp gets less.
func (f *facts) lighten(sum func(*facts) total, recommended, own float64) []Fix {
	if !f.spend() {
		return nil
	}
	var edits []plan.Edit
	label := "Take larger resistors"
	for _, l := range f.net.Lamps {
		w := f.worstOf(l.Element)
		bare := w.Typ > faintBelow && f.seriesResistor(w) == nil
		if !bare && w.High <= f.limitOf(l.Element).Recommended {
			continue
		}
		if bare {
			label = "Put the missing resistors in"
		}
		for _, fix := range f.limitLamp(l, w) {
			edits = append(edits, fix.Edits...)
		}
	}
	g := f
	if len(edits) > 0 {
		if g = f.after(edits); g == nil {
			return nil
		}
	}
	if high := sum(g).High; high > recommended {
		// A tenth below the limit, because the series has steps.
		dim, most := g.dim(0.9 * (recommended - own) / (high - own))
		edits = append(edits, dim...)
		label = fmt.Sprintf("Run the lamps at %s or less each", quantity.Format(most, quantity.Ampere))
	}
	if len(edits) > 0 && len(edits) <= plan.MaxEdits {
		if g = f.after(edits); g != nil && sum(g).High <= recommended {
			return []Fix{{label, edits}}
		}
	}
	return f.inTurns(sum, recommended)
}

// inTurns lets the lamps that have pins of their own be lit one at a time, when that
// brings a sum of currents below its limit.
func (f *facts) inTurns(sum func(*facts) total, recommended float64) []Fix {
	fix := Fix{Label: "Let the program light one lamp at a time"}
	first := ""
	for _, l := range f.net.Lamps {
		id := l.Part.ID
		if len(l.Part.Signals) == 0 || id == first || slices.ContainsFunc(fix.Edits, func(e plan.Edit) bool { return plan.PartOf(e) == id }) {
			continue
		}
		if first == "" {
			first = id
			continue
		}
		fix.Edits = append(fix.Edits, plan.Turns{Part: id, With: first})
	}
	if len(fix.Edits) == 0 || len(fix.Edits) > plan.MaxEdits {
		return nil
	}
	if g := f.after(fix.Edits); g == nil || sum(g).High > recommended {
		return nil
	}
	return []Fix{fix}
}

// dim lowers the current of every lamp with a resistor of its own by a factor,
// and returns the largest that is left.
func (f *facts) dim(factor float64) (edits []plan.Edit, most float64) {
	for _, l := range f.net.Lamps {
		p := l.Part
		w := f.worstOf(l.Element)
		r := f.seriesResistor(w)
		id := l.ValueID(f.kind(p), "targetCurrent")
		def, _ := f.kind(p).Value(id)
		if amps := math.Floor(w.Typ*factor*1e4) / 1e4; r != nil && r.Of == p.ID && amps >= def.Min {
			most = math.Max(most, amps)
			edits = append(edits, value(p.ID, id, amps, quantity.Ampere))
			if !r.Chosen { // a chosen one follows by itself
				edits = append(edits, plan.Size{Part: r.ID})
			}
		}
	}
	return edits, most
}

// helperIDs lists the parts that the hookup of a part brought.
func (f *facts) helperIDs(p *build.Part) []string {
	var out []string
	for _, h := range f.doc.Helpers(p.ID) {
		out = append(out, h.ID)
	}
	return out
}

// smaller lowers a resistance of a part by a factor, to a preferred value.
func (f *facts) smaller(p *build.Part, id string, factor float64) Fix {
	ohms := preferred.E12.Down(f.valueOf(p, id) * factor)
	return Fix{fmt.Sprintf("Take %s for %s", quantity.Short(ohms, quantity.Ohm), p.Name), []plan.Edit{value(p.ID, id, ohms, quantity.Ohm)}}
}

// chooseAgain chooses the value of a helper again, when that is another one.
func (f *facts) chooseAgain(id string) []Fix {
	if !f.spend() {
		return nil
	}
	edit := plan.Size{Part: id}
	after, _, err := f.planner().Apply(f.doc, []plan.Edit{edit})
	if err != nil {
		return nil
	}
	ohms := after.Part(id).Values["resistance"]
	if ohms == f.valueOf(f.doc.Part(id), "resistance") {
		return nil
	}
	return []Fix{{fmt.Sprintf("Take %s for %s", quantity.Short(ohms, quantity.Ohm), after.Part(id).Name), []plan.Edit{edit}}}
}
