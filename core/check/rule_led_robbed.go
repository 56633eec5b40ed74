package check

import (
	"fmt"
	"slices"

	"cablaggio/core/build"
	"cablaggio/core/plan"
	"cablaggio/core/quantity"
	"cablaggio/core/wiring"
)

// robbed is the part of its current that an LED may keep before it is worth a
// word (common practice: the eye sees a third less as a little less).
const robbed = 0.65

// ledRobbed finds LEDs that lose most of their current when others are lit: a
// shared resistor gives the most to the one that needs least voltage.
var ledRobbed = rule{"led-robbed", func(f *facts) []Finding {
	var out []Finding
	for _, l := range f.lamps() {
		piece := f.net.PieceWith(l.Element)
		alone := f.worstOf(l.Element)
		if piece == nil || alone.Typ < faintBelow {
			continue
		}
		// Its own controls are those on the way of its current.
		var own []int
		drops, _, _ := alone.at.Path(l.Element)
		for _, d := range drops {
			if c := f.net.Elements[d.Element].ControlOf(); c >= 0 {
				own = append(own, c)
			}
		}
		least, at := alone.Range, alone.at
		for _, v := range f.allOf(l.Element) {
			if same(v, alone.at, own) && v.TypicalAmps(l.Element) < least.Typ {
				least, at = v.Amps(l.Element), v
			}
		}
		if least.Typ >= robbed*alone.Typ {
			continue
		}
		q := newQuantity("current", quantity.Ampere, least)
		q.in(at)
		q.Working = f.working(worst{Range: least, element: l.Element, at: at})
		out = append(out, Finding{
			Level: Note, Parts: []string{l.Part.ID}, which: l.Emitter.ID, Found: &q, State: q.State, At: q.At,
			Title: fmt.Sprintf("%s gets %s alone and %s when others are lit too.", l.Name, quantity.Format(alone.Typ, quantity.Ampere), q.TypText),
			Why:   "They share a resistor: the one that needs least voltage takes most, and each has less the more are lit.",
			Fixes: f.takeTurns(l.Part),
		})
	}
	return out
}}

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
	if h := f.kind(p).Hookups; p.Hookup != "" && len(f.kind(p).Emitters) > 1 && h[0].ID != p.Hookup {
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
			fix.Edits = append(fix.Edits, plan.Edit{Op: plan.Turns, Part: l.Part.ID, With: sharing[0].Part.ID})
		}
	}
	fix.Label = "Let the program light one at a time"
	if len(fix.Edits) == 0 || f.after(fix.Edits) == nil {
		return nil
	}
	return []Fix{fix}
}
