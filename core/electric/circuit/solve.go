package circuit

import (
	"fmt"
	"math"
)

// gmin is the conductance in siemens from every node to ground and across
// every junction, as in circuit simulation by custom. It gives a node that
// nothing else holds a voltage near zero instead of none.
const gmin = 1e-12

// A NoSolutionError says why a circuit has no answer.
type NoSolutionError struct {
	Reason  string
	Node    Node // the node where it shows
	Element int  // the element where it shows, or -1
}

func (e *NoSolutionError) Error() string { return "circuit: " + e.Reason }

// A Solver solves one circuit again and again. It works out the structure once:
// between calls the values, switches and junctions of the circuit may change,
// its nodes and the ends of its elements may not. It must not be used from two
// goroutines at once.
type Solver struct {
	circuit *Circuit
	fixed   []fixed
	index   []int // unknown of a node within its piece, or -1 for a stiff one
	branch  []int // unknown of a voltage source that makes no node stiff
	pieces  []piece
	vd      []float64 // last voltage across each junction, as limited; of a steered element from Control to B
	va      []float64 // of a steered element: the last voltage from Control to A
	tangent []tangent // of each junction at vd, from the last stamp
	floor   float64   // conductance from every node to ground
	held    []float64 // of a capacitor its voltage, of an inductor its current; nil: at rest
	volts   []float64 // by node: room for weights
}

// A tangent is the current of a junction, its slope, and the voltage they are at.
type tangent struct{ i, g, v float64 }

// at returns the tangent of a junction at a voltage: the one that is kept, or a
// new one.
func (s *Solver) at(element int, v float64) tangent {
	t := &s.tangent[element]
	if t.v != v {
		i, g := s.circuit.Elements[element].Junction.at(v)
		*t = tangent{i, g, v}
	}
	return *t
}

type piece struct {
	elements []int
	unknowns []int // index in the matrix -> node, or ^element for a branch current
	nonlin   bool
	a, b     []float64 // the equations a·x = b, a row by row; after solving, a's factors and x
	pivots   []int
}

// NewSolver returns a solver for c.
func NewSolver(c *Circuit) *Solver {
	s := &Solver{
		circuit: c,
		fixed:   c.stiff(nil),
		index:   make([]int, c.Nodes()),
		branch:  make([]int, len(c.Elements)),
		vd:      make([]float64, len(c.Elements)),
		va:      make([]float64, len(c.Elements)),
		tangent: make([]tangent, len(c.Elements)),
		volts:   make([]float64, c.Nodes()),
		floor:   gmin,
	}
	s.split()
	return s
}

// Solve solves c once; see [Solver.Solve] for the errors.
func Solve(c *Circuit) (*Solution, error) {
	sol := &Solution{}
	if err := NewSolver(c).Solve(sol); err != nil {
		return nil, err
	}
	return sol, nil
}

// Solve solves the circuit into sol. Newton's iteration begins at the voltages
// of sol where it holds an earlier solution of the same circuit. The errors are
// of type [*NoSolutionError]: a value that no element can have, sources that
// contradict each other, a current that has no way back, or junctions that find
// no balance. After an error sol holds nothing of use.
func (s *Solver) Solve(sol *Solution) error {
	c := s.circuit
	if err := validate(c); err != nil {
		return err
	}
	if len(sol.V) != c.Nodes() || len(sol.I) != len(c.Elements) {
		*sol = Solution{V: make([]float64, c.Nodes()), I: make([]float64, len(c.Elements))}
	}
	s.hold(sol)
	s.begin(sol)
	for i := range c.Elements {
		e := &c.Elements[i]
		if e.Kind == VoltageSource && s.index[e.A] < 0 && s.index[e.B] < 0 {
			if got := sol.Across(e.A, e.B); math.Abs(got-e.Value) > 1e-9 {
				return &NoSolutionError{Reason: fmt.Sprintf("a source of %g V is joined across %g V", e.Value, got), Node: e.A, Element: i}
			}
		}
	}
	for i := range s.pieces {
		if err := s.solvePiece(sol, &s.pieces[i]); err != nil {
			return err
		}
	}
	s.flow(sol)
	return nil
}

// hold gives the stiff nodes their voltages.
func (s *Solver) hold(sol *Solution) {
	for _, f := range s.fixed {
		e := &s.circuit.Elements[f.source]
		if f.node == e.A {
			sol.V[f.node] = sol.V[f.from] + e.Value
		} else {
			sol.V[f.node] = sol.V[f.from] - e.Value
		}
	}
}

// begin puts the junctions to where a solution is.
func (s *Solver) begin(sol *Solution) {
	c := s.circuit
	for i := range c.Elements {
		e := &c.Elements[i]
		s.tangent[i].v = math.NaN() // the junction may have changed
		s.vd[i] = sol.Across(e.A, e.B)
		if e.Steered() {
			s.vd[i], s.va[i] = sol.Across(e.Control, e.B), sol.Across(e.Control, e.A)
		}
	}
}

func validate(c *Circuit) error {
	for i := range c.Elements {
		e := &c.Elements[i]
		bad := func(reason string) error {
			return &NoSolutionError{Reason: reason, Node: e.A, Element: i}
		}
		switch {
		case math.IsNaN(e.Value) || math.IsInf(e.Value, 0):
			return bad("an element's value is not a finite number")
		case (e.Kind == Resistor || e.Kind == Switch && !e.Open) && e.Value <= 0:
			return bad(fmt.Sprintf("a resistance of %g Ω; it must be above zero", e.Value))
		case e.Kind == Diode && !(e.Junction.Is > 0 && e.Junction.N > 0 && e.Junction.Rs >= 0):
			return bad("a junction needs a saturation current and an ideality above zero")
		case (e.Kind == Capacitor || e.Steered()) && e.Value <= 0:
			return bad("a capacitance, a saturation current and a transconductance must be above zero")
		case e.Kind == Inductor && !(e.Value > 0 && e.Ohms > 0):
			return bad("an inductance and its resistance must be above zero")
		}
	}
	return nil
}

// split numbers the unknowns, piece by piece.
func (s *Solver) split() {
	c := s.circuit
	for i := range s.index {
		s.index[i] = unseen
	}
	s.index[Ground] = -1
	for _, f := range s.fixed {
		s.index[f.node] = -1
	}
	for _, elements := range c.Pieces() {
		p := piece{elements: elements}
		for _, i := range elements {
			e := c.Elements[i]
			for _, n := range [3]Node{e.A, e.B, e.Control} {
				if s.index[n] == unseen {
					s.index[n] = len(p.unknowns)
					p.unknowns = append(p.unknowns, int(n))
				}
			}
			p.nonlin = p.nonlin || e.Kind == Diode || e.Steered()
		}
		for _, i := range elements {
			if c.Elements[i].Kind == VoltageSource {
				s.branch[i] = len(p.unknowns)
				p.unknowns = append(p.unknowns, ^i)
			}
		}
		if n := len(p.unknowns); n > 0 {
			p.a, p.b = make([]float64, n*n), make([]float64, n)
			p.pivots = make([]int, n)
			s.pieces = append(s.pieces, p)
		}
	}
}

const unseen = -2

const (
	maxIterations = 100
	tolerance     = 1e-9  // of the current of a junction between two iterations
	leastAmps     = 1e-12 // a current below which no difference is looked for
	noWayBack     = 1e5   // volts; only a current into gmin alone gets there
)

// solvePiece solves one piece. Where a strong element stands between two nodes
// that nothing else holds, gmin is lost in the digits beside it and the
// equations have no answer: then more of it is tried, which moves nothing that
// is held, and from there less again, for what is not.
func (s *Solver) solvePiece(sol *Solution, p *piece) error {
	err := s.balance(sol, p)
	if err == nil {
		return nil
	}
	s.floor = 1e3 * gmin
	err = s.balance(sol, p)
	s.floor = gmin
	if err != nil {
		return err
	}
	held := make([]float64, len(p.unknowns))
	for k := range held {
		held[k] = *p.unknown(sol, k)
	}
	if s.newton(sol, p, gmin, true) != nil || plausible(sol, p) != nil {
		for k, v := range held {
			*p.unknown(sol, k) = v
		}
	}
	return nil
}

// balance finds the balance of a piece's junctions.
func (s *Solver) balance(sol *Solution, p *piece) error {
	if s.newton(sol, p, gmin, false) == nil {
		return plausible(sol, p)
	}
	// Where Newton goes nowhere, it begins again in small steps, and then it is
	// led there: conductances across the junctions that shrink (gmin stepping).
	for _, n := range p.unknowns {
		if n >= 0 {
			sol.V[n] = 0
		}
	}
	for _, i := range p.elements {
		s.vd[i], s.va[i] = 0, 0
	}
	if s.newton(sol, p, gmin, true) == nil {
		return plausible(sol, p)
	}
	for g := 1e-2; g > gmin; g /= 10 {
		if err := s.newton(sol, p, g, true); err != nil {
			return err
		}
	}
	if err := s.newton(sol, p, gmin, true); err != nil {
		return err
	}
	return plausible(sol, p)
}

func plausible(sol *Solution, p *piece) error {
	for _, n := range p.unknowns {
		if n >= 0 && math.Abs(sol.V[n]) > noWayBack {
			return &NoSolutionError{Reason: "a current source has no way back for its current", Node: Node(n), Element: -1}
		}
	}
	return nil
}

// newton iterates one piece from where sol stands, with the steps of all
// junctions limited or only of those that need it.
func (s *Solver) newton(sol *Solution, p *piece, gjunction float64, limited bool) error {
	for range maxIterations {
		if err := s.newtonStep(sol, p, gjunction); err != nil {
			return err
		}
		if !p.nonlin || s.balanced(sol, p, limited) {
			return nil
		}
	}
	return &NoSolutionError{Reason: "the junctions find no balance", Node: Node(max(p.unknowns[0], 0)), Element: -1}
}

// newtonStep solves the tangent equations of a piece once.
func (s *Solver) newtonStep(sol *Solution, p *piece, gjunction float64) error {
	s.stamp(sol, p, gjunction)
	if !factor(p.a, len(p.unknowns), p.pivots) {
		return singular(p)
	}
	substitute(p.a, len(p.unknowns), p.pivots, p.b)
	for k, v := range p.b {
		if math.IsNaN(v) {
			return singular(p)
		}
		*p.unknown(sol, k) = v
	}
	return nil
}

// unknown returns where a solution holds the k-th unknown of a piece.
func (p *piece) unknown(sol *Solution, k int) *float64 {
	if u := p.unknowns[k]; u >= 0 {
		return &sol.V[u]
	}
	return &sol.I[^p.unknowns[k]]
}

// balanced moves the junctions on to the new voltages and reports whether each
// carries there what its tangent promised. Voltages are not compared: those of
// a node that nothing but gmin holds are noise where milliohms stand beside it,
// and mean nothing.
func (s *Solver) balanced(sol *Solution, p *piece, limited bool) bool {
	balanced := true
	for _, i := range p.elements {
		e := &s.circuit.Elements[i]
		if e.Steered() {
			balanced = s.balancedSteered(sol, i) && balanced
			continue
		}
		if e.Kind != Diode {
			continue
		}
		v, last := sol.Across(e.A, e.B), s.vd[i]
		s.vd[i] = v
		if limited || e.Junction.bare() {
			s.vd[i] = e.Junction.limit(v, last)
		}
		was := s.at(i, last)
		is := s.at(i, v).i
		if s.vd[i] != v || !(math.Abs(is-was.i-was.g*(v-last)) <= leastAmps+tolerance*math.Abs(is)) {
			balanced = false
		}
	}
	return balanced
}

func singular(p *piece) error {
	return &NoSolutionError{Reason: "voltage sources form a loop with nothing between them", Node: Node(max(p.unknowns[0], 0)), Element: -1}
}
