package phrase

import (
	"regexp"
	"strconv"
	"strings"
)

// A token is a word of an item, or a number, or a value with its unit.
type token struct {
	text   string // as it is read: "10k", "47", "red"
	number int    // of a count; see isCount
	kind   tokenKind
}

type tokenKind uint8

const (
	word  tokenKind = iota
	count           // a number without a unit
	value           // a number with one
)

// units are what stands behind a number and makes it a value, with what [quantity.Parse] reads.
var units = map[string]string{
	"k": "k", "kohm": "k", "kohms": "k", "kiloohm": "k", "kiloohms": "k", "kω": "k",
	"ohm": "", "ohms": "", "ω": "", "r": "r", "meg": "M", "mohm": "M", "megohm": "M", "mω": "M",
	"pf": "pf", "nf": "nf", "uf": "uf", "µf": "µf", "μf": "uf",
	"v": "v", "volt": "v", "volts": "v", "mv": "mv", "ma": "ma", "milliamps": "ma", "milliampere": "ma", "hz": "hz",
}

// numbers are those that people write as words.
var numbers = map[string]int{
	"a": 1, "an": 1, "one": 1, "single": 1, "two": 2, "couple": 2, "pair": 2, "three": 3, "four": 4, "five": 5, "six": 6,
	"seven": 7, "eight": 8, "nine": 9, "ten": 10, "eleven": 11, "twelve": 12, "dozen": 12, "sixteen": 16, "twenty": 20,
}

var (
	times  = regexp.MustCompile(`^([-+]?\d+)[x×]?$`)
	valued = regexp.MustCompile(`^[-+]?\d+(?:[.,]\d+)?(?:[a-zµμω]+\d*)$`)
	plain  = regexp.MustCompile(`^[-+]?\d+(?:[.,]\d+)?$`)
)

// tokens reads the words of an item. A number before a unit is a value, alone it is a count.
func tokens(words []string) (out []token) {
	for i := 0; i < len(words); i++ {
		w := strings.TrimRight(words[i], ":.!?")
		next := ""
		if i+1 < len(words) {
			next = words[i+1]
		}
		unit, isUnit := units[next]
		switch {
		case w == "":
		case plain.MatchString(w) && isUnit:
			out = append(out, token{text: w + unit, kind: value})
			if i++; i+1 < len(words) && strings.HasPrefix(words[i+1], "ohm") { // "10 k ohm"
				i++
			}
		case times.MatchString(w):
			n, err := strconv.Atoi(times.FindStringSubmatch(w)[1])
			if err != nil {
				n = 1 << 30
			}
			out = append(out, token{text: w, kind: count, number: n})
		case plain.MatchString(w): // "1.5 leds"
			out = append(out, token{text: w, kind: count})
		case valued.MatchString(w):
			text := w
			for _, long := range []string{"kohms", "kohm", "megohm", "mohm", "meg", "ohms", "ohm", "kω", "mω", "ω"} {
				if n, ok := strings.CutSuffix(text, long); ok {
					text = n + units[long]
					break
				}
			}
			out = append(out, token{text: text, kind: value})
			if strings.HasPrefix(next, "ohm") {
				i++
			}
		default:
			out = append(out, token{text: w})
		}
	}
	return out
}
