package diagnose

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
)

// What no wiring does: it is for the program, or is said of no one thing.
var (
	bounced = regexp.MustCompile(`(?i)\b(?:twice|two times|double|doubly|bounces?|several times)\b`)
	either  = regexp.MustCompile(`(?i)\beither\b.+\bor\b|\bnothing (?:in )?between\b|\b(?:on|lit|off|dark) (?:when|while|if)\b.+\b(?:on|lit|off|dark) (?:when|while|if)\b`)
	eachOf  = regexp.MustCompile(`(?i)\bevery (?:second|other|third)\b`)
)

// unsaid is the error of what is understood, and is of no use here.
func unsaid(text string) error {
	switch {
	case bounced.MatchString(text):
		return fmt.Errorf("%q: a contact bounces, which is for the program to settle: see what Program says of it, and try it on the bench", text)
	case either.MatchString(text):
		return fmt.Errorf("%q: that it is now this and now that is for the program first: try it on the bench; say what it does in one state, as in \"it is dark\"", text)
	case chaotic.MatchString(text):
		return fmt.Errorf("%q: say which lamp lights when which should, as in \"lamp 2 is lit instead of lamp 3\", or which one stays dark", text)
	case eachOf.MatchString(text):
		return fmt.Errorf("%q: name them, as in \"lamps 2, 4 and 6 are dark\"", text)
	}
	return nil
}

// atOnce is that several light that should not.
var atOnce = regexp.MustCompile(`(?i)\b(?:light|lit|on|come on|go on|glow|shine)\b.* ?\b(?:together|at once|at the same time|simultaneously)$`)

// coloured are those of several names that have a colour in them that is said beside: "the red part of
// the sky".
func coloured(names []string, rest string) []string {
	for _, colour := range []string{"red", "green", "blue", "yellow", "white"} {
		if within(rest, colour) {
			return slices.DeleteFunc(slices.Clone(names), func(n string) bool { return !within(strings.ToLower(n), colour) })
		}
	}
	return names
}

// onlyThese is that some work and no others of their kind do.
func (c *Case) onlyThese(said string) (out []Observation, ok bool) {
	names, parts, hands := c.names.Named(said)
	if len(names) == 0 {
		return nil, false
	}
	if hands { // only door 1 works: the other doors do not
		noun, _, _ := strings.Cut(strings.ToLower(names[0]), " ")
		_, all, _ := c.names.Named(noun + "s")
		others := slices.DeleteFunc(slices.Clone(all), func(p string) bool { return slices.Contains(parts, p) })
		if len(others) == 0 || len(others) == len(all) {
			return nil, false
		}
		return c.usedAs(others, "nothing")
	}
	words := spoken.FindAllString(strings.ToLower(names[0]), -1)
	for i := range c.actors {
		x := &c.actors[i]
		if !x.lamp {
			continue
		}
		does := dark
		if slices.Contains(names, x.name) {
			does = lit
		} else if len(names) > 1 && len(words) > 0 && !strings.Contains(strings.ToLower(x.name), words[0]) {
			continue // only score lamps 1 to 4 says nothing of team lamps
		}
		out = append(out, c.seen(i, does))
	}
	return out, len(out) > len(names)
}

// hangs is the error of what is said of a thing and of what is done to another: whose fault it is, is
// what is looked for; nil where it is not that.
func (c *Case) hangs(text string) error {
	said := strings.ToLower(strings.Trim(text, " .!"))
	names, _, hands, rest := c.subject(said)
	others, _, otherHands, _ := c.subject(rest)
	if len(names) == 0 || len(others) == 0 || hands == otherHands || strings.Contains(said, "=") {
		return nil
	}
	thing, hand := names[0], others[0]
	if hands {
		thing, hand = hand, thing
	}
	return fmt.Errorf("%q: that hangs on %s, on %s and on the program between them; say of one what it does by itself, as in %q or %q, or write it under \"It should\" on the bench, which tries all of it", text, hand, thing, thing+" is dark", hand+" does nothing")
}

// together understands that several lamps light when one should: each is lit while another is
// switched on; false where it is not that.
func (c *Case) together(text string) (out []Observation, ok bool) {
	text = strings.ToLower(strings.Trim(text, " .!"))
	if !atOnce.MatchString(text) {
		return nil, false
	}
	names, _, hands, _ := c.subject(text)
	if m := counted.FindStringSubmatch(text); hands || len(names) < 2 || m != nil && len(names) > 2 {
		return nil, false
	}
	for k := range names {
		i, j := c.actorCalled(names[k]), c.actorCalled(names[(k+1)%len(names)])
		if i < 0 || j < 0 {
			return nil, false
		}
		set, can := c.crossed(i, j)
		if !can {
			return nil, false
		}
		out = append(out, Observation{c.crossID(i, set), c.doingWord(i, lit)})
	}
	return out, true
}

// someOf is what the first, or the last, of several are said to do: "the last four red lamps stay off".
func (c *Case) someOf(which, many, group, rest string) ([]Observation, bool) {
	n := slices.Index(numerals, many)
	if d, err := strconv.Atoi(many); err == nil {
		n = d
	}
	names, parts, hands := c.names.Named(group)
	if n < 2 || len(names) <= n || which != "first" && which != "last" {
		return nil, false
	}
	from := 0
	if which == "last" {
		from = len(names) - n
	}
	if hands {
		return c.usedAs(parts[from:from+n], rest)
	}
	return c.acts(names[from:from+n], rest)
}

// swapped is that an analog input reads at each of its ends what it should read at the other.
func (c *Case) swapped(input int) []Observation {
	var ends []int
	for i := range c.asks {
		a := &c.asks[i]
		if p := c.predict(0, i); a.Sort == Reads && !a.test && !a.told && a.input == input && p.number {
			ends = append(ends, i)
		}
	}
	if len(ends) < 2 {
		return nil
	}
	slices.SortFunc(ends, func(i, j int) int {
		if c.predict(0, i).value < c.predict(0, j).value {
			return -1
		}
		return 1
	})
	low, high := ends[0], ends[len(ends)-1]
	return []Observation{{c.asks[low].ID, c.should(high)}, {c.asks[high].ID, c.should(low)}}
}

// listenApart understands that some of several work, and one does not: "doors 1 to 3 work, door 4
// doesn't", "everything works, only lamp 2 stays dark".
func (c *Case) listenApart(said string) ([]Observation, bool) {
	m := butOne.FindStringSubmatch(said)
	if m == nil {
		return nil, false
	}
	out, err := c.SayAll(strings.TrimSpace(m[1]))
	return out, err == nil
}

// butOne is that all is well but what comes behind it.
var butOne = regexp.MustCompile(`^(?:everything|all|the rest|the others?|[\pL\d ,]+?) (?:works?|is fine|are fine|is ok|are ok|lights?|is well)(?: fine| well| as (?:it|they) should)?,? (?:but|only|except that|and)?,? ?(?:not )?((?:the )?[\pL\d ]+ (?:do(?:es)? not|is not|stays?|never|is|are not|are|flickers?)\b.*)$`)
