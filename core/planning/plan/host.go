package plan

import (
	"fmt"
	"slices"
	"strings"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
)

// host finds the leg of another part that a part hangs on: the one that it
// hangs on already, or else the first that will do. Owner is the part that the
// leg, as a helper's, belongs to.
func (p *planner) host(q *build.Part, want *part.Host) (leg build.Terminal, owner string, err error) {
	if want == nil {
		return "", "", nil
	}
	self := slices.IndexFunc(p.doc.Parts, func(x build.Part) bool { return x.ID == q.ID })
	for i, h := range p.doc.Parts {
		// A chain of parts of one kind runs in the order of the list.
		if i == self || !slices.Contains(want.Kinds, h.Kind) || h.Kind == q.Kind && i > self {
			continue
		}
		o := p.doc.Part(h.Of)
		if want.Hookup != "" && (o == nil || o.Hookup != want.Hookup || o.ID == q.ID) {
			continue
		}
		for _, l := range want.Legs {
			t := build.Of(h.ID, l)
			net := p.doc.NetOf(t)
			mine := net >= 0 && slices.ContainsFunc(p.doc.Nets[net], func(u build.Terminal) bool {
				x := p.doc.Part(partOf(u))
				return x != nil && (x.ID == q.ID || x.Of == q.ID)
			})
			grouped := slices.ContainsFunc(p.doc.Exclusive, func(g []string) bool { return slices.Contains(g, q.ID) && slices.Contains(g, h.Of) })
			if mine || leg == "" && (net < 0 || want.Shared) || grouped && want.Shared {
				leg, owner = t, h.Of
			}
			if mine {
				return leg, owner, nil
			}
		}
	}
	if leg == "" {
		names := make([]string, len(want.Kinds))
		for i, id := range want.Kinds {
			kind, _ := p.lib.Catalogue.Kind(id)
			names[i] = kind.Name
		}
		what := strings.Join(names, " or ")
		if want.Hookup != "" {
			what = "lamp with its resistor at ground"
		}
		return "", "", fmt.Errorf("%s needs a %s with a free place to hang on; add one first", q.Name, what)
	}
	return leg, owner, nil
}

// busPin returns the pin that other parts use for the bus, or nothing.
func (p *planner) busPin(id, bus string) string {
	for _, q := range p.doc.Parts {
		for _, s := range q.Signals {
			if q.ID != id && bus != "" && s.Bus == bus {
				return s.Pin
			}
		}
	}
	return ""
}

// release takes a part and what its hookup brought out of their nets. Outputs
// that other parts hang on, and that no hookup of its own wires, stay where they are.
func (p *planner) release(id string) {
	kind, _ := p.lib.Catalogue.Kind(p.doc.Part(id).Kind)
	for _, t := range kind.Terminals {
		own := slices.ContainsFunc(kind.Hookups, func(h part.Hookup) bool {
			return slices.ContainsFunc(h.Joins, func(join []string) bool { return slices.Contains(join, "self."+t.ID) })
		})
		if own || !slices.Contains(kind.Outputs, t.ID) {
			p.doc.Free(build.Of(id, t.ID))
		}
	}
	for _, h := range p.doc.Helpers(id) {
		p.doc.FreePart(h.ID)
	}
}

// guests lists the parts that hang on what the hookup of a part brought.
func (p *planner) guests(id string) []string {
	var out []string
	for _, q := range p.doc.Parts {
		kind, _ := p.lib.Catalogue.Kind(q.Kind)
		h, _ := kind.Hookup(q.Hookup)
		if h.Host == nil || h.Host.Hookup == "" || q.ID == id {
			continue
		}
		for _, helper := range p.doc.Helpers(id) {
			for _, leg := range h.Host.Legs {
				net := p.doc.NetOf(build.Of(helper.ID, leg))
				if net >= 0 && slices.ContainsFunc(p.doc.Nets[net], func(t build.Terminal) bool { return partOf(t) == q.ID }) {
					out = append(out, q.ID)
				}
			}
		}
	}
	return out
}
