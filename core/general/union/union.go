// Package union keeps which of several things hang together, each known by its number from 0.
package union

// Sets say of each thing which group it is in: things hang together when their numbers are the same.
type Sets []int

// Apart returns the groups of so many things of which none is joined to another.
func Apart(things int) Sets {
	g := make(Sets, things)
	for i := range g {
		g[i] = i
	}
	return g
}

// Join makes the groups of two things one: that of a.
func (g Sets) Join(a, b int) {
	from, to := g[b], g[a]
	for i, group := range g {
		if group == from {
			g[i] = to
		}
	}
}

// Are reports whether two things are in one group.
func (g Sets) Are(a, b int) bool { return g[a] == g[b] }

// Count is how many groups there are.
func (g Sets) Count() int {
	seen := map[int]bool{}
	for _, group := range g {
		seen[group] = true
	}
	return len(seen)
}
