package placement

import "cablaggio/core/catalogue/breadboard"

// columns is how many columns of holes lie side by side at most.
const columns = breadboard.MaxBoards * int(breadboard.RightMinus+1)

// A holeSet is a set of holes: for each column a word with a bit for each row,
// of which no breadboard has more than 63. The zero value is empty; assigning
// it copies it.
type holeSet [columns]uint64

// columnOf is the place of a hole's column among all of them.
func columnOf(h breadboard.Hole) int { return h.Board*int(breadboard.RightMinus+1) + int(h.Column) }

func (s *holeSet) has(h breadboard.Hole) bool { return s[columnOf(h)]>>h.Row&1 == 1 }
func (s *holeSet) add(h breadboard.Hole)      { s[columnOf(h)] |= 1 << h.Row }
func (s *holeSet) remove(h breadboard.Hole)   { s[columnOf(h)] &^= 1 << h.Row }
