package should

import (
	"slices"
	"strings"

	"cablaggio/core/running/bench"
)

// held reads "I press B", "holding B", "nobody presses B", "door 1 opens" with the verb first.
func (p *parser) held(list []token) ([]cond, bool) {
	not := false
	for len(list) > 1 && (list[0].stem == "somebody" || list[0].stem == "somebodi") { // when I let go
		list = list[1:]
	}
	if n := len(list); n > 0 && (stemmed.pressed.is(list) || n < 3 && list[0].stem == "be" && stemmed.pressed.is(list[1:])) { // lights when pushed
		h, ok := p.r.onlyPressed()
		return []cond{{hand: h, on: true}}, ok && h.Kind == bench.Presses
	}
	if stemmed.release.is(list) || len(list) > 1 && list[0].text == "nothing" && stemmed.pressed.is(slices.DeleteFunc(slices.Clone(list[1:]), func(t token) bool { return t.stem == "be" })) { // after letting go
		out := p.r.nothingPressed()
		return out, len(out) > 0
	}
	if len(list) == 2 && list[0].text == "no" && stemmed.press.is(list[1:]) {
		h, ok := p.r.onlyPressed()
		return []cond{{hand: h}}, ok && h.Kind == bench.Presses
	}
	if n := len(list); n == 1 && stemmed.press.is(list) && strings.HasSuffix(list[0].text, "ing") { // while I am pressing
		h, ok := p.r.onlyPressed()
		return []cond{{hand: h, on: true}}, ok && h.Kind == bench.Presses
	}
	if n := len(list); n > 0 && stemmed.spins.is(list[n-1:]) && (n == 1 && strings.HasPrefix(list[0].text, "turn") || n == 2 && (list[0].text == "no" || list[0].text == "water")) { // no flow, without a turn
		var out []cond
		for _, h := range p.r.hands {
			if h.Kind == bench.Spins {
				out = append(out, spinning(h))
			}
		}
		if len(out) != 1 {
			return nil, false
		}
		if list[0].text == "no" {
			out[0] = out[0].negated()
		}
		return out, true
	}
	if out, ok := p.empty(list); ok {
		return out, true
	}
	if out, ok := p.stands(list); ok {
		return out, true
	}
	if len(list) > 1 && stemmed.spins.begins(list) { // turning the wheel
		for _, m := range p.r.mentions(list, 1, isHand) {
			if m.end == len(list) && len(m.items) == 1 && m.items[0].hand.Kind == bench.Spins {
				return []cond{spinning(*m.items[0].hand)}, true
			}
		}
	}
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

// spinning is that a wheel turns: as one does that is seen to, and not as one that comes to rest.
func spinning(h bench.Hand) cond {
	return cond{hand: h, ranged: true, least: h.Most / 100, surely: h.Most / 20, barely: h.Most / 1000}
}

// stands reads "there is a flame", "the rain module is wet": the name of a state that only one hand has,
// alone or of its part. Names that hands share, as on and off, say nothing by themselves.
func (p *parser) stands(list []token) (out []cond, ok bool) {
	find := func(list []token, of string) {
		for len(list) > 1 && (list[0].stem == "be" || list[0].text == "it" || slices.Contains(words.Objects, list[0].text)) {
			list = list[1:]
		}
		if stemmed.pressed.is(list) || stemmed.up.is(list) || stemmed.open.is(list) {
			return
		}
		for _, h := range p.r.hands {
			if h.Kind != bench.Switches || of != "" && partOf(h.Of) != of {
				continue
			}
			for i, way := range []string{h.Off, h.On} {
				if p.r.ways[way].is(list) {
					out = append(out, cond{hand: h, on: i == 1})
				}
			}
		}
	}
	find(list, "")
	for _, h := range p.r.hands {
		if len(out) > 0 || h.Kind != bench.Switches || partOf(h.Of) == h.Of {
			continue
		}
		for _, m := range p.r.mentions(list, 0, handOf(h.Of)) {
			if rest := list[m.end:]; len(rest) > 1 && rest[0].stem == "be" && len(out) == 0 {
				find(rest, partOf(h.Of))
			}
		}
	}
	return out, len(out) == 1
}

// empty reads "an empty tank", "open door 1": the way before the name.
func (p *parser) empty(list []token) ([]cond, bool) {
	for k := 1; k < min(len(list), 3); k++ {
		for _, m := range p.r.mentions(list, k, isHand) {
			h := m.items[0].hand
			if m.end != len(list) || len(m.items) != 1 || h.Kind != bench.Switches {
				continue
			}
			for i, way := range []string{h.Off, h.On} {
				if p.r.ways[way].is(list[:k]) {
					return []cond{{hand: *h, on: i == 1}}, true
				}
			}
			if stemmed.open.is(list[:k]) && !strings.HasSuffix(list[0].text, "s") && !strings.HasSuffix(list[0].text, "ing") {
				return []cond{{hand: *h}}, true
			}
		}
	}
	return nil, false
}

// nothingPressed is that no button is down, and no key.
func (r *Reader) nothingPressed() (out []cond) {
	for _, h := range r.hands {
		switch h.Kind {
		case bench.Presses:
			out = append(out, cond{hand: h})
		case bench.PadOf:
			for _, k := range h.Keys {
				out = append(out, cond{hand: h, key: k, not: true})
			}
		}
	}
	return out
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
		case stemmed.pressed.is(rest) || own(h.On).is(rest) || stemmed.press.is(rest[:1]) && (len(rest) == 1 && strings.HasSuffix(rest[0].text, "s") || len(rest) == 2 && slices.Contains(words.Nouns["press"], rest[1].text)):
			return cond{hand: h, on: true}, true
		case stemmed.up.is(rest) || own(h.Off).is(rest) || stemmed.release.is(rest):
			return cond{hand: h}, true
		}
	case bench.Switches:
		if len(rest) > 1 && stemmed.sees.is(rest[:1]) { // sees a flame
			rest = rest[1:]
		}
		switch {
		case own(h.On).is(rest) || stemmed.closed.is(rest) || own(h.On).has(rest):
			return cond{hand: h, on: true}, true
		case own(h.Off).is(rest) || stemmed.open.is(rest) || own(h.Off).has(rest):
			return cond{hand: h}, true
		}
	case bench.Spins:
		switch {
		case stemmed.spins.is(rest):
			return spinning(h), true
		case stemmed.still.is(rest):
			return spinning(h).negated(), true
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
