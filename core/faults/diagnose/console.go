package diagnose

import (
	"regexp"
	"slices"
	"strconv"
	"strings"
)

// printed is a line as test programs print it: a name and what it reads.
var printed = regexp.MustCompile(`^(.+?)(?: is)?[:=]\s*(open|closed|pressed|released|high|low|\d+)\s*$`)

// console is what is said before that.
var console = regexp.MustCompile(`^(?:the )?(?:serial )?(?:console|monitor|link|test program|program|it) (?:always |only |just |still |keeps )*(?:prints|printing|says|saying|shows|showing|writes)(?: only| always| just)?:?\s*`)

// manyTurns is how often an input that nobody touches must have changed in what was printed to be
// said to jump.
const manyTurns = 6

// Told understands what somebody says or pastes, a line or a sentence each: what was seen, as
// [Case.SayAll], and what the console printed, as test programs do: "request button: open". Of an
// input, what is printed first is what it reads while nobody touches it, and another level after
// that is what it reads when it is used. Lines that say nothing are left out; those that are not
// understood are given back.
func (c *Case) Told(text string) (out []Observation, unknown []string) {
	first, turns := map[int]string{}, map[int]int{}
	last := map[int]string{}
	put := func(o Observation) {
		out = append(slices.DeleteFunc(out, func(x Observation) bool { return x.Ask == o.Ask }), o)
	}
	for line := range strings.FieldsFuncSeq(text, func(r rune) bool { return r == '\n' || r == ';' }) {
		line = strings.TrimSuffix(strings.TrimSpace(line), ".")
		say := unquoted(strings.ToLower(line))
		if say == "" || c.isName(say) {
			continue
		}
		if m := printed.FindStringSubmatch(say); m != nil {
			if i := c.input(m[1]); i >= 0 {
				level := c.level(i, m[2])
				if level == "" {
					unknown = append(unknown, line)
					continue
				}
				if first[i] == "" {
					first[i] = level
					put(Observation{c.left(i).ID, level})
				} else if level != last[i] && !c.inputs[i].analog {
					if turns[i]++; turns[i] >= manyTurns {
						put(Observation{c.left(i).ID, jumps})
					} else if u := c.usedAsk(i); u != nil && level != first[i] {
						put(Observation{u.ID, level})
					}
				}
				last[i] = level
				continue
			}
		}
		all, err := c.SayAll(line)
		if err != nil {
			unknown = append(unknown, line)
			continue
		}
		for _, o := range all {
			put(o)
		}
	}
	return out, unknown
}

// unquoted is what the console is said to print, or the text itself.
func unquoted(say string) string {
	return strings.Trim(console.ReplaceAllString(say, ""), ` "'“”„`)
}

// isName reports whether a line is the name of something that is seen: the test program says whose
// turn it is.
func (c *Case) isName(say string) bool {
	return say == "held" || say == "going on" ||
		slices.ContainsFunc(c.actors, func(a actor) bool { return strings.ToLower(a.name) == say })
}

// input is the input that a name is of; -1: none is.
func (c *Case) input(name string) int {
	return slices.IndexFunc(c.inputs, func(in input) bool {
		return slices.ContainsFunc(append([]string{in.pin, in.name}, in.parts...), func(n string) bool { return strings.ToLower(n) == name })
	})
}

// level is a printed word or number as an answer about an input; "": it is none.
func (c *Case) level(i int, word string) string {
	if c.inputs[i].analog {
		v, err := strconv.Atoi(word)
		if err != nil {
			return ""
		}
		// Python prints what it reads in 16 bits, whatever the converter has.
		if full := c.net.Board.Logic.Analog.Full(); float64(v) > full && v <= 65535 {
			v = int(float64(v) * full / 65535)
		}
		return strconv.Itoa(v)
	}
	switch word {
	case "high", "1":
		return readsHigh
	case "low", "0":
		return readsLow
	case "open", "released":
		return c.levelOf(c.left(i), asLeft)
	case "closed", "pressed":
		return c.levelOf(c.left(i), asUsed)
	}
	return ""
}

// left is the ask what an input reads while all is left alone: its first.
func (c *Case) left(i int) *Ask {
	k := slices.IndexFunc(c.asks, func(a Ask) bool { return a.Sort == Reads && a.input == i && !a.test })
	return &c.asks[k]
}

// usedAsk is the first ask what an input reads while its contact is used; nil: there is none.
func (c *Case) usedAsk(i int) *Ask {
	for k := range c.asks {
		if a := &c.asks[k]; a.Sort == Reads && a.input == i && !a.test && c.used(k) {
			return a
		}
	}
	return nil
}
