package wiring

import (
	"math"
	"slices"

	"cablaggio/core/electric/circuit"
)

// search looks for the states that matter for a subject where there are too many
// to look at each: beside the extremes those in which the subject is largest and
// smallest, and for a voltage the one in which it is nearest to the middle
// between the thresholds, where a level is doubtful. From the best of the
// extremes one choice at a time is moved to where it helps most, and two at a
// time where one alone does not help, as far as the budget of the subject goes.
func (p *pattern) search(about localSubject) ([]State, error) {
	states := p.extremes()
	p.tried = 0
	form := circuit.Form{}
	for _, e := range about.elements {
		form.Amps = append(form.Amps, circuit.Weight{At: e, By: 1})
	}
	for i, n := range about.nodes {
		form.Volts = append(form.Volts, circuit.Weight{At: n, By: float64(1 - 2*(i%2))})
	}
	aims := []func(v float64) float64{
		func(v float64) float64 { return v },
		func(v float64) float64 { return -v },
	}
	if len(about.nodes) == 1 {
		aims = append(aims, func(v float64) float64 { return -math.Abs(v - p.middle) })
	}
	value := func(s State) (float64, error) {
		v, err := p.viewOf(s)
		if err != nil {
			return 0, err
		}
		sol := circuit.Solution{V: v.point.typical.V, I: v.point.typical.I}
		return v.as.form(form).Of(&sol), nil
	}
	for _, aim := range aims {
		best, most := State(nil), math.Inf(-1)
		for _, s := range states {
			v, err := value(s)
			if err != nil {
				return nil, err
			}
			if a := aim(v); a > most {
				best, most = s, a
			}
		}
		best, err := p.climb(slices.Clone(best), most, func(s State) (float64, error) {
			v, err := value(s)
			return aim(v), err
		})
		if err != nil {
			return nil, err
		}
		if !slices.ContainsFunc(states, func(s State) bool { return slices.Equal(s, best) }) {
			states = append(states, best)
		}
	}
	return states, nil
}

// form is a form whose things have moved.
func (m *moves) form(f circuit.Form) circuit.Form {
	if m == nil {
		return f
	}
	var out circuit.Form
	for _, w := range f.Amps {
		out.Amps = append(out.Amps, circuit.Weight{At: int(m.elements[w.At]), By: w.By})
	}
	for _, w := range f.Volts {
		out.Volts = append(out.Volts, circuit.Weight{At: int(m.nodes[w.At]), By: w.By})
	}
	return out
}

// climb moves a state, which is worth what is given, to where it is worth more
// until nothing helps or the budget is used up.
func (p *pattern) climb(s State, worth float64, value func(State) (float64, error)) (State, error) {
	least := func() float64 { return worth + 1e-9*math.Abs(worth) + 1e-12 }
	// moved tries every option of every choice from one on, and of another choice
	// after it when two are moved.
	var best State
	var try func(from, more int) error
	try = func(from, more int) error {
		for i := from; i < len(p.choices) && p.tried < maxTried; i++ {
			was := p.settingsOf(s, i)
			for option := range p.choices[i].options {
				p.choose(s, i, option)
				if slices.Equal(p.settingsOf(s, i), was) {
					continue
				}
				if more > 0 {
					if err := try(i+1, more-1); err != nil {
						return err
					}
					continue
				}
				p.tried++
				v, err := value(s)
				if err != nil {
					return err
				}
				if v > least() {
					best, worth = slices.Clone(s), v
				}
			}
			for k, c := range p.choices[i].controls {
				s[c] = was[k]
			}
		}
		return nil
	}
	for more := 0; more < 2; {
		best = nil
		if err := try(0, more); err != nil {
			return nil, err
		}
		if best == nil {
			more++
			continue
		}
		s, more = best, 0
	}
	return s, nil
}

// maxTried is how many states are tried for one subject. It is counted for each, so
// that what is found does not depend on what was asked before.
const maxTried = MaxStates

func (p *pattern) settingsOf(s State, choice int) []float64 {
	out := make([]float64, 0, 1)
	for _, c := range p.choices[choice].controls {
		out = append(out, s[c])
	}
	return out
}
