package placement

import (
	"math"
	"math/rand/v2"
	"slices"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
	"cablaggio/core/general/parallel"
)

// How long a placement is bettered: by so many rounds in all, fewer of a large one, where each takes
// longer, and by so many in which nothing was found, more where there are more parts. Each round
// makes several tries side by side.
const (
	mostRounds = 100
	mostSeats  = 4000 // in all rounds together
	abreast    = 4
)

func rounds(parts int) int { return min(mostRounds, mostSeats/parts) }

func patience(parts int) int { return 4 + parts }

// better lifts a few parts at a time out of a placement that is complete and
// seats them again, and keeps what costs less ("ruin and recreate", Schrimpf et
// al., J. Comput. Phys. 159, 2000, without its cooling). The draws are always the
// same, so that the same build is always laid out in the same way.
func (s *state) better(empty *state) *state {
	groups := s.groups()
	if len(groups) == 0 {
		return s
	}
	cost, idle := s.cost(), 0
	for round := 0; round < rounds(len(s.doc.Parts)) && idle < patience(len(groups)); round++ {
		tries := make([]*state, abreast)
		costs := make([]float64, abreast)
		parallel.Do(abreast, func(k int) {
			draw := rand.New(rand.NewPCG(uint64(round), uint64(k)))
			tries[k], costs[k] = s.again(empty, groups, draw)
		})
		idle++
		for k, c := range costs {
			if c < cost-1e-9 {
				s, cost, idle = tries[k], c, 0
			}
		}
	}
	return s
}

// groups lists the parts that may move, each with its helpers.
func (s *state) groups() (out [][]*build.Part) {
	for i := range s.doc.Parts {
		p := &s.doc.Parts[i]
		if s.doc.Part(p.Of) != nil {
			continue
		}
		if g := s.group(p); !slices.ContainsFunc(g, func(q *build.Part) bool { return s.free(q) < 2 }) {
			out = append(out, g)
		}
	}
	return out
}

// again seats a few groups anew and leaves the others where they are. It returns
// the cost with it, infinite when there was no way.
func (s *state) again(empty *state, groups [][]*build.Part, draw *rand.Rand) (*state, float64) {
	lifted := s.lift(groups, draw)
	next := empty.clone()
	var order []*build.Part
	for _, g := range lifted {
		order = append(order, g...)
	}
	for i := range s.doc.Parts {
		if p := &s.doc.Parts[i]; !slices.Contains(order, p) {
			next.put(p, holesOf(s.seats[p.ID]))
		}
	}
	for _, w := range s.wires {
		if !slices.ContainsFunc(order, func(p *build.Part) bool { return p.ID == w.For }) {
			next.lie = append(next.lie, w.line)
		}
	}
	if err := next.seatAll(order, 1+draw.IntN(6*perHalf)); err != nil {
		return nil, math.Inf(1)
	}
	if err := next.route(); err != nil {
		return nil, math.Inf(1)
	}
	return next, next.cost()
}

// lift draws one to three groups, those first whose wires cross others, in any
// order.
func (s *state) lift(groups [][]*build.Part, draw *rand.Rand) [][]*build.Part {
	var crossing []string
	for i, w := range s.wires {
		for _, o := range s.wires[:i] {
			if w.line.crosses(o.line) {
				crossing = append(crossing, w.For, o.For)
			}
		}
	}
	var out [][]*build.Part
	add := func(g []*build.Part) {
		if !slices.ContainsFunc(out, func(o []*build.Part) bool { return o[0] == g[0] }) {
			out = append(out, g)
		}
	}
	for n := 1 + draw.IntN(3); n > 0; n-- {
		g := groups[draw.IntN(len(groups))]
		if len(crossing) > 0 && draw.IntN(4) > 0 {
			who := crossing[draw.IntN(len(crossing))]
			if i := slices.IndexFunc(groups, func(g []*build.Part) bool { return g[0].ID == who }); i >= 0 {
				g = groups[i]
			}
		}
		if i := slices.IndexFunc(s.alike, func(c *class) bool { return c.has(g[0]) }); i >= 0 && draw.IntN(2) == 0 {
			for _, u := range s.alike[i].units {
				add(u)
			}
			continue
		}
		add(g)
	}
	return out
}

func holesOf(legs []Leg) []breadboard.Hole {
	out := make([]breadboard.Hole, len(legs))
	for i, l := range legs {
		out[i] = l.Hole
	}
	return out
}
