package wiring

import (
	"fmt"
	"slices"
	"sync"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/general/union"
	"cablaggio/core/values/spec"
)

// A Piece is a part of the network that nothing outside influences. It may be
// asked from several goroutines at once.
type Piece struct {
	Elements []int // indices into Network.Elements, without the rails' sources
	Controls []int // indices into Network.Controls

	*pattern
	all      visits // in its planned states, where they are few
	before   visits // in those of an old program
	reset    visits // in those before a program runs
	network  *Network
	elements []int          // by element of the pattern: index into Network.Elements
	nodes    []circuit.Node // by node of the pattern: node of the network
}

// visits are made when they are asked for, once.
type visits struct {
	once sync.Once
	list []*Solved
	err  error
}

// split makes the pieces: what is joined without passing through a stiff node,
// or moved by one choice. Those of another network are taken where they are the
// same.
func (n *Network) split(before *Network) {
	nodes := len(n.stiff)
	groups := union.Plant[int](nodes + len(n.Elements))
	choiceOf := n.choiceOf()
	first := slices.Repeat([]int{-1}, len(n.choices)) // by choice: an element that it moves
	for i := range n.Elements {
		if n.isGone(i) || n.Elements[i].Role == Rail {
			continue
		}
		own := nodes + i
		e := &n.circuit.Elements[i]
		ends := [3]circuit.Node{e.A, e.B, e.A}
		if e.Steered() {
			ends[2] = e.Control
		}
		for _, end := range ends {
			if !n.stiff[end] {
				groups.Graft(own, int(end))
			}
		}
		if c := n.Elements[i].control; c >= 0 {
			if k := choiceOf[c]; first[k] < 0 {
				first[k] = own
			} else {
				groups.Graft(own, first[k])
			}
		}
	}
	n.pieceOf = make([]*Piece, len(n.Elements))
	n.localNode = make([]circuit.Node, nodes)
	n.localElement = make([]int, len(n.Elements))
	n.pieceAt = make([]*Piece, nodes)
	at := map[int]int{}
	var members [][]int
	for i := range n.Elements {
		if n.isGone(i) || n.Elements[i].Role == Rail {
			continue
		}
		r := groups.Root(nodes + i)
		k, ok := at[r]
		if !ok {
			k = len(members)
			at[r] = k
			members = append(members, nil)
		}
		members[k] = append(members[k], i)
	}
	n.Pieces = make([]*Piece, len(members))
	for k, elements := range members {
		p := n.same(before, elements)
		if p == nil {
			p = &Piece{Elements: elements, network: n}
			p.extract(choiceOf)
		}
		n.Pieces[k] = p
		for j, i := range p.elements {
			if n.Elements[i].Role != Rail {
				n.pieceOf[i], n.localElement[i] = p, j
			}
		}
		for j, node := range p.nodes {
			if !n.stiff[node] {
				n.pieceAt[node], n.localNode[node] = p, circuit.Node(j)
			}
		}
	}
}

// choiceOf says, by control, which choice it is in.
func (n *Network) choiceOf() []int {
	out := make([]int, len(n.Controls))
	for k, c := range n.choices {
		for _, i := range c.controls {
			out[i] = k
		}
	}
	return out
}

// isGone reports whether an element is not there: a change has taken it out, or its
// part is not fed.
func (n *Network) isGone(i int) bool {
	return i < len(n.gone) && n.gone[i] || i < len(n.dead) && n.dead[i]
}

// same returns the piece of another network that has just these elements, none of
// them changed, or nil.
func (n *Network) same(before *Network, elements []int) *Piece {
	if before == nil || elements[0] >= len(before.pieceOf) {
		return nil
	}
	p := before.pieceOf[elements[0]]
	if p == nil || len(p.Elements) != len(elements) {
		return nil
	}
	for _, i := range elements {
		if i >= len(before.Elements) || n.touched[i] || before.pieceOf[i] != p || n.circuit.Elements[i].A != before.circuit.Elements[i].A ||
			n.circuit.Elements[i].B != before.circuit.Elements[i].B || n.circuit.Elements[i].Control != before.circuit.Elements[i].Control {
			return nil
		}
	}
	return p
}

// extract copies the piece's elements and the rails that they touch into a
// circuit of its own, and finds the pattern of it.
func (p *Piece) extract(choiceOf []int) {
	n := p.network
	most := len(p.Elements) + len(n.Board.Rails) + 1
	p.elements = make([]int, 0, most)
	p.nodes = append(make([]circuit.Node, 0, most+1), circuit.Ground)
	m := &shape{parts: make([]shapePart, 0, most)}
	m.circuit.Elements = make([]circuit.Element, 0, most)
	node := func(g circuit.Node) circuit.Node {
		if i := slices.Index(p.nodes, g); i >= 0 {
			return circuit.Node(i)
		}
		p.nodes = append(p.nodes, g)
		return m.circuit.Node()
	}
	var params []int
	var choices []int
	copyElement := func(i int) {
		e, c := &n.Elements[i], n.circuit.Elements[i]
		c.A, c.B = node(c.A), node(c.B)
		if c.Steered() {
			c.Control = node(c.Control)
		} else {
			c.Control = circuit.Ground
		}
		m.circuit.Add(c)
		p.elements = append(p.elements, i)
		x := shapePart{param: -1, control: -1, law: e.law, switching: e.switching}
		if e.param >= 0 {
			if x.param = slices.Index(params, e.param); x.param < 0 {
				x.param = len(params)
				params = append(params, e.param)
				v := n.Params[e.param].Value
				m.params = append(m.params, tolerance{v.Low, v.Typ, v.High})
			}
		}
		if e.control >= 0 {
			if x.control = slices.Index(p.Controls, e.control); x.control < 0 {
				// All controls of a choice come along, so that its options are whole.
				choices = append(choices, choiceOf[e.control])
				for _, k := range n.choices[choiceOf[e.control]].controls {
					if k == e.control {
						x.control = len(p.Controls)
					}
					p.Controls = append(p.Controls, k)
				}
			}
		}
		m.parts = append(m.parts, x)
	}
	for _, i := range p.Elements {
		copyElement(i)
	}
	for i := range n.Elements { // a network begins with its rails' sources
		if n.Elements[i].Role != Rail {
			break
		}
		if !n.isGone(i) && slices.Contains(p.nodes, n.circuit.Elements[i].A) {
			copyElement(i)
			m.rails = append(m.rails, m.parts[len(m.parts)-1].param)
		}
	}
	for _, k := range choices {
		c := localChoice{options: n.choices[k].options, partial: n.choices[k].partial}
		for _, i := range n.choices[k].controls {
			c.controls = append(c.controls, slices.Index(p.Controls, i))
		}
		m.choices = append(m.choices, c)
	}
	for j, i := range p.Controls {
		c := &n.Controls[i]
		if c.Kind == Mode && c.Reads {
			for _, mode := range []int{DrivenLow, DrivenHigh} {
				if c.Settings[mode] != "" {
					m.previous = append(m.previous, previous{j, float64(mode)})
				}
			}
		}
	}
	rail := n.RailVolts(n.Board.Logic.Rail).Typ
	m.middle = (n.Board.Logic.VIL.At(rail) + n.Board.Logic.VIH.At(rail)) / 2
	m.hurried = n.known.hurried
	p.pattern = n.known.pattern(m)
}

// Network returns the network that the piece is of.
func (p *Piece) Network() *Network { return p.network }

// local returns the node of the pattern, and whether the piece has the node.
func (p *Piece) local(node circuit.Node) (circuit.Node, bool) {
	n := p.network
	if int(node) < len(n.pieceAt) && n.pieceAt[node] == p {
		return n.localNode[node], true
	}
	i := slices.Index(p.nodes, node)
	return circuit.Node(i), i >= 0
}

// HasElement reports whether an element of the network is one of the piece; a rail is one of all that
// it feeds.
func (p *Piece) HasElement(element int) bool { return p.localElement(element) >= 0 }

// localElement returns the element of the pattern, or -1.
func (p *Piece) localElement(element int) int {
	n := p.network
	switch {
	case element < 0 || element >= len(n.pieceOf):
		return -1
	case n.pieceOf[element] == p:
		return n.localElement[element]
	}
	return slices.Index(p.elements, element)
}

// PieceOf returns the piece that a node belongs to, or nil for a stiff node
// and one that nothing is joined to.
func (n *Network) PieceOf(node circuit.Node) *Piece { return n.pieceAt[node] }

// PieceWith returns the piece that an element belongs to, or nil.
func (n *Network) PieceWith(element int) *Piece {
	if element < 0 {
		return nil
	}
	return n.pieceOf[element]
}

// Node returns the node of a terminal.
func (n *Network) Node(t build.Terminal) circuit.Node { return n.places.node[n.at(t)] }

// Ends returns the nodes of an element.
func (n *Network) Ends(element int) (a, b circuit.Node) {
	e := n.circuit.Elements[element]
	return e.A, e.B
}

// IsJunction reports whether an element is a diode.
func (n *Network) IsJunction(element int) bool {
	return n.circuit.Elements[element].Kind == circuit.Diode
}

// Stiff reports whether a node is ground, or a rail that something feeds.
func (n *Network) Stiff(node circuit.Node) bool { return n.stiff[node] }

// RailNode returns the node of a rail or of the ground.
func (n *Network) RailNode(name string) circuit.Node { return n.Node(build.Pin(name)) }

// FedVolts returns the voltage of a stiff node; zero of the ground and of a node
// that nothing feeds.
func (n *Network) FedVolts(node circuit.Node) spec.Value {
	for i := range n.Elements {
		e := &n.Elements[i]
		if e.Role != Rail {
			break
		}
		if n.circuit.Elements[i].A == node && !n.isGone(i) {
			return n.Params[e.param].Value
		}
	}
	return spec.Value{}
}

// Find returns the index of the element with the role at a part or pin, or -1.
func (n *Network) Find(role Role, partID, pin string) int {
	if i, ok := n.find[address{role, partID, pin}]; ok {
		return i
	}
	return -1
}

// Leak returns the index of the leakage element of a pin at the node, or -1.
func (n *Network) Leak(node circuit.Node) int {
	p := n.PieceOf(node)
	if p == nil {
		return -1
	}
	for _, i := range p.Elements {
		if n.Elements[i].Role == Leak && n.circuit.Elements[i].A == node {
			return i
		}
	}
	return -1
}

// Key says what the piece is: pieces with the same key have the same solutions,
// node by node and element by element, in the same states.
func (p *Piece) Key() string { return p.key() }

// Alike says which pieces are alike: those that share what is solved of them say the
// same. It holds for pieces of one [Cache], while it remembers them.
func (p *Piece) Alike() string { return fmt.Sprintf("%p", p.pattern) }

// ValueAt returns the value with a tolerance that an element has; zero of one
// without.
func (n *Network) ValueAt(element int) spec.Value {
	if element < 0 || n.Elements[element].param < 0 {
		return spec.Value{}
	}
	return n.Params[n.Elements[element].param].Value
}
