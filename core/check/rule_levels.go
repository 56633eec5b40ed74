package check

import (
	"fmt"
	"math"
	"slices"
	"strconv"

	"cablaggio/core/build"
	"cablaggio/core/circuit"
	"cablaggio/core/part"
	"cablaggio/core/plan"
	"cablaggio/core/quantity"
	"cablaggio/core/spec"
	"cablaggio/core/wiring"
)

// sensorSupply finds parts with supply legs that get no supply, the wrong way
// round, too little or too much.
var sensorSupply = rule{"part-supply", func(f *facts) []Finding {
	var out []Finding
	for i := range f.doc.Parts {
		p := &f.doc.Parts[i]
		kind := f.kind(p)
		if _, ok := kind.Value("supplyMinimum"); !ok || !f.wired(p) {
			continue
		}
		least, most := f.valueOf(p, "supplyMinimum"), f.valueOf(p, "supplyMaximum")
		volts, held := f.between(f.nodeOf(p.ID, "vcc"), f.nodeOf(p.ID, "gnd"))
		q := newQuantity("supply voltage", quantity.Volt, volts)
		q.Working = &Working{
			Formula: "voltage at the supply leg − voltage at the ground leg", Result: q.TypText,
			Sources: []string{fmt.Sprintf("%s to %s: %s", quantity.Short(least, quantity.Volt), quantity.Short(most, quantity.Volt), wiring.ValueOf(kind, p, "supplyMaximum").Source)},
		}
		x := Finding{Level: Stop, Parts: []string{p.ID}, Found: &q}
		switch {
		case !held || math.Abs(volts.Typ) < 0.3:
			x.Title = p.Name + " has no supply."
			x.Why = "One of its supply legs leads nowhere, or both to the same place; what it puts out means nothing."
		case volts.Typ < 0:
			x.Title = p.Name + " has its supply legs the wrong way round."
			x.Why = "Most such parts do not survive it: they get hot within seconds."
		case volts.High > most:
			x.Title = fmt.Sprintf("%s gets up to %s; it stands %s.", p.Name, quantity.Format(volts.High, quantity.Volt), quantity.Short(most, quantity.Volt))
			x.Why = "It is damaged, or ages quickly."
		case volts.High < least:
			x.Title = fmt.Sprintf("%s gets %s; it needs %s.", p.Name, q.TypText, quantity.Short(least, quantity.Volt))
			x.Why = "It does not work, or gives readings that mean nothing."
		case volts.Low < least:
			x.Level = Care
			x.Title = fmt.Sprintf("%s may get as little as %s; it needs %s.", p.Name, quantity.Format(volts.Low, quantity.Volt), quantity.Short(least, quantity.Volt))
			x.Why = "It works only while the supply is at its best."
		default:
			continue
		}
		for _, h := range kind.Hookups {
			fix := f.hookup(p, h)
			if g := f.after(fix[0].Edits); g != nil {
				if v, held := g.between(g.nodeOf(p.ID, "vcc"), g.nodeOf(p.ID, "gnd")); held && v.Low >= least && v.High <= most {
					x.Fixes = fix
					break
				}
			}
		}
		out = append(out, x)
	}
	return out
}}

// between is the voltage from one node to another over all states, and whether
// both are held in all of them.
func (f *facts) between(a, b circuit.Node) (r wiring.Range, held bool) {
	ra, heldA := f.everywhere(a)
	rb, heldB := f.everywhere(b)
	return wiring.Range{Low: ra.Low - rb.High, Typ: ra.Typ - rb.Typ, High: ra.High - rb.Low}, heldA && heldB
}

// everywhere is a node's voltage over all states; its typical value is that of
// the state in which it is largest.
func (f *facts) everywhere(node circuit.Node) (r wiring.Range, held bool) {
	if node == circuit.Ground {
		return r, true
	}
	if rail, ok := f.railOf(node); ok {
		v := f.net.RailVolts(rail.Name)
		return wiring.Range{Low: v.Low, Typ: v.Typ, High: v.High}, true
	}
	held = true
	for i, v := range f.planned[f.net.PieceOf(node)] {
		x := v.Volts(node)
		held = held && v.Held(node)
		if i == 0 {
			r = x
			continue
		}
		r = wiring.Range{Low: min(r.Low, x.Low), Typ: max(r.Typ, x.Typ), High: max(r.High, x.High)}
	}
	return r, held && f.net.PieceOf(node) != nil
}

// partInput finds inputs of parts that float or see no sure level.
var partInput = rule{"part-input", func(f *facts) []Finding {
	var out []Finding
	for _, in := range f.net.Inputs {
		if f.net.Stiff(in.Node) {
			continue
		}
		if !f.wired(in.Part) {
			continue
		}
		name := in.Leg + " of " + in.Part.Name
		x := Finding{Parts: []string{in.Part.ID}, which: in.Leg, Fixes: f.connect(in.Part)}
		if len(x.Fixes) == 0 {
			x.Fixes = f.pullDown(build.Of(in.Part.ID, in.Leg), name)
		}
		piece := f.net.PieceOf(in.Node)
		if piece == nil || f.doc.NetOf(build.Of(in.Part.ID, in.Leg)) < 0 {
			x.Level, x.Title, x.Why = Stop, "Nothing holds "+name+".", "A loose input reads what it likes."
			out = append(out, x)
			continue
		}
		supply, _ := f.everywhere(in.Supply)
		for _, v := range f.planned[piece] {
			r := v.Volts(in.Node)
			if !v.Held(in.Node) {
				x.Level, x.State = Stop, v.words()
				x.Title = fmt.Sprintf("Nothing holds %s while %s.", name, x.State)
				x.Why = "A loose input reads what it likes."
				break
			}
			if in.VIL == 0 || r.High <= in.VIL*supply.Low || r.Low >= in.VIH*supply.High {
				continue
			}
			x.Level, x.State = Care, v.words()
			q := newQuantity("voltage", quantity.Volt, r)
			x.Found = &q
			x.Title = fmt.Sprintf("%s sees %s while %s: neither surely low nor surely high for it.", name, q.TypText, x.State)
			x.Why = fmt.Sprintf("On its supply it reads low below %s and high above %s.", quantity.Format(in.VIL*supply.Low, quantity.Volt), quantity.Format(in.VIH*supply.High, quantity.Volt))
			break
		}
		if x.Level != Fine {
			out = append(out, x)
		}
	}
	return out
}}

// wired reports whether a leg of the part is wired to anything.
func (f *facts) wired(p *build.Part) bool {
	return slices.ContainsFunc(f.kind(p).Terminals, func(t part.Terminal) bool { return f.doc.NetOf(build.Of(p.ID, t.ID)) >= 0 })
}

// pullDown holds a terminal at ground through a resistor.
func (f *facts) pullDown(t build.Terminal, name string) []Fix {
	id := ""
	for n := 1; id == "" || f.doc.Part(id) != nil; n++ {
		id = "resistor" + strconv.Itoa(n)
	}
	return []Fix{{"Put 100 kΩ from " + name + " to ground", editsOf(
		plan.Edit{Op: plan.Add, Kind: "resistor", Value: "resistance", Text: "100k"},
		plan.Edit{Op: plan.Join, Terminal: build.Of(id, "1"), To: t},
		plan.Edit{Op: plan.Join, Terminal: build.Of(id, "2"), To: build.Pin(f.board.Ground)})}}
}

// inputVoltage finds inputs that are driven above what they tolerate.
var inputVoltage = rule{"input-voltage", func(f *facts) []Finding {
	var out []Finding
	above := f.board.Logic.Tolerates
	rail := f.net.RailVolts(f.board.Logic.Rail)
	for _, in := range append(f.digital(), f.analog()...) {
		pin := in.use.Pin.Name
		over, state := 0.0, ""
		var volts wiring.Range
		if in.piece == nil {
			volts, _ = f.everywhere(in.node)
			over = volts.Typ - rail.Typ
		}
		for _, v := range f.planned[in.piece] {
			if r := v.Volts(in.node); r.Typ-rail.Typ > over {
				over, volts, state = r.Typ-rail.Typ, r, v.words()
			}
		}
		if over <= above.Volts {
			continue
		}
		q := newQuantity("voltage", quantity.Volt, volts)
		q.State = state
		q.limit(spec.Limit{Recommended: rail.Typ, Absolute: rail.Typ + above.Volts, Source: above.Source})
		q.Level = Stop
		q.Working = &Working{
			Formula: "the pin's voltage, held back by its own clamp diode", Result: q.TypText,
			Sources: []string{fmt.Sprintf("at most %s above its supply: %s", quantity.Short(above.Volts, quantity.Volt), above.Source)},
		}
		claimed := in.claim.Part
		x := Finding{
			Level: Stop, Parts: []string{claimed.ID}, Pins: []string{pin}, Found: &q, State: state,
			Title: fmt.Sprintf("%s is driven to %s; it tolerates %s.", pin, q.TypText, q.Limit.AbsoluteText),
			Why:   "The current goes through the chip's clamp diode into its supply, and damages it.",
		}
		for _, h := range f.kind(claimed).Hookups {
			fix := f.hookup(claimed, h)
			if g := f.after(fix[0].Edits); g != nil && g.tolerated(claimed.ID) && g.sure(claimed.ID) {
				x.Fixes = fix
				break
			}
		}
		out = append(out, x)
	}
	return out
}}

// tolerated reports whether no input of a part is above what its pin tolerates.
func (f *facts) tolerated(part string) bool {
	rail := f.net.RailVolts(f.board.Logic.Rail)
	for _, in := range append(f.digital(), f.analog()...) {
		if r, _ := f.everywhere(in.node); in.claim.Part.ID == part && r.Typ > rail.Typ+f.board.Logic.Tolerates.Volts {
			return false
		}
	}
	return true
}

// sure reports whether every digital input of a part reads a sure level in
// every state.
func (f *facts) sure(part string) bool {
	for _, in := range f.digital() {
		for _, v := range f.planned[in.piece] {
			if r := f.reads(v, in.node); in.claim.Part.ID == part && r != ReadsLow && r != ReadsHigh {
				return false
			}
		}
	}
	return true
}

// ledReverse holds the voltage that LEDs get backwards against their limit.
var ledReverse = rule{"led-reverse", func(f *facts) []Finding {
	var out []Finding
	for _, l := range f.net.Lamps {
		a, k := f.net.Ends(l.Element)
		most := l.Value(f.kind(l.Part), "maximumReverse")
		var back wiring.Range
		state := ""
		for _, v := range f.planned[f.net.PieceWith(l.Element)] {
			if !v.Held(a) || !v.Held(k) {
				continue
			}
			if r := across(v, k, a); r.Typ > back.Typ {
				back, state = r, v.words()
			}
		}
		if back.High <= most.Typ {
			continue
		}
		q := newQuantity("reverse voltage", quantity.Volt, back)
		q.State = state
		q.limit(spec.Limit{Recommended: most.Typ, Absolute: most.Typ, Source: most.Source})
		q.Level = Care
		q.Working = &Working{Formula: "voltage at the cathode − voltage at the anode", Result: q.TypText, Sources: []string{"limit: " + most.Source}}
		out = append(out, Finding{
			Level: Care, Parts: []string{l.Part.ID}, which: l.Emitter.ID, Found: &q, State: state,
			Title: fmt.Sprintf("%s gets %s backwards; it stands %s.", l.Name, q.TypText, q.Limit.AbsoluteText),
			Why:   "An LED breaks down backwards at little more than its supply, and dims for good.",
			Fixes: f.turnAround(l.Part),
		})
	}
	return out
}}
