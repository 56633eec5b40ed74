package check

import (
	"fmt"
	"math"
	"slices"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/timing"
)

// A bouncer is a digital input with a contact that bounces.
type bouncer struct {
	input
	part             *build.Part
	bounce           float64 // at most
	program, filter  float64 // how long the program, and the circuit, surely hear nothing of bounces
	slow             float64 // how long the circuit takes to follow, in the slower direction
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
		f.follows(&b)
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
		if p == nil || !f.kind(p).Is(part.Capacitor) || x != b.node && y != b.node {
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
	open, closed := f.ends(b.node)
	if open == nil {
		return
	}
	high, low := open.Volts(b.node).Typ, closed.Volts(b.node).Typ
	up := timing.Reach(f.sourceOhms(open, b.node)*farads, low, high, vih)
	down := timing.Reach(f.sourceOhms(closed, b.node)*farads, high, low, vil)
	b.filter = math.Max(up, down)
	b.resistor = quantity.Format(f.sourceOhms(open, b.node), quantity.Ohm)
}

// ends are the visits in which a node is highest and lowest; nil where there are none.
func (f *facts) ends(node circuit.Node) (highest, lowest visit) {
	for _, v := range f.visits(node) {
		r := v.Volts(node).Typ
		if highest == nil || r > highest.Volts(node).Typ {
			highest = v
		}
		if lowest == nil || r < lowest.Volts(node).Typ {
			lowest = v
		}
	}
	return highest, lowest
}

// follows works out how long the input takes to follow its contact, whatever holds it
// back: a capacitor with a resistor before it lets bounces through, and is as slow.
func (f *facts) follows(b *bouncer) {
	if !slices.ContainsFunc(b.piece.Elements, f.isCapacitor) {
		return
	}
	open, closed := f.ends(b.node)
	if open == nil {
		return
	}
	vil, vih := f.thresholds()
	for _, t := range []float64{open.Passes(closed, b.node, vih, true), closed.Passes(open, b.node, vil, false)} {
		if !math.IsInf(t, 1) { // what never gets there is found by what judges levels
			b.slow = math.Max(b.slow, t)
		}
	}
}

// guard is how long nobody hears of bounces: the longer of what the program and the
// circuit wait.
func (b bouncer) guard() float64 { return math.Max(b.program, b.filter) }

// wait is how long a level must last before it counts.
func (b bouncer) wait() float64 { return math.Max(b.program, b.slow) }

// guarded says how long nobody hears of bounces.
func (b bouncer) guarded() *Working {
	w := b.longer(b.filter)
	if b.filter > 0 {
		w.Formula += "; t = R·C·ln((U∞ − U0) ÷ (U∞ − Uthreshold))"
		w.Numbers += fmt.Sprintf(" (%s, %s)", b.resistor, b.farads)
	}
	return w
}

// waited says how long a level must last before it counts.
func (b bouncer) waited() *Working {
	w := b.longer(b.slow)
	if b.slow > 0 {
		w.Formula += "; the circuit in time, until the far threshold is passed"
	}
	return w
}

func (b bouncer) longer(circuit float64) *Working {
	return &Working{
		Formula: "the longer of the program's wait and the circuit's",
		Numbers: fmt.Sprintf("%s in the program, %s in the circuit", quantity.Format(b.program, quantity.Second), quantity.Format(circuit, quantity.Second)),
		Result:  quantity.Format(math.Max(b.program, circuit), quantity.Second),
		Sources: []string{"bounce: from memory of manufacturers' data sheets for this class; check your own"},
	}
}
