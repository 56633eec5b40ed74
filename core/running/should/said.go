package should

import (
	"slices"
	"time"

	"github.com/agnivade/levenshtein"

	"cablaggio/core/running/bench"
)

// known are the stems of all words of the grammar.
var known = func() map[string]bool {
	out := map[string]bool{}
	add := func(lists ...[]string) {
		for _, list := range lists {
			for _, p := range list {
				for _, t := range lex(p) {
					out[t.stem], out[t.text] = true, true
				}
			}
		}
	}
	add(words.Fillers, words.Articles, words.Be, words.Not, words.People, words.Objects, words.Nobody, words.Press, words.Hold, words.Release, words.Pressed, words.Up, words.Open, words.Closed,
		words.Spins, words.Still, words.Above, words.Below, words.ToLevel, words.Sees, words.Most, words.Least, words.Darkness, words.Daylight, words.Cover, words.First, words.Limits, words.One, words.Together,
		words.InTurn, words.NoEffect, words.Lighten, words.Opposite, words.Changes, words.Controls, words.Brighter, words.Darker, words.Ordinals, []string{
			"and or then only all both every each any either no none neither of it they make keep leave as take bring turn move slide rotate follow track cause further more higher farther clockwise anticlockwise brightness how bright by with within between print say write type send receive enter text for later two most least than one half two", "at_once at_a_time at_any_time on_off together simultaneously ever second time times minute twice thrice once per in is are less under last average", "somebody otherwise else mean show whether react depend independent on period * # outside hand finger moment given but exactly_one",
		})
	for _, list := range words.When {
		add(list)
	}
	add([]string{"at_least at_most neither nor run_out display counts everything nothing again odd even another next what give set tell report output line something anything message number value reading measure type dial punch code pin sequence shorter longer room temperature cool warm heat care respond heed water starts begins"})
	for _, list := range words.LevelNames {
		for _, said := range list {
			add(said)
		}
	}
	for _, said := range words.Ways {
		add(said[0], said[1])
	}
	for _, kinds := range words.Claims {
		for _, list := range kinds {
			add(list)
		}
	}
	for _, list := range words.Does {
		add(list)
	}
	for _, list := range words.Nouns {
		add(list)
	}
	for unit := range words.Units {
		out[unit] = true
	}
	out["somebody"], out["somebodi"], out["be"], out["not"] = true, true, true, true
	return out
}()

// spelled puts right what is nearly a word, and says which words are not known as they are.
func (r *Reader) spelled(list []token) (out []token, unknown []string) {
	for _, t := range list {
		if t.kind != plainWord || r.words[t.stem] || r.words[t.text] {
			out = append(out, t)
			continue
		}
		best, near := "", 3
		for w := range r.words {
			if w == "" || w[0] != t.text[0] || len(t.text) < 5 { // the first letter is hardly ever wrong (common practice)
				continue
			}
			if d := levenshtein.ComputeDistance(t.text, w); d <= min(len(t.text)/4, 2) && (d < near || d == near && w < best) {
				best, near = w, d
			}
		}
		unknown = append(unknown, t.text)
		if best == "" {
			out = append(out, t)
			continue
		}
		out = append(out, strip(lex(best), r.kept)...)
	}
	return out, unknown
}

// atFirst takes out what says that nothing was done yet.
func (r *Reader) atFirst(list []token) ([]token, bool) {
	for i := range list {
		ends := firsts.ends(list[i:])
		if len(ends) == 0 {
			continue
		}
		rest := list[i+ends[0]:]
		if len(r.mentions(rest, 0, isHand)) > 0 && len(r.mentions(rest, 0, isThing)) == 0 { // until I press the button
			continue
		}
		if before := list[:i]; i == 0 || len(rest) == 0 || rest[0].kind == comma {
			return trim(slices.Concat(before, rest)), true
		}
	}
	return list, false
}

var firsts = stems(words.First)

// soonest takes out within which time it is to be.
func soonest(list []token) ([]token, time.Duration, bool) {
	for i := range list {
		n := 0
		switch {
		case list[i].text == "within":
			n = 1
		case i+2 < len(list) && list[i].text == "in" && (list[i+1].text == "under" || list[i+1].text == "below"):
			n = 2
		case i+3 < len(list) && list[i].text == "in" && list[i+1].text == "less" && list[i+2].text == "than":
			n = 3
		}
		if n == 0 || i+n >= len(list) || list[i+n].kind != number {
			continue
		}
		d := unitOf(list[i+n])
		if d <= 0 || d > time.Minute {
			return list, 0, false
		}
		rest := list[i+n+1:]
		switch {
		case len(rest) > 1 && rest[0].text == "of": // within a second of pressing it
			rest = slices.Concat([]token{{text: "after", stem: stem("after")}}, rest[1:])
		case len(rest) > 0 && rest[0].kind == comma:
			rest = rest[1:]
		}
		before := list[:i]
		for len(before) > 0 && before[len(before)-1].kind == comma {
			before = before[:len(before)-1]
		}
		return slices.Concat(before, rest), d, true
	}
	return list, usual, true
}

// rate takes out how often it happens: "twice a second", "every 2 seconds", "once per minute".
func rate(list []token) ([]token, float64, bool) {
	for i, t := range list {
		times, n := 0.0, 0
		if i+1 < len(list) && t.text == "period" { // with a period of 2 s
			k := i + 1
			for k < len(list) && list[k].text == "of" {
				k++
			}
			if k < len(list) && unitOf(list[k]) > 0 {
				from := i
				if i > 0 && list[i-1].text == "with" {
					from--
				}
				return slices.Concat(list[:from], list[k+1:]), 1 / unitOf(list[k]).Seconds(), true
			}
		}
		switch {
		case t.text == "once":
			times, n = 1, 1
		case t.text == "twice":
			times, n = 2, 1
		case t.text == "thrice":
			times, n = 3, 1
		case t.kind == number && i+1 < len(list) && (list[i+1].text == "times" || list[i+1].text == "time"):
			times, n = t.number, 2
		case t.text == "every" || t.text == "each":
			times = 1
		case t.kind == number && t.unit == "" && i+2 < len(list) && slices.Contains([]string{"flash", "blink", "beep", "puls", "wink"}, list[i+1].stem): // 30 flashes a minute
			for _, per := range []string{"minute", "second"} {
				if last := list[i+2]; last.text == per || last.text == "per" && i+3 < len(list) && list[i+3].text == per {
					end := i + 3
					if last.text == "per" {
						end++
					}
					return slices.Concat(list[:i], list[i+1:i+2], list[end:]), t.number / map[string]float64{"minute": 60, "second": 1}[per], true
				}
			}
			continue
		default:
			continue
		}
		k := i + n
		for k < len(list) && (list[k].text == "every" || list[k].text == "per" || list[k].text == "each" || list[k].text == "in") {
			k++
		}
		if k >= len(list) {
			continue
		}
		var of time.Duration
		switch x := list[k]; {
		case x.kind == number && unitOf(x) > 0:
			of = unitOf(x)
		case x.text == "second" || x.text == "sec" || x.text == "s":
			of = time.Second
		case x.text == "minute":
			of = time.Minute
		default:
			continue
		}
		if times <= 0 {
			return list, 0, false
		}
		return slices.Concat(list[:i], list[k+1:]), times / of.Seconds(), true
	}
	return list, 0, true
}

// names reports whether something of a kind is named anywhere.
func (r *Reader) names(list []token, of whose) bool {
	for i := range list {
		if len(r.mentions(list, i, of)) > 0 {
			return true
		}
	}
	return false
}

// onlyPressed is the one thing that is pressed in a build; false where there are others.
func (r *Reader) onlyPressed() (h bench.Hand, ok bool) {
	n := 0
	for _, x := range r.hands {
		if x.Kind == bench.Presses || x.Kind == bench.PadOf {
			h = x
			n++
		}
	}
	return h, n == 1
}
