// Package circuit solves small electrical circuits, at rest and over time.
//
// It knows nodes and elements and nothing of boards or parts. A [Circuit] is
// plain data: add nodes and elements, change values and switches freely, and
// solve it as often as needed with a [Solver]. Voltages are in volts against
// [Ground], currents in amperes, resistances in ohms.
//
// The method is modified nodal analysis (Ho, Ruehli and Brennan, IEEE Trans.
// Circuits Syst. 22(6), 1975) with Newton iteration for the junctions. Nodes
// that a chain of voltage sources ties to ground are stiff: they are known
// beforehand, and the circuit falls apart at them into pieces that are solved
// alone.
package circuit

import "math"

// A Node is a place of one voltage. Ground is the zero Node, at 0 V.
type Node int

// Ground is the node that voltages are counted from.
const Ground Node = 0

// A Kind says what an element is.
type Kind uint8

// The kinds of elements.
const (
	Resistor      Kind = iota // Value is its resistance in ohms, above zero
	Switch                    // Value is its resistance in ohms while it is not Open
	Diode                     // Junction is its model; A is the anode, B the cathode
	VoltageSource             // Value is the voltage of A above B in volts
	CurrentSource             // Value is the current through it from A to B in amperes
	Capacitor                 // Value is its capacitance in farads, above zero; at rest it conducts nothing
	Inductor                  // Value is its inductance in henries and Ohms its resistance, both above zero
	Transport                 // the collector current of an NPN transistor; see [Element.Control]
	Channel                   // the drain current of an n-channel MOSFET; see [Element.Control]
)

// An Element joins two nodes. Its current is counted from A to B through it.
//
// The current of a Transport and of a Channel also depends on a third node,
// from which it takes none. A Transport is the current between collector A and
// emitter B of the Ebers–Moll model in its transport form, with the base as
// Control and the saturation current as Value; the base's own currents are two
// Diodes beside it. A Channel is the current between drain A and source B of
// the Shichman–Hodges model, with the gate as Control, the transconductance in
// A/V² as Value, and a Threshold in volts.
type Element struct {
	Kind      Kind
	A, B      Node
	Control   Node
	Value     float64
	Threshold float64
	Ohms      float64 // of an Inductor
	Open      bool    // of a Switch: it conducts nothing
	Junction  Junction
}

// Steered reports whether the current depends on the Control node too.
func (e *Element) Steered() bool { return e.Kind == Transport || e.Kind == Channel }

// A Junction is the Shockley model of a diode with a series resistance:
// v = N·Vt·ln(1 + i/Is) + i·Rs.
type Junction struct {
	Is float64 // saturation current in amperes, above zero
	N  float64 // ideality factor, above zero
	Rs float64 // series resistance in ohms, zero or more
}

// ThermalVoltage is k·T/q at 27 °C in volts (CODATA 2018, exact k and q). 27 °C
// is the nominal temperature of circuit simulation by custom.
const ThermalVoltage = 1.380649e-23 * 300.15 / 1.602176634e-19

// FitJunction returns the junction with the given ideality and series
// resistance that carries amps at volts. The series resistance must leave a
// voltage for the junction itself: volts > amps·rs.
func FitJunction(volts, amps, n, rs float64) Junction {
	v := volts - amps*rs
	return Junction{Is: amps / math.Expm1(v/(n*ThermalVoltage)), N: n, Rs: rs}
}

// A Circuit is a set of nodes and elements. The zero Circuit has only Ground.
type Circuit struct {
	nodes    int // beside ground
	Elements []Element
}

// Node adds a node.
func (c *Circuit) Node() Node {
	c.nodes++
	return Node(c.nodes)
}

// Nodes returns the number of nodes, Ground included. Nodes run from 0.
func (c *Circuit) Nodes() int { return c.nodes + 1 }

// Add adds an element and returns its index in Elements. It panics when the
// element's ends are not nodes of the circuit.
func (c *Circuit) Add(e Element) int {
	for _, n := range [3]Node{e.A, e.B, e.Control} {
		if n < 0 || int(n) >= c.Nodes() {
			panic("circuit: an element is joined to a node that does not exist")
		}
	}
	c.Elements = append(c.Elements, e)
	return len(c.Elements) - 1
}

// A Solution holds the voltages and currents of one solved circuit.
type Solution struct {
	V []float64 // by Node, in volts against Ground
	I []float64 // by element index, in amperes from A to B through the element
}

// Across returns the voltage of a above b.
func (s *Solution) Across(a, b Node) float64 { return s.V[a] - s.V[b] }

// Pieces splits the circuit where it is stiff. Each piece lists the indices of
// its elements; two elements are in one piece when a path joins them that does
// not pass through a stiff node, whatever the switches are set to. Voltage
// sources that make nodes stiff are in no piece, and an element between two
// stiff nodes is a piece of its own.
func (c *Circuit) Pieces() [][]int {
	stiff := make([]bool, c.Nodes())
	for _, f := range c.stiff(nil) {
		stiff[f.node] = true
	}
	stiff[Ground] = true
	parent := make([]int, c.Nodes())
	for i := range parent {
		parent[i] = i
	}
	find := func(n Node) int {
		i := int(n)
		for parent[i] != i {
			parent[i] = parent[parent[i]]
			i = parent[i]
		}
		return i
	}
	// For a Control that is not stiff, the node of the two that the piece goes by.
	through := func(e Element) Node {
		if stiff[e.A] {
			return e.B
		}
		return e.A
	}
	for _, e := range c.Elements {
		if !stiff[e.A] && !stiff[e.B] {
			parent[find(e.A)] = find(e.B)
		}
		if e.Steered() && !stiff[e.Control] && !stiff[through(e)] {
			parent[find(e.Control)] = find(through(e))
		}
	}
	var pieces [][]int
	at := map[int]int{}
	for i, e := range c.Elements {
		root := -1
		switch {
		case !stiff[e.A]:
			root = find(e.A)
		case !stiff[e.B]:
			root = find(e.B)
		case e.Steered() && !stiff[e.Control]:
			root = find(e.Control)
		case e.Kind == VoltageSource:
			continue
		}
		p, ok := at[root]
		if root < 0 || !ok {
			p = len(pieces)
			pieces = append(pieces, nil)
			if root >= 0 {
				at[root] = p
			}
		}
		pieces[p] = append(pieces[p], i)
	}
	return pieces
}

// fixed is a node whose voltage a source gives, and which source.
type fixed struct {
	node   Node
	from   Node // the stiff node at the source's other end
	source int
}

// stiff lists the nodes that chains of voltage sources tie to ground, in an
// order in which each comes after the node it hangs on.
func (c *Circuit) stiff(list []fixed) []fixed {
	known := make([]bool, c.Nodes())
	known[Ground] = true
	for found := true; found; {
		found = false
		for i, e := range c.Elements {
			if e.Kind != VoltageSource || known[e.A] == known[e.B] {
				continue
			}
			f := fixed{node: e.A, from: e.B, source: i}
			if known[e.A] {
				f.node, f.from = e.B, e.A
			}
			known[f.node] = true
			list = append(list, f)
			found = true
		}
	}
	return list
}
