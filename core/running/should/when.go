package should

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"cablaggio/core/running/bench"
)

// A clause says when something is so: while something is, or once something is done.
type clause struct {
	conds []cond
	press *doing
	held  time.Duration // for how long it has been so
	after time.Duration // how long after it
	freed *doing        // what is let go, where that may be meant
}

// clause reads a clause of a sort, to the end.
func (p *parser) clause(kind string, list []token) (clause, bool) {
	out := p.once(kind+" ", list, func() (x reading) {
		x.clause, x.ok = p.clauseOf(kind, list)
		return x
	})
	return out.clause, out.ok
}

func (p *parser) clauseOf(kind string, list []token) (c clause, ok bool) {
	if rest, l, found := lasting(list); found && l.most == 0 {
		c, ok = p.clause(kind, rest)
		c.held = l.least
		return c, ok
	}
	if len(list) > 2 && unitOf(list[0]) > 0 && list[1].text == "without" { // after 3 s without a turn
		c, ok = p.clause("unless", list[2:])
		c.held = unitOf(list[0])
		return c, ok && len(c.conds) > 0
	}
	for i := 0; i+1 < len(list); i++ {
		if list[i].text == "for" && unitOf(list[i+1]) > 0 && i > 0 {
			rest := slices.Concat(list[:i], list[i+2:])
			if c, ok = p.clause("state", rest); !ok || len(c.conds) == 0 { // held, and no press
				c, ok = p.clause(kind, rest)
			}
			c.held = unitOf(list[i+1])
			return c, ok
		}
	}
	if len(list) > 2 && strings.HasPrefix(list[0].text, "keep") { // keep B pressed
		conds, ok := p.conds(list)
		return clause{conds: conds}, ok
	}
	if x, ok := p.thePress(list); ok && (kind == "event" || kind == "alone" || kind == "state") {
		return clause{press: x}, true
	}
	if kind == "event" || kind == "alone" || len(list) > 0 && (list[0].text == "each" || list[0].text == "every") {
		if x, ok := p.pressing(list); ok {
			return clause{press: &x}, true
		}
	}
	conds, ok := p.conds(list)
	if kind == "unless" && !ok { // without the lamp
		for _, m := range p.r.mentions(list, 0, isThing) {
			if on, can := did("on", thingsOf(m.items)); can && m.end == len(list) && len(m.items) == 1 {
				conds, ok = []cond{{thing: m.items[0].thing, claim: on}}, true
			}
		}
	}
	if !ok {
		return c, false
	}
	switch kind {
	case "event":
		// Each time a button is pressed is once; what stays so is while it does.
		if len(conds) == 1 && conds[0].thing == nil && len(conds[0].any) == 0 && conds[0].on && (conds[0].hand.Kind == bench.Presses || conds[0].hand.Kind == bench.PadOf) && !p.holding(list) {
			return clause{press: &doing{hand: conds[0].hand, key: conds[0].key}}, true
		}
		c.freed, _ = p.releasing(list)
		return clause{conds: conds, freed: c.freed}, true
	case "state":
		c.freed, _ = p.releasing(list)
		return clause{conds: conds, freed: c.freed}, true
	case "unless":
		if len(conds) != 1 {
			return c, false
		}
		conds[0] = conds[0].negated()
	case "until":
		if len(conds) != 1 {
			return c, false
		}
		conds[0].before = true
	}
	return clause{conds: conds}, true
}

// moves is what moves where a clause says how a hand comes to be: that it leaves things as they
// are is seen when it does.
func (c clause) moves() (*doing, bool) {
	if len(c.conds) == 0 || c.press != nil || c.freed != nil {
		return nil, false
	}
	for _, x := range c.conds {
		if x.thing != nil || len(x.any) > 0 || x.before || len(x.keys) > 0 || x.hand.Of != c.conds[0].hand.Of {
			return nil, false
		}
	}
	switch h := c.conds[0].hand; {
	case c.conds[0].ranged, h.Kind == bench.Switches:
		return &doing{hand: h, verb: bench.Set}, true
	case h.Kind == bench.Presses && c.conds[0].on:
		return &doing{hand: h}, true
	}
	return nil, false
}

func (p *parser) holding(list []token) bool {
	return slices.ContainsFunc(list, func(t token) bool { return stemmed.hold.is([]token{t}) })
}

// pressing reads what is done once: "pressing B", "each press of B", "typing "on"".
func (p *parser) pressing(list []token) (x doing, ok bool) {
	for len(list) > 1 && (list[0].stem == "somebodi" || list[0].stem == "somebody" || list[0].text == "each" || list[0].text == "every" || list[0].text == "any") {
		list = list[1:]
	}
	if x, ok := p.typedKeys(list); ok {
		return x, true
	}
	if len(list) == 2 && list[1].kind == quoted && (list[0].stem == "type" || list[0].stem == "send" || list[0].stem == "enter" || list[0].stem == "receiv") {
		return doing{typed: list[1].text}, true
	}
	if len(list) == 0 || !stemmed.press.is(list[:1]) && list[0].stem != "type" && list[0].stem != "enter" {
		if k := p.r.keys(list, 0); len(k) > 0 && k[0].end == len(list) { // each key 5 of the pad
			return doing{hand: k[0].hand, key: k[0].key}, true
		}
		return x, false
	}
	rest := list[1:]
	for len(rest) > 0 && (rest[0].text == "of" || rest[0].text == "on" || rest[0].text == "down") {
		rest = rest[1:]
	}
	if len(rest) > 1 && rest[len(rest)-1].text == "down" {
		rest = rest[:len(rest)-1]
	}
	if len(rest) == 0 || len(rest) == 1 && rest[0].text == "it" {
		h, ok := p.r.onlyPressed()
		return doing{hand: h}, ok && h.Kind != bench.PadOf
	}
	for _, k := range p.r.keys(rest, 0) {
		if k.end == len(rest) {
			return doing{hand: k.hand, key: k.key}, true
		}
	}
	if of := slices.IndexFunc(rest, func(t token) bool { return t.text == "of" }); of > 1 && rest[0].text == "key" {
		for _, h := range p.r.hands {
			if h.Kind == bench.PadOf {
				p.wrong("%s has no key %q; it has %s", h.Name, text(rest[1:of]), strings.Join(h.Keys, ", "))
			}
		}
		return x, false
	}
	for _, m := range p.r.mentions(rest, 0, isHand) {
		if m.end != len(rest) || len(m.items) != 1 {
			continue
		}
		switch h := m.items[0].hand; h.Kind {
		case bench.Presses, bench.Switches:
			return doing{hand: *h}, true
		case bench.PadOf:
			p.wrong("which key? As in \"each press of key %s of %s …\"", h.Keys[0], h.Name)
		}
	}
	return x, false
}

// conds reads what is so: one thing, or several with and, or one of several with or.
func (p *parser) conds(list []token) ([]cond, bool) {
	out := p.once("conds ", list, func() (x reading) {
		x.clause.conds, x.ok = p.condsOf(list)
		return x
	})
	return slices.Clone(out.clause.conds), out.ok
}

func (p *parser) condsOf(list []token) ([]cond, bool) {
	list = trim(list)
	if len(list) == 0 {
		return nil, false
	}
	if one, ok := p.cond(list); ok {
		return one, true
	}
	for i := 1; i+1 < len(list); i++ {
		or := list[i].text == "or" || list[i].kind == comma && slices.ContainsFunc(list[i:], func(t token) bool { return t.text == "or" }) && !slices.ContainsFunc(list, func(t token) bool { return t.text == "and" })
		so := slices.Contains([]string{"by", "at", "in", "during", "while", "when", "if", "with", "but"}, list[i].text)
		if list[i].text != "and" && !or && list[i].kind != comma && !so {
			continue
		}
		first, ok := p.cond(trim(list[:i]))
		if !ok {
			continue
		}
		rest, ok := p.conds(list[i+1:])
		if !ok {
			continue
		}
		if or {
			if len(first) != 1 || len(rest) != 1 {
				continue
			}
			return []cond{either(first[0], rest[0])}, true
		}
		return append(first, rest...), true
	}
	return nil, false
}

func either(a, b cond) cond {
	return cond{any: append(a.alternatives(), b.alternatives()...)}
}

func (c cond) alternatives() []cond {
	if len(c.any) > 0 {
		return c.any
	}
	return []cond{c}
}

// cond reads one thing that is so, to the end.
func (p *parser) cond(list []token) ([]cond, bool) {
	if slices.ContainsFunc(list, func(t token) bool { return t.text == "only" }) {
		return nil, false // what the others do is said, too
	}
	for _, read := range []func([]token) ([]cond, bool){p.light, p.typedSo, p.held, p.keyed, p.contact, p.level, p.acting} {
		if out, ok := read(list); ok {
			return out, true
		}
	}
	return nil, false
}

// acting reads what things do: "lamp 1 is lit".
func (p *parser) acting(list []token) ([]cond, bool) {
	d, ok := p.states(list)
	if !ok || d.hertz > 0 {
		return nil, false
	}
	switch d.claim {
	case lit, dark, sounds, silent, runs, rests:
	default:
		return nil, false
	}
	var out []cond
	for i := range d.things {
		out = append(out, cond{thing: &d.things[i], claim: d.claim})
	}
	return out, true
}

// wrong keeps what is wrong: what was found first, of the longest reading, says most.
func (p *parser) wrong(right string, args ...any) {
	if p.err == nil {
		p.err = fmt.Errorf(right, args...)
	}
}
