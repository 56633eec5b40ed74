package placement

import (
	"cablaggio/core/document/build"
)

// nets says which terminals are joined, by the nets of a document and inside
// its parts. Legs that nothing is joined to have a net of their own.
type nets struct {
	of      map[build.Terminal]int
	members [][]build.Terminal
}

// netsOf numbers the nets in the order of the document's parts. With alone,
// every place of the board that no wire goes to has a net of its own too.
func netsOf(lib *build.Library, doc *build.Document, joined []build.Net, alone bool) *nets {
	n := &nets{of: map[build.Terminal]int{}}
	parent := map[build.Terminal]build.Terminal{}
	find := func(t build.Terminal) build.Terminal {
		for parent[t] != "" {
			t = parent[t]
		}
		return t
	}
	join := func(a, b build.Terminal) {
		if a, b = find(a), find(b); a != b {
			parent[a] = b
		}
	}
	var all []build.Terminal
	for _, p := range doc.Parts {
		kind, _ := lib.Catalogue.Kind(p.Kind)
		for _, leg := range kind.LegOrder() {
			all = append(all, build.Of(p.ID, leg))
		}
		for _, link := range kind.Links {
			join(build.Of(p.ID, link[0]), build.Of(p.ID, link[1]))
		}
	}
	for _, net := range joined {
		for _, t := range net {
			join(net[0], t)
			if t.OnBoard() {
				all = append(all, t)
			}
		}
	}
	if alone {
		b, _ := lib.Board(doc.Board)
		for _, h := range b.Headers {
			for _, place := range h.Places {
				all = append(all, build.Pin(place))
			}
		}
	}
	roots := map[build.Terminal]int{}
	for _, t := range all {
		if _, seen := n.of[t]; seen {
			continue
		}
		root := find(t)
		k, ok := roots[root]
		if !ok {
			k = len(n.members)
			roots[root] = k
			n.members = append(n.members, nil)
		}
		n.of[t] = k
		n.members[k] = append(n.members[k], t)
	}
	return n
}
