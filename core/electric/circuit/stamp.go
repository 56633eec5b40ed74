package circuit

// stamp writes the equations of a piece: the currents out of each unknown node
// sum to zero, and each branch source holds its voltage.
func (s *Solver) stamp(sol *Solution, p *piece, gjunction float64) {
	c, a, b, n := s.circuit, p.a, p.b, len(p.unknowns)
	clear(a)
	clear(b)
	conductance := func(na, nb Node, g float64) {
		for _, e := range [2][2]Node{{na, nb}, {nb, na}} {
			row := s.index[e[0]]
			if row < 0 {
				continue
			}
			a[row*n+row] += g
			if col := s.index[e[1]]; col >= 0 {
				a[row*n+col] -= g
			} else {
				b[row] += g * sol.V[e[1]]
			}
		}
	}
	current := func(na, nb Node, i float64) {
		if row := s.index[na]; row >= 0 {
			b[row] -= i
		}
		if row := s.index[nb]; row >= 0 {
			b[row] += i
		}
	}
	for k, u := range p.unknowns {
		if u >= 0 {
			a[k*n+k] += s.floor
		}
	}
	for _, i := range p.elements {
		e := &c.Elements[i]
		switch e.Kind {
		case Resistor:
			conductance(e.A, e.B, 1/e.Value)
		case Switch:
			if !e.Open {
				conductance(e.A, e.B, 1/e.Value)
			}
		case Diode:
			v := s.vd[i]
			t := s.at(i, v)
			g := t.g + gjunction
			id := t.i + gjunction*v
			conductance(e.A, e.B, g)
			current(e.A, e.B, id-g*v)
		case CurrentSource:
			current(e.A, e.B, e.Value)
		case Capacitor:
			if s.held != nil {
				conductance(e.A, e.B, 1/esr)
				current(e.A, e.B, -s.held[i]/esr)
			}
		case Inductor:
			if s.held != nil {
				current(e.A, e.B, s.held[i])
			} else {
				conductance(e.A, e.B, 1/e.Ohms)
			}
		case Transport, Channel:
			i0, gb, ga := e.steeredAt(s.vd[i], s.va[i])
			i0 -= gb*s.vd[i] + ga*s.va[i]
			current(e.A, e.B, i0)
			for _, end := range [2]struct {
				node Node
				sign float64
			}{{e.A, 1}, {e.B, -1}} {
				row := s.index[end.node]
				if row < 0 {
					continue
				}
				for _, by := range [3]struct {
					node Node
					g    float64
				}{{e.Control, gb + ga}, {e.B, -gb}, {e.A, -ga}} {
					if col := s.index[by.node]; col >= 0 {
						a[row*n+col] += end.sign * by.g
					} else {
						b[row] -= end.sign * by.g * sol.V[by.node]
					}
				}
			}
		case VoltageSource:
			k := s.branch[i]
			for _, end := range []struct {
				node Node
				sign float64
			}{{e.A, 1}, {e.B, -1}} {
				if row := s.index[end.node]; row >= 0 {
					a[row*n+k] += end.sign
					a[k*n+row] += end.sign
				} else {
					b[k] -= end.sign * sol.V[end.node]
				}
			}
			b[k] += e.Value
		}
	}
}

// flow fills in the current of every element from the voltages. A stiff node's
// source carries whatever the other elements there leave over.
func (s *Solver) flow(sol *Solution) {
	c := s.circuit
	for i := range c.Elements {
		e := &c.Elements[i]
		v := sol.Across(e.A, e.B)
		switch e.Kind {
		case Resistor:
			sol.I[i] = v / e.Value
		case Switch:
			sol.I[i] = 0
			if !e.Open {
				sol.I[i] = v / e.Value
			}
		case Diode:
			sol.I[i] = s.at(i, v).i
		case CurrentSource:
			sol.I[i] = e.Value
		case Capacitor:
			sol.I[i] = 0
			if s.held != nil {
				sol.I[i] = (v - s.held[i]) / esr
			}
		case Inductor:
			sol.I[i] = v / e.Ohms
			if s.held != nil {
				sol.I[i] = s.held[i]
			}
		case Transport, Channel:
			sol.I[i], _, _ = e.steeredAt(sol.Across(e.Control, e.B), sol.Across(e.Control, e.A))
		case VoltageSource:
			if s.index[e.A] < 0 && s.index[e.B] < 0 {
				sol.I[i] = 0
			}
		}
	}
	for k := len(s.fixed) - 1; k >= 0; k-- {
		f := s.fixed[k]
		var out float64
		for i := range c.Elements {
			e := &c.Elements[i]
			if i == f.source {
				continue
			}
			if e.A == f.node {
				out += sol.I[i]
			}
			if e.B == f.node {
				out -= sol.I[i]
			}
		}
		if c.Elements[f.source].A == f.node {
			out = -out
		}
		sol.I[f.source] = out
	}
}
