package placement

import (
	"slices"

	"cablaggio/core/breadboard"
	"cablaggio/core/build"
)

// wireColours go round for what has no colour of its own.
var wireColours = []string{"yellow", "green", "blue", "white", "violet", "grey", "brown", "orange"}

// colour chooses the colour of a net's wires: the best one, or of those at hand
// another that is not that of ground or the supply, if there is one.
func (s *state) colour(net int) string {
	best := s.bestColour(net)
	a := s.doc.Assembly
	if a == nil || a.Stock == nil || len(a.Stock.Colours) == 0 || slices.Contains(a.Stock.Colours, best) {
		return best
	}
	others := slices.DeleteFunc(slices.Clone(a.Stock.Colours), func(c string) bool { return c == "black" || c == "red" })
	if len(others) == 0 {
		others = a.Stock.Colours
	}
	return others[net%len(others)]
}

// bestColour is black for ground, red for the first supply, orange for a second
// one, and a lamp's colour for its wires.
func (s *state) bestColour(net int) string {
	if rails := s.rails[net]; len(rails) > 0 {
		switch {
		case rails[0].Minus():
			return "black"
		case rails[0].Column == breadboard.LeftPlus:
			return "red"
		}
		return "orange"
	}
	for _, t := range s.nets.members[net] {
		id, leg := t.Split()
		p := s.doc.Part(id)
		if p == nil {
			switch {
			case leg == s.board.Ground:
				return "black"
			case !s.isPin(leg):
				return "red"
			}
			continue
		}
		for _, q := range []*build.Part{p, s.doc.Part(p.Of)} {
			if q == nil {
				continue
			}
			if t, ok := s.kind(q).Type(q.Type); ok && t.Ink != "" {
				if c, ok := inkColours[t.Ink]; ok {
					return c
				}
			}
		}
	}
	return wireColours[net%len(wireColours)]
}

// inkColours are the wires for the colours of lamps.
var inkColours = map[string]string{"red": "red", "amber": "orange", "yellow": "yellow", "green": "green", "blue": "blue", "white": "white", "infrared": "violet"}
