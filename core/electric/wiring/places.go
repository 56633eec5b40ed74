package wiring

import (
	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/general/union"
)

// places are where elements end: the legs of parts, the places of the board, and
// points inside parts. A place is a small number, and which of them are one node
// is worked out from the nets on these numbers alone, so that it can be worked
// out again for every change.
type places struct {
	index map[build.Terminal]circuit.Node
	names []build.Terminal // by place; of points inside parts: empty
	net   []int            // by place: the net that is wired to it, or -1
	nets  int
	links [][2]circuit.Node // joined inside parts, or inside the board
	fed   []bool            // by place: a rail that something feeds
	node  []circuit.Node    // by place: the least place that is the same node
}

// A bond is two rails that a net joins.
type bond struct{ a, b circuit.Node }

func (p *places) name(place circuit.Node) string {
	_, leg := p.names[place].Split()
	return leg
}

// place adds a place.
func (p *places) place(t build.Terminal, net int) circuit.Node {
	p.names = append(p.names, t)
	p.net = append(p.net, net)
	p.fed = append(p.fed, false)
	at := circuit.Node(len(p.names) - 1)
	if p.node != nil { // it comes after the joining, and is by itself
		p.node = append(p.node, at)
	}
	return at
}

// addPlaces lists the places of the board, the ground first, and the legs.
func (n *Network) addPlaces() {
	p := &n.places
	most := 4*len(n.Doc.Parts) + 64
	p.index = make(map[build.Terminal]circuit.Node, most)
	add := func(t build.Terminal) {
		if _, ok := p.index[t]; !ok {
			p.index[t] = p.place(t, -1)
		}
	}
	for _, name := range n.Board.Terminals() {
		add(build.Pin(name))
	}
	p.fed[circuit.Ground] = true
	for i := range n.Doc.Parts {
		q := &n.Doc.Parts[i]
		kind, _ := n.Library.Catalogue.Kind(q.Kind)
		for _, t := range kind.Terminals {
			add(build.Of(q.ID, t.ID))
		}
		for _, link := range kind.Links {
			for _, leg := range link[1:] {
				p.links = append(p.links, [2]circuit.Node{n.at(build.Of(q.ID, link[0])), n.at(build.Of(q.ID, leg))})
			}
		}
	}
	for _, place := range n.Board.Places {
		if place.Of != "" {
			p.links = append(p.links, [2]circuit.Node{n.at(build.Pin(place.Of)), n.at(build.Pin(place.Name))})
		}
	}
	for i, net := range n.Doc.Nets {
		for _, t := range net {
			p.net[n.at(t)] = i
		}
	}
	p.nets = len(n.Doc.Nets)
}

// at returns the place of a terminal.
func (n *Network) at(t build.Terminal) circuit.Node { return n.places.index[t] }

// wired reports whether a wire goes to a place.
func (n *Network) wired(t build.Terminal) bool {
	at, ok := n.places.index[t]
	return ok && n.places.net[at] >= 0
}

// join works out which places are one node. Rails that something feeds stay
// nodes of their own: what joins them is a bond.
func (n *Network) join() {
	p := &n.places
	parent := union.Plant[circuit.Node](len(p.names) + p.nets)
	fed := func(i circuit.Node) bool { return int(i) < len(p.fed) && p.fed[i] }
	n.bonds = nil
	unite := func(a, b circuit.Node) {
		a, b = parent.Root(a), parent.Root(b)
		// A root is a fed rail, if the node is one, or else the least place.
		switch {
		case a == b:
		case fed(a) && fed(b):
			n.bonds = append(n.bonds, bond{min(a, b), max(a, b)})
		case fed(a) || !fed(b) && a < b:
			parent.Graft(b, a)
		default:
			parent.Graft(a, b)
		}
	}
	for _, l := range p.links {
		unite(l[0], l[1])
	}
	for i, net := range p.net {
		if net >= 0 {
			unite(circuit.Node(i), circuit.Node(len(p.names)+net))
		}
	}
	p.node = parent[:len(p.names):len(p.names)]
	for i := range p.node {
		p.node[i] = parent.Root(circuit.Node(i))
	}
}

// resolve gives the elements their nodes and splits the circuit into pieces. The
// pieces of another network, which may be nil, are taken where they are the same.
func (n *Network) resolve(before *Network) {
	nodes := len(n.places.names)
	n.circuit = circuit.Circuit{Elements: make([]circuit.Element, len(n.raw))}
	for n.circuit.Nodes() < nodes {
		n.circuit.Node()
	}
	for i, e := range n.raw {
		e.A, e.B, e.Control = n.places.node[e.A], n.places.node[e.B], n.places.node[e.Control]
		n.circuit.Elements[i] = e
	}
	n.stiff = make([]bool, nodes)
	for i := range n.stiff {
		n.stiff[i] = n.places.fed[n.places.node[i]]
	}
	n.starve()
	n.split(before)
}
