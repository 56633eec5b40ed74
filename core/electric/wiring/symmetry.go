package wiring

import (
	"slices"

	"cablaggio/core/electric/circuit"
)

// Rows of a lamp matrix that are alike, twelve equal buttons on one lamp, the
// pins between which lamps stand both ways round: which of them is set does not
// matter, only how many. Such choices form a class when exchanging two of them is
// the circuit again, with its elements and nodes moved. A state then stands for
// all that follow from it by exchanges, and is solved once.

// A localSubject is what is looked at, as elements and nodes of the pattern.
type localSubject struct{ elements, nodes []int }

// A moves says where elements and nodes go when choices are exchanged. There may be
// thousands of them, one for each state, so they are short.
type moves struct{ elements, nodes []uint16 }

// mostMoved is how many elements or nodes are told apart: as many as a moves, and a path of
// exchanges by runes, can number.
const mostMoved = 0xD800

// A view is a state with the point that answers for it, in which things may
// stand elsewhere.
type view struct {
	state State
	point *point
	as    *moves // nil: everything stands where it is
}

// planned lists the planned states that differ for a subject.
func (p *pattern) planned(n *Network, about localSubject) ([]view, error) {
	p.enter(n)
	defer p.leave()
	if p.count() <= plainly || p.hurried || about.elements == nil && about.nodes == nil {
		if p.plan == nil {
			list, err := p.views(p.whole())
			if err != nil {
				return nil, err
			}
			p.plan = list
		}
		return p.plan, nil
	}
	key := about.key()
	if list, ok := p.plans[key]; ok {
		return list, nil
	}
	var states []State
	if classes := p.fixing(about); p.countIn(classes) <= MaxStates {
		states = p.inOrder(classes)
	} else {
		p.searched = true
		var err error
		if states, err = p.search(about); err != nil {
			return nil, err
		}
	}
	list, err := p.views(states)
	if err != nil {
		return nil, err
	}
	if p.plans == nil {
		p.plans = map[string][]view{}
	}
	p.plans[key] = list
	return list, nil
}

// whole lists the states that stand for all, for those who look at everything.
func (p *pattern) whole() []State {
	switch {
	case p.count() <= plainly:
		return p.every()
	case p.hurried:
	case p.countIn(p.classes()) <= MaxStates:
		return p.inOrder(p.classes())
	}
	p.searched = true
	return p.extremes()
}

func (s localSubject) key() string {
	b := make([]byte, 0, 2*(len(s.elements)+len(s.nodes))+1)
	for _, i := range s.elements {
		b = append(b, byte(i), byte(i>>8))
	}
	b = append(b, '|')
	for _, i := range s.nodes {
		b = append(b, byte(i), byte(i>>8))
	}
	return string(b)
}

func (p *pattern) views(states []State) ([]view, error) {
	out := make([]view, len(states))
	for i, s := range states {
		v, err := p.viewOf(s)
		if err != nil {
			return nil, err
		}
		out[i] = v
	}
	return out, nil
}

// viewOf solves a state, or one that follows from it by exchanges.
func (p *pattern) viewOf(s State) (view, error) {
	if p.count() <= plainly || p.hurried {
		pt, err := p.at(s)
		if err != nil {
			return view{}, err
		}
		return view{state: pt.state, point: pt}, nil
	}
	sorted, as := p.sorted(s)
	pt, err := p.at(sorted)
	if err != nil {
		return view{}, err
	}
	if as == nil {
		return view{pt.state, pt, nil}, nil
	}
	return view{slices.Clone(s), pt, as}, nil
}

// sorted exchanges alike choices until their settings do not fall, and says where
// everything has gone. Thousands of states are sorted by few different exchanges, whose
// moves they share.
func (p *pattern) sorted(s State) (State, *moves) {
	s = slices.Clone(s)
	p.classes()
	path := p.path[:0]
	for k, class := range p.alike {
		for i := range class {
			least := i
			for j := i + 1; j < len(class); j++ {
				if s[p.controlOf(class[j])] < s[p.controlOf(class[least])] {
					least = j
				}
			}
			if a, b := p.controlOf(class[i]), p.controlOf(class[least]); s[a] != s[b] {
				s[a], s[b] = s[b], s[a]
				path = append(path, rune(k), rune(i), rune(least))
			}
		}
	}
	p.path = path
	if len(path) == 0 {
		return s, nil
	}
	as, ok := p.paths[string(path)]
	if !ok {
		for x := range slices.Chunk(path, 3) {
			class := p.alike[x[0]]
			as = as.then(p.exchange(class[x[1]], class[x[2]]))
		}
		p.paths[string(path)] = as
		p.keeps((len(as.elements) + len(as.nodes)) / 4)
	}
	return s, as
}

func short(to []int) []uint16 {
	if to == nil {
		return nil
	}
	out := make([]uint16, len(to))
	for i, x := range to {
		out[i] = uint16(x)
	}
	return out
}

// controlOf returns the control of a choice that has one.
func (p *pattern) controlOf(choice int) int { return p.choices[choice].controls[0] }

// then is what moves do one after another.
func (m *moves) then(next *moves) *moves {
	if m == nil {
		return next
	}
	out := &moves{make([]uint16, len(m.elements)), make([]uint16, len(m.nodes))}
	for i, to := range m.elements {
		out.elements[i] = next.elements[to]
	}
	for i, to := range m.nodes {
		out.nodes[i] = next.nodes[to]
	}
	return out
}

// exchange returns what moves when two choices of a class are exchanged.
func (p *pattern) exchange(a, b int) *moves {
	a, b = min(a, b), max(a, b)
	if m, ok := p.exchanges[[2]int{a, b}]; ok {
		return m
	}
	// By way of the first of the class, with which both are known to exchange.
	first := a
	for _, class := range p.classes() {
		if slices.Contains(class, a) {
			first = class[0]
		}
	}
	m := p.exchange(first, a).then(p.exchange(first, b)).then(p.exchange(first, a))
	p.exchanges[[2]int{a, b}] = m
	return m
}

// classes lists the choices that are alike, in classes of at least two; worked
// out once.
func (p *pattern) classes() [][]int {
	if p.alike != nil {
		return p.alike
	}
	p.alike = [][]int{}
	p.exchanges, p.paths = map[[2]int]*moves{}, map[string]*moves{}
	if p.count() <= plainly || max(len(p.circuit.Elements), p.circuit.Nodes()) > mostMoved {
		return p.alike
	}
	var classes [][]int
	kinds := p.colours()
next:
	for i := range p.choices {
		if len(p.choices[i].controls) != 1 {
			continue
		}
		for k, class := range classes {
			if m := p.exchanged(kinds, class[0], i); m != nil {
				p.exchanges[[2]int{class[0], i}] = m
				classes[k] = append(class, i)
				continue next
			}
		}
		classes = append(classes, []int{i})
	}
	for _, class := range classes {
		if len(class) > 1 {
			p.alike = append(p.alike, class)
		}
	}
	return p.alike
}

// fixing divides the classes so far that an exchange within a class moves nothing
// of a subject away from it.
func (p *pattern) fixing(about localSubject) (out [][]int) {
	stays := func(m *moves) bool {
		for _, e := range about.elements {
			if !slices.Contains(about.elements, int(m.elements[e])) {
				return false
			}
		}
		for i, n := range about.nodes {
			if int(m.nodes[n]) != about.nodes[i] {
				return false
			}
		}
		return true
	}
	for _, class := range p.classes() {
		var parts [][]int
	next:
		for _, c := range class {
			for k := range parts {
				if stays(p.exchange(parts[k][0], c)) {
					parts[k] = append(parts[k], c)
					continue next
				}
			}
			parts = append(parts, []int{c})
		}
		out = append(out, parts...)
	}
	return out
}

// countIn is how many states do not fall in any class, or a number above
// [MaxStates].
func (p *pattern) countIn(classes [][]int) int {
	total := 1
	in := make([]bool, len(p.choices))
	for _, class := range classes {
		// Ways to take len(class) of k options, order aside: C(k+n−1, n).
		k, ways := len(p.choices[class[0]].options), 1
		for n, c := range class {
			in[c] = true
			if ways = ways * (k + n) / (n + 1); ways > MaxStates {
				return MaxStates + 1
			}
		}
		if total *= ways; total > MaxStates {
			return total
		}
	}
	for i, c := range p.choices {
		if !in[i] {
			if total *= len(c.options); total > MaxStates {
				return total
			}
		}
	}
	return total
}

// mix spreads a number over another (the finalizer of SplitMix64: Steele, Lea and
// Flood, OOPSLA 2014).
func mix(h, v uint64) uint64 {
	h ^= v + 0x9e3779b97f4a7c15 + h<<6 + h>>2
	h = (h ^ h>>30) * 0xbf58476d1ce4e5b9
	h = (h ^ h>>27) * 0x94d049bb133111eb
	return h ^ h>>31
}

// colours tells elements apart by what they are, wherever they stand.
func (p *pattern) colours() []uint64 {
	out := make([]uint64, len(p.parts))
	kinds := map[any]uint64{}
	for k := range p.parts {
		x := p.parts[k]
		t := tolerance{}
		if x.param >= 0 {
			t = p.params[x.param]
		}
		hasParam := x.param >= 0
		hasControl := x.control >= 0
		x.param, x.control = 0, 0
		c := p.circuit.Elements[k]
		c.A, c.B, c.Control, c.Open = 0, 0, 0, false
		if hasParam {
			// The circuit stands at some corner or other; the law tells what matters.
			x.law.apply(&c, t.typ)
		}
		kind := struct {
			e          circuit.Element
			x          shapePart
			t          tolerance
			par, contr bool
		}{c, x, t, hasParam, hasControl}
		if _, ok := kinds[kind]; !ok {
			kinds[kind] = uint64(len(kinds) + 1)
		}
		out[k] = kinds[kind]
	}
	return out
}

// exchanged finds what moves when two choices are exchanged, and all others stay
// as they are, or nil when the circuit is not the same then. Elements and nodes
// are told apart by their neighbours again and again (colour refinement), with
// the two choices coloured one way and the other; what is told apart alike is
// matched, and the match is checked element by element.
func (p *pattern) exchanged(kinds []uint64, a, b int) *moves {
	if !slices.EqualFunc(p.choices[a].options, p.choices[b].options, slices.Equal) {
		return nil
	}
	ca, cb := p.controlOf(a), p.controlOf(b)
	before, after := p.refined(kinds, ca, cb), p.refined(kinds, cb, ca)
	m := &moves{short(match(before.elements, after.elements)), short(match(before.nodes, after.nodes))}
	if m.elements == nil || m.nodes == nil {
		return nil
	}
	params := map[int]int{}
	for k := range p.parts {
		to := m.elements[k]
		e, f, x, y := &p.circuit.Elements[k], &p.circuit.Elements[to], p.parts[k], p.parts[to]
		control := x.control
		switch control {
		case ca:
			control = cb
		case cb:
			control = ca
		}
		same := kinds[k] == kinds[to] && control == y.control &&
			m.nodes[e.A] == uint16(f.A) && m.nodes[e.B] == uint16(f.B) && m.nodes[e.Control] == uint16(f.Control)
		if q, ok := params[x.param]; ok {
			same = same && q == y.param
		}
		params[x.param] = y.param
		if !same {
			return nil
		}
	}
	return m
}

// rounds is how far neighbours are looked at. What is not told apart by then is
// matched in order, and the check of the match decides.
const rounds = 6

type refined struct{ elements, nodes []uint64 }

// refined colours the circuit with the controls x and y coloured as the first and
// the second of two that are exchanged; every other has a colour of its own.
func (p *pattern) refined(kinds []uint64, x, y int) refined {
	control := func(c int) uint64 {
		switch c {
		case x:
			return 1
		case y:
			return 2
		}
		return uint64(c + 10)
	}
	r := refined{slices.Clone(kinds), make([]uint64, p.circuit.Nodes())}
	r.nodes[circuit.Ground] = 1
	for k := range p.circuit.Elements {
		if e := &p.circuit.Elements[k]; e.Kind == circuit.VoltageSource {
			r.nodes[e.A] = mix(uint64(k), 99) // a rail is itself
		}
	}
	for range min(p.circuit.Nodes()+1, rounds) {
		nodes := slices.Clone(r.nodes)
		for k := range r.elements {
			e := &p.circuit.Elements[k]
			h := mix(kinds[k], control(p.parts[k].control))
			h = mix(h, r.nodes[e.A])
			h = mix(h, r.nodes[e.B])
			h = mix(h, r.nodes[e.Control])
			r.elements[k] = h
			// Sums do not depend on the order of the elements at a node.
			nodes[e.A] += mix(h, 1)
			nodes[e.B] += mix(h, 2)
			nodes[e.Control] += mix(h, 3)
		}
		for i := range nodes {
			if r.nodes[i] = mix(nodes[i], 7); i == 0 {
				r.nodes[i] = 1
			}
		}
	}
	return r
}

// match pairs what has the same colour before and after, in order, but with
// itself where it can be. It is nil when something has no match.
func match(before, after []uint64) []int {
	out := slices.Repeat([]int{-1}, len(before))
	taken := make([]bool, len(after))
	for i := range before {
		if before[i] == after[i] {
			out[i], taken[i] = i, true
		}
	}
	by := map[uint64][]int{}
	for i, c := range after {
		if !taken[i] {
			by[c] = append(by[c], i)
		}
	}
	for i, c := range before {
		if out[i] >= 0 {
			continue
		}
		if len(by[c]) == 0 {
			return nil
		}
		out[i], by[c] = by[c][0], by[c][1:]
	}
	return out
}
