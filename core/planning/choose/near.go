package choose

import (
	"slices"

	"cablaggio/core/document/build"
)

// near returns the part of a build that a part's circuit can depend on: what
// wires lead to without passing a rail, and what is on the same pins. Rails are
// stiff, so the rest has no say; leaving it out makes the cost of a choice that
// of its surroundings.
func near(lib *build.Library, doc *build.Document, id string) *build.Document {
	b, _ := lib.Board(doc.Board)
	rail := func(t build.Terminal) bool {
		_, leg := t.Split()
		_, isRail := b.Rail(leg)
		return t.OnBoard() && (isRail || leg == b.Ground)
	}
	kept, pins := map[string]bool{id: true}, map[string]bool{}
	for grown := true; grown; {
		grown = false
		keep := func(set map[string]bool, name string) {
			if !set[name] {
				set[name], grown = true, true
			}
		}
		for _, net := range doc.Nets {
			touched := slices.ContainsFunc(net, func(t build.Terminal) bool {
				who, leg := t.Split()
				return t.OnBoard() && pins[leg] || kept[who]
			})
			if !touched || slices.ContainsFunc(net, rail) {
				continue
			}
			for _, t := range net {
				who, leg := t.Split()
				if t.OnBoard() {
					keep(pins, leg)
				} else {
					keep(kept, who)
				}
			}
		}
		for _, p := range doc.Parts {
			for _, s := range p.Signals {
				if kept[p.ID] {
					keep(pins, s.Pin)
				} else if pins[s.Pin] {
					keep(kept, p.ID)
				}
			}
		}
	}
	out := doc.Clone()
	out.Parts = slices.DeleteFunc(out.Parts, func(p build.Part) bool { return !kept[p.ID] })
	for i := range out.Nets {
		out.Nets[i] = slices.DeleteFunc(out.Nets[i], func(t build.Terminal) bool { who, _ := t.Split(); return !t.OnBoard() && !kept[who] })
	}
	out.Nets = slices.DeleteFunc(out.Nets, func(n build.Net) bool { return len(n) < 2 })
	for i := range out.Exclusive {
		out.Exclusive[i] = slices.DeleteFunc(out.Exclusive[i], func(id string) bool { return !kept[id] })
	}
	return out
}
