package bench

import (
	"math"
	"math/rand/v2"

	"cablaggio/core/machine"
	"cablaggio/core/rig"
	"cablaggio/core/wiring"
)

// moves are what the actions do to the network, with the bounce of every contact.
func moves(net *wiring.Network, actions []Action, lasts int64, noise *rand.Rand) (out []rig.Move, typed []machine.Received) {
	keys := map[int]uint64{}
	spinning := map[int]float64{}
	since := map[int]int64{}
	turn := func(c int, until int64) {
		hertz := spinning[c]
		if hertz <= 0 {
			return
		}
		p := net.Doc.Part(net.Controls[c].Of)
		duty := rig.ValueOf(net, p, "duty") / 100
		if duty <= 0 || duty >= 1 {
			duty = 0.5
		}
		period := int64(1e9 / hertz)
		for at := since[c]; at < until && len(out) < maxMoves; at += period {
			contact(net, &out, c, at, wiring.Closed, noise)
			contact(net, &out, c, at+int64(duty*float64(period)), wiring.Open, noise)
		}
	}
	for _, a := range actions {
		at := int64(a.At * 1e9)
		i := control(net, a.Of)
		switch a.Do {
		case Press, Release:
			c := &net.Controls[i]
			if c.Kind == wiring.Keys {
				for k, name := range c.Keys {
					if name == a.Key && a.Do == Press {
						keys[i] |= 1 << k
					} else if name == a.Key {
						keys[i] &^= 1 << k
					}
				}
				out = append(out, rig.Move{At: at, Control: i, To: float64(keys[i])})
				continue
			}
			rest := rig.Rest(c)
			to := rest
			if a.Do == Press {
				to = wiring.Closed - rest
			}
			contact(net, &out, i, at, to, noise)
		case Turn:
			c := &net.Controls[i]
			out = append(out, rig.Move{At: at, Control: i, To: c.Least + (c.Most-c.Least)*a.To})
		case Set:
			out = append(out, rig.Move{At: at, Control: i, To: a.To})
		case Spin:
			turn(i, at)
			spinning[i], since[i] = a.To, at
		case Type:
			// Ten bits a character at 9600 baud; the board takes them as they come.
			for k := range len(a.Text) {
				typed = append(typed, machine.Received{At: at + int64(k)*1041667, C: a.Text[k]})
			}
		}
	}
	for c := range net.Controls { // in the order of the network, so that the draws are the same
		turn(c, lasts)
	}
	return out, typed
}

// maxMoves bounds what hands do in a run.
const maxMoves = 1_000_000

// contact moves a contact, which bounces: within its bounce time it opens and closes again two
// to six times, ever longer (common practice; the times are drawn).
func contact(net *wiring.Network, out *[]rig.Move, control int, at int64, to float64, noise *rand.Rand) {
	*out = append(*out, rig.Move{At: at, Control: control, To: to})
	bounce := rig.BounceOf(net, net.Doc.Part(net.Controls[control].Of))
	if bounce <= 0 || noise == nil {
		return
	}
	n := 2 * (1 + noise.IntN(3))
	part := 0.0
	for k := range n {
		part += (1 - part) * (0.1 + 0.5*noise.Float64())
		level := to
		if k%2 == 0 {
			level = 1 - to
		}
		*out = append(*out, rig.Move{At: at + int64(math.Min(part, 1)*float64(bounce)), Control: control, To: level})
	}
}
