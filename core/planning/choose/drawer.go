package choose

import (
	"cmp"
	"math"
	"slices"
)

// A Pair is two resistors from the drawer that make one value.
type Pair struct {
	A        float64 `json:"a"` // ohms
	B        float64 `json:"b"`
	Parallel bool    `json:"parallel"` // otherwise in series
}

// Ohms is what the two make together.
func (p Pair) Ohms() float64 {
	if p.Parallel {
		return p.A * p.B / (p.A + p.B)
	}
	return p.A + p.B
}

const (
	drawerNear = 4    // values from the drawer that are shown beside the rest
	pairsNear  = 2    // and pairs
	serves     = 0.5  // what part of the best a value from the drawer must give to be chosen rather than one that has to be bought
	exact      = 0.02 // a pair is not worth its second resistor when a single one is this near
)

// Beside returns the candidates of [Resistor] and beside them what the drawer
// has: the values nearest to the ideal one, and where none is near two of them
// together. The best is then one from the drawer, if any keeps the limit and
// gives half of the current that the best of all gives.
func Beside(trial Trial, wish Wish, have []float64) ([]Candidate, error) {
	wish.Have = nil
	out, err := Resistor(trial, wish)
	if len(have) == 0 || out == nil {
		return out, err
	}
	ideal, err := Ideal(trial, wish.Amps)
	if err != nil {
		return nil, err
	}
	off := func(ohms float64) float64 { return math.Abs(math.Log(ohms / ideal)) }
	nearest := slices.Clone(have)
	slices.SortStableFunc(nearest, func(a, b float64) int { return cmp.Compare(off(a), off(b)) })
	nearest = nearest[:min(drawerNear, len(nearest))]
	show := func(ohms float64) (*Candidate, error) {
		i := slices.IndexFunc(out, func(c Candidate) bool { return math.Abs(c.Ohms-ohms) < 1e-6*ohms })
		if i < 0 {
			c, err := candidate(trial, wish, ohms)
			if err != nil {
				return nil, err
			}
			out = append(out, c)
			i = len(out) - 1
		}
		return &out[i], nil
	}
	for _, ohms := range nearest {
		c, err := show(ohms)
		if err != nil {
			return nil, err
		}
		c.Drawer = true
	}
	if off(nearest[0]) > exact {
		for _, p := range pairs(have, off)[:min(pairsNear, len(pairs(have, off)))] {
			if off(p.Ohms()) >= off(nearest[0]) {
				continue
			}
			c, err := show(p.Ohms())
			if err != nil {
				return nil, err
			}
			if !c.Drawer {
				c.Pair = &p
			}
		}
	}
	slices.SortFunc(out, func(a, b Candidate) int { return cmp.Compare(a.Ohms, b.Ohms) })
	best, enough := -1, serves*Best(out).Amps.Typ
	miss := func(c Candidate) float64 { return math.Abs(c.Amps.Typ - wish.Amps) }
	for i, c := range out {
		if c.Drawer && c.Within && c.Amps.Typ >= enough && (best < 0 || miss(c) < miss(out[best])) {
			best = i
		}
	}
	if best >= 0 {
		for i := range out {
			out[i].Best = i == best
		}
	}
	return out, nil
}

// pairs lists every two values together, the nearest to the ideal first.
func pairs(have []float64, off func(float64) float64) []Pair {
	var out []Pair
	for i, a := range have {
		for _, b := range have[i:] {
			out = append(out, Pair{a, b, false}, Pair{a, b, true})
		}
	}
	slices.SortStableFunc(out, func(x, y Pair) int { return cmp.Compare(off(x.Ohms()), off(y.Ohms())) })
	return out
}
