package diagnose

import (
	"math"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
)

// What is said of a reading as its knob is turned, or as what it measures changes.
const (
	moves = "changes"
	stays = "stays the same"
)

// little is the part of its way that a reading moves as planned below which nobody says that it
// stays the same (common practice: a hand over a sensor of light moves it by a third and more).
const little = 0.06

// listMoves adds, of each analog input whose reading can change, whether it does: told, never
// asked for, as one reading at each end says more.
func (c *Case) listMoves() {
	for i := range c.inputs {
		in := &c.inputs[i]
		if !in.analog || len(in.states) < 2 {
			continue
		}
		t := build.Pin(in.pin)
		c.add(Ask{ID: "moves:" + in.pin, Sort: Feel, Part: in.parts[0], moves: true, input: i, near: c.nearPiece(c.net.PieceOf(c.net.Node(t)), t), trouble: readsTrouble})
	}
}

// moving is whether a reading changes with a network, in the states as a fault has them.
func (c *Case) moving(n *wiring.Network, a *Ask, under func(wiring.Settings) wiring.Settings) map[string]float64 {
	in := &c.inputs[a.input]
	least, most, seen := math.Inf(1), math.Inf(-1), false
	for _, s := range in.states {
		p := c.reading(n, under(s.set), in)
		if p.labels[jumps] > 0.5 {
			return map[string]float64{moves: 0.5, stays: 0.5} // it changes, and not with what should move it
		}
		if p.number {
			least, most, seen = math.Min(least, p.value), math.Max(most, p.value), true
		}
	}
	if !seen {
		return map[string]float64{moves: 0.05, stays: 0.95} // there is none
	}
	up := bell(math.Log(math.Max(most-least, 1e-6)/little) / math.Log(spread))
	return map[string]float64{moves: up, stays: 1 - up}
}
