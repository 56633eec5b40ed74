package should

import (
	"slices"

	"cablaggio/core/running/bench"
)

// turning reads what a knob, or a level, does to a lamp, in the ways in which that is said.
func (p *parser) turning(list []token) (draft, bool) {
	for _, read := range []func([]token) (draft, bool){p.turned, p.controls, p.follows, p.brighter, p.further} {
		if d, ok := read(list); ok {
			d.form = turning
			return d, true
		}
	}
	return draft{}, false
}

// aLamp finds the one lamp that is named from a place on, or how bright it is.
func (p *parser) aLamp(list []token, at int) (out []struct {
	lamp thing
	end  int
}) {
	for at < len(list) && (list[at].text == "brightness" || list[at].text == "of" || list[at].text == "how" || list[at].stem == "bright" || list[at].text == "light") {
		if list[at].text == "light" && (at+1 >= len(list) || list[at+1].text != "of") {
			break
		}
		at++
	}
	for _, m := range p.r.mentions(list, at, isThing) {
		if len(m.items) != 1 || m.items[0].thing.kind != bench.LampRow || m.none {
			continue
		}
		end := m.end
		for end < len(list) && (list[end].text == "'s" || list[end].text == "brightness" || end+1 == len(list) && (list[end].stem == "be" || list[end].stem == "shine" || list[end].stem == "light" || list[end].stem == "glow")) {
			end++
		}
		out = append(out, struct {
			lamp thing
			end  int
		}{*m.items[0].thing, end})
	}
	return out
}

// aKnob finds what is turned, or the level that changes, named from a place on, with the way it goes.
func (p *parser) aKnob(list []token, at int) (out []struct {
	hand bench.Hand
	end  int
	down bool
}) {
	down := false
	for at < len(list) && (list[at].stem == "somebody" || list[at].stem == "somebodi" || list[at].stem == "turn" || list[at].stem == "move" || list[at].stem == "slide" || list[at].text == "up" || list[at].text == "down" || list[at].stem == "rotat" || list[at].stem == "be") {
		down = down || list[at].text == "down"
		at++
	}
	for _, m := range p.r.mentions(list, at, isHand) {
		if len(m.items) != 1 || m.items[0].hand.Kind != bench.Levels {
			continue
		}
		end, lower := m.end, down
		for end < len(list) && (list[end].stem == "be" || list[end].stem == "turn" || list[end].stem == "move" || list[end].text == "up" || list[end].text == "down" || list[end].text == "further" || list[end].text == "clockwise" || list[end].text == "anticlockwise" || list[end].text == "higher" || list[end].stem == "rise" || list[end].text == "all" || list[end].text == "way") {
			lower = lower || list[end].text == "down" || list[end].text == "anticlockwise"
			end++
		}
		out = append(out, struct {
			hand bench.Hand
			end  int
			down bool
		}{*m.items[0].hand, end, lower})
	}
	return out
}

// fromTo reads "from dark to full".
func fromTo(list []token) (back, ok bool) {
	w := slices.DeleteFunc(slices.Clone(list), func(t token) bool { return t.text == "to" || t.text == "from" || t.text == "brightness" })
	if len(w) != 2 {
		return false, false
	}
	low := func(t token) bool {
		return t.text == "dark" || t.text == "off" || t.text == "zero" || t.text == "nothing"
	}
	high := func(t token) bool {
		return t.text == "full" || t.stem == "bright" || t.text == "brightest" || t.text == "on"
	}
	switch {
	case low(w[0]) && high(w[1]):
		return false, true
	case high(w[0]) && low(w[1]):
		return true, true
	}
	return false, false
}

// turned reads "turning K makes X brighter", "turn K up and X gets brighter".
func (p *parser) turned(list []token) (draft, bool) {
	for len(list) > 0 && (list[0].text == "when" || list[0].text == "as" || list[0].text == "if" || list[0].text == "while" || list[0].text == "by") {
		list = list[1:]
	}
	if len(list) < 3 || list[0].stem != "turn" && list[0].stem != "move" && list[0].stem != "slide" && list[0].stem != "somebody" && list[0].stem != "somebodi" {
		return draft{}, false
	}
	for _, k := range p.aKnob(list, 0) {
		rest := trim(list[k.end:])
		plain := !slices.ContainsFunc(list[:k.end], func(t token) bool { return t.text == "up" || t.text == "down" })
		d := draft{hand: k.hand}
		if len(rest) > 1 && (rest[0].stem == "take" || rest[0].stem == "bring") {
			for _, x := range p.aLamp(rest, 1) {
				if back, ok := fromTo(rest[x.end:]); ok {
					d.things, d.back = []thing{x.lamp}, back
					return d, true
				}
			}
			p.wrong("say which lamp it takes from dark to full, as in \"turning %s takes lamp 1 from dark to full\"", k.hand.Name)
			continue
		}
		at := 0
		if len(rest) > 1 && rest[0].stem == "make" {
			at = 1
		}
		for _, x := range p.aLamp(rest, at) {
			after := rest[x.end:]
			for len(after) > 1 && (after[0].stem == "be" || after[0].stem == "go") {
				after = after[1:]
			}
			if back, ok := fromTo(after); ok {
				d.things, d.back = []thing{x.lamp}, back != k.down
				return d, true
			}
			d.things = []thing{x.lamp}
			switch {
			case plain && stemmed.changes.is(after):
				return d, true
			case stemmed.brighter.is(after):
				d.back = k.down
				return d, true
			case stemmed.darker.is(after):
				d.back = !k.down
				return d, true
			}
		}
		for _, n := range stemmed.controls.ends(rest) {
			for _, x := range p.aLamp(rest, n) {
				if x.end != len(rest) {
					continue
				}
				d.things = []thing{x.lamp}
				d.back = !plain && stemmed.darker.begins(rest) != k.down
				return d, true
			}
		}
		for _, n := range stemmed.darker.ends(rest) {
			for _, x := range p.aLamp(rest, n) {
				if x.end == len(rest) {
					d.things, d.back = []thing{x.lamp}, !k.down
					return d, true
				}
			}
		}
	}
	return draft{}, false
}

// controls reads "K dims X", "I can dim X with K", "X is controlled by K".
func (p *parser) controls(list []token) (draft, bool) {
	for _, k := range p.aKnob(list, 0) {
		if k.end < len(list) {
			for _, n := range stemmed.controls.ends(list[k.end:]) {
				for _, x := range p.aLamp(list, k.end+n) {
					if x.end == len(list) {
						return draft{hand: k.hand, things: []thing{x.lamp}}, true
					}
				}
			}
		}
	}
	rest := list
	for len(rest) > 1 && (rest[0].stem == "somebody" || rest[0].stem == "somebodi") {
		rest = rest[1:]
	}
	for _, n := range stemmed.controls.ends(rest) {
		for _, x := range p.aLamp(rest, n) {
			if d, ok := p.by(rest, x.end, x.lamp, "with", "by"); ok {
				return d, true
			}
		}
	}
	for _, x := range p.aLamp(list, 0) {
		at := x.end
		if at < len(list) && list[at].stem == "be" {
			at++
		}
		if at < len(list) {
			for _, n := range stemmed.controls.ends(list[at:]) {
				if d, ok := p.by(list, at+n, x.lamp, "by", "with"); ok {
					return d, true
				}
			}
		}
	}
	return draft{}, false
}

// by reads "by K", to the end.
func (p *parser) by(list []token, at int, lamp thing, says ...string) (draft, bool) {
	if at >= len(list) || !slices.Contains(says, list[at].text) {
		return draft{}, false
	}
	for _, k := range p.aKnob(list, at+1) {
		if k.end == len(list) {
			return draft{hand: k.hand, things: []thing{lamp}}, true
		}
	}
	return draft{}, false
}

// follows reads "X follows K".
func (p *parser) follows(list []token) (draft, bool) {
	for _, x := range p.aLamp(list, 0) {
		if x.end < len(list) && (list[x.end].stem == "follow" || list[x.end].stem == "track" || list[x.end].stem == "depend") {
			at := x.end + 1
			if at < len(list) && list[at].text == "on" {
				at++
			}
			for _, k := range p.aKnob(list, at) {
				if k.end == len(list) {
					return draft{hand: k.hand, things: []thing{x.lamp}}, true
				}
			}
		}
	}
	return draft{}, false
}

// brighter reads "X gets brighter when I turn K up", "X fades from dark to full as K is turned".
func (p *parser) brighter(list []token) (draft, bool) {
	for _, x := range p.aLamp(list, 0) {
		for i := x.end; i < len(list); i++ {
			switch list[i].text {
			case "when", "as", "if", "while", "with", "by":
			default:
				continue
			}
			does := list[x.end:i]
			for len(does) > 0 && (does[0].stem == "be" || does[0].stem == "go" || does[0].stem == "fade" && len(does) > 1) {
				does = does[1:]
			}
			var back bool
			switch b, ok := fromTo(does); {
			case ok:
				back = b
			case stemmed.brighter.is(does):
			case stemmed.darker.is(does):
				back = true
			default:
				continue
			}
			if at := i + 1; !slices.ContainsFunc(list[at:], func(t token) bool {
				return t.stem == "turn" || t.stem == "move" || t.stem == "slide" || t.stem == "rotat"
			}) {
				continue
			}
			for _, k := range p.aKnob(list, i+1) {
				if k.end == len(list) {
					return draft{hand: k.hand, things: []thing{x.lamp}, back: back != k.down}, true
				}
			}
		}
	}
	return draft{}, false
}

// further reads "the further I turn K, the brighter X".
func (p *parser) further(list []token) (draft, bool) {
	if len(list) < 4 || !slices.Contains([]string{"further", "more", "higher", "farther"}, list[0].text) {
		return draft{}, false
	}
	for _, k := range p.aKnob(list, 1) {
		rest := trim(list[k.end:])
		if len(rest) < 2 || !stemmed.brighter.is(rest[:1]) && !stemmed.darker.is(rest[:1]) {
			continue
		}
		for _, x := range p.aLamp(rest, 1) {
			after := rest[x.end:]
			if len(after) == 0 || len(after) == 1 && (after[0].stem == "be" || after[0].stem == "light" || after[0].stem == "shine") {
				return draft{hand: k.hand, things: []thing{x.lamp}, back: stemmed.darker.is(rest[:1])}, true
			}
		}
	}
	return draft{}, false
}
