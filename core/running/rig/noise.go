package rig

import (
	"math"
	"math/rand/v2"
	"slices"

	"cablaggio/core/electric/circuit"
	"cablaggio/core/running/machine"
)

// noise is what a pin reads that nothing holds: the hum of the mains at 50 Hz, about a level
// that wanders, and hiss. With a hand near it, the hum is far more (common practice: an input
// that floats "sees" who comes near; the numbers are ours, so that it never is a fixed answer).
type noise struct {
	seed    uint64
	touched [machine.Pins][]int64 // when a hand came near, in order
	next    int64                 // when what floating pins read may be another; Never: nobody looks
}

// ticks of the noise: between them it stays.
const tick = ms

// Noise lets floating pins read noise from now on, and registers begin with anything: all of it
// drawn from a source.
func (r *Rig) Noise(from *rand.Rand) {
	r.noise = &noise{seed: from.Uint64(), next: machine.Never}
	r.wake(from)
	for _, g := range r.regions {
		r.touch(g)
	}
}

// near is how long a hand stays near what it touches.
const near = 500 * ms

// Touch brings a hand near a pin at a time, no earlier than it was told to before, for half a second.
func (r *Rig) Touch(pin int, at int64) {
	if r.noise != nil && pin >= 0 && pin < machine.Pins {
		r.noise.touched[pin] = append(r.noise.touched[pin], at)
	}
}

// floats reports whether nothing holds a pin in the state that its region is in.
func (r *Rig) floats(w *wire, g *region) bool {
	if w.drive.Mode == machine.Driven {
		return false
	}
	s := g.solve()
	if s == nil {
		return false
	}
	if g.holds(s, w.node) {
		return false
	}
	r.noise.heard(r.now)
	return true
}

// holds reports whether something holds a node of a region in a state; where capacitors take
// their time, they do for a while.
func (g *region) holds(s *stand, node circuit.Node) bool {
	for _, x := range s.looked {
		if x.node == node {
			return x.held
		}
	}
	held := s.Held(node)
	if g.slow {
		held = s.Kept(node)
	}
	s.looked = append(s.looked, looked{node, held})
	return held
}

// heard has the world come by again when the noise is another.
func (n *noise) heard(now int64) { n.next = min(n.next, (now/tick+1)*tick) }

// level is what a floating pin reads.
func (n *noise) level(pin int, now int64) bool {
	at := now / tick
	hum := 0.2
	if slices.ContainsFunc(n.touched[pin], func(t int64) bool { return now >= t && now < t+near }) {
		hum = 1.2
	}
	wander := 1.6 * (n.draw(pin, uint64(at/400), 1) - 0.5)
	hiss := 0.3 * (n.draw(pin, uint64(at), 2) - 0.5)
	return hum*math.Sin(2*math.Pi*float64(now)/float64(20*ms)+float64(pin))+wander+hiss > 0
}

// draw is a number from 0 to 1 that belongs to a pin and a time.
func (n *noise) draw(pin int, at, which uint64) float64 {
	r := rand.New(rand.NewPCG(n.seed^uint64(pin)<<32, at<<2|which))
	return r.Float64()
}
