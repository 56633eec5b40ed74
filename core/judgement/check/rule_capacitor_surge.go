package check

import (
	"fmt"
	"slices"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/preferred"
	"cablaggio/core/values/quantity"
)

// How long, in seconds, more than a pin survives may flow each time it is switched
// (common practice: data sheets give lasting currents; what lasts a microsecond is like
// what a long wire takes, what lasts a millisecond heats like a lasting one).
const (
	surgeNoted  = 1e-7
	surgeShort  = 1e-6
	surgeLasts  = 1e-3
	leastFarads = 1e-9 // smaller ones are those of wires
)

// capacitorSurge finds outputs that have to charge a capacitor at each edge with
// nothing between, and capacitors between two rails.
var capacitorSurge = rule{"capacitor-surge", func(f *facts) []Finding {
	var out []Finding
	for _, p := range f.all(part.Capacitor) {
		if x, ok := f.acrossRails(p); ok {
			out = append(out, x)
		}
	}
	for _, u := range f.net.Uses {
		if !u.Drives() || !f.concerns(u.Pin.Name) {
			continue
		}
		s := f.surge(u.Pin.Name)
		hard := s.amps > 2*f.board.Logic.Pin.Absolute
		if s.lasts < surgeNoted || !hard && s.lasts < surgeLasts {
			continue
		}
		q := newQuantity("current at an edge", quantity.Ampere, wiring.Range{Low: s.amps, Typ: s.amps, High: s.amps})
		q.in(s.at)
		q.limit(f.board.Logic.Pin)
		q.Working = &Working{
			Formula: "the circuit in time, from the moment at which the pin switches", Numbers: fmt.Sprintf("above %s for %s", q.Limit.AbsoluteText, quantity.Format(s.lasts, quantity.Second)),
			Result: q.TypText, Sources: []string{"limit: " + f.board.Logic.Pin.Source},
		}
		x := Finding{
			Level: Note, Pins: []string{u.Pin.Name}, Found: &q, State: q.State, At: q.At,
			title: say("Each time %s switches it has to give %s for a moment: %s charges or empties.", pinName(u.Pin.Name), q.TypText, called(s.part.Name)),
			why:   say("Nothing but the pin holds the current back. It survives %s, and is above that for %s.", q.Limit.AbsoluteText, quantity.Format(s.lasts, quantity.Second)),
			Fixes: f.slow(s.part),
		}
		switch {
		case s.lasts >= surgeLasts && hard:
			x.Level = Stop
		case s.lasts >= surgeShort:
			x.Level = Care
		}
		q.Level = x.Level
		for _, c := range u.Signals {
			x.Parts = append(x.Parts, c.Part.ID)
		}
		if !slices.Contains(x.Parts, s.part.ID) {
			x.Parts = append(x.Parts, s.part.ID)
		}
		out = append(out, x)
	}
	return out
}}

// A surge is what flows at the worst edge of a pin.
type surge struct {
	amps, lasts float64
	at          visit
	part        *build.Part // the capacitor that takes it
}

// surge is the worst edge of a pin: each planned state with the pin low, and the same
// with the pin high, one after the other.
func (f *facts) surge(pin string) (worst surge) {
	high, low := f.driver(pin)
	piece := f.net.PieceWith(high)
	if piece == nil {
		return surge{}
	}
	capacitor := f.charged(piece, f.net.Node(build.Pin(pin)))
	if capacitor == nil {
		return surge{}
	}
	control := f.net.Elements[high].ControlOf()
	for _, v := range f.visitsOf(high) {
		if setting, _ := v.Piece.SettingOf(v.State, control); setting != wiring.DrivenHigh {
			continue
		}
		other := slices.Clone(v.State)
		other[slices.Index(piece.Controls, control)] = wiring.DrivenLow
		before, err := piece.At(other)
		if err != nil {
			continue
		}
		for _, edge := range []struct {
			from, to visit
			element  int
		}{{before, v, high}, {v, before, low}} {
			if amps, lasts := edge.to.Surge(edge.from, edge.element, f.board.Logic.Pin.Absolute); lasts > worst.lasts {
				worst = surge{amps, lasts, edge.to, capacitor}
			}
		}
	}
	return worst
}

// charged is the capacitor of a piece that a pin has to charge: the one at the pin, or else
// any; nil when there is none.
func (f *facts) charged(piece *wiring.Piece, pin circuit.Node) (out *build.Part) {
	for _, i := range piece.Elements {
		if !f.isCapacitor(i) {
			continue
		}
		a, b := f.net.Ends(i)
		if out == nil || a == pin || b == pin {
			out = f.doc.Part(f.net.Elements[i].Part)
		}
	}
	return out
}

// isCapacitor reports whether an element is a capacitor worth the word.
func (f *facts) isCapacitor(element int) bool {
	e := &f.net.Elements[element]
	p := f.doc.Part(e.Part)
	if p == nil {
		return false
	}
	_, ok := f.kind(p).Value("capacitance")
	return ok && wiring.ValueOf(f.kind(p), p, "capacitance").Typ >= leastFarads
}

// acrossRails finds a capacitor between two rails of which neither is ground.
func (f *facts) acrossRails(p *build.Part) (Finding, bool) {
	a, b := f.net.Ends(f.body(p))
	if a == b || !f.net.Stiff(a) || !f.net.Stiff(b) || f.net.FedVolts(a).IsZero() || f.net.FedVolts(b).IsZero() {
		return Finding{}, false
	}
	x := Finding{
		Level: Care, Parts: []string{p.ID}, which: "rails",
		title: say("%s joins two rails: when the one comes up, it lifts the other with it.", called(p.Name)),
		why:   say("A capacitor that smooths a rail goes from that rail to ground."),
	}
	for _, t := range f.kind(p).Terminals {
		leg := build.Of(p.ID, t.ID)
		if f.net.FedVolts(f.net.Node(leg)).Typ <= min(f.net.FedVolts(a).Typ, f.net.FedVolts(b).Typ) {
			x.Fixes = []Fix{{"Put its other leg to " + f.board.Ground, editsOf(
				plan.Free{Terminal: leg}, plan.Join{Terminal: leg, To: build.Pin(f.board.Ground)})}}
			break
		}
	}
	return x, true
}

// slow puts a resistor before a capacitor, large enough for the pin's recommended
// current with the whole rail across it; or takes the capacitor off.
func (f *facts) slow(p *build.Part) []Fix {
	rail, _ := f.board.Rail(f.board.Logic.Rail)
	text := quantity.Short(preferred.E12.Up(rail.Volts.High/f.board.Logic.Pin.Recommended), quantity.Ohm)
	var out []Fix
	for _, t := range f.kind(p).Terminals {
		leg := build.Of(p.ID, t.ID)
		if !f.net.Stiff(f.net.Node(leg)) {
			out = append(out, Fix{fmt.Sprintf("Put %s before %s", text, p.Name), editsOf(plan.Insert{Terminal: leg, Text: text})})
		}
	}
	return append(out, Fix{"Remove " + p.Name, editsOf(plan.Remove{Part: p.ID})})
}
