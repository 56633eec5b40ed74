package placement

import (
	"cmp"
	"slices"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
)

// Colours of wires that mean something: black for ground alone, red for the supply alone, orange
// for a second one (common practice). The others go round.
const (
	forGround = "black"
	forSupply = "red"
	forSecond = "orange"
)

// freeColours go round for what has no colour of its own.
var freeColours = []string{"yellow", "green", "blue", "white", "violet", "grey", "brown", "pink", "orange"}

// What it costs that two wires of different nets have one colour: beside each other they would be
// taken for one another, and where they cross.
const beside, crossing = 100, 1

// paint gives each net its colour: ground and supplies theirs, a lamp's wires the lamp's, and none
// that a neighbour has, as far as the wires at hand allow.
func (s *state) paint() {
	const passes = 3 // the later ones find little
	alike := s.alikeCost()
	colour := make([]string, len(s.nets.members))
	var nets []int
	for _, w := range s.wires {
		if !slices.Contains(nets, w.net) {
			nets = append(nets, w.net)
		}
	}
	slices.SortFunc(nets, func(a, b int) int { return cmp.Or(cmp.Compare(len(alike[b]), len(alike[a])), cmp.Compare(a, b)) })
	for range passes {
		for _, net := range nets {
			best, least := "", -1
			for k, c := range s.colours(net) {
				cost := k
				for other, much := range alike[net] {
					if colour[other] == c {
						cost += much * len(build.WireColours)
					}
				}
				if least < 0 || cost < least {
					best, least = c, cost
				}
			}
			colour[net] = best
		}
	}
	for i := range s.wires {
		s.wires[i].Colour = colour[s.wires[i].net]
	}
}

// alikeCost says for each net what it would cost if its wires had the colour of another's.
func (s *state) alikeCost() []map[int]int {
	cost := make([]map[int]int, len(s.nets.members))
	for i := range cost {
		cost[i] = map[int]int{}
	}
	for i, a := range s.wires {
		for _, b := range s.wires[:i] {
			much := 0
			switch {
			case a.net == b.net:
			case a.neighbours(b):
				much = beside
			case a.line.crosses(b.line):
				much = crossing
			}
			if much > 0 {
				cost[a.net][b.net] += much
				cost[b.net][a.net] += much
			}
		}
	}
	return cost
}

// neighbours reports whether two wires end beside each other: in neighbouring holes, or places.
func (w Jumper) neighbours(o Jumper) bool {
	const apart = 1.1 // holes; diagonally is not beside
	for _, p := range []breadboard.Point{w.line.from, w.line.to} {
		if p.To(o.line.from) < apart || p.To(o.line.to) < apart {
			return true
		}
	}
	return false
}

// colours are those that a net's wires may have, the best first.
func (s *state) colours(net int) []string {
	own, free := s.ownColour(net), slices.Clone(freeColours)
	turn := net % len(free)
	free = slices.Concat(free[turn:], free[:turn])
	var best []string
	switch own {
	case forGround, forSupply:
		best = []string{own}
	case "":
		best = free
	default:
		best = append([]string{own}, slices.DeleteFunc(free, func(c string) bool { return c == own })...)
	}
	a := s.doc.Assembly
	if a == nil || a.Stock == nil || len(a.Stock.Colours) == 0 {
		return best
	}
	there := slices.DeleteFunc(best, func(c string) bool { return !slices.Contains(a.Stock.Colours, c) })
	if len(there) > 0 {
		return there
	}
	others := slices.DeleteFunc(slices.Clone(a.Stock.Colours), func(c string) bool { return c == forGround || c == forSupply })
	if len(others) == 0 {
		return a.Stock.Colours
	}
	return others
}

// ownColour is the colour that a net asks for, nothing when it asks for none.
func (s *state) ownColour(net int) string {
	if rails := s.rails[net]; len(rails) > 0 {
		switch {
		case rails[0].Minus():
			return forGround
		case rails[0].Column == breadboard.LeftPlus:
			return forSupply
		}
		return forSecond
	}
	lamp := ""
	for _, t := range s.nets.members[net] {
		id, leg := t.Split()
		p := s.doc.Part(id)
		if i := slices.IndexFunc(s.board.Places, func(x board.Place) bool { return x.Name == leg && x.Of != "" }); p == nil && i >= 0 {
			leg = s.board.Places[i].Of
		}
		switch {
		case p == nil && leg == s.board.Ground:
			return forGround
		case p == nil && s.isSupply(leg):
			return forSupply
		case p == nil || lamp != "":
			continue
		}
		for _, q := range []*build.Part{p, s.doc.Part(p.Of)} {
			if q != nil && lamp == "" {
				t, _ := s.kind(q).Type(q.Type)
				if lamp = part.InkOf(t.Ink).Wire; lamp == forSupply {
					lamp = "" // red means the supply: any will do
				}
			}
		}
	}
	return lamp
}

// isSupply reports whether a place of the board is one of its rails, or where its supply comes in.
func (s *state) isSupply(name string) bool {
	return slices.ContainsFunc(s.board.Rails, func(r board.Rail) bool { return r.Name == name }) ||
		slices.ContainsFunc(s.board.Places, func(p board.Place) bool { return p.Name == name && p.Supply != "" })
}
