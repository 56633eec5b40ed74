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
	p.busy.Lock()
	defer p.busy.Unlock()
	out, err := p.typical(s)
	if err != nil {
		return nil, err
	}
	corners, err := p.corners(out)
	if err != nil {
		return nil, err
	}
	sol := p.blank()
	for _, corner := range corners[1:] { // the first is the typical one
		p.guess(&sol, &out.typical, corner)
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

// guess puts voltages to where the slopes at the typical solution lead in a
// corner, from where Newton's iteration has the least way. Where transistors
// switch it leads astray, and the typical voltages stand.
func (p *Piece) guess(sol, typical *circuit.Solution, corner []int8) {
	copy(sol.V, typical.V)
	if p.switches {
		return
	}
	for i := range sol.V {
		for k, c := range corner {
			sol.V[i] += float64(c) * p.effects[i*p.places+k]
		}
	}
}

// blank returns room for a solution of the piece, which is used again.
func (p *Piece) blank() circuit.Solution {
	if len(p.room.V) != p.circuit.Nodes() {
		p.room = circuit.Solution{V: make([]float64, p.circuit.Nodes()), I: make([]float64, len(p.circuit.Elements))}
	}
	return p.room
}

func (r *Range) widen(v float64) { r.Low, r.High = math.Min(r.Low, v), math.Max(r.High, v) }

// given lists the quantities of the piece, its voltages, currents and ratios one
// after another, that a source gives whatever is around it.
func (p *Piece) given() []bool {
	nodes := p.circuit.Nodes()
	out := make([]bool, nodes+len(p.elements)+len(p.ratios))
	for k := range p.elements {
		switch c := &p.circuit.Elements[k]; c.Kind {
		case circuit.VoltageSource:
			out[c.A] = true
		case circuit.CurrentSource:
			out[nodes+k] = true
		}
	}
	return out
}

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
	p.busy.Lock()
	defer p.busy.Unlock()
	return p.typical(s)
}

func (p *Piece) typical(s State) (*Solved, error) {
	out := p.set(s)
	if err := p.solveCorner(&out.typical, make([]int8, p.places)); err != nil {
		return nil, fmt.Errorf("%s: %w", p.Describe(s), err)
	}
	nodes, elements := len(out.typical.V), len(out.typical.I)
	ranges := make([]Range, nodes+elements+len(p.ratios))
	out.volts, out.amps, out.ratios = ranges[:nodes:nodes], ranges[nodes:nodes+elements:nodes+elements], ranges[nodes+elements:]
	for i, v := range out.typical.V {
		out.volts[i] = Range{v, v, v}
	}
	for i, v := range out.typical.I {
		out.amps[i] = Range{v, v, v}
	}
	for i, r := range p.ratios {
		v := r.at(&out.typical)
		out.ratios[i] = Range{v, v, v}
	}
	return out, nil
}

// SourceOhms returns the resistance of the source at a node in the state that
// was solved: how far the node's voltage falls for a little more of the current
// that a leakage element draws there.
func (s *Solved) SourceOhms(state State, node circuit.Node, leak int) (float64, error) {
	p := s.piece
	p.busy.Lock()
	defer p.busy.Unlock()
	p.set(state)
	sol := circuit.Solution{V: slices.Clone(s.typical.V), I: slices.Clone(s.typical.I)}
	if err := p.solveCorner(&sol, make([]int8, p.places)); err != nil {
		return 0, err
	}
	v, k := sol.V[p.local[node]], p.index[leak]
	const more = 1e-9 // amperes
	if err := p.solver.Linearize(&sol); err != nil {
		return 0, err
	}
	p.circuit.Elements[k].Value += more
	err := p.solver.Slope(&sol, []int{k})
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
	p.busy.Lock()
	defer p.busy.Unlock()
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
	p.busy.Lock()
	defer p.busy.Unlock()
	solved := p.set(to)
	if err := p.solveCorner(&solved.typical, make([]int8, p.places)); err != nil {
		return math.Inf(1)
	}
	// A circuit of its own: others may be reading where the piece's elements lie.
	kicked := p.circuit
	kicked.Elements = slices.Clone(p.circuit.Elements)
	was := &kicked.Elements[p.index[coil]]
	*was = circuit.Element{Kind: circuit.CurrentSource, A: was.A, B: was.B, Value: amps}
	sol := circuit.Solution{}
	if err := circuit.NewSolver(&kicked).Solve(&sol); err != nil {
		return math.Inf(1)
	}
	e := p.circuit.Elements[p.index[across]]
	return math.Abs(sol.Across(e.A, e.B))
}
