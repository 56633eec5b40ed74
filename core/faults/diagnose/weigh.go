package diagnose

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"cablaggio/core/faults/meter"
	"cablaggio/core/general/parallel"
	"cablaggio/core/values/quantity"
)

// An Observation is the answer to an ask: what was seen, or what the meter showed.
type Observation struct {
	Ask    string `json:"ask"`
	Answer string `json:"answer"`
}

// astray is how often an observation is wrong: seen at another lamp, read off the wrong
// range, taken with a tip beside the leg (common practice). It is the price at which a fault
// may contradict one.
const astray = 0.03

// misread is how often a board reads a pin otherwise than its profile says: it does not look at
// another pin by mistake, but a leakage, a threshold or a hum may be beyond what is known of it.
const misread = 0.01

// beside is how often the kind of an analog reading is another one than the typical values say: parts
// have tolerances, and what else hangs there stands as nobody asked.
const beside = 0.15

// nobody is the weight of what nobody has thought of, beside the faults' own: with it all is
// as planned, but for what was seen.
const nobody = 1.0

// An answer is an observation that was understood.
type answer struct {
	ask    int
	label  string  // of what is looked at, seen or read as a level
	value  float64 // of a reading
	over   bool
	number bool
	text   string // as it is told
}

// read understands an answer. Its error says what would be right.
func (c *Case) read(o Observation) (answer, error) {
	i, ok := c.byID[o.Ask]
	if !ok {
		return answer{}, fmt.Errorf("there is no question %q about this build", o.Ask)
	}
	a := &c.asks[i]
	out := answer{ask: i}
	text := strings.TrimSpace(o.Answer)
	switch a.Sort {
	case Look:
		l := c.looks[a.look]
		if text == asDrawn || text == Other {
			out.label, out.text = text, text
			return out, nil
		}
		for _, k := range l.faults {
			if f := &c.faults[k]; f.Cure == text || f.ID == text {
				out.label, out.text = f.Cure, f.Sight
				return out, nil
			}
		}
		return out, fmt.Errorf("%q is no answer to what is seen there; it is %q, %q, or the id or the cure of a fault that is seen there", text, asDrawn, Other)
	case Try:
		if out.label, out.text = text, text; text == works || text == unchanged {
			return out, nil
		}
		return out, fmt.Errorf("%q is no answer to what was tried; it is %q or %q", text, works, unchanged)
	case Feel:
		if says := a.feels(); slices.Contains(says[:], text) {
			out.label, out.text = text, text
			return out, nil
		}
		return out, fmt.Errorf("%q is nothing that is felt there; it is %q or %q", text, a.feels()[0], a.feels()[1])
	case Pin:
		label, err := c.readPin(a, text)
		out.label, out.text = label, label
		return out, err
	case See:
		word := strings.ToLower(text)
		for _, d := range doings {
			if d.name == word || !c.actors[a.actor].lamp && acts[d.name] == word {
				out.label, out.text = d.name, c.doingWord(a.actor, d.name)
				return out, nil
			}
		}
		if word == flickers {
			out.label, out.text = flickers, flickers
			return out, nil
		}
		return out, fmt.Errorf("%q is nothing that %s does; it is %s", text, c.actors[a.actor].name, strings.Join(c.doingWords(a.actor), ", "))
	case Reads:
		word := strings.ToLower(text)
		in := &c.inputs[a.input]
		full := c.net.Board.Logic.Analog.Full()
		switch {
		case word == jumps || word == nothing:
			out.label, out.text = word, word
			return out, nil
		case !in.analog && (word == readsLow || word == "0" || word == readsHigh || word == "1"):
			out.label = map[string]string{readsLow: readsLow, "0": readsLow, readsHigh: readsHigh, "1": readsHigh}[word]
			out.text = out.label
			return out, nil
		case in.analog:
			v, err := strconv.ParseFloat(strings.Replace(word, ",", ".", 1), 64)
			if err == nil && v >= 0 && v <= full {
				out.value, out.number, out.text = v/full, true, text
				return out, nil
			}
			return out, fmt.Errorf("%q is not what an analog input reads; it is a number from 0 to %.0f, or %s", text, full, jumps)
		}
		return out, fmt.Errorf("%q is not what an input reads; it is %s, %s, %s or %s", text, readsLow, readsHigh, jumps, nothing)
	}
	x, ok := c.expectation(0, i)
	if !ok {
		return out, fmt.Errorf("%q has no answer in this build", o.Ask)
	}
	check := meter.Check{Question: a.question, Expect: x}
	v, over, err := check.Read(text)
	if err != nil {
		return out, err
	}
	out.value, out.over, out.number = v, over, true
	out.text = "OL"
	if !over {
		out.text = quantity.Short(v, x.Unit)
	}
	return out, nil
}

// acts are the doings of what is no lamp.
var acts = map[string]string{dark: "nothing", faint: "hardly anything", dim: "less than it should", lit: "works", bright: "more than it should"}

func (c *Case) doingWord(actor int, name string) string {
	if !c.actors[actor].lamp && acts[name] != "" {
		return acts[name]
	}
	return name
}

func (c *Case) doingWords(actor int) (out []string) {
	for _, d := range doings {
		out = append(out, c.doingWord(actor, d.name))
	}
	return append(out, flickers)
}

// A hypothesis is what may be the matter: a fault, two, something at a part that is on no
// list, or nothing that is thought of.
type hypothesis struct {
	faults []int
	at     string // the part at which something is that is on no list
	prior  float64
	log    []float64 // by answer: the logarithm of how likely it is
	weight float64   // 0 to 1 beside all others
}

// likely is how likely an answer is with a fault, −1 for none, in its place.
func (c *Case) likely(f int, a *answer) float64 {
	ask := &c.asks[a.ask]
	if ask.Sort == Look {
		if a.label == Other {
			if c.seenAt(f, a.ask) {
				return 0.2
			}
			return 0.1 * astray
		}
		few := float64(len(c.looks[ask.look].faults) + 1)
		p := map[string]float64{asDrawn: 1}
		if f >= 0 {
			p = c.sawn(f, a.ask)
		}
		return (1-astray)*p[a.label] + astray/few
	}
	if ask.Sort == Try {
		return c.tried(f, ask)[a.label]
	}
	k := 0
	if f >= 0 {
		k = c.classOf[f]
	}
	p := c.predict(k, a.ask)
	switch {
	case p.none:
		return unsure
	case ask.Sort == See:
		return (1-astray)*p.labels[a.label] + astray/float64(len(doings))
	case ask.Sort == Feel:
		return (1-astray)*p.labels[a.label] + astray/2
	case ask.Sort == Pin && ask.pin.Analog:
		return (1-beside)*p.labels[a.label] + beside/float64(len(shares))
	case ask.Sort == Pin:
		return (1-misread)*p.labels[a.label] + misread/4
	case ask.Sort == Reads && !a.number:
		if p.number { // an analog input that does not jump
			return astray / 4
		}
		return (1-astray)*p.labels[a.label] + astray/4
	case ask.Sort == Reads:
		if !p.number {
			if p.labels[jumps] > 0.5 {
				return unsure / 2
			}
			return astray / 20
		}
		return (1-astray)*density(a.value, p.value-0.03-0.08*p.value, p.value, p.value+0.03+0.08*p.value, 0.05) + astray/20
	}
	if k > 0 && c.classes[k].fault.Sometimes() {
		return 0.5*c.reads(0, a) + 0.5*c.reads(k, a)
	}
	return c.reads(k, a)
}

// The answers to what was tried.
const (
	works     = "works now"
	unchanged = "no change"
)

// tried is what comes of trying a cure when a fault is there.
func (c *Case) tried(f int, ask *Ask) map[string]float64 {
	if f >= 0 && c.faults[f].Cure == ask.cure {
		return map[string]float64{works: closely, unchanged: 1 - closely}
	}
	return map[string]float64{works: astray, unchanged: 1 - astray}
}

// unsure is how likely any answer is where nothing can be said.
const unsure = 0.15

func (c *Case) seenAt(f, ask int) bool {
	return f >= 0 && slices.Contains(c.looks[c.asks[ask].look].faults, f)
}

// reads is how likely a reading of the meter is with a class of faults.
func (c *Case) reads(k int, a *answer) float64 {
	const outcomes = 12 // that a reading may have, as far as they differ
	x, ok := c.expectation(k, a.ask)
	if !ok {
		return unsure
	}
	p := 0.0
	switch {
	case a.over && x.Surely:
		p = 1
	case a.over && x.Over:
		p = 0.5
	case a.over || x.Surely:
	case x.Over:
		if a.value >= x.Low {
			p = 0.1
		}
	case x.Unit == quantity.Ohm:
		l := func(v float64) float64 { return math.Log10(math.Max(v, 0.5)) }
		typ := math.Max(x.Low, math.Min(x.Typ, x.High))
		p = density(l(a.value), l(x.Low), l(typ), l(x.High), 0.05)
	default:
		typ := math.Max(x.Low, math.Min(x.Typ, x.High))
		p = density(a.value, x.Low, typ, x.High, 0.04+0.01*math.Abs(typ))
	}
	return (1-astray)*p + astray/outcomes
}

// density is how likely a value is that lies between low and high about a typical one, beside
// one that is known to within a step: a normal distribution with a side of its own each way,
// whose ends are two and a half standard deviations out.
func density(v, low, typ, high, step float64) float64 {
	const ends = 2.5
	side := (high - typ) / ends
	if v < typ {
		side = (typ - low) / ends
	}
	both := math.Max((high-low)/(2*ends), step/2)
	side = math.Max(side, step/2)
	z := (v - typ) / side
	return math.Min(1, step/both) * math.Exp(-z*z/2)
}

// weigh says how likely everything is for all answers, and gives it in order.
func (c *Case) weigh(answers []answer) []hypothesis {
	all := make([]hypothesis, len(c.faults)+1)
	all[0] = hypothesis{prior: nobody}
	for i := range c.faults {
		all[i+1] = hypothesis{faults: []int{i}, prior: c.priors[i]}
	}
	for _, s := range c.strange {
		all = append(all, hypothesis{at: s.part, prior: s.prior})
	}
	flickering := slices.ContainsFunc(answers, func(a answer) bool { return a.label == flickers || a.label == jumps })
	parallel.Do(len(all), func(i int) {
		h := &all[i]
		if h.at != "" {
			h.log = make([]float64, len(answers))
			for k := range answers {
				h.log[k] = math.Log(c.strangely(h.at, &answers[k]))
			}
			return
		}
		f := -1
		if i > 0 {
			f = h.faults[0]
			if c.faults[f].Sometimes() && !flickering {
				return
			}
		}
		h.log = make([]float64, len(answers))
		for k := range answers {
			h.log[k] = math.Log(c.likely(f, &answers[k]))
		}
	})
	all = slices.DeleteFunc(all, func(h hypothesis) bool { return h.log == nil })
	if len(answers) > 1 && !c.large {
		all = append(all, c.pairs(all, answers)...)
	}
	share(all)
	slices.SortStableFunc(all, func(a, b hypothesis) int {
		switch {
		case a.weight > b.weight:
			return -1
		case a.weight < b.weight:
			return 1
		}
		return 0
	})
	return all
}

// score is the logarithm of a hypothesis' weight.
func (h *hypothesis) score() float64 {
	s := math.Log(h.prior)
	for _, l := range h.log {
		s += l
	}
	return s
}

// share makes scores to parts of the whole.
func share(all []hypothesis) {
	most := math.Inf(-1)
	for i := range all {
		most = math.Max(most, all[i].score())
	}
	sum := 0.0
	for i := range all {
		all[i].weight = math.Exp(all[i].score() - most)
		sum += all[i].weight
	}
	for i := range all {
		all[i].weight /= sum
	}
}

// How many faults are looked at together.
const (
	pairing = 24
	twice   = 0.2 // with this, one bench in ten has two faults at once (common practice)
)

// pairs lists two faults at once, of those that explain something each.
func (c *Case) pairs(singles []hypothesis, answers []answer) (out []hypothesis) {
	total := 0.0
	for _, h := range singles {
		total += h.prior
	}
	// Those that explain most, and those that explain one answer best that others do not.
	picked := map[int]bool{}
	pick := func(worth func(h *hypothesis) float64) {
		order := make([]int, 0, len(singles))
		for i := range singles {
			if len(singles[i].faults) == 1 && !c.faults[singles[i].faults[0]].Sometimes() {
				order = append(order, i)
			}
		}
		slices.SortStableFunc(order, func(a, b int) int {
			x, y := worth(&singles[a]), worth(&singles[b])
			switch {
			case x > y:
				return -1
			case x < y:
				return 1
			}
			return 0
		})
		for _, i := range order[:min(len(order), pairing/3)] {
			picked[i] = true
		}
	}
	pick(func(h *hypothesis) float64 { return h.score() })
	none := &singles[0]
	for k := range answers {
		if none.log[k] < math.Log(0.1) { // not as planned: somebody must explain it
			pick(func(h *hypothesis) float64 { return math.Log(h.prior) + 3*h.log[k] })
		}
	}
	var list []int
	for i := range singles {
		if picked[i] {
			list = append(list, i)
		}
	}
	for n, i := range list {
		for _, j := range list[:n] {
			a, b := singles[j].faults[0], singles[i].faults[0]
			if c.faults[a].Cure == c.faults[b].Cure || c.classOf[a] == c.classOf[b] {
				continue
			}
			h := hypothesis{faults: []int{a, b}, prior: singles[i].prior * singles[j].prior / total * twice, log: make([]float64, len(answers))}
			for k := range answers {
				h.log[k] = together(singles[j].log[k], singles[i].log[k], none.log[k])
			}
			out = append(out, h)
		}
	}
	return out
}

// together is the logarithm of how likely an answer is with two faults, of those with each of
// them and with none: that which changes what is answered says it, and where both do the one
// that is less as planned.
func together(p, q, none float64) float64 {
	same := func(x float64) bool { return math.Abs(x-none) < 0.02 }
	switch {
	case same(p):
		return q
	case same(q):
		return p
	}
	return math.Max(p, q)
}

// cureOf names what puts a hypothesis right.
func (c *Case) cureOf(h *hypothesis) string {
	if h.at != "" {
		return "something else at " + h.at
	}
	var out []string
	for _, f := range h.faults {
		out = append(out, c.faults[f].Cure)
	}
	slices.Sort(out)
	return strings.Join(out, " + ")
}
