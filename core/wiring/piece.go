package wiring

import (
	"fmt"
	"iter"
	"math"
	"slices"
	"strings"

	"cablaggio/core/circuit"
)

// A Piece is a part of the network that nothing outside influences.
type Piece struct {
	Elements []int // indices into Network.Elements, without the rails' sources
	Controls []int // indices into Network.Controls

	network  *Network
	params   []int // indices into Network.Params
	circuit  circuit.Circuit
	elements []int // element of circuit -> index into Network.Elements
	local    map[circuit.Node]circuit.Node
	solver   *circuit.Solver
	factor   []float64 // by element of circuit: what the state multiplies its value by
}

// A State sets the controls of a piece, in the order of its Controls.
type State []int

// addPieces splits the network, and makes a circuit of its own for each piece.
// Pieces that share a control are one: it moves them together.
func (n *Network) addPieces() {
	at := map[int]*Piece{}
	for _, elements := range n.circuit.Pieces() {
		p := &Piece{network: n}
		members := []*Piece{p}
		for _, i := range elements {
			c := n.Elements[i].control
			if q, ok := at[c]; ok && c >= 0 && !slices.Contains(members, q) {
				members = append(members, q)
			}
		}
		p.Elements = elements
		for _, q := range members[1:] {
			p.Elements = append(p.Elements, q.Elements...)
			n.Pieces = slices.DeleteFunc(n.Pieces, func(x *Piece) bool { return x == q })
		}
		n.Pieces = append(n.Pieces, p)
		for _, i := range p.Elements {
			if c := n.Elements[i].control; c >= 0 {
				at[c] = p
			}
		}
	}
	for _, p := range n.Pieces {
		p.extract()
	}
}

// extract copies the piece's elements and the rails they touch into a circuit.
func (p *Piece) extract() {
	n := p.network
	slices.Sort(p.Elements)
	p.local = map[circuit.Node]circuit.Node{circuit.Ground: circuit.Ground}
	node := func(g circuit.Node) circuit.Node {
		l, ok := p.local[g]
		if !ok {
			l = p.circuit.Node()
			p.local[g] = l
		}
		return l
	}
	copyElement := func(i int) {
		e := n.circuit.Elements[i]
		e.A, e.B = node(e.A), node(e.B)
		p.circuit.Add(e)
		p.elements = append(p.elements, i)
		if q := n.Elements[i].param; q >= 0 && !slices.Contains(p.params, q) {
			p.params = append(p.params, q)
		}
		if c := n.Elements[i].control; c >= 0 && !slices.Contains(p.Controls, c) {
			p.Controls = append(p.Controls, c)
		}
	}
	for _, i := range p.Elements {
		copyElement(i)
	}
	for i, e := range n.Elements {
		if _, used := p.local[n.circuit.Elements[i].A]; e.Role == Rail && used {
			copyElement(i)
		}
	}
	p.solver = circuit.NewSolver(&p.circuit)
	p.factor = slices.Repeat([]float64{1}, len(p.elements))
}

// MaxStates is how many states of one piece are looked at one by one.
const MaxStates = 4096

// Exhaustive reports whether States yields every planned state.
func (p *Piece) Exhaustive() bool { return p.count(Control.planned) <= MaxStates }

func (p *Piece) count(settings func(Control) int) int {
	total := 1
	for _, c := range p.Controls {
		if total *= settings(p.network.Controls[c]); total > MaxStates {
			break
		}
	}
	return total
}

// States yields the states that the build as planned can be in: all of them up
// to MaxStates, or else the extremes: everything at its first setting, at its
// last, and each control alone moved from there. The State is valid until the
// next one is asked for.
func (p *Piece) States() iter.Seq[State] { return p.states(Control.planned) }

// PreviousStates yields the states that an old program could bring about: the
// planned settings of everything else with one input driven.
func (p *Piece) PreviousStates() iter.Seq[State] {
	return func(yield func(State) bool) {
		for i, c := range p.Controls {
			if p.network.Controls[c].Kind != Previous {
				continue
			}
			for s := range p.States() {
				for setting := 1; setting < len(p.network.Controls[c].Settings); setting++ {
					s[i] = setting
					if !yield(s) {
						return
					}
				}
				s[i] = AsPlanned
			}
		}
	}
}

func (p *Piece) states(settings func(Control) int) iter.Seq[State] {
	return func(yield func(State) bool) {
		s := make(State, len(p.Controls))
		if p.count(settings) > MaxStates {
			p.extremeStates(s, settings, yield)
			return
		}
		for {
			if !yield(s) {
				return
			}
			i := 0
			for ; i < len(s); i++ {
				if s[i]++; s[i] < settings(p.network.Controls[p.Controls[i]]) {
					break
				}
				s[i] = 0
			}
			if i == len(s) {
				return
			}
		}
	}
}

func (p *Piece) extremeStates(s State, settings func(Control) int, yield func(State) bool) {
	last := func(i int) int { return settings(p.network.Controls[p.Controls[i]]) - 1 }
	for _, base := range []bool{false, true} {
		for i := range s {
			s[i] = 0
			if base {
				s[i] = last(i)
			}
		}
		if !yield(s) {
			return
		}
		for i := range s {
			was := s[i]
			s[i] = last(i) - was
			if !yield(s) {
				return
			}
			s[i] = was
		}
	}
}

// Describe says a state in words: "D4 (lamp 1) is high, button 1 is pressed". What
// is as planned is left out.
func (p *Piece) Describe(s State) string {
	var words []string
	for i, c := range p.Controls {
		control := p.network.Controls[c]
		if control.Kind != Previous || s[i] != AsPlanned {
			words = append(words, control.Name+" is "+control.Settings[s[i]])
		}
	}
	return strings.Join(words, ", ")
}

// SettingOf returns the setting that s gives to a control of the network, and
// whether the piece has that control.
func (p *Piece) SettingOf(s State, control int) (setting int, ok bool) {
	i := slices.Index(p.Controls, control)
	if i < 0 {
		return 0, false
	}
	return s[i], true
}

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
	closed  []bool  // by element of the piece's circuit
}

// Solve solves the piece in a state, at the typical values and in the corners
// that matter.
//
// For every quantity the worst corner is the one to which the slopes at the
// typical values point: each value of the piece is moved to its high end alone,
// and the sign of the change says which end makes the quantity larger. This is
// exact for quantities that are monotonic in every value, as currents and
// voltages of such circuits are; every solution that is computed on the way
// widens the range as well.
func (p *Piece) Solve(s State) (*Solved, error) {
	out, err := p.Typical(s)
	if err != nil {
		return nil, err
	}
	corner := make([]int8, len(p.params)) // −1 low, 0 typical, 1 high
	quantities := len(out.typical.V) + len(out.typical.I)
	at := func(sol *circuit.Solution, q int) float64 {
		if q < len(sol.V) {
			return sol.V[q]
		}
		return sol.I[q-len(sol.V)]
	}
	rangeOf := func(q int) *Range {
		if q < len(out.volts) {
			return &out.volts[q]
		}
		return &out.amps[q-len(out.volts)]
	}
	sol := circuit.Solution{V: slices.Clone(out.typical.V), I: slices.Clone(out.typical.I)}
	widen := func() {
		for q := range quantities {
			r, v := rangeOf(q), at(&sol, q)
			r.Low, r.High = math.Min(r.Low, v), math.Max(r.High, v)
		}
	}
	// The slopes, as the corner that raises each quantity.
	raises := make([]int8, quantities*len(p.params))
	for k := range p.params {
		corner[k] = 1
		copy(sol.V, out.typical.V)
		if err := p.solveCorner(&sol, corner); err != nil {
			return nil, err
		}
		corner[k] = 0
		for q := range quantities {
			was := at(&out.typical, q)
			switch d := at(&sol, q) - was; {
			case d > noise*math.Abs(was):
				raises[q*len(p.params)+k] = 1
			case d < -noise*math.Abs(was):
				raises[q*len(p.params)+k] = -1
			}
		}
		widen()
	}
	var seen [][]int8
	for q := range quantities {
		for _, sign := range []int8{1, -1} {
			for k := range corner {
				corner[k] = sign * raises[q*len(p.params)+k]
			}
			if slices.ContainsFunc(seen, func(c []int8) bool { return slices.Equal(c, corner) }) {
				continue
			}
			seen = append(seen, slices.Clone(corner))
			copy(sol.V, out.typical.V)
			if err := p.solveCorner(&sol, corner); err != nil {
				return nil, err
			}
			widen()
		}
	}
	return out, nil
}

// noise is the relative change of a quantity that the solver's own tolerance
// may cause.
const noise = 1e-8

func (p *Piece) solveCorner(sol *circuit.Solution, corner []int8) error {
	n := p.network
	for k, i := range p.elements {
		e := n.Elements[i]
		if e.param < 0 {
			continue
		}
		e.apply(&p.circuit.Elements[k], p.factor[k]*n.Params[e.param].Value.At(int(corner[slices.Index(p.params, e.param)])))
	}
	return p.solver.Solve(sol)
}

// Typical solves the piece in a state at the typical values alone.
func (p *Piece) Typical(s State) (*Solved, error) {
	out := p.set(s)
	if err := p.solveCorner(&out.typical, make([]int8, len(p.params))); err != nil {
		return nil, fmt.Errorf("%s: %w", p.Describe(s), err)
	}
	out.volts, out.amps = make([]Range, len(out.typical.V)), make([]Range, len(out.typical.I))
	for i, v := range out.typical.V {
		out.volts[i] = Range{v, v, v}
	}
	for i, v := range out.typical.I {
		out.amps[i] = Range{v, v, v}
	}
	return out, nil
}

// SourceOhms returns the resistance of the source at a node in a state: how far
// the node's voltage falls for the current that a leakage element draws there,
// from its low to its high value.
func (p *Piece) SourceOhms(s State, node circuit.Node, leak int) (float64, error) {
	p.set(s)
	corner := make([]int8, len(p.params))
	k := slices.Index(p.params, p.network.Elements[leak].param)
	volts := [2]float64{}
	var sol circuit.Solution
	for i, c := range []int8{-1, 1} {
		corner[k] = c
		if err := p.solveCorner(&sol, corner); err != nil {
			return 0, err
		}
		volts[i] = sol.V[p.local[node]]
	}
	v := p.network.Params[p.network.Elements[leak].param].Value
	return (volts[0] - volts[1]) / (v.High - v.Low), nil
}

// set puts the controls of the piece's circuit to a state.
func (p *Piece) set(s State) *Solved {
	out := &Solved{piece: p, closed: make([]bool, len(p.elements))}
	for k, i := range p.elements {
		e := p.network.Elements[i]
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

// Volts returns the range of a node's voltage; of a node that is not in the
// piece it is zero.
func (s *Solved) Volts(node circuit.Node) Range {
	l, ok := s.piece.local[node]
	if !ok {
		return Range{}
	}
	return s.volts[l]
}

// Amps returns the range of the current through an element of the network.
func (s *Solved) Amps(element int) Range {
	k := slices.Index(s.piece.elements, element)
	if k < 0 {
		return Range{}
	}
	return s.amps[k]
}

// Held reports whether a path of conducting resistances leads from the node to
// a rail or ground. A node that is not held floats: nothing but leakage says
// what its voltage is.
func (s *Solved) Held(node circuit.Node) bool {
	n := s.piece.network
	seen := map[circuit.Node]bool{node: true}
	for queue := []circuit.Node{node}; len(queue) > 0; queue = queue[1:] {
		if n.Stiff(queue[0]) {
			return true
		}
		for k, i := range s.piece.elements {
			e := n.circuit.Elements[i]
			if !s.closed[k] || e.Kind != circuit.Resistor && e.Kind != circuit.Switch {
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
