package wiring

import (
	"fmt"
	"math"
	"slices"
	"sync"

	"cablaggio/core/circuit"
)

// A mould is what a piece is, without the names of what it is made of: pieces
// with equal moulds are alike.
type mould struct {
	circuit  circuit.Circuit
	parts    []mouldPart // by element of the circuit
	params   []tolerance
	rails    []int // the params that are voltages of rails, which other pieces share
	choices  []localChoice
	previous []previous
	middle   float64 // volts, halfway between the thresholds of the board's inputs
}

type mouldPart struct {
	param   int // index into params, or -1
	control int // index into the piece's controls, or -1
	law     law
	switching
}

type tolerance struct{ low, typ, high float64 }

// at returns the value at a corner: −1 its low end, 1 its high end.
func (t tolerance) at(corner int8) float64 {
	switch corner {
	case -1:
		return t.low
	case 1:
		return t.high
	}
	return t.typ
}

type localChoice struct {
	controls []int
	options  [][]float64
}

// previous is what an old program could do to an input.
type previous struct {
	control int
	setting float64
}

// A pattern is what alike pieces have in common, with what has been solved of
// it. The lock is taken by the methods of [Piece] and [Solved] and by those that
// say so.
type pattern struct {
	mould
	known *Known

	mu        sync.Mutex
	solver    *circuit.Solver // nil until something is asked
	moved     [][]int         // by param: the elements whose values it moves
	factor    []float64       // by element: what the state multiplies its value by
	stands    []float64       // by element: the value of its param times the factor that it was last given
	points    map[string]*point
	effects   []float64
	plan      []view            // the planned states that stand for all
	plans     map[string][]view // by subject: those that differ for it
	alike     [][]int           // classes of choices that are alike; nil: not yet known
	exchanges map[[2]int]*moves
	searched  bool     // the states were too many for somebody
	tried     int      // states, by searching
	settled   standing // where the solver is linearized
}

// standing is a point and a corner.
type standing struct {
	at     *point
	corner string
}

// A point is a pattern in one state, with what has been solved there.
type point struct {
	state   State
	typical circuit.Solution
	corners map[string]*circuit.Solution
	nudges  map[string][]nudge
	starts  [][]int8 // corners in which junctions conduct that do not at the typical values
	started bool     // whether starts are known
	ranges  []Range  // of the elements' currents, then of the nodes' voltages
	has     []bool   // whether they are known
}

// A nudge is a small move of one param: what it does to an element by itself.
type nudge struct {
	param, element int
	by             float64 // amperes more, or volts of a source, for the param towards its high end
}

// A State sets the controls of a piece, in the order of its Controls.
type State []float64

func stateKey(s State) string {
	b := make([]byte, 0, 8*len(s))
	for _, v := range s {
		u := math.Float64bits(v)
		b = append(b, byte(u), byte(u>>8), byte(u>>16), byte(u>>24), byte(u>>32), byte(u>>40), byte(u>>48), byte(u>>56))
	}
	return string(b)
}

// prepare makes what solving needs.
func (p *pattern) prepare() {
	if p.solver != nil {
		return
	}
	p.solver = circuit.NewSolver(&p.circuit)
	p.factor = slices.Repeat([]float64{1}, len(p.parts))
	p.stands = slices.Repeat([]float64{math.NaN()}, len(p.parts))
	p.effects = make([]float64, len(p.parts))
	p.points = map[string]*point{}
	p.moved = make([][]int, len(p.params))
	for k := range p.parts {
		if i := p.parts[k].param; i >= 0 {
			p.moved[i] = append(p.moved[i], k)
		}
	}
}

// set puts the circuit to a state and a corner.
func (p *pattern) set(s State, corner []int8) {
	for k := range p.parts {
		x, c := &p.parts[k], &p.circuit.Elements[k]
		if x.control >= 0 {
			p.factor[k] = x.turn(c, s[x.control])
		}
		if x.param < 0 {
			continue
		}
		at := int8(0)
		if corner != nil {
			at = corner[x.param]
		}
		if v := p.factor[k] * p.params[x.param].at(at); v != p.stands[k] {
			p.stands[k] = v
			x.law.apply(c, v)
		}
	}
	p.settled = standing{}
}

// open reports whether an element carries nothing in a state, whatever happens.
func (p *pattern) open(k int, s State) bool {
	x := &p.parts[k]
	return x.control >= 0 && !x.conducts(s[x.control])
}

// at solves the pattern in a state at the typical values, unless that is known.
func (p *pattern) at(s State) (*point, error) {
	p.prepare()
	key := stateKey(s)
	if pt, ok := p.points[key]; ok {
		return pt, nil
	}
	pt := &point{state: slices.Clone(s)}
	p.set(s, nil)
	if err := p.solver.Solve(&pt.typical); err != nil {
		return nil, err
	}
	if len(p.points) > maxPoints {
		clear(p.points)
	}
	p.points[key] = pt
	p.known.points.Add(1)
	return pt, nil
}

// A quantityForm is a linear function of a solution, or such a function as a part
// of a node's voltage.
type quantityForm struct {
	form circuit.Form
	over circuit.Node // Ground: by itself
}

func (q *quantityForm) of(sol *circuit.Solution) float64 {
	v := q.form.Of(sol)
	if q.over != circuit.Ground {
		v /= sol.V[q.over]
	}
	return v
}

// tangent is the linear function that the quantity is at a solution.
func (q *quantityForm) tangent(sol *circuit.Solution) circuit.Form {
	if q.over == circuit.Ground {
		return q.form
	}
	over := sol.V[q.over]
	f := circuit.Form{Volts: []circuit.Weight{{At: int(q.over), By: -q.form.Of(sol) / over / over}}}
	for _, w := range q.form.Volts {
		f.Volts = append(f.Volts, circuit.Weight{At: w.At, By: w.By / over})
	}
	for _, w := range q.form.Amps {
		f.Amps = append(f.Amps, circuit.Weight{At: w.At, By: w.By / over})
	}
	return f
}

func cornerKey(corner []int8) string {
	b := make([]byte, len(corner))
	for i, c := range corner {
		b[i] = byte(c)
	}
	return string(b)
}

// corner solves a point at a corner.
func (p *pattern) corner(pt *point, corner []int8) (*circuit.Solution, error) {
	key := cornerKey(corner)
	if sol, ok := pt.corners[key]; ok {
		return sol, nil
	}
	if !slices.ContainsFunc(corner, func(c int8) bool { return c != 0 }) {
		return &pt.typical, nil
	}
	sol := &circuit.Solution{V: slices.Clone(pt.typical.V), I: slices.Clone(pt.typical.I)}
	p.set(pt.state, corner)
	if err := p.solver.Solve(sol); err != nil {
		return nil, err
	}
	if pt.corners == nil {
		pt.corners = map[string]*circuit.Solution{}
	}
	pt.corners[key] = sol
	return sol, nil
}

// nudged is what part of the way to an end of a tolerance a value is moved: so
// little that a junction is straight there.
const nudged = 1e-5

// noise is the relative change of a quantity that the last digits of its
// computation may cause.
const noise = 1e-10

// linearize prepares the solver for effects at a point and a corner.
func (p *pattern) linearize(pt *point, corner []int8, sol *circuit.Solution) ([]nudge, error) {
	key := cornerKey(corner)
	if p.settled != (standing{pt, key}) {
		p.set(pt.state, corner)
		if err := p.solver.Linearize(sol); err != nil {
			return nil, err
		}
		p.settled = standing{pt, key}
	}
	if list, ok := pt.nudges[key]; ok {
		return list, nil
	}
	list := []nudge{}
	for i, t := range p.params {
		here := t.at(corner[i])
		by, sign := nudged*(t.high-here), 1.0
		if by == 0 {
			by, sign = nudged*(t.low-here), -1
		}
		if by == 0 {
			continue
		}
		for _, k := range p.moved[i] {
			if p.open(k, pt.state) {
				continue
			}
			e := p.circuit.Elements[k]
			was := e.Value
			if e.Kind != circuit.VoltageSource {
				was = e.Amps(sol)
			}
			p.parts[k].law.apply(&e, p.factor[k]*(here+by))
			is := e.Value
			if e.Kind != circuit.VoltageSource {
				is = e.Amps(sol)
			}
			if is != was {
				list = append(list, nudge{i, k, sign * (is - was)})
			}
		}
	}
	if pt.nudges == nil {
		pt.nudges = map[string][]nudge{}
	}
	pt.nudges[key] = list
	return list, nil
}

// slopes writes which way a quantity moves when each param grows, at a point and
// a corner: 1, −1, or 0 for not at all.
func (p *pattern) slopes(pt *point, corner []int8, sol *circuit.Solution, q *quantityForm, into []int8) error {
	list, err := p.linearize(pt, corner, sol)
	if err != nil {
		return err
	}
	p.solver.Effects(q.tangent(sol), p.effects)
	least := noise * math.Abs(q.of(sol))
	clear(into)
	for i := 0; i < len(list); {
		param, sum := list[i].param, 0.0
		for ; i < len(list) && list[i].param == param; i++ {
			sum += list[i].by * p.effects[list[i].element]
		}
		switch {
		case sum > least:
			into[param] = 1
		case sum < -least:
			into[param] = -1
		}
	}
	return nil
}

// worst searches the corner in which a quantity is largest, or smallest for a
// sign of −1, and returns its value there. From the typical values the slopes
// lead to a corner, and from that to the next, until nothing moves: what matters
// only beside another has its say there. Where junctions conduct only in some
// corner, no slope at the typical values knows of it, so the search begins there
// too. The params that are pinned keep their corner; free is the corner of one
// that is not.
func (p *pattern) worst(pt *point, q *quantityForm, sign int8, pinned []int8) (value float64, best []int8) {
	begin := make([]int8, len(p.params))
	value, best = p.ascend(pt, q, sign, begin, pinned)
	for _, start := range p.conducting(pt) {
		if v, corner := p.ascend(pt, q, sign, start, pinned); float64(sign)*(v-value) > 0 {
			value, best = v, corner
		}
	}
	return value, best
}

// conducting lists corners in which a junction that carries nothing at the
// typical values may conduct, as far as the slopes of its voltage tell.
func (p *pattern) conducting(pt *point) [][]int8 {
	if pt.started {
		return pt.starts
	}
	pt.started = true
	typical := make([]int8, len(p.params))
	for k := range p.circuit.Elements {
		e := &p.circuit.Elements[k]
		if e.Kind != circuit.Diode || math.Abs(pt.typical.I[k]) > conducts {
			continue
		}
		list, err := p.linearize(pt, typical, &pt.typical)
		if err != nil {
			return nil
		}
		p.solver.Effects(circuit.Form{Volts: []circuit.Weight{{At: int(e.A), By: 1}, {At: int(e.B), By: -1}}}, p.effects)
		corner, volts := make([]int8, len(p.params)), pt.typical.Across(e.A, e.B)
		for i := 0; i < len(list); {
			param, sum := list[i].param, 0.0
			for ; i < len(list) && list[i].param == param; i++ {
				sum += list[i].by * p.effects[list[i].element]
			}
			volts += math.Abs(sum) / nudged
			if math.Abs(sum) > nudged*1e-9 {
				corner[param] = int8(math.Copysign(1, sum))
			}
		}
		reached := circuit.Solution{V: []float64{0, math.Min(volts, 100)}}
		if alone := (&circuit.Element{Kind: circuit.Diode, A: 1, Junction: e.Junction}); alone.Amps(&reached) > conducts &&
			!slices.ContainsFunc(pt.starts, func(c []int8) bool { return slices.Equal(c, corner) }) {
			pt.starts = append(pt.starts, corner)
		}
	}
	return pt.starts
}

// conducts is the current in amperes from which a junction has a say.
const conducts = 1e-8

// ascend follows the slopes from a corner.
func (p *pattern) ascend(pt *point, q *quantityForm, sign int8, from, pinned []int8) (value float64, best []int8) {
	best = slices.Clone(from)
	for i, c := range pinned {
		if c != free {
			best[i] = c
		}
	}
	sol, err := p.corner(pt, best)
	if err != nil {
		return q.of(&pt.typical), make([]int8, len(best))
	}
	value = q.of(sol)
	slopes, next := make([]int8, len(p.params)), make([]int8, len(p.params))
	for range maxTurns {
		if p.slopes(pt, best, sol, q, slopes) != nil {
			break
		}
		copy(next, best)
		for i, s := range slopes {
			if s != 0 && (pinned == nil || pinned[i] == free) {
				next[i] = sign * s
			}
		}
		if slices.Equal(next, best) {
			break
		}
		there, err := p.corner(pt, next)
		if err != nil {
			break
		}
		v := q.of(there)
		if float64(sign)*(v-value) <= 0 {
			// All together was too much: the best one alone, and on from there.
			i := p.single(pt, q, sign, best, next, value)
			if i < 0 {
				break
			}
			best[i] = next[i]
			if sol, err = p.corner(pt, best); err != nil {
				break
			}
			value = q.of(sol)
			continue
		}
		value, sol = v, there
		copy(best, next)
	}
	return value, best
}

// free is the corner of a param that nothing pins.
const free int8 = 2

// maxTurns bounds the search; three are usual.
const maxTurns = 12

// single returns the param whose move alone, from one corner towards the next,
// makes the quantity worst, or -1 when none makes it worse.
func (p *pattern) single(pt *point, q *quantityForm, sign int8, from, to []int8, value float64) (best int) {
	best = -1
	corner := slices.Clone(from)
	for i := range to {
		if to[i] == from[i] {
			continue
		}
		corner[i] = to[i]
		if sol, err := p.corner(pt, corner); err == nil {
			if v := q.of(sol); float64(sign)*(v-value) > 1e-12*math.Abs(value) {
				best, value = i, v
			}
		}
		corner[i] = from[i]
	}
	return best
}

// span is the range of a quantity over all corners.
func (p *pattern) span(pt *point, q *quantityForm) Range {
	typ := q.of(&pt.typical)
	low, _ := p.worst(pt, q, -1, nil)
	high, _ := p.worst(pt, q, 1, nil)
	return Range{math.Min(low, typ), typ, math.Max(high, typ)}
}

// ampsAt and voltsAt are the ranges of one element's current and of one node's
// voltage, which are remembered.
func (p *pattern) ampsAt(pt *point, element int) Range {
	return p.remembered(pt, element, func() Range {
		return p.span(pt, &quantityForm{form: circuit.Form{Amps: []circuit.Weight{{At: element, By: 1}}}})
	})
}

func (p *pattern) voltsAt(pt *point, node int) Range {
	return p.remembered(pt, len(p.parts)+node, func() Range {
		return p.span(pt, &quantityForm{form: circuit.Form{Volts: []circuit.Weight{{At: node, By: 1}}}})
	})
}

// remembered takes the lock.
func (p *pattern) remembered(pt *point, i int, find func() Range) Range {
	p.mu.Lock()
	defer p.mu.Unlock()
	if pt.has == nil {
		pt.has = make([]bool, len(p.parts)+p.circuit.Nodes())
		pt.ranges = make([]Range, len(pt.has))
	}
	if !pt.has[i] {
		pt.ranges[i], pt.has[i] = find(), true
	}
	return pt.ranges[i]
}

// failed says in which state a piece has no answer.
func (p *Piece) failed(s State, err error) error { return fmt.Errorf("%s: %w", p.Describe(s), err) }
