package wiring

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"cablaggio/core/electric/circuit"
)

// A Subject is what states are looked through for: the sum of the currents of
// some elements, or the voltage of a node.
type Subject struct {
	elements []int
	nodes    []circuit.Node
}

// Current is the current of an element, or the sum of those of several.
func Current(elements ...int) Subject { return Subject{elements: elements} }

// Voltage is the voltage of a node, or of one above another.
func Voltage(nodes ...circuit.Node) Subject { return Subject{nodes: nodes} }

// MaxStates is how many states of one piece are looked at for one subject.
const MaxStates = 4096

// fewStates is how many planned states are combined with each thing that an old program could
// do; plainly is how many are looked at without asking whether some are alike.
const (
	fewStates = 64
	plainly   = 32
)

// Planned returns the piece in the states that the build as planned can be in, as
// far as they differ for the subject: of controls that are alike to it, it does
// not matter which are set how. Where there are more than [MaxStates] the
// states are searched instead, and [Piece.Exhaustive] is false from then on. The
// zero Subject is everything.
//
// The error says why the circuit has no answer in some state.
func (p *Piece) Planned(about Subject) ([]*Solved, error) {
	if p.count() > plainly && !p.hurried {
		return p.differing(about)
	}
	p.all.once.Do(func() { p.all.list, p.all.err = p.differing(Subject{}) })
	return p.all.list, p.all.err
}

func (p *Piece) differing(about Subject) ([]*Solved, error) {
	list, err := p.planned(p.network, p.localSubject(about))
	if err != nil {
		return nil, fmt.Errorf("%s: %w", p.label(), err)
	}
	out := make([]*Solved, len(list))
	room := make([]Solved, len(list))
	for i, v := range list {
		out[i] = &room[i]
		out[i].Piece, out[i].State, out[i].point, out[i].as = p, v.state, v.point, v.as
	}
	return out, nil
}

// label names the piece by its first element.
func (p *Piece) label() string { return p.network.Elements[p.Elements[0]].Name }

// localSubject is a subject in terms of the pattern.
func (p *Piece) localSubject(about Subject) localSubject {
	var out localSubject
	for _, i := range about.elements {
		if k := p.localElement(i); k >= 0 {
			out.elements = append(out.elements, k)
		}
	}
	for _, n := range about.nodes {
		if l, ok := p.local(n); ok {
			out.nodes = append(out.nodes, int(l))
		}
	}
	return out
}

// Exhaustive reports whether what was asked so far was asked of every state.
func (p *Piece) Exhaustive() bool {
	p.mu.Lock()
	defer p.mu.Unlock()
	return !p.searched && !p.giant() && !slices.ContainsFunc(p.choices, func(c localChoice) bool { return c.partial })
}

// Previous returns the piece in the states that an old program could bring about:
// the planned settings of everything else, or of many the extremes, with one
// input driven.
func (p *Piece) Previous() ([]*Solved, error) {
	p.before.once.Do(func() { p.before.list, p.before.err = p.previously() })
	return p.before.list, p.before.err
}

func (p *Piece) previously() ([]*Solved, error) {
	var out []*Solved
	for _, x := range p.previous {
		for _, s := range p.besideAt(x.control) {
			s = slices.Clone(s)
			s[x.control] = x.setting
			v, err := p.At(s)
			if err != nil {
				return nil, err
			}
			out = append(out, v)
		}
	}
	return out, nil
}

// Reset returns the piece in the states that it can be in before the program runs: no
// pin drives and none pulls; everything else is as planned, or of many states at its
// extremes.
func (p *Piece) Reset() ([]*Solved, error) {
	p.reset.once.Do(func() { p.reset.list, p.reset.err = p.resets() })
	return p.reset.list, p.reset.err
}

func (p *Piece) resets() (out []*Solved, err error) {
	seen := map[string]bool{}
	for _, s := range p.beside() {
		s = slices.Clone(s)
		for i, k := range p.Controls {
			if p.network.Controls[k].Kind == Mode {
				s[i] = LetGo
			}
		}
		if key := fmt.Sprint(s); !seen[key] {
			seen[key] = true
			v, err := p.At(s)
			if err != nil {
				return nil, err
			}
			out = append(out, v)
		}
	}
	return out, nil
}

// beside lists the planned states, or of many the extremes.
func (p *pattern) beside() []State {
	if p.count() <= fewStates {
		return p.every()
	}
	return p.extremes()
}

// besideAt is beside for what an old program does with one control: of many states
// everything at its first option, at its last, and from there alone what acts where that
// control does, for what lies farther away shares its way with all the others. In a giant
// nothing is moved alone.
func (p *pattern) besideAt(control int) []State {
	if p.count() <= fewStates {
		return p.every()
	}
	var near []int
	for i := range p.choices {
		if !p.giant() && slices.ContainsFunc(p.choices[i].controls, func(c int) bool { return c != control && p.meet(c, control) }) {
			near = append(near, i)
		}
	}
	return p.extremesOf(near)
}

// meet reports whether elements of two controls have an end in common that is no rail.
func (p *pattern) meet(a, b int) bool {
	stiff := make([]bool, p.circuit.Nodes())
	stiff[circuit.Ground] = true
	for k := range p.parts {
		if e := &p.circuit.Elements[k]; e.Kind == circuit.VoltageSource {
			stiff[e.A] = true
		}
	}
	ends := func(control int) (out []circuit.Node) {
		for k := range p.parts {
			if p.parts[k].control == control {
				e := &p.circuit.Elements[k]
				out = append(out, e.A, e.B)
			}
		}
		return out
	}
	others := ends(b)
	return slices.ContainsFunc(ends(a), func(n circuit.Node) bool { return !stiff[n] && slices.Contains(others, n) })
}

// Planning is how many planned states the piece has, or a number above [MaxStates].
func (p *Piece) Planning() int { return p.count() }

// count is how many planned states there are, or a number above [MaxStates].
func (p *pattern) count() int {
	total := 1
	for _, c := range p.choices {
		if total *= len(c.options); total > MaxStates {
			break
		}
	}
	return total
}

// choose puts the controls of a choice to one of its options.
func (p *pattern) choose(s State, choice, option int) {
	c := &p.choices[choice]
	for k, control := range c.controls {
		s[control] = c.options[option][k]
	}
}

func (p *pattern) controls() (n int) {
	for _, c := range p.choices {
		n += len(c.controls)
	}
	return n
}

// every lists every planned state, the first choice running fastest.
func (p *pattern) every() []State { return p.inOrder(nil) }

// inOrder lists the planned states in which the options of each class of choices
// do not rise from one choice to the next. Without classes it lists all.
func (p *pattern) inOrder(classes [][]int) []State {
	next := slices.Repeat([]int{-1}, len(p.choices)) // the choice whose option another's must not be below
	for _, class := range classes {
		for k := 1; k < len(class); k++ {
			next[class[k-1]] = class[k]
		}
	}
	var out []State
	digits := make([]int, len(p.choices))
	s := make(State, p.controls())
	for i := range digits {
		p.choose(s, i, 0)
	}
	for {
		out = append(out, slices.Clone(s))
		i := 0
		for ; i < len(digits); i++ {
			if digits[i]++; digits[i] < len(p.choices[i].options) {
				break
			}
			digits[i] = 0
		}
		if i == len(digits) {
			return out
		}
		// Those before it start again, where their class allows.
		for k := i; k >= 0; k-- {
			if k < i {
				digits[k] = 0
				if j := next[k]; j >= 0 {
					digits[k] = digits[j]
				}
			}
			p.choose(s, k, digits[k])
		}
	}
}

// extremes lists everything at its first option, at its last, and each choice
// alone moved from there.
func (p *pattern) extremes() []State {
	all := make([]int, len(p.choices))
	for i := range all {
		all[i] = i
	}
	return p.extremesOf(all)
}

// extremesOf is extremes with only some of the choices moved.
func (p *pattern) extremesOf(choices []int) (out []State) {
	for _, last := range []bool{false, true} {
		s := make(State, p.controls())
		at := func(i int, last bool) int {
			if last {
				return len(p.choices[i].options) - 1
			}
			return 0
		}
		for i := range p.choices {
			p.choose(s, i, at(i, last))
		}
		out = append(out, slices.Clone(s))
		for _, i := range choices {
			p.choose(s, i, at(i, !last))
			out = append(out, slices.Clone(s))
			p.choose(s, i, at(i, last))
		}
	}
	return out
}

// Describe says a state in words: "D4 (lamp 1) is high, button 1 is pressed". What
// is as planned and could not be otherwise is left out.
func (p *Piece) Describe(s State) string {
	n := p.network
	var words []string
	told := make([]bool, len(p.Controls))
	for i, k := range p.Controls {
		if told[i] {
			continue
		}
		if c := n.choiceWith(k); c.words != nil {
			if at := p.optionAt(c, s); at >= 0 {
				words = append(words, c.words[at])
				for _, other := range c.controls {
					told[slices.Index(p.Controls, other)] = true
				}
				continue
			}
		}
		control := &n.Controls[k]
		if !control.Reads || !slices.Contains(control.Planned, s[i]) {
			words = append(words, control.Words(s[i]))
		}
	}
	return strings.Join(words, ", ")
}

func (n *Network) choiceWith(control int) *choice {
	i := slices.IndexFunc(n.choices, func(c choice) bool { return slices.Contains(c.controls, control) })
	return &n.choices[i]
}

// optionAt returns which option of a choice a state has, or -1.
func (p *Piece) optionAt(c *choice, s State) int {
	return slices.IndexFunc(c.options, func(o []float64) bool {
		for k, control := range c.controls {
			if s[slices.Index(p.Controls, control)] != o[k] {
				return false
			}
		}
		return true
	})
}

// SettingOf returns the setting that s gives to a control of the network, and
// whether the piece has that control.
func (p *Piece) SettingOf(s State, control int) (setting float64, ok bool) {
	i := slices.Index(p.Controls, control)
	if i < 0 {
		return 0, false
	}
	return s[i], true
}

// Solved returns how many states have been solved.
func (p *Piece) Solved() int {
	p.mu.Lock()
	defer p.mu.Unlock()
	return len(p.points)
}

// Solutions lists the states that have been solved, of the piece or of one like it.
func (p *Piece) Solutions() ([]*Solved, error) {
	p.mu.Lock()
	keys := slices.Sorted(maps.Keys(p.points))
	states := make([]State, len(keys))
	for i, key := range keys {
		states[i] = p.points[key].state
	}
	p.mu.Unlock()
	out := make([]*Solved, len(states))
	for i, s := range states {
		var err error
		if out[i], err = p.At(s); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// Has reports whether a node is of the piece, or a rail that it touches.
func (p *Piece) Has(node circuit.Node) bool {
	_, ok := p.local(node)
	return ok
}
