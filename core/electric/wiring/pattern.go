package wiring

import (
	"fmt"
	"math"
	"slices"
	"sync"
	"sync/atomic"

	"cablaggio/core/electric/circuit"
)

// A shape is what a piece is, without the names of what it is made of: pieces
// with equal shapes are alike.
type shape struct {
	circuit  circuit.Circuit
	parts    []shapePart // by element of the circuit
	params   []tolerance
	rails    []int // the params that are voltages of rails, which other pieces share
	choices  []localChoice
	previous []previous
	middle   float64 // volts, halfway between the thresholds of the board's inputs
	hurried  bool    // extremes and tangents are enough
}

type shapePart struct {
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
	partial  bool // there are more options than these
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
	shape
	known *store
	asker *Cache // within whose context is solved while the lock is taken for it

	numbers atomic.Int64 // that are kept in it
	dropped atomic.Bool  // it is not among those that are remembered any more

	mu        sync.Mutex
	solver    *circuit.Solver // nil until something is asked
	moved     [][]int         // by param: the elements whose values it moves
	factor    []float64       // by element: what the state multiplies its value by
	stands    []float64       // by element: the value of its param times the factor that it was last given
	points    map[string]*point
	linear    []*corner         // those with a tangent
	effects   []float64         // room for what elements do
	slope     []float64         // and params
	next      []int8            // room for a corner
	plan      []view            // the planned states that stand for all
	plans     map[string][]view // by subject: those that differ for it
	alike     [][]int           // classes of choices that are alike; nil: not yet known
	exchanges map[[2]int]*moves
	paths     map[string]*moves // by exchanges that sort a state: class, place and place of each
	path      []rune            // room for them
	searched  bool              // the states were too many for somebody
	tried     int               // states, for the subject that is searched for
}

// A point is a pattern in one state, with what has been solved there.
type point struct {
	state   State
	typical circuit.Solution
	corners []*corner
	found   []found
	starts  []*corner // in which junctions conduct that do not at the typical values
	started bool      // whether starts are known
	ranges  []Range   // of the elements' currents, then of the nodes' voltages
	has     []bool    // whether they are known
}

// A corner is a point at some ends of its tolerances: for each param −1, 0 or 1.
type corner struct {
	at      []int8
	sol     *circuit.Solution // nil: it has no answer
	tangent *circuit.Tangent  // nil until it is asked for
	nudges  []nudge
}

// found is the worst that a quantity can be, and where.
type found struct {
	key    uint64
	value  float64
	corner *corner
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
	p.effects, p.slope, p.next = make([]float64, len(p.parts)), make([]float64, len(p.params)), make([]int8, len(p.params))
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
}

// keeps notes that so many more numbers are kept.
func (p *pattern) keeps(numbers int) {
	if p.dropped.Load() { // it is kept by who asks alone
		return
	}
	p.numbers.Add(int64(numbers) + 16)
	p.known.size.Add(int64(numbers) + 16)
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
	if err := p.over(); err != nil {
		return nil, err
	}
	pt := &point{state: slices.Clone(s)}
	p.set(s, nil)
	if err := p.solver.Solve(&pt.typical); err != nil {
		return nil, err
	}
	p.points[key] = pt
	p.keeps(len(pt.typical.V) + len(pt.typical.I) + 2*len(s))
	return pt, nil
}

// A quantityForm is a linear function of a solution, such a function as a part of
// a node's voltage, or the product of two.
type quantityForm struct {
	form  circuit.Form
	over  circuit.Node  // Ground: by itself
	times *circuit.Form // nil: by itself
}

func (q *quantityForm) of(sol *circuit.Solution) float64 {
	v := q.form.Of(sol)
	if q.over != circuit.Ground {
		v /= sol.V[q.over]
	}
	if q.times != nil {
		v *= q.times.Of(sol)
	}
	return v
}

// key tells quantities and signs apart.
func (q *quantityForm) key(sign int8) uint64 {
	h := mix(uint64(q.over)+1, uint64(sign+2))
	lists := [][]circuit.Weight{q.form.Volts, q.form.Amps}
	if q.times != nil {
		lists = append(lists, q.times.Volts, q.times.Amps)
	}
	for k, list := range lists {
		for _, w := range list {
			h = mix(mix(h, uint64(4*w.At+k)), math.Float64bits(w.By))
		}
	}
	return h
}

// tangent is the linear function that the quantity is at a solution.
func (q *quantityForm) tangent(sol *circuit.Solution) circuit.Form {
	if q.times != nil {
		var f circuit.Form
		for _, x := range [2]struct {
			form circuit.Form
			by   float64
		}{{q.form, q.times.Of(sol)}, {*q.times, q.form.Of(sol)}} {
			for _, w := range x.form.Volts {
				f.Volts = append(f.Volts, circuit.Weight{At: w.At, By: w.By * x.by})
			}
			for _, w := range x.form.Amps {
				f.Amps = append(f.Amps, circuit.Weight{At: w.At, By: w.By * x.by})
			}
		}
		return f
	}
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

// corner returns a point at a corner, solved; when nothing is solved any more, one without
// an answer that is not kept.
func (p *pattern) corner(pt *point, at []int8) *corner {
	for _, c := range pt.corners {
		if slices.Equal(c.at, at) {
			return c
		}
	}
	c := &corner{at: slices.Clone(at)}
	typical := len(pt.corners) == 0 && !slices.ContainsFunc(at, func(x int8) bool { return x != 0 })
	if !typical && p.over() != nil {
		return c
	}
	pt.corners = append(pt.corners, c)
	p.keeps(len(pt.typical.V) + len(pt.typical.I) + len(at)/8)
	if typical {
		c.sol = &pt.typical
		return c
	}
	sol := &circuit.Solution{V: slices.Clone(pt.typical.V), I: slices.Clone(pt.typical.I)}
	p.set(pt.state, at)
	if p.solver.Solve(sol) == nil {
		c.sol = sol
	}
	return c
}

// typical is the corner of the typical values.
func (p *pattern) typical(pt *point) *corner {
	if len(pt.corners) > 0 {
		return pt.corners[0] // it is asked for before all others
	}
	return p.corner(pt, make([]int8, len(p.params)))
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
		return p.span(pt, ampsOf(element))
	})
}

func (p *pattern) voltsAt(pt *point, node int) Range {
	return p.remembered(pt, len(p.parts)+node, func() Range {
		return p.span(pt, &quantityForm{form: circuit.Form{Volts: []circuit.Weight{{At: node, By: 1}}}})
	})
}

func ampsOf(element int) *quantityForm {
	return &quantityForm{form: circuit.Form{Amps: []circuit.Weight{{At: element, By: 1}}}}
}

// enter takes the lock for a network, within whose context is solved.
func (p *pattern) enter(n *Network) {
	p.mu.Lock()
	p.asker = n.known
}

// leave gives the lock back.
func (p *pattern) leave() {
	p.asker = nil
	p.mu.Unlock()
}

// over says why nothing more is solved for whoever asks; nil while it goes on. It is asked
// before something is solved, and before something that was searched for is kept.
func (p *pattern) over() error {
	if p.asker == nil {
		return nil
	}
	return p.asker.Err()
}

// remembered returns a range of a point that is asked for often. The lock is taken.
func (p *pattern) remembered(pt *point, i int, find func() Range) Range {
	if pt.has == nil {
		pt.has = make([]bool, len(p.parts)+p.circuit.Nodes())
		pt.ranges = make([]Range, len(pt.has))
	}
	if pt.has[i] {
		return pt.ranges[i]
	}
	r := find()
	if p.over() == nil {
		pt.ranges[i], pt.has[i] = r, true
	}
	return r
}

// failed says in which state a piece has no answer.
func (p *Piece) failed(s State, err error) error { return fmt.Errorf("%s: %w", p.Describe(s), err) }
