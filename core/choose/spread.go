package choose

import (
	"fmt"
	"slices"

	"cablaggio/core/board"
	"cablaggio/core/quantity"
)

// A Load is the current that a signal's pin carries, in amperes, and which way.
// The zero Load is that of a signal that carries none.
type Load struct {
	Amps float64
	Way  board.Way
}

// A Used pin has a signal or a wire.
type Used struct {
	Pin  string
	Load Load
}

// crowded is what it costs, in points, to load a group of pins to just over what
// is recommended for it; more load costs more in proportion.
const crowded = 20

// Crowding returns the points for the groups of the board's pins that carry more
// together than is recommended.
func Crowding(b *board.Profile, used []Used) float64 {
	sum := 0.0
	for i := range b.Logic.Groups {
		sum += crowding(&b.Logic.Groups[i], sumOf(&b.Logic.Groups[i], used))
	}
	return sum
}

func crowding(g *board.Group, amps float64) float64 {
	if amps <= g.Limit.Recommended {
		return 0
	}
	return crowded * amps / g.Limit.Recommended
}

func sumOf(g *board.Group, used []Used) (amps float64) {
	for _, u := range used {
		if u.Load.Way == g.Way && slices.Contains(g.Pins, u.Pin) {
			amps += u.Load.Amps
		}
	}
	return amps
}

// crowds says what a load makes of the groups of a pin, in points and in words.
func crowds(b *board.Profile, pin string, load Load, used []Used) (points float64, reason string) {
	for i := range b.Logic.Groups {
		g := &b.Logic.Groups[i]
		if load.Way != g.Way || !slices.Contains(g.Pins, pin) {
			continue
		}
		was := sumOf(g, used)
		if more := crowding(g, was+load.Amps) - crowding(g, was); more > 0 {
			points += more
			reason = fmt.Sprintf("its group (%s) would %s %s of %s", g.Name, g.Way, quantity.Short(was+load.Amps, quantity.Ampere), quantity.Short(g.Limit.Recommended, quantity.Ampere))
		}
	}
	return points, reason
}

// spread is an assignment whose loads are spread over the groups of pins.
type spread struct {
	board *board.Profile
	wants []Want
	free  []board.Pin
	used  []Used
}

// A branch is the assignments in which some wants must be in a group and others
// must not.
type branch struct {
	cost   [][]float64
	to     []int     // the best of them, groups not counted
	bound  float64   // which none of them is below
	inside []float64 // by group: the amperes that are in it in all of them, used pins included
	fixed  map[[2]int]bool
}

// maxCells bounds the search, by the cells of the matrices that are matched, to a
// few milliseconds. Where more would have to be searched, which happens when many
// signals are alike, the best that was found is taken.
const maxCells = 24_000

// assign returns the columns of the rows of a cost matrix with the least cost,
// that of crowded groups included: branch and bound (Land and Doig, Econometrica
// 28, 1960) over which load is in which group, with the linear assignment as the
// bound.
func (s *spread) assign(cost [][]float64) []int {
	inside := make([]float64, len(s.board.Logic.Groups))
	for k := range inside {
		inside[k] = sumOf(&s.board.Logic.Groups[k], s.used)
	}
	open := []branch{s.bounded(branch{cost: cost, inside: inside, fixed: map[[2]int]bool{}})}
	best, least := open[0].to, s.total(open[0])
	if least > open[0].bound {
		for _, to := range s.relieved(open[0]) {
			if t := s.total(branch{cost: cost, to: to}); t < least {
				best, least = to, t
			}
		}
	}
	for range maxCells / (len(cost) * len(cost[0])) {
		if len(open) == 0 {
			break
		}
		i := 0
		for k := range open {
			if open[k].bound < open[i].bound {
				i = k
			}
		}
		x := open[i]
		open = slices.Delete(open, i, i+1)
		if x.bound >= least {
			break
		}
		want, group, ok := s.heaviest(x)
		if !ok {
			continue // nothing is crowded that could be otherwise
		}
		for _, in := range []bool{false, true} {
			y := s.bounded(s.with(x, want, group, in))
			if y.bound >= least {
				continue
			}
			if t := s.total(y); t < least {
				best, least = y.to, t
			}
			open = append(open, y)
		}
	}
	return best
}

// relieved returns the assignments that come of closing one pin of a crowded group
// after another to what loads it, always the dearest. One of them is often the
// best of all, and then the search has only to prove it.
func (s *spread) relieved(x branch) (out [][]int) {
	x.cost = slices.Clone(x.cost)
	for i := range x.cost {
		x.cost[i] = slices.Clone(x.cost[i])
	}
	for range s.free {
		pin, way, dearest := -1, board.Way(""), 0.0
		used := s.loads(x)
		for k := range s.board.Logic.Groups {
			g := &s.board.Logic.Groups[k]
			if crowding(g, sumOf(g, used)) == 0 {
				continue
			}
			for i, j := range x.to {
				if w := s.wants[i]; w.Load.Amps > 0 && w.Load.Way == g.Way && x.cost[i][j] > dearest && slices.Contains(g.Pins, s.free[j].Name) {
					pin, way, dearest = j, g.Way, x.cost[i][j]
				}
			}
		}
		if pin < 0 {
			break
		}
		for i, w := range s.wants {
			if w.Load.Amps > 0 && w.Load.Way == way {
				x.cost[i][pin] = impossible
			}
		}
		x.to = match(x.cost)
		out = append(out, x.to)
	}
	return out
}

// bounded solves a branch without its groups, and bounds it.
func (s *spread) bounded(x branch) branch {
	x.to = match(x.cost)
	x.bound = s.linear(x)
	for k, amps := range x.inside {
		x.bound += unit * crowding(&s.board.Logic.Groups[k], amps)
	}
	return x
}

func (s *spread) linear(x branch) (sum float64) {
	for i, j := range x.to {
		sum += x.cost[i][j]
	}
	return sum
}

// total is what the best of a branch really costs.
func (s *spread) total(x branch) float64 {
	return s.linear(x) + unit*Crowding(s.board, s.loads(x))
}

// loads are those of the used pins and of the wants where a branch has them.
func (s *spread) loads(x branch) []Used {
	used := slices.Clone(s.used)
	for i, j := range x.to {
		used = append(used, Used{s.free[j].Name, s.wants[i].Load})
	}
	return used
}

// heaviest returns the want with the largest load in a crowded group that is not
// yet fixed there.
func (s *spread) heaviest(x branch) (want, group int, ok bool) {
	used := s.loads(x)
	most := 0.0
	for k := range s.board.Logic.Groups {
		g := &s.board.Logic.Groups[k]
		if crowding(g, sumOf(g, used)) == 0 {
			continue
		}
		for i, j := range x.to {
			load := s.wants[i].Load
			if load.Way == g.Way && load.Amps > most && slices.Contains(g.Pins, s.free[j].Name) && !x.fixed[[2]int{i, k}] {
				want, group, most, ok = i, k, load.Amps, true
			}
		}
	}
	return want, group, ok
}

// with returns the branch in which a want is in a group, or is not.
func (s *spread) with(x branch, want, group int, in bool) branch {
	g := &s.board.Logic.Groups[group]
	y := branch{cost: slices.Clone(x.cost), inside: slices.Clone(x.inside), fixed: map[[2]int]bool{{want, group}: true}}
	for f := range x.fixed {
		y.fixed[f] = true
	}
	y.cost[want] = slices.Clone(x.cost[want])
	for j, p := range s.free {
		if slices.Contains(g.Pins, p.Name) != in {
			y.cost[want][j] = impossible
		}
	}
	if in {
		y.inside[group] += s.wants[want].Load.Amps
	}
	return y
}
