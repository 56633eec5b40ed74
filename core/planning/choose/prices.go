package choose

import (
	"math"
	"slices"

	"cablaggio/core/catalogue/board"
)

// bounded finds the best of a branch, with prices that raise its bound: of one
// group after another, and of those of one way together.
func (s *spread) bounded(x branch) branch {
	x.answer = s.answer(x)
	for range 2 {
		for _, set := range s.sets(x) {
			if x.bound > s.least-even {
				return x
			}
			x = s.raise(x, set)
		}
	}
	return x
}

// sets lists the groups whose prices are moved together.
func (s *spread) sets(x branch) (out [][]int) {
	for _, way := range []board.Way{board.Source, board.Sink} {
		var of [3][]int // those that are calm, those that are crowded, and as open all of them
		for k, m := range x.mode {
			if (m == calm || m == crowded) && s.board.Logic.Groups[k].Way == way {
				out = append(out, []int{k})
				of[m], of[open] = append(of[m], k), append(of[open], k)
			}
		}
		for _, set := range of {
			if len(set) > 1 {
				out = append(out, set)
			}
		}
	}
	return out
}

// raise moves the prices of a set of groups to where the bound is highest. The
// bound is concave and made of straight pieces: where the pieces of two moves, one
// too small and one too large, meet, is the next to look at.
func (s *spread) raise(x branch, set []int) branch {
	wrong := func(x branch) (sum float64) {
		for _, k := range set {
			sum += x.wrong[k]
		}
		return sum
	}
	moved := func(by float64) branch {
		y := x
		y.price = slices.Clone(x.price)
		for _, k := range set {
			y.price[k] = max(0, y.price[k]+by)
		}
		y.answer = s.answer(y)
		return y
	}
	low, high, lowBy, highBy := x, x, 0.0, 0.0
	switch down := s.down(x, set); {
	case wrong(x) > 0:
		highBy = dearest / s.smallest(set[0])
		if high = moved(highBy); wrong(high) > 0 {
			return high
		}
	case wrong(x) < 0 && down > 0:
		lowBy = -down
		if low = moved(lowBy); wrong(low) <= 0 {
			return low
		}
	default:
		return x
	}
	for wrong(high) < 0 && s.cells < maxCells {
		by := (high.bound - low.bound + wrong(low)*lowBy - wrong(high)*highBy) / (wrong(low) - wrong(high))
		there := moved(by)
		if there.bound >= low.bound+wrong(low)*(by-lowBy)-even {
			return there
		}
		if wrong(there) > 0 {
			low, lowBy = there, by
		} else {
			high, highBy = there, by
		}
	}
	if low.bound > high.bound {
		return low
	}
	return high
}

// down is how far the prices of a set can be lowered together.
func (s *spread) down(x branch, set []int) float64 {
	least := math.Inf(1)
	for _, k := range set {
		least = min(least, x.price[k])
	}
	return least
}

// smallest is the least that a want carries in the way of a group, if anything.
func (s *spread) smallest(k int) float64 {
	least := math.Inf(1)
	for i := range s.wants {
		if amps := s.load(i, k); amps > 0 {
			least = min(least, amps)
		}
	}
	return least
}
