package program

import (
	"cmp"
	"context"
	"math"
	"math/rand/v2"
	"slices"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/general/parallel"
	"cablaggio/core/running/machine"
	"cablaggio/core/running/rig"
)

// shortPress is how long a short press lasts (common practice: a tenth of a second and more).
const shortPress = 120 * ms

func moved(at int64, control int, to float64) rig.Move {
	return rig.Move{At: at, Control: control, To: to}
}

// maxHands is how many contacts, levels and keypads are tried one by one.
const maxHands = 16

// An observation is all that was seen of a program.
type observation struct {
	net   *wiring.Network
	alone *run // nobody touches anything
	runs  []*run
	pins  map[int]*pinFacts
	lines map[int]bool
	slow  bool // a run was ended by the processor's clock
	grown int  // sequences of hands that were tried beyond each by itself
}

// observe runs a program through what its inputs can do: nothing at all; each contact pressed,
// with and without bounce, and held; each knob and sensor over its range; each key; and hands
// that do anything.
func observe(ctx context.Context, net *wiring.Network, made *Compiled, text string) (*observation, error) {
	o := &observation{net: net}
	o.alone = &run{name: "nobody touches anything", control: -1, limit: 2100 * ms}
	if err := o.alone.do(ctx, net, made); err != nil {
		return nil, err
	}
	// Of a program that pauses long, all goes slower; it costs little.
	pace := int64(1)
	if o.alone.longest >= 150*ms || o.alone.paused > o.alone.limit/2 {
		pace = 8
	}
	if pace > 1 {
		o.alone = &run{name: o.alone.name, control: -1, limit: 2100 * ms * pace}
		if err := o.alone.do(ctx, net, made); err != nil {
			return nil, err
		}
	}
	if o.alone.ending.How == machine.Over || o.alone.ending.How == machine.Done {
		o.runs = append(hands(net, pace), apart(made, pace)...)
	}
	failed := make([]error, len(o.runs))
	parallel.Do(len(o.runs), func(i int) { failed[i] = o.runs[i].do(ctx, net, made) })
	for _, err := range failed {
		if err != nil {
			return nil, err
		}
	}
	if err := o.grow(ctx, net, made, text, pace); err != nil {
		return nil, err
	}
	return o, nil
}

// hands are the runs in which something is touched.
func hands(net *wiring.Network, pace int64) (runs []*run) {
	tried := 0
	for i := range net.Controls {
		c := &net.Controls[i]
		if tried >= maxHands || c.Kind == wiring.Mode || c.Kind == wiring.Output {
			continue
		}
		tried++
		switch c.Kind {
		case wiring.Contact:
			p := net.Whose(c)
			if p != nil && rig.ValueOf(net, p, "closures") > 0 {
				runs = append(runs, pulses(net, i, p, pace, false), pulses(net, i, p, pace, true))
				continue
			}
			clean := &run{name: c.Name + " is used", control: i, limit: 2100 * ms * pace}
			short := shortPress
			if pace > 1 {
				short = 200 * ms
			}
			clean.press(net, i, 317*ms*pace, short, false)
			clean.press(net, i, 741*ms*pace, short, false)
			clean.press(net, i, 1109*ms*pace, 600*ms*pace, false)
			clean.presses[2].holds = true
			bouncing := &run{name: c.Name + " bounces", control: i, limit: clean.limit}
			bouncing.press(net, i, 317*ms*pace, short, false)
			bouncing.press(net, i, 741*ms*pace, short, true)
			bouncing.press(net, i, 1109*ms*pace, 600*ms*pace, true)
			runs = append(runs, clean, bouncing)
		case wiring.Level:
			runs = append(runs, sweep(net, i, pace))
		case wiring.Keys:
			r := &run{name: c.Name + " is used", control: i, limit: (int64(len(c.Keys))*200*pace + 500) * ms}
			bouncing := &run{name: c.Name + " bounces", control: i, limit: r.limit}
			for k := range c.Keys {
				at := (300 + int64(k)*200*pace) * ms
				down := float64(uint64(1) << k)
				r.moves = append(r.moves, moved(at, i, down), moved(at+120*ms*pace, i, 0))
				r.presses = append(r.presses, press{from: at, to: at + 120*ms*pace})
				bouncing.edge(net, i, at, down, 0)
				bouncing.edge(net, i, at+120*ms*pace, 0, down)
				bouncing.presses = append(bouncing.presses, press{from: at, to: at + 120*ms*pace, bounces: true})
			}
			runs = append(runs, r, bouncing)
		}
	}
	if tried > 1 {
		runs = append(runs, crowd(net, pace), anything(net, pace))
	}
	if slices.ContainsFunc(runs, func(r *run) bool { return r.control >= 0 && net.Controls[r.control].Kind == wiring.Level }) {
		runs = append(runs, fromEnd(net, pace, false), fromEnd(net, pace, true))
	}
	return append(runs, afterAnother(net, pace)...)
}

// afterAnother holds each contact, and then each other: what goes up first can be seen to go down.
func afterAnother(net *wiring.Network, pace int64) (runs []*run) {
	const most = 3 // contacts: the pairs of more are many
	var contacts []int
	for _, i := range touchable(net) {
		c := &net.Controls[i]
		if p := net.Whose(c); c.Kind == wiring.Contact && (p == nil || rig.ValueOf(net, p, "closures") == 0) {
			contacts = append(contacts, i)
		}
	}
	if len(contacts) > most {
		return nil
	}
	for _, a := range contacts {
		for _, b := range contacts {
			if a == b {
				continue
			}
			r := &run{name: net.Controls[a].Name + ", and then " + net.Controls[b].Name, control: -2, second: b, limit: 2100 * ms * pace}
			r.press(net, a, 200*ms*pace, 800*ms*pace, false)
			r.press(net, b, 1200*ms*pace, 700*ms*pace, false)
			runs = append(runs, r)
		}
	}
	return runs
}

// apart are the runs in which the world does something to the board itself: something is sent,
// and the clock runs over, which it does after 49.7 days (2³² ms) in C++ and after 12.4 (2³⁰ ms)
// in Python.
func apart(made *Compiled, pace int64) (runs []*run) {
	if made.Tree.Receives {
		r := &run{name: "something is sent", control: -3, limit: 2100 * ms * pace}
		for i, c := range []byte("1\n0\na\nb\non\noff\n255\n") {
			r.typed = append(r.typed, machine.Received{At: (300 + int64(i)*60) * ms * pace, C: c})
		}
		runs = append(runs, r)
	}
	if made.Tree.Clock > 0 {
		runs = append(runs, &run{name: overflow, control: -3, limit: 2100 * ms * pace, start: made.Tree.Clock*ms - overAt*ms*pace})
	}
	return runs
}

const (
	overflow = "the clock runs over"
	overAt   = 700 // ms after which it does
)

// touchable are the controls that hands and the world move.
func touchable(net *wiring.Network) (out []int) {
	for i := range net.Controls {
		if k := net.Controls[i].Kind; k != wiring.Mode && k != wiring.Output {
			out = append(out, i)
		}
	}
	return out
}

// crowd presses all contacts at the same time, holds them, and lets them go one by one; what
// has levels goes to its most, and to its least.
func crowd(net *wiring.Network, pace int64) *run {
	r := &run{name: "everything is touched at once", control: -2, limit: 1800 * ms * pace}
	for k, i := range touchable(net) {
		c := &net.Controls[i]
		off := (700 + int64(k)*30) * ms * pace
		switch c.Kind {
		case wiring.Contact:
			r.moves = append(r.moves, moved(300*ms*pace, i, wiring.Closed-rig.Rest(c)), moved(off, i, rig.Rest(c)))
		case wiring.Level:
			low, high := ends(c)
			r.moves = append(r.moves, moved(300*ms*pace, i, high), moved(off, i, low))
		}
	}
	return r
}

// fromEnd begins with all levels at their least, or at their most, takes them to the other end, and back.
func fromEnd(net *wiring.Network, pace int64, above bool) *run {
	r := &run{name: "all that is measured goes up and down", control: -2, limit: 2100 * ms * pace}
	for _, i := range touchable(net) {
		if c := &net.Controls[i]; c.Kind == wiring.Level {
			low, high := ends(c)
			if above {
				low, high = high, low
			}
			r.moves = append(r.moves, moved(0, i, low), moved(700*ms*pace, i, high), moved(1400*ms*pace, i, low))
		}
	}
	slices.SortStableFunc(r.moves, func(a, b rig.Move) int { return cmp.Compare(a.At, b.At) })
	return r
}

// sweep moves a knob or a sensor from one end of its range to the other and back.
func sweep(net *wiring.Network, control int, pace int64) *run {
	const steps = 24
	c := &net.Controls[control]
	low, high := ends(c)
	r := &run{name: c.Name + " is turned", control: control, limit: (300 + 2*steps*30 + 200) * ms * pace}
	for k := range 2*steps + 1 {
		part := 1 - math.Abs(float64(k)-steps)/steps
		r.moves = append(r.moves, moved((300+int64(k)*30)*ms*pace, control, between(c, low, high, part)))
	}
	return r
}

// ends are the ends of what a level may be as planned.
func ends(c *wiring.Control) (low, high float64) {
	if c.Unit == part.Clicks {
		const turned = 8 // clicks to each side
		return -turned, turned
	}
	if len(c.Planned) == 0 {
		return c.Least, c.Most
	}
	return slices.Min(c.Planned), slices.Max(c.Planned)
}

// between is a level between two: of light by its ratio, as eyes and sensors take it.
func between(c *wiring.Control, low, high, part float64) float64 {
	if low > 0 && high/low > 50 && c.Unit == "lx" {
		return low * math.Pow(high/low, part)
	}
	return low + (high-low)*part
}

// pulses spins a wheel at the rate that the builder expects of it, and stops it.
func pulses(net *wiring.Network, control int, p *build.Part, pace int64, bounces bool) *run {
	c := &net.Controls[control]
	r := &run{name: c.Name + pulsing, control: control, limit: 4100 * ms * pace}
	if bounces {
		r.name = c.Name + pulsingAndBouncing
	}
	rate := math.Max(rig.ValueOf(net, p, "rate"), 0.1)
	period := int64(1e9 / rate)
	for at := 300 * ms * pace; at+period < 3900*ms*pace && len(r.presses) < 500; at += period {
		r.press(net, control, at, period/2, bounces)
	}
	return r
}

// How runs are called in which a pulse sensor gives pulses.
const (
	pulsing            = " pulses"
	pulsingAndBouncing = " pulses and bounces"
)

// anything does anything with everything, always the same.
func anything(net *wiring.Network, pace int64) *run {
	r := &run{name: "anything is touched", control: -2, limit: 2100 * ms * pace}
	draw, able := rand.New(rand.NewPCG(1, 2)), touchable(net)
	for at := 300 * ms; at < r.limit; at += int64(50+draw.IntN(250)) * ms * (1 + pace/4) {
		i := able[draw.IntN(len(able))]
		c := &net.Controls[i]
		switch c.Kind {
		case wiring.Contact:
			r.moves = append(r.moves, moved(at, i, float64(draw.IntN(2))))
		case wiring.Level:
			low, high := ends(c)
			r.moves = append(r.moves, moved(at, i, between(c, low, high, draw.Float64())))
		case wiring.Keys:
			set := 0.0
			if draw.IntN(2) == 0 {
				set = float64(uint64(1) << draw.IntN(len(c.Keys)))
			}
			r.moves = append(r.moves, moved(at, i, set))
		}
	}
	return r
}

// all are all runs, the one that nobody touches anything in first.
func (o *observation) all() []*run { return append([]*run{o.alone}, o.runs...) }

// join puts together what all runs showed of the pins.
func (o *observation) join() {
	o.pins, o.lines = map[int]*pinFacts{}, map[int]bool{}
	for _, r := range o.all() {
		o.slow = o.slow || r.ending.How == machine.Slow
		for line := range r.lines {
			o.lines[line] = true
		}
		for n, p := range r.pins {
			q := o.pins[n]
			if q == nil {
				q = &pinFacts{pin: n, modes: map[machine.Mode]int{}, firstLine: p.firstLine}
				o.pins[n] = q
			}
			q.take(p)
		}
	}
}

// lit reports whether an actor was on in any run.
func (o *observation) lit(actor int) bool {
	return slices.ContainsFunc(o.all(), func(r *run) bool { return r.lit(actor) })
}

// lit reports whether an actor was on at some time.
func (r *run) lit(actor int) bool {
	a := &r.rig.Actors[actor]
	return slices.ContainsFunc(a.Acts, func(x rig.Act) bool { return x.Amps >= a.On })
}

// words says what a pin is, for a sentence: "D4".
func (o *observation) words(pin int) string { return rig.PinName(o.net, pin) }
