package circuit

import (
	"math"

	"gonum.org/v1/gonum/blas"
	"gonum.org/v1/gonum/lapack/lapack64"
)

// Linearize prepares for [Solver.Slope] at a solution: the tangent equations of
// each piece are factored once. Until the circuit is solved again, any number of
// slopes can be taken from there.
func (s *Solver) Linearize(sol *Solution) error {
	s.begin(sol)
	for i := range s.pieces {
		p := &s.pieces[i]
		s.stamp(sol, p, gmin)
		if !lapack64.Getrf(p.a, p.pivots) {
			return singular(p)
		}
		p.rest = append(p.rest[:0], p.b.Data...)
		s.residual(sol, p, p.rest)
	}
	return nil
}

// Slope moves sol, which holds the solution that was linearized, to where its
// tangent leads after a small change of the values of some elements: to first
// order in the change. It costs a substitution where [Solver.Solve] would factor
// anew.
func (s *Solver) Slope(sol *Solution, changed []int) error {
	for _, i := range changed {
		s.tangent[i].v = math.NaN()
	}
	s.hold(sol)
	for i := range s.pieces {
		p := &s.pieces[i]
		s.residual(sol, p, p.b.Data)
		for k := range p.b.Data {
			p.b.Data[k] = p.rest[k] - p.b.Data[k]
		}
		lapack64.Getrs(blas.NoTrans, p.a, p.b, p.pivots)
		for k, d := range p.b.Data {
			if math.IsNaN(d) {
				return singular(p)
			}
			*p.unknown(sol, k) += d
		}
	}
	s.flow(sol, func(i int, v float64) float64 {
		t := s.tangent[i]
		if math.IsNaN(t.v) {
			t = s.at(i, v) // between two stiff nodes
		}
		return t.i + t.g*(v-t.v)
	})
	for _, i := range changed {
		s.tangent[i].v = math.NaN() // the caller will put the value back
	}
	return nil
}

// residual writes by how much a solution misses the equations of a piece: the
// sum of the currents out of each node, and what each branch source lacks.
func (s *Solver) residual(sol *Solution, p *piece, into []float64) {
	clear(into)
	for k, u := range p.unknowns {
		if u >= 0 {
			into[k] = s.floor * sol.V[u]
		}
	}
	out := func(n Node, amps float64) {
		if row := s.index[n]; row >= 0 {
			into[row] += amps
		}
	}
	for _, i := range p.elements {
		e := &s.circuit.Elements[i]
		v, amps := sol.Across(e.A, e.B), 0.0
		switch e.Kind {
		case Resistor:
			amps = v / e.Value
		case Switch:
			if !e.Open {
				amps = v / e.Value
			}
		case Diode:
			amps = s.at(i, v).i + gmin*v
		case CurrentSource:
			amps = e.Value
		case Transport, Channel:
			amps, _, _ = e.steeredAt(sol.Across(e.Control, e.B), sol.Across(e.Control, e.A))
		case VoltageSource:
			amps = sol.I[i]
			into[s.branch[i]] = v - e.Value
		}
		out(e.A, amps)
		out(e.B, -amps)
	}
}
