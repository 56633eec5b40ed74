package wiring

import (
	"cmp"
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
	effects   []float64         // room for what elements do
	slope     []float64         // and params
	next      []int8            // room for a corner
	plan      []view            // the planned states that stand for all
	plans     map[string][]view // by subject: those that differ for it
	alike     [][]int           // classes of choices that are alike; nil: not yet known
	exchanges map[[2]int]*moves
	searched  bool // the states were too many for somebody
	tried     int  // states, by searching
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

// corner returns a point at a corner, solved.
func (p *pattern) corner(pt *point, at []int8) *corner {
	for _, c := range pt.corners {
		if slices.Equal(c.at, at) {
			return c
		}
	}
	c := &corner{at: slices.Clone(at)}
	pt.corners = append(pt.corners, c)
	if len(pt.corners) == 1 && !slices.ContainsFunc(at, func(x int8) bool { return x != 0 }) {
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

// nudged is what part of the way to an end of a tolerance a value is moved: so
// little that a junction is straight there.
const nudged = 1e-5

// noise is the relative change of a quantity that the last digits of its
// computation may cause.
const noise = 1e-13

// linearize gives a corner its tangent, and what each param does there. It is
// false when there is none.
func (p *pattern) linearize(pt *point, c *corner) bool {
	if c.tangent != nil || c.sol == nil {
		return c.tangent != nil
	}
	p.set(pt.state, c.at)
	t, err := p.solver.Linearize(c.sol)
	if err != nil {
		c.sol = nil
		return false
	}
	c.tangent = t
	c.nudges = make([]nudge, 0, len(p.params))
	for i, t := range p.params {
		here := t.at(c.at[i])
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
				was = c.sol.I[k]
			}
			p.parts[k].law.apply(&e, p.factor[k]*(here+by))
			is := e.Value
			if e.Kind != circuit.VoltageSource {
				is = e.Amps(c.sol)
			}
			if is != was {
				c.nudges = append(c.nudges, nudge{i, k, sign * (is - was)})
			}
		}
	}
	return true
}

// slopes writes by how much a quantity grows with a nudge of each param, at a
// corner with a tangent, and returns what of that is noise.
func (p *pattern) slopes(c *corner, q *quantityForm, into []float64) (least float64) {
	c.tangent.Effects(q.tangent(c.sol), p.effects)
	clear(into)
	for _, x := range c.nudges {
		into[x.param] += x.by * p.effects[x.element]
	}
	return noise * math.Abs(q.of(c.sol))
}

// worst searches the corner in which a quantity is largest, or smallest for a
// sign of −1, and returns its value there. From the typical values the slopes
// lead to a corner, and from that to the next, until nothing moves: what matters
// only beside another has its say there. Where junctions conduct only in some
// corner, no slope at the typical values knows of it, so the search begins there
// too. The params that are pinned keep their corner; free is the corner of one
// that is not.
func (p *pattern) worst(pt *point, q *quantityForm, sign int8, pinned []int8) (value float64, best *corner) {
	key := uint64(0)
	if pinned == nil {
		key = q.key(sign)
		for i := range pt.found {
			if pt.found[i].key == key {
				return pt.found[i].value, pt.found[i].corner
			}
		}
	}
	if p.giant() {
		return p.ahead(pt, q, sign), p.typical(pt)
	}
	value, best = p.ascend(pt, q, sign, p.typical(pt), pinned)
	starts := p.conducting(pt)
	if len(starts) > manyStarts {
		starts = []*corner{slices.MaxFunc(starts, func(a, b *corner) int { return int(sign) * cmp.Compare(q.of(a.sol), q.of(b.sol)) })}
	}
	for _, start := range starts {
		if v, corner := p.ascend(pt, q, sign, start, pinned); float64(sign)*(v-value) > 0 {
			value, best = v, corner
		}
	}
	if pinned == nil {
		pt.found = append(pt.found, found{key, value, best})
	}
	return value, best
}

// manyStarts is from how many corners the slopes are followed; of more only the
// worst begins.
const manyStarts = 8

// fewTolerances is how many tolerances with a say are looked at in all corners
// where a transistor makes one matter in one way or the other, beside others.
const fewTolerances = 6

// everyCorner lists the corners of a piece with transistors, if it has few
// tolerances.
func (p *pattern) everyCorner(pt *point) (out []*corner) {
	typical := p.typical(pt)
	if !slices.ContainsFunc(p.circuit.Elements, func(e circuit.Element) bool { return e.Kind == circuit.Transport || e.Kind == circuit.Channel }) || !p.linearize(pt, typical) {
		return nil
	}
	var live []int
	for _, x := range typical.nudges {
		if !slices.Contains(live, x.param) {
			live = append(live, x.param)
		}
	}
	if len(live) > fewTolerances {
		return nil
	}
	at := make([]int8, len(p.params))
	for ends := range 1 << len(live) {
		for k, i := range live {
			at[i] = int8(2*(ends>>k&1) - 1)
		}
		if c := p.corner(pt, at); c.sol != nil {
			out = append(out, c)
		}
	}
	return out
}

// conducting lists corners in which a junction that carries nothing at the
// typical values may conduct, as far as the slopes of its voltage tell.
func (p *pattern) conducting(pt *point) []*corner {
	if pt.started {
		return pt.starts
	}
	pt.started = true
	pt.starts = p.everyCorner(pt)
	typical := p.typical(pt)
	for k := range p.circuit.Elements {
		e := &p.circuit.Elements[k]
		if e.Kind != circuit.Diode || math.Abs(pt.typical.I[k]) > conducts {
			continue
		}
		if !p.linearize(pt, typical) {
			break
		}
		p.slopes(typical, &quantityForm{form: circuit.Form{Volts: []circuit.Weight{{At: int(e.A), By: 1}, {At: int(e.B), By: -1}}}}, p.slope)
		at, volts := p.next, pt.typical.Across(e.A, e.B)
		clear(at)
		for i, by := range p.slope {
			volts += math.Abs(by) / nudged
			if math.Abs(by) > nudged*1e-9 {
				at[i] = int8(math.Copysign(1, by))
			}
		}
		reached := circuit.Solution{V: []float64{0, math.Min(volts, 100)}}
		alone := circuit.Element{Kind: circuit.Diode, A: 1, Junction: e.Junction}
		if volts <= 0 || alone.Amps(&reached) <= conducts {
			continue
		}
		if c := p.corner(pt, at); c.sol != nil && !slices.Contains(pt.starts, c) {
			pt.starts = append(pt.starts, c)
		}
	}
	return pt.starts
}

// conducts is the current in amperes from which a junction has a say.
const conducts = 1e-8

// ascend follows the slopes from a corner.
func (p *pattern) ascend(pt *point, q *quantityForm, sign int8, from *corner, pinned []int8) (value float64, best *corner) {
	next := p.next
	best = from
	if pinned != nil {
		copy(next, from.at)
		for i, c := range pinned {
			if c != free {
				next[i] = c
			}
		}
		best = p.corner(pt, next)
	}
	if best.sol == nil {
		return q.of(&pt.typical), p.typical(pt)
	}
	value = q.of(best.sol)
	for range maxTurns {
		if !p.linearize(pt, best) {
			break
		}
		least := p.slopes(best, q, p.slope)
		copy(next, best.at)
		for i, by := range p.slope {
			if math.Abs(by) > least && (pinned == nil || pinned[i] == free) {
				next[i] = sign * int8(math.Copysign(1, by))
			}
		}
		if slices.Equal(next, best.at) {
			break
		}
		there := p.corner(pt, next)
		if there.sol == nil || float64(sign)*(q.of(there.sol)-value) <= 0 {
			// All together was too much: those with most say, and on from there.
			if there = p.fewer(pt, q, sign, best, slices.Clone(next), value); there == nil {
				break
			}
		}
		best, value = there, q.of(there.sol)
	}
	return value, best
}

// free is the corner of a param that nothing pins.
const free int8 = 2

// ahead is where the slopes at the typical values lead, straight on to the ends of
// all tolerances.
func (p *pattern) ahead(pt *point, q *quantityForm, sign int8) float64 {
	typical, value := p.typical(pt), q.of(&pt.typical)
	if !p.linearize(pt, typical) {
		return value
	}
	p.slopes(typical, q, p.slope)
	for _, by := range p.slope {
		value += float64(sign) * math.Abs(by) / nudged
	}
	return value
}

// giant reports whether the pattern is so large that no corner of it is solved:
// hundreds of parts in one piece. Its ranges are those of its tangent.
func (p *pattern) giant() bool { return len(p.params)*p.circuit.Nodes() > giant }

const giant = 10_000

// maxTurns bounds the search; three are usual.
const maxTurns = 12

// fewer returns a corner in which not all params have moved from a corner to the
// next, but half of them, a quarter and so on down to one, those first whose slope
// says most, and the quantity is worse; or nil when it never is.
func (p *pattern) fewer(pt *point, q *quantityForm, sign int8, from *corner, to []int8, value float64) *corner {
	var moved []int
	for i := range to {
		if to[i] != from.at[i] {
			moved = append(moved, i)
		}
	}
	slices.SortStableFunc(moved, func(a, b int) int { return cmp.Compare(math.Abs(p.slope[b]), math.Abs(p.slope[a])) })
	for n := len(moved) / 2; n > 0; n /= 2 {
		at := slices.Clone(from.at)
		for _, i := range moved[:n] {
			at[i] = to[i]
		}
		if c := p.corner(pt, at); c.sol != nil && float64(sign)*(q.of(c.sol)-value) > 1e-12*math.Abs(value) {
			return c
		}
	}
	return nil
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
