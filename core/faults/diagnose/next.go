package diagnose

import (
	"cmp"
	"maps"
	"math"
	"slices"
	"strings"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/general/parallel"
)

// A Result is what is left to think, and what to do next.
type Result struct {
	Causes      []Cause  `json:"causes"`      // the likeliest first
	Sure        bool     `json:"sure"`        // one cure is left, above nine in ten
	Unknown     float64  `json:"unknown"`     // how likely it is something that is not considered, 0 to 1
	Unexplained []string `json:"unexplained"` // what the likeliest cause does not explain
	Next        *Next    `json:"next,omitempty"`
	Considered  int      `json:"considered"` // faults
	Assumed     string   `json:"assumed"`
	Seen        []Said   `json:"seen"` // all that was observed, in the order in which it came
}

// A Cause is what may be the matter: a fault, or two at once.
type Cause struct {
	Faults  []string         `json:"faults"`  // ids; none: nothing that is considered
	Weight  float64          `json:"weight"`  // 0 to 1
	Words   string           `json:"words"`   // what is wrong
	Cure    string           `json:"cure"`    // what to do
	Ends    []breadboard.End `json:"ends"`    // where
	For     []string         `json:"for"`     // what speaks for it
	Against []string         `json:"against"` // what speaks against it
	Working []string         `json:"working"` // how its weight comes about
	Proof   string           `json:"proof"`   // what shows that it was this
	Try     []Observation    `json:"try"`     // what is observed when its cure, or each of them, does not help
}

// Above which weight of one cure the question is settled.
const settled = 0.9

// How many causes are told, and how many hypotheses are looked at for the next question.
const (
	mostCauses = 12
	mostActive = 80
)

// Ask weighs all that was observed, and says what to do next. Its error says which
// observation is not understood.
func (c *Case) Ask(seen []Observation) (*Result, error) {
	answers, all, err := c.weighed(seen)
	if err != nil {
		return nil, err
	}
	r := c.result(answers, all)
	for _, o := range seen {
		r.Seen = append(r.Seen, c.Said(o))
	}
	if !r.Sure {
		r.Next = c.next(answers, all)
	}
	if err := c.known.Err(); err != nil {
		return nil, err
	}
	return r, nil
}

func (c *Case) weighed(seen []Observation) ([]answer, []hypothesis, error) {
	var answers []answer
	for _, o := range seen {
		a, err := c.read(o)
		if err != nil {
			return nil, nil, err
		}
		answers = append(answers, a)
	}
	// What was asked twice counts as it was answered last.
	var once []answer
	for i, a := range answers {
		if !slices.ContainsFunc(answers[i+1:], func(b answer) bool { return b.ask == a.ask }) {
			once = append(once, a)
		}
	}
	slices.SortStableFunc(once, func(a, b answer) int { return cmp.Compare(c.asks[a.ask].ID, c.asks[b.ask].ID) })
	return once, c.weigh(once), nil
}

// active is what is left that has weight, as parts of a whole, with a group for each cure.
type active struct {
	h      *hypothesis
	weight float64
	cure   int
}

func (c *Case) active(all []hypothesis) (out []active, cures int) {
	group := map[string]int{}
	sum := 0.0
	for i := range all {
		h := &all[i]
		if len(out) >= mostActive || h.weight < 1e-3*all[0].weight {
			break
		}
		cure := c.cureOf(h)
		k, ok := group[cure]
		if !ok {
			k = len(group)
			group[cure] = k
		}
		out = append(out, active{h, h.weight, k})
		sum += h.weight
	}
	for i := range out {
		out[i].weight /= sum
	}
	return out, len(group)
}

// outcomes is how likely each kind of answer to an ask is with a hypothesis.
func (c *Case) outcomes(h *hypothesis, i int) map[string]float64 {
	a := &c.asks[i]
	of := func(f int) map[string]float64 {
		if a.Sort == Try {
			return c.tried(f, a)
		}
		if a.Sort == Look {
			if f < 0 {
				return map[string]float64{asDrawn: 1}
			}
			return c.sawn(f, i)
		}
		k := 0
		if f >= 0 {
			k = c.classOf[f]
		}
		p := c.predict(k, i)
		switch {
		case p.none:
			return nil
		case p.number && a.Sort == Reads:
			return map[string]float64{string(rune('a' + int(p.value*9.99))): 1}
		case p.number:
			return map[string]float64{label(a.question, p.value): 1}
		}
		return p.labels
	}
	switch len(h.faults) {
	case 0:
		if h.at != "" && c.strangeNear(h.at, &c.asks[i]) {
			return nil
		}
		return of(-1)
	case 1:
		return of(h.faults[0])
	}
	x, y, none := of(h.faults[0]), of(h.faults[1]), of(-1)
	if maps.Equal(x, none) {
		return y
	}
	return x
}

// next is the ask whose answer is expected to tell most about the cure, for its trouble; nil
// when nothing is left that tells.
func (c *Case) next(answers []answer, all []hypothesis) *Next {
	act, _ := c.active(all)
	asked := map[int]bool{}
	for _, a := range answers {
		asked[a.ask] = true
		if i, ok := c.byID[strings.TrimPrefix(c.asks[a.ask].ID, taken)]; ok && c.asks[i].Sort == Measure {
			asked[i] = true // whatever program ran
		}
	}
	type candidate struct {
		ask         int
		most, worth float64 // bits for its trouble: at most, and really
		bits        float64
	}
	var list []candidate
	for i := range c.asks {
		if c.asks[i].Sort == Feel || c.asks[i].told {
			continue // nobody is sent to touch what may be hot
		}
		if most := c.mostBits(act, i); !asked[i] && most > leastBits {
			list = append(list, candidate{ask: i, most: most / c.asks[i].trouble})
		}
	}
	slices.SortStableFunc(list, func(a, b candidate) int { return cmp.Compare(b.most, a.most) })
	// The most promising are worked out, some at a time, until no other can be better.
	const batch = 16
	best := 0.0
	done := 0
	budget := mostWork
	if c.large {
		budget = mostWork / 10
	}
	for done < len(list) && list[done].most > best && done*len(act) < budget {
		to := min(done+batch, len(list))
		parallel.Do(to-done, func(k int) {
			x := &list[done+k]
			x.bits = c.bits(act, x.ask)
			x.worth = x.bits / c.asks[x.ask].trouble
		})
		for ; done < to; done++ {
			x := &list[done]
			if c.asks[x.ask].Sort == Measure && x.bits > leastBits && !c.holds(x.ask) {
				x.bits, x.worth = 0, 0
			}
			best = max(best, x.worth)
		}
	}
	list = list[:done]
	slices.SortStableFunc(list, func(a, b candidate) int { return cmp.Compare(b.worth, a.worth) })
	for _, x := range list {
		if x.bits < leastBits {
			return nil
		}
		if n := c.tell(&c.asks[x.ask]); n.Words != "" {
			n.Bits = math.Round(x.bits*1000) / 1000
			n.Options = c.options(act, x.ask)
			return &n
		}
	}
	return nil
}

// mostWork is how many predictions are made for one question, so that nobody waits long.
const mostWork = 12_000

// leastBits is below which an answer tells nothing.
const leastBits = 0.02

// mostBits is what an answer could tell at most: everything that it concerns from everything
// else, and one from the other.
func (c *Case) mostBits(act []active, i int) float64 {
	by := map[int]float64{}
	rest := 1.0
	for _, x := range act {
		if c.concerns(x, i) {
			by[x.cure] += x.weight
			rest -= x.weight
		}
	}
	if len(by) == 0 {
		return 0
	}
	h := 0.0
	for _, k := range slices.Sorted(maps.Keys(by)) {
		h -= by[k] * math.Log2(by[k])
	}
	if rest > 1e-9 {
		h -= rest * math.Log2(rest)
	}
	return h
}

// concerns reports whether an answer to an ask may be another one with a hypothesis than as
// planned.
func (c *Case) concerns(x active, i int) bool {
	a := &c.asks[i]
	if x.h.at != "" {
		return c.strangeNear(x.h.at, a)
	}
	return slices.ContainsFunc(x.h.faults, func(f int) bool {
		switch a.Sort {
		case Look:
			return slices.Contains(c.looks[a.look].faults, f)
		case Try:
			return c.faults[f].Cure == a.cure
		}
		return c.faults[f].Everywhere() || a.test && c.faults[f].InProgram() || c.near(c.classOf[f], a)
	})
}

// holds reports whether the places of a measurement are held as planned: what floats reads
// something else with every meter.
func (c *Case) holds(i int) bool {
	c.mu.Lock()
	defer c.mu.Unlock()
	held, ok := c.held[i]
	if !ok {
		held = c.survey.Held(c.asks[i].question)
		c.held[i] = held
	}
	return held
}

// bits is how much an answer is expected to tell about the cure: the mutual information of
// the two.
func (c *Case) bits(act []active, i int) float64 {
	whole := map[string]float64{}
	by := map[int]map[string]float64{}
	weight := map[int]float64{}
	for _, x := range act {
		p := c.outcomes(x.h, i)
		if by[x.cure] == nil {
			by[x.cure] = map[string]float64{}
		}
		weight[x.cure] += x.weight
		if p == nil {
			p = map[string]float64{"?": 1} // whatever comes, it fits
		}
		for _, l := range slices.Sorted(maps.Keys(p)) {
			whole[l] += x.weight * p[l]
			by[x.cure][l] += x.weight * p[l]
		}
	}
	if whole["?"] > 0.5 {
		return 0
	}
	h := entropy(whole, 1)
	for _, k := range slices.Sorted(maps.Keys(by)) {
		h -= weight[k] * entropy(by[k], weight[k])
	}
	return h - whole["?"]
}

// entropy is that of weights of a whole, in bits.
func entropy(w map[string]float64, whole float64) float64 {
	h := 0.0
	for _, l := range slices.Sorted(maps.Keys(w)) {
		if p := w[l] / whole; p > 0 {
			h -= p * math.Log2(p)
		}
	}
	return h
}
