// Package fault lists what can be wrong with a build on the bench, each a single fault
// that can be put into the build's network.
package fault

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"cablaggio/core/breadboard"
	"cablaggio/core/build"
	"cablaggio/core/part"
	"cablaggio/core/placement"
	"cablaggio/core/quantity"
	"cablaggio/core/wiring"
)

// A Kind says what sort of fault it is.
type Kind string

// The kinds.
const (
	Open    Kind = "open"    // a leg makes no contact, or the part is broken inside
	Shorted Kind = "shorted" // the part conducts always
	Turned  Kind = "turned"  // the part is the other way round
	Value   Kind = "value"   // it has another value
	RowOff  Kind = "row-off" // a leg is one row off
	NoWire  Kind = "no-wire" // a wire is missing, or makes no contact
	Touch   Kind = "touch"   // two legs touch
	NoRail  Kind = "no-rail" // a rail of the board gives nothing
)

// common is how common kinds are, beside each other (common practice: what is plugged is
// wrong more often than what is made).
var common = map[Kind]float64{NoWire: 10, RowOff: 10, Open: 6, Turned: 8, Value: 4, Touch: 2, Shorted: 1, NoRail: 3}

// A Fault is one thing that is wrong. The zero Fault is none.
type Fault struct {
	ID    string   `json:"id"`
	Kind  Kind     `json:"kind"`
	Words string   `json:"words"` // what is wrong, a sentence
	Look  string   `json:"look"`  // where to look, or what to try, a sentence
	Parts []string `json:"parts"`

	changes []wiring.Change
	touches []build.Terminal
}

// In returns the network with the fault in it, and with further changes after it.
func (f *Fault) In(n *wiring.Network, more ...wiring.Change) *wiring.Network {
	return n.With(slices.Concat(f.changes, more)...)
}

// Common is how common the fault is, beside others.
func (f *Fault) Common() float64 { return common[f.Kind] }

// Touches lists the terminals that are not as they should be.
func (f *Fault) Touches() []build.Terminal { return f.touches }

// List returns the single faults of a build, laid out as p has it; nil: not laid out, and
// then wires go from leg to leg. What makes the same network is listed once, by what is
// most common.
func List(lib *build.Library, doc *build.Document, p *placement.Placement) []Fault {
	l := &lister{lib: lib, doc: doc, net: wiring.Build(lib, doc)}
	if p != nil {
		l.onTable(p)
	}
	for i := range doc.Parts {
		l.part(&doc.Parts[i])
	}
	l.rails()
	slices.SortStableFunc(l.out, func(a, b Fault) int {
		switch x, y := a.Common(), b.Common(); {
		case x > y:
			return -1
		case x < y:
			return 1
		}
		return 0
	})
	return l.out
}

type lister struct {
	lib  *build.Library
	doc  *build.Document
	net  *wiring.Network
	out  []Fault
	seen map[string]bool
}

// add lists a fault, unless another one changes the same.
func (l *lister) add(f Fault) {
	if len(f.changes) == 0 {
		return
	}
	key := fmt.Sprint(f.changes)
	if l.seen[key] {
		return
	}
	if l.seen == nil {
		l.seen = map[string]bool{}
	}
	l.seen[key] = true
	l.out = append(l.out, f)
}

// onTable lists what can be wrong with what is plugged into the breadboard.
func (l *lister) onTable(p *placement.Placement) {
	table := p.Table(l.lib, l.doc)
	planned := p.Built()
	before := placement.Trace(table, planned)
	for i, w := range p.Wires {
		b := *planned
		b.Wires = slices.Delete(slices.Clone(planned.Wires), i, i+1)
		f := l.rewired(before, placement.Trace(table, &b))
		f.ID, f.Kind = "no-wire:"+w.From.String()+":"+w.To.String(), NoWire
		f.Words = fmt.Sprintf("The %s wire from %s to %s is missing, or makes no contact.", w.Colour, w.From.Words(), w.To.Words())
		f.Look = fmt.Sprintf("Look for the %s wire from %s to %s, and push both of its ends in.", w.Colour, w.From.Words(), w.To.Words())
		if w.For != "" {
			f.Parts = []string{w.For}
		}
		l.add(f)
	}
	for _, t := range slices.Sorted(maps.Keys(planned.Legs)) {
		at := planned.Legs[t]
		if at.OnBoard() || at.Hole.Column.IsRail() || l.doc.NetOf(t) < 0 {
			continue
		}
		for _, by := range []int{-1, 1} {
			there := at
			there.Hole.Row += by
			if table.CheckEnd(there) != nil || table.StripOf(there.Hole) == table.StripOf(at.Hole) {
				continue
			}
			b := *planned
			b.Legs = maps.Clone(planned.Legs)
			b.Legs[t] = there
			f := l.rewired(before, placement.Trace(table, &b))
			id, leg := t.Split()
			f.ID, f.Kind, f.Parts = fmt.Sprintf("row-off:%s:%s", t, there), RowOff, []string{id}
			f.Words = fmt.Sprintf("The %s of %s is one row off: it is in row %d, and belongs into row %d.", l.leg(id, leg), l.name(id), there.Hole.Row, at.Hole.Row)
			f.Look = fmt.Sprintf("Count the rows at the %s of %s: it belongs into %s.", l.leg(id, leg), l.name(id), at.Words())
			l.add(f)
		}
	}
}

// rewired is the fault that makes the nets before to those after: what is not joined as it
// was is taken off its wires and joined anew.
func (l *lister) rewired(before, after []build.Net) (f Fault) {
	of := func(nets []build.Net) map[build.Terminal]string {
		m := map[build.Terminal]string{}
		for _, n := range nets {
			var known []string
			for _, t := range n {
				if l.doc.NetOf(t) >= 0 {
					known = append(known, string(t))
				}
			}
			slices.Sort(known)
			for _, t := range known {
				m[build.Terminal(t)] = strings.Join(known, " ")
			}
		}
		return m
	}
	was, is := of(before), of(after)
	var moved []build.Terminal
	for _, net := range l.doc.Nets {
		for _, t := range net {
			if was[t] != is[t] {
				moved = append(moved, t)
			}
		}
	}
	slices.Sort(moved)
	for _, t := range moved {
		f.changes = append(f.changes, wiring.Loose(t))
	}
	joined := map[string]build.Terminal{}
	for _, t := range moved {
		with := is[t]
		if first, ok := joined[with]; ok && with != "" {
			f.changes = append(f.changes, wiring.Join(first, t))
		} else {
			joined[with] = t
		}
	}
	f.touches = moved
	return f
}

// part lists what can be wrong with a part and its legs.
func (l *lister) part(p *build.Part) {
	kind, _ := l.lib.Catalogue.Kind(p.Kind)
	var legs []build.Terminal
	for _, leg := range kind.LegOrder() {
		t := build.Of(p.ID, leg)
		if l.doc.NetOf(t) < 0 {
			continue
		}
		legs = append(legs, t)
		l.add(Fault{
			ID: "open:" + string(t), Kind: Open, Parts: []string{p.ID}, changes: []wiring.Change{wiring.Loose(t)}, touches: []build.Terminal{t},
			Words: fmt.Sprintf("The %s of %s makes no contact, or %s is broken.", l.leg(p.ID, leg), p.Name, p.Name),
			Look:  fmt.Sprintf("Push the %s of %s in, then try another one in its place.", l.leg(p.ID, leg), p.Name),
		})
	}
	if len(legs) == 2 && !l.linked(kind, legs) {
		l.add(Fault{
			ID: "shorted:" + p.ID, Kind: Shorted, Parts: []string{p.ID}, changes: []wiring.Change{wiring.Join(legs[0], legs[1])}, touches: legs,
			Words: fmt.Sprintf("Both legs of %s are joined: in one row, by a wire, or inside it.", p.Name),
			Look:  fmt.Sprintf("See that the legs of %s are in different rows, then try another one in its place.", p.Name),
		})
		if !kind.Body.Alike {
			l.add(Fault{
				ID: "turned:" + p.ID, Kind: Turned, Parts: []string{p.ID}, changes: []wiring.Change{wiring.Exchange(legs[0], legs[1])}, touches: legs,
				Words: fmt.Sprintf("%s is the other way round.", build.Capital(p.Name)),
				Look:  fmt.Sprintf("Turn %s round.", p.Name),
			})
		}
	}
	if kind.Model == "resistor" {
		ohms := wiring.ValueOf(kind, p, "resistance").Typ
		for _, by := range []float64{10, 0.1} {
			v := ohms * by
			if build.CheckValue(kind, "resistance", v) != nil {
				continue
			}
			l.add(Fault{
				ID: fmt.Sprintf("value:%s:%g", p.ID, v), Kind: Value, Parts: []string{p.ID}, changes: []wiring.Change{wiring.Set(p.ID, "resistance", v)}, touches: legs,
				Words: fmt.Sprintf("%s is another one, of %s.", build.Capital(p.Name), shown(v)),
				Look:  fmt.Sprintf("Read the bands of %s again: it is one of %s.", p.Name, shown(ohms)),
			})
		}
	}
	for i := 1; i < len(legs); i++ {
		if l.doc.NetOf(legs[i]) == l.doc.NetOf(legs[i-1]) || len(legs) == 2 {
			continue
		}
		_, a := legs[i-1].Split()
		_, b := legs[i].Split()
		l.add(Fault{
			ID: "touch:" + string(legs[i-1]) + ":" + string(legs[i]), Kind: Touch, Parts: []string{p.ID},
			changes: []wiring.Change{wiring.Join(legs[i-1], legs[i])}, touches: []build.Terminal{legs[i-1], legs[i]},
			Words: fmt.Sprintf("The %s and the %s of %s touch.", l.leg(p.ID, a), l.leg(p.ID, b), p.Name),
			Look:  fmt.Sprintf("See that the legs of %s do not touch, above the breadboard and below.", p.Name),
		})
	}
}

// linked reports whether legs are joined inside the part.
func (l *lister) linked(k *part.Kind, legs []build.Terminal) bool {
	return slices.ContainsFunc(k.Links, func(link []string) bool {
		return !slices.ContainsFunc(legs, func(t build.Terminal) bool {
			_, leg := t.Split()
			return !slices.Contains(link, leg)
		})
	})
}

// rails lists the board's rails that give nothing.
func (l *lister) rails() {
	for _, r := range l.net.Board.Rails {
		t := build.Pin(r.Name)
		if l.doc.NetOf(t) < 0 {
			continue
		}
		l.add(Fault{
			ID: "no-rail:" + r.Name, Kind: NoRail, changes: []wiring.Change{wiring.Loose(t)}, touches: []build.Terminal{t}, Parts: []string{},
			Words: fmt.Sprintf("Nothing comes from the board's %s.", r.Name),
			Look:  fmt.Sprintf("See that the board is fed, and that the wire is in its %s.", r.Name),
		})
	}
	if g := build.Pin(l.net.Board.Ground); l.doc.NetOf(g) >= 0 {
		l.add(Fault{
			ID: "no-rail:" + l.net.Board.Ground, Kind: NoRail, changes: []wiring.Change{wiring.Loose(g)}, touches: []build.Terminal{g}, Parts: []string{},
			Words: "The wire to the board's ground is missing.",
			Look:  fmt.Sprintf("See that a wire goes from the board's %s to where the grounds meet.", l.net.Board.Ground),
		})
	}
}

func (l *lister) leg(id, leg string) string {
	p := l.doc.Part(id)
	kind, _ := l.lib.Catalogue.Kind(p.Kind)
	return placement.LegName(kind, leg)
}

func (l *lister) name(id string) string { return l.doc.Part(id).Name }

// End returns where a leg is, or "" when the build is not laid out.
func End(p *placement.Placement, t build.Terminal) string {
	if p == nil {
		return ""
	}
	id, leg := t.Split()
	if h, ok := p.Seat(id).Hole(leg); ok {
		return breadboard.InHole(h).String()
	}
	return ""
}

func shown(ohms float64) string { return quantity.Short(ohms, quantity.Ohm) }
