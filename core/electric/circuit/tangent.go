package circuit

// A Form is a linear function of a solution: voltages of nodes and currents of
// elements, each times a weight. The zero Form is zero everywhere.
type Form struct {
	Volts []Weight // At is a node
	Amps  []Weight // At is the index of an element
}

// A Weight is what one voltage or current of a form is multiplied by.
type Weight struct {
	At int
	By float64
}

// Of returns the value of the form in a solution.
func (f Form) Of(sol *Solution) (sum float64) {
	for _, w := range f.Volts {
		sum += w.By * sol.V[w.At]
	}
	for _, w := range f.Amps {
		sum += w.By * sol.I[w.At]
	}
	return sum
}

// A Tangent is a circuit's equations made straight at a solution. It stays good
// when the solver goes on to other values.
type Tangent struct {
	solver *Solver
	pieces []factors
	slope  [][3]float64 // by element: of its current by the voltages of A, B and Control
}

type factors struct {
	a      []float64
	pivots []int
}

// Linearize returns the tangent at a solution of the circuit with its present
// values: the equations of each piece are factored once, and what the tangent is
// asked then costs a substitution.
func (s *Solver) Linearize(sol *Solution) (*Tangent, error) {
	s.begin(sol)
	t := &Tangent{solver: s, pieces: make([]factors, len(s.pieces)), slope: make([][3]float64, len(s.circuit.Elements))}
	for i := range s.pieces {
		p := &s.pieces[i]
		s.stamp(sol, p, gmin)
		x := factors{make([]float64, len(p.a)), make([]int, len(p.pivots))}
		copy(x.a, p.a)
		if !factor(x.a, len(p.unknowns), x.pivots) {
			return nil, singular(p)
		}
		t.pieces[i] = x
	}
	for i := range s.circuit.Elements {
		t.slope[i] = s.slopes(i, sol)
	}
	return t, nil
}

// Effects says what each element does to a form: for a voltage source by how much
// the form grows for each volt more, and for any other element for each ampere
// more that it would let through at the same voltages. It is the adjoint of the
// tangent equations, so that one substitution answers for all elements at once
// (Director and Rohrer, IEEE Trans. Circuit Theory 16(3), 1969). The result is
// written into the slice given, which has the length of the circuit's elements.
// It must not be called while the solver is in use.
func (t *Tangent) Effects(f Form, into []float64) {
	s := t.solver
	c := s.circuit
	clear(into)
	for _, w := range f.Amps {
		into[w.At] += w.By
	}
	// The source of a stiff node carries what the other elements there leave over.
	for _, x := range s.fixed {
		by := into[x.source]
		if by == 0 {
			continue
		}
		if c.Elements[x.source].A == x.node {
			by = -by
		}
		for i := range c.Elements {
			if e := &c.Elements[i]; i != x.source {
				if e.A == x.node {
					into[i] += by
				}
				if e.B == x.node {
					into[i] -= by
				}
			}
		}
	}
	volts := s.volts
	clear(volts)
	for _, w := range f.Volts {
		volts[w.At] += w.By
	}
	t.toNodes(into, volts)
	for i := range s.pieces {
		p := &s.pieces[i]
		for k, u := range p.unknowns {
			if u >= 0 {
				p.b[k] = volts[u]
			} else {
				p.b[k] = into[^u]
			}
		}
		transposed(t.pieces[i].a, len(p.unknowns), t.pieces[i].pivots, p.b)
		for _, k := range p.elements {
			e := &c.Elements[k]
			if e.Kind == VoltageSource {
				into[k] = p.b[s.branch[k]]
				continue
			}
			if row := s.index[e.A]; row >= 0 {
				into[k] -= p.b[row]
			}
			if row := s.index[e.B]; row >= 0 {
				into[k] += p.b[row]
			}
		}
	}
	// What a volt more at a stiff node does, and with it at those that hang on it.
	clear(volts)
	for _, w := range f.Volts {
		volts[w.At] += w.By
	}
	for _, x := range s.fixed {
		into[x.source] = 0
	}
	t.toNodes(into, volts)
	for i := range s.pieces {
		for _, k := range s.pieces[i].elements {
			if e := &c.Elements[k]; e.Kind == VoltageSource {
				volts[e.A] -= into[k]
				volts[e.B] += into[k]
			}
		}
	}
	for k := len(s.fixed) - 1; k >= 0; k-- {
		x := s.fixed[k]
		into[x.source] = volts[x.node]
		if c.Elements[x.source].A != x.node {
			into[x.source] = -into[x.source]
		}
		volts[x.from] += volts[x.node]
	}
}

// toNodes adds what weights of currents are as weights of the voltages that the
// currents come from.
func (t *Tangent) toNodes(amps, volts []float64) {
	for i := range t.slope {
		if by := amps[i]; by != 0 {
			e, g := &t.solver.circuit.Elements[i], &t.slope[i]
			volts[e.A] += by * g[0]
			volts[e.B] += by * g[1]
			volts[e.Control] += by * g[2]
		}
	}
}

// moved writes how the nodes move for each unit more of what an element
// remembers.
func (t *Tangent) moved(element int, into []float64) {
	s := t.solver
	clear(into)
	e := &s.circuit.Elements[element]
	by := 1 / esr
	if e.Kind == Inductor {
		by = -1
	}
	for i := range s.pieces {
		p := &s.pieces[i]
		clear(p.b)
		touched := false
		for _, end := range [2]struct {
			node Node
			by   float64
		}{{e.A, by}, {e.B, -by}} {
			if row := s.index[end.node]; row >= 0 && row < len(p.unknowns) && p.unknowns[row] == int(end.node) {
				p.b[row] += end.by
				touched = true
			}
		}
		if !touched {
			continue
		}
		substitute(t.pieces[i].a, len(p.unknowns), t.pieces[i].pivots, p.b)
		for k, u := range p.unknowns {
			if u >= 0 {
				into[u] = p.b[k]
			}
		}
	}
}

// slopes are the derivatives of an element's current by the voltages of A, B and
// Control.
func (s *Solver) slopes(i int, sol *Solution) [3]float64 {
	e := &s.circuit.Elements[i]
	g := 0.0
	switch e.Kind {
	case Resistor:
		g = 1 / e.Value
	case Switch:
		if !e.Open {
			g = 1 / e.Value
		}
	case Inductor:
		if s.held == nil {
			g = 1 / e.Ohms
		}
	case Capacitor:
		if s.held != nil {
			g = 1 / esr
		}
	case Diode:
		g = s.at(i, sol.Across(e.A, e.B)).g
	case Transport, Channel:
		_, gb, ga := e.steeredAt(sol.Across(e.Control, e.B), sol.Across(e.Control, e.A))
		return [3]float64{-ga, -gb, gb + ga}
	}
	return [3]float64{g, -g, 0}
}

// Amps returns the current that the element lets through from A to B, with its
// present values, at the voltages of a solution at rest. That of a voltage source
// depends on everything else; for it the result is zero.
func (e *Element) Amps(sol *Solution) float64 {
	v := sol.Across(e.A, e.B)
	switch e.Kind {
	case Resistor:
		return v / e.Value
	case Switch:
		if !e.Open {
			return v / e.Value
		}
	case Inductor:
		return v / e.Ohms
	case Diode:
		i, _ := e.Junction.at(v)
		return i
	case CurrentSource:
		return e.Value
	case Transport, Channel:
		i, _, _ := e.steeredAt(sol.Across(e.Control, e.B), sol.Across(e.Control, e.A))
		return i
	}
	return 0
}
