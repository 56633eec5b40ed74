package should

import (
	"math"
	"slices"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/running/bench"
)

// What is said of the light without a number, and the numbers that are meant: darker than a lit
// street, brighter than a lit room (common practice).
const (
	street = 5    // lx
	room   = 1000 // lx

	// What nobody calls dark, and what nobody calls daylight.
	indoors = 500 // lx: a desk under its lamp
	evening = 50  // lx: a living room
)

// lightSensor is the one sensor of light, or the one that is named.
func (p *parser) lightSensor(list []token) *bench.Hand {
	var all []*bench.Hand
	for i := range p.r.hands {
		if p.r.hands[i].Unit == "lx" {
			all = append(all, &p.r.hands[i])
		}
	}
	if len(all) == 1 {
		return all[0]
	}
	for at := range list {
		for _, m := range p.r.mentions(list, at, isHand) {
			if len(m.items) == 1 && m.items[0].hand.Unit == "lx" {
				return m.items[0].hand
			}
		}
	}
	return nil
}

// light reads what is said of the light where there is one sensor of it.
func (p *parser) light(list []token) ([]cond, bool) {
	sensor := p.lightSensor(list)
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
		for n+1 < len(list) && (list[n].text == "light" || list[n].text == "from" || list[n].text == "to" || list[n].text == "of") { // blocking the light from the sensor
			n++
		}
		for _, m := range p.r.mentions(list, n, isHand) {
			dark = dark || m.end == len(list) && m.items[0].hand.Of == sensor.Of
		}
	}
	for _, n := range stemmed.lighten.ends(list) {
		for _, m := range p.r.mentions(list, n, isHand) {
			if m.end == len(list) && m.items[0].hand.Of == sensor.Of {
				return []cond{{hand: *sensor, ranged: true, least: room, surely: room, barely: evening}}, true
			}
		}
	}
	switch {
	case dark || stemmed.darkness.is(list):
		return []cond{{hand: *sensor, ranged: true, most: street, surely: street, barely: indoors}}, true
	case stemmed.daylight.is(rest) || stemmed.daylight.is(list) || len(rest) > 1 && rest[0].stem == "be" && stemmed.daylight.is(rest[1:]):
		return []cond{{hand: *sensor, ranged: true, least: room, surely: room, barely: evening}}, true
	}
	return nil, false
}

// level reads "thermometer is above 30 °C", "below 20 lx", "the knob is all the way up", "the soil is dry".
func (p *parser) level(list []token) ([]cond, bool) {
	for len(list) > 1 && (list[0].stem == "somebody" || list[0].stem == "somebodi") {
		list = list[1:]
	}
	at := 0
	for at < len(list) && (p.inSight(list[at]) || list[at].text == "it" || list[at].stem == "be" || list[at].text == "temperature" || list[at].stem == "cool" || list[at].stem == "warm" || list[at].stem == "heat") {
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
	if out, ok := p.turnsASecond(list); ok {
		return out, true
	}
	if out, ok := p.leaning(list); ok {
		return out, true
	}
	if n := len(list); n > 1 && list[n-1].text == "temperature" && list[n-2].text == "room" && (n == 2 || n == 3 && (list[0].text == "at" || list[0].text == "in" || list[0].stem == "be")) { // 18 to 24 °C (common practice)
		low, ok := p.limit(nil, token{kind: number, number: 18, unit: "°c"}, true)
		high, also := p.limit(nil, token{kind: number, number: 24, unit: "°c"}, false)
		return []cond{low, high}, ok && also
	}
	if out, ok := p.point(list); ok {
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
	if len(list) > 1 && (list[0].text == "everything" || list[0].text == "all" && !p.r.names(list, isHand)) { // everything turned up
		var out []cond
		for i := range p.r.hands {
			if h := &p.r.hands[i]; h.Unit == turns {
				c, ok := p.within(h, list[1:])
				if !ok {
					return nil, false
				}
				out = append(out, c...)
			}
		}
		return out, len(out) > 0
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
	if len(list) > 2 && (list[0].stem == "turn" || list[0].stem == "set" || list[0].stem == "move") { // turning all knobs down
		for _, m := range p.r.lists(list, 1, isHand) {
			var out []cond
			for _, x := range m.items {
				if c, ok := p.within(x.hand, list[m.end:]); ok && x.hand.Unit == turns {
					out = append(out, c...)
				}
			}
			if len(m.items) > 1 && len(out) == len(m.items) {
				return out, true
			}
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
	for len(rest) > 0 && (rest[0].stem == "be" || rest[0].stem == "not" || len(rest) > 1 && stemmed.toLevel.is(rest[:1]) || rest[0].text == "to" || len(rest) > 1 && (rest[0].text == "down" || rest[0].text == "up") && rest[1].kind == number) {
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
	if len(rest) == 2 && rest[0].text == "at" && rest[1].kind == number && rest[1].unit != "" && (rest[1].unit != "hz" || h != nil && h.Kind == bench.Spins) {
		return p.around(h, rest[1], not)
	}
	if len(rest) == 1 && rest[0].kind == number && rest[0].unit != "" && unitOf(rest[0]) == 0 && rest[0].unit != "hz" {
		return p.around(h, rest[0], not)
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

// around reads that a level is at a number: nearer to it than what one turns a knob, or reads a
// thermometer, by.
func (p *parser) around(h *bench.Hand, n token, not bool) ([]cond, bool) {
	at, ok := p.limit(h, n, true)
	if !ok || not {
		return nil, false
	}
	near := (at.hand.Most - at.hand.Least) / 200
	if at.hand.Log || at.hand.Kind == bench.Spins {
		near = at.least / 20
	}
	if at.hand.Unit == turns {
		near = 0.05 // as of a knob that is at a half
	}
	low, high := at, at
	low.least, high.least, high.most = at.least-near, 0, at.least+near
	low.narrow, high.narrow = at.hand.Unit != turns, at.hand.Unit != turns
	low.at, high.at = at.least, at.least
	switch {
	case low.least <= at.hand.Least:
		return []cond{high}, true
	case high.most >= at.hand.Most:
		return []cond{low}, true
	}
	return []cond{low, high}, true
}

// point reads a level by something that has it: "in a fridge".
func (p *parser) point(list []token) ([]cond, bool) {
	for len(list) > 1 && (list[0].text == "in" || list[0].text == "at" || list[0].text == "on" || list[0].text == "like" || list[0].stem == "be") {
		list = list[1:]
	}
	var out []cond
	for _, h := range p.r.hands {
		part := p.r.net.Doc.Part(partOf(h.Of))
		if part == nil || h.Kind != bench.Levels {
			continue
		}
		kind, _ := p.r.net.Library.Catalogue.Kind(part.Kind)
		_, id := build.Terminal(h.Of).Split()
		hand, _ := kind.Hand(id)
		if hand.Quantity == nil {
			continue
		}
		for _, x := range hand.Quantity.Points {
			if (stems([]string{x.Name})).is(list) {
				if out != nil {
					return nil, false
				}
				out, _ = p.around(&h, token{kind: number, number: x.Level}, false)
			}
		}
	}
	return out, len(out) > 0
}

// turnsASecond reads "6 turns a second".
func (p *parser) turnsASecond(list []token) ([]cond, bool) {
	for len(list) > 1 && (list[0].text == "at" || list[0].text == "with" || list[0].stem == "be") {
		list = list[1:]
	}
	n := len(list)
	if n < 3 || list[0].kind != number || list[0].unit != "" || list[1].stem != "turn" && list[1].stem != "rotat" && list[1].stem != "revolut" && list[1].stem != "puls" || list[n-1].text != "second" && list[n-1].text != "s" || n == 4 && list[2].text != "per" || n > 4 {
		return nil, false
	}
	for i := range p.r.hands {
		if h := &p.r.hands[i]; h.Kind == bench.Spins {
			return p.around(h, token{kind: number, number: list[0].number}, false)
		}
	}
	return nil, false
}

// inSight reports whether a word is for whatever is before a sensor of distance.
func (p *parser) inSight(t token) bool {
	return slices.Contains(words.Objects, t.text) && slices.ContainsFunc(p.r.hands, func(h bench.Hand) bool { return h.Unit == "cm" })
}

// leaning reads "the joystick is at the left": of a part with several hands the level's name says
// which of them is meant.
func (p *parser) leaning(list []token) (out []cond, ok bool) {
	for _, h := range p.r.hands {
		if h.Kind != bench.Levels || partOf(h.Of) == h.Of {
			continue
		}
		for _, m := range p.r.mentions(list, 0, handOf(h.Of)) {
			rest := list[m.end:]
			if len(rest) < 2 || rest[0].stem != "be" && rest[0].text != "at" && rest[0].text != "in" {
				continue // "pushing the joystick right" is something that happens
			}
			if rest[0].stem == "be" {
				rest = rest[1:]
			}
			if c, is := p.called(h, rest); is {
				if ok {
					return nil, false // in the middle: of which of them?
				}
				out, ok = c, true
				break
			}
		}
	}
	return out, ok
}

// called reads a level by a name that it has: "in dry soil".
func (p *parser) called(h bench.Hand, rest []token) ([]cond, bool) {
	if part := p.r.net.Doc.Part(partOf(h.Of)); part != nil {
		for name, said := range words.LevelNames[part.Kind] {
			if stems(said).is(rest) {
				rest = lex(clean(name))
				break
			}
		}
	}
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
	if found < 0 || len(h.At) != len(h.Names) || h.Unit == turns && partOf(h.Of) == h.Of || len(rest) == 1 && (rest[0].text == "in" || rest[0].text == "at") {
		return nil, false
	}
	// From one name to the next, a part of the way.
	way := func(from, to, part float64) float64 {
		if h.Log {
			return from * math.Pow(to/from, part)
		}
		return from + (to-from)*part
	}
	var out []cond
	for i := range h.At {
		if i != found-1 && i != found+1 {
			continue
		}
		c := cond{hand: h, ranged: true, called: true}
		c.surely, c.barely = way(h.At[found], h.At[i], 1./3), way(h.At[found], h.At[i], 2./3)
		if m := way(h.At[found], h.At[i], 0.5); h.At[i] < h.At[found] {
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
		shown := strings.Replace(unit, "°c", "°C", 1)
		if len(of) == 0 {
			p.unit = shown
			return c, false
		}
		if len(of) != 1 {
			p.wrong("%d things here are measured in %q; name the one, as in \"while dusk sensor is below 20 lx, …\"", len(of), shown)
			return c, false
		}
		h = &of[0]
	}
	switch {
	case (h.Unit == turns || h.Unit == ofSupply) && (unit == "%" || n.text == "half"):
		if unit == "%" {
			v /= 100
		}
	case unit != "" && !strings.EqualFold(unit, h.Unit):
		p.wrong("%s is not in %s; it is in %s", h.Name, strings.Replace(unit, "°c", "°C", 1), or(inUnits.Replace(h.Unit), "no unit"))
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
