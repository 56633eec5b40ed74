package wiring

import (
	"iter"
	"slices"
	"strings"
	"sync"

	"cablaggio/core/board"
	"cablaggio/core/build"
	"cablaggio/core/circuit"
	"cablaggio/core/parallel"
)

// A Piece is a part of the network that nothing outside influences. It may be
// asked from several goroutines at once, and answers one after another.
type Piece struct {
	Elements []int // indices into Network.Elements, without the rails' sources
	Controls []int // indices into Network.Controls

	busy     sync.Mutex
	switches bool // it has a transistor
	network  *Network
	params   []int     // indices into Network.Params
	slots    []int     // by the place in params: which of the corner's places moves it
	places   int       // how many places a corner has
	place    []int     // by element of circuit: which of the corner's places moves its value, or -1
	moved    [][]int   // by place: the elements of circuit whose values it moves
	applied  []applied // by element of circuit: what its value stands at
	circuit  circuit.Circuit
	elements []int // element of circuit -> index into Network.Elements
	local    map[circuit.Node]circuit.Node
	index    []int   // by element of the network: its place in elements, or -1
	ratios   []ratio // what converters make of their pins
	solver   *circuit.Solver
	room     circuit.Solution // where corners are solved
	raises   []int8           // where slopes are noted
	effects  []float64        // and by how much each of them moves each node, from typical to its end
	factor   []float64        // by element of circuit: what the state multiplies its value by
}

// A ratio is a pin whose voltage is measured against a reference.
type ratio struct {
	pin      string
	of, over circuit.Node // of the piece's circuit
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
	n.pieceOf = make([]*Piece, len(n.Elements))
	parallel.Do(len(n.Pieces), func(k int) {
		p := n.Pieces[k]
		p.extract()
		for _, i := range p.Elements {
			n.pieceOf[i] = p
		}
	})
}

// extract copies the piece's elements and the rails they touch into a circuit.
func (p *Piece) extract() {
	n := p.network
	slices.Sort(p.Elements)
	most := len(p.Elements) + len(n.Board.Rails)
	p.elements = make([]int, 0, most)
	p.circuit.Elements = make([]circuit.Element, 0, most)
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
		p.switches = p.switches || e.Kind == circuit.Transport || e.Kind == circuit.Channel
		e.A, e.B, e.Control = node(e.A), node(e.B), node(e.Control)
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
	for i := range n.Board.Rails { // a network begins with its rails' sources
		if _, used := p.local[n.circuit.Elements[i].A]; used {
			copyElement(i)
		}
	}
	p.index = slices.Repeat([]int{-1}, len(n.Elements))
	for k, i := range p.elements {
		p.index[i] = k
	}
	reference, ok := p.local[n.rails[n.Board.Logic.Analog.Reference]]
	for _, u := range n.Uses {
		pin, here := p.local[n.nodes[build.Pin(u.Pin.Name)]]
		if ok && here && u.Signals[0].Signal.Needs == board.AnalogIn {
			p.ratios = append(p.ratios, ratio{u.Pin.Name, pin, reference})
		}
	}
	p.solver = circuit.NewSolver(&p.circuit)
	p.factor = slices.Repeat([]float64{1}, len(p.elements))
	p.places = len(p.params)
	p.slots = make([]int, len(p.params))
	for k := range p.slots {
		p.slots[k] = k
	}
	if len(p.params) > maxParams || len(p.params) > someParams && p.count(Control.planned) > fewStates {
		p.moveTogether()
	}
	p.place = make([]int, len(p.elements))
	p.moved = make([][]int, p.places)
	p.applied = slices.Repeat([]applied{{corner: unset}}, len(p.elements))
	for k, i := range p.elements {
		p.place[k] = -1
		if param := n.Elements[i].param; param >= 0 {
			p.place[k] = p.slots[slices.Index(p.params, param)]
			p.moved[p.place[k]] = append(p.moved[p.place[k]], k)
		}
	}
}

// applied is the corner and the factor that an element's value was last set by.
type applied struct {
	corner int8
	factor float64
}

const unset = 2 // no corner

// Forget makes the piece read its tolerances again: the caller has changed a
// [Param] of the network.
func (p *Piece) Forget() {
	for k := range p.applied {
		p.applied[k].corner = unset
	}
}

// maxParams is how many tolerances of one piece are moved one by one, and
// someParams how many of one with more than fewStates states.
const (
	maxParams  = 48
	someParams = 32
)

// moveTogether lets tolerances of the same sort move together: all forward
// voltages, all resistances. The cost of the corners then does not grow with
// the parts of a piece.
func (p *Piece) moveTogether() {
	sorts := map[string]int{}
	for k, q := range p.params {
		what := p.network.Params[q].What
		if _, ok := sorts[what]; !ok {
			sorts[what] = len(sorts)
		}
		p.slots[k] = sorts[what]
	}
	p.places = len(sorts)
}

// MaxStates is how many states of one piece are looked at one by one.
const MaxStates = 4096

// Exhaustive reports whether States yields every planned state, and Solve moves
// every tolerance alone.
func (p *Piece) Exhaustive() bool {
	return p.count(Control.planned) <= MaxStates && p.places == len(p.params)
}

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

// fewStates is how many planned states are combined with each thing that an old
// program could do.
const fewStates = 64

// planned yields the planned states, or of many the extremes.
func (p *Piece) planned() iter.Seq[State] {
	if p.count(Control.planned) <= fewStates {
		return p.States()
	}
	return func(yield func(State) bool) { p.extremeStates(make(State, len(p.Controls)), Control.planned, yield) }
}

// Drivers lists the elements of the network with which an old program could
// drive the piece's inputs.
func (p *Piece) Drivers() []int {
	var out []int
	for _, i := range p.Elements {
		e := &p.network.Elements[i]
		if c := e.control; (e.Role == HighSide || e.Role == LowSide) && c >= 0 && p.network.Controls[c].Kind == Previous {
			out = append(out, i)
		}
	}
	return out
}

// PreviousStates yields the states that an old program could bring about: the
// planned settings of everything else with one input driven.
func (p *Piece) PreviousStates() iter.Seq[State] {
	return func(yield func(State) bool) {
		for i, c := range p.Controls {
			if p.network.Controls[c].Kind != Previous {
				continue
			}
			for s := range p.planned() {
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
	if element < 0 || s.piece.index[element] < 0 {
		return Range{}
	}
	return s.amps[s.piece.index[element]]
}

// Ratio returns the range of an analog pin's voltage as a part of the
// converter's reference, and whether the piece has the pin. Both move with the
// supply, so it is narrower than the one over the other.
func (s *Solved) Ratio(pin string) (Range, bool) {
	i := slices.IndexFunc(s.piece.ratios, func(r ratio) bool { return r.pin == pin })
	if i < 0 {
		return Range{}, false
	}
	return s.ratios[i], true
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
