package check

import (
	"fmt"
	"slices"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
)

// robbed is the part of its current that an LED may keep before it is worth a
// word (common practice: the eye sees a third less as a little less).
const robbed = 0.65

// ledRobbed finds LEDs that lose most of their current when others are lit: what
// they share gives the most to the one that needs least voltage. Of a case with several
// it names the one that suffers most.
var ledRobbed = rule{"led-robbed", func(f *facts) []Finding {
	var out []Finding
	for i := range f.doc.Parts {
		p := &f.doc.Parts[i]
		if !f.concerns(p.ID) {
			continue
		}
		var most *robbery
		for _, l := range f.lampsOf(p) {
			if r := f.robbery(l); r != nil && (most == nil || r.left() < most.left()) {
				most = r
			}
		}
		if most == nil {
			continue
		}
		q := most.quantity(f)
		x := Finding{
			Level: q.Level, Parts: []string{p.ID}, Found: &q, State: q.State, At: q.At,
			title: say("%s gets %s alone and %s while %s lit too.", called(most.lamp.Name), quantity.Format(most.alone.Typ, quantity.Ampere), q.TypText, called(most.thieves())),
			why:   say("They share a resistor: the one that needs least voltage takes most, and each has less the more are lit."),
			Fixes: f.takeTurns(p),
		}
		if q.Level == Care {
			x.title = say("%s goes dark while %s lit too.", called(most.lamp.Name), called(most.thieves()))
			x.why = say("They share a resistor, and the one that needs least voltage takes nearly all. Alone it gets %s, then %s.", quantity.Format(most.alone.Typ, quantity.Ampere), q.TypText)
		}
		out = append(out, x)
	}
	return out
}}

// A robbery is what an LED loses when others are lit.
type robbery struct {
	lamp   wiring.Lamp
	alone  worst
	least  worst
	others []string // the names of those that are lit then
}

// left is the part of its current that it keeps.
func (r *robbery) left() float64 { return r.least.Typ / r.alone.Typ }

// thieves names who is lit: "red of RGB LED 1 is", "two others are".
func (r *robbery) thieves() string {
	if len(r.others) == 1 {
		return r.others[0] + " is"
	}
	return fmt.Sprintf("%d others are", len(r.others))
}

// quantity is what is left of the current, a care when the LED looks dark with it.
func (r *robbery) quantity(f *facts) Quantity {
	q := newQuantity("current while others are lit", quantity.Ampere, r.least.Range)
	q.in(r.least.at)
	q.Working = f.working(r.least)
	q.Level = Note
	if r.least.Typ < faintBelow {
		q.Level = Care
	}
	return q
}

// robbery returns what an LED loses when others are lit, or nil when that is not worth
// a word.
func (f *facts) robbery(l wiring.Lamp) *robbery {
	piece := f.net.PieceWith(l.Element)
	alone := f.worstOf(l.Element)
	if piece == nil || alone.Typ < faintBelow {
		return nil
	}
	// Its own controls are those on the way of its current.
	var own []int
	drops, _, _ := alone.at.Path(l.Element)
	for _, d := range drops {
		if c := f.net.Elements[d.Element].ControlOf(); c >= 0 {
			own = append(own, c)
		}
	}
	// Of the states in which it has least, that in which fewest others are lit: it
	// names who takes the current.
	r := &robbery{lamp: l, alone: alone, least: worst{Range: alone.Range, element: l.Element, at: alone.at}}
	least := alone.Typ
	for _, v := range f.allOf(l.Element) {
		amps := v.TypicalAmps(l.Element)
		if !same(v, alone.at, own) || amps >= robbed*alone.Typ {
			continue
		}
		others := f.litBeside(v, alone.at, l)
		dark, was := amps < faintBelow, least < faintBelow
		if len(others) == 0 || dark && was && len(others) >= len(r.others) || !dark && (was || amps >= least) {
			continue
		}
		r.least.at, r.others, least = v, others, amps
	}
	if r.others == nil {
		return nil
	}
	r.least.Range = r.least.at.Amps(l.Element)
	return r
}

// litBeside names the LEDs that are lit in a state and take more there than in another.
func (f *facts) litBeside(v, before visit, l wiring.Lamp) (names []string) {
	for _, other := range f.net.Lamps {
		if other.Element == l.Element || f.net.PieceWith(other.Element) != v.Piece {
			continue
		}
		if amps := v.TypicalAmps(other.Element); amps > faintBelow && amps > 2*before.TypicalAmps(other.Element) {
			names = append(names, other.Name)
		}
	}
	return names
}

// same reports whether two states have the controls at the same settings.
func same(a, b visit, controls []int) bool {
	for _, c := range controls {
		x, _ := a.Piece.SettingOf(a.State, c)
		y, _ := b.Piece.SettingOf(b.State, c)
		if x != y {
			return false
		}
	}
	return true
}

// takeTurns lets the lamps that share a piece be on one at a time, or wires the
// part with a resistor for each.
func (f *facts) takeTurns(p *build.Part) []Fix {
	if h := f.kind(p).Hookups; len(f.kind(p).Emitters) > 1 && h[0].ID != p.Hookup {
		// It may need more pins than there are.
		return slices.DeleteFunc(f.usual(p), func(fix Fix) bool { return f.after(fix.Edits) == nil })
	}
	piece := f.net.PieceWith(f.lampsOf(p)[0].Element)
	var sharing []wiring.Lamp
	seen := map[string]bool{}
	for _, l := range f.net.Lamps {
		if f.net.PieceWith(l.Element) == piece && len(l.Part.Signals) > 0 && !seen[l.Part.ID] {
			seen[l.Part.ID] = true
			sharing = append(sharing, l)
		}
	}
	var fix Fix
	for _, l := range sharing {
		if l.Part.ID != sharing[0].Part.ID {
			fix.Edits = append(fix.Edits, plan.Turns{Part: l.Part.ID, With: sharing[0].Part.ID})
		}
	}
	fix.Label = "Let the program light one at a time"
	if len(fix.Edits) == 0 || f.after(fix.Edits) == nil {
		return nil
	}
	return []Fix{fix}
}
