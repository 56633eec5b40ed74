package should

import (
	"math"
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

// A claimed is a claim of a kind of thing, with the ways in which it is said.
type claimed struct {
	claim claim
	said  phrases
}

// claimsOf lists what things of a kind do.
var claimsOf = func() map[bench.RowKind][]claimed {
	out := map[bench.RowKind][]claimed{}
	for kind, list := range words.Claims {
		for c := lit; c <= leaves; c++ {
			if said, ok := list[c.word()]; ok {
				out[bench.RowKind(kind)] = append(out[bench.RowKind(kind)], claimed{c, stems(said)})
			}
		}
	}
	return out
}()

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
	tried int
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
	const most = 3000 // ways of taking a sentence apart; one that people say takes some hundred
	if p.tried++; p.tried > most {
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

// both reads "X is lit and Y sounds", each with all its words.
func (p *parser) both(list []token) (d draft, ok bool) {
	for i := 1; i+1 < len(list); i++ {
		if list[i].text != "and" && list[i].kind != comma {
			continue
		}
		first, ok := p.states(trim(list[:i]))
		if !ok {
			continue
		}
		rest, ok := p.states(trim(list[i+1:]))
		if !ok {
			rest, ok = p.both(trim(list[i+1:]))
		}
		if ok {
			first.and = &rest
			return first, true
		}
	}
	return d, false
}

// onAndOff reads "X is on for 1 s and off for 1 s".
func (p *parser) onAndOff(list []token) (draft, bool) {
	for _, m := range p.r.lists(list, 0, isThing) {
		rest, things := list[m.end:], thingsOf(m.items)
		if n := len(rest); n < 6 || rest[n-2].text != "for" || unitOf(rest[n-1]) == 0 {
			continue
		}
		k := slices.IndexFunc(rest, func(t token) bool { return t.text == "for" })
		if k+2 >= len(rest)-2 || rest[k+2].text != "and" && rest[k+2].kind != comma || unitOf(rest[k+1]) == 0 {
			continue
		}
		_, a, ok := p.predicate(rest[:k], things)
		_, b, also := p.predicate(trim(rest[k+3:len(rest)-2]), things)
		if o, opposed := opposite(a); ok && also && opposed && o == b && things[0].kind == bench.LampRow {
			return draft{things: things, claim: blinks, hertz: 1 / (unitOf(rest[k+1]) + unitOf(rest[len(rest)-1])).Seconds()}, true
		}
	}
	return draft{}, false
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

func (p *parser) limits(list []token) (draft, bool) {
	return draft{form: limits}, stemmed.limits.is(list)
}

// oneOf reads "X and Y light one at a time", "only one lamp is lit at a time", "no two lamps are lit together".
func (p *parser) oneOf(list []token) (draft, bool) {
	d := draft{form: oneOf}
	lit := func(rest []token) bool { // "is lit", with what says that it is at a time
		var left []token
		for _, t := range rest {
			switch t.text {
			case "at_a_time", "at_once", "together", "at_any_time", "ever", "simultaneously", "at", "any", "moment", "given":
			default:
				left = append(left, t)
			}
		}
		if len(left) == 0 && len(rest) > 0 { // never two lamps at once
			return true
		}
		_, claim, ok := p.predicate(left, []thing{{kind: bench.LampRow}})
		return ok && claim == 0
	}
	for _, begin := range [][]string{{"exactly_one", "of"}, {"exactly_one"}, {"be", "not", "two"}, {"be", "one", "of"}, {"be", "one"}, {"be", "exactly_one", "of"}, {"be", "exactly_one"}, {"only", "one", "of"}, {"only", "one"}, {"at", "most", "one", "of"}, {"at", "most", "one"}, {"no", "two"}, {"not", "two"}, {"not", "more", "than", "one"}, {"be", "not", "more", "than", "one"}, {"no", "more", "than", "one", "of"}, {"no", "more", "than", "one"}, {"not", "more", "than", "one", "of"}} {
		if len(list) <= len(begin) || slices.ContainsFunc(begin, func(w string) bool { i := slices.Index(begin, w); return list[i].text != w && list[i].stem != w }) {
			continue
		}
		d.one = begin[0] == "exactly_one" || begin[0] == "be" && begin[1] != "not"
		for _, m := range p.r.lists(list, len(begin), isThing) {
			rest := list[m.end:]
			all := m.items
			if len(all) == 1 { // "one lamp"
				if many := p.r.meant(stemsOf(list[len(begin):m.end]), true, isThing); len(many) > 1 {
					all = many
				}
			}
			if len(all) > 1 && lit(rest) {
				d.things = thingsOf(all)
				return d, p.lamps(d.things)
			}
		}
		if many := p.r.meant(stemsOf(list[len(begin):len(begin)+1]), true, isThing); len(many) > 1 && lit(list[len(begin)+1:]) { // "one lamp"
			d.things = thingsOf(many)
			return d, p.lamps(d.things)
		}
		for end := len(list) - 1; end > len(begin); end-- { // "one team lamp"
			if many := p.r.meant(stemsOf(list[len(begin):end]), true, isThing); len(many) > 1 && lit(list[end:]) {
				d.things = thingsOf(many)
				return d, p.lamps(d.things)
			}
		}
	}
	d.one = false
	for _, m := range p.r.lists(list, 0, isThing) {
		rest := slices.DeleteFunc(slices.Clone(list[m.end:]), func(t token) bool { return t.stem == "be" })
		if len(m.items) < 2 || m.none {
			if len(m.items) == 1 && stemmed.one.is(rest) {
				p.wrong("there are not two lamps in it")
			}
			continue
		}
		if stemmed.one.is(rest) {
			d.things = thingsOf(m.items)
			return d, p.lamps(d.things)
		}
	}
	return d, false
}

func stemsOf(list []token) (out []string) {
	for _, t := range list {
		if t.text != "of" && t.text != "'s" {
			out = append(out, t.stem)
		}
	}
	return out
}

func (p *parser) lamps(things []thing) bool {
	for _, x := range things {
		if x.kind != bench.LampRow {
			p.wrong("%q is no lamp", x.name)
			return false
		}
	}
	return true
}

// alike reads "X and Y light together".
func (p *parser) alike(list []token) (draft, bool) {
	d := draft{form: alike}
	for _, m := range p.r.lists(list, 0, isThing) {
		rest := slices.DeleteFunc(slices.Clone(list[m.end:]), func(t token) bool { return t.stem == "be" })
		if len(m.items) > 1 && !m.none && stemmed.together.is(rest) {
			d.things = thingsOf(m.items)
			return d, p.lamps(d.things)
		}
	}
	return d, false
}

// states reads "X is lit", "no lamp blinks", "X and Y are at least at 30 %".
func (p *parser) states(list []token) (draft, bool) {
	for len(list) > 1 && (list[0].stem == "be" || list[0].text == "brightness" || list[0].text == "of") { // there is no light, the brightness of X rises
		list = list[1:]
	}
	for _, m := range p.r.lists(list, 0, isThing) {
		things := thingsOf(m.items)
		if m.any && len(things) > 1 {
			continue
		}
		p.far = things[0]
		rest := list[m.end:]
		for len(rest) > 1 && (rest[0].text == "'s" || rest[0].text == "brightness" || rest[0].kind == comma) {
			rest = rest[1:]
		}
		if m.none && len(rest) == 0 { // no alarm
			c, ok := did("off", things)
			return draft{things: things, claim: c}, ok
		}
		if m.none {
			rest = slices.Concat([]token{{text: "not", stem: "not"}}, rest)
		}
		if d, claim, ok := p.predicate(rest, things); ok {
			d.things, d.claim = things, claim
			return d, true
		}
	}
	return draft{}, false
}

// opposite is the claim that something is not so; false where that says too little.
func opposite(c claim) (claim, bool) {
	switch c {
	case lit:
		return dark, true
	case dark:
		return lit, true
	case sounds:
		return silent, true
	case silent:
		return sounds, true
	case runs:
		return rests, true
	case rests:
		return runs, true
	case changes:
		return leaves, true
	}
	return c, false
}

// predicate reads what things do, to the end.
func (p *parser) predicate(list []token, things []thing) (d draft, c claim, ok bool) {
	not := false
	for len(list) > 0 && (list[0].stem == "be" || list[0].stem == "not" || list[0].text == "all" || list[0].text == "both" || list[0].text == "ever") {
		not = not != (list[0].stem == "not")
		list = list[1:]
	}
	if not && len(list) > 1 && list[0].stem == "stop" { // it never stops blinking
		not, list = false, list[1:]
	}
	// How fast, or at which tone.
	var left []token
	for i := 0; i < len(list); i++ {
		if t := list[i]; t.kind == number && t.unit == "hz" {
			d.hertz = t.number
			if n := len(left); n > 0 && (left[n-1].text == "at" || left[n-1].text == "with" || left[n-1].text == "of") {
				left = left[:n-1]
			}
			continue
		}
		left = append(left, list[i])
	}
	list = left
	for _, x := range things {
		if x.kind != things[0].kind {
			return d, c, false
		}
	}
	for _, x := range claimsOf[things[0].kind] {
		if !x.said.is(list) {
			continue
		}
		c, ok = x.claim, true
		if not {
			c, ok = opposite(c)
		}
		if ok && d.hertz > 0 && c != blinks && c != sounds {
			return d, c, false
		}
		return d, c, ok
	}
	if stemmed.unchanged.is(list) && !not {
		return d, leaves, true
	}
	if stemmed.changes.is(list) {
		if not {
			return d, leaves, true
		}
		return d, changes, true
	}
	if things[0].kind == bench.LampRow && !not {
		if low, high, ok := share(list); ok {
			d.low, d.high = low, high
			return d, bright, true
		}
	}
	return d, c, false
}

// share reads how bright something is: "at 50 %", "above 30 % bright".
func share(list []token) (low, high float64, ok bool) {
	for len(list) > 0 && (list[len(list)-1].stem == "bright" || list[len(list)-1].text == "brightness" || list[len(list)-1].text == "of" || list[len(list)-1].text == "full") {
		list = list[:len(list)-1]
	}
	if len(list) < 2 || list[len(list)-1].kind != number {
		return 0, 0, false
	}
	v := list[len(list)-1]
	switch {
	case v.unit == "%":
	case v.text == "half":
		v.number = 50
	default:
		return 0, 0, false
	}
	if v.number < 0 || v.number > 100 {
		return 0, 0, false
	}
	how := list[:len(list)-1]
	for len(how) > 1 && (how[0].text == "at" && how[1].text != "least" && how[1].text != "most" || stemmed.toLevel.is(how[:1])) {
		how = how[1:]
	}
	switch {
	case len(how) == 1 && how[0].text == "at":
		return math.Max(0, v.number-10), math.Min(100, v.number+10), true
	case stemmed.above.is(how):
		return v.number, 100, true
	case stemmed.below.is(how):
		return 0, v.number, true
	}
	return 0, 0, false
}

// subject lists who does something to things: a press, or what is so meanwhile.
func (p *parser) subject(list []token) (out []struct {
	end int
	clause
}) {
	add := func(end int, c clause) {
		out = append(out, struct {
			end int
			clause
		}{end, c})
	}
	for end := len(list) - 1; end > 0; end-- {
		if c, ok := p.clause("event", list[:end]); ok && (c.press != nil || len(c.conds) > 0) && !slices.ContainsFunc(c.conds, func(x cond) bool { return x.thing != nil }) {
			add(end, c)
		}
	}
	for _, m := range p.r.mentions(list, 0, isHand) { // the button alone
		if h := m.items[0].hand; len(m.items) == 1 && (h.Kind == bench.Presses || h.Kind == bench.Switches) {
			add(m.end, clause{press: &doing{hand: *h}})
		}
	}
	for _, k := range p.r.keys(list, 0) {
		add(k.end, clause{press: &doing{hand: k.hand, key: k.key}})
	}
	if h, ok := p.r.onlyPressed(); ok && len(list) > 1 && h.Kind == bench.Presses { // each press toggles
		for n := range 3 {
			if n < len(list) && stemmed.press.is(list[n:n+1]) && n <= 1 && (n == 0 || list[0].text == "each" || list[0].text == "every") {
				end := n + 1
				if end < len(list) && list[end].text == "it" {
					end++
				}
				add(end, clause{press: &doing{hand: h}})
			}
		}
	}
	return out
}

// does reads what a press, or a hand held, does to things: "each press of B lights X".
func (p *parser) does(list []token) (draft, bool) {
	for _, s := range p.subject(list) {
		rest := list[s.end:]
		if len(rest) < 2 {
			continue
		}
		d := draft{press: s.press, conds: s.conds, within: s.held}
		// makes, keeps X lit
		if rest[0].stem == "make" || rest[0].stem == "be" || rest[0].stem == "caus" || rest[0].stem == "bring" || rest[0].stem == "take" || rest[0].kind == comma || rest[0].text == "and" {
			if x, ok := p.states(trim(rest[1:])); ok {
				x.press, x.conds, x.within = d.press, d.conds, max(d.within, x.within)
				return x, true
			}
		}
		for _, what := range []string{"leaves", "changes", "rises", "falls", "on", "off"} {
			said := stemmed.does[what]
			for _, one := range said {
				for split := len(one); split > 0; split-- { // turns on X, turns X on
					verb, tail := one[:split], one[split:]
					if !(phrases{verb}).begins(rest) || p.named(rest) > 1 { // "stop request lamp" begins with no verb
						continue
					}
					for _, m := range p.r.lists(rest, split, isThing) {
						if after := rest[m.end:]; m.any || m.none || !(len(tail) == 0 && len(after) == 0 || len(tail) > 0 && (phrases{tail}).is(after)) {
							continue
						}
						d.things = thingsOf(m.items)
						c, ok := did(what, d.things)
						if !ok {
							continue
						}
						d.claim = c
						return d, true
					}
				}
			}
		}
		if n := len(rest); rest[0].stem == "leav" && n > 3 && text(rest[n-3:]) == "as it is" || rest[0].stem == "leav" && n > 3 && text(rest[n-3:]) == "as they are" {
			for _, m := range p.r.lists(rest, 1, isThing) {
				if m.end == n-3 {
					d.things, d.claim = thingsOf(m.items), leaves
					return d, true
				}
			}
		}
	}
	return p.passive(list)
}

// named is how many tokens the longest name of a thing takes that a text begins with, word by
// word its own.
func (p *parser) named(list []token) int {
	for _, m := range p.r.mentions(list, 0, isThing) {
		if slices.Contains(m.items[0].name, list[0].stem) {
			return m.end
		}
	}
	return 0
}

func (p phrases) begins(list []token) bool { return len(p.ends(list)) > 0 }

// did is the claim of what is done to things.
func did(what string, things []thing) (claim, bool) {
	on := map[bench.RowKind][2]claim{bench.LampRow: {lit, dark}, bench.SoundRow: {sounds, silent}, bench.LoadRow: {runs, rests}}[things[0].kind]
	for _, x := range things {
		if x.kind != things[0].kind {
			return 0, false
		}
	}
	switch what {
	case "on":
		return on[0], true
	case "off":
		return on[1], true
	case "changes":
		return changes, true
	case "rises":
		return rises, things[0].kind == bench.LampRow
	case "falls":
		return falls, things[0].kind == bench.LampRow
	}
	return leaves, true
}

// passive reads "X is toggled by B", "X does not react to B", "X shows whether …".
func (p *parser) passive(list []token) (draft, bool) {
	for _, m := range p.r.lists(list, 0, isThing) {
		rest := list[m.end:]
		if len(rest) > 2 && rest[0].stem == "show" {
			c, ok := did("on", thingsOf(m.items))
			at, only := 1, false
			if rest[1].text == "whether" || rest[1].text == "if" || rest[1].text == "when" {
				at, only = 2, true
			}
			if conds, read := p.conds(rest[at:]); read && ok {
				return draft{things: thingsOf(m.items), claim: c, conds: conds, only: only}, true
			}
		}
		if len(rest) > 1 && rest[0].stem == "follow" { // the button: lit while it is pressed, and else dark
			c, ok := did("on", thingsOf(m.items))
			for _, h := range p.r.mentions(rest, 1, isHand) {
				if ok && h.end == len(rest) && len(h.items) == 1 && h.items[0].hand.Kind == bench.Presses {
					return draft{things: thingsOf(m.items), claim: c, only: true, conds: []cond{{hand: *h.items[0].hand, on: true}}}, true
				}
			}
		}
		if to := slices.IndexFunc(rest, func(t token) bool { return t.stem == "react" || t.stem == "depend" || t.stem == "independ" }); to >= 0 && to+1 < len(rest) {
			not := slices.ContainsFunc(rest[:to], func(t token) bool { return t.stem == "not" }) != (rest[to].stem == "independ")
			at := to + 1
			for at < len(rest) && (rest[at].text == "on" || rest[at].text == "of" || rest[at].text == "to") {
				at++
			}
			for _, h := range p.r.mentions(rest, at, isHand) {
				if not && to <= 1 && h.end == len(rest) && len(h.items) == 1 && h.items[0].hand.Kind == bench.Presses {
					return draft{things: thingsOf(m.items), claim: leaves, press: &doing{hand: *h.items[0].hand}}, true
				}
			}
		}
		if len(rest) < 4 || rest[0].stem != "be" || m.none || m.any {
			continue
		}
		for what, said := range stemmed.does {
			for _, n := range said.ends(rest[1:]) {
				by := rest[1+n:]
				if len(by) < 2 || by[0].text != "by" && by[0].text != "with" && by[0].text != "from" {
					continue
				}
				for _, s := range p.subject(append(slices.Clone(by[1:]), token{kind: comma, text: ","})) {
					if s.end != len(by)-1 {
						continue
					}
					d := draft{press: s.press, conds: s.conds, things: thingsOf(m.items)}
					c, ok := did(what, d.things)
					d.claim = c
					return d, ok
				}
			}
		}
	}
	return draft{}, false
}
