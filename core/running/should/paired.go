package should

import (
	"slices"
	"strconv"
	"strings"

	"cablaggio/core/running/bench"
)

// ofItsOwn are the words that say of a thing that it belongs to what is pressed or moved.
var ofItsOwn = []string{"its", "their", "own", "matching", "corresponding", "respective"}

// A pair is a hand and the thing of the same number: door 3 and lamp 3.
type pair struct {
	hand  bench.Hand
	thing thing
}

// pairs are the hands and things that go by the same numbers, each number once among those of a
// noun; none where a hand has no thing of its number.
func (r *Reader) pairs(nounOfHand, nounOfThing string) (out []pair) {
	numbered := func(name, noun string) int {
		n := 0
		list := lex(name)
		if !slices.ContainsFunc(list, func(t token) bool { return t.text == noun || t.stem == stem(noun) }) {
			return 0
		}
		for _, t := range list {
			if t.kind == number {
				n = int(t.number)
			}
		}
		return n
	}
	of := map[int][]thing{}
	for _, x := range r.things {
		if n := numbered(x.name, nounOfThing); n > 0 {
			of[n] = append(of[n], x)
		}
	}
	for _, h := range r.hands {
		if n := numbered(h.Name, nounOfHand); n > 0 {
			if len(of[n]) != 1 {
				return nil
			}
			out = append(out, pair{h, of[n][0]})
		}
	}
	return out
}

// paired writes what is said of each hand and its own thing, "opening a door lights its lamp", as
// a sentence for each pair; nothing where nothing is said so.
func (r *Reader) paired(text string) (out []string) {
	fields := strings.Fields(text)
	its := -1
	for i, w := range fields {
		if slices.Contains(ofItsOwn, strings.ToLower(w)) {
			its = i
		}
	}
	if its < 0 || its+1 >= len(fields) {
		return nil
	}
	noun := strings.ToLower(strings.Trim(fields[its+1], ",.!"))
	begin := its // of "its own lamp", "the matching lamp"
	for begin > 0 && (slices.Contains(ofItsOwn, strings.ToLower(fields[begin-1])) || strings.EqualFold(fields[begin-1], "the")) {
		begin--
	}
	for i, w := range fields {
		if i >= begin && i <= its+1 {
			continue
		}
		word := strings.ToLower(strings.Trim(w, ",.!"))
		pairs := r.pairs(word, noun)
		if len(pairs) == 0 {
			continue
		}
		from, to := i, i+1
		only := 0
		if to < len(fields) {
			if n, err := strconv.Atoi(strings.Trim(fields[to], ",.!")); err == nil {
				only, to = n, to+1
			}
		}
		for from > 0 && only == 0 && slices.Contains([]string{"a", "each", "every", "any", "the"}, strings.ToLower(fields[from-1])) {
			from--
		}
		for _, p := range pairs {
			if only > 0 && !strings.HasSuffix(p.hand.Name, strconv.Itoa(only)) {
				continue
			}
			var list []string
			for k, w := range fields {
				mark := w[len(strings.TrimRight(w, ",.!")):]
				switch {
				case k == to-1:
					list = append(list, p.hand.Name+mark)
				case k == its+1:
					list = append(list, p.thing.name+mark)
				case k >= from && k < to || k >= begin && k <= its:
				default:
					list = append(list, w)
				}
			}
			out = append(out, strings.Join(list, " "))
		}
		return out
	}
	return nil
}

// readPaired reads a sentence about each hand and its own thing as one sentence for each.
func (r *Reader) readPaired(text string) (*Sentence, bool) {
	var first, last *Sentence
	for _, one := range r.paired(text) {
		s, err := r.read(one)
		if err != nil {
			return nil, false
		}
		if first == nil {
			first = s
		} else {
			last.then = s
		}
		for last = s; last.then != nil; last = last.then {
		}
	}
	if first == nil {
		return nil, false
	}
	first.Text, first.Says = text, first.plainForm()
	return first, true
}
