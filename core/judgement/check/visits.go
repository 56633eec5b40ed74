package check

import (
	"cmp"
	"math"
	"slices"

	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
)

// visits lists the piece of a node in the states that matter for its voltage: of
// many, those whose typical voltage is lowest, highest and on both sides nearest
// to the middle between the thresholds, and the first in which nothing holds it.
func (f *facts) visits(node circuit.Node) []visit {
	p := f.net.PieceOf(node)
	if p == nil {
		return nil
	}
	return f.held.get(node, func() []visit { return f.telltale(p, node) })
}

func (f *facts) telltale(p *wiring.Piece, node circuit.Node) []visit {
	list := f.planned(p, wiring.Voltage(node))
	if len(list) <= manyStates {
		return list
	}
	vil, vih := f.thresholds()
	middle := (vil + vih) / 2
	return few(list, func(v visit) []float64 {
		volts, floats := v.Typical(node), 0.0
		if !v.Held(node) {
			floats = 1
		}
		below, above := math.Inf(-1), math.Inf(-1)
		if volts < middle {
			below = volts
		} else {
			above = -volts
		}
		return []float64{volts, -volts, below, above, floats}
	})
}

// visitsOf lists the piece of an element in the states that matter for its
// current: of many, those in which it is typically largest, either way.
func (f *facts) visitsOf(element int) []visit {
	p := f.net.PieceWith(element)
	if p == nil {
		return nil
	}
	return f.flows.get(element, func() []visit {
		list := f.planned(p, wiring.Current(element))
		if len(list) <= manyStates {
			return list
		}
		return few(list, func(v visit) []float64 {
			amps := v.TypicalAmps(element)
			return []float64{amps, -amps}
		})
	})
}

// allOf lists the piece of an element in all states that differ for its current.
func (f *facts) allOf(element int) []visit {
	return f.planned(f.net.PieceWith(element), wiring.Current(element))
}

// planned lists the states of a piece. What has no answer is said when facts are
// gathered; of facts that are not, it is noted.
func (f *facts) planned(p *wiring.Piece, about wiring.Subject) []visit {
	list, err := p.Planned(about)
	if err != nil {
		f.unsolved.Store(true)
	}
	return list
}

// visitsAcross lists a piece in the states that matter for the voltage between
// two of its nodes.
func (f *facts) visitsAcross(p *wiring.Piece, a, b circuit.Node) []visit {
	if p == nil {
		return nil
	}
	list := f.planned(p, wiring.Voltage(a, b))
	if len(list) <= manyStates {
		return list
	}
	return few(list, func(v visit) []float64 {
		volts := v.Typical(a) - v.Typical(b)
		return []float64{volts, -volts}
	})
}

// manyStates is how many states of one piece are all searched for their worst
// corners, and likely how many of more are for each thing that is looked for.
const (
	manyStates = 64
	likely     = 3
)

// few returns the visits for which some of their numbers is among the largest, in
// their order.
func few(list []visit, numbers func(visit) []float64) []visit {
	all := make([][]float64, len(list))
	for i, v := range list {
		all[i] = numbers(v)
	}
	keep := map[int]bool{}
	order := make([]int, len(list))
	for k := range all[0] {
		for i := range order {
			order[i] = i
		}
		slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(all[b][k], all[a][k]) })
		for _, i := range order[:likely] {
			keep[i] = true
		}
	}
	var out []visit
	for i, v := range list {
		if keep[i] {
			out = append(out, v)
		}
	}
	return out
}

// visitsBefore lists the piece of an element in the states that an old program
// could bring about and in which it typically carries most.
func (f *facts) visitsBefore(element int) []visit {
	p := f.net.PieceWith(element)
	if p == nil {
		return nil
	}
	list, err := p.Previous()
	if err != nil || len(list) == 0 {
		return nil
	}
	most := slices.MaxFunc(list, func(a, b visit) int { return cmp.Compare(a.TypicalAmps(element), b.TypicalAmps(element)) })
	return []visit{most}
}

// A worst is an element's current in the state in which it is largest.
type worst struct {
	wiring.Range
	element int
	at      visit // nil: the element is in no piece
}

// worstOf returns the largest current that flows through the element in its
// own direction.
func (f *facts) worstOf(element int) worst {
	if element < 0 {
		return worst{element: element}
	}
	return f.worsts.get(element, func() worst { return largest(f.visitsOf(element), element) })
}

// worstBefore is worstOf with an old program.
func (f *facts) worstBefore(element int) worst { return largest(f.visitsBefore(element), element) }

func largest(in []visit, element int) worst {
	w := worst{element: element}
	most := 0.0
	for _, v := range in {
		if high := v.Max(element); w.at == nil || high > most {
			w.at, most = v, high
		}
	}
	if w.at != nil {
		w.Range = w.at.Amps(element)
	}
	return w
}

// near reports whether the typical current of an element comes so near to a limit
// that a corner may pass it: tolerances here do not make twenty of one.
func (f *facts) near(element int, limit float64) bool {
	return slices.ContainsFunc(f.visitsOf(element), func(v visit) bool { return math.Abs(v.TypicalAmps(element)) > limit/20 })
}

// worstEitherWay is worstOf for an element whose current may flow both ways.
func (f *facts) worstEitherWay(element int) worst {
	w := worst{element: element}
	for _, v := range f.visitsOf(element) {
		if r := v.Amps(element); w.at == nil || r.Peak() > w.Peak() {
			w.Range, w.at = r, v
		}
	}
	return w
}

// while tells a state after what holds in it. One in which nothing is set goes without saying.
func while(state string) string {
	if state == "" {
		return ""
	}
	return " while " + state
}
