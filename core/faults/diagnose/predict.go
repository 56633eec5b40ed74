package diagnose

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/fault"
	"cablaggio/core/faults/meter"
	"cablaggio/core/running/rig"
	"cablaggio/core/values/light"
)

// A prediction is what is expected of an ask: how likely each kind of answer is, by its
// label, or of a measurement the typical reading.
type prediction struct {
	labels map[string]float64
	value  float64 // of a measurement, and of an analog reading
	number bool
	none   bool // nothing can be said, so that everything may come
}

type where struct{ class, ask int }

// The doings of a lamp, and of what else acts.
const (
	dark     = "dark"
	faint    = "faint"
	dim      = "dim"
	lit      = "lit"
	bright   = "too bright"
	flickers = "flickers"
)

// doings are the doings, from the darkest, with the lightness from which on each holds:
// CIE lightness beside what it is to be.
var doings = []struct {
	name string
	from float64
}{{dark, math.Inf(-1)}, {faint, 8}, {dim, 32}, {lit, 72}, {bright, 125}}

// judging is how unsure an eye is of a lightness (common practice: half of a light is taken
// for the whole, a third is not).
const judging = 9.0

// The readings of a digital input.
const (
	readsLow  = "low"
	readsHigh = "high"
	jumps     = "jumps"
	nothing   = "nothing"
)

// asDrawn is the answer of who looks and sees nothing wrong; otherwise it is what would put
// right what is seen, or [Other].
const asDrawn = "as drawn"

// Other is the answer of who looks and sees something wrong that is not among the options.
const Other = "something else"

// closely is how surely who looks sees what is there to see.
const closely = 0.95

// predict is what is expected of an ask when a class of faults is there.
func (c *Case) predict(k, i int) prediction {
	known := &c.predicted[k*len(c.asks)+i]
	if p := known.Load(); p != nil {
		return *p
	}
	var p prediction
	switch a := &c.asks[i]; {
	case k > 0 && c.hidden(k, a):
		p = c.predict(0, i)
	case c.known.Err() == nil:
		p = c.work(k, a)
	}
	if c.known.Err() != nil {
		return prediction{none: true}
	}
	known.Store(&p)
	return p
}

// hidden reports whether a class of faults cannot show in what is asked.
func (c *Case) hidden(k int, a *Ask) bool {
	f := c.classes[k].fault
	switch {
	case a.test && f.InProgram():
		return true
	case f.Everywhere():
		return a.Sort == Measure && !a.question.Way.Powered()
	case a.Sort == Look || a.Sort == Feel && a.Part == "":
		return false
	}
	return !c.near(k, a)
}

func (c *Case) near(k int, a *Ask) bool {
	for t := range c.classes[k].near {
		if a.near[t] {
			return true
		}
	}
	return false
}

// work solves what predict remembers.
func (c *Case) work(k int, a *Ask) prediction {
	f := c.classes[k].fault
	p := c.steady(k, a)
	if f != nil && f.Sometimes() {
		// Now as planned, now as with the fault.
		well := c.steady(0, a)
		if p.number || well.number {
			if math.Abs(p.value-well.value) <= 0.05*math.Abs(well.value)+1e-3 {
				return well
			}
			return prediction{none: true}
		}
		mix := map[string]float64{}
		apart := 0.0
		for l, w := range p.labels {
			apart += math.Max(0, w-well.labels[l])
		}
		for l, w := range p.labels {
			mix[l] += w * (1 - apart) / 2
		}
		for l, w := range well.labels {
			mix[l] += w * (1 - apart/2) / 2
		}
		mix[flickers] += apart * 0.75
		return prediction{labels: normal(mix)}
	}
	return p
}

func normal(w map[string]float64) map[string]float64 {
	sum := 0.0
	for _, l := range slices.Sorted(maps.Keys(w)) {
		sum += w[l]
	}
	for l := range w {
		w[l] /= sum
	}
	return w
}

// steady is what is expected when the fault is there all the time.
func (c *Case) steady(k int, a *Ask) prediction {
	f, nets := c.classes[k].fault, c.classes[k].nets
	under := func(set wiring.Settings) wiring.Settings {
		if f == nil || a.test {
			return set
		}
		return f.Under(c.net, set)
	}
	switch a.Sort {
	case See:
		x := c.actors[a.actor]
		set := under(x.states[a.state].set)
		n := nets.on()
		if x.swings {
			return prediction{labels: seenAs(c.swing(n, set, under(x.states[1].set), &x) / x.full)}
		}
		if dead := nets.dead(); len(dead) > 0 {
			if low, high, ok := c.frozen(dead, set, x.element); ok {
				mix := map[string]float64{}
				for _, s := range []wiring.Settings{low, high} {
					for l, w := range c.doing(n, s, &x) {
						mix[l] += w / 2
					}
				}
				return prediction{labels: mix}
			}
		}
		return prediction{labels: c.doing(n, set, &x)}
	case Feel:
		if a.moves {
			return prediction{labels: c.moving(nets.on(), a, under)}
		}
		return prediction{labels: c.feeling(nets.on(), a)}
	case Reads:
		in := &c.inputs[a.input]
		p := c.reading(nets.on(), under(in.states[a.state].set), in)
		if f != nil && !a.test && p.labels != nil && f.Misreads(in.pin) {
			p.labels[readsLow], p.labels[readsHigh] = p.labels[readsHigh], p.labels[readsLow]
		}
		return p
	case Pin:
		return c.pinReads(nets.on(), a)
	case Measure:
		q := a.question
		n := nets.off()
		if q.Way.Powered() {
			n = nets.on()
			q.Set = under(q.Set)
			if dead := nets.dead(); len(dead) > 0 {
				if _, _, ok := c.frozen(dead, q.Set, -1); ok {
					return prediction{none: true}
				}
			}
		}
		v, err := c.meter.Typical(n, q)
		if err != nil {
			return prediction{none: true}
		}
		return prediction{value: v, number: true}
	}
	return prediction{none: true}
}

// frozen is the settings with the outputs of dead chips all low, and all high; it is false
// where no such output is set, or in the piece of an element.
func (c *Case) frozen(dead map[string]bool, set wiring.Settings, element int) (low, high wiring.Settings, ok bool) {
	low, high = wiring.Settings{}, wiring.Settings{}
	for of, to := range set {
		low[of], high[of] = to, to
	}
	p := c.net.PieceWith(element)
	for i := range c.net.Controls {
		x := &c.net.Controls[i]
		if x.Kind != wiring.Output {
			continue
		}
		id, _, _ := strings.Cut(x.Of, ".")
		if !dead[id] {
			continue
		}
		low[x.Of], high[x.Of] = "low", "high"
		if _, named := set[x.Of]; named {
			ok = true
		}
		if p != nil {
			for _, k := range p.Controls {
				ok = ok || k == i
			}
		}
	}
	return low, high, ok
}

// swing is how far the voltage of an actor goes between two states.
func (c *Case) swing(n *wiring.Network, one, other wiring.Settings, x *actor) float64 {
	volts := func(set wiring.Settings) float64 {
		settings, err := n.Resolve(set)
		p := n.PieceWith(x.element)
		if err != nil || p == nil {
			return 0
		}
		s, err := p.At(p.Restrict(settings))
		a, b := n.Ends(x.element)
		if err != nil || !s.Held(a) || !s.Held(b) {
			return 0
		}
		return s.Typical(a) - s.Typical(b)
	}
	return math.Abs(volts(one) - volts(other))
}

// doing is what an actor does in a state.
func (c *Case) doing(n *wiring.Network, set wiring.Settings, x *actor) map[string]float64 {
	amps := 0.0
	settings, err := n.Resolve(set)
	if err != nil {
		return map[string]float64{dark: 1}
	}
	if p := n.PieceWith(x.element); p != nil {
		s, err := p.At(p.Restrict(settings))
		if err != nil {
			return map[string]float64{dark: 1}
		}
		amps = s.TypicalAmps(x.element)
		if !x.lamp && !x.oneWay {
			amps = math.Abs(amps)
		}
	}
	if x.lamp && amps < rig.OnAmps/2 {
		amps = 0
	}
	return seenAs(math.Max(amps, 0) / x.full)
}

// seenAs is how likely each doing is taken for what is there, of a part of what should be.
func seenAs(part float64) map[string]float64 {
	l := light.Lightness(part)
	out := map[string]float64{}
	for i, d := range doings {
		to := math.Inf(1)
		if i+1 < len(doings) {
			to = doings[i+1].from
		}
		out[d.name] = bell((to-l)/judging) - bell((d.from-l)/judging)
	}
	return out
}

// bell is the normal distribution up to z.
func bell(z float64) float64 { return 0.5 * math.Erfc(-z/math.Sqrt2) }

// reading is what the program reads at an input in a state.
func (c *Case) reading(n *wiring.Network, set wiring.Settings, in *input) prediction {
	settings, err := n.Resolve(set)
	if err != nil {
		return prediction{none: true}
	}
	node := nodeOf(n, in.pin)
	rail := n.RailVolts(c.net.Board.Logic.Rail).Typ
	if c.unfed(n) {
		return prediction{labels: map[string]float64{nothing: 1}}
	}
	v := n.FedVolts(node).Typ
	if p := n.PieceOf(node); p != nil {
		s, err := p.At(p.Restrict(settings))
		if err != nil {
			return prediction{none: true}
		}
		if !s.Held(node) {
			return prediction{labels: map[string]float64{jumps: 0.7, readsLow: 0.15, readsHigh: 0.15}}
		}
		v = s.Typical(node)
	} else if !n.Stiff(node) {
		return prediction{labels: map[string]float64{jumps: 0.7, readsLow: 0.15, readsHigh: 0.15}}
	}
	if in.analog {
		full := n.RailVolts(c.net.Board.Logic.Analog.Reference).Typ
		if full <= 0 {
			return prediction{none: true}
		}
		return prediction{value: math.Max(0, math.Min(1, v/full)), number: true}
	}
	vil, vih := c.net.Board.Logic.VIL.At(rail), c.net.Board.Logic.VIH.At(rail)
	mid := (vil + vih) / 2
	soft := math.Max((vih-vil)/4, 0.05)
	up := bell((v - mid) / soft)
	return prediction{labels: map[string]float64{readsHigh: up * 0.98, readsLow: (1 - up) * 0.98, jumps: 0.02}}
}

// unfed reports whether the board gives nothing.
func (c *Case) unfed(n *wiring.Network) bool { return !n.Stiff(n.RailNode(c.net.Board.Logic.Rail)) }

// expectation is what the meter may read with a fault, over all tolerances.
func (c *Case) expectation(k, i int) (meter.Expectation, bool) {
	a := &c.asks[i]
	f := c.classes[k].fault
	if f != nil && (a.test && f.InProgram() || !f.Everywhere() && !c.near(k, a)) {
		k, f = 0, nil
	}
	key := where{k, i}
	c.mu.Lock()
	x, ok := c.expected[key]
	c.mu.Unlock()
	if ok {
		return x, x.Text != "" // one that has no answer has no text
	}
	q := a.question
	n := c.classes[k].nets.off()
	if q.Way.Powered() {
		n = c.classes[k].nets.on()
		if f != nil {
			q.Set = f.Under(c.net, q.Set)
		}
	}
	x, err := c.meter.Ask(n, q)
	if err != nil {
		x = meter.Expectation{}
	}
	c.mu.Lock()
	c.expected[key] = x
	c.mu.Unlock()
	return x, err == nil
}

// label names the kind of a typical reading, so that readings that a meter and tolerances
// leave apart have different names.
func label(q meter.Question, v float64) string {
	switch {
	case math.IsInf(v, 0):
		return "OL"
	case q.Way == meter.Continuity:
		return fmt.Sprint("beeps ", v < 50)
	case q.Way == meter.Ohms || q.Way == meter.Lifted:
		if v < 2 {
			return "0"
		}
		return strconv.Itoa(int(math.Round(math.Log10(v) * 6))) // a step is half as much again
	case q.Way == meter.Diode:
		return strconv.Itoa(int(math.Round(v / 0.3)))
	}
	return strconv.Itoa(int(math.Round(v / 0.35)))
}

// sawn is what who looks at a place says when a fault is there.
func (c *Case) sawn(f, i int) map[string]float64 {
	l := &c.looks[c.asks[i].look]
	for _, k := range l.faults {
		if k == f {
			if c.faults[f].Kind == fault.Unfed {
				return map[string]float64{c.faults[f].Cure: 1}
			}
			return map[string]float64{c.faults[f].Cure: closely, asDrawn: 1 - closely}
		}
	}
	return map[string]float64{asDrawn: 1}
}
