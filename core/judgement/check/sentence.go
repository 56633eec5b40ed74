package check

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"cablaggio/core/document/build"
)

// A sentence is what a finding says: a form of words, and what it is about, which keeps its type
// until words are made of it at the very end. So whoever asks whether two findings say the same, or
// what of, need not read words.
type sentence struct {
	form  string // as [fmt.Sprintf] has it
	about []any  // of the types below; what is of none of them is a number with its unit, or other words
}

// Names, and states, in a sentence.
type (
	called  string // a part, or what belongs to one
	pinName string
	state   string // " while …"
)

// say makes a sentence.
func say(form string, about ...any) sentence { return sentence{form, about} }

// words are all that a sentence is when it is written down elsewhere.
func words(text string) sentence { return say("%s", text) }

// String writes it.
func (s sentence) String() string { return fmt.Sprintf(s.form, s.about...) }

// after puts another before it.
func (s sentence) after(first sentence) sentence {
	if first.form == "" {
		return s
	}
	return say("%s %s", first, s)
}

// under says what holds for all of it: "USB alone: the rail …".
func (s sentence) under(what string) sentence {
	if rest, ok := strings.CutPrefix(s.form, "The "); ok {
		s.form = "the " + rest
	}
	return say("%s: %s", build.Capital(what), s)
}

// names reports whether a sentence is about a pin.
func (s sentence) names(pin string) bool {
	return slices.ContainsFunc(s.about, func(x any) bool {
		within, ok := x.(sentence)
		return x == any(pinName(pin)) || ok && within.names(pin)
	})
}

// shape is what it says without the names of what it says it of; of its state, in which the names
// are others, the settings.
func (s sentence) shape(own []string, at At) string {
	about := slices.Clone(s.about)
	for i, x := range about {
		name := ""
		switch x := x.(type) {
		case called:
			name = string(x)
		case pinName:
			name = string(x)
		case state:
			about[i] = fmt.Sprint(slices.Sorted(maps.Values(at)))
		case sentence:
			about[i] = x.shape(own, at)
		}
		if name != "" && slices.ContainsFunc(own, func(o string) bool { return strings.Contains(strings.ToLower(name), strings.ToLower(o)) }) {
			about[i] = "¤"
		}
	}
	return sentence{s.form, about}.String()
}

// shorten lists a few names and says how many more there are.
func shorten(names []string, most int) string {
	if len(names) <= most {
		return strings.Join(names, ", ")
	}
	return fmt.Sprintf("%s and %d more", strings.Join(names[:most-1], ", "), len(names)-most+1)
}
