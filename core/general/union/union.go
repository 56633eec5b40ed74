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

// A Forest keeps the same for many things: each group is a tree, and known by its root.
// The zero Forest has nothing in it.
type Forest[N ~int] []N

// Plant returns a forest of so many things, each by itself.
func Plant[N ~int](things int) Forest[N] {
	f := make(Forest[N], things)
	for i := range f {
		f[i] = N(i)
	}
	return f
}

// Add takes in one thing more, by itself, and returns its number.
func (f *Forest[N]) Add() N {
	i := N(len(*f))
	*f = append(*f, i)
	return i
}

// Root returns the root of a thing's group. On the way paths get shorter (halving; Tarjan and
// van Leeuwen, Journal of the ACM 31(2), 1984).
func (f Forest[N]) Root(i N) N {
	for f[i] != i {
		f[i] = f[f[i]]
		i = f[i]
	}
	return i
}

// Graft makes the groups of two things one, whose root is that of onto.
func (f Forest[N]) Graft(a, onto N) { f[f.Root(a)] = f.Root(onto) }
