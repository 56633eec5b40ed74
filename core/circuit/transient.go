package circuit

// Transient steps the circuit through time from the state in sol, which holds
// the voltages at the start, n times by h seconds, and calls each after every
// step until it returns false. Values and switches of the circuit may be
// changed in each.
//
// It takes the trapezoidal rule, and Euler's for a first step of two halves:
// after a switch has been thrown the currents of capacitors jump, and the
// trapezoidal rule would ring on the jump (Nagel, SPICE2, 4.4). Its errors are
// those of [Solver.Solve].
func (s *Solver) Transient(sol *Solution, h float64, n int, each func(t float64, sol *Solution) bool) error {
	defer func() { s.step, s.euler = 0, false }()
	for k := range n {
		parts := 1
		s.euler = k == 0
		if s.euler {
			parts = 2
		}
		s.step = h / float64(parts)
		for range parts {
			for i := range s.circuit.Elements {
				e := &s.circuit.Elements[i]
				if e.Kind != Capacitor {
					continue
				}
				s.stored[i] = s.companion(e) * sol.Across(e.A, e.B)
				if !s.euler {
					s.stored[i] += sol.I[i]
				}
			}
			if err := s.Solve(sol); err != nil {
				return err
			}
		}
		if !each(float64(k+1)*h, sol) {
			break
		}
	}
	return nil
}

// companion is the conductance that stands for a capacitor in a step.
func (s *Solver) companion(e *Element) float64 {
	if s.euler {
		return e.Value / s.step
	}
	return 2 * e.Value / s.step
}
