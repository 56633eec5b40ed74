package wiring

import (
	"math"
	"slices"

	"cablaggio/core/electric/circuit"
)

// A Motion is a piece that moves through time at its typical values, with all that its
// capacitors and coils remember. Nodes and elements are those of the network.
type Motion struct {
	piece *Piece
	own   *circuit.Circuit
	step  *circuit.Stepper
}

// Remembers reports whether a capacitor or a coil in the piece takes its time over what its controls do.
func (p *Piece) Remembers() bool {
	if len(p.Controls) == 0 {
		return false
	}
	// What an element is stays; its value is somebody else's who may solve the pattern meanwhile.
	for k := range p.circuit.Elements {
		if kind := p.circuit.Elements[k].Kind; kind == circuit.Capacitor || kind == circuit.Inductor {
			return true
		}
	}
	return false
}

// Motion returns the piece in motion from a time in seconds on, at which it is at rest in this
// state. Its error says why the circuit has no answer.
func (s *Solved) Motion(from float64) (*Motion, error) {
	m := &Motion{piece: s.Piece, own: s.Piece.Circuit(s.State, nil)}
	var err error
	if m.step, err = circuit.NewStepper(m.own); err != nil {
		return nil, s.Piece.failed(s.State, err)
	}
	m.step.Return(m.step.Moment().At(from))
	return m, nil
}

// Turn sets the piece's controls: what it remembers stays, and all else follows at once.
func (m *Motion) Turn(s State) {
	copy(m.own.Elements, m.piece.Circuit(s, nil).Elements)
	m.step.Changed()
}

// Of goes on with what a change of the network has made of the piece that left its wires as they
// were, in a state: what it remembers stays.
func (m *Motion) Of(p *Piece, s State) {
	m.piece = p
	m.Turn(s)
}

// To goes on to a time in seconds.
func (m *Motion) To(t float64) error { return m.step.To(t) }

// Ahead looks when the first of some crossings happens before a time, and stays where it is;
// it returns the time where none does.
func (m *Motion) Ahead(t float64, crossings []circuit.Crossing) (float64, error) {
	here := m.step.Moment()
	local := slices.Clone(crossings)
	for i := range local {
		local[i].Node, _ = m.piece.local(local[i].Node)
	}
	_, err := m.step.Until(t, local...)
	at := m.step.Time()
	m.step.Return(here)
	return at, err
}

// Volts returns the voltage of a node now; zero of one that is not in the piece.
func (m *Motion) Volts(node circuit.Node) float64 {
	l, ok := m.piece.local(node)
	sol, err := m.step.Solution()
	if !ok || err != nil {
		return 0
	}
	return sol.V[l]
}

// Across returns the voltage across an element now, without its sign; infinite where a coil's
// current has no way, and zero of one that is not in the piece.
func (m *Motion) Across(element int) float64 {
	k := m.piece.localElement(element)
	if k < 0 {
		return 0
	}
	sol, err := m.step.Solution()
	if err != nil {
		return math.Inf(1)
	}
	return math.Abs(sol.Across(m.own.Elements[k].A, m.own.Elements[k].B))
}

// Amps returns the current through an element now; zero of one that is not in the piece.
func (m *Motion) Amps(element int) float64 {
	k := m.piece.localElement(element)
	sol, err := m.step.Solution()
	if k < 0 || err != nil {
		return 0
	}
	return sol.I[k]
}

// How near a capacitor, in volts, and a coil, as a part of its current or in amperes, is to its rest
// when it counts as being there.
const (
	still       = 0.5e-3
	stillOf     = 1e-3
	stillAmpere = 1e-6
)

// Rests reports whether the motion has come to a state at rest.
func (m *Motion) Rests(s *Solved) bool {
	for k := range m.own.Elements {
		e := &m.own.Elements[k]
		switch e.Kind {
		case circuit.Capacitor:
			if math.Abs(m.step.Held(k)-(s.volts(e.A)-s.volts(e.B))) > still {
				return false
			}
		case circuit.Inductor:
			if at := s.amps(k); math.Abs(m.step.Held(k)-at) > math.Max(stillAmpere, stillOf*math.Abs(at)) {
				return false
			}
		}
	}
	return true
}
