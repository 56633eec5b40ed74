// Package choose picks what a builder would otherwise guess: the value of a
// resistor, and the pin for a signal.
package choose

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/preferred"
	"cablaggio/core/values/spec"
)

// A Trial says what current flows through a lamp with a resistor of the given
// ohms before it, in amperes. More ohms must not give more current.
type Trial interface {
	Typical(ohms float64) (float64, error)
	Corners(ohms float64) (wiring.Range, error)
	Most(ohms float64) (float64, error) // the high end of Corners
}

// A Wish is what a resistor is chosen for.
type Wish struct {
	Amps   float64          // the wanted current
	Limit  float64          // what the high corner must not exceed
	Series preferred.Series // where values come from when Have is empty
	Have   []float64        // the values in the drawer, in ohms
	Alone  bool             // only the best matters: the usual values need not be beside it
}

// A Candidate is a value with what it would do.
type Candidate struct {
	Ohms   float64      `json:"ohms"`
	Amps   wiring.Range `json:"amps"`
	Watts  float64      `json:"watts"`  // in the resistor at most
	Within bool         `json:"within"` // whether the limit is kept in every corner
	Best   bool         `json:"best"`
	Usual  bool         `json:"usual"` // a value that people reach for without computing
	Drawer bool         `json:"drawer"`
	Pair   *Pair        `json:"pair,omitempty"` // two from the drawer that make it
}

// Usual lists the rules of thumb (common practice).
var Usual = []float64{100, 220, 270, 330, 470, 1000}

const minOhms, maxOhms = 1.0, 10e6

// Resistor returns the candidates for a wish in order of resistance, one of
// them the best: within the limit and nearest to the wanted current. It fails
// when no value keeps the limit, and says what would help.
func Resistor(trial Trial, wish Wish) ([]Candidate, error) {
	if !(wish.Amps > 0) || !(wish.Limit > 0) {
		return nil, errors.New("the wanted current must be above zero")
	}
	ideal, err := Ideal(trial, wish.Amps)
	if err != nil {
		return nil, err
	}
	values := slices.Clone(wish.Have)
	if len(values) == 0 {
		values = neighbours(wish.Series, ideal)
		// Where the limit forbids the wish, the choice is the first value above it.
		atLimit, err := solve(wish.Limit, trial.Most)
		if err != nil {
			return nil, err
		}
		if atLimit > values[0] {
			values = append(values, neighbours(wish.Series, atLimit)...)
		}
	}
	own := len(values)
	if !wish.Alone {
		values = append(values, Usual...)
	}
	var out []Candidate
	for i, ohms := range values {
		if slices.ContainsFunc(out, func(c Candidate) bool { return c.Ohms == ohms }) {
			continue
		}
		c, err := candidate(trial, wish, ohms)
		if err != nil {
			return nil, err
		}
		c.Drawer = i < own && len(wish.Have) > 0
		c.Best = c.Within && i < own // for now: it may become the best
		out = append(out, c)
	}
	slices.SortFunc(out, func(a, b Candidate) int { return cmp.Compare(a.Ohms, b.Ohms) })
	best := -1
	for i, c := range out {
		if c.Best && (best < 0 || math.Abs(c.Amps.Typ-wish.Amps) < math.Abs(out[best].Amps.Typ-wish.Amps)) {
			best = i
		}
	}
	for i := range out {
		out[i].Best = i == best
	}
	if best < 0 {
		return out, fmt.Errorf("no value at hand keeps the current below %.3g mA; a larger one is needed", wish.Limit*1e3)
	}
	return out, nil
}

// candidate says what a value would do.
func candidate(trial Trial, wish Wish, ohms float64) (Candidate, error) {
	amps, err := trial.Corners(ohms)
	return Candidate{Ohms: ohms, Amps: amps, Watts: amps.High * amps.High * ohms, Within: amps.High <= wish.Limit, Usual: slices.Contains(Usual, ohms)}, err
}

// neighbours returns the four values of the series around v.
func neighbours(s preferred.Series, v float64) []float64 {
	down := s.Down(v)
	up := s.Up(down * (1 + 1e-6))
	return []float64{s.Down(down * (1 - 1e-6)), down, up, s.Up(up * (1 + 1e-6))}
}

// Ideal returns the resistance that gives the wanted typical current, between
// 1 Ω and 10 MΩ: the nearest end when the current cannot be had. It is exact to
// a part in a million.
func Ideal(trial Trial, amps float64) (float64, error) { return solve(amps, trial.Typical) }

// solve returns the resistance at which a current that falls with it is amps.
func solve(amps float64, current func(ohms float64) (float64, error)) (float64, error) {
	// In the logarithms of resistance and current the curve is nearly a straight
	// line, which is what the false position method (Illinois variant; Dowell
	// and Jarratt, BIT 11, 1971) is best at.
	miss := func(x float64) (float64, error) {
		got, err := current(math.Exp(x))
		return math.Log(math.Max(got, 1e-15) / amps), err
	}
	low, high := math.Log(minOhms), math.Log(maxOhms)
	atLow, err := miss(low)
	if err != nil || atLow <= 0 {
		return minOhms, err
	}
	atHigh, err := miss(high)
	if err != nil || atHigh >= 0 {
		return maxOhms, err
	}
	side := 0
	for range 60 {
		x := (atLow*high - atHigh*low) / (atLow - atHigh)
		y, err := miss(x)
		if err != nil {
			return 0, err
		}
		if math.Abs(y) < 1e-6 || high-low < 1e-9 {
			return math.Exp(x), nil
		}
		if y > 0 {
			low, atLow = x, y
			if side > 0 {
				atHigh /= 2
			}
			side = 1
		} else {
			high, atHigh = x, y
			if side < 0 {
				atLow /= 2
			}
			side = -1
		}
	}
	return math.Exp((low + high) / 2), nil
}

// Best returns the best candidate: the zero Candidate when there is none.
func Best(candidates []Candidate) Candidate {
	i := slices.IndexFunc(candidates, func(c Candidate) bool { return c.Best })
	if i < 0 {
		return Candidate{}
	}
	return candidates[i]
}

// A Loop is a trial in the plainest circuit: supply, resistor and LED.
type Loop struct {
	Volts, Forward spec.Value // of the supply, and of the LED at Amps
	Amps, N, Rs    float64    // test current, ideality and series resistance of the LED
	Tolerance      float64    // of the resistor, as a fraction
}

func (l Loop) at(volts, ohms, forward float64) (float64, error) {
	var c circuit.Circuit
	supply, anode := c.Node(), c.Node()
	c.Add(circuit.Element{Kind: circuit.VoltageSource, A: supply, B: circuit.Ground, Value: volts})
	c.Add(circuit.Element{Kind: circuit.Resistor, A: supply, B: anode, Value: ohms})
	d := c.Add(circuit.Element{Kind: circuit.Diode, A: anode, B: circuit.Ground, Junction: circuit.FitJunction(forward, l.Amps, l.N, l.Rs)})
	sol, err := circuit.Solve(&c)
	if err != nil {
		return 0, err
	}
	return sol.I[d], nil
}

// Typical implements [Trial].
func (l Loop) Typical(ohms float64) (float64, error) {
	return l.at(l.Volts.Typ, ohms, l.Forward.Typ)
}

// Corners implements [Trial].
func (l Loop) Corners(ohms float64) (r wiring.Range, err error) {
	low, err1 := l.at(l.Volts.Low, ohms*(1+l.Tolerance), l.Forward.High)
	typ, err2 := l.at(l.Volts.Typ, ohms, l.Forward.Typ)
	high, err3 := l.at(l.Volts.High, ohms*(1-l.Tolerance), l.Forward.Low)
	return wiring.Range{Low: low, Typ: typ, High: high}, errors.Join(err1, err2, err3)
}

// Most implements [Trial].
func (l Loop) Most(ohms float64) (float64, error) {
	return l.at(l.Volts.High, ohms*(1-l.Tolerance), l.Forward.Low)
}

// A Site is a trial in a build: a resistor and the lamp that it is chosen for.
type Site struct {
	Wanted float64 // the current that the builder wants in the lamp
	Limit  float64 // the least recommended current of what is on the current's way

	network  *wiring.Network
	state    wiring.State // in which the lamp carries most
	lamp     int          // element
	resistor string       // id of the part
}

// InBuild returns a trial in a build: the current through a lamp, in the state
// in which it carries most, with another value for a resistor of the build. Of
// a case with several LEDs it is the one whose current the resistor carries; of
// several the one that carries most.
func InBuild(known *wiring.Cache, lib *build.Library, doc *build.Document, resistor, lamp string) (*Site, error) {
	r, l := doc.Part(resistor), doc.Part(lamp)
	if r == nil || l == nil {
		return nil, fmt.Errorf("there is no part %q or %q", resistor, lamp)
	}
	own, _ := lib.Catalogue.Kind(l.Kind)
	doc = near(lib, doc, resistor)
	if l = doc.Part(lamp); l == nil {
		return nil, errors.New("the resistor and the lamp are not joined")
	}
	t := &Site{network: known.Build(lib, doc), resistor: resistor}
	element := t.network.Find(wiring.Body, resistor, "")
	most, carried := math.Inf(-1), false
	for _, lamp := range t.network.Lamps {
		piece := t.network.PieceWith(lamp.Element)
		if lamp.Part != l || piece == nil {
			continue
		}
		states, err := piece.Planned(wiring.Current(lamp.Element))
		if err != nil {
			return nil, err
		}
		for _, solved := range states {
			drops, _, _ := solved.Path(lamp.Element)
			through := slices.ContainsFunc(drops, func(d wiring.Drop) bool { return d.Element == element })
			if i := solved.TypicalAmps(lamp.Element); through && !carried || i > most && through == carried {
				most, carried, t.state, t.lamp = i, through, solved.State, lamp.Element
				t.Wanted = lamp.Value(own, "targetCurrent").Typ
				t.Limit = way(t.network, drops, lamp.Element)
			}
		}
	}
	if t.state == nil || t.network.PieceWith(element) == nil {
		return nil, errors.New("the resistor and the lamp are not joined")
	}
	return t, nil
}

// way returns the least recommended current on the way of a lamp's current: of
// the lamp itself, and of the pin or the output that drives it.
func way(n *wiring.Network, drops []wiring.Drop, lamp int) float64 {
	least := n.Elements[lamp].Limit.Recommended
	if len(drops) == 0 {
		return math.Min(least, n.Board.Logic.Pin.Recommended)
	}
	for _, d := range drops {
		if r := n.Elements[d.Element].Limit.Recommended; r > 0 {
			least = math.Min(least, r)
		}
	}
	return least
}

// with solves the build with another value for the resistor.
func (t *Site) with(ohms float64) (*wiring.Solved, error) {
	return t.network.With(wiring.Set(t.resistor, "resistance", ohms)).PieceWith(t.lamp).At(t.state)
}

// Typical implements [Trial].
func (t *Site) Typical(ohms float64) (float64, error) {
	solved, err := t.with(ohms)
	if err != nil {
		return 0, err
	}
	return solved.TypicalAmps(t.lamp), nil
}

// Corners implements [Trial].
func (t *Site) Corners(ohms float64) (wiring.Range, error) {
	solved, err := t.with(ohms)
	if err != nil {
		return wiring.Range{}, err
	}
	return solved.Amps(t.lamp), nil
}

// Most implements [Trial].
func (t *Site) Most(ohms float64) (float64, error) {
	solved, err := t.with(ohms)
	if err != nil {
		return 0, err
	}
	return solved.Max(t.lamp), nil
}
