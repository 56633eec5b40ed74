package should

import (
	"math"
	"slices"

	"cablaggio/core/running/bench"
)

// A claimed is a claim of a kind of thing, with the ways in which it is said.
type claimed struct {
	claim claim
	said  phrases
}

// claimsOf lists what things of a kind do.
var claimsOf = func() map[bench.RowKind][]claimed {
	out := map[bench.RowKind][]claimed{}
	for kind, list := range words.Claims {
		for c := lit; c <= undark; c++ {
			if said, ok := list[c.word()]; ok {
				out[bench.RowKind(kind)] = append(out[bench.RowKind(kind)], claimed{c, stems(said)})
			}
		}
	}
	return out
}()

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
	if n := len(list); n >= 4 && len(p.r.things) == 1 && !slices.ContainsFunc(list, func(t token) bool { return t.text == "for" }) { // on 1 s, off 1 s
		var with []token
		for i, t := range list {
			switch {
			case unitOf(t) > 0 && i+1 < len(list) && list[i+1].kind == plainWord && list[i+1].text != "and": // 0.5 s on
				continue
			case unitOf(t) > 0:
				with = append(with, token{text: "for", stem: "for"}, t)
			case i > 0 && unitOf(list[i-1]) > 0 && t.text != "and" && t.kind == plainWord:
				with = append(with, t, token{text: "for", stem: "for"}, list[i-1])
			default:
				with = append(with, t)
			}
		}
		if with[0].kind == comma {
			with = with[1:]
		}
		for i := 1; i < len(with); i++ { // firefly: on 1 s
			if with[i].kind == comma && i < 4 && !slices.ContainsFunc(with[:i], func(t token) bool { return t.text == "for" }) {
				with = slices.Delete(slices.Clone(with), i, i+1)
				break
			}
		}
		if with[0].text != "it" && len(p.r.mentions(with, 0, isThing)) == 0 {
			with = slices.Concat([]token{{text: "it", stem: "it"}}, with)
		}
		if len(with) > n+1 {
			return p.onAndOff(with)
		}
	}
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
		is, not := unitOf(rest[k+1]), unitOf(rest[len(rest)-1])
		if o, opposed := opposite(a); ok && also && opposed && o == b && things[0].kind == bench.LampRow {
			d := draft{things: things, claim: blinks, hertz: 1 / (is + not).Seconds(), litFor: is}
			if a == dark {
				d.litFor = not
			}
			return d, true
		}
	}
	return draft{}, false
}

// states reads "X is lit", "no lamp blinks", "X and Y are at least at 30 %".
func (p *parser) states(list []token) (draft, bool) {
	out := p.once("states ", list, func() (x reading) {
		x.draft, x.ok = p.statesOf(list)
		return x
	})
	return out.draft, out.ok
}

func (p *parser) statesOf(list []token) (draft, bool) {
	at := 0                                                                                               // tokens before the name
	for len(list) > 1 && (list[0].stem == "be" || list[0].text == "brightness" || list[0].text == "of") { // there is no light, the brightness of X rises
		list, at = list[1:], at+1
	}
	if at > 0 && len(p.r.things) == 1 && len(p.r.mentions(list, 0, isThing)) == 0 { // the brightness does not change
		if d, claim, ok := p.predicate(list, p.r.things); ok && claim == leaves {
			d.things, d.claim = p.r.things, claim
			return d, true
		}
	}
	if len(list) > 3 && list[0].text == "both" { // both the lamp and the alarm
		if d, ok := p.states(list[1:]); ok && len(d.things) > 0 && (len(d.things) == 2 || d.and != nil) {
			return d, true
		}
	}
	if nor := slices.IndexFunc(list, func(t token) bool { return t.text == "nor" }); nor > 1 && list[0].text == "neither" {
		both := slices.Clone(list[1:])
		both[nor-1] = token{text: "and", stem: "and"}
		for _, m := range p.r.lists(both, 0, isThing) {
			if d, ok := p.states(slices.Concat(both[:m.end], []token{{text: "not", stem: "not"}}, both[m.end:])); ok && len(m.items) == 2 {
				return d, true
			}
		}
	}
	if len(list) > 2 && list[0].text == "only" {
		return p.onlyThat(list[1:])
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
			if claim == lit && mixes(things) && !slices.ContainsFunc(list[:m.end], func(t token) bool { return t.kind == comma || t.text == "and" }) { // a lamp of several colours is lit in any
				d.form, d.one, d.more = oneOf, true, true
			}
			return d, true
		}
		if len(rest) == 0 && at > 0 && len(things) == 1 && !m.none { // there is an alarm
			c, ok := did("on", things)
			return draft{things: things, claim: c}, ok
		}
		if d, ok := p.mixed(rest, things); ok { // alarm and lamp come on
			return d, true
		}
	}
	return draft{}, false
}

// bare reads a thing alone, behind what says when: "above 30 °C: alarm".
func (p *parser) bare(list []token) (draft, bool) {
	for _, m := range p.r.mentions(list, 0, isThing) {
		if c, ok := did("on", thingsOf(m.items)); ok && m.end == len(list) && len(m.items) == 1 && !m.none && !m.any && slices.Contains(m.items[0].name, list[0].stem) {
			return draft{things: thingsOf(m.items), claim: c}, true
		}
	}
	return draft{}, false
}

// onlyThat reads "only lamp 1 is lit": it is, and no other is.
func (p *parser) onlyThat(list []token) (draft, bool) {
	d, ok := p.states(list)
	c, opposed := opposite(d.claim)
	if !ok || !opposed || d.and != nil || len(d.things) == 0 || d.claim != lit && d.claim != sounds && d.claim != runs {
		return d, false
	}
	others := slices.DeleteFunc(slices.Clone(p.r.things), func(x thing) bool { return x.kind != d.things[0].kind || slices.Contains(d.things, x) })
	if len(others) > 0 {
		d.and = &draft{claim: c, things: others}
	}
	return d, true
}

// mixed reads what things of several kinds do.
func (p *parser) mixed(rest []token, things []thing) (d draft, ok bool) {
	kinds := 0
	for _, of := range ofKinds(things) {
		x, c, read := p.predicate(rest, of)
		if kinds++; !read || kinds > 2 {
			return d, false
		}
		if x.things, x.claim = of, c; kinds == 1 {
			d = x
		} else {
			d.and = &x
		}
	}
	return d, kinds == 2
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
	case blinks:
		return steady, true
	case steady:
		return blinks, true
	}
	return c, false
}

func opposed(a, b claim) bool {
	o, ok := opposite(a)
	return ok && o == b
}

// predicate reads what things do, to the end.
func (p *parser) predicate(list []token, things []thing) (d draft, c claim, ok bool) {
	not := false
	d.stays = len(list) > 0 && slices.Contains([]string{"stay", "stays", "staying", "remain", "remains", "keep", "keeps"}, list[0].text)
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
	if things[0].kind == bench.TurnRow {
		d.low, d.high, ok = angle(list)
		return d, stands, ok && !not && d.hertz == 0
	}
	for _, x := range claimsOf[things[0].kind] {
		if !x.said.is(list) {
			continue
		}
		c, ok = x.claim, true
		if not {
			c, ok = opposite(c)
		}
		if c == sounds && d.hertz > 0 && d.hertz < tone {
			c = blinks
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
	if n := len(list); things[0].kind == bench.LampRow && !not && n > 1 && list[0].kind == number { // half bright
		if low, high, ok := share(append([]token{{text: "at", stem: "at"}}, list...)); ok {
			d.low, d.high = low, high
			return d, bright, true
		}
	}
	if things[0].kind == bench.LampRow && !not {
		if len(list) > 2 && slices.Contains([]string{"shine", "glow", "burn", "light"}, list[0].stem) { // it glows at half
			list = list[1:]
		}
		if low, high, ok := share(list); ok {
			d.low, d.high = low, high
			return d, bright, true
		}
	}
	return d, c, false
}

// angle reads where an arm is sent: "turns to 90 degrees", "at 45°".
func angle(list []token) (low, high float64, ok bool) {
	const within = 5 // degrees to both sides
	for len(list) > 2 && slices.Contains([]string{"turn", "go", "move", "swing", "stand", "point", "rotat", "drive", "rest"}, list[0].stem) {
		list = list[1:]
	}
	if len(list) > 1 && (list[0].text == "at" || list[0].text == "to" || list[0].text == "by") {
		if list[0].text == "by" {
			return 0, 0, false // from where?
		}
		list = list[1:]
	} else if len(list) == 2 && slices.Contains([]string{"turn", "go", "move", "swing", "stand", "point", "rotat", "drive", "rest"}, list[0].stem) { // "to" adds nothing
		list = list[1:]
	}
	if len(list) != 1 || list[0].kind != number || list[0].unit != "°c" && list[0].unit != "" {
		return 0, 0, false
	}
	return list[0].number - within, list[0].number + within, true
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
