// Package phrase reads parts as people say them: "2 red leds, a button, 10k
// pot". What it does not understand it gives back, and takes the rest.
package phrase

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
)

// MaxText is how long a phrase may be, in bytes.
const MaxText = 500

// A Phrase is what was understood of a text.
type Phrase struct {
	Understood []string   `json:"understood"` // in our words: "2 red LEDs"
	Left       []Rest     `json:"left"`       // what was not, and is not added
	Edits      plan.Edits `json:"edits"`      // what taking it does
	Complete   []string   `json:"complete"`   // the text, completed in ways that would be understood

	adds []plan.Add
}

// A Rest is an item that was not understood, or only by half.
type Rest struct {
	Text string `json:"text"`
	Why  string `json:"why"` // and what would be right
}

// fillers are words that may stand between and mean nothing.
var fillers = []string{"with", "of", "the", "some", "and", "please", "each", "my", "piece", "pieces", "x", "×", "at", "ohm", "ohms", "for", "to", "normal", "standard", "usual", "regular", "simple",
	"small", "little", "tiny", "big", "bright", "ultra", "super", "ultrabright", "electronic", "new", "more", "another", "leg", "legs"}

const most = 50 // parts of one kind at once

// Parse reads a text. It never fails: what it cannot read is in Left.
func Parse(c *part.Catalogue, text string) Phrase {
	if len(text) > MaxText {
		text = text[:MaxText]
	}
	out := parse(c, text)
	out.Edits = plan.EditsOf(out.adds)
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
	out := Phrase{Understood: []string{}, Left: []Rest{}}
	text = joinedWords.Replace(strings.ToLower(strings.ToValidUTF8(text, " ")))
	for _, sep := range []string{";", "\n", "\t", " and ", " plus ", " & ", "+"} {
		text = strings.ReplaceAll(text, sep, ", ")
	}
	// A comma with a space behind it, or none before a digit, parts two items;
	// "4,7k" is one number.
	var items [][]string
	for item := range strings.SplitSeq(separate(text), "\x00") {
		words := strings.Fields(item)
		for i := range words {
			words[i] = strings.TrimRight(words[i], ":.!?")
			if other, ok := aliases[words[i]]; ok {
				words[i] = other
			}
		}
		words = strings.Fields(asking.ReplaceAllString(strings.Join(words, " ")+" ", ""))
		if words = slices.DeleteFunc(words, func(w string) bool { return w == "" }); len(words) > 0 {
			items = append(items, words)
		}
	}
	lend(c, items)
	var before Phrase // without the item that was read last, where that was understood whole
	var last []string
	for _, words := range items {
		was := out
		out.read(c, words)
		if len(out.Left) > len(was.Left) && last != nil {
			// What is no part goes on with the one before it: "rgb led, common anode".
			if kind, _ := findKind(c, words); kind == nil {
				with := slices.Concat(last, words)
				joined := before.clone()
				if joined.read(c, with); len(joined.Left) == len(before.Left) && len(joined.adds) == len(was.adds) {
					out, last = joined, with
					continue
				}
			}
		}
		before, last = was, nil
		if len(out.Left) == len(was.Left) {
			last = words
		}
	}
	return out
}

// read reads an item, or a sentence that is one.
func (out *Phrase) read(c *part.Catalogue, words []string) {
	if !out.sentence(c, words) {
		out.item(c, words)
	}
}

func (out *Phrase) clone() Phrase {
	return Phrase{Understood: slices.Clone(out.Understood), Left: slices.Clone(out.Left), adds: slices.Clone(out.adds)}
}

// lend gives items that are only a colour, "red, green and blue led", the noun of the item
// behind them.
func lend(c *part.Catalogue, items [][]string) {
	for i := len(items) - 2; i >= 0; i-- {
		if kind, _ := findKind(c, items[i]); kind != nil {
			continue
		}
		behind, rest := findKind(c, items[i+1])
		if behind == nil {
			continue
		}
		typed, alone := false, true
		for _, t := range tokens(items[i]) {
			_, isType := behind.Type(t.text)
			_, isNumber := numbers[t.text]
			typed = typed || isType
			alone = alone && (isType || isNumber || t.kind == count)
		}
		if !typed || !alone {
			continue
		}
		// The noun is what is left of the item without what stands around it.
		noun := slices.DeleteFunc(slices.Clone(items[i+1]), func(w string) bool { return slices.Contains(rest, w) })
		items[i] = slices.Concat(items[i], noun)
	}
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
		case (w == "on" || w == "through" || w == "behind") && i+1 < len(words):
			if kind, _ := findKind(c, words[i+1:]); kind != nil && kind.Is(part.Register) {
				return out.pair(c, words[i+1:], words[:i], "on-register")
			}
		case w == "with" && i+1 < len(words):
			if kind, _ := findKind(c, words[:i]); kind != nil && kind.Is(part.Register) {
				if lamps, _ := findKind(c, words[i+1:]); lamps != nil {
					return out.pair(c, words[:i], words[i+1:], "on-register")
				}
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
	if len(a.adds) == 0 && len(b.adds) == 0 {
		return false
	}
	if len(a.adds) == 0 || len(b.adds) == 0 {
		why := append(a.Left, b.Left...)
		out.leave(slices.Concat(first, second), why[0].Why)
		return true
	}
	if b.adds[0].Hookup != "" {
		out.leave(second, "there they are wired in one way; how else is said of the lamps afterwards")
		return true
	}
	kind, _ := c.Kind(b.adds[0].Kind)
	if _, ok := kind.Hookup(hookup); !ok {
		return false
	}
	if slices.ContainsFunc(a.adds, func(e plan.Add) bool { return e.Kind != a.adds[0].Kind }) { // "on a register with one resistor"
		out.leave(slices.Concat(second, first), "each lamp on a register has its own resistor here; say of it without")
		return true
	}
	if each := slices.Index(second, "each"); each >= 0 && len(a.adds) > 1 { // "two registers with 4 lamps each"
		one := b.adds
		for range len(a.adds) - 1 {
			b.adds = append(b.adds, one...)
		}
		b.Understood[0] = say(kind, b.adds[0], len(b.adds))
	}
	for i := range b.adds {
		b.adds[i].Hookup = hookup
	}
	if host, _ := c.Kind(a.adds[0].Kind); host.Is(part.Register) {
		const outputs = 8
		for len(a.adds)*outputs < len(b.adds) {
			a.adds = append(a.adds, a.adds[0])
		}
		for i := range a.adds[1:] {
			a.adds[i+1].Hookup = "chained"
		}
		a.Understood = []string{say(host, a.adds[0], len(a.adds))}
		b.Understood[0] += " on it"
		if len(a.adds) > 1 {
			b.Understood[0] = strings.TrimSuffix(b.Understood[0], "it") + "them"
		}
	} else {
		b.Understood[0] += ", dimmed"
	}
	for _, p := range []Phrase{a, b} {
		out.Understood, out.Left, out.adds = append(out.Understood, p.Understood...), append(out.Left, p.Left...), append(out.adds, p.adds...)
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

// leave notes an item that is not added, and why.
func (out *Phrase) leave(words []string, why string) {
	out.Left = append(out.Left, Rest{strings.Join(words, " "), why})
}

// item reads one item: a count, a type, a value, how it is wired and a kind, in any order. It
// is added whole or not at all.
func (out *Phrase) item(c *part.Catalogue, words []string) {
	if len(words) == 0 {
		return
	}
	whole := words
	pin, words := pinOf(words)
	head, tail := headOf(words)
	// "shift register with latch" is the name of one.
	if named, rest := findKind(c, words); named != nil && len(tail) > 0 && !slices.Contains(rest, words[len(head)]) {
		head, tail = words, nil
	}
	kind, rest := findKind(c, head)
	if kind == nil {
		if kind, rest = findKind(c, words); kind == nil {
			out.leave(words, unknown(words))
			return
		}
		tail = nil
	}
	kind, rest = sort(c, kind, slices.Concat(rest, tail))
	edit := plan.Add{Kind: kind.ID, Pin: pin}
	edit.Hookup, rest = hookup(kind, rest)
	var more []string // "a led with a button"
	if other, without := findKind(c, rest); other != nil {
		switch {
		case sameModel(other, kind): // "an anemometer with a reed contact"
			rest = without
		case len(kind.Emitters) > manyEmitters && other.ID == "led" && tail != nil: // "a bar graph with 10 leds"
			rest = without
		case tail != nil:
			more = rest[len(rest)-min(len(rest), len(tail)):]
			rest = rest[:len(rest)-len(more)]
		default:
			out.leave(words, "put a comma between two parts")
			return
		}
	}
	n, counted := 1, false
	for _, t := range tokens(rest) {
		known, isWord := numbers[t.text]
		switch _, isType := kind.Type(t.text); {
		case isType && edit.Type == "":
			edit.Type = t.text
		case t.kind == count && len(kind.Emitters) > manyEmitters && t.number == len(kind.Emitters): // "10 led bar"
		case t.kind == count && t.number > most && edit.Value == "" && behindKind(c, words, t.text) && readValue(c, kind, t.text, &edit): // "led 220"
		case t.kind == count && (t.number <= 0 || t.number > most):
			out.leave(words, fmt.Sprintf("%s are not possible; 1 to %d at once", t.text, most))
			return
		case t.kind == count && !counted:
			n, counted = t.number, true
		case isWord:
			if !counted || known > n { // "a couple of"
				n = known
			}
			counted = counted || known > 1
		case t.kind == value && edit.Value == "" && readValue(c, kind, t.text, &edit):
		case t.kind == value && edit.Value == "" && outside(kind, &edit) && readValue(c, kind, t.text, &edit):
		case t.kind == value && millimetres.MatchString(t.text): // the size of its case
		case slices.Contains(fillers, t.text):
		case t.kind == count:
			out.leave(words, fmt.Sprintf("%s of what? Write it with its unit, as in %s ohm", t.text, t.text))
			return
		case t.kind == value && edit.Value != "":
			out.leave(words, fmt.Sprintf("one value at once: %s is said of the part afterwards", t.text))
			return
		case t.kind == value:
			out.leave(words, fmt.Sprintf("%s is no value that can be said of %s here", t.text, article(kind.Name)))
			return
		case edit.Name == "" && n == 1 && calls(kind, words, t.text):
			edit.Name = t.text + " " + words[len(words)-1]
		default:
			out.leave(words, fmt.Sprintf("%q is not known of %s", t.text, article(kind.Name)))
			return
		}
	}
	if edit.Type == "" && len(kind.Types) > 0 {
		edit.Type = kind.Types[0].ID
	}
	if pin != "" && n > 1 {
		out.leave(whole, "a pin is for one part: say each with its own, and a comma between")
		return
	}
	out.take(kind, edit, n)
	out.item(c, more)
}

// calls reports whether a word stands right before the noun at the end of an item, as what the part is
// called: "alarm lamp". A word of another part, or a slip of the pen in a colour, is no name.
func calls(kind *part.Kind, words []string, w string) bool {
	last := len(words) - 1
	if last < 1 || words[last-1] != w || !slices.Contains([]string{"lamp", "light"}, words[last]) || !slices.Contains(kind.Words, words[last]) {
		return false
	}
	return letters.MatchString(w) && w != "traffic" && !slices.ContainsFunc(typeWords(kind), func(t string) bool { return near(t, w) })
}

var letters = regexp.MustCompile(`^\pL{3,}$`)

// near reports whether two words differ in two letters at most.
func near(a, b string) bool {
	if max(len(a), len(b))-min(len(a), len(b)) > 2 {
		return false
	}
	differ := max(len(a), len(b)) - min(len(a), len(b))
	for i := range min(len(a), len(b)) {
		if a[i] != b[i] {
			differ++
		}
	}
	return differ <= 2
}

// behindKind reports whether a word stands behind the name of a part.
func behindKind(c *part.Catalogue, words []string, w string) bool {
	i := slices.Index(words, w)
	if i < 0 {
		return false
	}
	kind, _ := findKind(c, words[:i])
	return kind != nil
}

// manyEmitters is from how many lamps in one case on a number is that of the case.
const manyEmitters = 3

// headOf parts an item at the first word behind which it is said how the part is.
func headOf(words []string) (head, tail []string) {
	for i, w := range words {
		if i == 0 || !slices.Contains(behind, w) {
			continue
		}
		if w == "without" || w == "sharing" {
			return words[:i], words[i:]
		}
		return words[:i], words[i+1:]
	}
	return words, nil
}

// behind are the words behind which it is said how a part is.
var behind = []string{"with", "without", "sharing", "having", "on", "using", "via"}

// unknown says why an item is no part.
func unknown(words []string) string {
	for _, t := range tokens(words) {
		if t.kind == count {
			return fmt.Sprintf("%s of what? Name the part, or give the number its unit, as in %s ohm", t.text, t.text)
		}
	}
	return "this is no part that is known here; the list of parts has all of them"
}

// article puts "a" or "an" before a name, by how it begins to sound.
func article(name string) string {
	for _, vowel := range []string{"A", "E", "I", "O", "LED", "RGB", "NTC", "MOSFET", "NPN", "LDR"} {
		if strings.HasPrefix(name, vowel) && name != "" {
			return "an " + name
		}
	}
	return "a " + name
}

// take adds so many parts. Of lamps that share a resistor the first one brings it.
func (out *Phrase) take(kind *part.Kind, edit plan.Add, n int) {
	for i := range n {
		e := edit
		if e.Hookup == sharedResistor && i == 0 {
			e.Hookup = "resistor-at-ground"
		}
		out.adds = append(out.adds, e)
	}
	out.Understood = append(out.Understood, say(kind, edit, n))
}

// sharedResistor is the hookup of a lamp that takes the resistor of another.
const sharedResistor = "shared-resistor"

// sameModel reports whether one kind is what another is made of.
func sameModel(a, b *part.Kind) bool { return a.ID != b.ID && a.Like(b) }

// findKind finds the longest of the catalogue's words in an item, in the
// singular or the plural, and returns the words around it.
func findKind(c *part.Catalogue, words []string) (kind *part.Kind, rest []string) {
	longest := 0
	for i := range c.Kinds {
		for _, name := range c.Kinds[i].Words {
			parts := strings.Fields(name)
			for at := 0; at+len(parts) <= len(words); at++ {
				// What a builder calls his own is his own.
				mine := len(name) == longest && c.Kinds[i].Own() && !kind.Own()
				if (len(name) > longest || mine) && matches(words[at:at+len(parts)], parts) {
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

// readValue reads a word as a value of a kind that builders know a part by, or as that of the
// resistor that its hookup brings.
func readValue(c *part.Catalogue, kind *part.Kind, w string, edit *plan.Add) bool {
	set := func(v *part.Value) bool {
		x, err := quantity.Parse(w, v.Unit)
		// Parse was given lower case: "10m" of a resistor is ten megohms.
		if err == nil && x < v.Min && strings.HasSuffix(w, "m") {
			w = strings.TrimSuffix(w, "m") + "M"
			x, err = quantity.Parse(w, v.Unit)
		}
		if err != nil || x < v.Min || x > v.Max {
			return false
		}
		edit.Value, edit.Text = v.ID, w
		return true
	}
	for i := range kind.Values {
		if v := &kind.Values[i]; v.Shown && v.Unit != "" && set(v) {
			return true
		}
	}
	resistor, _ := c.Kind("resistor")
	for _, h := range kind.Hookups {
		if (h.ID == edit.Hookup || edit.Hookup == "") && slices.ContainsFunc(h.Helpers, func(x part.Helper) bool { return x.Kind == resistor.ID }) {
			v, _ := resistor.Value("resistance")
			return set(&v)
		}
		if edit.Hookup == "" {
			return false // of the first one
		}
	}
	return false
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

func say(kind *part.Kind, e plan.Add, count int) string {
	name := kind.Name
	if count > 1 {
		name = plural(name)
	}
	if t, ok := kind.Type(e.Type); ok {
		name = t.Name + " " + name
	}
	if v, ok := kind.Value(e.Value); ok {
		if x, err := quantity.Parse(e.Text, v.Unit); err == nil {
			name += " of " + quantity.Short(x, v.Unit)
		}
	} else if e.Value != "" {
		if x, err := quantity.Parse(e.Text, quantity.Ohm); err == nil {
			name += " with " + quantity.Short(x, quantity.Ohm)
		}
	}
	if e.Name != "" {
		name += fmt.Sprintf(" called %q", e.Name)
	}
	if e.Pin != "" {
		name += " on pin " + e.Pin
	}
	if h, ok := kind.Hookup(e.Hookup); ok {
		name += " (" + h.Name + ")"
	}
	return fmt.Sprintf("%d %s", count, name)
}
