package choose

import (
	"fmt"
	"math"
	"slices"

	"cablaggio/core/board"
)

// A Want is what a signal needs of a pin.
type Want struct {
	Name  string // "red LED 1", for messages
	Needs board.Function
	Load  Load
}

// A NoPinError says which signal finds no pin.
type NoPinError struct {
	Board string
	Want  Want
}

func (e *NoPinError) Error() string {
	return fmt.Sprintf("no pin of the %s that can do %s is free; remove a part or take a larger board", e.Board, e.Want.Needs.Name())
}

// Assign returns the pins for signals, in their order, that cost least
// together: no assignment to free pins costs less, and the same wants always
// get the same pins. The costs are those of [Pins] and [Crowding]; of equally good
// assignments it is the one whose pins follow the signals in the board's own order, so that
// neighbours stay neighbours and wires do not cross. A want that no pin is left
// for gives a [*NoPinError].
//
// It is the linear assignment problem, solved with shortest augmenting paths
// (Jonker and Volgenant, Computing 38, 1987). Where groups of pins would be
// crowded it is several of them, and with many signals that are alike the least
// cost is not always proven within the time that a builder waits.
func Assign(b *board.Profile, wants []Want, used []Used) ([]string, error) {
	var free []board.Pin
	for _, p := range b.Pins {
		if !taken(used, p.Name) {
			free = append(free, p)
		}
	}
	n, m := len(wants), len(free)
	if n == 0 {
		return nil, nil
	}
	cost := make([][]float64, n)
	for i, w := range wants {
		cost[i] = make([]float64, m)
		able := 0
		for j, p := range free {
			cost[i][j] = Cost(b, w.Needs, p, i)
			if p.Has(w.Needs) {
				able++
			}
		}
		if able == 0 {
			return nil, &NoPinError{b.Name, w}
		}
	}
	if m < n {
		return nil, &NoPinError{b.Name, wants[m]}
	}
	to := (&spread{b, wants, free, used}).assign(cost)
	pins := make([]string, n)
	for i, j := range to {
		if cost[i][j] >= impossible {
			return nil, &NoPinError{b.Name, wants[i]}
		}
		pins[i] = free[j].Name
	}
	return pins, nil
}

const (
	impossible = 1e15
	unit       = 1e6 // what a point of Pins weighs against the order of pins
)

// Cost is what it costs to give the k-th of several signals a pin: the points
// of [Pins], and little beside them how far the pin is from the signal's place
// in the row.
func Cost(b *board.Profile, needs board.Function, p board.Pin, k int) float64 {
	if !p.Has(needs) {
		return impossible
	}
	points, _ := weigh(b, needs, p)
	d := float64(slices.IndexFunc(b.Pins, func(q board.Pin) bool { return q.Name == p.Name }) - k)
	return float64(points)*unit + d*d
}

// match assigns every row a column of its own, at least total cost.
func match(cost [][]float64) []int {
	n, m := len(cost), len(cost[0])
	u, v := make([]float64, n+1), make([]float64, m+1)
	row := make([]int, m+1) // the row of a column, from 1; 0 is none
	way := make([]int, m+1)
	for i := 1; i <= n; i++ {
		row[0] = i
		at := 0
		least := slices.Repeat([]float64{math.Inf(1)}, m+1)
		used := make([]bool, m+1)
		for row[at] != 0 {
			used[at] = true
			i0, delta, next := row[at], math.Inf(1), 0
			for j := 1; j <= m; j++ {
				if used[j] {
					continue
				}
				if c := cost[i0-1][j-1] - u[i0] - v[j]; c < least[j] {
					least[j], way[j] = c, at
				}
				if least[j] < delta {
					delta, next = least[j], j
				}
			}
			for j := 0; j <= m; j++ {
				if used[j] {
					u[row[j]] += delta
					v[j] -= delta
				} else {
					least[j] -= delta
				}
			}
			at = next
		}
		for at != 0 {
			row[at] = row[way[at]]
			at = way[at]
		}
	}
	out := make([]int, n)
	for j := 1; j <= m; j++ {
		if row[j] > 0 {
			out[row[j]-1] = j - 1
		}
	}
	return out
}
