package wiring

import (
	"fmt"
	"math"
	"slices"

	"cablaggio/core/circuit"
)

// A Range is a quantity over all corners of the tolerances.
type Range struct {
	Low  float64 `json:"low"`
	Typ  float64 `json:"typ"`
	High float64 `json:"high"`
}

// Peak returns the larger magnitude of the two ends.
func (r Range) Peak() float64 { return math.Max(math.Abs(r.Low), math.Abs(r.High)) }

// A Solved piece holds the ranges of its voltages and currents in one state,
// and its typical solution.
type Solved struct {
	piece   *Piece
	typical circuit.Solution
	volts   []Range // by node of the piece's circuit
	amps    []Range // by element of the piece's circuit
	closed  []bool  // by element of the piece's circuit
}

// Solve solves the piece in a state, at the typical values and in the corners
// that matter.
//
// For every quantity the worst corner is the one to which the slopes at the
// typical values point: each value of the piece is moved to its high end alone,
// and the sign of the change says which end makes the quantity larger. This is
// exact for quantities that are monotonic in every value, as currents and
// voltages of such circuits are; every solution that is computed on the way
// widens the range as well.
func (p *Piece) Solve(s State) (*Solved, error) {
	out, err := p.Typical(s)
	if err != nil {
		return nil, err
	}
	corner := make([]int8, p.places) // −1 low, 0 typical, 1 high
	quantities := len(out.typical.V) + len(out.typical.I)
	at := func(sol *circuit.Solution, q int) float64 {
		if q < len(sol.V) {
			return sol.V[q]
		}
		return sol.I[q-len(sol.V)]
	}
	rangeOf := func(q int) *Range {
		if q < len(out.volts) {
			return &out.volts[q]
		}
		return &out.amps[q-len(out.volts)]
	}
	sol := circuit.Solution{V: slices.Clone(out.typical.V), I: slices.Clone(out.typical.I)}
	widen := func() {
		for q := range quantities {
			r, v := rangeOf(q), at(&sol, q)
			r.Low, r.High = math.Min(r.Low, v), math.Max(r.High, v)
		}
	}
	// The slopes, as the corner that raises each quantity.
	raises := make([]int8, quantities*p.places)
	for k := range corner {
		corner[k] = 1
		copy(sol.V, out.typical.V)
		if err := p.solveCorner(&sol, corner); err != nil {
			return nil, err
		}
		corner[k] = 0
		for q := range quantities {
			was := at(&out.typical, q)
			switch d := at(&sol, q) - was; {
			case d > noise*math.Abs(was):
				raises[q*p.places+k] = 1
			case d < -noise*math.Abs(was):
				raises[q*p.places+k] = -1
			}
		}
		widen()
	}
	var seen [][]int8
	for q := range quantities {
		for _, sign := range []int8{1, -1} {
			for k := range corner {
				corner[k] = sign * raises[q*p.places+k]
			}
			if slices.ContainsFunc(seen, func(c []int8) bool { return slices.Equal(c, corner) }) {
				continue
			}
			seen = append(seen, slices.Clone(corner))
			copy(sol.V, out.typical.V)
			if err := p.solveCorner(&sol, corner); err != nil {
				return nil, err
			}
			widen()
		}
	}
	return out, nil
}

// noise is the relative change of a quantity that the solver's own tolerance
// may cause.
const noise = 1e-8

func (p *Piece) solveCorner(sol *circuit.Solution, corner []int8) error {
	n := p.network
	for k, place := range p.place {
		if place < 0 {
			continue
		}
		if want := (applied{corner[place], p.factor[k]}); p.applied[k] != want {
			p.applied[k] = want
			e := &n.Elements[p.elements[k]]
			e.apply(&p.circuit.Elements[k], p.factor[k]*n.Params[e.param].Value.At(int(want.corner)))
		}
	}
	return p.solver.Solve(sol)
}

// Typical solves the piece in a state at the typical values alone.
func (p *Piece) Typical(s State) (*Solved, error) {
	out := p.set(s)
	if err := p.solveCorner(&out.typical, make([]int8, p.places)); err != nil {
		return nil, fmt.Errorf("%s: %w", p.Describe(s), err)
	}
	out.volts, out.amps = make([]Range, len(out.typical.V)), make([]Range, len(out.typical.I))
	for i, v := range out.typical.V {
		out.volts[i] = Range{v, v, v}
	}
	for i, v := range out.typical.I {
		out.amps[i] = Range{v, v, v}
	}
	return out, nil
}

// SourceOhms returns the resistance of the source at a node in a state: how far
// the node's voltage falls for the current that a leakage element draws there,
// from its low to its high value.
func (p *Piece) SourceOhms(s State, node circuit.Node, leak int) (float64, error) {
	p.set(s)
	corner := make([]int8, p.places)
	k := p.slots[slices.Index(p.params, p.network.Elements[leak].param)]
	volts := [2]float64{}
	var sol circuit.Solution
	for i, c := range []int8{-1, 1} {
		corner[k] = c
		if err := p.solveCorner(&sol, corner); err != nil {
			return 0, err
		}
		volts[i] = sol.V[p.local[node]]
	}
	v := p.network.Params[p.network.Elements[leak].param].Value
	return (volts[0] - volts[1]) / (v.High - v.Low), nil
}

// set puts the controls of the piece's circuit to a state.
func (p *Piece) set(s State) *Solved {
	out := &Solved{piece: p, closed: make([]bool, len(p.elements))}
	for k, i := range p.elements {
		e := &p.network.Elements[i]
		out.closed[k] = true
		if e.control >= 0 {
			setting, _ := p.SettingOf(s, e.control)
			out.closed[k] = e.conducts(setting)
			p.circuit.Elements[k].Open = !out.closed[k]
			p.factor[k] = e.factor(setting)
		}
	}
	return out
}
