package should

import (
	"fmt"
	"strings"

	"cablaggio/core/running/bench"
)

// cutKey cuts "key 5 of " off.
func cutKey(t string) (key, rest string) {
	for _, begin := range []string{"key ", "row "} {
		after, ok := strings.CutPrefix(t, begin)
		if !ok {
			continue
		}
		if begin == "row " {
			after = t
		}
		if k, rest, ok := strings.Cut(after, " of "); ok {
			return k, rest
		}
	}
	return "", t
}

func (r *Reader) keyOf(s *Sentence, h bench.Hand, key string) (string, error) {
	for i, k := range h.Keys {
		if strings.EqualFold(k, key) || i < len(h.Legends) && strings.EqualFold(h.Legends[i:i+1], key) {
			return k, nil
		}
	}
	return "", &Error{s.Text, fmt.Sprintf("%s has no key %q; it has %s", h.Name, key, strings.Join(h.Keys, ", "))}
}

// handIn finds the hand whose name, or id, a text begins with: the longest.
func (r *Reader) handIn(t string) (h bench.Hand, rest string, ok bool) {
	best := 0
	for _, x := range r.hands {
		names := []string{plain(x.Name), strings.ToLower(x.Of)}
		for _, w := range r.only[x.Of] {
			names = append(names, plain(w))
		}
		if n := longest(t, names...); n > best {
			best, h = n, x
		}
	}
	return h, t[best:], best > 0
}

// thing finds what acts whose name, or id, a text begins with: the longest.
func (r *Reader) thing(t string) (out thing, rest string, ok bool) {
	best := 0
	for _, x := range r.things {
		names := []string{plain(x.name)}
		if p := r.net.Doc.Part(x.of); p != nil && strings.EqualFold(p.Name, x.name) {
			names = append(names, strings.ToLower(x.of))
		}
		if n := longest(t, names...); n > best {
			best, out = n, x
		}
	}
	return out, t[best:], best > 0
}

// longest is the length of the longest of some names that a text begins with; 0: with none.
func longest(t string, names ...string) (best int) {
	for _, name := range names {
		if begins(t, name) {
			best = max(best, len(name))
		}
	}
	return best
}

// plain is a name as a sentence has it once it is cleaned.
func plain(name string) string { return clean(name) }

func begins(t, name string) bool {
	return name != "" && strings.HasPrefix(t, name) && (len(t) == len(name) || t[len(name)] == ' ' || t[len(name)] == ',')
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

func (r *Reader) handNames() string {
	var names []string
	for _, h := range r.hands {
		names = append(names, h.Name)
	}
	if len(names) == 0 {
		return "nothing"
	}
	return strings.Join(names, ", ")
}
