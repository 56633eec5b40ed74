package bench

import (
	"math"
	"math/rand/v2"
	"slices"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/machine"
	"cablaggio/core/running/rig"
)

// A handler does what actions say, one after the other: it moves the network's controls, with
// the bounce of every contact, brings hands near pins, and types.
type handler struct {
	net    *wiring.Network
	rig    *rig.Rig
	seed   uint64
	keys   map[int]uint64     // of each keypad: which are down
	wheels []wheel            // in the order of the network, so that what they do is the same
	feeds  []generator        // in the order in which they came
	typed  int64              // when the line is free for the next character
	moves  []rig.Move         // that the rig was not told of yet
	come   []machine.Received // by the serial link, in the order of time
}

// A generator stands in for a sensor or a contact: it goes over sharply, and does not bounce.
type generator struct {
	control   int
	high, low float64
	share     float64 // of a period that it is high
	rate      float64 // Hz
	since     int64
	turns     int64 // that it has made
}

func newHandler(net *wiring.Network, r *rig.Rig, seed uint64) *handler {
	h := &handler{net: net, rig: r, seed: seed, keys: map[int]uint64{}}
	for i := range net.Controls {
		if net.Controls[i].Kind == wiring.Contact {
			share := rig.ValueOf(net, net.Whose(&net.Controls[i]), "duty") / 100
			if share <= 0 || share >= 1 {
				share = 0.5
			}
			h.wheels = append(h.wheels, wheel{control: i, share: share})
		}
	}
	return h
}

// do does an action at its time, once the rig is told.
func (h *handler) do(a Action) {
	at := nanoseconds(a.At)
	h.turn(at)
	if a.powers() {
		h.powers(a, at)
		return
	}
	i := control(h.net, a.Of)
	if i >= 0 && a.Do != Feed {
		h.unplug(i) // a hand that takes over takes the generator away
	}
	switch a.Do {
	case Press, Release:
		c := &h.net.Controls[i]
		if c.Kind == wiring.Keys {
			if k := slices.Index(c.Keys, a.Key); a.Do == Press {
				h.keys[i] |= 1 << k
			} else {
				h.keys[i] &^= 1 << k
			}
			h.move(at, i, float64(h.keys[i]))
			return
		}
		to := rig.Rest(c)
		if a.Do == Press {
			to = wiring.Closed - to
		}
		h.contact(i, at, to)
	case Turn:
		c := &h.net.Controls[i]
		h.move(at, i, c.Least+(c.Most-c.Least)*a.To)
	case Set:
		h.move(at, i, a.To)
	case Spin:
		for k := range h.wheels {
			if h.wheels[k].control == i {
				h.wheels[k].set(a.To, at)
			}
		}
	case Feed:
		h.feed(i, a, at)
	case Touch:
		h.rig.Touch(h.net.Board.Number(a.Of), at)
	case Type:
		// Ten bits a character at 9600 baud; the board takes them as they come.
		const character = 1041667
		h.typed = max(h.typed, at)
		for k := range len(a.Text) {
			h.come = append(h.come, machine.Received{At: h.typed, C: a.Text[k]})
			h.typed += character
		}
	}
}

// powers does what an action does to the supply, or to the reset.
func (h *handler) powers(a Action, at int64) {
	switch a.Do {
	case Plug:
		h.move(at, rig.Plug, 1)
	case Unplug:
		h.move(at, rig.Plug, 0)
	case Set:
		h.move(at, rig.Charge, a.To)
	case Drain:
		h.move(at, rig.Age, a.To)
	case Reset:
		h.move(at, rig.Held, 1)
		h.move(at+held, rig.Held, 0)
	}
}

// feed puts a generator in place of a control, or takes it away.
func (h *handler) feed(control int, a Action, at int64) {
	h.unplug(control)
	for k := range h.wheels {
		if h.wheels[k].control == control {
			h.wheels[k].set(0, at)
			h.wheels[k].Excess = 0
		}
	}
	c := &h.net.Controls[control]
	g := generator{control: control, high: wiring.Closed, low: wiring.Open, share: a.Share, rate: a.To, since: at}
	if c.Kind == wiring.Level {
		if g.low, g.high = a.Low, a.High; g.low == g.high {
			g.low, g.high = c.Least, c.Most
		}
	}
	if g.share == 0 {
		g.share = 0.5
	}
	if g.rate > 0 {
		h.feeds = append(h.feeds, g)
	} else {
		h.move(at, control, g.low)
	}
}

func (h *handler) unplug(control int) {
	h.feeds = slices.DeleteFunc(h.feeds, func(g generator) bool { return g.control == control })
}

// turn lets the wheels turn, and the generators go on, until a time.
func (h *handler) turn(until int64) {
	for k := range h.feeds {
		for g := &h.feeds[k]; len(h.moves) < maxMoves; g.turns++ {
			at := g.since + nanoseconds(float64(g.turns)/g.rate)
			if at >= until {
				break
			}
			h.move(at, g.control, g.high)
			h.move(at+nanoseconds(g.share/g.rate), g.control, g.low)
		}
	}
	for k := range h.wheels {
		w := &h.wheels[k]
		if w.Rate <= 0 && w.Excess <= 0 {
			continue
		}
		for len(h.moves) < maxMoves {
			after := w.when(w.next)
			at := w.since + int64(math.Round(math.Min(after, 2*MaxLasts)*1e9))
			if at >= until {
				break
			}
			h.contact(w.control, at, w.goesOver())
		}
	}
}

// maxMoves bounds what wheels do at once.
const maxMoves = 1_000_000

// tell tells the rig what there is to move.
func (h *handler) tell() {
	h.rig.Plan(h.moves)
	h.moves = h.moves[:0]
}

func (h *handler) move(at int64, control int, to float64) {
	h.moves = append(h.moves, rig.Move{At: at, Control: control, To: to})
}

// contact moves a contact, which bounces: within its bounce time it opens and closes again two
// to six times, ever longer (common practice; the times are drawn, and belong to the contact
// and the moment).
func (h *handler) contact(control int, at int64, to float64) {
	h.move(at, control, to)
	bounce := rig.BounceOf(h.net, h.net.Whose(&h.net.Controls[control]))
	if bounce <= 0 {
		return
	}
	noise := rand.New(rand.NewPCG(h.seed, uint64(at)^uint64(control)<<48))
	n := 2 * (1 + noise.IntN(3))
	part := 0.0
	for k := range n {
		part += (1 - part) * (0.1 + 0.5*noise.Float64())
		level := to
		if k%2 == 0 {
			level = 1 - to
		}
		h.move(at+int64(math.Min(part, 1)*float64(bounce)), control, level)
	}
}

func nanoseconds(s float64) int64 { return int64(math.Round(s * 1e9)) }

func seconds(at int64) float64 { return float64(at) / 1e9 }
