package wiring

import (
	"cmp"
	"slices"

	"cablaggio/core/electric/circuit"
)

// A Term is the current of an element, counted as often as By says. The element
// may be a rail's source.
type Term struct {
	Element int
	By      float64
}

// A Total is a sum of currents in the state, and at the corner, in which it is
// largest. Low is its smallest corner in that state.
type Total struct {
	Range
	Pieces []*Solved // the pieces that have a part in it, each in its state
}

// Worst returns the largest that a sum of currents can be as planned, over all
// states and corners. Pieces do not influence each other, so each is taken in
// its own worst state; but they share the voltages of the rails, which are at
// one corner for all.
func (n *Network) Worst(terms []Term) (Total, error) {
	var total Total
	parts := n.portions(terms)
	for i := range parts {
		if err := parts[i].find(); err != nil {
			return Total{}, err
		}
	}
	low, high := n.together(parts, -1), n.together(parts, 1)
	for i := range parts {
		x := &parts[i]
		r := Range{low[i], x.form.Of(&x.at.point.typical), high[i]}
		total.Pieces = append(total.Pieces, x.at)
		total.Range = total.Add(r)
	}
	return total, nil
}

// A portion is what one piece has in a sum.
type portion struct {
	piece *Piece
	local []circuit.Weight
	about Subject
	at    *Solved      // where it is largest
	form  circuit.Form // of the point there
}

// portions divides a sum among the pieces, in their order.
func (n *Network) portions(terms []Term) (out []portion) {
	add := func(p *Piece, t Term) {
		k := p.localElement(t.Element)
		if k < 0 || t.By == 0 {
			return
		}
		i := slices.IndexFunc(out, func(x portion) bool { return x.piece == p })
		if i < 0 {
			i = len(out)
			out = append(out, portion{piece: p})
		}
		out[i].local = append(out[i].local, circuit.Weight{At: k, By: t.By})
		out[i].about.elements = append(out[i].about.elements, t.Element)
	}
	for _, t := range terms {
		if t.Element < 0 {
			continue
		}
		if n.Elements[t.Element].Role != Rail {
			if p := n.PieceWith(t.Element); p != nil {
				add(p, t)
			}
			continue
		}
		for _, p := range n.Pieces {
			add(p, t)
		}
	}
	return out
}

// find looks for the state in which the portion is largest.
func (x *portion) find() error {
	list, err := x.piece.Planned(x.about)
	if err != nil {
		return err
	}
	p := x.piece.pattern
	p.enter(x.piece.network)
	defer p.leave()
	if len(list) > fewStates {
		// Of many states the corners are searched where the typical value is among the
		// largest: what lies far below does not come up to it.
		const likely = 4
		typical := make(map[*Solved]float64, len(list))
		for _, s := range list {
			form := s.as.form(circuit.Form{Amps: x.local})
			typical[s] = form.Of(&s.point.typical)
		}
		list = slices.Clone(list)
		slices.SortStableFunc(list, func(a, b *Solved) int { return cmp.Compare(typical[b], typical[a]) })
		list = list[:likely]
	}
	most := 0.0
	for _, s := range list {
		form := s.as.form(circuit.Form{Amps: x.local})
		v, _ := p.worst(s.point, &quantityForm{form: form}, 1, nil)
		if x.at == nil || v > most {
			x.at, x.form, most = s, form, v
		}
	}
	return nil
}

// together returns what each portion is at the corner at which their sum is
// largest, or smallest for a sign of −1. Rails on which the portions disagree
// are tried at both ends.
func (n *Network) together(parts []portion, sign int8) []float64 {
	values := make([]float64, len(parts))
	want := map[int]int8{} // by param of the network
	split := []int{}
	for i := range parts {
		x := &parts[i]
		value, corner := x.worst(sign, nil)
		values[i] = value
		for _, local := range x.piece.rails {
			rail := x.piece.paramOf(local)
			c := corner.at[local]
			if was, ok := want[rail]; ok && was != c && c != 0 && was != 0 {
				if !slices.Contains(split, rail) {
					split = append(split, rail)
				}
			} else if c != 0 {
				want[rail] = c
			}
		}
	}
	if len(split) == 0 {
		return values
	}
	var best []float64
	most := 0.0
	for ends := range 1 << len(split) {
		tried, sum := make([]float64, len(parts)), 0.0
		for i := range parts {
			x := &parts[i]
			pinned := slices.Repeat([]int8{free}, len(x.piece.params))
			for k, rail := range split {
				for _, local := range x.piece.rails {
					if x.piece.paramOf(local) == rail {
						pinned[local] = int8(2*(ends>>k&1) - 1)
					}
				}
			}
			tried[i], _ = x.worst(sign, pinned)
			sum += tried[i]
		}
		if best == nil || float64(sign)*(sum-most) > 0 {
			best, most = tried, sum
		}
	}
	return best
}

func (x *portion) worst(sign int8, pinned []int8) (float64, *corner) {
	p := x.piece.pattern
	p.enter(x.piece.network)
	defer p.leave()
	return p.worst(x.at.point, &quantityForm{form: x.form}, sign, pinned)
}

// paramOf returns the param of the network that a param of the pattern is.
func (p *Piece) paramOf(local int) int {
	for k := range p.parts {
		if p.parts[k].param == local {
			return p.network.Elements[p.elements[k]].param
		}
	}
	return -1
}
