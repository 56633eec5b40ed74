package diagnose

import (
	"regexp"
	"slices"
	"strings"
)

// called lists what is asked about the thing that a text names: by its whole name, or by words of it
// that fit no other as well. Where they fit several, it says which.
func (c *Case) called(say string) (asks []int, which []string) {
	if asks = c.about(say); len(asks) > 0 {
		return asks, nil
	}
	words := spoken.FindAllString(say, -1)
	best := 0
	for i := range c.asks {
		a := &c.asks[i]
		if a.Sort != See && a.Sort != Reads || a.test || a.told {
			continue
		}
		name := c.nameOf(a)
		n := 0
		for _, w := range spoken.FindAllString(strings.ToLower(name), -1) {
			if slices.Contains(words, w) {
				n++
			}
		}
		switch {
		case n == 0 || n < best:
			continue
		case n > best:
			best, asks, which = n, nil, nil
		}
		asks = append(asks, i)
		if !slices.Contains(which, name) {
			which = append(which, name)
		}
	}
	if len(which) > 1 {
		return nil, which
	}
	return asks, nil
}

// spoken are the words of which a name may be said in part.
var spoken = regexp.MustCompile(`[\pL\d]{3,}`)

// nameOf is what is seen, or read by the program, of an ask.
func (c *Case) nameOf(a *Ask) string {
	if a.Sort == See {
		return c.actors[a.actor].name
	}
	return c.inputs[a.input].name
}

// orOf puts names to choose from into words.
func orOf(names []string) string {
	return strings.Join(names[:len(names)-1], ", ") + " or " + names[len(names)-1]
}

// Ways to tell one thing from all others of its sort, and to say that something does the contrary.
var (
	alone    = regexp.MustCompile(`^only (?:the )?(.+?) (?:works|is working|` + lights[len("(?:"):] + `$`)
	but      = regexp.MustCompile(`^(?:everything|all|all the rest|the rest|every (?:lamp|led)|all (?:the )?(?:lamps|leds)|all (?:the )?others?) (?:works?|is (?:fine|ok|lit)|lights?|are (?:fine|ok|lit|on)|comes? on)(?: fine)?,? (?:but|except|apart from|besides|only not|save)(?: for)?(?: the)? (.+?)$`)
	contrary = regexp.MustCompile(`^(?:the )?(.+?) (?:is|works|reads|acts|behaves|seems)(?: to be)? (?:the )?(?:inverted|reversed|(?:the )?wrong way (?:a?round)|upside down|backwards?|(?:just )?the other way (?:a?round)|the opposite)$`)
)

// sayApart understands that one thing alone does what it should, or all but one; nothing where it is
// not that.
func (c *Case) sayApart(text string) []Observation {
	name, works := "", true
	if m := alone.FindStringSubmatch(text); m != nil {
		name = m[1]
	} else if m := but.FindStringSubmatch(text); m != nil {
		name, works = m[1], false
	}
	one := -1
	if name != "" {
		one = c.actorCalled(name)
	}
	if one < 0 {
		return nil
	}
	var out []Observation
	for i := range c.actors {
		if c.actors[i].lamp != c.actors[one].lamp {
			continue
		}
		does := dark
		if (i == one) == works {
			does = lit
		}
		out = append(out, c.seen(i, does))
	}
	return out
}

// sayInverted understands that something does in each of two states what it should do in the other;
// nothing where it is not that.
func (c *Case) sayInverted(text string) []Observation {
	m := contrary.FindStringSubmatch(text)
	if m == nil {
		return nil
	}
	asks, _ := c.called(m[1])
	var out []Observation
	for _, i := range asks {
		a := &c.asks[i]
		p := c.predict(0, i)
		if a.told || p.none || p.number {
			continue
		}
		other := map[string]string{lit: dark, dark: lit, readsLow: readsHigh, readsHigh: readsLow}[likeliest(p.labels)]
		if other != "" {
			out = append(out, Observation{a.ID, c.word(a, other)})
		}
	}
	if len(out) < 2 {
		return nil
	}
	return out
}

// about lists what is asked about the thing that a text begins with or names: the longest
// name, id or pin in it.
func (c *Case) about(say string) (out []int) {
	best := 0
	for i := range c.asks {
		a := &c.asks[i]
		if a.Sort != See && a.Sort != Reads || a.test {
			continue
		}
		names := append([]string{a.Part}, c.only[a.Part]...)
		if a.Sort == See {
			names = append(names, c.actors[a.actor].name, c.doc.Part(a.Part).Name)
			if signals := c.doc.Part(a.Part).Signals; len(signals) == 1 {
				names = append(names, signals[0].Pin)
			}
		} else {
			names = append(names, c.inputs[a.input].pin, c.inputs[a.input].name)
			names = append(names, c.inputs[a.input].parts...)
		}
		most := 0
		for _, n := range names {
			if within(say, strings.ToLower(n)) {
				most = max(most, len(n))
			}
		}
		switch {
		case most == 0 || most < best:
		case most > best:
			best, out = most, []int{i}
		default:
			out = append(out, i)
		}
	}
	return out
}

// within reports whether a text has words in it, not as a part of longer ones.
func within(text, words string) bool {
	edge := func(i int) bool {
		return i < 0 || i >= len(text) || !(text[i] >= 'a' && text[i] <= 'z' || text[i] >= '0' && text[i] <= '9')
	}
	for from := 0; ; {
		i := strings.Index(text[from:], words)
		if i < 0 || words == "" {
			return false
		}
		i += from
		if edge(i-1) && edge(i+len(words)) {
			return true
		}
		from = i + 1
	}
}
