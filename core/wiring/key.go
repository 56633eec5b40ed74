package wiring

import (
	"encoding/binary"
	"math"
)

// Key says all that the piece's voltages and currents depend on: pieces with
// the same key have the same solutions, node by node and element by element, in
// the same states.
func (p *Piece) Key() string {
	n := p.network
	b := make([]byte, 0, 128*len(p.elements))
	whole := func(vs ...int) {
		for _, v := range vs {
			b = binary.AppendVarint(b, int64(v))
		}
	}
	number := func(vs ...float64) {
		for _, v := range vs {
			b = binary.LittleEndian.AppendUint64(b, math.Float64bits(v))
		}
	}
	for k, i := range p.elements {
		c, e := &p.circuit.Elements[k], &n.Elements[i]
		whole(int(c.Kind), int(c.A), int(c.B), int(c.Control), p.place[k], len(e.on), len(e.scale))
		number(c.Value, c.Threshold, c.Junction.Is, c.Junction.N, c.Junction.Rs)
		if e.param >= 0 {
			v := n.Params[e.param].Value
			number(v.Low, v.Typ, v.High)
		}
		for j, control := range p.Controls {
			if control == e.control {
				whole(j + 1)
			}
		}
		for _, on := range e.on {
			if on {
				b = append(b, 1)
			} else {
				b = append(b, 0)
			}
		}
		number(e.scale...)
	}
	for _, c := range p.Controls {
		whole(int(n.Controls[c].Kind), len(n.Controls[c].Settings))
	}
	for _, r := range p.ratios {
		whole(int(r.of), int(r.over))
	}
	return string(b)
}

// On returns the solution as that of another piece with the same key.
func (s *Solved) On(p *Piece) *Solved {
	other := *s
	other.piece = p
	return &other
}
