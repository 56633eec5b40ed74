package check

import (
	"fmt"
	"math"
	"slices"

	"cablaggio/core/build"
	"cablaggio/core/plan"
	"cablaggio/core/quantity"
	"cablaggio/core/timing"
	"cablaggio/core/wiring"
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
	for _, v := range f.planned[b.piece] {
		if r := v.Volts(b.node).Typ; open.piece == nil || r > open.Volts(b.node).Typ {
			open = v
		}
		if r := v.Volts(b.node).Typ; closed.piece == nil || r < closed.Volts(b.node).Typ {
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

// contactBounce finds contacts that bounce longer than anybody waits.
var contactBounce = rule{"contact-bounce", func(f *facts) []Finding {
	var out []Finding
	for _, b := range f.bouncers() {
		if b.bounce <= b.wait() {
			continue
		}
		q := newQuantity("debounce", quantity.Second, wiring.Range{Low: b.wait(), Typ: b.wait(), High: b.wait()})
		q.Working = b.working()
		need := 2 * b.bounce
		out = append(out, Finding{
			Level: Care, Parts: []string{b.part.ID}, Pins: []string{b.use.Pin.Name}, Found: &q,
			Title: fmt.Sprintf("%s bounces for up to %s, and nothing waits longer than %s.", b.part.Name, quantity.Format(b.bounce, quantity.Second), q.TypText),
			Why:   "One press counts as several.",
			Fixes: []Fix{{"Wait " + quantity.Short(need, quantity.Second) + " in the program", editsOf(value(b.part.ID, "debounce", need, quantity.Second))}},
		})
	}
	return out
}}

// debounceSwallows finds waits that are longer than the fastest closing lasts.
var debounceSwallows = rule{"debounce-swallows", func(f *facts) []Finding {
	var out []Finding
	for _, b := range f.bouncers() {
		lasts := math.Min(b.duty, 1-b.duty) / b.rate
		if b.wait() <= lasts {
			continue
		}
		survives := timing.Fastest(b.wait(), b.duty)
		q := newQuantity("highest rate", quantity.Hertz, wiring.Range{Low: survives, Typ: survives, High: survives})
		q.Working = b.working()
		q.Working.Formula = "the shorter side of a period ÷ the wait; " + q.Working.Formula
		x := Finding{
			Level: Care, Parts: []string{b.part.ID}, Pins: []string{b.use.Pin.Name}, Found: &q,
			Title: fmt.Sprintf("%s may close %s times a second; above %s some are swallowed.", b.part.Name, quantity.Short(b.rate, quantity.None), q.TypText),
			Why:   fmt.Sprintf("At that rate each side lasts %s, and %s pass before a level counts.", quantity.Format(lasts, quantity.Second), quantity.Format(b.wait(), quantity.Second)),
		}
		shorter := (b.bounce + lasts) / 2
		switch {
		case b.bounce < lasts && b.filter <= lasts:
			x.Fixes = []Fix{{"Wait " + quantity.Short(shorter, quantity.Second) + " in the program", editsOf(value(b.part.ID, "debounce", shorter, quantity.Second))}}
		case b.bounce < lasts:
			x.Fixes = f.withoutCapacitor(b, shorter)
		}
		out = append(out, x)
	}
	return out
}}

// withoutCapacitor takes a capacitor that is too slow away, and lets the program
// wait a little: by the usual hookup, or by taking it off the pin.
func (f *facts) withoutCapacitor(b bouncer, wait float64) []Fix {
	inProgram := value(b.part.ID, "debounce", wait, quantity.Second)
	tries := f.usual(b.part)
	for _, i := range b.piece.Elements {
		p := f.doc.Part(f.net.Elements[i].Part)
		if p == nil || f.kind(p).Model != "capacitor" {
			continue
		}
		for _, leg := range f.kind(p).Terminals {
			if f.nodeOf(p.ID, leg.ID) == b.node {
				tries = append(tries, Fix{"Take " + p.Name + " off " + b.use.Pin.Name, editsOf(plan.Edit{Op: plan.Free, Terminal: build.Of(p.ID, leg.ID)})})
			}
		}
	}
	for _, try := range tries {
		try.Label += "; wait " + quantity.Short(wait, quantity.Second)
		try.Edits = append(try.Edits, inProgram)
		if g := f.after(try.Edits); g != nil && !g.swallows(b.part.ID) {
			return []Fix{try}
		}
	}
	return nil
}

// swallows reports whether the waits of a part are longer than its fastest
// closing lasts.
func (f *facts) swallows(part string) bool {
	for _, b := range f.bouncers() {
		if b.part.ID == part && b.wait() > math.Min(b.duty, 1-b.duty)/b.rate {
			return true
		}
	}
	return false
}

// clockResolution finds pulse rates that a clock of milliseconds blurs.
var clockResolution = rule{"clock-resolution", func(f *facts) []Finding {
	var out []Finding
	for i := range f.doc.Parts {
		p := &f.doc.Parts[i]
		if _, ok := f.kind(p).Value("resolution"); !ok {
			continue
		}
		rate, wished, over := f.valueOf(p, "rate"), f.valueOf(p, "resolution")/100, int(f.valueOf(p, "average"))
		n, seconds := timing.Closings(rate, timing.Tick, wished)
		if over >= n {
			continue
		}
		low, high := timing.Clock(rate, timing.Tick, over)
		q := f.clocked(p)
		blur := quantity.Short(100*timing.Tick*rate/float64(over), quantity.Percent)
		title := fmt.Sprintf("At %s closings a second one millisecond more or less is %s of the reading.", quantity.Short(rate, quantity.None), blur)
		if low != high {
			title = fmt.Sprintf("%s closings a second read as %.4g or %.4g on a millisecond clock.", quantity.Short(rate, quantity.None), low, high)
		}
		out = append(out, Finding{
			Level: Note, Parts: []string{p.ID}, Found: &q, Title: title,
			Why:   fmt.Sprintf("You wish for %s; the time of %d closings together, %s, gives it.", quantity.Short(wished*100, quantity.Percent), n, quantity.Format(seconds, quantity.Second)),
			Fixes: []Fix{{fmt.Sprintf("Average over %d closings", n), editsOf(value(p.ID, "average", float64(n), quantity.None))}},
		})
	}
	return out
}}

// clocked is what the highest rate of a pulse sensor reads as.
func (f *facts) clocked(p *build.Part) Quantity {
	rate, over := f.valueOf(p, "rate"), max(1, int(f.valueOf(p, "average")))
	low, high := timing.Clock(rate, timing.Tick, over)
	if math.IsInf(high, 1) {
		high = rate * 10
	}
	q := newQuantity("reads", quantity.Hertz, wiring.Range{Low: low, Typ: rate, High: high})
	q.Text = fmt.Sprintf("%.4g – %.4g – %.4g Hz", low, rate, high)
	q.Working = &Working{
		Formula: "closings ÷ (whole ticks × 1 ms)", Numbers: fmt.Sprintf("%d closing(s) in %s", over, quantity.Format(float64(over)/rate, quantity.Second)),
		Result: q.Text, Sources: []string{"common practice: the clock counts milliseconds"},
	}
	return q
}

// ledRobbed finds LEDs that lose most of their current when others are lit: a
// shared resistor gives the most to the one that needs least voltage.
var ledRobbed = rule{"led-robbed", func(f *facts) []Finding {
	var out []Finding
	for _, l := range f.net.Lamps {
		piece := f.net.PieceWith(l.Element)
		alone := f.worstOf(f.planned, l.Element)
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
		for _, v := range f.planned[piece] {
			if same(v, alone.at, own) && v.Amps(l.Element).Typ < least.Typ {
				least, at = v.Amps(l.Element), v
			}
		}
		if least.Typ >= robbed*alone.Typ {
			continue
		}
		q := newQuantity("current", quantity.Ampere, least)
		q.State = at.words()
		q.Working = f.working(worst{Range: least, element: l.Element, at: at})
		out = append(out, Finding{
			Level: Note, Parts: []string{l.Part.ID}, which: l.Emitter.ID, Found: &q, State: q.State,
			Title: fmt.Sprintf("%s gets %s alone and %s when others are lit too.", l.Name, quantity.Format(alone.Typ, quantity.Ampere), q.TypText),
			Why:   "They share a resistor: the one that needs least voltage takes most, and each has less the more are lit.",
			Fixes: f.takeTurns(l.Part),
		})
	}
	return out
}}

// robbed is the part of its current that an LED may keep before it is worth a
// word (common practice: the eye sees a third less as a little less).
const robbed = 0.65

// same reports whether two states have the controls at the same settings.
func same(a, b visit, controls []int) bool {
	for _, c := range controls {
		x, _ := a.piece.SettingOf(a.state, c)
		y, _ := b.piece.SettingOf(b.state, c)
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
