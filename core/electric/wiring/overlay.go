package wiring

import (
	"maps"
	"slices"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/general/union"
	"cablaggio/core/values/spec"
)

// A Change is one thing that is other than the network says: a fault, an
// instrument, another value. Make one with [Loose], [Join], [Exchange], [Set],
// [Between], [Unpowered] or [Feed].
type Change struct {
	kind  changeKind
	a, b  build.Terminal
	part  string
	value string
	to    float64
	put   circuit.Element
	net   int
}

type changeKind uint8

const (
	opened changeKind = iota
	joined
	exchanged
	valued
	put
	unpowered
	metered
	refed
)

// Loose takes the wires off a leg, or a place of the board.
func Loose(leg build.Terminal) Change { return Change{kind: opened, a: leg} }

// Join joins two places with a wire.
func Join(a, b build.Terminal) Change { return Change{kind: joined, a: a, b: b} }

// Exchange lets two places change wires: a part turned round is its legs
// exchanged.
func Exchange(a, b build.Terminal) Change { return Change{kind: exchanged, a: a, b: b} }

// Set gives a part another value, in SI base units, by the id that the catalogue
// has for it.
func Set(part, value string, to float64) Change {
	return Change{kind: valued, part: part, value: value, to: to}
}

// Between puts an element between two places: its A is at a, its B at b. It
// becomes the last element of the network, with the role [Instrument].
func Between(a, b build.Terminal, e circuit.Element) Change {
	return Change{kind: put, a: a, b: b, put: e}
}

// Unpowered takes the supply away: no rail is fed. The board stays in place.
func Unpowered() Change { return Change{kind: unpowered} }

// Feed gives the supply another voltage, of so many volts exactly: the rails have it as far as
// their regulator lets it through (see [board.Supply.RailAt]). At 0 V all rails are at ground.
func Feed(volts float64) Change { return Change{kind: refed, to: volts} }

// With returns the network with the changes made, one after another. Only the
// pieces that they touch are made and solved anew; n stays as it is. Terminals
// and parts must be those of the build. Doc, Uses, Lamps and Turns remain those of
// the build, and elements keep their indices.
func (n *Network) With(changes ...Change) *Network {
	m := *n
	m.places.net = slices.Clone(n.places.net)
	// What grows grows into an array of its own: others may be changing n as well.
	m.places.names, m.places.fed, m.places.node = slices.Clip(n.places.names), slices.Clip(n.places.fed), slices.Clip(n.places.node)
	m.Params, m.Controls, m.choices = slices.Clip(n.Params), slices.Clip(n.Controls), slices.Clip(n.choices)
	m.Elements, m.raw = slices.Clip(n.Elements), slices.Clip(n.raw)
	m.gone = slices.Grow(slices.Clone(n.gone), len(n.Elements))[:len(n.Elements)]
	m.touched = make([]bool, len(n.Elements), len(n.Elements)+8)
	wires := false
	for _, c := range changes {
		switch c.kind {
		case opened:
			m.places.net[m.at(c.a)] = -1
			wires = true
		case joined:
			m.wire(c.a)
			m.wire(c.b)
			union.Sets(m.places.net).Join(int(m.at(c.a)), int(m.at(c.b)))
			wires = true
		case exchanged:
			a, b := m.at(c.a), m.at(c.b)
			m.places.net[a], m.places.net[b] = m.places.net[b], m.places.net[a]
			wires = true
		case valued:
			m.remake(c)
		case put:
			m.wire(c.a)
			m.wire(c.b)
			e := c.put
			e.A, e.B = m.at(c.a), m.at(c.b)
			m.add(plain(Element{Role: Instrument, Name: "instrument"}), e)
			wires = true
		case metered:
			// From the wires of a net, at a point of its own, into the leg.
			at := m.places.place("", c.net)
			meter := circuit.Element{Kind: circuit.VoltageSource, A: at, B: m.at(c.a)}
			if c.to > 0 {
				meter.Kind, meter.Value = circuit.Resistor, c.to
			}
			m.add(plain(Element{Role: Instrument, Name: "ammeter"}), meter)
			wires = true
		case unpowered:
			m.unfeed()
			wires = true
		case refed:
			m.refeed(c.to)
		}
	}
	for _, c := range changes {
		if c.kind == valued {
			m.revalue(c.part)
		}
	}
	if !wires {
		m.replaceElements(n)
		if m.starve(); slices.Equal(m.dead, n.dead) {
			m.replacePieces(n)
			return &m
		}
	}
	m.model()
	m.join()
	m.rewire(n)
	for len(m.touched) < len(m.Elements) {
		m.touched = append(m.touched, false)
	}
	m.resolve(n)
	return &m
}

// replaceElements makes the touched elements of the circuit anew, where no wire has
// changed: everything else is as in another network.
func (n *Network) replaceElements(before *Network) {
	n.circuit.Elements = slices.Clone(before.circuit.Elements)
	for i, touched := range n.touched {
		if !touched {
			continue
		}
		e := n.raw[i]
		e.A, e.B, e.Control = before.circuit.Elements[i].A, before.circuit.Elements[i].B, before.circuit.Elements[i].Control
		n.circuit.Elements[i] = e
	}
}

// replacePieces makes the pieces anew that have touched elements, where no wire has
// changed.
func (n *Network) replacePieces(before *Network) {
	n.Pieces, n.pieceOf, n.pieceAt = slices.Clone(before.Pieces), slices.Clone(before.pieceOf), slices.Clone(before.pieceAt)
	choiceOf := n.choiceOf()
	for k, p := range before.Pieces {
		if !slices.ContainsFunc(p.Elements, func(i int) bool { return n.touched[i] }) {
			continue
		}
		q := &Piece{Elements: p.Elements, network: n}
		q.extract(choiceOf)
		n.Pieces[k] = q
		for _, i := range p.Elements {
			n.pieceOf[i] = q
		}
		for _, node := range q.nodes {
			if !n.stiff[node] {
				n.pieceAt[node] = q
			}
		}
	}
}

// wire gives a place a net of its own, unless it has one: something is joined to
// it now.
func (n *Network) wire(t build.Terminal) {
	if at := n.at(t); n.places.net[at] < 0 {
		n.places.net[at] = n.places.nets
		n.places.nets++
	}
}

// remake notes that a part has another value.
func (n *Network) remake(c Change) {
	i := slices.IndexFunc(n.Doc.Parts, func(p build.Part) bool { return p.ID == c.part })
	p := *n.part(i)
	p.Values, p.Chosen = maps.Clone(p.Values), false
	if p.Values == nil {
		p.Values = map[string]float64{}
	}
	p.Values[c.value] = c.to
	n.remade = maps.Clone(n.remade)
	if n.remade == nil {
		n.remade = map[int]build.Part{}
	}
	n.remade[i] = p
}

// part returns a part of the build, as changes have made it.
func (n *Network) part(i int) *build.Part {
	if p, ok := n.remade[i]; ok {
		return &p
	}
	return &n.Doc.Parts[i]
}

// revalue models a part again. What it makes stands where it stood: its elements
// keep their ends, for points inside the part are those that it had.
func (n *Network) revalue(id string) {
	i := slices.IndexFunc(n.Doc.Parts, func(p build.Part) bool { return p.ID == id })
	p := n.part(i)
	kind, _ := n.Library.Catalogue.Kind(p.Kind)
	made := func(build func(instance)) ([]Element, []circuit.Element) {
		s := *n
		s.places.net = n.built
		s.Elements, s.raw, s.Lamps, s.Inputs = nil, nil, nil, nil
		build(instance{network: &s, part: p, kind: kind})
		n.Params = s.Params
		return s.Elements, s.raw
	}
	n.Elements, n.raw = slices.Clone(n.Elements), slices.Clone(n.raw)
	replace := func(from int, elements []Element, raw []circuit.Element) {
		for k := range elements {
			e := raw[k]
			e.A, e.B, e.Control = n.raw[from+k].A, n.raw[from+k].B, n.raw[from+k].Control
			n.Elements[from+k], n.raw[from+k], n.touched[from+k] = elements[k], e, true
		}
	}
	elements, raw := made(instance.make)
	replace(n.spans[i].from, elements, raw)
	// Outputs that an earlier change has wired stand behind all else, two elements
	// each.
	for at := n.spans[len(n.spans)-1].to; at < len(n.Elements); at++ {
		if e := &n.Elements[at]; e.Part == id && e.Role == PartOut {
			_, leg, _ := strings.Cut(n.Controls[e.control].Of, ".")
			elements, raw := made(func(i instance) { registerOutput(i, leg) })
			replace(at, elements, raw)
			at++
		}
	}
}

// model adds the pins and outputs that nothing was wired to before.
func (n *Network) model() {
	before := len(n.Elements)
	for _, pin := range n.Board.Pins {
		if n.controlNamed(pin.Name) < 0 && n.wiredPin(pin.Name) {
			n.addPin(pin, nil)
			if pin.Own != nil && pin.Own.LED != nil {
				n.addGlowOf(pin)
			}
		}
	}
	for _, place := range n.Board.Places {
		if place.Pulled != nil && n.wired(build.Pin(place.Name)) && n.Find(Pull, "", place.Name) < 0 {
			n.addPulled(place)
		}
	}
	for i := range n.Doc.Parts {
		p := n.part(i)
		kind, _ := n.Library.Catalogue.Kind(p.Kind)
		for _, leg := range kind.Outputs {
			if of := p.ID + "." + leg; n.wired(build.Of(p.ID, leg)) && n.controlNamed(of) < 0 {
				registerOutput(instance{network: n, part: p, kind: kind}, leg)
			}
		}
	}
	for range len(n.Elements) - before {
		n.touched = append(n.touched, true)
	}
	for i := range n.Controls {
		if !slices.ContainsFunc(n.choices, func(c choice) bool { return slices.Contains(c.controls, i) }) {
			c := choice{controls: []int{i}}
			for _, s := range n.Controls[i].Planned {
				c.options = append(c.options, []float64{s})
			}
			n.choices = append(n.choices, c)
		}
	}
}

// rewire replaces the wires between rails.
func (n *Network) rewire(before *Network) {
	if slices.Equal(n.bonds, before.bonds) {
		return
	}
	for i := range n.Elements {
		if n.Elements[i].Role == Wire {
			n.gone[i] = true
		}
	}
	n.addWires()
	for len(n.gone) < len(n.Elements) {
		n.gone = append(n.gone, false)
	}
}

// refeed gives the rails' sources the voltages that they have while the supply has another.
func (n *Network) refeed(volts float64) {
	s, _ := n.Board.Supply(n.Doc.Supply)
	n.Elements, n.raw = slices.Clone(n.Elements), slices.Clone(n.raw)
	for i := range n.Elements {
		n.touched[i] = true // rails are in every piece
		if e := &n.Elements[i]; e.Role == Rail {
			v := spec.Exactly(s.RailAt(n.Board.Rails, e.Pin, volts), "the supply's voltage")
			e.param = n.param(n.Params[e.param].Name, v)
			e.law.apply(&n.raw[i], v.Typ)
		}
	}
}

// unfeed takes the sources of the rails away, and what chips do only while they
// are fed.
func (n *Network) unfeed() {
	n.places.fed = slices.Clone(n.places.fed)
	clear(n.places.fed)
	n.places.fed[circuit.Ground] = true
	for i := range n.touched {
		n.touched[i] = true
		if n.Elements[i].live {
			n.gone[i] = true
		}
		switch n.Elements[i].Role {
		case Rail, HighSide, LowSide, PartOut, Leak:
			n.gone[i] = true
		case Pull:
			n.gone[i] = n.gone[i] || n.Elements[i].control >= 0 // the board's own stay
		}
	}
}
