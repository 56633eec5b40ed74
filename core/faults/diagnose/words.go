package diagnose

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
	"cablaggio/core/faults/meter"
	"cablaggio/core/values/quantity"
)

// result tells what is left.
func (c *Case) result(answers []answer, all []hypothesis) *Result {
	r := &Result{Causes: []Cause{}, Unexplained: []string{}, Seen: []Said{}, Considered: len(c.faults)}
	cures := map[string]float64{}
	for i := range all {
		cures[c.cureOf(&all[i])] += all[i].weight
	}
	// What is on the list comes first, as long as it is the likelier: it can be tried.
	order := slices.Clone(all)
	for _, h := range all {
		if len(h.faults) == 0 {
			r.Unknown += h.weight
		}
	}
	r.Unknown = math.Round(r.Unknown*1e4) / 1e4
	if r.Unknown < mostly {
		slices.SortStableFunc(order, func(a, b hypothesis) int { return cmp.Compare(one(len(a.faults) == 0), one(len(b.faults) == 0)) })
	}
	top := &order[0]
	r.Sure = len(top.faults) > 0 && len(answers) > 0 && cures[c.cureOf(top)] >= settled
	strange := false // of all places at which something unlisted may be the likeliest is told
	for i := range order {
		h := &order[i]
		if len(r.Causes) >= mostCauses || h.weight < 1e-3 && i > 0 || len(h.faults) == 0 && strange {
			continue
		}
		strange = strange || len(h.faults) == 0
		r.Causes = append(r.Causes, c.cause(h, answers, all))
	}
	for k, l := range top.log {
		if l < math.Log(2*astray) && c.likely(-1, &answers[k]) <= math.Exp(l)*1.01 {
			r.Unexplained = append(r.Unexplained, c.saw(&answers[k]))
		}
	}
	r.Assumed = "One thing is wrong, or two at most; everything else is as on the plan and the map."
	if c.large {
		r.Assumed += fmt.Sprintf(" The build has more than %d parts: each leg and each part was looked at, but not every hole; and two faults at once were not.", mostParts)
	}
	if len(r.Unexplained) > 0 || len(top.faults) == 0 && len(answers) > 0 {
		r.Assumed = "Nothing that is considered explains all of this. Look at the first of it again; then at what was assumed: the parts, the board and the places are those of the plan."
		r.Sure = false
	}
	return r
}

// mostly is from which weight on what is on no list is told first.
const mostly = 0.6

func one(is bool) int {
	if is {
		return 1
	}
	return 0
}

// cause tells a hypothesis.
func (c *Case) cause(h *hypothesis, answers []answer, all []hypothesis) Cause {
	out := Cause{Faults: []string{}, Weight: math.Round(h.weight*1e4) / 1e4, Ends: []breadboard.End{}, For: []string{}, Against: []string{}, Working: []string{}, Try: []Observation{}}
	if len(h.faults) == 0 {
		out.Words = "Something that is not considered here."
		out.Cure = "Look at each step again, and at what the program does."
		if p := c.doc.Part(h.at); p != nil {
			out.Words = fmt.Sprintf("Something else at %s, that is on no list here.", p.Name)
			out.Cure = fmt.Sprintf("Take %s out and try it alone, with new wires, or another one in its place.", p.Name)
			out.Ends = c.endsOf(h.at)
		}
	}
	var words, cures []string
	for _, i := range h.faults {
		f := &c.faults[i]
		out.Faults = append(out.Faults, f.ID)
		words, cures = append(words, f.Words), append(cures, f.Look)
		out.Ends = append(out.Ends, f.Ends...)
		out.Try = append(out.Try, Observation{"try:" + f.Cure, unchanged})
	}
	if len(h.faults) > 0 {
		out.Words, out.Cure = strings.Join(words, " "), strings.Join(cures, " ")
	}
	out.Working = append(out.Working, fmt.Sprintf("how common it is: %.3g", h.prior))
	for k := range answers {
		p, mean := math.Exp(h.log[k]), 0.0
		for i := range all {
			mean += all[i].weight * math.Exp(all[i].log[k])
		}
		saw := c.saw(&answers[k])
		out.Working = append(out.Working, fmt.Sprintf("times %.3g: %s", p, saw))
		switch {
		case p >= 0.3 && c.likely(-1, &answers[k]) < p/3:
			out.For = append(out.For, saw)
		case p < 0.06:
			out.Against = append(out.Against, saw+c.would(h, &answers[k]))
		}
	}
	out.Proof = c.proof(answers)
	return out
}

// A Said is an observation as it was understood.
type Said struct {
	Ask    string `json:"ask"`
	Answer string `json:"answer"`
	Part   string `json:"part"`
	Words  string `json:"words"` // a sentence
	// Apart is that it is of nothing that can be pointed at.
	Apart bool `json:"apart"`
}

// Said tells an observation of the case in words.
func (c *Case) Said(o Observation) Said {
	out := Said{Ask: o.Ask, Answer: o.Answer}
	if a, err := c.read(o); err == nil {
		ask := &c.asks[a.ask]
		out.Part, out.Words, out.Apart = ask.Part, build.Capital(c.saw(&a))+".", ask.told && ask.Sort == See
	}
	return out
}

// saw tells an answer.
func (c *Case) saw(a *answer) string {
	ask := &c.asks[a.ask]
	switch ask.Sort {
	case Look:
		switch a.label {
		case asDrawn:
			return "nothing wrong is seen at " + c.looks[ask.look].what
		case Other:
			return "something else is wrong at " + c.looks[ask.look].what
		}
		return "this is seen: " + a.text
	case Try:
		return "this was tried, with " + map[string]string{works: "success", unchanged: "no success"}[a.label] + ": " + c.faults[ask.fault].Look
	case Feel:
		return c.feltName(ask) + " " + a.label
	case See:
		x := c.actors[ask.actor]
		with := ""
		if ask.test {
			with = "with the test program, "
		}
		return with + c.does(ask.actor, a.label) + when(x.states[ask.state].words)
	case Pin:
		return c.pinWords(ask, a.label)
	case Reads:
		in := c.inputs[ask.input]
		does := "reads " + a.text
		if a.label == jumps {
			does = "jumps"
		}
		return fmt.Sprintf("%s (%s) %s", in.pin, in.name, does) + when(in.states[ask.state].words)
	}
	k, err := c.survey.Tell(ask.question)
	switch {
	case err != nil:
		return "the meter shows " + a.text
	case ask.question.Way == meter.Counts:
		return "the console counts " + a.text + " of " + c.doc.Part(ask.Part).Name
	}
	return fmt.Sprintf("the meter shows %s from the %s to the %s", a.text, k.Red.Words, k.Black.Words)
}

// does says what an actor does.
func (c *Case) does(actor int, label string) string {
	x := c.actors[actor]
	if x.lamp || label == flickers {
		if label == flickers {
			return x.name + " flickers"
		}
		return x.name + " is " + label
	}
	if label == lit {
		return x.name + " works"
	}
	return x.name + " does " + c.doingWord(actor, label)
}

func when(words string) string {
	if words == "" {
		return ""
	}
	return " when " + words
}

// would says what would be there instead, with a hypothesis.
func (c *Case) would(h *hypothesis, a *answer) string {
	ask := &c.asks[a.ask]
	f := -1
	if len(h.faults) > 0 {
		f = h.faults[0]
	}
	k := 0
	if f >= 0 {
		k = c.classOf[f]
	}
	switch ask.Sort {
	case Feel:
		return "; it " + strings.Replace(likeliest(c.predict(k, a.ask).labels), "gets", "would get", 1)
	case See:
		p := c.predict(k, a.ask)
		return fmt.Sprintf("; it would be %s", c.doingWord(ask.actor, likeliest(p.labels)))
	case Reads, Pin:
		if p := c.predict(k, a.ask); !p.number && !p.none {
			return fmt.Sprintf("; it would be %s", likeliest(p.labels))
		}
	case Measure:
		if x, ok := c.expectation(k, a.ask); ok {
			return "; it would be " + x.TypText
		}
	}
	return ""
}

func likeliest(labels map[string]float64) string {
	best := ""
	for _, l := range slices.Sorted(maps.Keys(labels)) {
		if best == "" || labels[l] > labels[best] {
			best = l
		}
	}
	return best
}

// proof says what shows that the right thing was put right: that what was seen first of all
// that is not as planned is as planned then.
func (c *Case) proof(answers []answer) string {
	for k := range answers {
		a := &answers[k]
		ask := &c.asks[a.ask]
		if c.likely(-1, a) > 0.2 || ask.test {
			continue
		}
		switch ask.Sort {
		case Feel:
			return build.Capital(c.feltName(ask)) + " " + ask.feels()[0] + "."
		case See:
			p := c.predict(0, a.ask)
			x := c.actors[ask.actor]
			return build.Capital(c.does(ask.actor, likeliest(p.labels))) + when(x.states[ask.state].words) + "."
		case Reads:
			in := c.inputs[ask.input]
			p := c.predict(0, a.ask)
			if p.number {
				return fmt.Sprintf("%s (%s) reads about %.0f%s.", in.pin, in.name, p.value*c.net.Board.Logic.Analog.Full(), when(in.states[ask.state].words))
			}
			return fmt.Sprintf("%s (%s) reads %s%s.", in.pin, in.name, likeliest(p.labels), when(in.states[ask.state].words))
		case Measure:
			if n, err := c.survey.Tell(ask.question); err == nil {
				return fmt.Sprintf("%s It reads %s then.", n.Do, n.Expect.Text)
			}
		}
	}
	return ""
}

// options are the answers that may come to an ask, the likeliest first.
func (c *Case) options(act []active, i int) []Option {
	a := &c.asks[i]
	weight := map[string]float64{}
	cures := map[string]map[int]bool{}
	typ := map[string][]float64{}
	for _, x := range act {
		p := c.outcomes(x.h, i)
		for _, l := range slices.Sorted(maps.Keys(p)) {
			w := p[l]
			weight[l] += x.weight * w
			if w > 0.1 {
				if cures[l] == nil {
					cures[l] = map[int]bool{}
				}
				cures[l][x.cure] = true
			}
			if a.Sort == Measure || a.Sort == Reads && w == 1 && c.inputs[a.input].analog {
				k := 0
				if len(x.h.faults) > 0 {
					k = c.classOf[x.h.faults[0]]
				}
				typ[l] = append(typ[l], c.predict(k, i).value)
			}
		}
	}
	out := []Option{}
	add := func(l, answer, words string) {
		out = append(out, Option{Answer: answer, Words: words, Weight: math.Round(weight[l]*1000) / 1000, Leaves: len(cures[l])})
	}
	switch a.Sort {
	case Look:
		add(asDrawn, asDrawn, "Everything is as on the map")
		for _, k := range c.looks[a.look].faults {
			f := &c.faults[k]
			if !slices.ContainsFunc(out, func(o Option) bool { return o.Answer == f.Cure }) {
				add(f.Cure, f.Cure, f.Sight)
			}
		}
		add(Other, Other, "Something else is wrong there")
		slices.SortStableFunc(out[1:len(out)-1], func(a, b Option) int { return cmp.Compare(b.Weight, a.Weight) })
		return out
	case Try:
		add(works, works, "It works now")
		add(unchanged, unchanged, "No change")
		return out
	case See:
		for _, d := range doings {
			add(d.name, d.name, build.Capital(c.doingWord(a.actor, d.name)))
		}
		add(flickers, flickers, "Flickers")
		return out
	case Reads:
		if !c.inputs[a.input].analog {
			for _, l := range []string{readsLow, readsHigh, jumps, nothing} {
				add(l, l, build.Capital(l))
			}
			return out
		}
	}
	for _, l := range slices.Sorted(maps.Keys(typ)) {
		slices.Sort(typ[l])
		v := typ[l][len(typ[l])/2]
		text := "OL"
		switch {
		case a.Sort == Reads:
			text = fmt.Sprintf("%.0f", v*c.net.Board.Logic.Analog.Full())
		case math.IsInf(v, 0):
		default:
			unit := quantity.Volt
			if x, ok := c.expectation(0, i); ok {
				unit = x.Unit
			}
			if unit == quantity.Volt {
				v = math.Round(v*100) / 100
			} else if v < 1 {
				v = 0
			}
			text = quantity.Short(v, unit)
		}
		add(l, text, "about "+text)
	}
	slices.SortStableFunc(out, func(a, b Option) int { return cmp.Compare(b.Weight, a.Weight) })
	return out[:min(len(out), 8)]
}
