// Package shopping compares what a build needs with what the builder owns: what is there, what
// is to be bought, and what would do instead.
package shopping

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/document/drawer"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/preferred"
	"cablaggio/core/values/quantity"
)

// A Line is parts of a build that are alike.
type Line struct {
	What    string   `json:"what"`
	Value   string   `json:"value,omitempty"`
	Names   []string `json:"names"`
	Needed  int      `json:"needed"`
	Have    int      `json:"have"` // of those needed
	Buy     int      `json:"buy"`
	Instead *Instead `json:"instead,omitempty"` // from the drawer, where something is to be bought
}

// Instead is another value from the drawer with which the build is no worse.
type Instead struct {
	Value string     `json:"value"`
	Edits plan.Edits `json:"edits"`
}

// asGood is how far a value in the drawer may be from the one that is planned, to count as it:
// the tolerance of common resistors.
const asGood = 0.05

// List returns a line for all parts that are alike, in the order of the parts. What the drawer
// has is given to the first that need it.
func List(m *check.Memory, lib *build.Library, doc *build.Document, items []drawer.Item) ([]Line, error) {
	type group struct {
		kind  *part.Kind
		parts []*build.Part
	}
	var groups []*group
	for i := range doc.Parts {
		p := &doc.Parts[i]
		kind, _ := lib.Catalogue.Kind(p.Kind)
		at := slices.IndexFunc(groups, func(g *group) bool { return alike(g.kind, kind, g.parts[0], p) })
		if at < 0 {
			at = len(groups)
			groups = append(groups, &group{kind: kind})
		}
		groups[at].parts = append(groups[at].parts, p)
	}
	left := slices.Clone(items)
	out := []Line{}
	for _, g := range groups {
		l := Line{What: named(g.kind, g.parts[0]), Value: known(g.kind, g.parts[0]), Needed: len(g.parts)}
		for _, p := range g.parts {
			l.Names = append(l.Names, p.Name)
			if owned(g.kind, p) {
				l.Have++
			}
		}
		for i := range left {
			if serves(g.kind, g.parts[0], left[i]) {
				took := min(l.Needed-l.Have, left[i].Pieces)
				l.Have += took
				left[i].Pieces -= took
			}
		}
		l.Buy = l.Needed - l.Have
		out = append(out, l)
	}
	for k, g := range groups {
		var err error
		if out[k].Buy > 0 && len(doc.Parts) <= most {
			if out[k].Instead, err = instead(m, lib, doc, g.kind, g.parts, left); err != nil {
				return nil, err
			}
		}
	}
	return out, nil
}

// Used are the things of a drawer of which a build takes some: those that are what one of its parts
// is planned as.
func Used(lib *build.Library, doc *build.Document, items []drawer.Item) []drawer.Item {
	out := []drawer.Item{}
	for _, it := range items {
		if slices.ContainsFunc(doc.Parts, func(p build.Part) bool {
			kind, ok := lib.Catalogue.Kind(p.Kind)
			return ok && serves(kind, &p, it)
		}) {
			out = append(out, it)
		}
	}
	return out
}

func alike(k, l *part.Kind, p, q *build.Part) bool {
	return k.ID == l.ID && p.Type == q.Type && known(k, p) == known(l, q)
}

// named is what to ask for in a shop: "red LED".
func named(kind *part.Kind, p *build.Part) string {
	if t, ok := kind.Type(p.Type); ok {
		return t.Name + " " + kind.Name
	}
	return kind.Name
}

// owned reports whether a part was measured: then it lies on the bench.
func owned(kind *part.Kind, p *build.Part) bool {
	if len(kind.Values) == 0 {
		return false
	}
	_, is := p.IsMeasured(kind.Values[0].ID)
	return is
}

// known is the value by which a part is asked for: empty of a kind that has none.
func known(kind *part.Kind, p *build.Part) string {
	_, v, ok := first(kind, p)
	if !ok {
		return ""
	}
	return quantity.Short(v, kind.Values[0].Unit)
}

// first is the value that a part is known by, where it was measured the one that is printed on
// it: the nearest of E24. ok is false of a kind that has none.
func first(kind *part.Kind, p *build.Part) (id string, v float64, ok bool) {
	if build.FirstValue(kind, p) == "" {
		return "", 0, false
	}
	id = kind.Values[0].ID
	v = kind.Stated(p.Type, id).Typ
	if own, is := p.Values[id]; is {
		v = own
	}
	if owned(kind, p) && v > 0 {
		if below, above := preferred.E24.Down(v), preferred.E24.Up(v); v/below < above/v {
			v = below
		} else {
			v = above
		}
	}
	return id, v, true
}

// serves reports whether an item of the drawer is what a part is planned as.
func serves(kind *part.Kind, p *build.Part, it drawer.Item) bool {
	if it.Kind != kind.ID || it.Pieces == 0 || it.Type != p.Type {
		return false
	}
	id, want, ok := first(kind, p)
	return !ok || it.Values[id] > 0 && math.Abs(it.Values[id]/want-1) <= asGood
}

// most is up to how many parts of a build other values are tried: each try is a check of it all.
const most = 60

// far is the ratio beyond which another value is not tried, and tries how many are.
const (
	far   = 3.0
	tries = 3
)

// instead finds the nearest other value of which the drawer has enough, and with which nothing
// is found of the build that is not found now.
func instead(m *check.Memory, lib *build.Library, doc *build.Document, kind *part.Kind, parts []*build.Part, left []drawer.Item) (*Instead, error) {
	parts = slices.DeleteFunc(slices.Clone(parts), func(p *build.Part) bool { return owned(kind, p) })
	id, want, ok := first(kind, parts[0])
	if !ok || kind.ID != "resistor" && kind.ID != "capacitor" {
		return nil, nil
	}
	apart := func(it drawer.Item) float64 { return math.Abs(math.Log(it.Values[id] / want)) }
	near := slices.DeleteFunc(slices.Clone(left), func(it drawer.Item) bool {
		return it.Kind != kind.ID || it.Pieces < len(parts) || it.Values[id] <= 0 || apart(it) > math.Log(far)
	})
	slices.SortStableFunc(near, func(a, b drawer.Item) int { return cmp.Compare(apart(a), apart(b)) })
	if len(near) == 0 {
		return nil, nil
	}
	now, err := m.Find(lib, doc)
	if err != nil {
		return nil, err
	}
	for _, it := range near[:min(len(near), tries)] {
		text := quantity.Short(it.Values[id], kind.Values[0].Unit)
		var edits []plan.Edit
		for _, p := range parts {
			edits = append(edits, plan.Value{Part: p.ID, Value: id, Text: fmt.Sprint(it.Values[id])})
		}
		other, _, err := plan.Apply(lib, doc, edits)
		if err != nil {
			continue
		}
		then, err := m.Find(lib, other)
		if err != nil {
			continue
		}
		if !slices.ContainsFunc(then, func(x check.Finding) bool { return x.IsNew(now) }) {
			return &Instead{text, edits}, nil
		}
	}
	return nil, nil
}
