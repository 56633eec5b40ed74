package choose

import (
	"fmt"
	"math"
	"slices"

	"cablaggio/core/catalogue/board"
)

// A Want is what a signal needs of a pin.
type Want struct {
	Name  string // "red LED 1", for messages
	Needs board.Function
	Pull  board.Pull // that it switches on
	Load  Load
}

// A NoPinError says which signal finds no pin.
type NoPinError struct {
	Board string
	Want  Want
}

func (e *NoPinError) Error() string {
	return fmt.Sprintf("no pin of the %s that can do %s is free; remove a part or take a larger board", e.Board, e.Want.what())
}

// what says what is wanted: "digital in with a pull-up inside".
func (w Want) what() string {
	if w.Pull == board.NoPull {
		return w.Needs.Name()
	}
	return w.Needs.Name() + " with a pull-" + string(w.Pull) + " inside"
}

// Assign returns the pins for signals, in their order, that cost least
// together: no assignment to free pins costs less, and the same wants always
// get the same pins. The costs are those of [Pins] and [Crowding]; of equally good
// assignments it is the one whose pins follow the signals in the board's own
// order, so that neighbours stay neighbours and wires do not cross. A want that
// no pin is left for gives a [*NoPinError].
//
// It is the linear assignment problem, solved with shortest augmenting paths.
// Where groups of pins would be crowded it is several of them; then, with a dozen
// lamps or more, the search may end before the least cost is proven.
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
			cost[i][j] = Cost(b, w, p, i)
			if b.Suits(p, w.Needs, w.Pull) {
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
	to := newSpread(b, wants, free, used, cost).assign()
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
func Cost(b *board.Profile, want Want, p board.Pin, k int) float64 {
	if !b.Suits(p, want.Needs, want.Pull) {
		return impossible
	}
	points, _ := weigh(b, want.Needs, p)
	d := float64(slices.IndexFunc(b.Pins, func(q board.Pin) bool { return q.Name == p.Name }) - k)
	return float64(points)*unit + d*d
}

// match assigns every row a column of its own, at least total cost: row by row
// along the shortest augmenting path (Crouse, IEEE Transactions on Aerospace and
// Electronic Systems 52, 2016). There are at least as many columns as rows.
func match(cost [][]float64) []int {
	n, m := len(cost), len(cost[0])
	u, v := make([]float64, n), make([]float64, m)
	to, from := slices.Repeat([]int{-1}, n), slices.Repeat([]int{-1}, m)
	way, left, done := make([]int, m), make([]int, m), make([]int, 0, m)
	short := make([]float64, m)
	for first := range cost {
		for j := range left {
			left[j], short[j] = j, math.Inf(1)
		}
		done = done[:0]
		left := left
		row, far, end := first, 0.0, -1
		for end < 0 {
			next, least := 0, math.Inf(1)
			costs, base := cost[row], far-u[row]
			for at, j := range left {
				if r := base + costs[j] - v[j]; r < short[j] {
					short[j], way[j] = r, row
				}
				if s := short[j]; s < least || s == least && from[j] < 0 {
					next, least = at, s
				}
			}
			far = least
			j := left[next]
			if from[j] < 0 {
				end = j
			} else {
				row = from[j]
			}
			done = append(done, j)
			left[next] = left[len(left)-1]
			left = left[:len(left)-1]
		}
		u[first] += far
		for _, j := range done {
			if i := from[j]; i >= 0 {
				u[i] += far - short[j]
			}
			v[j] -= far - short[j]
		}
		for j := end; ; {
			i := way[j]
			from[j] = i
			to[i], j = j, to[i]
			if i == first {
				break
			}
		}
	}
	return to
}
