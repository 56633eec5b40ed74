package wiring

import (
	"fmt"
	"math"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
)

// Footing says what gives a place its voltage.
type Footing uint8

// The footings.
const (
	Afloat Footing = iota // nothing but leakage
	OnHold                // resistances, by way of which a rail or ground holds it
	OnRail                // it is a rail that something feeds
	OnGround
)

// A Probe is the voltage of one place above another.
type Probe struct {
	Range
	Of, Over Footing
}

// Volts returns the voltage of one place above another, with the controls as
// they are set; see [Network.Resolve]. Its error says why the circuit has no
// answer.
func (n *Network) Volts(settings []float64, of, over build.Terminal) (Probe, error) {
	a, b := n.Node(of), n.Node(over)
	var probe Probe
	x, err := n.probed(settings, a, &probe.Of)
	if err != nil {
		return Probe{}, err
	}
	y, err := n.probed(settings, b, &probe.Over)
	switch {
	case err != nil:
		return Probe{}, err
	case x != nil && (y != nil && y.Piece == x.Piece || n.stiff[b] && x.has(b)):
		probe.Range = x.Across(a, b)
	case y != nil && n.stiff[a] && y.has(a):
		probe.Range = y.Across(a, b)
	default:
		// Two pieces, or a rail that the piece does not touch. What they share is the
		// rails' corner, which moves both alike and is left aside here: the range is
		// no narrower than it can be.
		u, v := n.alone(x, a), n.alone(y, b)
		probe.Range = u.Add(v.Minus())
	}
	return probe, nil
}

// probed solves the piece of a node, which is nil for a stiff one and one that
// nothing is at.
func (n *Network) probed(settings []float64, node circuit.Node, footing *Footing) (*Solved, error) {
	switch {
	case node == circuit.Ground:
		*footing = OnGround
	case n.stiff[node]:
		*footing = OnRail
	}
	p := n.PieceOf(node)
	if p == nil {
		return nil, nil
	}
	s, err := p.At(p.Restrict(settings))
	if err == nil && s.Held(node) {
		*footing = OnHold
	}
	return s, err
}

func (s *Solved) has(node circuit.Node) bool {
	_, ok := s.Piece.local(node)
	return ok
}

// alone is the voltage of a node above ground.
func (n *Network) alone(s *Solved, node circuit.Node) Range {
	if s != nil {
		return s.Volts(node)
	}
	v := n.FedVolts(node)
	return Range{v.Low, v.Typ, v.High}
}

// Amps returns the current that flows from the wires at a leg into it: what an
// ammeter reads that the leg is taken off its wires for.
func (n *Network) Amps(settings []float64, leg build.Terminal) (Range, error) {
	return n.AmpsThrough(settings, leg, 0)
}

// AmpsThrough is [Network.Amps] with an ammeter that has a resistance, its burden.
func (n *Network) AmpsThrough(settings []float64, leg build.Terminal, burden float64) (Range, error) {
	net := n.places.net[n.at(leg)]
	if net < 0 {
		return Range{}, nil
	}
	loose := n.With(Loose(leg))
	for place, other := range loose.places.net {
		if other == net && loose.places.node[place] == loose.Node(leg) {
			return Range{}, nil // a leg that it is joined to inside goes to the same wires
		}
	}
	m := n.With(Loose(leg), Change{kind: metered, a: leg, net: net, to: burden})
	meter := len(m.Elements) - 1
	p := m.PieceWith(meter)
	s, err := p.At(p.Restrict(append(settings[:len(settings):len(settings)], m.rest(len(settings))...)))
	if err != nil {
		return Range{}, err
	}
	return s.Amps(meter), nil
}

// rest are the settings of controls that have come since.
func (n *Network) rest(from int) (out []float64) {
	for i := from; i < len(n.Controls); i++ {
		out = append(out, n.Controls[i].Planned[0])
	}
	return out
}

// A Tester is what measures without the board's power: a source with its inner
// resistance. An ohmmeter has one too weak for a junction, a diode test one that
// lifts a lamp.
type Tester struct {
	Volts float64 `json:"volts"` // with nothing between its tips
	Ohms  float64 `json:"ohms"`  // inside
}

// Testers of a usual handheld meter (common practice).
var (
	Ohmmeter  = Tester{Volts: 0.3, Ohms: 1e3}
	DiodeTest = Tester{Volts: 3, Ohms: 2e3}
)

// A Test is what a tester finds between two places.
type Test struct {
	Volts Range // that are left between its tips
	Ohms  Range // that it makes of them; +Inf where no current flows
}

// Test returns what a tester finds from one place, at its red tip, to another
// while nothing is powered. It wants a network with [Unpowered], or one whose
// parts stand alone.
func (n *Network) Test(settings []float64, t Tester, red, black build.Terminal) (Test, error) {
	if n.Node(red) == n.Node(black) {
		return Test{}, nil
	}
	s, err := n.tested(settings, t, red, black)
	if err != nil {
		return Test{}, err
	}
	volts := s.Across(s.Piece.network.Node(red), s.Piece.network.Node(black))
	return Test{volts, Range{t.Makes(volts.Low), t.Makes(volts.Typ), t.Makes(volts.High)}}, nil
}

// TypicalTest is [Network.Test] at the typical values alone, at a part of its cost.
func (n *Network) TypicalTest(settings []float64, t Tester, red, black build.Terminal) (volts, ohms float64, err error) {
	if n.Node(red) == n.Node(black) {
		return 0, 0, nil
	}
	s, err := n.tested(settings, t, red, black)
	if err != nil {
		return 0, 0, err
	}
	volts = s.Typical(s.Piece.network.Node(red)) - s.Typical(s.Piece.network.Node(black))
	return volts, t.Makes(volts), nil
}

// tested solves the network with a tester between two places.
func (n *Network) tested(settings []float64, t Tester, red, black build.Terminal) (*Solved, error) {
	m := n.With(
		Between(black, red, circuit.Element{Kind: circuit.CurrentSource, Value: t.Volts / t.Ohms}),
		Between(red, black, circuit.Element{Kind: circuit.Resistor, Value: t.Ohms}))
	p := m.PieceWith(len(m.Elements) - 1)
	s, err := p.At(p.Restrict(append(settings[:len(settings):len(settings)], m.rest(len(settings))...)))
	if err != nil {
		return nil, fmt.Errorf("a test from %s to %s: %w", red, black, err)
	}
	return s, nil
}

// Makes is the resistance that a tester makes of a voltage between its tips.
func (t Tester) Makes(v float64) float64 {
	// Within a part in 10⁹ of nothing flowing, nothing flows.
	if left := t.Volts - v; left > 1e-9*t.Volts {
		return math.Max(0, v*t.Ohms/left)
	}
	return math.Inf(1)
}

// Typical returns the voltage of a place above ground at the typical values: the
// cheapest question that there is.
func (n *Network) Typical(settings []float64, of build.Terminal) (float64, error) {
	node := n.Node(of)
	p := n.PieceOf(node)
	if p == nil {
		return n.alone(nil, node).Typ, nil
	}
	s, err := p.At(p.Restrict(settings))
	if err != nil {
		return 0, err
	}
	return s.Typical(node), nil
}
