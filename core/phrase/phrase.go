// Package phrase reads parts as people say them: "2 red leds, a button, 10k
// pot". What it does not understand it gives back, and takes the rest.
package phrase

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"cablaggio/core/part"
	"cablaggio/core/plan"
	"cablaggio/core/quantity"
)

// MaxText is how long a phrase may be, in bytes.
const MaxText = 500

// A Phrase is what was understood of a text.
type Phrase struct {
	Understood []string    `json:"understood"` // in our words: "2 red LEDs"
	Left       []string    `json:"left"`       // the words that mean nothing here
	Edits      []plan.Edit `json:"edits"`      // what taking it does
	Complete   []string    `json:"complete"`   // the text, completed in ways that would be understood
}

// counts are the numbers that people write as words.
var counts = map[string]int{
	"a": 1, "an": 1, "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6,
	"seven": 7, "eight": 8, "nine": 9, "ten": 10, "eleven": 11, "twelve": 12,
}

// fillers are words that may stand between and mean nothing.
var fillers = []string{"with", "of", "the", "some", "and", "please", "ohm", "ohms", "kiloohm"}

const most = 50 // parts of one kind at once

// Parse reads a text. It never fails: what it cannot read is in Left.
func Parse(c *part.Catalogue, text string) Phrase {
	if len(text) > MaxText {
		text = text[:MaxText]
	}
	out := parse(c, text)
	out.Complete = complete(c, text)
	return out
}

// mostCompletions is how many are offered at once.
const mostCompletions = 5

// complete ends the last word of a text as words of the catalogue begin with
// it, the shortest first. A word of fewer than two letters says too little.
func complete(c *part.Catalogue, text string) []string {
	out := []string{}
	start := strings.LastIndexAny(text, " ,;") + 1
	last := strings.ToLower(text[start:])
	if len(last) < 2 {
		return out
	}
	var words []string
	for _, k := range c.Kinds {
		for _, w := range append(slices.Clone(k.Words), typeWords(&k)...) {
			if strings.HasPrefix(w, last) && w != last && !slices.Contains(words, w) {
				words = append(words, w)
			}
		}
	}
	slices.SortStableFunc(words, func(a, b string) int { return len(a) - len(b) })
	for _, w := range words[:min(mostCompletions, len(words))] {
		out = append(out, text[:start]+w)
	}
	return out
}

func typeWords(k *part.Kind) []string {
	var out []string
	for _, t := range k.Types {
		out = append(out, strings.ToLower(t.Name))
	}
	return out
}

func parse(c *part.Catalogue, text string) Phrase {
	out := Phrase{Understood: []string{}, Left: []string{}, Edits: []plan.Edit{}}
	text = strings.ToLower(strings.ToValidUTF8(text, " "))
	for _, sep := range []string{";", "\n", "\t", " and ", " plus ", " & ", "+"} {
		text = strings.ReplaceAll(text, sep, ", ")
	}
	// A comma with a space behind it, or none before a digit, parts two items;
	// "4,7k" is one number.
	for item := range strings.SplitSeq(separate(text), "\x00") {
		words := strings.Fields(item)
		if !out.sentence(c, words) {
			out.item(c, words)
		}
	}
	return out
}

// verbs are what a knob does to a lamp.
var verbs = []string{"dims", "dim", "dimming", "brightens"}

// sentence reads an item that says how two parts belong together: "10k pot dims
// the green led", "8 leds on a shift register". It reports whether it is one.
func (out *Phrase) sentence(c *part.Catalogue, words []string) bool {
	for i, w := range words {
		switch {
		case slices.Contains(verbs, w):
			return out.pair(c, words[:i], words[i+1:], "dimmed")
		case w == "on" && i+1 < len(words):
			if kind, _ := findKind(c, words[i+1:]); kind != nil && kind.Model == "register" {
				return out.pair(c, words[i+1:], words[:i], "on-register")
			}
		}
	}
	return false
}

// pair reads two items and wires the second by a hookup. Of a register there are
// as many as the lamps need. It reports whether both were understood; otherwise
// it leaves nothing behind.
func (out *Phrase) pair(c *part.Catalogue, first, second []string, hookup string) bool {
	var a, b Phrase
	a.item(c, first)
	b.item(c, second)
	if len(a.Edits) == 0 || len(b.Edits) == 0 {
		return false
	}
	kind, _ := c.Kind(b.Edits[0].Kind)
	if _, ok := kind.Hookup(hookup); !ok {
		return false
	}
	for i := range b.Edits {
		b.Edits[i].Hookup = hookup
	}
	if host, _ := c.Kind(a.Edits[0].Kind); host.Model == "register" {
		const outputs = 8
		for len(a.Edits)*outputs < len(b.Edits) {
			a.Edits = append(a.Edits, a.Edits[0])
		}
		for i := range a.Edits[1:] {
			a.Edits[i+1].Hookup = "chained"
		}
		a.Understood = []string{say(host, a.Edits[0], len(a.Edits))}
		b.Understood[0] += " on it"
		if len(a.Edits) > 1 {
			b.Understood[0] = strings.TrimSuffix(b.Understood[0], "it") + "them"
		}
	} else {
		b.Understood[0] += ", dimmed"
	}
	for _, p := range []Phrase{a, b} {
		out.Understood, out.Left, out.Edits = append(out.Understood, p.Understood...), append(out.Left, p.Left...), append(out.Edits, p.Edits...)
	}
	return true
}

// separate marks the commas that part items, and not those inside numbers.
func separate(text string) string {
	b := []byte(text)
	digit := func(i int) bool { return i >= 0 && i < len(b) && b[i] >= '0' && b[i] <= '9' }
	for i := range b {
		if b[i] == ',' && !(digit(i-1) && digit(i+1)) {
			b[i] = 0
		}
	}
	return string(b)
}

// item reads one item: a count, a type, a value and a kind, in any order.
func (out *Phrase) item(c *part.Catalogue, words []string) {
	if len(words) == 0 {
		return
	}
	kind, rest := findKind(c, words)
	if kind == nil {
		out.Left = append(out.Left, strings.Join(words, " "))
		return
	}
	edit := plan.Edit{Op: plan.Add, Kind: kind.ID}
	count, said := 1, ""
	var left []string
	for _, w := range rest {
		n, known := counts[w]
		if !known {
			n, _ = strconv.Atoi(strings.TrimSuffix(strings.TrimSuffix(w, "×"), "x"))
		}
		switch _, isType := kind.Type(w); {
		case isType && edit.Type == "":
			edit.Type = w
		case n > 0 && n <= most && count == 1 && said == "":
			count = n
		case edit.Value == "" && readValue(kind, w, &edit):
		case slices.Contains(fillers, w):
		default:
			left = append(left, w)
		}
		if n > 0 {
			said = w
		}
	}
	if len(left) > 0 {
		out.Left = append(out.Left, strings.Join(left, " "))
	}
	if edit.Type == "" && len(kind.Types) > 0 {
		edit.Type = kind.Types[0].ID
	}
	for range count {
		out.Edits = append(out.Edits, edit)
	}
	out.Understood = append(out.Understood, say(kind, edit, count))
}

// findKind finds the longest of the catalogue's words in an item, in the
// singular or the plural, and returns the words around it.
func findKind(c *part.Catalogue, words []string) (kind *part.Kind, rest []string) {
	longest := 0
	for i := range c.Kinds {
		for _, name := range c.Kinds[i].Words {
			parts := strings.Fields(name)
			for at := 0; at+len(parts) <= len(words); at++ {
				if len(name) > longest && matches(words[at:at+len(parts)], parts) {
					longest, kind = len(name), &c.Kinds[i]
					rest = slices.Concat(words[:at], words[at+len(parts):])
				}
			}
		}
	}
	return kind, rest
}

func matches(words, name []string) bool {
	last := len(name) - 1
	for i := range name {
		w := words[i]
		if i == last {
			w = singular(w, name[last])
		}
		if w != name[i] {
			return false
		}
	}
	return true
}

// singular returns the name when w is its plural.
func singular(w, name string) string {
	if w == name+"s" || w == name+"es" {
		return name
	}
	return w
}

// readValue reads a word as the first value of a kind, where that is one that
// builders know a part by.
func readValue(kind *part.Kind, w string, edit *plan.Edit) bool {
	v := kind.Values[0]
	x, err := quantity.Parse(w, v.Unit)
	// Parse was given lower case: "10m" of a resistor is ten megohms.
	if err == nil && x < v.Min && strings.HasSuffix(w, "m") {
		w = strings.TrimSuffix(w, "m") + "M"
		x, err = quantity.Parse(w, v.Unit)
	}
	if err != nil || !v.Shown || x < v.Min || x > v.Max {
		return false
	}
	edit.Value, edit.Text = v.ID, w
	return true
}

// plural is the name for several: what stands behind the noun stays as it is.
func plural(name string) string {
	for _, behind := range []string{",", " with", " (", " of", " 3x", " 4x"} {
		if noun, rest, ok := strings.Cut(name, behind); ok {
			return plural(noun) + behind + rest
		}
	}
	if strings.HasSuffix(name, "ch") || strings.HasSuffix(name, "s") {
		return name + "es"
	}
	return name + "s"
}

func say(kind *part.Kind, e plan.Edit, count int) string {
	name := kind.Name
	if count > 1 {
		name = plural(name)
	}
	if t, ok := kind.Type(e.Type); ok {
		name = t.Name + " " + name
	}
	if e.Value != "" {
		v := kind.Values[0]
		if x, err := quantity.Parse(e.Text, v.Unit); err == nil {
			name += " of " + quantity.Short(x, v.Unit)
		}
	}
	return fmt.Sprintf("%d %s", count, name)
}
