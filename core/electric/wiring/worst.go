package wiring

import (
	"cmp"
	"math"
	"slices"

	"cablaggio/core/electric/circuit"
)

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
	if p.over() != nil {
		return false
	}
	p.set(pt.state, c.at)
	t, err := p.solver.Linearize(c.sol)
	if err != nil {
		c.sol = nil
		return false
	}
	p.forget(p.circuit.Nodes()*p.circuit.Nodes() + 6*len(p.parts))
	c.tangent, p.linear = t, append(p.linear, c)
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

// forget makes room for one more tangent, of so many numbers: of a pattern with thousands
// of corners those that there were go, and are made again for who asks.
func (p *pattern) forget(numbers int) {
	p.keeps(numbers)
	if len(p.linear)*numbers < maxTangents {
		return
	}
	for _, c := range p.linear {
		c.tangent, c.nudges = nil, nil
	}
	p.linear = p.linear[:0]
}

// maxTangents is how many numbers of 8 bytes the tangents of one pattern may take.
const maxTangents = 1 << 20

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
	if pinned == nil && p.over() == nil {
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
	if !slices.ContainsFunc(p.circuit.Elements, func(e circuit.Element) bool { return e.Steered() }) || !p.linearize(pt, typical) {
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
	starts := p.everyCorner(pt)
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
		if c := p.corner(pt, at); c.sol != nil && !slices.Contains(starts, c) {
			starts = append(starts, c)
		}
	}
	if p.over() == nil {
		pt.starts, pt.started = starts, true
	}
	return starts
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
// hundreds of parts in one piece, or a few dozen in a hurry. Its ranges are those of its
// tangent.
func (p *pattern) giant() bool {
	if p.hurried {
		return len(p.params)*p.circuit.Nodes() > giantInAHurry
	}
	return len(p.params)*p.circuit.Nodes() > giant
}

const (
	giant         = 10_000
	giantInAHurry = 2_000
)

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
