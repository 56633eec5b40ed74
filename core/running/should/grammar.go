package should

import (
	"slices"
	"time"

	"cablaggio/core/running/bench"
)

// stemmed are the words of the grammar as stems.
var stemmed = struct {
	press, hold, release, pressed, up, open, closed, spins, still, above, below, toLevel, most, least, darkness, daylight, cover, limits, one, together, changes, controls, brighter, darker, unchanged, inTurn, noEffect, lighten, opposite, sees phrases
	when                                                                                                                                                                                                                                           map[string]phrases
	does                                                                                                                                                                                                                                           map[string]phrases
}{
	press: stems(words.Press), hold: stems(words.Hold), release: stems(words.Release), pressed: stems(words.Pressed), up: stems(words.Up), open: stems(words.Open), closed: stems(words.Closed),
	spins: stems(words.Spins), still: stems(words.Still), above: stems(words.Above), below: stems(words.Below), toLevel: stems(words.ToLevel), most: stems(words.Most), least: stems(words.Least),
	darkness: stems(words.Darkness), daylight: stems(words.Daylight), cover: stems(words.Cover), limits: stems(words.Limits), one: stems(words.One), together: stems(words.Together), changes: stems(words.Changes),
	controls: stems(words.Controls), brighter: stems(words.Brighter), darker: stems(words.Darker), unchanged: stems(words.Unchanged), inTurn: stems(words.InTurn), noEffect: stems(words.NoEffect), lighten: stems(words.Lighten), opposite: stems(words.Opposite), sees: stems(words.Sees), when: stemsOfEach(words.When), does: stemsOfEach(words.Does),
}

func stemsOfEach(m map[string][]string) map[string]phrases {
	out := map[string]phrases{}
	for k, list := range m {
		out[k] = stems(list)
	}
	return out
}

// A doing is something done once: a press, or text that is typed.
type doing struct {
	hand  bench.Hand
	key   string
	typed string     // text, in place of a hand
	keys  []string   // of a keypad, one after the other
	nth   int        // of a press, the how manieth; 0: each
	every int        // and again after so many
	verb  bench.Verb // Release, or Set of whatever is turned, in place of a press
}

// A draft is a sentence on its way.
type draft struct {
	form   form
	conds  []cond
	only   bool // and else the opposite
	press  *doing
	things []thing
	claim  claim
	low    float64 // of Bright, in per cent
	high   float64
	hertz  float64
	litFor time.Duration
	lasts  time.Duration
	times  lengths // for how long each time
	after  time.Duration
	within time.Duration
	hand   bench.Hand // of turning
	back   bool
	text   *printed // what is printed
	freed  *doing   // what is let go, in place of the conditions
	shows  string   // a figure
	stays  bool     // it is said to stay so
	and    *draft   // is so, too
	then   *draft   // another sentence
	one    bool     // of oneOf: and one always
	more   bool     // of oneOf: or several
}

// A parser reads one sentence.
type parser struct {
	r     *Reader
	err   error              // what is wrong where words are understood and what they say is not
	left  *int               // how many words are looked at still
	known map[string]reading // what was read before, by what it was read as
	far   thing              // the thing that was named, and what it does was not understood
	unit  string             // the unit of a number that no hand has
}

// A reading is what a text was read as, or that it cannot be.
type reading struct {
	clause clause
	draft  draft
	ok     bool
}

// once reads a text in one way, once: the same words stand in many places of what is tried.
func (p *parser) once(way string, list []token, read func() reading) reading {
	key := way + text(list)
	if out, ok := p.known[key]; ok {
		return out
	}
	if *p.left -= len(list); *p.left < 0 {
		return reading{}
	}
	if p.known == nil {
		p.known = map[string]reading{}
	}
	out := read()
	p.known[key] = out
	return out
}

// begins lists how many tokens something that says when takes, and which sort it is.
func begins(list []token) (out []struct {
	n    int
	kind string
}) {
	for _, kind := range []string{"unless", "until", "event", "state"} {
		for _, n := range stemmed.when[kind].ends(list) {
			out = append(out, struct {
				n    int
				kind string
			}{n, kind})
		}
	}
	return out
}

// trim leaves out what joins clauses.
func trim(list []token) []token {
	for len(list) > 0 && (list[0].kind == comma || list[0].text == "then" || list[0].text == "and" && len(list) > 1) {
		list = list[1:]
	}
	for len(list) > 0 && (list[len(list)-1].kind == comma || list[len(list)-1].text == "then") {
		list = list[:len(list)-1]
	}
	return list
}

// core reads a sentence: what is so, and before or behind it when.
func (p *parser) core(list []token) (draft, bool) {
	out := p.once("core ", list, func() (x reading) {
		x.draft, x.ok = p.coreOf(list)
		return x
	})
	return out.draft, out.ok
}

func (p *parser) coreOf(list []token) (draft, bool) {
	if n := len(list); n > 2 && list[n-1].text == "only" { // lit in the dark only
		d, ok := p.core(list[:n-1])
		d.only = true
		return d, ok && len(d.conds) > 0 && d.press == nil
	}
	list = trim(list)
	if len(list) > 3 && list[0].text == "one" && list[2].text == "after" { // one lamp after the other
		if d, ok := p.eachAfter(list); ok {
			return d, true
		}
	}
	if d, ok := p.main(list); ok {
		return d, true
	}
	only := false
	rest := list
	if len(rest) > 1 && rest[0].text == "only" {
		only, rest = true, rest[1:]
	}
	join := func(d draft, c clause, only bool) (draft, bool) {
		if only && len(c.conds) > 0 {
			d.only = true
		}
		if c.press != nil && d.press != nil { // after a press of A, each press of B
			since, ok := c.press.since()
			if !ok || c.press.hand.Of == d.press.hand.Of && c.press.key == d.press.key {
				return d, false
			}
			c.press, c.conds = nil, append(c.conds, since)
		}
		d.conds = slices.Concat(c.conds, d.conds)
		if c.press != nil {
			d.press = c.press
		}
		if c.freed != nil {
			d.freed = c.freed
		}
		if c.held > 0 {
			d.within = c.held
		}
		d.after = max(d.after, c.after)
		return d, true
	}
	word := "" // that begins the clause
	try := func(when, main []token, kind string, only bool) (draft, bool) {
		c, ok := p.clause(kind, trim(when))
		if !ok || kind == "alone" && slices.ContainsFunc(c.conds, func(x cond) bool { return x.thing != nil }) {
			return draft{}, false
		}
		d, ok := p.core(main)
		if !ok && len(c.conds) > 0 && c.conds[0].thing != nil { // while X is dark, a press lights it
			if it := slices.IndexFunc(main, func(t token) bool { return t.text == "it" }); it > 0 {
				d, ok = p.core(slices.Concat(main[:it], p.name(when, []thing{*c.conds[0].thing}), main[it+1:]))
			}
		}
		if !ok && len(main) > 1 && main[0].kind == comma {
			d, ok = p.bare(main[1:])
		}
		if !ok {
			return draft{}, false
		}
		if x, moves := c.moves(); moves && d.claim == leaves && d.form == holds && d.press == nil && !only && word != "while" && word != "during" && word != "with" && word != "" {
			c = clause{press: x}
		}
		return join(d, c, only)
	}
	// When it begins with what says when: up to a comma, or to where the rest can be read.
	lead := func(rest []token, from int, kind string) (draft, bool) {
		for k := from + 1; k < len(rest); k++ {
			if rest[k].kind == comma {
				if d, ok := try(rest[from:k], rest[k:], kind, only); ok {
					return d, true
				}
			}
		}
		for k := len(rest) - 1; k > from; k-- {
			if rest[k].kind != comma {
				if d, ok := try(rest[from:k], rest[k:], kind, only); ok {
					return d, true
				}
			}
		}
		return draft{}, false
	}
	for _, b := range begins(rest) {
		word = rest[0].text
		if d, ok := lead(rest, b.n, b.kind); ok {
			return d, true
		}
	}
	word = ""
	if len(rest) > 1 && unitOf(rest[0]) > 0 { // 3 s after
		for _, b := range begins(rest[1:]) {
			if b.kind == "event" {
				if d, ok := lead(rest[1:], b.n, b.kind); ok && d.after == 0 {
					d.after = unitOf(rest[0])
					return d, true
				}
			}
		}
	}
	if d, ok := lead(rest, 0, "alone"); ok { // above 30 °C, press the button and
		return d, true
	}
	for m := 1; m+1 < len(rest); m++ {
		if rest[m].stem == "mean" { // … means that …
			if d, ok := try(rest[:m], rest[m+1:], "state", only); ok {
				return d, true
			}
		}
		for _, b := range begins(rest[m:]) {
			main, one := rest[:m], only
			if rest[m-1].text == "only" && m > 1 {
				main, one = rest[:m-1], true
			}
			if i := slices.IndexFunc(main, func(t token) bool { return t.text == "only" }); i > 0 && !one && len(main) > i+1 {
				main, one = slices.Delete(slices.Clone(main), i, i+1), true
			}
			var after time.Duration
			if b.kind == "event" && m > 1 && rest[m-1].kind == number && unitOf(rest[m-1]) > 0 && rest[m-2].text != "for" { // 3 s after
				after, main = unitOf(rest[m-1]), main[:len(main)-1]
			}
			word = rest[m].text
			if d, ok := try(rest[m+b.n:], main, b.kind, one); ok {
				d.after = max(d.after, after)
				return d, true
			}
		}
		word = ""
		if m > 1 { // it is lit below 20 lx
			if d, ok := try(rest[m:], rest[:m], "alone", only); ok {
				return d, true
			}
		}
	}
	return draft{}, false
}

// moved reads "pressing B at night lights X": what says when in the middle is said first.
func (p *parser) moved(list []token) (draft, bool) {
	for i := 1; i+2 < len(list); i++ {
		if !slices.Contains([]string{"at", "by", "in", "during", "under", "below", "above"}, list[i].text) {
			continue
		}
		for end := min(len(list)-1, i+6); end > i+1; end-- {
			when, at := list[i:end], 1
			if list[i].text == "under" || list[i].text == "below" || list[i].text == "above" {
				at = 0
			}
			c, ok := p.clause("state", when[at:])
			if !ok || len(c.conds) == 0 || !c.conds[0].ranged {
				continue
			}
			rest := slices.Concat([]token{{text: "while", stem: "while"}}, when[at:], []token{{text: ",", stem: ",", kind: comma}}, list[:i], list[end:])
			if d, ok := p.core(rest); ok {
				return d, true
			}
		}
	}
	return draft{}, false
}

// main reads what is so.
func (p *parser) main(list []token) (draft, bool) {
	out := p.once("main ", list, func() (x reading) {
		x.draft, x.ok = p.mainOf(list)
		return x
	})
	return out.draft, out.ok
}

func (p *parser) mainOf(list []token) (d draft, ok bool) {
	list = trim(list)
	if d, ok = p.onAndOff(list); ok {
		return d, true
	}
	if n := len(list); n > 4 && list[n-3].text == "and" && (list[n-2].text == "stays" || list[n-2].text == "remains") { // goes on and stays on
		if d, ok = p.main(list[:n-3]); ok && d.form == holds {
			d.stays = true
			return d, true
		}
	}
	if rest, l, found := lasting(list); found {
		if d, ok = p.main(rest); ok && d.form == holds && d.press == nil && d.times == (lengths{}) {
			d.times = l
			return d, true
		}
	}
	// For how long.
	for i := 0; i+1 < len(list); i++ {
		if list[i].text == "for" && unitOf(list[i+1]) > 0 && p.r.names(list[:i], isThing) {
			rest := list[i+2:]
			each := len(rest) > 0 && (rest[0].text == "at_a_time" || rest[0].text == "each_time")
			if each {
				rest = rest[1:]
			}
			d, ok = p.main(slices.Concat(list[:i], rest))
			if d.lasts = unitOf(list[i+1]); each {
				d.times, d.lasts = lengths{d.lasts, d.lasts}, 0
			}
			return d, ok
		}
		if (list[i].text == "after" || list[i].text == "later") && i+2 == len(list) && unitOf(list[i+1]) > 0 && i > 0 {
			d, ok = p.main(list[:i])
			d.after = unitOf(list[i+1])
			return d, ok
		}
	}
	for _, read := range []func([]token) (draft, bool){p.limits, p.oneOf, p.inTurn, p.alike, p.turning, p.does, p.states, p.coloured, p.figure, p.noneOf, p.everything, p.prints} {
		if d, ok = read(list); ok {
			return d, true
		}
	}
	if len(p.r.things) == 1 && len(list) > 0 && len(p.r.mentions(list, 0, isThing)) == 0 { // blinks
		if d, claim, ok := p.predicate(list, p.r.things); ok && claim != changes && claim != leaves {
			d.things, d.claim = p.r.things, claim
			return d, true
		}
	}
	if d, ok := p.unnamed(list); ok {
		return d, true
	}
	return p.both(list)
}

func (p phrases) begins(list []token) bool { return len(p.ends(list)) > 0 }
