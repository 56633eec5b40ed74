package choose

import (
	"maps"
	"math"
	"slices"

	"cablaggio/core/catalogue/board"
)

// spread looks for the assignment whose loads are best spread over the groups of
// pins.
type spread struct {
	board  *board.Profile
	wants  []Want
	cost   [][]float64 // without groups
	inside [][]bool    // by group and column
	base   []float64   // by group: the amperes that used pins carry in it
	under  []float64   // by group: the most that wants can add uncrowded
	beyond []float64   // by group: the least that they add when it is crowded
	best   []int       // of all assignments that were met
	least  float64
	cells  int // of the matrices that were matched
}

// A branch is the assignments in which some groups are calm, others crowded, and
// some wants must be in a group or must not. In a group that is open crowding
// costs nothing, so that what its best costs bounds all of them.
type branch struct {
	cost  [][]float64 // with what is paid in crowded groups
	paid  float64     // there for what used pins carry
	mode  []mode      // by group
	price []float64   // by group: for every ampere on the wrong side of its limit
	fixed map[[2]int]bool
	answer
}

// An answer is the best of a branch at its prices.
type answer struct {
	to    []int
	wrong []float64 // by group: the amperes on the wrong side; negative: what is left to the limit
	bound float64   // which no assignment of the branch is below
}

type mode int

const (
	open mode = iota
	calm
	crowded
	settled // calm, and of every want it is said whether it is inside
)

const (
	// maxCells bounds the search to a few milliseconds.
	maxCells = 100_000
	// dearest is more than pins differ by.
	dearest = 1e4 * unit
	// even is less than two assignments differ by that are not equally good: all
	// but crowding is counted in whole numbers.
	even = 1e-3
)

func newSpread(b *board.Profile, wants []Want, free []board.Pin, used []Used, cost [][]float64) *spread {
	s := &spread{board: b, wants: wants, cost: cost, least: math.Inf(1)}
	for k := range b.Logic.Groups {
		g := &b.Logic.Groups[k]
		in := make([]bool, len(free))
		for j, p := range free {
			in[j] = slices.Contains(g.Pins, p.Name)
		}
		base := sumOf(g, used)
		under := g.Limit.Recommended - base
		beyond := under
		// Lamps are often alike; then it is known what a group carries at most.
		if each := s.alike(g.Way); each > 0 {
			n := math.Floor(under/each + 1e-9)
			under, beyond = n*each, (n+1)*each
		}
		s.inside = append(s.inside, in)
		s.base, s.under, s.beyond = append(s.base, base), append(s.under, under), append(s.beyond, beyond)
	}
	return s
}

// alike returns what every want carries that carries something this way, or 0
// when they differ.
func (s *spread) alike(way board.Way) (amps float64) {
	for _, w := range s.wants {
		if w.Load.Way != way || w.Load.Amps == 0 {
			continue
		}
		if amps != 0 && w.Load.Amps != amps {
			return 0
		}
		amps = w.Load.Amps
	}
	return amps
}

// assign returns the columns of the rows of the cost matrix with the least cost,
// that of crowded groups included: branch and bound (Land and Doig, Econometrica
// 28, 1960) over which groups are crowded. Each then has a limit, to one side of
// which a price keeps it (Lagrange multipliers, as Held and Karp, Mathematical
// Programming 1, 1971); where that settles nothing, it is said of one want after
// another whether it is in the group.
func (s *spread) assign() []int {
	groups := s.board.Logic.Groups
	root := branch{cost: s.cost, mode: make([]mode, len(groups)), price: make([]float64, len(groups))}
	for k := range groups {
		if above(&groups[k], s.base[k]) > 0 {
			root = s.as(root, k, crowded)
		}
	}
	list := []branch{s.bounded(root)}
	for len(list) > 0 && s.cells < maxCells {
		i := 0
		for k := range list {
			if list[k].bound < list[i].bound {
				i = k
			}
		}
		x := list[i]
		list = slices.Delete(list, i, i+1)
		if x.bound > s.least-even {
			break
		}
		for _, y := range s.parts(x) {
			if y = s.bounded(y); y.bound <= s.least-even {
				list = append(list, y)
			}
		}
	}
	return s.best
}

// parts divides a branch by what keeps its best from costing what it is bounded by.
func (s *spread) parts(x branch) []branch {
	for k := range x.mode {
		if x.mode[k] == open && s.crowding(x.to, k) > 0 {
			return []branch{s.as(x, k, calm), s.as(x, k, crowded)}
		}
	}
	for k := range x.mode {
		if x.wrong[k] == 0 || x.wrong[k] < 0 && x.price[k] == 0 {
			continue
		}
		want, most := -1, 0.0
		for i, j := range x.to {
			load := s.load(i, k)
			if s.inside[k][j] {
				load *= 1e3 // what is in it counts first
			}
			if load > most && !x.fixed[[2]int{i, k}] {
				want, most = i, load
			}
		}
		switch {
		case want >= 0:
			return []branch{s.with(x, want, k, false), s.with(x, want, k, true)}
		case x.wrong[k] < 0:
			return []branch{s.as(x, k, settled)}
		}
		return nil // the limit cannot be kept
	}
	return nil
}

// answer matches at the prices of a branch.
func (s *spread) answer(x branch) (a answer) {
	cost := x.cost
	for k, p := range x.price {
		if p > 0 {
			cost = s.dearer(cost, k, p*x.mode[k].sign())
		}
	}
	a.to = match(cost)
	s.cells += len(cost) * len(cost[0])
	s.meet(a.to)
	a.wrong = make([]float64, len(x.mode))
	a.bound = x.paid
	for i, j := range a.to {
		a.bound += x.cost[i][j]
	}
	for k := range x.mode {
		switch x.mode[k] {
		case calm:
			a.wrong[k] = s.carries(a.to, k) - s.under[k]
		case crowded:
			a.wrong[k] = s.beyond[k] - s.carries(a.to, k)
		}
		if math.Abs(a.wrong[k]) < 1e-9 {
			a.wrong[k] = 0
		}
		a.bound += x.price[k] * a.wrong[k]
	}
	return a
}

// sign is 1 where a price is for every ampere, and -1 where it is for those that
// are missing.
func (m mode) sign() float64 {
	if m == crowded {
		return -1
	}
	return 1
}

// dearer adds to a cost what the ampere costs in a group.
func (s *spread) dearer(cost [][]float64, k int, perAmpere float64) [][]float64 {
	cost = slices.Clone(cost)
	for i := range cost {
		if amps := s.load(i, k); amps > 0 {
			cost[i] = slices.Clone(cost[i])
			for j, in := range s.inside[k] {
				if in {
					cost[i][j] += perAmpere * amps
				}
			}
		}
	}
	return cost
}

// load is what a want carries in the way of a group, in amperes.
func (s *spread) load(want, group int) float64 {
	if l := s.wants[want].Load; l.Way == s.board.Logic.Groups[group].Way {
		return l.Amps
	}
	return 0
}

// carries is what the wants add to a group, in amperes.
func (s *spread) carries(to []int, k int) (amps float64) {
	for i, j := range to {
		if s.inside[k][j] {
			amps += s.load(i, k)
		}
	}
	return amps
}

func (s *spread) crowding(to []int, k int) float64 {
	return crowding(&s.board.Logic.Groups[k], s.base[k]+s.carries(to, k))
}

// meet keeps an assignment if it is the best so far.
func (s *spread) meet(to []int) {
	sum := 0.0
	for i, j := range to {
		sum += s.cost[i][j]
	}
	for k := range s.inside {
		sum += unit * s.crowding(to, k)
	}
	if sum < s.least {
		s.best, s.least = to, sum
	}
}

// as is the branch with a group in another mode.
func (s *spread) as(x branch, k int, m mode) branch {
	x.mode, x.price = slices.Clone(x.mode), slices.Clone(x.price)
	x.mode[k], x.price[k] = m, 0
	if m == crowded {
		perAmpere := unit * crowdedPoints / s.board.Logic.Groups[k].Limit.Recommended
		x.cost = s.dearer(x.cost, k, perAmpere)
		x.paid += perAmpere * s.base[k]
	}
	return x
}

// with is the branch in which a want is in a group, or is not.
func (s *spread) with(x branch, want, group int, in bool) branch {
	x.fixed = maps.Clone(x.fixed)
	if x.fixed == nil {
		x.fixed = map[[2]int]bool{}
	}
	x.fixed[[2]int{want, group}] = true
	x.cost = slices.Clone(x.cost)
	x.cost[want] = slices.Clone(x.cost[want])
	for j := range x.cost[want] {
		if s.inside[group][j] != in {
			x.cost[want][j] = impossible
		}
	}
	return x
}
