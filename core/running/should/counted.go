package should

import (
	"slices"
	"strings"

	"cablaggio/core/running/bench"
)

// counted reads which of several presses is meant, "a second press", "pressing B twice", "B is
// pressed again", and leaves the press.
func counted(list []token) (rest []token, nth, every int, ok bool) {
	n := len(list)
	if n == 0 {
		return nil, 0, 0, false
	}
	ordinal := func(t token) int { return slices.Index(words.Ordinals, t.text) + 1 }
	last := list[n-1].text
	switch {
	case n > 1 && last == "again":
		return list[:n-1], 2, 2, true
	case n > 1 && (last == "once" || last == "twice" || last == "thrice"):
		return list[:n-1], slices.Index([]string{"once", "twice", "thrice"}, last) + 1, 0, true
	case n > 2 && last == "times" && list[n-2].kind == number:
		return list[:n-2], int(list[n-2].number), 0, true
	case n > 2 && last == "time" && ordinal(list[n-2]) > 0:
		return list[:n-2], ordinal(list[n-2]), 0, true
	}
	all := list[0].text == "each" || list[0].text == "every"
	begin := list
	if all && n > 1 {
		begin = list[1:]
	}
	switch first := begin[0]; {
	case len(begin) == 1:
	case first.text == "odd":
		return begin[1:], 1, 2, true
	case first.text == "even":
		return begin[1:], 2, 2, true
	case all && ordinal(first) > 1:
		return begin[1:], ordinal(first), ordinal(first), true
	case all:
	case ordinal(first) > 0:
		return begin[1:], ordinal(first), 0, true
	case first.text == "another" || first.text == "next":
		return begin[1:], 2, 2, true
	case first.kind == number && first.unit == "" && first.number >= 1 && first.number <= 8 && stemmed.press.is(begin[1:2]):
		return begin[1:], int(first.number), 0, true
	}
	return nil, 0, 0, false
}

// thePress reads which press of several it is, to the end.
func (p *parser) thePress(list []token) (*doing, bool) {
	for _, m := range p.r.mentions(list, 0, isHand) { // a button that is called "next", or "second door"
		if slices.ContainsFunc(m.items, func(x item) bool { return slices.Contains(x.name, list[0].stem) }) && list[len(list)-1].text != "again" {
			return nil, false
		}
	}
	rest, nth, every, ok := counted(list)
	if !ok || nth < 1 || nth > len(words.Ordinals) {
		return nil, false
	}
	if len(rest) == 1 && (rest[0].text == "one" || rest[0].text == "time") {
		rest = []token{{text: "press", stem: "press"}}
	}
	x, ok := p.pressing(rest)
	if !ok {
		conds, read := p.conds(rest)
		if !read || len(conds) != 1 || !conds[0].on || conds[0].hand.Kind != bench.Presses && conds[0].hand.Kind != bench.PadOf {
			return nil, false
		}
		x = doing{hand: conds[0].hand, key: conds[0].key}
	}
	if x.typed != "" || len(x.keys) > 0 {
		return nil, false
	}
	x.nth, x.every = nth, every
	return &x, true
}

// typing are the words before what is typed on a keypad, and behind it.
var typing = struct{ before, behind []string }{
	[]string{"type", "enter", "dial", "press", "punch", "key", "in", "code", "pin", "number", "combin", "sequenc", "input", "right", "correct", "tap"},
	[]string{"in", "order", "that", "one", "after", "other", "anoth", "be", "type", "enter", "press", "dial", "key", "sequenc", "row", "code"},
}

// typedKeys reads keys that are typed one after the other on the only keypad: "2580", "2, 5, 8 and
// then 0 on the keypad".
func (p *parser) typedKeys(list []token) (x doing, ok bool) {
	var pad *bench.Hand
	for i := range p.r.hands {
		if p.r.hands[i].Kind == bench.PadOf {
			if pad != nil {
				return x, false
			}
			pad = &p.r.hands[i]
		}
	}
	if pad == nil {
		return x, false
	}
	for len(list) > 0 && list[0].kind == plainWord && (slices.Contains(typing.before, list[0].stem) || list[0].stem == "somebody") {
		list = list[1:]
	}
	x.hand = *pad
	i := 0
	for ; i < len(list); i++ {
		t := list[i]
		if t.kind == comma || t.text == "and" || t.text == "then" {
			continue
		}
		if t.kind == quoted || t.unit != "" || t.text == "-1" {
			break
		}
		var keys []string
		for _, c := range t.text {
			k := strings.IndexRune(pad.Legends, c)
			if k < 0 || k >= len(pad.Keys) || t.kind == plainWord && len(t.text) > 1 {
				keys = nil
				break
			}
			keys = append(keys, pad.Keys[k])
		}
		if keys == nil {
			break
		}
		x.keys = append(x.keys, keys...)
	}
	rest := list[i:]
	for len(rest) > 0 {
		if rest[0].text == "on" || rest[0].text == "into" || rest[0].text == "at" {
			if m := p.r.mentions(rest, 1, handOf(pad.Of)); len(m) > 0 {
				rest = rest[m[0].end:]
				continue
			}
		}
		if !slices.Contains(typing.behind, rest[0].stem) {
			return x, false
		}
		rest = rest[1:]
	}
	return x, len(x.keys) > 1
}

// typedSo reads that keys were typed, as a condition.
func (p *parser) typedSo(list []token) ([]cond, bool) {
	x, ok := p.typedKeys(list)
	return []cond{{hand: x.hand, keys: x.keys}}, ok
}

// releasing reads that something is let go, to the end.
func (p *parser) releasing(list []token) (*doing, bool) {
	for len(list) > 1 && list[0].stem == "somebody" {
		list = list[1:]
	}
	for _, n := range stemmed.release.ends(list) {
		if n == len(list) {
			h, ok := p.r.onlyPressed()
			return &doing{hand: h, verb: bench.Release}, ok && h.Kind == bench.Presses
		}
		for _, m := range p.r.mentions(list, n, isHand) {
			if m.end == len(list) && len(m.items) == 1 && m.items[0].hand.Kind == bench.Presses {
				return &doing{hand: *m.items[0].hand, verb: bench.Release}, true
			}
		}
	}
	if conds, ok := p.contact(list); ok && len(conds) == 1 && !conds[0].on && conds[0].hand.Kind == bench.Presses && len(conds[0].any) == 0 {
		return &doing{hand: conds[0].hand, verb: bench.Release}, true
	}
	return nil, false
}
