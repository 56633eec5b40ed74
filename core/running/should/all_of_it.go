package should

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"cablaggio/core/running/bench"
)

// ofKinds are the things of each kind: those that do the same.
func ofKinds(things []thing) (out [][]thing) {
	for _, kind := range []bench.RowKind{bench.LampRow, bench.SoundRow, bench.LoadRow} {
		of := slices.DeleteFunc(slices.Clone(things), func(x thing) bool { return x.kind != kind })
		if len(of) > 0 {
			out = append(out, of)
		}
	}
	return out
}

// everything reads "everything is quiet": all things that can be so are.
func (p *parser) everything(list []token) (d draft, ok bool) {
	if len(list) < 2 || list[0].text != "everything" && list[0].text != "nothing" {
		return d, false
	}
	rest := list[1:]
	if list[0].text == "nothing" {
		rest = slices.Concat([]token{{text: "not", stem: "not"}}, rest)
	}
	for _, all := range ofKinds(p.r.things) {
		x, claim, read := p.predicate(rest, all)
		if !read {
			continue
		}
		x.things, x.claim = all, claim
		if ok {
			d.and = &x
		} else {
			d, ok = x, true
		}
	}
	return d, ok
}

// colours are what the light of several lamps in one case is called, by the colours of those that
// are lit: sums of light (common practice).
var colours = map[string][]string{
	"red": {"red"}, "green": {"green"}, "blue": {"blue"}, "yellow": {"red", "green"}, "cyan": {"green", "blue"}, "turquois": {"green", "blue"},
	"magenta": {"red", "blue"}, "purpl": {"red", "blue"}, "violet": {"red", "blue"}, "pink": {"red", "blue"}, "white": {"red", "green", "blue"},
}

// coloured reads "the sky is green": green of it is lit, and red and blue are not.
func (p *parser) coloured(list []token) (d draft, ok bool) {
	if len(list) == 1 && colours[list[0].stem] != nil { // gives white
		var all []thing
		for _, x := range p.r.things {
			if strings.Contains(x.name, " of ") && (len(all) == 0 || all[0].of == x.of) {
				all = append(all, x)
			}
		}
		if len(all) == 3 {
			return mixed(all, list[0].stem)
		}
	}
	for _, m := range p.r.lists(list, 0, isThing) {
		rest := list[m.end:]
		things := thingsOf(m.items)
		for len(rest) > 1 && (rest[0].stem == "be" || rest[0].stem == "turn" || rest[0].stem == "go" || rest[0].stem == "shine" || rest[0].stem == "light" || rest[0].stem == "glow") {
			rest = rest[1:]
		}
		if len(rest) != 1 || len(things) != 3 || slices.ContainsFunc(things, func(x thing) bool { return x.of != things[0].of }) {
			continue
		}
		if d, ok := mixed(things, rest[0].stem); ok {
			return d, true
		}
	}
	return d, false
}

// mixed is that of three lamps in a case those are lit that make a colour.
func mixed(things []thing, colour string) (draft, bool) {
	on, off := draft{claim: lit}, draft{claim: dark}
	for _, x := range things {
		ink, _, _ := strings.Cut(x.name, " of ")
		if slices.Contains(colours[colour], ink) {
			on.things = append(on.things, x)
		} else {
			off.things = append(off.things, x)
		}
	}
	if len(off.things) > 0 {
		on.and = &off
	}
	return on, len(on.things) == len(colours[colour]) && len(on.things) > 0
}

// inTurn reads "X, Y and Z light one after the other", "the light runs from X to Z".
func (p *parser) inTurn(list []token) (draft, bool) {
	for len(list) > 3 && (list[0].text == "light" || list[0].text == "it") && slices.Contains([]string{"run", "move", "go", "travel", "wander", "jump"}, list[1].stem) && list[2].text == "from" {
		list = slices.Concat(list[3:], []token{{text: "order", stem: "in_turn"}})
	}
	for _, m := range p.r.lists(list, 0, isThing) {
		things := thingsOf(m.items)
		if len(things) < 2 || m.none || m.any {
			continue
		}
		turn := false
		var left []token
		for i, rest := 0, list[m.end:]; i < len(rest); i++ {
			if n := stemmed.inTurn.ends(rest[i:]); len(n) > 0 {
				turn = true
				i += n[0] - 1
				continue
			}
			left = append(left, rest[i])
		}
		counted := 0
		for counted < len(left) && left[len(left)-1-counted].kind == number {
			counted++
		}
		if turn && counted == len(things) { // in order 1 2 3
			for i, t := range left[len(left)-counted:] {
				turn = turn && t.number == float64(i+1)
			}
			left = left[:len(left)-counted]
		}
		if !turn {
			continue
		}
		if len(left) > 0 {
			if _, c, ok := p.predicate(left, things); !ok || c != lit && c != blinks {
				continue
			}
		}
		return draft{form: inTurn, things: things}, p.lamps(things)
	}
	return draft{}, false
}

// lasting takes out for how long something is each time: "for at least 2 s", "no longer than 200
// ms".
func lasting(list []token) (rest []token, l lengths, ok bool) {
	for i := range list {
		for _, way := range []struct {
			said string
			most bool
		}{
			{"for at least", false}, {"for more than", false}, {"for longer than", false}, {"longer than", false}, {"for over", false}, {"at least", false},
			{"for at most", true}, {"for less than", true}, {"for not more than", true}, {"for no more than", true}, {"for no longer than", true}, {"no longer than", true}, {"not longer than", true}, {"for shorter than", true}, {"shorter than", true},
		} {
			said := strings.Fields(way.said)
			n := len(said)
			if i == 0 || i+n >= len(list) || unitOf(list[i+n]) == 0 || slices.ContainsFunc(list[i:i+n], func(t token) bool { return t.kind != plainWord }) {
				continue
			}
			same := true
			for k, w := range said {
				same = same && list[i+k].text == w
			}
			if !same {
				continue
			}
			before, after := list[:i], list[i+n+1:]
			for len(after) > 0 && (after[0].text == "at_a_time" || after[0].text == "each_time") {
				after = after[1:]
			}
			most := way.most
			if k := slices.IndexFunc(before, func(t token) bool { return t.stem == "not" }); k >= 0 && !most { // never longer than
				before, most = slices.Concat(before[:k], before[k+1:]), true
			}
			if k := slices.IndexFunc(before, func(t token) bool { return t.text == "no" }); k == 0 && !most { // no lamp is lit for longer
				before, most = slices.Concat([]token{{text: "each", stem: "each"}}, before[1:]), true
			}
			if most {
				l.most = unitOf(list[i+n])
			} else {
				l.least = unitOf(list[i+n])
			}
			return slices.Concat(before, after), l, true
		}
	}
	return list, l, false
}

// eachAfter reads "one lamp after the other", with what they do.
func (p *parser) eachAfter(list []token) (draft, bool) {
	if list[3].text != "other" && list[3].stem != "anoth" && list[3].text != "next" {
		return draft{}, false
	}
	all := p.r.meant([]string{list[1].stem}, true, isThing)
	d := draft{form: inTurn, things: thingsOf(all)}
	if len(all) < 2 || !p.lamps(d.things) {
		return d, false
	}
	if rest := list[4:]; len(rest) > 0 {
		_, c, ok := p.predicate(rest, d.things)
		return d, ok && (c == lit || c == blinks)
	}
	return d, true
}

// unnamed reads what only one thing here can do, that is not named: "it beeps", where one thing
// beeps.
func (p *parser) unnamed(list []token) (d draft, ok bool) {
	if len(list) == 0 || p.r.names(list, isThing) {
		return d, false
	}
	if list[0].text == "it" {
		list = list[1:]
	}
	n := 0
	for _, all := range ofKinds(p.r.things) {
		if x, c, read := p.predicate(list, all); read && c != changes && c != leaves {
			if n++; len(all) > 1 {
				n++
			}
			x.things, x.claim = all, c
			d = x
		}
	}
	return d, n == 1
}

// barsOf are the bars that are lit of 0 to 9 (common practice: 6 and 9 with their tails).
var barsOf = strings.Fields("abcdef bc abdeg abcdg bcfg acdfg acdefg abc abcdefg abcdfg")

// figure reads "the digit shows 3": its bars are lit, and the others are not.
func (p *parser) figure(list []token) (d draft, ok bool) {
	n := len(list)
	if n < 2 || list[n-1].kind != number || list[n-1].unit != "" || list[n-1].number < 0 || list[n-1].number > 9 || list[n-1].number != math.Trunc(list[n-1].number) {
		return d, false
	}
	if show := list[n-2].stem; show != "show" && show != "display" && show != "read" && show != "be" && show != "say" {
		return d, false
	}
	name := list[:n-2]
	digit := ""
	for _, x := range p.r.things {
		bar, of, found := strings.Cut(x.name, " of ")
		if !found || !strings.HasPrefix(bar, "bar ") || digit == x.of {
			continue
		}
		var said []string
		for _, t := range lex(of) {
			said = append(said, t.stem)
		}
		named := slices.Equal(stemsOf(name), said) || len(name) == 1 && (name[0].text == "it" || name[0].stem == "digit" || name[0].stem == "display" || name[0].stem == "number")
		if !named {
			continue
		}
		if digit != "" {
			return d, false // which of them?
		}
		digit = x.of
	}
	if digit == "" {
		return d, false
	}
	on, off := draft{claim: lit, shows: fmt.Sprint(int(list[n-1].number))}, draft{claim: dark}
	for _, x := range p.r.things {
		bar, _, _ := strings.Cut(x.name, " of ")
		if letter, is := strings.CutPrefix(bar, "bar "); is && x.of == digit {
			if strings.Contains(barsOf[int(list[n-1].number)], letter) {
				on.things = append(on.things, x)
			} else {
				off.things = append(off.things, x)
			}
		}
	}
	if len(off.things) > 0 {
		on.and = &off
	}
	return on, len(on.things) > 0
}

// noneOf reads "no beeping": nothing here does.
func (p *parser) noneOf(list []token) (d draft, ok bool) {
	for len(list) > 1 && list[0].stem == "be" {
		list = list[1:]
	}
	if len(list) != 2 || list[0].text != "no" && list[0].stem != "not" {
		return d, false
	}
	for _, all := range ofKinds(p.r.things) {
		if _, c, read := p.predicate(list[1:], all); read {
			if c, read = opposite(c); read && (c == dark || c == silent || c == rests) {
				return draft{things: all, claim: c}, true
			}
		}
	}
	return d, false
}
