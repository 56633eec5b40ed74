package should

import (
	"slices"
	"time"

	"cablaggio/core/running/bench"
)

// stemmed are the words of the grammar as stems.
var stemmed = struct {
	press, hold, release, pressed, up, open, closed, spins, still, above, below, toLevel, most, least, darkness, daylight, cover, limits, one, together, changes, controls, brighter, darker, unchanged phrases
	when                                                                                                                                                                                                map[string]phrases
	does                                                                                                                                                                                                map[string]phrases
}{
	press: stems(words.Press), hold: stems(words.Hold), release: stems(words.Release), pressed: stems(words.Pressed), up: stems(words.Up), open: stems(words.Open), closed: stems(words.Closed),
	spins: stems(words.Spins), still: stems(words.Still), above: stems(words.Above), below: stems(words.Below), toLevel: stems(words.ToLevel), most: stems(words.Most), least: stems(words.Least),
	darkness: stems(words.Darkness), daylight: stems(words.Daylight), cover: stems(words.Cover), limits: stems(words.Limits), one: stems(words.One), together: stems(words.Together), changes: stems(words.Changes),
	controls: stems(words.Controls), brighter: stems(words.Brighter), darker: stems(words.Darker), unchanged: stems(words.Unchanged), when: stemsOfEach(words.When), does: stemsOfEach(words.Does),
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
	typed string
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
	after  time.Duration
	within time.Duration
	hand   bench.Hand // of turning
	back   bool
	text   string // that is printed
	and    *draft // is so, too
	then   *draft // another sentence
	one    bool   // of oneOf: and one always
}

// A parser reads one sentence.
type parser struct {
	r     *Reader
	err   error // what is wrong where words are understood and what they say is not
	tried int   // how many words were looked at
	far   thing // the thing that was named, and what it does was not understood
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
	for len(list) > 0 && (list[len(list)-1].kind == comma || list[len(list)-1].text == "then" || list[len(list)-1].text == "only") {
		list = list[:len(list)-1]
	}
	return list
}

// core reads a sentence: what is so, and before or behind it when.
func (p *parser) core(list []token) (draft, bool) {
	const most = 4000 // words that are looked at; a sentence that people say takes some hundred
	if p.tried += len(list); p.tried > most {
		return draft{}, false
	}
	list = trim(list)
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
		if c.press != nil && d.press != nil || len(c.conds) > 0 && d.press != nil || c.press != nil && len(d.conds) > 0 {
			return d, false
		}
		d.conds = append(c.conds, d.conds...)
		if c.press != nil {
			d.press = c.press
		}
		if c.held > 0 {
			d.within = c.held
		}
		d.after = max(d.after, c.after)
		return d, true
	}
	try := func(when, main []token, kind string, only bool) (draft, bool) {
		c, ok := p.clause(kind, trim(when))
		if !ok || kind == "alone" && slices.ContainsFunc(c.conds, func(x cond) bool { return x.thing != nil }) {
			return draft{}, false
		}
		d, ok := p.core(main)
		if !ok {
			return draft{}, false
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
		if d, ok := lead(rest, b.n, b.kind); ok {
			return d, true
		}
	}
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
			main, one := rest[:m], only || rest[m-1].text == "only"
			if i := slices.IndexFunc(main, func(t token) bool { return t.text == "only" }); i > 0 && !one && len(main) > i+1 {
				main, one = slices.Delete(slices.Clone(main), i, i+1), true
			}
			var after time.Duration
			if b.kind == "event" && m > 1 && rest[m-1].kind == number && unitOf(rest[m-1]) > 0 && rest[m-2].text != "for" { // 3 s after
				after, main = unitOf(rest[m-1]), main[:len(main)-1]
			}
			if d, ok := try(rest[m+b.n:], main, b.kind, one); ok {
				d.after = max(d.after, after)
				return d, true
			}
		}
		if m > 1 { // it is lit below 20 lx
			if d, ok := try(rest[m:], rest[:m], "alone", only); ok {
				return d, true
			}
		}
	}
	return draft{}, false
}

// main reads what is so.
func (p *parser) main(list []token) (d draft, ok bool) {
	list = trim(list)
	if d, ok = p.onAndOff(list); ok {
		return d, true
	}
	// For how long.
	for i := 0; i+1 < len(list); i++ {
		if list[i].text == "for" && unitOf(list[i+1]) > 0 && p.r.names(list[:i], isThing) {
			d, ok = p.main(slices.Concat(list[:i], list[i+2:]))
			d.lasts = unitOf(list[i+1])
			return d, ok
		}
		if (list[i].text == "after" || list[i].text == "later") && i+2 == len(list) && unitOf(list[i+1]) > 0 && i > 0 {
			d, ok = p.main(list[:i])
			d.after = unitOf(list[i+1])
			return d, ok
		}
	}
	for _, read := range []func([]token) (draft, bool){p.limits, p.oneOf, p.alike, p.turning, p.does, p.states, p.prints} {
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
	return p.both(list)
}

// otherwise takes out "…, otherwise it is dark", and says that it was there.
func (p *parser) otherwise(list []token) (main []token, off []token) {
	for i, t := range list {
		if t.text != "otherwise" && t.text != "else" || i == 0 {
			continue
		}
		if i+1 < len(list) {
			return trim(list[:i]), trim(list[i+1:])
		}
		for k := i - 1; k > 0; k-- { // and off otherwise
			if list[k].text == "and" || list[k].kind == comma {
				return trim(list[:k]), trim(list[k+1 : i])
			}
		}
	}
	return list, nil
}

// read reads a sentence, with what is so otherwise.
func (p *parser) read(list []token) (draft, bool) {
	if slices.ContainsFunc(list, func(t token) bool { return t.text == ";" }) {
		return p.two(list)
	}
	if d, ok := p.two(list); ok { // X is lit when …, Y when …
		return d, true
	}
	main, off := p.otherwise(list)
	d, ok := p.core(main)
	if !ok || off == nil {
		return d, ok
	}
	if len(d.things) == 0 || d.and != nil || len(d.conds) == 0 {
		return d, false
	}
	if x, named := p.states(off); named && slices.Equal(x.things, d.things) {
		is, ok := opposite(d.claim)
		d.only = true
		return d, ok && is == x.claim
	}
	if len(off) > 0 && off[0].text == "it" {
		off = off[1:]
	}
	_, c, ok := p.predicate(off, d.things)
	is, opposed := opposite(d.claim)
	d.only = true
	return d, ok && opposed && is == c
}

// two reads "X is lit in the dark and dark in daylight": two sentences about the same things.
func (p *parser) two(list []token) (draft, bool) {
	whens := 0
	for i := range list {
		if len(begins(list[i:])) > 0 || stemmed.above.begins(list[i:]) || stemmed.below.begins(list[i:]) {
			whens++
		}
	}
	if whens < 2 {
		return draft{}, false
	}
	for i := 1; i+1 < len(list); i++ {
		if list[i].text != "and" && list[i].kind != comma && list[i].text != "but" {
			continue
		}
		first, ok := p.core(list[:i])
		if !ok || first.form != holds || len(first.things) == 0 {
			continue
		}
		rest := trim(list[i+1:])
		second, ok := p.core(rest)
		if !ok {
			second, ok = p.core(slices.Concat(p.name(list[:i], first.things), rest))
		}
		if ok && second.form == holds && (len(second.conds) > 0 || second.press != nil) && (len(first.conds) > 0 || first.press != nil) {
			first.then = &second
			return first, true
		}
	}
	return draft{}, false
}

// name is where in a text things are named.
func (p *parser) name(list []token, things []thing) []token {
	for i := range list {
		for _, m := range p.r.lists(list, i, isThing) {
			if slices.Equal(thingsOf(m.items), things) {
				return list[i:m.end]
			}
		}
	}
	return nil
}

func (p phrases) begins(list []token) bool { return len(p.ends(list)) > 0 }
