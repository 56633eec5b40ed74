// Package choose picks what a builder would otherwise guess: the value of a
// resistor, and the pin for a signal.
package choose

import (
	"errors"
	"fmt"
	"math"
	"slices"

	"cablaggio/core/build"
	"cablaggio/core/circuit"
	"cablaggio/core/preferred"
	"cablaggio/core/spec"
	"cablaggio/core/wiring"
)

// A Trial returns the current through a lamp, in amperes over all corners, with
// a resistor of the given ohms before it. More ohms must not give more current.
type Trial func(ohms float64) (wiring.Range, error)

// A Wish is what a resistor is chosen for.
type Wish struct {
	Amps   float64          // the wanted current
	Limit  float64          // what the high corner must not exceed
	Series preferred.Series // where values come from when Have is empty
	Have   []float64        // the values in the drawer, in ohms
}

// A Candidate is a value with what it would do.
type Candidate struct {
	Ohms   float64      `json:"ohms"`
	Amps   wiring.Range `json:"amps"`
	Watts  float64      `json:"watts"`  // in the resistor at most
	Within bool         `json:"within"` // whether the limit is kept in every corner
	Best   bool         `json:"best"`
	Usual  bool         `json:"usual"` // a value that people reach for without computing
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
		// A limit well below the wish moves the choice up the series.
		if atLimit, err := Ideal(trial, wish.Limit/2); err == nil {
			values = append(values, neighbours(wish.Series, atLimit)...)
		}
	}
	own := len(values)
	values = append(values, Usual...)
	var out []Candidate
	for i, ohms := range values {
		if slices.ContainsFunc(out, func(c Candidate) bool { return c.Ohms == ohms }) {
			continue
		}
		amps, err := trial(ohms)
		if err != nil {
			return nil, err
		}
		c := Candidate{Ohms: ohms, Amps: amps, Watts: amps.High * amps.High * ohms, Within: amps.High <= wish.Limit, Usual: slices.Contains(Usual, ohms)}
		c.Best = c.Within && i < own // for now: it may become the best
		out = append(out, c)
	}
	slices.SortFunc(out, func(a, b Candidate) int { return cmp(a.Ohms, b.Ohms) })
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

func cmp(a, b float64) int {
	switch {
	case a < b:
		return -1
	case a > b:
		return 1
	}
	return 0
}

// neighbours returns the four values of the series around v.
func neighbours(s preferred.Series, v float64) []float64 {
	down, up := s.Down(v), s.Up(v*(1+1e-6))
	return []float64{s.Down(down * (1 - 1e-6)), down, up, s.Up(up * (1 + 1e-6))}
}

// Ideal returns the resistance that gives the wanted typical current, between
// 1 Ω and 10 MΩ: the nearest end when the current cannot be had.
func Ideal(trial Trial, amps float64) (float64, error) {
	low, high := math.Log(minOhms), math.Log(maxOhms)
	for range 40 {
		mid := (low + high) / 2
		got, err := trial(math.Exp(mid))
		if err != nil {
			return 0, err
		}
		if got.Typ > amps {
			low = mid
		} else {
			high = mid
		}
	}
	return math.Exp((low + high) / 2), nil
}

// Best returns the value of the best candidate.
func Best(candidates []Candidate) float64 {
	for _, c := range candidates {
		if c.Best {
			return c.Ohms
		}
	}
	return 0
}

// Loop is a trial in the plainest circuit: a supply of volts, the resistor
// with a tolerance as a fraction, and a diode that drops forward volts at amps,
// with ideality n and series resistance rs.
func Loop(volts, forward spec.Value, amps, n, rs, tolerance float64) Trial {
	var c circuit.Circuit
	supply, anode := c.Node(), c.Node()
	c.Add(circuit.Element{Kind: circuit.VoltageSource, A: supply, B: circuit.Ground})
	c.Add(circuit.Element{Kind: circuit.Resistor, A: supply, B: anode})
	d := c.Add(circuit.Element{Kind: circuit.Diode, A: anode, B: circuit.Ground})
	solver := circuit.NewSolver(&c)
	var sol circuit.Solution
	at := func(volts, ohms, forward float64) (float64, error) {
		c.Elements[0].Value, c.Elements[1].Value = volts, ohms
		c.Elements[2].Junction = circuit.FitJunction(forward, amps, n, rs)
		err := solver.Solve(&sol)
		return sol.I[d], err
	}
	return func(ohms float64) (r wiring.Range, err error) {
		if r.Low, err = at(volts.Low, ohms*(1+tolerance), forward.High); err != nil {
			return r, err
		}
		if r.High, err = at(volts.High, ohms*(1-tolerance), forward.Low); err != nil {
			return r, err
		}
		r.Typ, err = at(volts.Typ, ohms, forward.Typ)
		return r, err
	}
}

// InBuild is a trial in a build: the current through a lamp, in the state in
// which it carries most, with another value for a resistor of the build.
func InBuild(lib *build.Library, doc *build.Document, resistor, lamp string) (Trial, error) {
	doc = doc.Clone()
	r := doc.Part(resistor)
	if r == nil || doc.Part(lamp) == nil {
		return nil, fmt.Errorf("there is no part %q or %q", resistor, lamp)
	}
	kind, _ := lib.Catalogue.Kind(r.Kind)
	tolerance := wiring.ValueOf(kind, r, "tolerance").Typ / 100
	n := wiring.Build(lib, doc)
	element := n.Find(wiring.Body, lamp, "")
	param := n.ParamOf(n.Find(wiring.Body, resistor, ""))
	piece := n.PieceWith(element)
	if piece == nil || param < 0 {
		return nil, errors.New("the resistor and the lamp are not joined")
	}
	return func(ohms float64) (wiring.Range, error) {
		n.Params[param].Value = spec.Within(ohms, tolerance, "trial")
		var worst wiring.Range
		for s := range piece.States() {
			solved, err := piece.Solve(s)
			if err != nil {
				return worst, err
			}
			if i := solved.Amps(element); i.Typ > worst.Typ {
				worst = i
			}
		}
		return worst, nil
	}, nil
}
