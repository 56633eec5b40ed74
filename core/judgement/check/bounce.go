package check

import (
	"fmt"
	"math"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/timing"
)

// A bouncer is a digital input with a contact that bounces.
type bouncer struct {
	input
	part             *build.Part
	bounce           float64 // at most
	program, filter  float64 // how long the program, and the circuit, wait before they believe it
	slow             float64 // how long the circuit takes to follow at most, in the slower direction
	rate, duty       float64
	resistor, farads string // the working of the filter
}

// bouncers lists the inputs whose contacts bounce; worked out once.
func (f *facts) bouncers() []bouncer {
	f.bounced.Do(func() { f.bounce = f.findBouncers() })
	return f.bounce
}

func (f *facts) findBouncers() []bouncer {
	out := []bouncer{}
	for _, in := range f.digital() {
		p := in.claim.Part
		kind := f.kind(p)
		if _, ok := kind.Value("bounce"); !ok || in.piece == nil {
			continue
		}
		b := bouncer{input: in, part: p, duty: 0.5,
			bounce:  wiring.ValueOf(kind, p, "bounce").High,
			program: f.valueOf(p, "debounce"), rate: f.valueOf(p, "rate")}
		if _, ok := kind.Value("duty"); ok {
			b.duty = f.valueOf(p, "duty") / 100
		}
		f.filtered(&b)
		out = append(out, b)
	}
	return out
}

// filtered works out what a capacitor at the input does: how long the input
// surely stays where it was after the contact has opened. Inputs have
// hysteresis (common practice), so what counts is when the far threshold is
// passed.
func (f *facts) filtered(b *bouncer) {
	farads := 0.0
	for _, i := range b.piece.Elements {
		p := f.doc.Part(f.net.Elements[i].Part)
		x, y := f.net.Ends(i)
		if p == nil || f.kind(p).Model != "capacitor" || x != b.node && y != b.node {
			continue
		}
		c := wiring.ValueOf(f.kind(p), p, "capacitance").Typ
		farads += c * (1 - f.valueOf(p, "tolerance")/100)
		b.farads = quantity.Short(c, quantity.Farad)
	}
	if farads == 0 {
		return
	}
	vil, vih := f.thresholds()
	var open, closed visit
	for _, v := range f.visits(b.node) {
		if r := v.Volts(b.node).Typ; open == nil || r > open.Volts(b.node).Typ {
			open = v
		}
		if r := v.Volts(b.node).Typ; closed == nil || r < closed.Volts(b.node).Typ {
			closed = v
		}
	}
	high, low := open.Volts(b.node).Typ, closed.Volts(b.node).Typ
	up := timing.Reach(f.sourceOhms(open, b.node)*farads, low, high, vih)
	down := timing.Reach(f.sourceOhms(closed, b.node)*farads, high, low, vil)
	b.filter, b.slow = math.Max(up, down), math.Max(up, down)
	b.resistor = quantity.Format(f.sourceOhms(open, b.node), quantity.Ohm)
}

// wait is the longer of what the program and the circuit wait.
func (b bouncer) wait() float64 { return math.Max(b.program, b.filter) }

func (b bouncer) working() *Working {
	w := &Working{
		Formula: "the longer of the program's wait and the circuit's",
		Numbers: fmt.Sprintf("%s in the program, %s in the circuit", quantity.Format(b.program, quantity.Second), quantity.Format(b.filter, quantity.Second)),
		Result:  quantity.Format(b.wait(), quantity.Second),
		Sources: []string{"bounce: from memory of manufacturers' data sheets for this class; check your own"},
	}
	if b.filter > 0 {
		w.Formula += "; t = R·C·ln((U∞ − U0) ÷ (U∞ − Uthreshold))"
		w.Numbers += fmt.Sprintf(" (%s, %s)", b.resistor, b.farads)
	}
	return w
}
