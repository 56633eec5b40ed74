package should

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"cablaggio/core/running/bench"
)

// A clause says when something is so: while something is, or once something is done.
type clause struct {
	conds []cond
	press *doing
	held  time.Duration // for how long it has been so
	after time.Duration // how long after it
}

// clause reads a clause of a sort, to the end.
func (p *parser) clause(kind string, list []token) (c clause, ok bool) {
	for i := 0; i+1 < len(list); i++ {
		if list[i].text == "for" && unitOf(list[i+1]) > 0 && i > 0 {
			c, ok = p.clause(kind, slices.Concat(list[:i], list[i+2:]))
			c.held = unitOf(list[i+1])
			return c, ok
		}
	}
	if kind == "event" || kind == "alone" || len(list) > 0 && (list[0].text == "each" || list[0].text == "every") {
		if x, ok := p.pressing(list); ok {
			return clause{press: &x}, true
		}
	}
	conds, ok := p.conds(list)
	if !ok {
		return c, false
	}
	switch kind {
	case "event":
		// Each time a button is pressed is once; what stays so is while it does.
		if len(conds) == 1 && conds[0].thing == nil && len(conds[0].any) == 0 && conds[0].on && (conds[0].hand.Kind == bench.Presses || conds[0].hand.Kind == bench.PadOf) && !p.holding(list) {
			return clause{press: &doing{hand: conds[0].hand, key: conds[0].key}}, true
		}
	case "unless":
		if len(conds) != 1 {
			return c, false
		}
		conds[0] = conds[0].negated()
	case "until":
		if len(conds) != 1 {
			return c, false
		}
		conds[0].before = true
	}
	return clause{conds: conds}, true
}

func (p *parser) holding(list []token) bool {
	return slices.ContainsFunc(list, func(t token) bool { return stemmed.hold.is([]token{t}) })
}

// pressing reads what is done once: "pressing B", "each press of B", "typing "on"".
func (p *parser) pressing(list []token) (x doing, ok bool) {
	for len(list) > 1 && (list[0].stem == "somebodi" || list[0].stem == "somebody" || list[0].text == "each" || list[0].text == "every" || list[0].text == "any") {
		list = list[1:]
	}
	if len(list) == 2 && list[1].kind == quoted && (list[0].stem == "type" || list[0].stem == "send" || list[0].stem == "enter" || list[0].stem == "receiv") {
		return doing{typed: list[1].text}, true
	}
	if len(list) == 0 || !stemmed.press.is(list[:1]) && list[0].stem != "type" && list[0].stem != "enter" {
		if k := p.r.keys(list, 0); len(k) > 0 && k[0].end == len(list) { // each key 5 of the pad
			return doing{hand: k[0].hand, key: k[0].key}, true
		}
		return x, false
	}
	rest := list[1:]
	for len(rest) > 0 && (rest[0].text == "of" || rest[0].text == "on" || rest[0].text == "down") {
		rest = rest[1:]
	}
	if len(rest) > 1 && rest[len(rest)-1].text == "down" {
		rest = rest[:len(rest)-1]
	}
	if len(rest) == 0 || len(rest) == 1 && rest[0].text == "it" {
		h, ok := p.r.onlyPressed()
		return doing{hand: h}, ok && h.Kind != bench.PadOf
	}
	for _, k := range p.r.keys(rest, 0) {
		if k.end == len(rest) {
			return doing{hand: k.hand, key: k.key}, true
		}
	}
	if of := slices.IndexFunc(rest, func(t token) bool { return t.text == "of" }); of > 1 && rest[0].text == "key" {
		for _, h := range p.r.hands {
			if h.Kind == bench.PadOf {
				p.wrong("%s has no key %q; it has %s", h.Name, text(rest[1:of]), strings.Join(h.Keys, ", "))
			}
		}
		return x, false
	}
	for _, m := range p.r.mentions(rest, 0, isHand) {
		if m.end != len(rest) || len(m.items) != 1 {
			continue
		}
		switch h := m.items[0].hand; h.Kind {
		case bench.Presses, bench.Switches:
			return doing{hand: *h}, true
		case bench.PadOf:
			p.wrong("which key? As in \"each press of key %s of %s …\"", h.Keys[0], h.Name)
		}
	}
	return x, false
}

// conds reads what is so: one thing, or several with and, or one of several with or.
func (p *parser) conds(list []token) ([]cond, bool) {
	list = trim(list)
	if len(list) == 0 {
		return nil, false
	}
	if one, ok := p.cond(list); ok {
		return one, true
	}
	for i := 1; i+1 < len(list); i++ {
		or := list[i].text == "or"
		if list[i].text != "and" && !or && list[i].kind != comma {
			continue
		}
		first, ok := p.cond(trim(list[:i]))
		if !ok {
			continue
		}
		rest, ok := p.conds(list[i+1:])
		if !ok {
			continue
		}
		if or {
			if len(first) != 1 || len(rest) != 1 {
				continue
			}
			return []cond{either(first[0], rest[0])}, true
		}
		return append(first, rest...), true
	}
	return nil, false
}

func either(a, b cond) cond {
	return cond{any: append(a.alternatives(), b.alternatives()...)}
}

func (c cond) alternatives() []cond {
	if len(c.any) > 0 {
		return c.any
	}
	return []cond{c}
}

// cond reads one thing that is so, to the end.
func (p *parser) cond(list []token) ([]cond, bool) {
	for _, read := range []func([]token) ([]cond, bool){p.light, p.held, p.keyed, p.contact, p.level, p.acting} {
		if out, ok := read(list); ok {
			return out, true
		}
	}
	return nil, false
}

// What is said of the light without a number, and the numbers that are meant: darker than a lit
// street, brighter than a lit room (common practice).
const (
	street = 5    // lx
	room   = 1000 // lx
)

// light reads what is said of the light where there is one sensor of it.
func (p *parser) light(list []token) ([]cond, bool) {
	var sensor *bench.Hand
	for i := range p.r.hands {
		if p.r.hands[i].Unit == "lx" {
			if sensor != nil {
				return nil, false
			}
			sensor = &p.r.hands[i]
		}
	}
	if sensor == nil {
		return nil, false
	}
	rest := list
	for _, m := range p.r.mentions(list, 0, isHand) {
		if m.items[0].hand.Of == sensor.Of && m.end < len(list) {
			rest = list[m.end:]
			break
		}
	}
	if len(rest) > 1 && stemmed.toLevel.is(rest[:1]) {
		rest = rest[1:]
	}
	dark := stemmed.darkness.is(rest) || len(rest) > 1 && rest[0].stem == "be" && stemmed.darkness.is(rest[1:])
	for len(list) > 1 && (list[0].stem == "somebody" || list[0].stem == "somebodi") {
		list = list[1:]
	}
	for _, n := range stemmed.cover.ends(list) {
		for _, m := range p.r.mentions(list, n, isHand) {
			dark = dark || m.end == len(list) && m.items[0].hand.Of == sensor.Of
		}
	}
	switch {
	case dark:
		return []cond{{hand: *sensor, ranged: true, most: street}}, true
	case stemmed.daylight.is(rest) || len(rest) > 1 && rest[0].stem == "be" && stemmed.daylight.is(rest[1:]):
		return []cond{{hand: *sensor, ranged: true, least: room}}, true
	}
	return nil, false
}

// held reads "I press B", "holding B", "nobody presses B", "door 1 opens" with the verb first.
func (p *parser) held(list []token) ([]cond, bool) {
	not := false
	for len(list) > 1 && (list[0].stem == "somebody" || list[0].stem == "somebodi" || list[0].stem == "not" || list[0].stem == "be" || slices.Contains(words.Nobody, list[0].text)) {
		not = not != (list[0].stem == "not" || slices.Contains(words.Nobody, list[0].text))
		list = list[1:]
	}
	if len(list) == 1 && stemmed.press.is(list) && not { // nobody presses
		h, ok := p.r.onlyPressed()
		return []cond{{hand: h}}, ok && h.Kind == bench.Presses
	}
	if len(list) < 2 {
		return nil, false
	}
	if out, ok := p.contact(list); ok && !not { // I keep the button pressed
		return out, true
	}
	var on bool
	switch {
	case stemmed.press.is(list[:1]) || stemmed.hold.is(list[:1]):
		on = true
	case stemmed.release.is(list[:1]) || list[0].stem == "open":
	case list[0].stem == "close" || list[0].stem == "shut":
		on = true
	default:
		return nil, false
	}
	contact := list[0].stem == "open" || list[0].stem == "close" || list[0].stem == "shut"
	rest := list[1:]
	if len(rest) > 1 && (rest[len(rest)-1].text == "down" || rest[len(rest)-1].text == "pressed") {
		rest = rest[:len(rest)-1]
	}
	if len(rest) > 1 && rest[0].text == "down" {
		rest = rest[1:]
	}
	for _, k := range p.r.keys(rest, 0) {
		if k.end == len(rest) {
			return []cond{{hand: k.hand, key: k.key, on: on != not, not: on == not}}, on != not
		}
	}
	if len(rest) == 1 && rest[0].text == "it" {
		if h, ok := p.r.onlyPressed(); ok && h.Kind == bench.Presses {
			return []cond{{hand: h, on: on != not}}, true
		}
	}
	for _, m := range p.r.lists(rest, 0, isHand) {
		if m.end != len(rest) {
			continue
		}
		var out []cond
		for _, x := range m.items {
			if x.hand.Kind != bench.Switches && (x.hand.Kind != bench.Presses || contact) {
				return nil, false
			}
			out = append(out, cond{hand: *x.hand, on: on != not})
		}
		return many(out, m, not)
	}
	return nil, false
}

// many are conditions of several hands: all of them, or any.
func many(list []cond, m mention, not bool) ([]cond, bool) {
	switch {
	case m.none: // no button is pressed
		for i := range list {
			list[i] = list[i].negated()
		}
		return list, !not
	case m.any && len(list) > 1:
		return []cond{{any: list}}, !not
	}
	return list, true
}

// keyed reads "key 5 of the keypad is pressed".
func (p *parser) keyed(list []token) ([]cond, bool) {
	for _, k := range p.r.keys(list, 0) {
		rest := list[k.end:]
		for len(rest) > 0 && rest[0].stem == "be" {
			rest = rest[1:]
		}
		if stemmed.pressed.is(rest) {
			return []cond{{hand: k.hand, key: k.key, on: true}}, true
		}
	}
	return nil, false
}

// contact reads "B is pressed", "doors 1 and 2 are open", "no button is pressed", "B pressed".
func (p *parser) contact(list []token) ([]cond, bool) {
	for _, m := range p.r.lists(list, 0, isHand) {
		rest, not := list[m.end:], false
		for len(rest) > 0 && (rest[0].stem == "be" || rest[0].stem == "not" || rest[0].text == "both" || rest[0].text == "all") {
			not = not != (rest[0].stem == "not")
			rest = rest[1:]
		}
		if len(rest) == 0 {
			continue
		}
		var out []cond
		for _, x := range m.items {
			c, ok := p.way(*x.hand, rest)
			if !ok {
				break
			}
			if not {
				c = c.negated()
			}
			out = append(out, c)
		}
		if len(out) == len(m.items) {
			return many(out, m, not)
		}
	}
	return nil, false
}

// way reads in which of its two ways a contact is, or that a wheel spins.
func (p *parser) way(h bench.Hand, rest []token) (c cond, ok bool) {
	own := func(s string) phrases { return p.r.ways[s] }
	switch h.Kind {
	case bench.Presses:
		switch {
		case stemmed.pressed.is(rest) || own(h.On).is(rest):
			return cond{hand: h, on: true}, true
		case stemmed.up.is(rest) || own(h.Off).is(rest) || stemmed.release.is(rest):
			return cond{hand: h}, true
		}
	case bench.Switches:
		switch {
		case own(h.On).is(rest) || stemmed.closed.is(rest) || own(h.On).has(rest):
			return cond{hand: h, on: true}, true
		case own(h.Off).is(rest) || stemmed.open.is(rest) || own(h.Off).has(rest):
			return cond{hand: h}, true
		}
	case bench.Spins:
		switch {
		case stemmed.spins.is(rest):
			return cond{hand: h, ranged: true, least: h.Most / 100}, true
		case stemmed.still.is(rest):
			return cond{hand: h, ranged: true, most: h.Most / 100}, true
		}
	case bench.PadOf:
		if stemmed.pressed.is(rest) {
			p.wrong("which key? As in \"while key %s of %s is pressed, …\"", h.Keys[0], h.Name)
		}
	}
	return c, false
}

// has reports whether a single word is the first of a phrase: "the float hangs" of "hanging".
func (p phrases) has(list []token) bool {
	return len(list) == 1 && len(p) > 0 && p[0][0] == list[0].stem && list[0].kind == plainWord
}

// level reads "thermometer is above 30 °C", "below 20 lx", "the knob is all the way up", "the soil is dry".
func (p *parser) level(list []token) ([]cond, bool) {
	at := 0
	for at < len(list) && (list[at].text == "it" || list[at].stem == "be" || list[at].text == "temperature") {
		at++
	}
	if at < len(list) && at > 0 {
		if out, ok := p.within(nil, list[at:]); ok {
			return out, true
		}
	}
	if out, ok := p.within(nil, list); ok {
		return out, true
	}
	var by []cond // in a lit room: of the one thing that has such a level
	n := 0
	for _, h := range p.r.hands {
		if c, ok := p.called(h, list); ok && h.Kind == bench.Levels && len(list) > 1 {
			by, n = c, n+1
		}
	}
	if n == 1 {
		return by, true
	}
	for _, m := range p.r.lists(list, 0, isHand) {
		rest := list[m.end:]
		var out []cond
		for _, x := range m.items {
			h := *x.hand
			if h.Kind != bench.Levels && h.Kind != bench.Spins {
				break
			}
			c, ok := p.within(&h, rest)
			if !ok {
				break
			}
			out = append(out, c...)
		}
		if len(out) >= len(m.items) {
			return out, true
		}
	}
	// Turned with the verb first: "turning the knob all the way up", and "below 10 % of the knob",
	// "at the end of the knob", "at full dimmer".
	for i := range list {
		for _, m := range p.r.mentions(list, i, isHand) {
			if len(m.items) != 1 || m.items[0].hand.Kind != bench.Levels || i == 0 {
				continue
			}
			before, h := list[:i], m.items[0].hand
			for n := len(before); n > 0 && (before[n-1].text == "of" || before[n-1].text == "on" || before[n-1].text == "at" || before[n-1].stem == "fall" || before[n-1].stem == "reach"); n = len(before) {
				before = before[:len(before)-1]
			}
			turned := len(before) > 0 && (before[0].stem == "turn" || before[0].stem == "move" || before[0].stem == "set" || before[0].stem == "slide")
			if turned {
				before = before[1:]
			}
			rest := slices.Concat(before, list[m.end:])
			if out, ok := p.within(h, rest); ok {
				return out, true
			}
			if len(rest) > 0 && (stemmed.most.is(append([]token{{text: "at", stem: "at"}}, rest...)) || rest[0].text == "maximum" && len(rest) == 1) {
				return []cond{{hand: *h, ranged: true, least: h.Least + 0.98*(h.Most-h.Least)}}, true
			}
		}
	}
	return nil, false
}

// within reads where a level is; without a hand it is that of the only one with the unit.
func (p *parser) within(h *bench.Hand, rest []token) ([]cond, bool) {
	not := false
	for len(rest) > 0 && (rest[0].stem == "be" || rest[0].stem == "not" || len(rest) > 1 && stemmed.toLevel.is(rest[:1]) || rest[0].text == "to" || rest[0].text == "only") {
		if h != nil && (stemmed.most.is(rest) || stemmed.least.is(rest)) {
			break
		}
		not = not != (rest[0].stem == "not")
		rest = rest[1:]
	}
	if h != nil && h.Kind == bench.Levels && !not {
		span := h.Most - h.Least
		switch {
		case h.Unit == turns && stemmed.most.is(rest):
			return []cond{{hand: *h, ranged: true, least: h.Least + 0.98*span}}, true
		case h.Unit == turns && stemmed.least.is(rest):
			return []cond{{hand: *h, ranged: true, most: h.Least + 0.02*span}}, true
		}
		if c, ok := p.called(*h, rest); ok {
			return c, true
		}
	}
	if len(rest) == 4 && rest[0].text == "between" && rest[1].kind == number && rest[2].text == "and" && rest[3].kind == number {
		low, high := rest[1], rest[3]
		if low.unit == "" {
			low.unit = high.unit
		}
		a, ok := p.limit(h, low, true)
		b, also := p.limit(h, high, false)
		return []cond{a, b}, ok && also && !not
	}
	if h != nil && h.Unit == turns && len(rest) == 2 && rest[0].text == "at" && rest[1].kind == number && (rest[1].unit == "%" || rest[1].text == "half") && !not {
		v := rest[1].number // at 50 %, give or take a twentieth of its way
		if rest[1].unit == "%" {
			v /= 100
		}
		switch {
		case v >= 0.98 && v <= 1:
			return []cond{{hand: *h, ranged: true, least: h.Least + 0.98*(h.Most-h.Least)}}, true
		case v >= 0 && v <= 0.02:
			return []cond{{hand: *h, ranged: true, most: h.Least + 0.02*(h.Most-h.Least)}}, true
		case v > 0 && v < 1:
			return []cond{{hand: *h, ranged: true, least: max(0.02, v-0.05)}, {hand: *h, ranged: true, most: min(0.98, v+0.05)}}, true
		}
	}
	if len(rest) == 2 && rest[0].text == "at" && rest[1].kind == number && rest[1].unit != "" && rest[1].unit != "hz" {
		p.wrong("say above or below which number, as in \"above %g %s\"", rest[1].number, strings.Replace(rest[1].unit, "°c", "°C", 1))
	}
	for _, way := range []struct {
		said  phrases
		above bool
	}{{stemmed.above, true}, {stemmed.below, false}} {
		for _, n := range way.said.ends(rest) {
			if n+1 == len(rest) && rest[n].kind == number {
				c, ok := p.limit(h, rest[n], way.above != not)
				return []cond{c}, ok
			}
		}
	}
	return nil, false
}

// called reads a level by a name that it has: "in dry soil".
func (p *parser) called(h bench.Hand, rest []token) ([]cond, bool) {
	found := -1
	for i, name := range h.Names {
		has := p.r.levels[name]
		all := len(rest) > 0 && !slices.ContainsFunc(rest, func(t token) bool { return !slices.Contains(has, t.stem) || t.kind == number })
		if whole := len(rest) == len(has); all && (found < 0 || whole) {
			if found >= 0 && !whole {
				return nil, false
			}
			found = i
		} else if all && !whole {
			return nil, false
		}
	}
	if found < 0 || len(h.At) != len(h.Names) || h.Unit == turns || len(rest) == 1 && (rest[0].text == "in" || rest[0].text == "at") {
		return nil, false
	}
	mid := func(a, b float64) float64 {
		if h.Log {
			return math.Sqrt(a * b)
		}
		return (a + b) / 2
	}
	var out []cond
	for i := range h.At {
		if i != found-1 && i != found+1 {
			continue
		}
		c := cond{hand: h, ranged: true, called: true}
		if m := mid(h.At[i], h.At[found]); h.At[i] < h.At[found] {
			c.least = m
		} else {
			c.most = m
		}
		c.name, _, _ = strings.Cut(h.Names[found], " (")
		out = append(out, c)
	}
	return out, len(out) > 0
}

// limit is a condition above or below a number.
func (p *parser) limit(h *bench.Hand, n token, above bool) (c cond, ok bool) {
	unit, v := n.unit, n.number
	if h == nil {
		if unit == "" {
			return c, false
		}
		var of []bench.Hand
		for _, x := range p.r.hands {
			if (x.Kind == bench.Levels || x.Kind == bench.Spins) && strings.EqualFold(x.Unit, unit) {
				of = append(of, x)
			}
		}
		if len(of) != 1 {
			shown := strings.Replace(unit, "°c", "°C", 1)
			p.wrong("%d things here are measured in %q; name the one, as in \"while dusk sensor is below 20 lx, …\"", len(of), shown)
			return c, false
		}
		h = &of[0]
	}
	switch {
	case h.Unit == turns && (unit == "%" || n.text == "half"):
		if unit == "%" {
			v /= 100
		}
	case unit != "" && !strings.EqualFold(unit, h.Unit):
		p.wrong("%s is not in %s; it is in %s", h.Name, strings.Replace(unit, "°c", "°C", 1), or(strings.Replace(h.Unit, turns, "% of its way", 1), "no unit"))
		return c, false
	}
	if v < h.Least || v > h.Most {
		p.wrong("%s goes from %g to %g %s", h.Name, h.Least, h.Most, h.Unit)
		return c, false
	}
	c = cond{hand: *h, ranged: true}
	if c.most = v; above {
		c.least, c.most = v, 0
	}
	return c, true
}

func or(a, b string) string {
	if a != "" {
		return a
	}
	return b
}

// acting reads what things do: "lamp 1 is lit".
func (p *parser) acting(list []token) ([]cond, bool) {
	d, ok := p.states(list)
	if !ok || d.hertz > 0 {
		return nil, false
	}
	switch d.claim {
	case lit, dark, sounds, silent, runs, rests:
	default:
		return nil, false
	}
	var out []cond
	for i := range d.things {
		out = append(out, cond{thing: &d.things[i], claim: d.claim})
	}
	return out, true
}

// wrong keeps what is wrong: what was found first, of the longest reading, says most.
func (p *parser) wrong(right string, args ...any) {
	if p.err == nil {
		p.err = fmt.Errorf(right, args...)
	}
}
