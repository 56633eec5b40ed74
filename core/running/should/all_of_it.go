package should

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"cablaggio/core/catalogue/part"
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
		if ok { // with all that is so already
			was := d
			x.and = &was
		}
		d, ok = x, true
	}
	return d, ok
}

// colours are what the light of several lamps in one case is called, by the colours of those that
// are lit: sums of light (common practice).
var colours = map[string][]string{
	"red": {"red"}, "green": {"green"}, "blue": {"blue"}, "yellow": {"red", "green"}, "cyan": {"green", "blue"}, "turquois": {"green", "blue"},
	"magenta": {"red", "blue"}, "purpl": {"red", "blue"}, "violet": {"red", "blue"}, "pink": {"red", "blue"}, "white": {"red", "green", "blue"},
}

// cases are the lamps of each case with several.
func (r *Reader) cases() (out [][]thing) {
	for _, x := range r.things {
		switch n := len(out); {
		case x.lamp == "":
		case n > 0 && out[n-1][0].of == x.of:
			out[n-1] = append(out[n-1], x)
		default:
			out = append(out, []thing{x})
		}
	}
	return out
}

// coloured reads "the sky is green": green of it is lit, and red and blue are not.
func (p *parser) coloured(list []token) (d draft, ok bool) {
	if len(list) == 1 { // gives white
		var of []draft
		for _, all := range p.r.cases() {
			if d, ok := inColour(all, list[0].stem); ok {
				of = append(of, d)
			}
		}
		if len(of) == 1 {
			return of[0], true
		}
	}
	for _, m := range p.r.lists(list, 0, isThing) {
		rest := list[m.end:]
		if more, ok := strings.CutPrefix(text(rest[max(0, len(rest)-1):]), "more_"); ok && len(rest) < 3 { // gets redder
			d := these(thingsOf(m.items), func(x thing) bool { return x.lamp == more })
			d.claim, d.and = rises, nil
			return d, len(d.things) == 1
		}
		for len(rest) > 1 && (rest[0].stem == "be" || rest[0].stem == "turn" || rest[0].stem == "go" || rest[0].stem == "shine" || rest[0].stem == "light" || rest[0].stem == "glow") {
			rest = rest[1:]
		}
		if len(rest) == 1 {
			if d, ok := inColour(thingsOf(m.items), rest[0].stem); ok {
				return d, true
			}
		}
	}
	return d, false
}

// mixes reports whether things are all lamps of a case that mixes colours.
func mixes(things []thing) bool {
	return len(things) > 1 && !slices.ContainsFunc(things, func(x thing) bool { return x.of != things[0].of || len(colours[x.lamp]) != 1 })
}

// inColour is that of the lamps of a case those are lit that make a colour, and no others.
func inColour(things []thing, colour string) (draft, bool) {
	inks := colours[colour]
	if len(inks) == 0 || len(things) < 2 || slices.ContainsFunc(things, func(x thing) bool { return x.lamp == "" || x.of != things[0].of }) {
		return draft{}, false
	}
	d := these(things, func(x thing) bool { return slices.Contains(inks, x.lamp) })
	return d, len(d.things) == len(inks)
}

// these is that some of several lamps are lit, and the others are not.
func these(things []thing, lights func(thing) bool) draft {
	on, off := draft{claim: lit}, draft{claim: dark}
	for _, x := range things {
		if lights(x) {
			on.things = append(on.things, x)
		} else {
			off.things = append(off.things, x)
		}
	}
	if len(off.things) > 0 {
		on.and = &off
	}
	return on
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
	for i := 1; i+1 < len(list); i++ {
		end, most := i+1, list[i].text == "at_most"
		if list[i].text == "at" && (list[i+1].text == "least" || list[i+1].text == "most") { // at least 2 s
			end, most = i+2, list[i+1].text == "most"
		} else if !most && list[i].text != "at_least" {
			continue
		}
		if end >= len(list) || unitOf(list[end]) == 0 {
			continue
		}
		before, after := list[:i], list[end+1:]
		for len(after) > 0 && (after[0].text == "at_a_time" || after[0].text == "each_time") {
			after = after[1:]
		}
		if k := slices.IndexFunc(before, func(t token) bool { return t.stem == "not" }); k >= 0 && !most { // never longer than
			before, most = slices.Concat(before[:k], before[k+1:]), true
		} else if before[0].text == "no" && !most { // no lamp is lit for longer
			before, most = slices.Concat([]token{{text: "each", stem: "each"}}, before[1:]), true
		}
		if l.least = unitOf(list[end]); most {
			l = lengths{most: l.least}
		}
		return slices.Concat(before, after), l, true
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

// figure reads "the digit shows 3": its bars are lit, and the others are not. Of its point nothing
// is said.
func (p *parser) figure(list []token) (draft, bool) {
	n := len(list)
	if n > 3 && list[n-2].text == "with" && (list[n-3].stem == "start" || list[n-3].stem == "begin" || list[n-3].stem == "be") { // begins with 0
		return p.figure(slices.Concat(list[:n-3], []token{{text: "shows", stem: "show"}}, list[n-1:]))
	}
	if n < 2 || list[n-1].kind != number || list[n-1].unit != "" || list[n-1].number < 0 || list[n-1].number > 9 || list[n-1].number != math.Trunc(list[n-1].number) {
		return draft{}, false
	}
	if !slices.Contains([]string{"show", "display", "read", "be", "say"}, list[n-2].stem) {
		return draft{}, false
	}
	name, shown := list[:n-2], int(list[n-1].number)
	var of []draft
	for _, all := range p.r.cases() {
		named := len(name) == 0 || slices.Equal(stemsOf(name), stemsOf(lex(all[0].cased))) || len(name) == 1 && slices.Contains([]string{"it", "digit", "display", "number"}, name[0].stem)
		if !all[0].digit || !named {
			continue
		}
		bars := slices.DeleteFunc(all, func(x thing) bool { return len(x.lamp) > 1 })
		d := these(bars, func(x thing) bool { return strings.Contains(part.Figures[shown][0], x.lamp) })
		d.shows = fmt.Sprint(shown)
		of = append(of, d)
	}
	if len(of) != 1 { // which of them?
		return draft{}, false
	}
	return of[0], true
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
