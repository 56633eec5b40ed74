package should

import "slices"

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
	whens, apart := 0, slices.ContainsFunc(list, func(t token) bool { return t.text == ";" })
	for i := range list {
		if list[i].text == ";" || list[i].text == "next" || list[i].text == "again" || list[i].text == "even" || list[i].text == "odd" || list[i].text == "twice" || list[i].text == "another" || list[i].kind == plainWord && slices.Index(words.Ordinals, list[i].text) > 0 {
			whens += 2
		}
		if list[i].kind == number && list[i].number == 1 && i+1 < len(list) && stemmed.press.is(list[i+1:i+2]) { // one press on, one press off
			whens++
		}
		if len(begins(list[i:])) > 0 || stemmed.above.begins(list[i:]) || stemmed.below.begins(list[i:]) {
			whens++
		}
	}
	if whens < 2 {
		return draft{}, false
	}
	for i := 1; i+1 < len(list); i++ {
		if list[i].text != "and" && list[i].kind != comma && list[i].text != "but" || apart && list[i].text != ";" {
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
		for it := len(rest) - 1; it > 0 && !ok; it-- { // and another press turns it off
			if rest[it].text == "it" || rest[it].text == "them" {
				second, ok = p.core(slices.Concat(rest[:it], p.name(list[:i], first.things), rest[it+1:]))
			}
		}
		if n := ellipsis(rest); !ok && n > 0 { // and in daylight it is not
			if c, opposed := opposite(first.claim); opposed {
				second, ok = p.core(slices.Concat(rest[:n], p.name(list[:i], first.things), []token{{text: "is", stem: "be"}, {text: c.word(), stem: stem(c.word())}}))
			}
		}
		if b := second.press; ok && b != nil && b.nth == 2 && b.every == 2 && first.press == nil && len(first.conds) == 1 && first.conds[0].on && first.conds[0].hand.Of == b.hand.Of {
			first.press, first.conds = &doing{hand: b.hand, key: b.key}, nil
		}
		if a, b := first.press, second.press; ok && a != nil && b != nil && a.hand.Of == b.hand.Of && a.nth < 2 && (b.nth == 2 && b.every == 2 || a.nth == 1 && b.nth == 1 && a.every+b.every == 0) { // once, and again
			one, two := *a, *b
			one.nth, one.every, two.nth, two.every = 1, 2, 2, 2
			first.press, second.press = &one, &two
		}
		if !ok || second.press == nil && len(second.conds) == 0 {
			if more, several := p.two(rest); several { // first press on, second press off, third press on
				second, ok = more, true
			}
		}
		if ok && second.form == holds && (len(second.conds) > 0 || second.press != nil) && (len(first.conds) > 0 || first.press != nil) {
			first.then = &second
			return first, true
		}
	}
	return draft{}, false
}

// ellipsis is where "it is not" begins, that ends a text; 0: nowhere.
func ellipsis(list []token) int {
	n := len(list)
	switch {
	case n > 3 && list[n-3].text == "it" && list[n-2].stem == "be" && list[n-1].stem == "not":
		return n - 3
	case n > 2 && list[n-2].text == "it" && list[n-1].stem == "not":
		return n - 2
	}
	return 0
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
