package wiring

import "slices"

// Extremes remembers, over several states of one piece, in which each voltage
// and each current is smallest and largest. The zero Extremes has seen nothing.
type Extremes struct {
	least, most     []float64
	leastAt, mostAt []int
}

// Add looks at the typical solution of a state, which the caller knows by i.
func (x *Extremes) Add(i int, s *Solved) {
	values := slices.Concat(s.typical.V, s.typical.I)
	if x.least == nil {
		x.least, x.most = slices.Clone(values), values
		x.leastAt = slices.Repeat([]int{i}, len(values))
		x.mostAt = slices.Repeat([]int{i}, len(values))
		return
	}
	for q, v := range values {
		if v < x.least[q] {
			x.least[q], x.leastAt[q] = v, i
		}
		if v > x.most[q] {
			x.most[q], x.mostAt[q] = v, i
		}
	}
}

// Indices returns the states that are somebody's smallest or largest, in order.
func (x *Extremes) Indices() []int {
	all := slices.Concat(x.leastAt, x.mostAt)
	slices.Sort(all)
	return slices.Compact(all)
}
