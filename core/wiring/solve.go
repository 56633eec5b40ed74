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
// typical values point: each value of the piece is moved a little alone, and the
// sign of the change says which end makes the quantity larger. This is
// exact for quantities that are monotonic in every value, as currents and
// voltages of such circuits are; every solution that is computed on the way
// widens the range as well.
func (p *Piece) Solve(s State) (*Solved, error) {
	out, err := p.Typical(s)
	if err != nil {
		return nil, err
	}
	corners, err := p.corners(out)
	if err != nil {
		return nil, err
	}
	sol := circuit.Solution{V: make([]float64, len(out.typical.V)), I: make([]float64, len(out.typical.I))}
	for _, corner := range corners[1:] { // the first is the typical one
		copy(sol.V, out.typical.V)
		if err := p.solveCorner(&sol, corner); err != nil {
			return nil, err
		}
		for i, v := range sol.V {
			out.volts[i].widen(v)
		}
		for i, v := range sol.I {
			out.amps[i].widen(v)
		}
		for i, r := range p.ratios {
			out.ratios[i].widen(r.at(&sol))
		}
	}
	// What sources give is known without solving.
	for k, i := range p.elements {
		e := &p.network.Elements[i]
		if c := p.circuit.Elements[k]; e.param >= 0 && given(c.Kind) {
			for _, v := range []float64{p.network.Params[e.param].Value.Low, p.network.Params[e.param].Value.High} {
				e.apply(&c, p.factor[k]*v)
				if c.Kind == circuit.CurrentSource {
					out.amps[k].widen(c.Value)
				} else {
					out.volts[c.A].widen(c.Value)
				}
			}
		}
	}
	return out, nil
}

// given reports whether an element gives its voltage or current, whatever is
// around it.
func given(k circuit.Kind) bool { return k == circuit.VoltageSource || k == circuit.CurrentSource }

func (r *Range) widen(v float64) { r.Low, r.High = math.Min(r.Low, v), math.Max(r.High, v) }

// Corners returns the corners that Solve looks at in a state, the typical one
// first: for each tolerance of the piece −1 for its low end, 0 for typical, 1 for its high end.
func (p *Piece) Corners(s State) ([][]int8, error) {
	out, err := p.Typical(s)
	if err != nil {
		return nil, err
	}
	return p.corners(out)
}

// corners finds the corners to which the slopes at the typical solution point.
func (p *Piece) corners(out *Solved) ([][]int8, error) {
	sol := circuit.Solution{V: make([]float64, len(out.typical.V)), I: make([]float64, len(out.typical.I))}
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
	raises := make([]int8, quantities*p.places)
	for k := range p.places {
		sign := p.nudge(k)
		if sign == 0 {
			continue
		}
		copy(sol.V, out.typical.V)
		copy(sol.I, out.typical.I)
		if err := p.solver.Tangent(&sol); err != nil {
			return nil, err
		}
		for q := range quantities {
			was := at(&out.typical, q)
			switch d := sign * (at(&sol, q) - was); {
			case d > noise*math.Abs(was):
				raises[q*p.places+k] = 1
			case d < -noise*math.Abs(was):
				raises[q*p.places+k] = -1
			}
		}
		p.unnudge(k)
	}
	list := [][]int8{make([]int8, p.places)}
	corner := make([]int8, p.places)
	known := make([]bool, quantities)
	for k := range p.elements {
		switch c := &p.circuit.Elements[k]; c.Kind {
		case circuit.VoltageSource:
			known[c.A] = true
		case circuit.CurrentSource:
			known[nodes+k] = true
		}
	}
	for q := range quantities {
		if known[q] {
			continue
		}
		for _, sign := range []int8{1, -1} {
			for k := range corner {
				corner[k] = sign * raises[q*p.places+k]
			}
			if !slices.ContainsFunc(list, func(c []int8) bool { return slices.Equal(c, corner) }) {
				list = append(list, slices.Clone(corner))
			}
		}
	}
	return list, nil
}

func (r ratio) at(sol *circuit.Solution) float64 { return sol.V[r.of] / sol.V[r.over] }

// nudge moves the values in a place a hundredth of the way to their high end,
// or to the low one where the high end is the typical value. It returns the
// sign of the move, zero when there is no tolerance.
func (p *Piece) nudge(place int) (sign float64) {
	const way = 0.01
	for k, of := range p.place {
		if of != place {
			continue
		}
		e := &p.network.Elements[p.elements[k]]
		v := p.network.Params[e.param].Value
		by := way * (v.High - v.Typ)
		if by == 0 {
			by = way * (v.Low - v.Typ)
		}
		if by == 0 {
			continue
		}
		sign = math.Copysign(1, by)
		e.apply(&p.circuit.Elements[k], p.factor[k]*(v.Typ+by))
	}
	return sign
}

// unnudge puts the values in a place back to the typical ones.
func (p *Piece) unnudge(place int) {
	for k, of := range p.place {
		if of == place {
			e := &p.network.Elements[p.elements[k]]
			e.apply(&p.circuit.Elements[k], p.factor[k]*p.network.Params[e.param].Value.Typ)
		}
	}
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
	for _, r := range p.ratios {
		v := r.at(&out.typical)
		out.ratios = append(out.ratios, Range{v, v, v})
	}
	return out, nil
}

// SourceOhms returns the resistance of the source at a node in the state that
// was solved: how far the node's voltage falls for a little more of the current
// that a leakage element draws there.
func (s *Solved) SourceOhms(state State, node circuit.Node, leak int) (float64, error) {
	p := s.piece
	p.set(state)
	sol := circuit.Solution{V: slices.Clone(s.typical.V), I: slices.Clone(s.typical.I)}
	if err := p.solveCorner(&sol, make([]int8, p.places)); err != nil {
		return 0, err
	}
	v, k := sol.V[p.local[node]], p.index[leak]
	const more = 1e-9 // amperes
	p.circuit.Elements[k].Value += more
	err := p.solver.Tangent(&sol)
	p.circuit.Elements[k].Value -= more
	return (v - sol.V[p.local[node]]) / more, err
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
