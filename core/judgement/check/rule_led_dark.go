package check

import (
	"fmt"
	"slices"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
)

// An indicator LED behind 10 kΩ on 5 V glows at 0.3 mA and can be seen in a
// room; at a tenth of that it cannot (common practice).
const (
	darkBelow  = 30e-6 // amperes
	faintBelow = 300e-6
)

// heldBack is the voltage that resistances on an LED's way drop at least when it is
// they that leave it too little, not the supply.
const heldBack = 0.3

// ledDark finds LEDs that stay dark in every state, or nearly so, and says why. What
// one cause keeps dark is told once.
var ledDark = rule{"led-dark", func(f *facts) []Finding {
	var out []Finding
	told := map[int]bool{}
	for _, l := range f.lamps() {
		w := f.worstOf(l.Element)
		if w.Typ >= faintBelow || told[l.Element] {
			continue
		}
		q := f.quantity("current", w, f.limitOf(l.Element))
		q.Limit = nil
		x := Finding{Level: Stop, Parts: []string{l.Part.ID}, which: l.Emitter.ID, Found: q, State: q.State, At: q.At}
		x.title = say("%s stays dark.", called(l.Name))
		if w.Typ >= darkBelow {
			x.Level = Care
			x.title = say("%s gets %s at most: too faint to see by day.", called(l.Name), quantity.Format(q.Typ, quantity.Ampere))
		}
		a, k := f.net.Ends(l.Element)
		before, behind := f.wayOut(l, a), f.wayOut(l, k)
		if before != "" && behind != "" && before != behind {
			before += " "
		}
		switch series := f.inSeries(w); {
		case a == k:
			x.why = say("Both its legs are in one row, so nothing flows through it.")
			x.Fixes = f.connect(l.Part)
		case before != "" || behind != "":
			if behind == before {
				behind = ""
			}
			x.why = say("%s%s So no current finds a way through it.", before, behind)
			x.Fixes = f.finishWay(l)
		case f.beside(l) != nil:
			other := f.beside(l)
			x.why = say("%s lies beside it and needs less voltage: it takes the current, and what it leaves is too little for %s. Each needs a resistor of its own.", called(build.Capital(other.Name)), called(l.Name))
			x.Fixes = f.ownResistor(l)
		case f.reversed(l):
			x.title = say("%s is the wrong way round and stays dark.", called(l.Name))
			x.why = say("Its short leg is on the side that the current comes from; an LED conducts one way only.")
			x.Fixes = f.turnAround(l.Part)
		case len(series) > 1 && f.resisted(w) < heldBack:
			sum := 0.0
			var names []string
			for _, s := range series {
				sum += f.lampValue(s, "forwardVoltage")
				names = append(names, s.Name)
				told[s.Element] = true
				if s.Part.ID != l.Part.ID {
					x.Parts = append(x.Parts, s.Part.ID)
				}
			}
			look := "stay dark"
			if x.Level == Care {
				look = "hardly glow"
			}
			x.title = say("%s need more voltage than there is, and %s.", called(build.Capital(strings.Join(names, " and "))), look)
			x.why = say("In series they need %s together; pin and supply leave them less.", quantity.Format(sum, quantity.Volt))
			each := Fix{Label: "Give each a pin and a resistor of its own"}
			for _, s := range series {
				if fixes := f.usual(s.Part); fixes != nil && !slices.ContainsFunc(each.Edits, func(e plan.Edit) bool { return plan.PartOf(e) == s.Part.ID }) {
					each.Edits = append(each.Edits, fixes[0].Edits...)
				}
			}
			x.Fixes = []Fix{each}
		case f.resisted(w) >= heldBack:
			r := f.seriesResistor(w)
			x.why = say("So much resistance lies on its way that hardly a current flows.")
			if r != nil {
				x.why = say("%s is far too large: it lets hardly a current through.", called(build.Capital(r.Name)))
				if w.Typ >= darkBelow {
					x.why = say("%s leaves it too little.", called(build.Capital(r.Name)))
				}
				x.Parts = append(x.Parts, r.ID)
				x.Fixes = f.resize(r, l.Part)
			}
		case f.starved(l):
			x.title = say("%s needs more voltage than there is, and stays dark.", called(l.Name))
			x.why = say("It lights at %s; pin and supply leave it less.", quantity.Format(f.lampValue(l, "forwardVoltage"), quantity.Volt))
			x.Fixes = f.lowest(l)
		default:
			x.title = say("%s stays dark in every state.", called(l.Name))
			x.why = say("Nothing that the program, a hand or the world does sends a current through it.")
			x.Fixes = f.connect(l.Part)
		}
		out = append(out, x)
	}
	return out
}}

// wayOut says where the way of an LED's current ends on the side of a node, or nothing
// when it leads to a rail or to ground.
func (f *facts) wayOut(l wiring.Lamp, from circuit.Node) string {
	reached := f.net.Reach(from, l.Element)
	if slices.ContainsFunc(reached, f.net.Stiff) {
		return ""
	}
	ends, pins := f.deadEnds(reached)
	switch {
	case len(pins) > 0:
		return fmt.Sprintf("Its way ends at %s, which no program drives.", pinList(pins))
	case len(ends) > 0:
		return build.Capital(f.leg(ends[0])) + " is not wired to anything."
	}
	return "Its way ends without coming to a pin, a rail or ground."
}

// pinList is pins in words.
func pinList(pins []string) string {
	if n := len(pins); n > 1 {
		return strings.Join(pins[:n-1], ", ") + " and " + pins[n-1]
	}
	return pins[0]
}

// deadEnds lists the legs in a region that are wired to nothing, and the pins in it.
func (f *facts) deadEnds(region []circuit.Node) (legs []build.Terminal, pins []string) {
	for i := range f.doc.Parts {
		p := &f.doc.Parts[i]
		for _, t := range f.kind(p).Terminals {
			leg := build.Of(p.ID, t.ID)
			if f.doc.NetOf(leg) < 0 && slices.Contains(region, f.net.Node(leg)) {
				legs = append(legs, leg)
			}
		}
	}
	for _, pin := range f.board.Pins {
		if slices.Contains(region, f.net.Node(build.Pin(pin.Name))) {
			pins = append(pins, pin.Name)
		}
	}
	return legs, pins
}

// finishWay leads the way of an LED's current on from where it ends: as its hookup
// says, or by a wire to ground, to the supply or to its pin.
func (f *facts) finishWay(l wiring.Lamp) []Fix {
	if fixes := f.connect(l.Part); l.Part.Hookup != "" {
		return fixes
	}
	var targets []string
	targets = append(targets, f.board.Ground)
	for _, s := range l.Part.Signals {
		targets = append(targets, s.Pin)
	}
	targets = append(targets, f.board.Logic.Rail)
	a, k := f.net.Ends(l.Element)
	for _, side := range []circuit.Node{k, a} {
		reached := f.net.Reach(side, l.Element)
		if slices.ContainsFunc(reached, f.net.Stiff) {
			continue
		}
		ends, pins := f.deadEnds(reached)
		for _, end := range ends {
			for _, to := range targets {
				if fix := (Fix{fmt.Sprintf("Wire %s to %s", f.leg(end), to), editsOf(plan.Join{Terminal: end, To: build.Pin(to)})}); f.lights(fix.Edits, l) {
					return []Fix{fix}
				}
			}
		}
		for _, pin := range pins {
			for _, to := range targets {
				if fix := (Fix{fmt.Sprintf("Wire what is at %s to %s instead", pin, to), f.moveWires(pin, to)}); fix.Edits != nil && f.lights(fix.Edits, l) {
					return []Fix{fix}
				}
			}
		}
	}
	return f.connect(l.Part)
}

// moveWires takes what is wired to a place of the board to another place.
func (f *facts) moveWires(from, to string) []plan.Edit {
	net := f.doc.NetOf(build.Pin(from))
	if net < 0 {
		return nil
	}
	edits := editsOf(plan.Free{Terminal: build.Pin(from)})
	for _, t := range f.doc.Nets[net] {
		if !t.OnBoard() {
			return append(edits, plan.Join{Terminal: t, To: build.Pin(to)})
		}
	}
	return nil
}

// lights reports whether an LED can be seen after the edits, and gets no more than is
// comfortable.
func (f *facts) lights(edits []plan.Edit, l wiring.Lamp) bool {
	g := f.after(edits)
	if g == nil {
		return false
	}
	for _, m := range g.net.Lamps {
		if m.Part.ID == l.Part.ID && m.Emitter.ID == l.Emitter.ID {
			w := g.worstOf(m.Element)
			return w.Typ >= faintBelow && w.High <= g.limitOf(m.Element).Recommended
		}
	}
	return false
}

// beside returns the LED whose absence would let another one light: it holds the
// voltage that the other needs.
func (f *facts) beside(l wiring.Lamp) *wiring.Lamp {
	piece := f.net.PieceWith(l.Element)
	if piece == nil {
		return nil
	}
	for i := range f.net.Lamps {
		other := &f.net.Lamps[i]
		if other.Element == l.Element || f.net.PieceWith(other.Element) != piece || f.worstOf(other.Element).Typ < faintBelow {
			continue
		}
		leg := build.Of(other.Part.ID, f.anode(*other))
		without := f.net.With(wiring.Loose(leg))
		p := without.PieceWith(l.Element)
		if p == nil {
			continue
		}
		list, err := p.Planned(wiring.Current(l.Element))
		if err == nil && slices.ContainsFunc(list, func(v *wiring.Solved) bool { return v.TypicalAmps(l.Element) >= faintBelow }) {
			return other
		}
	}
	return nil
}

// anode is the leg of an LED's anode.
func (f *facts) anode(l wiring.Lamp) string {
	if l.Emitter.Anode != "" {
		return l.Emitter.Anode
	}
	return f.kind(l.Part).Terminals[0].ID
}

// ownResistor gives an LED that shares its resistor with another a resistor of its own,
// from where the shared one begins.
func (f *facts) ownResistor(l wiring.Lamp) []Fix {
	out := f.connect(l.Part)
	other := f.beside(l)
	r := f.seriesResistor(f.worstOf(other.Element))
	if r == nil || l.Part.Hookup != "" {
		return out
	}
	leg := build.Of(l.Part.ID, f.anode(l))
	for _, far := range []string{"1", "2"} {
		if f.nodeOf(r.ID, far) == f.net.Node(leg) {
			continue
		}
		id := f.freshIDs("resistor", 1)[0]
		ohms := f.valueOf(r, "resistance")
		fix := Fix{fmt.Sprintf("Give %s a resistor of its own, %s", l.Name, quantity.Short(ohms, quantity.Ohm)), editsOf(
			plan.Free{Terminal: leg},
			plan.Add{Kind: "resistor", Value: "resistance", Text: quantity.Short(ohms, quantity.Ohm)},
			plan.Join{Terminal: build.Of(id, "1"), To: build.Of(r.ID, far)},
			plan.Join{Terminal: build.Of(id, "2"), To: leg})}
		if f.lights(fix.Edits, l) {
			return append([]Fix{fix}, out...)
		}
	}
	return out
}

// inSeries lists the LEDs on the way of a current.
func (f *facts) inSeries(w worst) (out []wiring.Lamp) {
	if w.at == nil {
		return nil
	}
	drops, _, _ := w.at.Path(w.element)
	for _, d := range drops {
		if l, ok := f.lampAt(d.Element); ok {
			out = append(out, l)
		}
	}
	return out
}

// resisted is the voltage that resistances on the way of a current drop.
func (f *facts) resisted(w worst) (volts float64) {
	if w.at == nil {
		return 0
	}
	drops, _, _ := w.at.Path(w.element)
	for _, d := range drops {
		if !f.net.IsJunction(d.Element) {
			volts += d.Volts
		}
	}
	return volts
}

// reversed reports whether some state puts a voltage on the LED backwards and
// none puts one on it forwards.
func (f *facts) reversed(l wiring.Lamp) bool {
	forward, backward := f.bothWays(l)
	return backward > 0.8 && forward < 0.8
}

// starved reports whether the LED gets a voltage forwards that is too low for it.
func (f *facts) starved(l wiring.Lamp) bool {
	forward, _ := f.bothWays(l)
	return forward >= 0.8 && forward > 0.6*f.lampValue(l, "forwardVoltage")
}

// lowest takes the type of the kind that needs least voltage and can be seen.
func (f *facts) lowest(l wiring.Lamp) []Fix {
	p := l.Part
	kind := f.kind(p)
	best, volts := "", f.lampValue(l, "forwardVoltage")
	for _, t := range kind.Types {
		if v := t.Values["forwardVoltage"].Typ; v < volts && t.Values["luminousIntensity"].Typ > 0 {
			best, volts = t.ID, v
		}
	}
	if best == "" {
		return nil
	}
	return []Fix{{fmt.Sprintf("Take a %s one", best), f.asType(p, best)}}
}

// asType makes a part one of another type, with the forward voltage of that type.
func (f *facts) asType(p *build.Part, typ string) []plan.Edit {
	edits := []plan.Edit{plan.SetType{Part: p.ID, Type: typ}}
	if _, own := p.Values["forwardVoltage"]; own {
		edits = append(edits, plan.Value{Part: p.ID, Value: "forwardVoltage"})
	}
	return edits
}
