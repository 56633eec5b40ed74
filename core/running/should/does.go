package should

import (
	"cablaggio/core/running/bench"
	"slices"
	"strings"
)

// subject lists who does something to things: a press, or what is so meanwhile.
func (p *parser) subject(list []token) (out []struct {
	end int
	clause
}) {
	add := func(end int, c clause) {
		out = append(out, struct {
			end int
			clause
		}{end, c})
	}
	const longest = 16 // words of who does it
	for end := min(len(list)-1, longest); end > 0; end-- {
		if c, ok := p.clause("event", list[:end]); ok && (c.press != nil || len(c.conds) > 0) && !slices.ContainsFunc(c.conds, func(x cond) bool { return x.thing != nil }) {
			add(end, c)
		}
	}
	for _, m := range p.r.mentions(list, 0, isHand) { // the button alone
		if h := m.items[0].hand; len(m.items) == 1 && (h.Kind == bench.Presses || h.Kind == bench.Switches) {
			add(m.end, clause{press: &doing{hand: *h}})
		}
	}
	at := 0
	for at < len(list) && (list[at].stem == "turn" || list[at].stem == "move" || list[at].stem == "slide" || list[at].stem == "chang") {
		at++
	}
	for _, m := range p.r.mentions(list, at, isHand) { // turning the knob
		if h := m.items[0].hand; len(m.items) == 1 && (h.Kind == bench.Levels || h.Kind == bench.Spins || h.Kind == bench.Switches) {
			add(m.end, clause{press: &doing{hand: *h, verb: bench.Set}})
		}
	}
	for _, k := range p.r.keys(list, 0) {
		add(k.end, clause{press: &doing{hand: k.hand, key: k.key}})
	}
	if h, ok := p.r.onlyPressed(); ok && len(list) > 1 && h.Kind == bench.Presses { // each press toggles
		for n := range 3 {
			if n < len(list) && stemmed.press.is(list[n:n+1]) && n <= 1 && (n == 0 || list[0].text == "each" || list[0].text == "every") {
				end := n + 1
				if end < len(list) && list[end].text == "it" {
					end++
				}
				add(end, clause{press: &doing{hand: h}})
			}
		}
	}
	return out
}

// does reads what a press, or a hand held, does to things: "each press of B lights X".
func (p *parser) does(list []token) (draft, bool) {
	for _, s := range p.subject(list) {
		rest := list[s.end:]
		if len(rest) < 1 {
			continue
		}
		if d, ok := p.doesBoth(list[:s.end], rest); ok {
			return d, true
		}
		d := draft{press: s.press, conds: s.conds, within: s.held, freed: s.freed}
		if stemmed.noEffect.is(rest) && len(p.r.things) > 0 {
			d.things, d.claim = p.r.things, leaves
			return d, true
		}
		if x, moves := (clause{conds: s.conds, press: s.press}).moves(); moves { // opening the door does not change X
			if said, ok := p.leaves(rest); ok {
				said.press = x
				return said, true
			}
		}
		if x := s.press; x != nil && x.hand.Kind == bench.Switches && x.verb == "" {
			if said, ok := p.leaves(rest); ok {
				moved := *x
				moved.verb = bench.Set
				said.press = &moved
				return said, true
			}
		}
		if len(p.r.things) == 1 { // first press on, gives half
			said := rest
			if rest[0].stem == "give" || rest[0].stem == "make" {
				said = rest[1:]
			}
			if low, high, ok := share(append([]token{{text: "at", stem: "at"}}, said...)); ok && len(said) < len(rest) {
				d.things, d.claim, d.low, d.high = p.r.things, bright, low, high
				return d, p.lamps(d.things)
			}
			if x, c, ok := p.predicate(rest, p.r.things); ok && rest[0].stem != "be" && (c == lit || c == dark || c == sounds || c == silent || c == runs || c == rests) && d.press != nil && d.press.nth > 0 {
				x.things, x.claim, x.press = p.r.things, c, d.press
				return x, true
			}
		}
		if x, ok := p.counting(rest); ok && d.press != nil {
			d.things, d.claim = x.things, x.claim
			return d, true
		}
		if x, c, ok := p.namedVerb(rest); ok {
			d.things, d.claim = []thing{x}, c
			return d, true
		}
		if rest[0].stem == "give" || rest[0].stem == "set" { // gives the sign a quarter
			for _, m := range p.r.lists(rest, 1, isThing) {
				if low, high, ok := share(append([]token{{text: "at", stem: "at"}}, rest[m.end:]...)); ok && !m.any && !m.none {
					d.things, d.claim, d.low, d.high = thingsOf(m.items), bright, low, high
					return d, p.lamps(d.things)
				}
			}
		}
		if len(rest) > 2 && rest[0].stem == "not" && rest[1].stem == "make" { // does not make X blink
			x, ok := p.states(rest[2:])
			c, opposed := opposite(x.claim)
			if ok && opposed && len(d.conds) > 0 {
				x.claim, x.conds = c, d.conds
				return x, true
			}
		}
		// makes, keeps X lit
		if rest[0].stem == "make" || rest[0].stem == "be" || rest[0].stem == "caus" || rest[0].stem == "bring" || rest[0].stem == "take" || rest[0].stem == "give" || rest[0].stem == "leav" || rest[0].kind == comma || rest[0].text == "and" {
			if x, ok := p.states(trim(rest[1:])); ok {
				x.press, x.conds, x.within, x.freed = d.press, d.conds, max(d.within, x.within), d.freed
				return x, true
			}
			if x, ok := p.figure(trim(rest[1:])); ok {
				x.press, x.conds, x.within = d.press, d.conds, d.within
				return x, true
			}
			if x, ok := p.coloured(trim(rest[1:])); ok {
				x.press, x.conds, x.within = d.press, d.conds, d.within
				return x, true
			}
		}
		if n := len(rest); n > 1 && rest[n-1].text == "everything" { // clears everything
			if said := stemmed.does["off"]; said.is(rest[:n-1]) && len(ofKinds(p.r.things)) == 1 {
				d.things = p.r.things
				c, ok := did("off", d.things)
				d.claim = c
				return d, ok
			}
		}
		for _, what := range []string{"leaves", "changes", "rises", "falls", "on", "off"} {
			said := stemmed.does[what]
			for _, one := range said {
				for split := len(one); split > 0; split-- { // turns on X, turns X on
					verb, tail := one[:split], one[split:]
					if !(phrases{verb}).begins(rest) || p.named(rest) > 1 { // "stop request lamp" begins with no verb
						continue
					}
					for _, m := range p.r.lists(rest, split, isThing) {
						if after := rest[m.end:]; m.any || m.none || !(len(tail) == 0 && len(after) == 0 || len(tail) > 0 && (phrases{tail}).is(after)) {
							continue
						}
						d.things = thingsOf(m.items)
						c, ok := did(what, d.things)
						if !ok {
							continue
						}
						d.claim = c
						return d, true
					}
				}
			}
		}
		if n := len(rest); rest[0].stem == "leav" && n > 3 && text(rest[n-3:]) == "as it is" || rest[0].stem == "leav" && n > 3 && text(rest[n-3:]) == "as they are" {
			for _, m := range p.r.lists(rest, 1, isThing) {
				if m.end == n-3 {
					d.things, d.claim = thingsOf(m.items), leaves
					return d, true
				}
			}
		}
	}
	return p.passive(list)
}

// doesBoth reads "lights X and darkens Y", of who does it.
func (p *parser) doesBoth(who, rest []token) (draft, bool) {
	for k := 2; k+2 < len(rest); k++ {
		if rest[k].text != "and" || !doesSomething(rest[k+1:]) || !doesSomething(rest) {
			continue
		}
		first, ok := p.does(slices.Concat(who, rest[:k]))
		if !ok || first.press == nil || first.and != nil {
			continue
		}
		more, ok := p.does(slices.Concat(who, rest[k+1:]))
		if !ok || more.press == nil || len(more.conds) != len(first.conds) {
			continue
		}
		first.and = &draft{things: more.things, claim: more.claim, and: more.and}
		return first, true
	}
	return draft{}, false
}

// doesSomething reports whether tokens begin with what is done to things.
func doesSomething(list []token) bool {
	return slices.ContainsFunc([]string{"on", "off", "changes"}, func(what string) bool {
		for _, verb := range stemmed.does[what] {
			if len(verb) == 1 && (phrases{verb}).begins(list) {
				return true
			}
		}
		return false
	})
}

// namedVerb reads "typing 2580 opens it", "1234 does not open" where a lamp is called so.
func (p *parser) namedVerb(list []token) (thing, claim, bool) {
	not := len(list) > 1 && list[0].stem == "not"
	if not {
		list = list[1:]
	}
	if len(list) != 1 && (len(list) != 2 || list[1].text != "it") {
		return thing{}, 0, false
	}
	for _, x := range p.r.items {
		if x.thing != nil && len(x.name) == 1 && x.name[0] == list[0].stem && (not || strings.HasSuffix(list[0].text, "s")) {
			c, ok := did("on", []thing{*x.thing})
			if not {
				c = leaves
			}
			return *x.thing, c, ok
		}
	}
	return thing{}, 0, false
}

// leaves reads that something leaves things as they are.
func (p *parser) leaves(rest []token) (d draft, ok bool) {
	for _, n := range stemmed.does["leaves"].ends(rest) {
		for _, m := range p.r.lists(rest, n, isThing) {
			if m.end == len(rest) && !m.any && !m.none {
				return draft{things: thingsOf(m.items), claim: leaves}, true
			}
		}
	}
	if n := len(rest); n > 2 && rest[0].stem == "leav" {
		for _, m := range p.r.lists(rest, 1, isThing) {
			if stemmed.unchanged.is(rest[m.end:]) && !m.any && !m.none {
				return draft{things: thingsOf(m.items), claim: leaves}, true
			}
		}
	}
	return d, false
}

// named is how many tokens the longest name of a thing takes that a text begins with, word by
// word its own.
func (p *parser) named(list []token) int {
	for _, m := range p.r.mentions(list, 0, isThing) {
		if slices.Contains(m.items[0].name, list[0].stem) {
			return m.end
		}
	}
	return 0
}

// did is the claim of what is done to things.
func did(what string, things []thing) (claim, bool) {
	on := map[bench.RowKind][2]claim{bench.LampRow: {lit, dark}, bench.SoundRow: {sounds, silent}, bench.LoadRow: {runs, rests}}[things[0].kind]
	for _, x := range things {
		if x.kind != things[0].kind {
			return 0, false
		}
	}
	switch what {
	case "on":
		return on[0], true
	case "off":
		return on[1], true
	case "changes":
		return changes, true
	case "rises":
		return rises, things[0].kind == bench.LampRow
	case "falls":
		return falls, things[0].kind == bench.LampRow
	}
	return leaves, true
}

// passive reads "X is toggled by B", "X does not react to B", "X shows whether …".
func (p *parser) passive(list []token) (draft, bool) {
	for _, m := range p.r.lists(list, 0, isThing) {
		rest := list[m.end:]
		if len(rest) > 2 && rest[0].stem == "show" {
			c, ok := did("on", thingsOf(m.items))
			at, only := 1, false
			if rest[1].text == "whether" || rest[1].text == "if" || rest[1].text == "when" {
				at, only = 2, true
			}
			if conds, read := p.conds(rest[at:]); read && ok {
				return draft{things: thingsOf(m.items), claim: c, conds: conds, only: only}, true
			}
		}
		if len(rest) > 1 && rest[0].stem == "follow" { // the button: lit while it is pressed, and else dark
			c, ok := did("on", thingsOf(m.items))
			for _, h := range p.r.mentions(rest, 1, isHand) {
				if ok && h.end == len(rest) && len(h.items) == 1 && h.items[0].hand.Kind == bench.Presses {
					return draft{things: thingsOf(m.items), claim: c, only: true, conds: []cond{{hand: *h.items[0].hand, on: true}}}, true
				}
			}
		}
		if to := slices.IndexFunc(rest, func(t token) bool {
			return t.stem == "react" || t.stem == "depend" || t.stem == "independ" || t.stem == "care" || t.stem == "respond" || t.stem == "heed"
		}); to >= 0 && to+1 < len(rest) {
			not := slices.ContainsFunc(rest[:to], func(t token) bool { return t.stem == "not" }) != (rest[to].stem == "independ")
			at := to + 1
			for at < len(rest) && (rest[at].text == "on" || rest[at].text == "of" || rest[at].text == "to" || rest[at].text == "about") {
				at++
			}
			for _, h := range p.r.mentions(rest, at, isHand) {
				if not && to <= 1 && h.end == len(rest) && len(h.items) == 1 {
					x := doing{hand: *h.items[0].hand}
					switch x.hand.Kind {
					case bench.Levels, bench.Spins, bench.Switches:
						x.verb = bench.Set
					case bench.PadOf:
						continue
					}
					return draft{things: thingsOf(m.items), claim: leaves, press: &x}, true
				}
			}
			if at < len(rest) && (rest[at].text == "whether" || rest[at].text == "if" || rest[at].text == "how") && not { // does not care whether it is dark
				conds, ok := p.conds(rest[at+1:])
				for _, c := range conds {
					x := doing{hand: c.hand}
					if c.ranged || c.hand.Kind == bench.Switches {
						x.verb = bench.Set
					}
					if c.thing == nil && len(c.any) == 0 && c.hand.Kind != bench.PadOf && ok {
						return draft{things: thingsOf(m.items), claim: leaves, press: &x}, true
					}
				}
			}
		}
		if len(rest) < 4 || rest[0].stem != "be" || m.none || m.any {
			continue
		}
		for what, said := range stemmed.does {
			for _, n := range said.ends(rest[1:]) {
				by := rest[1+n:]
				if len(by) < 2 || by[0].text != "by" && by[0].text != "with" && by[0].text != "from" {
					continue
				}
				for _, s := range p.subject(append(slices.Clone(by[1:]), token{kind: comma, text: ","})) {
					if s.end != len(by)-1 {
						continue
					}
					d := draft{press: s.press, conds: s.conds, things: thingsOf(m.items)}
					c, ok := did(what, d.things)
					d.claim = c
					return d, ok
				}
			}
		}
	}
	return draft{}, false
}
