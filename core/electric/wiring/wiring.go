// Package wiring turns a build into a circuit, and says in which states the
// circuit can be.
//
// The rails of a board are stiff, so the circuit falls apart into pieces that
// do not influence each other. A [Piece] is solved for its own states alone,
// which keeps the cost of "every state" in line with the number of parts.
//
// A [Network] does not change once it is built. [Network.With] gives another
// one in which a leg is loose, two places are joined, a value is another; the
// pieces that this does not touch are the same. What has been solved of a piece
// is kept in a [Cache], by what the piece is, so that pieces that are alike are
// solved once, in this network or in any other.
package wiring

import (
	"cmp"
	"fmt"
	"slices"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/values/spec"
)

// A Network is the circuit of a build with the meaning of its elements. It does
// not change, and may be asked from several goroutines at once.
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
	Turns    []Turns     // what is on one at a time

	known        *Cache
	places       places
	bonds        []bond             // of rails that wires join
	raw          []circuit.Element  // the elements between places instead of nodes
	circuit      circuit.Circuit    // the same between nodes
	stiff        []bool             // by node
	pieceOf      []*Piece           // by element
	pieceAt      []*Piece           // by node; stiff ones are in none
	localNode    []circuit.Node     // by node: what it is in its piece
	localElement []int              // by element
	gone         []bool             // by element: a change has taken it out
	dead         []bool             // by element: its part is not fed
	remade       map[int]build.Part // by part: what a change has made of it
	built        []int              // by place: the net that the build wires to it
	touched      []bool             // by element: a change has made it another
	find         map[address]int    // of elements
	spans        []span             // by part: its elements
	choices      []choice           // what the plan lets the controls be together
}

// A Param is a value of the circuit that has a tolerance.
type Param struct {
	Name  string // "resistance of lamp 1"
	Value spec.Value
}

// A Lamp is one LED: a part, or one of several in a case.
type Lamp struct {
	Part    *build.Part
	Emitter part.Emitter // zero for a part that is one LED
	Name    string       // "red LED 1", "the red of RGB LED 1"
	Element int
}

// Ink returns the colour of the lamp, which is of a kind: in a case with several its own.
func (l Lamp) Ink(kind *part.Kind) part.Ink {
	t, _ := kind.Type(l.Part.Type)
	return part.InkOf(cmp.Or(l.Emitter.Ink, t.Ink))
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

// A Role says what an element is to the part or pin it belongs to.
type Role uint8

// The roles of elements.
const (
	Body       Role = iota // the part itself
	Inner                  // what else is inside the part
	PartOut                // what drives an output of a part
	Appetite               // what a part draws from its supply legs for itself
	Glow                   // the board's own LED on a pin
	HighSide               // what drives a pin high
	LowSide                // what drives a pin low
	Pull                   // a pull of a pin
	Leak                   // the leakage of a pin
	Clamp                  // the clamp diodes of a pin
	Rail                   // the source of a rail
	Wire                   // a wire straight from rail to rail
	Instrument             // what a change puts in
)

// An Element is an element of the circuit with its meaning.
type Element struct {
	Part  string // id of the part it belongs to, or empty
	Pin   string // name of the pin or rail it belongs to, or empty
	Role  Role
	Name  string     // "resistor of lamp 1", "pin D4, high side"
	Limit spec.Limit // of its current; zero: none of its own
	Coil  bool       // its current goes on when its switch opens

	live bool // only while its part is fed

	param   int // index of its param, or -1
	law     law // what a value of the param does to the element
	control int // index of the control that switches or scales it, or -1
	switching
}

// Controlled reports whether a control switches or scales the element.
func (e Element) Controlled() bool { return e.control >= 0 }

// ControlOf returns the index of the control that switches or scales the
// element, or -1.
func (e Element) ControlOf() int { return e.control }

// plain is an element without a tolerance and without a control.
func plain(e Element) Element {
	e.param, e.control = -1, -1
	return e
}

// An address is what an element is found by.
type address struct {
	role      Role
	part, pin string
}

type span struct{ from, to int }

// Build makes the network of a document that is valid in the library, which
// knows nothing beforehand.
func Build(lib *build.Library, doc *build.Document) *Network { return NewCache().Build(lib, doc) }

// Of returns the network of another document of the same library, with what is known
// already. Changes that were made of n are not in it.
func (n *Network) Of(doc *build.Document) *Network { return n.known.Build(n.Library, doc) }

// Build makes the network of a document that is valid in the library. What is
// solved of it is kept, and what was solved before is not solved again.
func (k *Cache) Build(lib *build.Library, doc *build.Document) *Network {
	b, _ := lib.Board(doc.Board)
	n := &Network{Doc: doc, Board: b, Library: lib, known: k}
	const usual = 6 // elements of a part with its share of a pin
	room := usual * (len(doc.Parts) + 1)
	n.Elements = make([]Element, 0, room)
	n.raw = make([]circuit.Element, 0, room)
	n.Params = make([]Param, 0, room)
	n.addPlaces()
	n.addRails()
	n.built = slices.Clip(n.places.net)
	n.join()
	n.addWires()
	n.addPins()
	n.spans = make([]span, len(doc.Parts))
	for i := range doc.Parts {
		n.addPart(i)
	}
	n.addGlow()
	n.addTurns()
	n.find = make(map[address]int, len(n.Elements))
	for i := range n.Elements {
		e := &n.Elements[i]
		if at := (address{e.Role, e.Part, e.Pin}); !n.has(at) {
			n.find[at] = i
		}
	}
	n.resolve(nil)
	return n
}

func (n *Network) has(at address) bool {
	_, ok := n.find[at]
	return ok
}

// addPart models a part.
func (n *Network) addPart(i int) {
	p := &n.Doc.Parts[i]
	kind, _ := n.Library.Catalogue.Kind(p.Kind)
	n.spans[i].from = len(n.Elements)
	instance{network: n, part: p, kind: kind}.make()
	n.spans[i].to = len(n.Elements)
}

func (n *Network) addRails() {
	s, _ := n.Board.Supply(n.Doc.Supply)
	fed := n.Doc.Fed(s)
	feed := func(name string, volts spec.Value) {
		if volts.IsZero() {
			return // nothing feeds it
		}
		place := n.at(build.Pin(name))
		n.places.fed[place] = true
		n.add(Element{Pin: name, Role: Rail, Name: name + " rail", param: n.param("voltage of the "+name+" rail", volts), control: -1},
			circuit.Element{Kind: circuit.VoltageSource, A: place, B: circuit.Ground})
	}
	for _, r := range n.Board.Rails {
		feed(r.Name, s.RailVolts(r, fed))
	}
	for _, place := range n.Board.Places {
		if place.Supply != "" && place.Supply == s.ID {
			feed(place.Name, fed)
		}
	}
}

// wireOhms stands for a short piece of hookup wire: 10 cm of 0.25 mm² copper
// with its two contacts (from memory).
const wireOhms = 0.02

// addWires adds what joins rails straight, so that what it does is computed like
// everything else.
func (n *Network) addWires() {
	for _, b := range n.bonds {
		n.add(plain(Element{Role: Wire, Name: fmt.Sprintf("wire from %s", n.places.name(b.b))}),
			circuit.Element{Kind: circuit.Resistor, A: b.b, B: b.a, Value: wireOhms})
	}
}

func (n *Network) param(name string, v spec.Value) int {
	n.Params = append(n.Params, Param{name, v})
	return len(n.Params) - 1
}

func (n *Network) add(e Element, c circuit.Element) {
	if e.param >= 0 {
		e.law.apply(&c, n.Params[e.param].Value.Typ)
	}
	n.raw = append(n.raw, c)
	n.Elements = append(n.Elements, e)
}

// RailVolts returns the voltage of a rail, or of the place where the supply comes
// in, with the build's supply; zero of one that nothing feeds.
func (n *Network) RailVolts(name string) spec.Value {
	if e := n.Find(Rail, "", name); e >= 0 {
		return n.Params[n.Elements[e].param].Value
	}
	return spec.Value{}
}
