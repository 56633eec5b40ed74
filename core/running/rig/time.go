package rig

import (
	"math"

	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/machine"
)

// A course is a region that moves by itself: a capacitor in it charges, or a pin in it pulses
// and something looks at the edges.
type course struct {
	motion *wiring.Motion // nil: its capacitors are where they come to rest, or it has none
	since  int64          // when a control last moved
	next   int64          // when something that is seen happens in it by itself
	known  bool           // next is worked out
	listed bool           // in Rig.moving
	looked bool           // an input or a chip looks at what its pins pulse

	// Of what acts in a region that smooths:
	averaged int64     // from when on it is averaged
	charge   []float64 // what went through each since then, in ampere-nanoseconds
	at       int64     // until when
	from     []float64 // the current of each then, in amperes
}

// A pulse is the clock of a pin with a duty.
type pulse struct {
	up        bool
	edge      int64 // when it goes over next
	high, low int64 // how long it stays
	cycle     int64 // when a period began
}

// fastest is how often a second a pin pulses edge by edge at most. A faster one is taken this
// slow where something looks: its average is the same, its ripple larger than it is.
const fastest = 5000

// Timed has capacitors take their time from now on, and inputs see the edges of duties. Without
// it the rig is at rest after every move.
func (r *Rig) Timed() {
	r.timed = true
	for _, g := range r.regions {
		g.slow = g.piece.Remembers()
		g.breakers = r.breakers(g)
		g.charge, g.from = make([]float64, len(g.actors)), make([]float64, len(g.actors))
	}
}

func seconds(at int64) float64 { return float64(at) * 1e-9 }

// list has a region asked for what happens in it by itself.
func (r *Rig) list(g *region) {
	g.known = false
	if !g.listed {
		g.listed = true
		r.moving = append(r.moving, g)
	}
}

// before takes a region to the present, before one of its controls moves.
func (r *Rig) before(g *region) {
	if !g.slow {
		return
	}
	r.carry(g)
	if s := g.solve(); g.motion == nil && g.slow && s != nil {
		g.motion, _ = s.Motion(seconds(r.now))
	}
	g.since = r.now
	if g.motion != nil {
		r.list(g)
	}
}

// after lets the moved control count.
func (g *region) after() {
	if g.motion != nil {
		g.motion.Turn(g.state)
	}
}

// carry takes a region's motion to the present, and to its rest where it has come there.
func (r *Rig) carry(g *region) {
	if g.motion == nil {
		return
	}
	if g.motion.To(seconds(r.now)) != nil {
		g.motion, g.slow = nil, false // it cannot be followed: from now on it is always at rest
		return
	}
	if s := g.solve(); len(g.pulsed) == 0 && (s == nil || g.motion.Rests(s.Solved)) {
		g.motion = nil
		r.list(g)
		r.touch(g)
	}
}

// isEdged reports whether a region's pins pulse edge by edge.
func (r *Rig) isEdged(g *region) bool {
	return r.timed && len(g.pulsed) > 0 && (g.slow || g.looked || g.chips)
}

// look is called when something looks at a pin of a region: from now on it sees edges.
func (r *Rig) look(g *region) {
	if r.timed && !g.looked && len(g.pulsed) > 0 {
		g.looked = true
		for _, pin := range g.pulsed {
			r.begin(pin)
		}
		r.list(g)
	}
}

// begin lets the clock of a pin with a duty begin, or go on with another duty.
func (r *Rig) begin(pin int) {
	w := &r.pins[pin]
	period := int64(math.Max(1e9/w.drive.Hertz, 1e9/fastest))
	p := pulse{high: int64(w.drive.Duty * float64(period)), cycle: r.now}
	p.low = period - p.high
	if was := w.pulse; was.high+was.low == period {
		p.cycle = r.now - (r.now-was.cycle)%period
	}
	into := r.now - p.cycle
	if p.up = into < p.high; p.up {
		p.edge = p.cycle + p.high
	} else {
		p.edge = p.cycle + period
	}
	w.pulse = p
	r.Turn(w.control, driven(p.up))
}

func driven(high bool) float64 {
	if high {
		return wiring.DrivenHigh
	}
	return wiring.DrivenLow
}

// pulse lets the pins of a region go over whose time has come.
func (r *Rig) pulse(g *region) {
	if !r.isEdged(g) {
		return
	}
	for _, pin := range g.pulsed {
		w := &r.pins[pin]
		for p := &w.pulse; p.edge <= r.now; {
			if p.up = !p.up; p.up {
				p.cycle = p.edge
				p.edge += p.high
			} else {
				p.edge += p.low
			}
		}
		r.Turn(w.control, driven(w.pulse.up))
	}
	g.known = false
}

// The shortest and the longest time between two looks at what acts in a region while its
// capacitors charge.
const (
	soonest = ms
	latest  = 50 * ms
)

// coming works out when something that is seen happens next in a region by itself.
func (r *Rig) coming(g *region) int64 {
	if g.known {
		return g.next
	}
	g.known, g.next = true, machine.Never
	if r.isEdged(g) {
		for _, pin := range g.pulsed {
			g.next = min(g.next, r.pins[pin].pulse.edge)
		}
	}
	if g.motion == nil {
		return g.next
	}
	if len(g.actors)+len(g.probes) > 0 && len(g.pulsed) == 0 {
		g.next = min(g.next, r.now+min(latest, max(soonest, (r.now-g.since)/8)))
	}
	crossings := r.crossings(g)
	if len(crossings) == 0 {
		return g.next
	}
	// Looked for ever further ahead: what has come to rest by then crosses nothing any more.
	for span := int64(1e4); ; span *= 4 {
		until := min(g.next, r.now+span)
		at, err := g.motion.Ahead(seconds(until), crossings)
		switch {
		case err != nil:
			return g.next
		case at < seconds(until):
			g.next = max(int64(math.Ceil(at*1e9)), r.now+1000)
			return g.next
		case until == g.next || span > int64(1e13):
			return g.next
		}
	}
}

// crossings are the voltages at which an input of a region reads otherwise than it does.
func (r *Rig) crossings(g *region) (out []circuit.Crossing) {
	for _, pin := range g.pins {
		switch w := &r.pins[pin]; {
		case w.drive.Mode == machine.Driven:
		case w.level:
			out = append(out, circuit.Crossing{Node: w.node, Volts: r.vil})
		default:
			out = append(out, circuit.Crossing{Node: w.node, Volts: r.vih, Rising: true})
		}
	}
	if g.chips {
		for i := range r.chips {
			for _, l := range r.chips[i].inputs() {
				if l.region == g {
					out = append(out, circuit.Crossing{Node: l.node, Volts: (r.vil + r.vih) / 2, Rising: !r.high(l)})
				}
			}
		}
	}
	return out
}

// goOn lets happen what is due by itself.
func (r *Rig) goOn() {
	kept := r.moving[:0]
	for _, g := range r.moving {
		if r.coming(g) <= r.now {
			r.carry(g)
			smooths := r.smooths(g)
			if smooths {
				r.through(g)
			}
			r.pulse(g)
			if smooths {
				r.average(g)
				for _, p := range g.probes {
					r.sample(p)
				}
			}
			for _, pin := range g.pins {
				r.sense(&r.pins[pin], g)
			}
			if g.chips || g.motion != nil && !smooths {
				r.touch(g)
			}
			g.known = false
		}
		if g.listed = g.motion != nil || r.isEdged(g); g.listed {
			kept = append(kept, g)
		}
	}
	r.moving = kept
}

// smooths reports whether a region's capacitors smooth what its pins pulse.
func (r *Rig) smooths(g *region) bool { return g.motion != nil && r.isEdged(g) }

// measure begins to average what acts in a region that smooths.
func (r *Rig) measure(g *region) {
	g.at, g.averaged = r.now, r.now
	for k, i := range g.actors {
		g.charge[k], g.from[k] = 0, 0
		if g.motion != nil {
			g.from[k] = math.Abs(g.motion.Amps(r.Actors[i].Element))
		}
	}
}

// through notes what goes through what acts in a region that smooths, before an edge; from is
// what goes through it after it.
func (r *Rig) through(g *region) {
	for k, i := range g.actors {
		amps := math.Abs(g.motion.Amps(r.Actors[i].Element))
		g.charge[k] += (amps + g.from[k]) / 2 * float64(r.now-g.at)
	}
	g.at = r.now
}

// average has the acts of a region that smooths be averages over whole periods.
func (r *Rig) average(g *region) {
	period, hertz := int64(0), 0.0
	for _, pin := range g.pulsed {
		w := &r.pins[pin]
		period = max(period, w.pulse.high+w.pulse.low)
		hertz = max(hertz, w.drive.Hertz)
	}
	over := g.at - g.averaged
	for k, i := range g.actors {
		a := &r.Actors[i]
		g.from[k] = math.Abs(g.motion.Amps(a.Element))
		if over >= period {
			r.act(a, g.charge[k]/float64(over), hertz)
			g.charge[k] = 0
		}
	}
	if over >= period {
		g.averaged = g.at
	}
}
