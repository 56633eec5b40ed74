package should

import (
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/running/bench"
)

// An item is something of the build that has a name: a thing, or what a hand moves.
type item struct {
	thing *thing
	hand  *bench.Hand
	name  []string        // the stems of its name, or of the word that stands for it
	parts []string        // the stems of its name
	own   []string        // of one of a part's several hands: the stems of its name without the part's
	words map[string]bool // those that may be said of it
	nouns map[string]bool // of these, what all of its kind are called
}

// listItems lists what a sentence can name, with all that may be said of it.
func (r *Reader) listItems() {
	r.parts, r.kept = map[string]bool{}, map[string]bool{}
	for i := range r.things {
		x := &r.things[i]
		nth, of := place(r.things, i, func(a, b thing) bool { return a.kind == b.kind })
		nouns, also := words.Nouns[string(x.kind)], ordinals(x.name, nth, of)
		id := ""
		if p := r.net.Doc.Part(x.of); p != nil {
			nouns, also = append(slices.Clone(nouns), spaced(p.Kind)), append(also, p.Type)
			if strings.EqualFold(p.Name, x.name) {
				id = p.ID
			}
		}
		r.add(item{thing: x}, x.name, id, nouns, also)
	}
	for i := range r.hands {
		h := &r.hands[i]
		p := r.net.Doc.Part(partOf(h.Of))
		if p == nil {
			continue
		}
		nouns := slices.Clone(words.Nouns[string(h.Kind)])
		if h.Unit == turns {
			nouns = nil // it is a knob, and no sensor
		}
		nouns = slices.Concat(nouns, words.Nouns[strings.ToLower(h.Unit)], []string{spaced(p.Kind)}, r.only[h.Of])
		nth, of := place(r.hands, i, func(a, b bench.Hand) bool { return a.Kind == b.Kind })
		x, numbered := item{hand: h}, h.Name
		if own, ok := strings.CutSuffix(h.Name, " of "+p.Name); ok {
			numbered = own // of "switch 2 of row 1" the number is the 2
			for _, t := range lex(own) {
				x.own = append(x.own, t.stem)
			}
		}
		r.add(x, h.Name, h.Of, nouns, ordinals(numbered, nth, of))
	}
	for _, w := range words.Be { // "on air" is a name, and "is" stays "is"
		delete(r.kept, w)
	}
}

// partOf is the id of the part that a hand is at.
func partOf(hand string) string {
	id, _ := build.Terminal(hand).Split()
	return id
}

// add adds an item by its name and its id, what all of its kind are called, and what else may be
// said of it.
func (r *Reader) add(x item, name, id string, nouns, also []string) {
	x.words, x.nouns = map[string]bool{strings.ToLower(id): true}, map[string]bool{}
	for _, t := range lex(name) {
		if t.kind != comma && t.kind != quoted && t.text != "the" && t.text != "of" {
			x.name = append(x.name, t.stem)
			x.words[t.stem] = true
		}
	}
	for _, n := range nouns {
		for _, t := range lex(n) {
			x.words[t.stem], x.nouns[t.stem] = true, true
		}
	}
	for _, a := range also {
		for _, t := range lex(a) {
			x.words[t.stem] = true
		}
	}
	x.parts = x.name
	for w := range x.words {
		r.parts[w] = true
	}
	r.longest = max(r.longest, len(lex(name))+2)
	if odd.MatchString(name) && letter.MatchString(name) {
		word := "named" + strings.Repeat("x", len(r.renamed)+1)
		x.name = []string{stem(word)}
		x.words[x.name[0]], r.parts[x.name[0]] = true, true
		r.renamed = append(r.renamed, rename{regexp.MustCompile(`(?i)` + regexp.QuoteMeta(name)), word})
	}
	if len(x.name) > 1 {
		for _, w := range x.name {
			r.kept[w] = true
		}
	}
	r.items = append(r.items, x)
}

// A rename is a word for a name that would be taken for something else in a sentence: one with a
// comma, a stop, a quotation mark or a number with a unit in it.
type rename struct {
	name *regexp.Regexp
	word string
}

var (
	odd    = regexp.MustCompile(`[,;:."%]|^\d|\d\s*\pL`)
	letter = regexp.MustCompile(`\pL`)
)

// spaced is a kind of part in words.
func spaced(kind string) string { return strings.ReplaceAll(kind, "-", " ") }

// place is the how manieth of its like something is, and of how many.
func place[T any](list []T, i int, like func(a, b T) bool) (nth, of int) {
	for k := range list {
		if like(list[k], list[i]) {
			of++
			if k < i {
				nth++
			}
		}
	}
	return nth, of
}

// ordinals are the words for the number in a name, or else for its place among its like.
func ordinals(name string, nth, of int) (out []string) {
	for _, t := range lex(name) {
		if t.kind == number && t.number >= 1 && int(t.number) <= len(words.Ordinals) {
			out = append(out, words.Ordinals[int(t.number)-1])
		}
	}
	if len(out) == 0 && nth < len(words.Ordinals) {
		out = append(out, words.Ordinals[nth])
	}
	if nth == of-1 && of > 1 {
		out = append(out, "last")
	}
	return out
}

// A mention is where a name ends, and what it may name.
type mention struct {
	end   int
	items []item
	none  bool // "no lamp": of none of them
	any   bool // one or the other
}

// mentions lists what tokens may name from a place on, the longest name first.
func (r *Reader) mentions(list []token, at int, of whose) (out []mention) {
	begin, none, group, either, both := at, false, false, false, false
	if at < len(list) && list[at].text == "it" && len(r.things) == 1 && of.has(item{thing: &r.things[0]}) {
		out = append(out, mention{end: at + 1, items: []item{{thing: &r.things[0]}}})
	}
	count := 0
	for begin < len(list) && (list[begin].kind == plainWord || list[begin].kind == number && (begin == at || group) && begin+1 < len(list) && list[begin+1].kind == plainWord && list[begin].unit == "" && list[begin].number > 1) {
		if list[begin].kind == number { // the two lamps
			count, group = int(list[begin].number), true
			begin++
			continue
		}
		switch list[begin].text {
		case "all", "both", "every", "each", "any", "either":
			either = either || list[begin].text == "any" || list[begin].text == "either"
			group, both = true, both || list[begin].text == "both"
		case "no", "none", "neither":
			none, group = true, true
		case "of":
		default:
			goto named
		}
		begin++
	}
named:
	last := begin // a name goes on as long as its words are words of names
	for last < min(len(list), begin+r.longest) && (r.parts[list[last].stem] || list[last].text == "of" || list[last].text == "'s") {
		last++
	}
	for end := last; end > begin; end-- {
		var said []string
		many := group
		ok := true
		for _, t := range list[begin:end] {
			if t.kind == comma || t.kind == quoted || t.unit != "" {
				ok = false
				break
			}
			if t.text == "of" || t.text == "'s" {
				continue
			}
			if s, plural := strings.CutSuffix(t.text, "s"); plural && t.kind == plainWord && s != "" && !strings.HasSuffix(s, "s") {
				many = true
			}
			said = append(said, t.stem)
		}
		if last := list[end-1]; !ok || len(said) == 0 || last.text == "of" {
			continue
		}
		if len(said) == 1 && (list[end-1].kind == number || slices.Contains(words.Ordinals, list[end-1].text)) && !r.isName(said, of) {
			continue // a number alone is no name
		}
		named := r.meant(said, many, of)
		if len(named) > 0 && !(both && len(named) != 2) && (count == 0 || count == len(named)) {
			out = append(out, mention{end: end, items: named, none: none, any: either})
		}
	}
	return out
}

func (r *Reader) isName(said []string, of whose) bool {
	return slices.ContainsFunc(r.items, func(x item) bool { return of.has(x) && slices.Equal(said, x.name) })
}

// meant are the items that words name: the one with this name, the only one that they can be
// said of, or of many all.
func (r *Reader) meant(said []string, many bool, of whose) []item {
	key := fmt.Sprint(of.key, many, strings.Join(said, " "))
	r.mu.Lock()
	defer r.mu.Unlock()
	if out, ok := r.found[key]; ok {
		return out
	}
	if len(r.found) > 10_000 {
		clear(r.found)
	}
	out := r.find(said, many, of)
	r.found[key] = out
	return out
}

func (r *Reader) find(said []string, many bool, of whose) (out []item) {
	if x, ok := r.byOwn(said, of); ok {
		return []item{x}
	}
	for _, x := range r.items {
		if !of.has(x) {
			continue
		}
		if slices.Equal(said, x.name) || len(said) == 1 && x.id() == said[0] {
			return []item{x}
		}
		nouns := 0
		for _, w := range said {
			if x.nouns[w] && !slices.Contains(x.parts, w) {
				nouns++
			}
		}
		if nouns < 2 && !slices.ContainsFunc(said, func(w string) bool { return !x.words[w] }) {
			out = append(out, x)
		}
	}
	if len(out) > 1 { // one that has all the words in its name is meant before one of that kind
		best := slices.DeleteFunc(slices.Clone(out), func(x item) bool {
			return slices.ContainsFunc(said, func(w string) bool { return !slices.Contains(x.parts, w) && !x.nouns[w] })
		})
		if len(best) > 0 {
			out = best
		}
	}
	if x, ok := pushed(out, said); ok {
		return []item{x}
	}
	if len(out) > 1 && out[0].thing != nil && !slices.ContainsFunc(out, func(x item) bool { return x.thing.of != out[0].thing.of }) {
		many = true // all that is in one part
	}
	if len(out) > 1 && !many {
		best := slices.DeleteFunc(slices.Clone(out), func(x item) bool {
			return slices.ContainsFunc(said, func(w string) bool { return !slices.Contains(x.parts, w) })
		})
		if len(best) == 1 || of.key == isThing.key && calledTogether(best, said) {
			return best
		}
		return nil
	}
	return out
}

// calledTogether reports whether things are called by a word that is no word for their kind and stands in
// all of their names: "the platform", of two platform lamps.
func calledTogether(list []item, said []string) bool {
	if len(list) < 2 || len(said) != 1 {
		return false
	}
	return !slices.ContainsFunc(list, func(x item) bool { return x.nouns[said[0]] || len(x.parts) < 2 })
}

// byOwn is the only hand that has such a name of its own at its part: "switch 2".
func (r *Reader) byOwn(said []string, of whose) (found item, ok bool) {
	for _, x := range r.items {
		if of.has(x) && len(x.own) > 0 && slices.Equal(said, x.own) {
			if ok {
				return item{}, false
			}
			found, ok = x, true
		}
	}
	return found, ok
}

// pushed is, of several hands of one part that is called by its name, the one that is pressed.
func pushed(list []item, said []string) (found item, ok bool) {
	for _, x := range list {
		if x.own == nil || partOf(x.hand.Of) != partOf(list[0].hand.Of) || slices.ContainsFunc(said, func(w string) bool { return slices.Contains(x.own, w) }) {
			return item{}, false
		}
		if x.hand.Kind == bench.Presses {
			if ok {
				return item{}, false
			}
			found, ok = x, true
		}
	}
	return found, ok
}

func (x item) id() string {
	if x.hand != nil {
		return strings.ToLower(x.hand.Of)
	}
	return ""
}

// whose says of which items a name may be.
type whose struct {
	key string // by which it is remembered what is meant
	has func(item) bool
}

var (
	isThing = whose{"thing", func(x item) bool { return x.thing != nil }}
	isHand  = whose{"hand", func(x item) bool { return x.hand != nil }}
)

func handOf(id string) whose {
	return whose{id, func(x item) bool { return x.hand != nil && x.hand.Of == id }}
}

// lists are several names with commas and an and between: "lamps 1 and 2", "left and right lamp".
func (r *Reader) lists(list []token, at int, of whose) (out []mention) {
	for _, m := range r.mentions(list, at, of) {
		next := m.end
		for next < len(list) && (list[next].kind == comma || list[next].text == "and" || list[next].text == "or") {
			next++
		}
		if next > m.end {
			or := list[next-1].text == "or"
			rest := r.lists(list, next, of)
			if next < len(list) && list[next].kind == number && m.end > at+1 && list[m.end-1].kind == number { // lamps 1 and 2
				rest = nil
				one := append(slices.Clone(list[at:m.end-1]), list[next:]...)
				for _, more := range r.lists(one, 0, of) {
					rest = append(rest, mention{end: more.end + next - (m.end - 1 - at), items: more.items})
				}
			}
			for _, x := range rest {
				if x.none != m.none {
					continue
				}
				both := append(slices.Clone(m.items), slices.DeleteFunc(slices.Clone(x.items), func(y item) bool {
					return slices.ContainsFunc(m.items, func(z item) bool { return z.thing == y.thing && z.hand == y.hand })
				})...)
				out = append(out, mention{end: x.end, items: both, none: m.none, any: m.any || or || x.any})
			}
		}
		out = append(out, m)
	}
	return out
}

func thingsOf(list []item) (out []thing) {
	for _, x := range list {
		out = append(out, *x.thing)
	}
	return out
}

// key is a key of a keypad that tokens name from a place on, and where it ends.
func (r *Reader) keys(list []token, at int) (out []struct {
	hand bench.Hand
	key  string
	end  int
}) {
	add := func(h bench.Hand, key string, end int) {
		out = append(out, struct {
			hand bench.Hand
			key  string
			end  int
		}{h, key, end})
	}
	for _, h := range r.hands {
		if h.Kind != bench.PadOf {
			continue
		}
		for _, key := range h.Keys {
			for _, n := range r.legend[h.Of+" "+key] {
				from := at
				for _, m := range r.mentions(list, at, handOf(h.Of)) { // the keypad's key 5
					if m.end < len(list) && (list[m.end].text == "key" || text(list[m.end:min(m.end+len(n), len(list))]) == text(n)) {
						from = m.end
					}
				}
				if from < len(list) && list[from].text == "key" {
					from++
				}
				end := from + len(n)
				if end > len(list) || text(list[from:end]) != text(n) || list[end-1].unit != "" {
					continue
				}
				for end < len(list) && list[end].text == "key" {
					end++
				}
				for _, of := range []string{"of", "on"} {
					if end+1 < len(list) && list[end].text == of {
						for _, m := range r.mentions(list, end+1, handOf(h.Of)) {
							add(h, key, m.end)
						}
					}
				}
				if n := r.pads(); n == 1 {
					add(h, key, end)
				}
			}
		}
	}
	return out
}

func (r *Reader) pads() (n int) {
	for _, h := range r.hands {
		if h.Kind == bench.PadOf {
			n++
		}
	}
	return n
}

// vocabulary is all words that a sentence about this build can have.
func (r *Reader) vocabulary() map[string]bool {
	out := maps.Clone(known)
	if slices.ContainsFunc(r.things, func(x thing) bool { return x.lamp != "" }) {
		for colour := range colours {
			out[colour] = true
		}
	}
	for _, x := range r.items {
		for w := range x.words {
			out[w] = true
		}
		for _, t := range lex(x.label()) {
			out[t.stem] = true
			out[t.text] = true
		}
		if x.hand != nil {
			for _, s := range append([]string{x.hand.On, x.hand.Off}, x.hand.Names...) {
				for _, t := range lex(s) {
					out[t.stem] = true
				}
			}
		}
	}
	return out
}

func (x item) label() string {
	if x.thing != nil {
		return x.thing.name
	}
	return x.hand.Name
}

func (r *Reader) named() string {
	var names []string
	for _, x := range r.things {
		names = append(names, x.name)
	}
	if len(names) == 0 {
		return "nothing"
	}
	return strings.Join(names, ", ")
}

// names lists things in words.
func names(things []thing) string {
	var list []string
	for _, x := range things {
		list = append(list, x.name)
	}
	return inWords(list, "and")
}

func inWords(list []string, and string) string {
	if len(list) == 1 {
		return list[0]
	}
	return fmt.Sprintf("%s %s %s", strings.Join(list[:len(list)-1], ", "), and, list[len(list)-1])
}

// Named lists what a text names as a whole, by name: things, or else hands; the parts that they are
// of beside them. It is empty where the text says anything else, too, or may be either.
func (r *Reader) Named(text string) (names, parts []string, hands bool) {
	list := strip(lex(text), r.kept)
	whole := func(of whose) (out []item) {
		for _, m := range r.lists(list, 0, of) {
			if m.end == len(list) && !m.none {
				return m.items
			}
		}
		return nil
	}
	items, others := whole(isThing), whole(isHand)
	if len(items) > 0 && len(others) > 0 && !r.isName(stemsOf(list), isThing) { // team 1: its lamp, or its button?
		return nil, nil, false
	}
	hands = len(items) == 0
	for _, x := range append(items, others...) {
		if hands != (x.hand != nil) {
			continue
		}
		names = append(names, x.label())
		if hands {
			parts = append(parts, x.hand.Of)
		} else {
			parts = append(parts, x.thing.of)
		}
	}
	return names, parts, hands && len(names) > 0
}
