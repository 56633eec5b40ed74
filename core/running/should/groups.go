package should

import (
	"cablaggio/core/running/bench"
	"slices"
)

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
			case "not", "at_a_time", "at_once", "together", "at_any_time", "ever", "simultaneously", "at", "any", "moment", "given":
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
	for _, begin := range [][]string{{"at", "least", "one", "of"}, {"at", "least", "one"}, {"exactly_one", "of"}, {"exactly_one"}, {"be", "not", "two"}, {"not", "both"}, {"two"}, {"be", "one", "of"}, {"be", "one"}, {"be", "exactly_one", "of"}, {"be", "exactly_one"}, {"only", "one", "of"}, {"only", "one"}, {"at", "most", "one", "of"}, {"at", "most", "one"}, {"no", "two"}, {"not", "two"}, {"not", "more", "than", "one"}, {"be", "not", "more", "than", "one"}, {"no", "more", "than", "one", "of"}, {"no", "more", "than", "one"}, {"not", "more", "than", "one", "of"}} {
		if len(list) <= len(begin) || slices.ContainsFunc(begin, func(w string) bool { i := slices.Index(begin, w); return list[i].text != w && list[i].stem != w }) {
			continue
		}
		if begin[0] == "two" && !says(list, "not") {
			continue
		}
		d.more = begin[0] == "at" && begin[1] == "least"
		d.one = d.more || begin[0] == "exactly_one" || begin[0] == "be" && begin[1] != "not"
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
	d.one, d.more = true, false
	for _, m := range p.r.lists(list, 0, isThing) { // either X or Y is lit
		if list[0].text == "either" && m.any && len(m.items) == 2 && lit(list[m.end:]) {
			d.things = thingsOf(m.items)
			return d, p.lamps(d.things)
		}
	}
	for _, m := range p.r.lists(list, 0, isThing) { // X and Y are opposite
		rest := slices.DeleteFunc(slices.Clone(list[m.end:]), func(t token) bool { return t.stem == "be" })
		if len(m.items) == 2 && !m.none && !m.any && stemmed.opposite.is(rest) {
			d.things = thingsOf(m.items)
			return d, p.lamps(d.things)
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
			return d, true
		}
		left := slices.DeleteFunc(slices.Clone(rest), func(t token) bool { return t.text == "together" || t.text == "at_once" })
		if _, c, ok := p.predicate(left, thingsOf(m.items)); ok && c == lit && len(m.items) > 1 && !m.none && len(left) < len(rest) && len(left) > 0 { // shine together
			d.things = thingsOf(m.items)
			return d, true
		}
	}
	return d, false
}
