// Package wiring turns a build into a circuit, and says in which states the
// circuit can be.
//
// The rails of a board are stiff, so the circuit falls apart into pieces that
// do not influence each other. A [Piece] is solved for its own states alone,
// which keeps the cost of "every state" in line with the number of parts.
package wiring

import (
	"fmt"

	"cablaggio/core/board"
	"cablaggio/core/build"
	"cablaggio/core/circuit"
	"cablaggio/core/part"
	"cablaggio/core/spec"
)

// A Network is the circuit of a build with the meaning of its elements.
type Network struct {
	Doc      *build.Document
	Board    *board.Profile
	Library  *build.Library
	Params   []Param
	Controls []Control
	Elements []Element
	Pieces   []*Piece
	Uses     []Use // the pins that signals use, in the order of the board's pins
	Lamps    []Lamp
	Inputs   []PartInput // of parts that read a level

	pieceOf []*Piece // by element
	circuit circuit.Circuit
	nodes   map[build.Terminal]circuit.Node
	rails   map[string]circuit.Node
}

// A Param is a value of the circuit that has a tolerance.
type Param struct {
	Name  string // "resistance of lamp 1"
	What  string // "resistance"
	Value spec.Value
}

// A ControlKind says what changes a control.
type ControlKind uint8

// The kinds of controls.
const (
	Output   ControlKind = iota // the program drives a pin; its settings are [Low] and [High]
	Turn                        // the program makes one of several outputs active at a time; setting 0 is none
	Driven                      // the program drives an output of a part; its settings are [Low] and [High]
	Contact                     // a hand or the world sets a part; of a contact the settings are [Open] and [Closed]
	Previous                    // an old program may drive an input; its settings are [AsPlanned], [Low]+1 and [High]+1
)

// Controlled reports whether a control switches or scales the element.
func (e Element) Controlled() bool { return e.control >= 0 }

// ControlOf returns the index of the control that switches or scales the
// element, or -1.
func (e Element) ControlOf() int { return e.control }

// conducts reports whether the element conducts with its control at a setting.
func (e Element) conducts(setting int) bool { return e.scale != nil || e.on[setting] }

// factor returns what the element's value is multiplied by at a setting.
func (e Element) factor(setting int) float64 {
	if e.scale == nil {
		return 1
	}
	return e.scale[setting]
}

// Settings of controls.
const (
	Low, High    = 0, 1
	Open, Closed = 0, 1
	AsPlanned    = 0
)

// A Control is something in the circuit that can be set.
type Control struct {
	Kind     ControlKind
	Of       string    // the pin, the part or its leg; no two controls have the same
	Name     string    // "D4 (lamp 1)", "button 1"
	Settings []string  // what each setting is called: "low", "high"
	Levels   []float64 // of a sensor: what it measures at each setting
}

// A Lamp is one LED: a part, or one of several in a case.
type Lamp struct {
	Part    *build.Part
	Emitter part.Emitter // zero for a part that is one LED
	Name    string       // "red LED 1", "the red of RGB LED 1"
	Element int
}

// Value returns a value of the lamp: its own in the case, or the case's.
func (l Lamp) Value(kind *part.Kind, id string) spec.Value {
	return ValueOf(kind, l.Part, l.ValueID(kind, id))
}

// ValueID returns the id that a value of the lamp has in its part.
func (l Lamp) ValueID(kind *part.Kind, id string) string {
	if own := l.Emitter.ID + "." + id; l.Emitter.ID != "" {
		if _, ok := kind.Value(own); ok {
			return own
		}
	}
	return id
}

// A PartInput is a leg of a part that reads a level, against its own supply.
type PartInput struct {
	Part     *build.Part
	Leg      string
	Node     circuit.Node
	Supply   circuit.Node // of its supply leg
	VIL, VIH float64      // parts of its supply's voltage
}

// planned returns how many settings belong to the build as planned. The rest
// is what only an old program would do.
func (c Control) planned() int {
	if c.Kind == Previous {
		return 1
	}
	return len(c.Settings)
}

// A Role says what an element is to the part or pin it belongs to.
type Role uint8

// The roles of elements.
const (
	Body     Role = iota // the part itself
	Inner                // what else is inside the part
	PartOut              // what drives an output of a part
	Appetite             // what a part draws from its supply legs for itself
	Glow                 // the board's own LED on a pin
	HighSide             // what drives a pin high
	LowSide              // what drives a pin low
	Pull                 // the pull of an input
	Leak                 // the leakage of an input
	Clamp                // the clamp diodes of an input
	Rail                 // the source of a rail
	Wire                 // a wire straight from rail to rail
)

// An Element is an element of the circuit with its meaning.
type Element struct {
	Part  string // id of the part it belongs to, or empty
	Pin   string // name of the pin or rail it belongs to, or empty
	Role  Role
	Name  string     // "resistor of lamp 1", "pin D4, high side"
	Limit spec.Limit // of its current; zero: none of its own
	Coil  bool       // its current goes on when its switch opens

	param   int // index of its param, or -1
	apply   func(*circuit.Element, float64)
	control int                         // index of the control that switches or scales it, or -1
	on      []bool                      // the settings in which it conducts
	scale   []float64                   // of an element that is scaled instead: the factor of each setting
	law     func(level float64) float64 // of a sensor: the factor at a level
}

// two returns in which of two settings an element conducts.
func two(setting int) []bool { return []bool{setting == 0, setting == 1} }

// Build makes the network of a document that is valid in the library.
func Build(lib *build.Library, doc *build.Document) *Network {
	b, _ := lib.Board(doc.Board)
	n := &Network{Doc: doc, Board: b, Library: lib, nodes: map[build.Terminal]circuit.Node{}, rails: map[string]circuit.Node{}}
	const usual = 5 // elements of a part with its share of a pin
	n.Elements = make([]Element, 0, usual*(len(doc.Parts)+1))
	n.circuit.Elements = make([]circuit.Element, 0, usual*(len(doc.Parts)+1))
	n.Params = make([]Param, 0, usual*(len(doc.Parts)+1))
	n.addRails()
	n.addNets()
	n.addPins()
	for i := range doc.Parts {
		p := &doc.Parts[i]
		kind, _ := lib.Catalogue.Kind(p.Kind)
		models[kind.Model](instance{n, p, kind})
	}
	n.addGlow()
	n.addPieces()
	return n
}

func (n *Network) addRails() {
	n.rails[n.Board.Ground] = circuit.Ground
	n.nodes[build.Pin(n.Board.Ground)] = circuit.Ground
	s, _ := n.Board.Supply(n.Doc.Supply)
	fed := n.Doc.Fed(s)
	for _, r := range n.Board.Rails {
		node := n.circuit.Node()
		n.rails[r.Name] = node
		n.nodes[build.Pin(r.Name)] = node
		p := n.param("voltage", "the "+r.Name+" rail", s.RailVolts(r, fed))
		n.add(Element{Pin: r.Name, Role: Rail, Name: r.Name + " rail", param: p, control: -1},
			circuit.Element{Kind: circuit.VoltageSource, A: node, B: circuit.Ground})
	}
}

// wireOhms stands for a short piece of hookup wire: 10 cm of 0.25 mm² copper
// with its two contacts (from memory).
const wireOhms = 0.02

// addNets gives every terminal its node. A net with a rail is that rail's node;
// a net with several rails has a wire between them, so that what it does is
// computed like everything else.
func (n *Network) addNets() {
	group := n.joined()
	roots := make(map[build.Terminal]circuit.Node)
	for _, t := range group.order {
		root := group.find(t)
		node, known := roots[root]
		_, leg := t.Split()
		rail, isRail := n.rails[leg]
		isRail = isRail && t.OnBoard()
		switch {
		case isRail && !known:
			roots[root] = rail
		case isRail && rail != node:
			n.add(Element{Role: Wire, Name: fmt.Sprintf("wire from %s", leg), param: -1, control: -1},
				circuit.Element{Kind: circuit.Resistor, A: rail, B: node, Value: wireOhms})
		}
	}
	for _, t := range group.order {
		root := group.find(t)
		if _, isRail := n.nodes[t]; isRail {
			continue
		}
		node, known := roots[root]
		if !known {
			node = n.circuit.Node()
			roots[root] = node
		}
		n.nodes[t] = node
	}
}

// joined unites the terminals that nets and the insides of parts join.
func (n *Network) joined() *union {
	u := &union{parent: map[build.Terminal]build.Terminal{}}
	for _, t := range n.Board.Terminals() {
		u.find(build.Pin(t))
	}
	for _, p := range n.Doc.Parts {
		kind, _ := n.Library.Catalogue.Kind(p.Kind)
		for _, t := range kind.Terminals {
			u.find(build.Of(p.ID, t.ID))
		}
		for _, link := range kind.Links {
			u.join(build.Of(p.ID, link[0]), build.Of(p.ID, link[1]))
		}
	}
	for _, net := range n.Doc.Nets {
		for _, t := range net[1:] {
			u.join(net[0], t)
		}
	}
	return u
}

type union struct {
	parent map[build.Terminal]build.Terminal
	order  []build.Terminal
}

func (u *union) find(t build.Terminal) build.Terminal {
	p, ok := u.parent[t]
	if !ok {
		u.parent[t] = t
		u.order = append(u.order, t)
		return t
	}
	if p == t {
		return t
	}
	root := u.find(p)
	u.parent[t] = root
	return root
}

func (u *union) join(a, b build.Terminal) { u.parent[u.find(a)] = u.find(b) }

func (n *Network) param(what, of string, v spec.Value) int {
	n.Params = append(n.Params, Param{what + " of " + of, what, v})
	return len(n.Params) - 1
}

func (n *Network) control(c Control) int {
	n.Controls = append(n.Controls, c)
	return len(n.Controls) - 1
}

func (n *Network) add(e Element, c circuit.Element) {
	if e.apply == nil {
		e.apply = func(ce *circuit.Element, v float64) { ce.Value = v }
	}
	if e.param >= 0 {
		e.apply(&c, n.Params[e.param].Value.Typ)
	}
	n.circuit.Add(c)
	n.Elements = append(n.Elements, e)
}
