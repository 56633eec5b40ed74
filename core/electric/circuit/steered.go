package circuit

import "math"

// steeredAt returns the current of a steered element from A to B, at the
// voltages vb from Control to B and va from Control to A, and its slopes by
// both.
//
// Transport: Ebers and Moll, Proc. IRE 42(12), 1954, in the transport form of
// Nagel's SPICE2: Is·(exp(vb/Vt) − exp(va/Vt)). Channel: Shichman and Hodges,
// IEEE J. Solid-State Circuits 3(3), 1968, without the slope of saturation; it
// is symmetrical in A and B.
func (e *Element) steeredAt(vb, va float64) (i, gb, ga float64) {
	if e.Kind == Transport {
		b, a := math.Exp(vb/ThermalVoltage), math.Exp(va/ThermalVoltage)
		k := e.Value / ThermalVoltage
		return e.Value * (b - a), k * b, -k * a
	}
	// Each end pinches the channel by how far its own gate voltage stands above
	// the threshold: the current is the difference of two squares.
	b, a := math.Max(vb-e.Threshold, 0), math.Max(va-e.Threshold, 0)
	return e.Value / 2 * (b*b - a*a), e.Value * b, -e.Value * a
}

// balancedSteered moves a steered element on to the new voltages, like balanced.
func (s *Solver) balancedSteered(sol *Solution, i int) bool {
	e := &s.circuit.Elements[i]
	vb, va := sol.Across(e.Control, e.B), sol.Across(e.Control, e.A)
	lastB, lastA := s.vd[i], s.va[i]
	s.vd[i], s.va[i] = vb, va
	if e.Kind == Transport {
		j := Junction{Is: e.Value, N: 1}
		s.vd[i], s.va[i] = j.limit(vb, lastB), j.limit(va, lastA)
	}
	was, gb, ga := e.steeredAt(lastB, lastA)
	is, _, _ := e.steeredAt(vb, va)
	return s.vd[i] == vb && s.va[i] == va && math.Abs(is-was-gb*(vb-lastB)-ga*(va-lastA)) <= leastAmps+tolerance*math.Abs(is)
}
