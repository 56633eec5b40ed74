package wiring

import (
	"math"
	"slices"
	"sync/atomic"

	"cablaggio/core/electric/circuit"
)

// A Range is a quantity over all corners of the tolerances.
type Range struct {
	Low  float64 `json:"low"`
	Typ  float64 `json:"typ"`
	High float64 `json:"high"`
}

// Peak returns the larger magnitude of the two ends.
func (r Range) Peak() float64 { return math.Max(math.Abs(r.Low), math.Abs(r.High)) }

// Add returns the sum of two quantities of which every low end can be together
// with every other, and every high end: of pieces that share nothing.
func (r Range) Add(s Range) Range { return Range{r.Low + s.Low, r.Typ + s.Typ, r.High + s.High} }

// Minus returns the quantity with the other sign.
func (r Range) Minus() Range { return Range{-r.High, -r.Typ, -r.Low} }

// A Solved is a piece in one state. It answers for the typical values and for
// the worst corner of whatever is asked, which is searched when it is asked for.
type Solved struct {
	Piece *Piece
	State State
	point *point
	as    *moves

	words   atomic.Pointer[string] // told once
	address atomic.Pointer[Settings]
}

// element and node say where in the point things of the pattern stand.
func (s *Solved) element(k int) int {
	if s.as == nil {
		return k
	}
	return int(s.as.elements[k])
}

func (s *Solved) node(l circuit.Node) int {
	if s.as == nil {
		return int(l)
	}
	return int(s.as.nodes[l])
}

// amps and volts are typical ones, of an element and a node of the pattern.
func (s *Solved) amps(k int) float64           { return s.point.typical.I[s.element(k)] }
func (s *Solved) volts(l circuit.Node) float64 { return s.point.typical.V[s.node(l)] }

// At returns the piece in a state. Its error says why the circuit has no answer.
func (p *Piece) At(s State) (*Solved, error) {
	p.enter(p.network)
	defer p.leave()
	v, err := p.viewOf(s)
	if err != nil {
		return nil, p.failed(s, err)
	}
	return &Solved{Piece: p, State: v.state, point: v.point, as: v.as}, nil
}

// Words says the state in words.
func (s *Solved) Words() string {
	if w := s.words.Load(); w != nil {
		return *w
	}
	w := s.Piece.Describe(s.State)
	s.words.Store(&w)
	return w
}

// Address returns the settings of the piece's controls. They are shared, and must
// not be changed.
func (s *Solved) Address() Settings {
	if a := s.address.Load(); a != nil {
		return *a
	}
	a := s.Piece.Address(s.State)
	s.address.Store(&a)
	return a
}

// Volts returns the range of a node's voltage; of a node that is not in the
// piece it is zero.
func (s *Solved) Volts(node circuit.Node) Range {
	l, ok := s.Piece.local(node)
	if !ok {
		return Range{}
	}
	s.Piece.enter(s.Piece.network)
	defer s.Piece.leave()
	return s.Piece.voltsAt(s.point, s.node(l))
}

// Typical returns a node's voltage at the typical values.
func (s *Solved) Typical(node circuit.Node) float64 {
	l, ok := s.Piece.local(node)
	if !ok {
		return 0
	}
	return s.volts(l)
}

// Amps returns the range of the current through an element of the network.
func (s *Solved) Amps(element int) Range {
	k := s.Piece.localElement(element)
	if k < 0 {
		return Range{}
	}
	s.Piece.enter(s.Piece.network)
	defer s.Piece.leave()
	return s.Piece.ampsAt(s.point, s.element(k))
}

// TypicalAmps returns the current through an element at the typical values.
func (s *Solved) TypicalAmps(element int) float64 {
	k := s.Piece.localElement(element)
	if k < 0 {
		return 0
	}
	return s.amps(k)
}

// Max returns the largest that the current through an element can be: the High of
// [Solved.Amps], at half of its cost.
func (s *Solved) Max(element int) float64 {
	k := s.Piece.localElement(element)
	if k < 0 {
		return 0
	}
	p := s.Piece.pattern
	p.enter(s.Piece.network)
	defer p.leave()
	v, _ := p.worst(s.point, ampsOf(s.element(k)), 1, nil)
	return v
}

// Across returns the range of the voltage of a above b, which is no wider than
// it can be: both move together.
func (s *Solved) Across(a, b circuit.Node) Range {
	x, okA := s.Piece.local(a)
	y, okB := s.Piece.local(b)
	if !okA || !okB {
		return Range{}
	}
	return s.of(&quantityForm{form: circuit.Form{Volts: []circuit.Weight{{At: s.node(x), By: 1}, {At: s.node(y), By: -1}}}})
}

// Watts returns the range of what an element turns into heat: the voltage across
// it times its current, at one corner.
func (s *Solved) Watts(element int) Range {
	k := s.Piece.localElement(element)
	if k < 0 {
		return Range{}
	}
	e := &s.Piece.circuit.Elements[k]
	across := circuit.Form{Volts: []circuit.Weight{{At: s.node(e.A), By: 1}, {At: s.node(e.B), By: -1}}}
	q := ampsOf(s.element(k))
	q.times = &across
	return s.of(q)
}

// Ratio returns the range of a node's voltage as a part of another's, and
// whether the piece has both. Both may move with the supply, so it is narrower
// than the one over the other.
func (s *Solved) Ratio(of, over circuit.Node) (Range, bool) {
	x, okA := s.Piece.local(of)
	y, okB := s.Piece.local(over)
	if !okA || !okB || y == circuit.Ground {
		return Range{}, false
	}
	return s.of(&quantityForm{form: circuit.Form{Volts: []circuit.Weight{{At: s.node(x), By: 1}}}, over: circuit.Node(s.node(y))}), true
}

// Against returns the voltages of a node and of a rail at one corner: that in which the
// node has most over a part of the rail's voltage, or least. They are zero where the piece
// has not both.
func (s *Solved) Against(node, rail circuit.Node, part float64, most bool) (volts, of float64) {
	x, okA := s.Piece.local(node)
	y, okB := s.Piece.local(rail)
	if !okA || !okB {
		return 0, 0
	}
	p := s.Piece.pattern
	p.enter(s.Piece.network)
	defer p.leave()
	q := &quantityForm{form: circuit.Form{Volts: []circuit.Weight{{At: s.node(x), By: 1}, {At: s.node(y), By: -part}}}}
	sign := int8(-1)
	if most {
		sign = 1
	}
	value, at := p.worst(s.point, q, sign, nil)
	of = s.point.typical.V[s.node(y)]
	if at.sol != nil {
		of = at.sol.V[s.node(y)]
	}
	return value + part*of, of
}

func (s *Solved) of(q *quantityForm) Range {
	p := s.Piece.pattern
	p.enter(s.Piece.network)
	defer p.leave()
	return p.span(s.point, q)
}

// Held reports whether a path of conducting resistances leads from the node to
// a rail or ground. A node that is not held floats: nothing but leakage says
// what its voltage is.
func (s *Solved) Held(node circuit.Node) bool { return s.reaches(node, false) }

// Kept reports whether a node is held, or has a capacitor that keeps its voltage for a while.
func (s *Solved) Kept(node circuit.Node) bool { return s.reaches(node, true) }

func (s *Solved) reaches(node circuit.Node, capacitors bool) bool {
	p := s.Piece
	n := p.network
	if n.Stiff(node) {
		return true
	}
	start, ok := p.local(node)
	if !ok {
		return false
	}
	seen := make([]bool, len(p.nodes))
	seen[start] = true
	for queue := []circuit.Node{start}; len(queue) > 0; queue = queue[1:] {
		if n.Stiff(p.nodes[queue[0]]) {
			return true
		}
		for k := range p.circuit.Elements {
			e := &p.circuit.Elements[k]
			switch e.Kind {
			case circuit.Resistor, circuit.Switch, circuit.Inductor:
			case circuit.Capacitor:
				if capacitors && (e.A == queue[0] || e.B == queue[0]) {
					return true
				}
				continue
			default:
				continue
			}
			if p.open(k, s.State) {
				continue
			}
			for _, ends := range [2][2]circuit.Node{{e.A, e.B}, {e.B, e.A}} {
				if ends[0] == queue[0] && !seen[ends[1]] {
					seen[ends[1]] = true
					queue = append(queue, ends[1])
				}
			}
		}
	}
	return false
}

// SourceOhms returns the resistance of the source at a node: how far the node's
// voltage falls for each ampere more that a leakage element draws there, at the
// typical values.
func (s *Solved) SourceOhms(node circuit.Node, leak int) float64 {
	p := s.Piece.pattern
	l, _ := s.Piece.local(node)
	k := s.Piece.localElement(leak)
	p.mu.Lock()
	defer p.mu.Unlock()
	typical := p.typical(s.point)
	if !p.linearize(s.point, typical) {
		return math.Inf(1)
	}
	typical.tangent.Effects(circuit.Form{Volts: []circuit.Weight{{At: s.node(l), By: 1}}}, p.effects)
	return -p.effects[s.element(k)]
}

// Sensitivity returns by how many volts the node moves for each unit of what a
// level measures: the larger of the slopes to both sides of it.
func (s *Solved) Sensitivity(control int, node circuit.Node) (float64, error) {
	at := slices.Index(s.Piece.Controls, control)
	l, ok := s.Piece.local(node)
	if at < 0 || !ok {
		return 0, nil
	}
	level := s.State[at]
	step := math.Max(math.Abs(level), 0.1) * 1e-3
	slope := 0.0
	state := slices.Clone(s.State)
	p := s.Piece.pattern
	p.enter(s.Piece.network)
	defer p.leave()
	var sol circuit.Solution
	for _, to := range []float64{level - step, level + step} {
		state[at] = to
		p.set(state, nil)
		if err := p.solver.Solve(&sol); err != nil {
			return 0, err
		}
		slope = math.Max(slope, math.Abs(sol.V[l]-s.volts(l))/step)
	}
	return slope, nil
}

// Circuit returns the circuit of the piece alone, with the rails that it
// touches, in a state and at a corner: for each of its tolerances −1 for its low
// end, 0 for typical, 1 for its high end; nil is typical.
func (p *Piece) Circuit(s State, corner []int8) *circuit.Circuit {
	p.mu.Lock()
	defer p.mu.Unlock()
	p.prepare()
	p.set(s, corner)
	c := p.circuit
	c.Elements = slices.Clone(c.Elements)
	return &c
}

// Tolerances returns how many tolerances the piece has that have a low and a high
// end.
func (p *Piece) Tolerances() int { return len(p.params) }

// Corners lists the corners that have been looked at in the state so far, the
// typical one first.
func (s *Solved) Corners() [][]int8 {
	p := s.Piece.pattern
	p.enter(s.Piece.network)
	defer p.leave()
	out := [][]int8{p.typical(s.point).at}
	for _, c := range s.point.corners[1:] {
		if c.sol != nil {
			out = append(out, c.at)
		}
	}
	return out
}

// Drawn returns the circuit of the piece in the state, with each tolerance at a
// value between its ends that the caller draws.
func (s *Solved) Drawn(draw func(low, high float64) float64) *circuit.Circuit {
	p := s.Piece.pattern
	c := s.Piece.Circuit(s.State, nil)
	values := make([]float64, len(p.params))
	for i, t := range p.params {
		values[i] = draw(t.low, t.high)
	}
	for k, x := range p.parts {
		if x.param >= 0 {
			factor := 1.0
			if x.control >= 0 {
				factor = x.turn(&c.Elements[k], s.State[x.control])
			}
			x.law.apply(&c.Elements[k], factor*values[x.param])
		}
	}
	return c
}
