package wiring

import (
	"slices"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
)

// supplyOhms is the largest resistance in ohms through which a part still counts
// as fed: beyond it what arrives is a pull, not a supply (common practice).
const supplyOhms = 1000

// Fed reports whether wires lead from the two legs that a part is fed through to a
// rail that something feeds, and to ground. What comes in through protection diodes,
// pulls, lamps or another part's own appetite does not count. Of a part that needs
// no supply both are true.
func (n *Network) Fed(p *build.Part) (plus, minus bool) {
	kind, _ := n.Library.Catalogue.Kind(p.Kind)
	if kind.Feed == nil {
		return true, true
	}
	return n.reaches(p.ID, kind.Feed.Plus, true), n.reaches(p.ID, kind.Feed.Minus, false)
}

// reaches reports whether a leg is a rail or ground, or leads to a rail, or to ground,
// through what carries a supply.
func (n *Network) reaches(id, leg string, rail bool) bool {
	start := n.places.node[n.at(build.Of(id, leg))]
	if n.stiff[start] {
		return (start != circuit.Ground) == rail
	}
	reached := n.spread(start, func(i int) bool { return n.carries(i, id) })
	return slices.ContainsFunc(reached, func(at circuit.Node) bool {
		return n.stiff[at] && (at != circuit.Ground) == rail
	})
}

// carries reports whether an element may carry the supply of a part.
func (n *Network) carries(element int, of string) bool {
	e, ce := &n.Elements[element], &n.circuit.Elements[element]
	switch e.Role {
	case HighSide, LowSide, PartOut, Wire, Instrument:
		return e.Part != of
	case Body:
		if e.Part == of || n.isLamp(element) {
			return false
		}
		switch ce.Kind {
		case circuit.Resistor:
			return ce.Value <= supplyOhms
		case circuit.Capacitor, circuit.CurrentSource:
			return false
		}
		return true
	}
	return false
}

func (n *Network) isLamp(element int) bool {
	for i := range n.Lamps {
		if n.Lamps[i].Element == element {
			return true
		}
	}
	return false
}

// starve finds what is dead because its part is not fed, also by an output that is dead
// itself, and to which voltage the outputs of parts can rise.
func (n *Network) starve() {
	n.dead = nil
	for n.starveOnce() {
	}
	cloned := false
	for k := range n.Elements {
		e := &n.Elements[k]
		if !e.live || e.scale.kind != between {
			continue
		}
		most := n.feedVolts(n.partNamed(e.Part))
		if e.scale.most == most {
			continue
		}
		if !cloned { // another network may have them as well
			n.Elements, cloned = slices.Clone(n.Elements), true
		}
		n.Elements[k].scale.most = most
		if k < len(n.touched) {
			n.touched[k] = true
		}
	}
}

// starveOnce marks as dead what is not fed by what is not yet known to be dead, and
// reports whether that was anything new.
func (n *Network) starveOnce() bool {
	found := false
	for k := range n.Elements {
		e := &n.Elements[k]
		if !e.live || k < len(n.dead) && n.dead[k] {
			continue
		}
		if plus, minus := n.Fed(n.partNamed(e.Part)); plus && minus {
			continue
		}
		if n.dead == nil {
			n.dead = make([]bool, len(n.Elements))
		}
		n.dead[k], found = true, true
	}
	return found
}

func (n *Network) partNamed(id string) *build.Part {
	return n.part(slices.IndexFunc(n.Doc.Parts, func(p build.Part) bool { return p.ID == id }))
}

// feedVolts is the typical voltage of a part's supply leg when that is wired to a rail, or
// else the largest that the board has.
func (n *Network) feedVolts(p *build.Part) float64 {
	kind, _ := n.Library.Catalogue.Kind(p.Kind)
	at, most := n.places.node[n.at(build.Of(p.ID, kind.Feed.Plus))], 0.0
	for _, r := range n.Board.Rails {
		volts := n.RailVolts(r.Name).Typ
		if n.places.node[n.at(build.Pin(r.Name))] == at {
			return volts
		}
		most = max(most, volts)
	}
	return most
}

// addFed adds an element between two legs that is dead while the part is not fed.
func (i instance) addFed(c circuit.Element, a, b string, e Element) {
	e.live = true
	i.add(c, a, b, e)
}
