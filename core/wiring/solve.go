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
	ratios  []Range // by ratio of the piece
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
	nodes, elements := len(out.typical.V), len(out.typical.I)
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
	ranges := [3][]Range{out.volts, out.amps, out.ratios}
	rangeOf := func(q int) *Range {
		switch {
		case q < nodes:
			return &ranges[0][q]
		case q < nodes+elements:
			return &ranges[1][q-nodes]
		}
		return &ranges[2][q-nodes-elements]
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

func (r ratio) at(sol *circuit.Solution) float64 { return sol.V[r.of] / sol.V[r.over] }

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
	for _, r := range p.ratios {
		v := r.at(&out.typical)
		out.ratios = append(out.ratios, Range{v, v, v})
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

// Sensitivity returns by how many volts the node moves for each unit of what a
// sensor's control measures, in a state: the larger of the slopes to both sides
// of its level.
func (p *Piece) Sensitivity(s State, control int, node circuit.Node) (float64, error) {
	setting, ok := p.SettingOf(s, control)
	levels := p.network.Controls[control].Levels
	if !ok || setting >= len(levels) {
		return 0, nil
	}
	level := levels[setting]
	step := math.Max(math.Abs(level), 0.1) * 1e-3
	here := p.set(s)
	slope := 0.0
	if err := p.solveCorner(&here.typical, make([]int8, p.places)); err != nil {
		return 0, err
	}
	var sol circuit.Solution
	for _, to := range []float64{level - step, level + step} {
		for k, i := range p.elements {
			if e := &p.network.Elements[i]; e.control == control && e.law != nil {
				p.factor[k] = e.law(to)
			}
		}
		if err := p.solveCorner(&sol, make([]int8, p.places)); err != nil {
			return 0, err
		}
		slope = math.Max(slope, math.Abs(sol.V[p.local[node]]-here.typical.V[p.local[node]])/step)
	}
	return slope, nil
}

// Kick returns the largest voltage across an element in the moment in which the
// state is left for another, with a coil's current still flowing: the coil is a
// source of that current. It is infinite when the current has no way.
func (p *Piece) Kick(to State, coil int, amps float64, across int) float64 {
	solved := p.set(to)
	if err := p.solveCorner(&solved.typical, make([]int8, p.places)); err != nil {
		return math.Inf(1)
	}
	k := p.index[coil]
	was := p.circuit.Elements[k]
	defer func() { p.circuit.Elements[k] = was }()
	p.circuit.Elements[k] = circuit.Element{Kind: circuit.CurrentSource, A: was.A, B: was.B, Value: amps}
	sol := circuit.Solution{}
	if err := circuit.NewSolver(&p.circuit).Solve(&sol); err != nil {
		return math.Inf(1)
	}
	e := p.circuit.Elements[p.index[across]]
	return math.Abs(sol.Across(e.A, e.B))
}
