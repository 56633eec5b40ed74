package should

import (
	"cmp"
	"slices"
	"strings"
)

// mostInstead is how many sentences are shown in place of one that is not understood.
const mostInstead = 3

// instead are sentences that may be meant: those that are understood when the fewest words are left
// out, then those that are put together of pieces that are understood, then what can be said of
// what is named.
func (r *Reader) instead(list []token, unknown []string) (out []string) {
	known := slices.DeleteFunc(slices.Clone(list), func(t token) bool { return slices.Contains(unknown, t.text) })
	said := map[string]bool{}
	add := func(text string) {
		if len(out) >= mostInstead {
			return
		}
		left := 10_000
		list, _ := r.tokens(text)
		if s, _, err := r.sentence(list, false, &left); err == nil && s != nil && !said[s.Says] {
			said[s.Says] = true
			out = append(out, text)
		}
	}
	left := 60_000
	whole, bare := r.without(known, &left)
	for _, says := range whole {
		add(says)
	}
	left = 10_000
	joined, alone := r.pieced(known, &left)
	rest := slices.Concat(r.about(known), alone, bare)
	if whens(known) == 0 { // nothing is lost of when
		rest = slices.Concat(alone, rest)
	}
	for _, says := range slices.Concat(joined, rest) {
		add(says)
	}
	return out
}

// needed are words without which a sentence says the opposite, or another thing.
var needed = []string{"not", "no", "none", "nobody", "nothing", "only", "unless", "until", "without", "neither", "nor", "otherwise", "before", "-1"}

func isNeeded(t token) bool { return slices.Contains(needed, t.text) }

// without reads what tokens say when some that follow one another are left out, the fewest first;
// what turns a sentence into its opposite stays. Bare are those that lost what says when.
func (r *Reader) without(list []token, left *int) (whole, bare []string) {
	const most = 8 // words that are left out
	for n := 0; n <= min(most, len(list)-2) && len(whole) == 0; n++ {
		for i := 0; i+n <= len(list) && *left > 0; i++ {
			if n == 0 && i > 0 || slices.ContainsFunc(list[i:i+n], isNeeded) {
				continue
			}
			s, _, err := r.sentence(slices.Concat(list[:i], list[i+n:]), false, left)
			switch {
			case err != nil || s == nil:
			case whens(list[i:i+n]) > 0 || r.names(list[i:i+n], isHand):
				bare = append(bare, s.Says)
			case !slices.Contains(whole, s.Says):
				whole = append(whole, s.Says)
			}
		}
	}
	return whole, bare
}

// A piece is some of the tokens, and what they say.
type piece struct {
	from, to int
	clause   clause
	main     draft
}

// pieced joins what is understood as something that is so with what is understood as when; alone is
// what is so.
func (r *Reader) pieced(list []token, left *int) (joined, alone []string) {
	const longest = 9
	p := &parser{r: r, left: left}
	var mains, whens []piece
	for from := range list {
		for to := min(len(list), from+longest); to > from; to-- {
			part := trim(list[from:to])
			if len(part) == 0 || len(part) < to-from {
				continue
			}
			if d, ok := p.main(part); ok && len(d.things) > 0 && d.press == nil {
				mains = append(mains, piece{from: from, to: to, main: d})
			}
			for _, kind := range []string{"event", "state"} {
				if c, ok := p.clause(kind, part); ok && c.freed == nil {
					whens = append(whens, piece{from: from, to: to, clause: c})
					break
				}
			}
		}
	}
	guessed := len(mains) == 0
	if guessed {
		mains = r.partly(list)
	}
	for _, list := range []*[]piece{&mains, &whens} { // what is said in more words first
		slices.SortStableFunc(*list, func(a, b piece) int { return cmp.Compare(b.to-b.from, a.to-a.from) })
	}
	near := func(m piece, pieces ...piece) bool { // what is needed beside it is in one of them; only says less without it
		for i := max(0, m.from-2); i < min(len(list), m.to+2); i++ {
			if isNeeded(list[i]) && list[i].text != "only" && !slices.ContainsFunc(append(pieces, m), func(x piece) bool { return i >= x.from && i < x.to }) {
				return false
			}
		}
		return true
	}
	for _, m := range mains {
		if s := (&Sentence{within: usual}); !guessed && near(m) && s.put(m.main) {
			alone = append(alone, s.plainForm())
		}
		for _, w := range whens {
			if len(joined) >= mostInstead || w.from < m.to && m.from < w.to || !near(m, w) {
				continue
			}
			d := m.main
			d.conds, d.press = slices.Concat(w.clause.conds, d.conds), w.clause.press
			if s := (&Sentence{within: usual}); s.put(d) {
				joined = append(joined, s.plainForm())
			}
		}
	}
	return joined, alone
}

// partly is the thing that is named, as on, or else those that have most of the words that are said in
// their names.
func (r *Reader) partly(list []token) (out []piece) {
	most := 0
	for at := range list {
		for _, m := range r.mentions(list, at, isThing) {
			if c, ok := did("on", thingsOf(m.items)); ok && len(m.items) == 1 && !m.none {
				return []piece{{from: at, to: m.end, main: draft{things: thingsOf(m.items), claim: c}}}
			}
		}
	}
	for i := range r.things {
		x := &r.things[i]
		said := stemsOf(lex(x.name))
		at, n := 0, 0
		for k, t := range list {
			if slices.Contains(said, t.stem) {
				at = k
				n++
			}
		}
		c, ok := did("on", []thing{*x})
		if n == 0 || n < most || !ok || x.digit {
			continue
		}
		if n > most {
			most, out = n, nil
		}
		out = append(out, piece{from: at, to: at + 1, main: draft{things: []thing{*x}, claim: c}})
	}
	return out
}

// about are sentences about what tokens name.
func (r *Reader) about(list []token) []string {
	named := map[string]bool{}
	all := r.suggestions()
	for i := range list {
		for _, of := range []whose{isThing, isHand} {
			for _, m := range r.mentions(list, i, of) {
				for _, x := range m.items {
					if x.thing != nil && len(m.items) == 1 && !named[x.label()] {
						all = append(all, names([]thing{*x.thing})+" "+doesUsually[x.thing.kind])
					}
					named[x.label()] = true
				}
			}
		}
	}
	said := map[string]bool{}
	for _, t := range list {
		said[t.stem] = true
	}
	count := func(s string) (n int) {
		for name := range named {
			if strings.Contains(s, name) {
				n += 2
			}
		}
		if len(named) > 2 && strings.Contains(s, "one at a time") {
			n += 4
		}
		for _, t := range strip(lex(s), nil) {
			if said[t.stem] && t.kind == plainWord {
				n++
			}
		}
		return n
	}
	slices.SortStableFunc(all, func(a, b string) int { return count(b) - count(a) })
	return all
}
