package phrase

import (
	"regexp"
	"slices"
	"strings"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/planning/plan"
)

// A way is what people say of how a part is wired, and the hookups that are meant: the first
// that the kind has.
type way struct {
	says    []string
	hookups []string
}

var ways = []way{
	{[]string{"to ground", "to gnd", "against ground", "pulled up"}, []string{"ground-internal-pull-up"}},
	{[]string{"to supply", "to 5v", "to 3v3", "to vcc", "to plus", "pulled down"}, []string{"supply-pull-down"}},
	{[]string{"capacitor", "a capacitor"}, []string{"ground-internal-pull-up-debounced"}},
	{[]string{"columns driven"}, []string{"columns-driven"}},
	{[]string{"rows driven"}, []string{"rows-driven"}},
	{[]string{"external pullup", "outside pullup", "own pullup", "pullup resistor"}, []string{"ground-pull-up", "external-pull-up"}},
	{[]string{"internal pullup", "inside pullup", "pullup"}, []string{"ground-internal-pull-up", "internal-pull-up", "interrupt-internal-pull-up"}},
	{[]string{"internal pulldown"}, []string{"supply-internal-pull-down"}},
	{[]string{"external pulldown", "pulldown resistor", "pulldown"}, []string{"supply-pull-down"}},
	{[]string{"debounce capacitor", "debouncing capacitor", "debounce", "debounced", "capacitor against bounce"}, []string{"ground-internal-pull-up-debounced"}},
	{[]string{"no pull", "without pull", "without a pull", "without any pull", "without a pull resistor", "without pull resistor", "no pull resistor", "floating"}, []string{"no-pull"}},
	{[]string{"dimmable", "dimmed", "dimming", "pwm pin", "pwm", "fading", "fade"}, []string{"dimmed"}},
	{[]string{"resistor at ground", "resistor to ground"}, []string{"resistor-at-ground"}},
	{[]string{"lit by low", "active low", "to supply", "low side"}, []string{"low-side"}},
	{[]string{"no resistor", "without resistor", "without a resistor"}, []string{"no-resistor", "direct"}},
	{[]string{"one resistor in common leg", "sharing one resistor", "one resistor", "one shared resistor", "a shared resistor", "shared resistor"}, []string{"resistor-in-common", "one-shared", "shared-resistor"}},
	{[]string{"resistor each", "resistors", "a resistor", "resistor"}, []string{"resistor-at-pin", "resistor-each"}},
	{[]string{"diodes"}, []string{"rows-driven-diodes"}},
	{[]string{"npn", "npn transistor", "a transistor", "transistor", "a transistor a diode"}, []string{"npn"}},
	{[]string{"a mosfet", "mosfet"}, []string{"mosfet"}},
}

// hookup finds what is said of how a kind is wired in words, and returns the words without it.
func hookup(kind *part.Kind, words []string) (id string, rest []string) {
	text := " " + strings.Join(words, " ") + " "
	best, say := "", ""
	for _, w := range ways {
		for _, h := range w.hookups {
			if _, ok := kind.Hookup(h); !ok {
				continue
			}
			for _, s := range w.says {
				if len(s) > len(say) && strings.Contains(text, " "+s+" ") {
					best, say = h, s
				}
			}
			break
		}
	}
	if best == "" {
		return "", words
	}
	return best, strings.Fields(strings.Replace(text, " "+say+" ", " ", 1))
}

// joinedWords makes one word of those that people write in several ways.
var joinedWords = strings.NewReplacer("pull-ups", "pullup", "pull ups", "pullup", "pull-up", "pullup", "pull up", "pullup", "pullups", "pullup",
	"pull-downs", "pulldown", "pull-down", "pulldown", "pull down", "pulldown", "half a dozen", "6", "yellow green", "yellow-green", "rgb lamp", "rgb led", "rgb light", "rgb led")

// aliases are words for others.
var aliases = map[string]string{
	"orange": "amber", "ir": "infrared", "infra-red": "infrared", "1n4148": "signal diode", "1n4001": "rectifier diode", "1n4004": "rectifier diode", "1n4007": "rectifier diode",
	"1n5817": "schottky diode", "1n5819": "schottky diode", "2n2222": "npn", "bc547": "npn", "2n3904": "npn",
	"common-anode": "common anode", "common-cathode": "common cathode",
}

// asking is how people begin who ask for something.
var asking = regexp.MustCompile(`^(?:please |(?:can|could) (?:i|we) (?:have|get|add) |(?:i|we) (?:want|need|would like|have)(?: to add)? |i'd like |give me |put in |put |add |use |take |insert |place |let's (?:add|take) )+`)

// pinned is a pin of a board as it is called, and numbered one by its number.
var (
	pinned      = regexp.MustCompile(`^(?:(?:d|a|gp|io|gpio)\d{1,2})$`)
	numbered    = regexp.MustCompile(`^\d{1,2}$`)
	millimetres = regexp.MustCompile(`^\d+(?:[.,]\d+)?mm$`)
)

// pinOf takes out of an item which pin it goes to: "on D7", "at pin 13", "on GP15".
func pinOf(words []string) (pin string, rest []string) {
	for i, w := range words {
		if !slices.Contains([]string{"on", "at", "to", "from", "using", "via", "pin", "into"}, w) {
			continue
		}
		at, named := i+1, w == "pin"
		for at < len(words) && slices.Contains([]string{"the", "pin", "board's"}, words[at]) {
			named = named || words[at] == "pin"
			at++
		}
		if at < len(words) && (pinned.MatchString(words[at]) || named && numbered.MatchString(words[at])) {
			pin = strings.Replace(strings.ToUpper(words[at]), "GPIO", "GP", 1)
			return pin, slices.Concat(words[:i], words[at+1:])
		}
	}
	return "", words
}

// outside takes the hookup with a resistor of one's own in the place of the one with the pull
// inside, for a value that is said of it; it reports whether there is one.
func outside(kind *part.Kind, e *plan.Add) bool {
	for inside, own := range map[string]string{"ground-internal-pull-up": "ground-pull-up", "internal-pull-up": "external-pull-up"} {
		if _, ok := kind.Hookup(own); ok && e.Hookup == inside {
			e.Hookup = own
			return true
		}
	}
	return false
}

// sort is the kind of the sort that words name, "common anode", and the words without it.
func sort(c *part.Catalogue, kind *part.Kind, words []string) (*part.Kind, []string) {
	if len(kind.Emitters) < 2 {
		return kind, words
	}
	for _, leg := range []string{"anode", "cathode"} {
		i := slices.Index(words, leg)
		if i < 0 {
			continue
		}
		words = slices.Delete(slices.Clone(words), i, i+1)
		if k := slices.Index(words, "common"); k >= 0 {
			words = slices.Delete(words, k, k+1)
		}
		for n := range c.Kinds {
			if k := &c.Kinds[n]; strings.HasSuffix(k.ID, "-"+leg) && k.Like(kind) && k.Body.Package == kind.Body.Package {
				return k, words
			}
		}
	}
	return kind, words
}
