package should

import (
	"cmp"
	"regexp"
	"slices"
	"strings"

	"cablaggio/core/running/bench"
)

// units are those of the hands of a build that are no words of sentences by themselves: "ppm",
// "km/h", "°F". Each has a stand-in, under which a text is taken apart. The zero value has none.
type units struct {
	after *regexp.Regexp // a number with one of them
	names []string       // the longest first; unitStandIn and its place among them is its stand-in
}

// unitStandIn begins each stand-in; nobody writes it.
const unitStandIn = "unit_x"

// unitsOf are those of hands.
func unitsOf(hands []bench.Hand) (u units) {
	for _, h := range hands {
		if h.Unit == "" || h.Unit == turns || h.Unit == ofSupply {
			continue
		}
		if t := lex("1 " + h.Unit); len(t) != 1 || !strings.EqualFold(t[0].unit, h.Unit) {
			u.names = append(u.names, h.Unit)
		}
	}
	if len(u.names) == 0 {
		return u
	}
	slices.SortFunc(u.names, func(a, b string) int { return cmp.Or(len(b)-len(a), strings.Compare(a, b)) })
	numbers := []string{`\d`}
	for n := range words.Numbers {
		numbers = append(numbers, `\b`+n)
	}
	slices.Sort(numbers)
	var either []string
	for _, name := range u.names {
		either = append(either, regexp.QuoteMeta(name))
	}
	u.after = regexp.MustCompile(`(?i)(` + strings.Join(numbers, "|") + `)\s*(` + strings.Join(either, "|") + `)($|[^\pL\pN])`)
	return u
}

// hide puts the stand-ins for the units behind numbers.
func (u units) hide(text string) string {
	if u.after == nil {
		return text
	}
	return u.after.ReplaceAllStringFunc(text, func(found string) string {
		m := u.after.FindStringSubmatch(found)
		i := slices.IndexFunc(u.names, func(name string) bool { return strings.EqualFold(name, m[2]) })
		return m[1] + " " + unitStandIn + strings.Repeat("x", i) + m[3]
	})
}

// show puts the units back for their stand-ins.
func (u units) show(list []token) {
	for i, t := range list {
		if x, ok := strings.CutPrefix(t.unit, unitStandIn); ok && len(x) < len(u.names) {
			list[i].unit = u.names[len(x)]
		}
	}
}

// isUnit reports whether a word is a unit behind a number, or the stand-in of one.
func isUnit(word string) bool {
	return words.Units[word] != "" || strings.HasPrefix(word, unitStandIn)
}

// quotes are texts between quotation marks.
var quotes = regexp.MustCompile(`"[^"]*"|“[^”]*”`)

// unquoted changes what of a text is not between quotation marks: what is printed is printed as it is.
func unquoted(text string, change func(string) string) string {
	var out strings.Builder
	at := 0
	for _, q := range quotes.FindAllStringIndex(text, -1) {
		out.WriteString(change(text[at:q[0]]) + text[q[0]:q[1]])
		at = q[1]
	}
	return out.String() + change(text[at:])
}
