package wiring

import (
	"cablaggio/core/build"
	"cablaggio/core/circuit"
	"cablaggio/core/part"
	"cablaggio/core/spec"
)

// Node returns the node of a terminal.
func (n *Network) Node(t build.Terminal) circuit.Node { return n.nodes[t] }

// Ends returns the nodes of an element.
func (n *Network) Ends(element int) (a, b circuit.Node) {
	e := n.circuit.Elements[element]
	return e.A, e.B
}

// IsJunction reports whether an element is a diode.
func (n *Network) IsJunction(element int) bool {
	return n.circuit.Elements[element].Kind == circuit.Diode
}

// Stiff reports whether a node is ground or a rail.
func (n *Network) Stiff(node circuit.Node) bool {
	for _, r := range n.rails {
		if r == node {
			return true
		}
	}
	return false
}

// RailNode returns the node of a rail or of the ground.
func (n *Network) RailNode(name string) circuit.Node { return n.rails[name] }

// PieceOf returns the piece that a node belongs to, or nil for a stiff node
// and one that nothing is joined to.
func (n *Network) PieceOf(node circuit.Node) *Piece {
	for _, p := range n.Pieces {
		if _, ok := p.local[node]; ok && !n.Stiff(node) {
			return p
		}
	}
	return nil
}

// PieceWith returns the piece that an element belongs to, or nil.
func (n *Network) PieceWith(element int) *Piece {
	if element < 0 {
		return nil
	}
	return n.pieceOf[element]
}

// ParamOf returns the index of the value of an element that has a tolerance, or
// -1.
func (n *Network) ParamOf(element int) int {
	if element < 0 {
		return -1
	}
	return n.Elements[element].param
}

// Find returns the index of the element with the role at a part or pin, or -1.
func (n *Network) Find(role Role, partID, pin string) int {
	for i := range n.Elements {
		if e := &n.Elements[i]; e.Role == role && e.Part == partID && e.Pin == pin {
			return i
		}
	}
	return -1
}

// RailVolts returns the voltage of a rail with the build's supply.
func (n *Network) RailVolts(name string) spec.Value {
	if e := n.Find(Rail, "", name); e >= 0 {
		return n.Params[n.Elements[e].param].Value
	}
	return spec.Value{}
}

// Leak returns the index of the leakage element of an input at the node, or -1.
func (n *Network) Leak(node circuit.Node) int {
	for i := range n.Elements {
		if e := &n.Elements[i]; e.Role == Leak && n.circuit.Elements[i].A == node {
			return i
		}
	}
	return -1
}

// ValueOf returns a value of a part: the builder's own where there is one, or
// else the catalogue's.
func ValueOf(kind *part.Kind, p *build.Part, id string) spec.Value {
	stated := kind.Stated(p.Type, id)
	if own, ok := p.Values[id]; ok {
		if p.Chosen {
			return stated.Rescaled(own, "chosen for this build")
		}
		return stated.Rescaled(own, "your own value")
	}
	return stated
}
