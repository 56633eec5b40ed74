package check

import (
	"fmt"
	"math"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
)

// partSupply finds parts with supply legs that get no supply, the wrong way
// round, too little or too much.
var partSupply = rule{"part-supply", func(f *facts) []Finding {
	var out []Finding
	for i := range f.doc.Parts {
		p := &f.doc.Parts[i]
		kind := f.kind(p)
		if kind.Feed == nil || !f.concerns(p.ID) || !f.wired(p) {
			continue
		}
		least, most := f.valueOf(p, "supplyMinimum"), f.valueOf(p, "supplyMaximum")
		volts, held := f.fed(p)
		q := newQuantity("supply voltage", quantity.Volt, volts)
		q.Working = &Working{
			Formula: "voltage at the supply leg − voltage at the ground leg", Result: q.TypText,
			Sources: []string{fmt.Sprintf("%s to %s: %s", quantity.Short(least, quantity.Volt), quantity.Short(most, quantity.Volt), wiring.ValueOf(kind, p, "supplyMaximum").Source)},
		}
		x := Finding{Level: Stop, Parts: []string{p.ID}, Found: &q}
		plus, minus := f.net.Fed(p)
		switch {
		case held && volts.Typ < -0.3:
			x.title = say("%s has its supply legs the wrong way round.", called(p.Name))
			x.why = say("Most such parts do not survive it: they get hot within seconds.")
		case !plus || !minus:
			x.Found = nil
			x.title = say("%s has no supply: %s.", called(p.Name), loose(plus, minus))
			x.why = say("It does nothing, whatever the program does.")
			if held && volts.Typ > 0.5 {
				x.Found = &q
				x.why = say("About %s come in through the protection diodes of its other legs. It may seem to work, then does what nobody asked for; and neither the diodes nor the pins that feed them are made for it.", quantity.Format(volts.Typ, quantity.Volt))
			}
		case !held || math.Abs(volts.Typ) < 0.3:
			x.title = say("%s has no supply: no voltage arrives at its supply leg.", called(p.Name))
			x.why = say("What its supply leg hangs on is never switched on: it does nothing, whatever the program does.")
		case volts.High > most:
			x.title = say("%s gets up to %s; it stands %s.", called(p.Name), quantity.Format(volts.High, quantity.Volt), quantity.Short(most, quantity.Volt))
			x.why = say("It is damaged, or ages quickly.")
		case volts.High < least:
			x.title = say("%s gets %s; it needs %s.", called(p.Name), q.TypText, quantity.Short(least, quantity.Volt))
			x.why = say("It does not work, or gives readings that mean nothing.")
		case volts.Low < least:
			x.Level = Care
			x.title = say("%s may get as little as %s; it needs %s.", called(p.Name), quantity.Format(volts.Low, quantity.Volt), quantity.Short(least, quantity.Volt))
			x.why = say("It works only while the supply is at its best.")
		default:
			continue
		}
		if !f.judging {
			x.Fixes = f.feedPart(p)
		}
		out = append(out, x)
	}
	return out
}}

// loose says which of the supply legs leads nowhere.
func loose(plus, minus bool) string {
	switch {
	case plus:
		return "no wire leads from its ground leg to ground"
	case minus:
		return "no wire leads from its supply leg to a supply"
	}
	return "neither its supply leg nor its ground leg is wired"
}

// fed is the voltage between the legs that a part is fed through. Where something
// switches it off, as a pin that feeds it, the states in which it is on count.
func (f *facts) fed(p *build.Part) (volts wiring.Range, held bool) {
	feed := f.kind(p).Feed
	a, b := f.nodeOf(p.ID, feed.Plus), f.nodeOf(p.ID, feed.Minus)
	volts, held = f.between(a, b)
	piece := f.net.PieceOf(a)
	if piece == nil {
		piece = f.net.PieceOf(b)
	}
	if piece == nil || !held {
		return volts, held
	}
	most := volts.Typ
	first := true
	for _, v := range f.visitsAcross(piece, a, b) {
		x := v.Across(a, b)
		if x.Typ < most/2 {
			continue
		}
		if first {
			volts, first = x, false
		}
		volts = wiring.Range{Low: min(volts.Low, x.Low), Typ: max(volts.Typ, x.Typ), High: max(volts.High, x.High)}
	}
	return volts, held
}

// suited reports whether a part gets the supply that it is made for.
func (f *facts) suited(p *build.Part) bool {
	plus, minus := f.net.Fed(p)
	volts, held := f.fed(p)
	return plus && minus && held && volts.Low >= f.valueOf(p, "supplyMinimum") && volts.High <= f.valueOf(p, "supplyMaximum")
}

// feedPart wires the supply legs of a part that lead nowhere, or wires it as one of
// its hookups says, such that it gets the supply that it is made for.
func (f *facts) feedPart(p *build.Part) []Fix {
	tries := f.wireFeed(p)
	for _, h := range f.kind(p).Hookups {
		tries = append(tries, f.hookup(p, h)...)
	}
	for _, try := range tries {
		if g := f.after(try.Edits); g != nil && g.suited(g.doc.Part(p.ID)) {
			return []Fix{try}
		}
	}
	return nil
}

// wireFeed wires the supply legs of a part that lead nowhere: to the logic's rail or
// the power rail, and to ground.
func (f *facts) wireFeed(p *build.Part) []Fix {
	plus, minus := f.net.Fed(p)
	feed := f.kind(p).Feed
	ground := plan.Join{Terminal: build.Of(p.ID, feed.Minus), To: build.Pin(f.board.Ground)}
	if plus && minus {
		return nil
	}
	if plus {
		return []Fix{{"Wire its ground leg to " + f.board.Ground, editsOf(ground)}}
	}
	var out []Fix
	for _, rail := range []string{f.board.Logic.Rail, f.board.Power} {
		fix := Fix{"Wire its supply leg to " + rail, editsOf(plan.Join{Terminal: build.Of(p.ID, feed.Plus), To: build.Pin(rail)})}
		if !minus {
			fix.Label += " and its ground leg to " + f.board.Ground
			fix.Edits = append(fix.Edits, ground)
		}
		out = append(out, fix)
	}
	return out
}
