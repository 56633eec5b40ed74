package wiring

import (
	"math"
	"slices"

	"cablaggio/core/circuit"
)

// Corners returns the corners that Solve looks at in a state, the typical one
// first: for each tolerance of the piece −1 for its low end, 0 for typical, 1 for its high end.
func (p *Piece) Corners(s State) ([][]int8, error) {
	p.busy.Lock()
	defer p.busy.Unlock()
	out, err := p.typical(s)
	if err != nil {
		return nil, err
	}
	return p.corners(out)
}

// corners finds the corners to which the slopes at the typical solution point.
// Where transistors switch, what has no say at the typical values may have one at
// a corner: from there the slopes are followed once more.
func (p *Piece) corners(out *Solved) ([][]int8, error) {
	typical := make([]int8, p.places)
	raises, err := p.slopes(&out.typical, typical)
	if err != nil {
		return nil, err
	}
	list := [][]int8{typical}
	add := func(corner []int8) {
		if !slices.ContainsFunc(list, func(c []int8) bool { return slices.Equal(c, corner) }) {
			list = append(list, slices.Clone(corner))
		}
	}
	given := p.given()
	corner := make([]int8, p.places)
	toward := func(raises []int8, q int, sign int8) {
		for k := range corner {
			corner[k] = sign * raises[q*p.places+k]
		}
	}
	for q := range given {
		for _, sign := range []int8{1, -1} {
			if !given[q] {
				toward(raises, q, sign)
				add(corner)
			}
		}
	}
	if !p.switches {
		return list, nil
	}
	first := slices.Clone(raises)
	for _, from := range list[1:len(list):len(list)] {
		sol := circuit.Solution{V: slices.Clone(out.typical.V), I: slices.Clone(out.typical.I)}
		if err := p.solveCorner(&sol, from); err != nil {
			return nil, err
		}
		there, err := p.slopes(&sol, from)
		if err != nil {
			return nil, err
		}
		for q := range given {
			for _, sign := range []int8{1, -1} {
				toward(first, q, sign)
				if given[q] || !slices.Equal(corner, from) {
					continue
				}
				for k := range corner {
					if r := there[q*p.places+k]; r != 0 {
						corner[k] = sign * r
					}
				}
				add(corner)
			}
		}
	}
	return list, nil
}

// given reports whether an element gives its voltage or current, whatever is
// around it.
func given(k circuit.Kind) bool { return k == circuit.VoltageSource || k == circuit.CurrentSource }

// slopes says, at a solution in a corner, which way each quantity moves when the
// value in each place of a corner grows: 1, −1, or 0 for not at all. What it
// returns is valid until it is called again.
func (p *Piece) slopes(here *circuit.Solution, corner []int8) ([]int8, error) {
	sol := p.blank()
	nodes, elements := len(sol.V), len(sol.I)
	quantities := nodes + elements + len(p.ratios)
	at := func(sol *circuit.Solution, q int) float64 {
		switch {
		case q < nodes:
			return sol.V[q]
		case q < nodes+elements:
			return sol.I[q-nodes]
		}
		return p.ratios[q-nodes-elements].at(sol)
	}
	p.raises = slices.Grow(p.raises[:0], quantities*p.places)[:quantities*p.places]
	clear(p.raises)
	p.effects = slices.Grow(p.effects[:0], nodes*p.places)[:nodes*p.places]
	clear(p.effects)
	if err := p.solver.Linearize(here); err != nil {
		return nil, err
	}
	for k := range p.places {
		sign := p.nudge(k, corner[k])
		if sign == 0 {
			continue
		}
		copy(sol.V, here.V)
		copy(sol.I, here.I)
		if err := p.solver.Slope(&sol, p.moved[k]); err != nil {
			return nil, err
		}
		for q := range quantities {
			was := at(here, q)
			d := sign * (at(&sol, q) - was)
			if q < nodes {
				p.effects[q*p.places+k] = d / nudged
			}
			switch {
			case d > noise*math.Abs(was):
				p.raises[q*p.places+k] = 1
			case d < -noise*math.Abs(was):
				p.raises[q*p.places+k] = -1
			}
		}
		p.unnudge(k, corner[k])
	}
	return p.raises, nil
}

// nudged is what part of the way to an end of a tolerance a value is moved.
const nudged = 1e-5

// nudge moves the values in a place, which are in a corner, a little of the way
// to their high end, or to the low one where they are there: so little that a
// junction is straight there. It returns the sign of the move, zero when there is
// no tolerance.
func (p *Piece) nudge(place int, corner int8) (sign float64) {
	for _, k := range p.moved[place] {
		e := &p.network.Elements[p.elements[k]]
		v := p.network.Params[e.param].Value
		here := v.At(int(corner))
		by := nudged * (v.High - here)
		if by == 0 {
			by = nudged * (v.Low - here)
		}
		if by == 0 {
			continue
		}
		sign = math.Copysign(1, by)
		e.apply(&p.circuit.Elements[k], p.factor[k]*(here+by))
	}
	return sign
}

// unnudge puts the values in a place back to those of a corner.
func (p *Piece) unnudge(place int, corner int8) {
	for _, k := range p.moved[place] {
		e := &p.network.Elements[p.elements[k]]
		e.apply(&p.circuit.Elements[k], p.factor[k]*p.network.Params[e.param].Value.At(int(corner)))
	}
}

// noise is the relative change of a quantity that the last digits of its
// computation may cause.
const noise = 1e-10

func (r ratio) at(sol *circuit.Solution) float64 { return sol.V[r.of] / sol.V[r.over] }
