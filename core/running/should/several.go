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
	if says(list, ";") {
		if d, ok := p.eachAlone(list); ok {
			return d, true
		}
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

// eachAlone reads sentences with semicolons between, each by itself.
func (p *parser) eachAlone(list []token) (d draft, ok bool) {
	i := slices.IndexFunc(list, func(t token) bool { return t.text == ";" })
	if i < 0 {
		return p.core(list)
	}
	d, ok = p.core(list[:i])
	if !ok {
		return d, false
	}
	rest, ok := p.eachAlone(list[i+1:])
	alternate(&d, &rest)
	d.then = &rest
	return d, ok
}

// two reads "X is lit in the dark and dark in daylight": two sentences about the same things.
func (p *parser) two(list []token) (draft, bool) {
	apart := says(list, ";")
	if whens(list) < 2 {
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
		second, ok := p.following(rest, first, p.name(list[:i], first.things))
		if ok {
			alternate(&first, &second)
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

// whens counts what says when in a text: from two on it may be two sentences.
func whens(list []token) (n int) {
	for i, t := range list {
		switch {
		case slices.Contains([]string{";", "next", "again", "even", "odd", "twice", "another"}, t.text), t.kind == plainWord && slices.Index(words.Ordinals, t.text) > 0:
			n += 2 // there is another press
		case t.kind == number && t.number == 1 && i+1 < len(list) && stemmed.press.is(list[i+1:i+2]): // one press on, one press off
			n++
		}
		if len(begins(list[i:])) > 0 || stemmed.above.begins(list[i:]) || stemmed.below.begins(list[i:]) {
			n++
		}
	}
	return n
}

// following reads what is said behind a sentence: by itself, or of the same things, which may be
// called it, or left out.
func (p *parser) following(rest []token, first draft, name []token) (draft, bool) {
	if d, ok := p.core(rest); ok {
		return d, true
	}
	if d, ok := p.core(slices.Concat(name, rest)); ok {
		return d, true
	}
	for it := len(rest) - 1; it > 0; it-- { // and another press turns it off
		if rest[it].text == "it" || rest[it].text == "them" {
			if d, ok := p.core(slices.Concat(rest[:it], name, rest[it+1:])); ok {
				return d, true
			}
		}
	}
	if n := ellipsis(rest); n > 0 { // and in daylight it is not
		if c, opposed := opposite(first.claim); opposed {
			return p.core(slices.Concat(rest[:n], name, []token{{text: "is", stem: "be"}, {text: c.word(), stem: stem(c.word())}}))
		}
	}
	return draft{}, false
}

// alternate makes of a press and the next one, of the same, each odd and each even press.
func alternate(first, second *draft) {
	b := second.press
	if b == nil {
		return
	}
	again := b.nth == 2 && b.every == 2
	if c := first.conds; again && first.press == nil && len(c) == 1 && c[0].on && c[0].hand.Of == b.hand.Of {
		first.press, first.conds = &doing{hand: b.hand, key: b.key}, nil
	}
	a := first.press
	if a == nil || a.hand.Of != b.hand.Of || a.nth > 1 || !again && !(a.nth == 1 && b.nth == 1 && a.every+b.every == 0) {
		return
	}
	one, two := *a, *b
	one.nth, one.every, two.nth, two.every = 1, 2, 2, 2
	first.press, second.press = &one, &two
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
