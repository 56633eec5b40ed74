package diagnose

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"cablaggio/core/electric/wiring"
)

// A Thing is something whose doing is seen, or read by the program: what a builder points at
// and says what it does.
type Thing struct {
	Part   string   `json:"part"`
	Name   string   `json:"name"`
	Sort   Sort     `json:"sort"`
	States []Doing  `json:"states"`
	Words  []string `json:"words"` // what it may do
}

// A Doing is what a thing should do in a state.
type Doing struct {
	Ask    string `json:"ask"`
	When   string `json:"when"`   // the state, in words
	Short  string `json:"short"`  // the same in two words, where that is enough: "switched on"
	Should string `json:"should"` // what it does when all is well, as it is answered
	Says   string `json:"says"`   // the same in words: "should be lit"
}

// Things lists what a builder can point at at first.
func (c *Case) Things() []Thing {
	out := []Thing{}
	for i := range c.asks {
		a := &c.asks[i]
		if a.Sort != See && a.Sort != Reads || a.test || a.told {
			continue
		}
		t := Thing{Part: a.Part, Sort: a.Sort, Words: []string{}}
		d := Doing{Ask: a.ID, Should: c.should(i)}
		switch {
		case a.Sort == Reads:
			d.Says = "should read " + d.Should
		case c.actors[a.actor].lamp:
			d.Says = "should be " + d.Should
		case d.Should == acts[lit]:
			d.Says = "should work"
		default:
			d.Says = "should do " + d.Should
		}
		if a.Sort == See {
			t.Name, t.Words = c.actors[a.actor].name, c.doingWords(a.actor)
			s := c.actors[a.actor].states[a.state]
			if d.When, d.Short = s.words, "switched off"; s.most {
				d.Short = "switched on"
			}
		} else {
			in := &c.inputs[a.input]
			t.Name = in.name + " at " + in.pin
			if !in.analog {
				t.Words = []string{readsLow, readsHigh, jumps, nothing}
			}
			d.When = in.states[a.state].words
		}
		if k := len(out) - 1; k >= 0 && out[k].Name == t.Name && out[k].Sort == t.Sort {
			out[k].States = append(out[k].States, d)
			continue
		}
		t.States = []Doing{d}
		out = append(out, t)
	}
	return append(out, c.feelable()...)
}

// should is what is answered to an ask when all is well, as it is typed.
func (c *Case) should(i int) string {
	a := &c.asks[i]
	p := c.predict(0, i)
	switch {
	case p.none:
		return ""
	case p.number:
		return fmt.Sprintf("%.0f", p.value*c.net.Board.Logic.Analog.Full())
	case a.Sort == See:
		return c.doingWord(a.actor, likeliest(p.labels))
	}
	return likeliest(p.labels)
}

// Taken is the observation of a reading that was taken for a check of [meter.List], as the list
// says: with the test program, where there is power. It is false where that is no answer in this
// case: something else is asked, or expected, by now.
func (c *Case) Taken(check, expected, text string) (Observation, bool) {
	i, ok := c.byID[taken+check]
	if !ok {
		return Observation{}, false
	}
	x, ok := c.expectation(0, i)
	return Observation{c.asks[i].ID, text}, ok && x.Text == expected
}

// levelOf is the level that an input reads while its contact is used, or left alone.
func (c *Case) levelOf(a *Ask, means string) string {
	if a.Sort != Reads || c.inputs[a.input].analog {
		return ""
	}
	for i := range c.asks {
		b := &c.asks[i]
		if b.Sort != Reads || b.input != a.input {
			continue
		}
		if p := c.predict(0, i); c.used(i) == (means == asUsed) && !p.none && !p.number {
			return likeliest(p.labels)
		}
	}
	return ""
}

// numbers are what an analog input may be said to read.
var numbers = regexp.MustCompile(`-?\b\d+(?:[.,]\d+)?\b`)

// SayAll is [Case.Say] for several things at once: "all lamps are dark", "both platform lamps
// are dim".
func (c *Case) SayAll(text string) ([]Observation, error) {
	plain := c.reworded(text, rewordings)
	out, err := c.sayAll(plain)
	if err == nil {
		return out, nil
	}
	if other := c.reworded(text, lately); other != text {
		if said, wrong := c.sayAll(other); wrong == nil {
			return said, nil
		}
	}
	if plain != text {
		return nil, fmt.Errorf("%q, taken as %w", text, err)
	}
	return nil, err
}

func (c *Case) sayAll(text string) ([]Observation, error) {
	text = strings.TrimSpace(partOfThe.ReplaceAllString(text, "$1 of "))
	if whole.MatchString(text) {
		text = "all lamps are dark"
	}
	for _, say := range []func(string) []Observation{c.sayInstead, c.sayApart, c.sayInverted} {
		if out := say(strings.ToLower(strings.Trim(text, " .!"))); out != nil {
			return out, nil
		}
	}
	if err := unsaid(text); err != nil {
		return nil, err
	}
	text = c.numbered(text)
	if out, ok := c.together(text); ok {
		return out, nil
	}
	if names, _, _, _ := c.subject(strings.ToLower(text)); len(names) > 1 && strings.Contains(text, " and ") || onlyThese.MatchString(strings.ToLower(text)) || darker.MatchString(strings.ToLower(text)) || tails.MatchString(contracted.Replace(strings.ToLower(text))) || someOf.MatchString(strings.ToLower(text)) {
		if out, ok := c.listen(text); ok {
			return out, nil
		}
	}
	if out, is, err := c.ofCase(text); is {
		return out, err
	}
	many, wrong := c.sayOfMany(text)
	if many != nil && wrong == nil {
		return many, nil
	}
	o, err := c.Say(text)
	if err == nil {
		return []Observation{o}, nil
	}
	if which := c.which(text); which != nil {
		return nil, which
	}
	if out, ok := c.listen(text); ok {
		return out, nil
	}
	if wrong != nil {
		return nil, wrong
	}
	if hangs := c.hangs(text); hangs != nil {
		return nil, hangs
	}
	return nil, err
}

// Say understands what was seen, as it is typed: "red LED 1 is dark", "led1 always lit",
// "button1 reads low", "potentiometer1 reads 0", with "when D4=high" where the state is not
// the one that goes without saying. Its error says what would be right.
func (c *Case) Say(text string) (Observation, error) {
	if o, ok := c.sayFelt(contracted.Replace(strings.ToLower(text))); ok {
		return o, nil
	}
	said := text
	if name := unnoticed(text); name != "" {
		said = name + " is not noticed"
	}
	say, set, err := c.state(said)
	want := ""
	if err != nil {
		before, after, _ := strings.Cut(said, " when ")
		if want = wanted(strings.ToLower(after)); want == "" && !strings.Contains(after, "=") {
			return Observation{}, fmt.Errorf("%q: %q is no state that is known of this build; say it without, or name what is set, as in \"when D4=high\"", text, after)
		}
		if want == "" {
			return Observation{}, err
		}
		say = before
	}
	say = contracted.Replace(strings.ToLower(strings.TrimSpace(say)))
	asks, which := c.called(say)
	if len(asks) == 0 && len(which) == 0 && soundless.MatchString(say) {
		asks = c.onlySound()
	}
	if len(which) > 1 {
		return Observation{}, fmt.Errorf("%q: which one is meant, %s?", text, orOf(which))
	}
	if len(asks) == 0 && hot.MatchString(say) {
		part := "the motor"
		if len(c.doc.Parts) > 0 {
			part = c.doc.Parts[0].Name
		}
		return Observation{}, fmt.Errorf("%q: unplug the board first; then say which part it is, as in %q", text, part+" gets hot")
	}
	if len(asks) == 0 {
		return Observation{}, fmt.Errorf("%q names nothing that is seen or read in this build; say a part and what it does, as in %q", text, c.example())
	}
	means, flipped := c.negated(&c.asks[asks[0]], say)
	best := 0
	for _, s := range sayings {
		if flipped {
			break
		}
		if s.means == lit && c.asks[asks[0]].Sort == See && shaded.MatchString(say) {
			continue // it says how: "lights only weakly"
		}
		if within(say, s.say) && len(s.say) > best {
			to := s.means
			if a := &c.asks[asks[0]]; to == nothing && a.Sort == Reads && c.inputs[a.input].analog && strings.Contains(say, "does nothing") {
				continue // it reads something, and that is to be said
			}
			if to == asUsed || to == asLeft {
				if to = c.levelOf(&c.asks[asks[0]], to); to == "" {
					continue
				}
			}
			if _, err := c.read(Observation{c.asks[asks[0]].ID, c.word(&c.asks[asks[0]], to)}); err == nil {
				best, means = len(s.say), to
			}
		}
	}
	a := &c.asks[asks[0]]
	if a.Sort == See && outside.MatchString(say) {
		return Observation{}, fmt.Errorf("%q: say it of its pin, as in %q, or as a sentence of what it should do, which is tried on the bench", text, c.nameOf(a)+" is lit when it should be dark")
	}
	if a.Sort == Reads && means == "" {
		for _, n := range numbers.FindAllString(say, -1) {
			if _, err := c.read(Observation{a.ID, n}); err == nil {
				means = n
			}
		}
	}
	if means == "" && a.Sort == Reads && c.inputs[a.input].analog {
		return Observation{}, fmt.Errorf("%q: which number does the program read there? It is a number from 0 to %.0f, as in %q, or %q", text, c.net.Board.Logic.Analog.Full(), c.nameOf(a)+" reads 12", c.nameOf(a)+" jumps")
	}
	if means == "" {
		return Observation{}, fmt.Errorf("%q does not say what it does; it is one of: %s", text, strings.Join(c.may(a), ", "))
	}
	for _, i := range asks { // "in the dark", "at one end": the state in its own words
		if w := c.stateWords(i); set == nil && w != "" && strings.Contains(say, w) {
			return Observation{c.asks[i].ID, c.word(&c.asks[i], means)}, nil
		}
	}
	if want != "" {
		for _, i := range asks {
			if c.meant(i, want) {
				return Observation{c.asks[i].ID, c.word(&c.asks[i], means)}, nil
			}
		}
	}
	if set != nil {
		for _, i := range asks {
			if keyOf(c.setOf(i)) == keyOf(set) {
				return Observation{c.asks[i].ID, c.word(&c.asks[i], means)}, nil
			}
		}
		var have []string
		for _, i := range asks {
			if set := c.setOf(i); len(set) > 0 && !c.asks[i].told {
				have = append(have, strings.TrimPrefix(strings.ReplaceAll(keyOf(set), ":", " "), " "))
			}
		}
		have = append(have, "none named, for how it begins")
		return Observation{}, fmt.Errorf("%q: the states that say something there are: %s", text, strings.Join(have, "; "))
	}
	// Without a state it is the one in which it should be otherwise, the first of them; but
	// what is lit, and not said to be always so, is lit when it should be.
	for _, i := range asks {
		if means == lit && !flipped && !unasked.MatchString(say) {
			break
		}
		an, err := c.read(Observation{c.asks[i].ID, c.word(&c.asks[i], means)})
		if err == nil && c.likely(-1, &an) < 0.2 {
			return Observation{c.asks[i].ID, c.word(&c.asks[i], means)}, nil
		}
	}
	if means == lit && (flipped || unasked.MatchString(say)) && a.Sort == See && !c.actors[a.actor].lamp {
		return Observation{}, keepsOn(text, c.nameOf(a))
	}
	return Observation{a.ID, c.word(a, means)}, nil
}

// wanted is what "when it should be dark", or "when I press it", asks of a state.
func wanted(after string) string {
	for _, w := range []struct{ say, means string }{
		{"should be dark", dark}, {"should be off", dark}, {"should not be", dark}, {"should be lit", lit}, {"should be on", lit}, {"should light", lit},
		{"pressed", asUsed}, {"press", asUsed}, {"released", asLeft}, {"let go", asLeft}, {"not pressed", asLeft},
	} {
		if strings.Contains(after, w.say) {
			return w.means
		}
	}
	return ""
}

// meant reports whether the state of an ask is the one that is wanted.
func (c *Case) meant(i int, want string) bool {
	a := &c.asks[i]
	if want == dark || want == lit {
		p := c.predict(0, i)
		return a.Sort == See && (likeliest(p.labels) == dark) == (want == dark)
	}
	return c.used(i) == (want == asUsed)
}

// used reports whether a contact is otherwise than left alone in the state of an ask.
func (c *Case) used(i int) bool {
	set := c.setOf(i)
	return slices.ContainsFunc(c.net.Controls, func(x wiring.Control) bool {
		_, named := set[x.Of]
		return named && x.Kind == wiring.Contact
	})
}

// stateWords is what the state of an analog input is called at its own knob or sensor: "in the
// dark"; empty of what is read otherwise.
func (c *Case) stateWords(i int) string {
	a := &c.asks[i]
	if a.Sort != Reads || !c.inputs[a.input].analog {
		return ""
	}
	in := &c.inputs[a.input]
	begin, err := c.net.Resolve(nil)
	for k := range c.net.Controls {
		x := &c.net.Controls[k]
		if err != nil || x.Kind != wiring.Level || !slices.Contains(in.parts, x.Of) {
			continue
		}
		text, set := in.states[a.state].set[x.Of]
		if !set {
			text = x.Text(begin[k])
		}
		name, _, _ := strings.Cut(text, " (") // without its number
		return strings.ToLower(name)
	}
	return ""
}

// word is how an answer is typed.
func (c *Case) word(a *Ask, label string) string {
	if a.Sort == See {
		return c.doingWord(a.actor, label)
	}
	return label
}

func (c *Case) may(a *Ask) []string {
	if a.Sort == See {
		return c.doingWords(a.actor)
	}
	if c.inputs[a.input].analog {
		return []string{fmt.Sprintf("a number from 0 to %.0f", c.net.Board.Logic.Analog.Full()), jumps}
	}
	return []string{readsLow, readsHigh, jumps, nothing}
}

func (c *Case) setOf(i int) wiring.Settings {
	if a := &c.asks[i]; a.Sort == See {
		return c.actors[a.actor].states[a.state].set
	}
	return c.inputs[c.asks[i].input].states[c.asks[i].state].set
}

func (c *Case) example() string {
	things := c.Things()
	switch {
	case len(things) == 0:
		return "red LED 1 is dark"
	case things[0].Sort == See:
		return things[0].Name + " is dark"
	}
	return things[0].Name + " reads low"
}

// state cuts "when D4=high, button1=pressed" off a text.
func (c *Case) state(text string) (rest string, set wiring.Settings, err error) {
	rest, after, ok := strings.Cut(text, " when ")
	if !ok {
		return text, nil, nil
	}
	var named []string
	for part := range strings.SplitSeq(after, ",") {
		named = append(named, strings.TrimSpace(part))
	}
	if set, err = wiring.ParseSettings(named); err != nil {
		return "", nil, err
	}
	if _, err = c.net.Resolve(set); err != nil {
		return "", nil, err
	}
	return rest, set, nil
}
