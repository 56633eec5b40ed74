package diagnose

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
)

// What people say in more words than needed: said of somebody, how surely, and under which
// circumstances it is so, too.
var (
	contracted = strings.NewReplacer("isn't", "is not", "aren't", "are not", "doesn't", "does not", "don't", "do not", "won't", "will not", "can't", "can not", "cannot", "can not", "it's", "it is", "there's", "there is", "’", "'")
	tails      = regexp.MustCompile(`,? (?:whatever (?:i|you|one) do(?:es)?\b.*|no matter (?:what|how|where)\b.*|although\b.*|though\b.*|even (?:with|when|if|though|at)\b.*|without (?:anybody |anyone |me )?(?:press|push|touch|turn|do)ing\b.*|when(?:ever)? nobody\b.*|(?:for|with) no reason|any ?more|at all|on its own accord|since yesterday|today)$`)
	fillers    = regexp.MustCompile(`\b(?:really|just|totally|completely|entirely|somehow|suddenly|simply|actually|now|quite|rather|very|so|much|far|a bit|a little|seems? to|appears? to|i think|strangely|apparently|the whole|whole)\b ?`)
)

// A deed is what something does that is wrong, by a pattern of what is left of a text once its name is
// taken out.
type deed struct {
	says  *regexp.Regexp
	means string
}

// What lamps and other things that act are said to do, and inputs, the first that fits.
var (
	acting = []deed{
		{regexp.MustCompile(`\b(?:smok(?:e|es|ed|ing)|burnt?|burning|hot|melt(?:s|ed|ing)?|smells?)\b`), warm},
		{regexp.MustCompile(`\b(?:flicker(?:s|ing|ed)?|flutters?|twinkles?|stutters?|unstable|unsteady|sometimes|only (?:works|lights|sounds|runs) (?:when|if|sometimes)|now and then|on and off|once in a while|from time to time|intermittent(?:ly)?|loose|random(?:ly)?|by (?:itself|themselves)|when (?:i|you|somebody) (?:touch|move|push|press|wiggle|shake|bend|knock)(?:es|s)? (?:it|them|on it|the (?:wires?|board|breadboard|table|lamp|leads?|cables?)))\b`), flickers},
		{regexp.MustCompile(`\b(?:faint(?:ly)?|hardly|barely|glimmers?|a glow|next to nothing|clicks?|cracks?)\b`), faint},
		{regexp.MustCompile(`\b(?:dim(?:mer|ly)?|half (?:as )?bright|weak(?:er|ly)?|darker|less bright|not (?:as |so )?(?:bright|loud)|quiet(?:er)?|too dark|half as bright|slow(?:er|ly)?|low light|not enough light)\b`), dim},
		{regexp.MustCompile(`\b(?:too bright|brighter|too loud|louder|blinding|too fast|glaring)\b`), bright},
		{regexp.MustCompile(`\b(?:never (?:goes|go|turns?|switch(?:es)?) (?:off|out)|not (?:go|turn|switch|get) (?:off|out)|(?:always|permanently|constantly|forever) (?:on|lit|full|sounds?|runs?|bright)|(?:is|are|stays?|remains?|keeps?|burns?|shines?|sounds?|runs?|rings?|beeps?|buzz(?:es)?|whistles?|glows?|lights?) (?:all the time|non-?stop|constantly|permanently|forever|on|lit|full|at full|fully on|without end)|not stop(?:ping)?|never stops?|keeps (?:on )?(?:shining|sounding|beeping|running|ringing|glowing|buzzing)|stuck on|full all the time)\b`), lit},
		{regexp.MustCompile(`\b(?:dead|dark|off|out|black|nothing|broken|kaput|silent|mute|stopped (?:working|lighting)|without light|no light|no sound|no reaction|unlit|missing)\b|\b(?:not|never|no longer|fails to|refuses to|will not|can not) (?:even |ever )?(?:work|light|lit|glow|shine|come|go on|turn on|switch on|be switched on|sound|beep|ring|run|spin|do (?:anything|a thing)|respond|react|start|flash|blink|on)`), dark},
		{regexp.MustCompile(`\b(?:on|lit|full|all the time|sounds?|rings?|beeps?|runs?)$`), lit},
	}
	using = []deed{
		{regexp.MustCompile(`\b(?:wrong way (?:a?round)?|inverted|reversed|backwards?|opposite|upside down|other way (?:a?round))\b`), otherWay},
		{regexp.MustCompile(`\b(?:sometimes|now and then|jumps?|jitter(?:s|y|ing)?|noisy|unstable|unsteady|flickers?|random(?:ly)?|by itself|itself|loose|on and off|from time to time|not reliabl[ey]|unreliable|not every time|every other time|(?:press|pressed|pressing|push|pushed|pushing) hard|twitch(?:es|y)?|when (?:i|you) (?:touch|move|wiggle|shake) (?:it|the wires?))\b`), jumps},
		{regexp.MustCompile(`\b(?:stuck|(?:always|permanently|constantly) (?:pressed|closed|on|active)|is (?:pressed|held|closed|active|on)|never (?:released|open|up)|as if (?:it (?:is|were) |i )?(?:pressed|held|pressing|holding)|hangs?|jammed)\b`), asUsed},
		{regexp.MustCompile(`\b(?:nothing|no effect|no reaction|no difference|no influence|not|never|ignor(?:es|ed|ing)|dead|broken|kaput|without effect|useless|same|stays|fails|refuses|stopped|no longer|constant)\b`), asLeft},
	}
)

// otherWay is that something reads at each end what it should at the other.
const otherWay = "the other way round"

// listen understands what is said in other words than [Case.Say] knows: whose it is, by its name
// anywhere in the text, and what it does, by what is left; false where it is not surely one thing.
func (c *Case) listen(text string) ([]Observation, bool) {
	said := strings.ToLower(strings.Trim(strings.TrimSpace(text), " .!?"))
	said = contracted.Replace(strings.ReplaceAll(said, "’", "'"))
	always := regexp.MustCompile(`\b(?:always|still|even|whatever|although)\b`).MatchString(said)
	said = tails.ReplaceAllString(said, "")
	if out, ok := c.listenApart(said); ok {
		return out, true
	}
	if shaken.MatchString(said) && !c.namesHand(said) { // when I touch the wires the lamps flicker
		if out := c.ofGroup("lamps", flickers); len(out) > 0 && strings.Contains(said, "lamps") {
			return out, true
		}
	}
	if m := noneOf.FindStringSubmatch(said); m != nil { // no score lamp lights
		out := c.ofGroup(m[1], dark)
		if one := c.actorCalled(m[1]); len(out) < 2 && one >= 0 {
			out = []Observation{{"see:" + c.actors[one].id() + keyOf(c.actors[one].states[0].set), c.doingWord(one, dark)}}
		}
		return out, len(out) > 0
	}
	if m := someOf.FindStringSubmatch(said); m != nil { // the first two lamps
		return c.someOf(m[1], m[2], m[3], m[4])
	}
	names, parts, hands, rest := c.subject(said)
	if len(names) == 0 || within(said, "every second") || within(said, "every other") || strings.Contains(said, "both") && len(names) != 2 || oneOf.MatchString(said) && len(names) > 1 {
		return nil, false
	}
	if !hands && uneven.MatchString(rest) && !loose.MatchString(rest) { // the lamp flickers when I turn the knob
		if _, of, turned, _ := c.subject(rest); turned {
			return c.readsAs(of[0], jumps)
		}
	}
	if !(uneven.MatchString(rest) && loose.MatchString(rest)) && c.secondSubject(rest, hands) {
		return nil, false
	}
	if !hands && len(names) == 2 && mixedUp.MatchString(rest) {
		out := append(c.inPlace(names[0], names[1]), c.inPlace(names[1], names[0])...)
		return out, len(out) > 0
	}
	rest = strings.TrimSpace(fillers.ReplaceAllString(rest, ""))
	if always {
		rest = strings.TrimSpace(beingOn.ReplaceAllString(" "+rest, " is always on"))
	}
	if hands {
		return c.usedAs(parts, rest)
	}
	return c.acts(names, rest)
}

var (
	beingOn = regexp.MustCompile(` (?:is (?:lit|on|bright)|lights(?: up)?|glows|shines|burns)$`)
	someOf  = regexp.MustCompile(`\b(first|last|middle|outer|inner|left|right|upper|lower|top|bottom) (two|three|four|five|six|2|3|4|5|6)? ?((?:[\pL]+ )?(?:lamps|leds|lights|buttons|doors|keys))\b(.*)$`)
	noneOf  = regexp.MustCompile(`^(?:no|none of (?:the )?|not one of (?:the )?|not a single(?: one)?(?: of the)?|neither(?: of (?:the )?)?) ?(.+?s?)(?: (?:lights?|works?|comes?|is|are|glows?|shines?|goes|turns?|reacts?)\b.*)?$`)
	oneOf   = regexp.MustCompile(`\b(?:one|some|two|three|half) of (?:the|my)\b`)
	uneven  = regexp.MustCompile(`\b(?:flickers?|flutters?|jumps?|jitters?|only works|crackles?|unsteady)\b`)
	loose   = regexp.MustCompile(`\bwhen(?:ever)? (?:i|you|somebody) (?:touch|move|push|press|wiggle|shake|bend|knock)(?:es|s)? (?:it|them|on it|the (?:wires?|board|breadboard|table|lamp|leads?|cables?))\b`)
	mixedUp = regexp.MustCompile(`\b(?:swapped|exchanged|mixed up|crossed|changed places|the wrong way round)\b`)
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
	case eachOf.MatchString(text):
		return fmt.Errorf("%q: name them, as in \"lamps 2, 4 and 6 are dark\"", text)
	}
	return nil
}

// atOnce is that several light that should not.
var atOnce = regexp.MustCompile(`(?i)\b(?:light|lit|on|come on|go on|glow|shine)\b.* ?\b(?:together|at once|at the same time|simultaneously)$`)

// together understands that several lamps light when one should: each is lit while another is
// switched on; false where it is not that.
func (c *Case) together(text string) (out []Observation, ok bool) {
	text = strings.ToLower(strings.Trim(text, " .!"))
	if !atOnce.MatchString(text) {
		return nil, false
	}
	names, _, hands, _ := c.subject(text)
	if hands || len(names) < 2 {
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

// shaken is that something is touched.
var shaken = regexp.MustCompile(`\b(?:when|if|as soon as) (?:i|you|somebody) (?:touch|move|push|wiggle|shake|bend|knock)(?:es|s)? (?:at |on |against )?(?:the )?(?:wires?|board|breadboard|table|leads?|cables?)\b`)

func (c *Case) namesHand(said string) bool {
	_, _, hands, _ := c.subject(said)
	return hands
}

// ofGroup is what several things do.
func (c *Case) ofGroup(said, does string) (out []Observation) {
	for _, i := range c.group(said) {
		out = append(out, Observation{"see:" + c.actors[i].id() + keyOf(c.actors[i].states[0].set), c.doingWord(i, does)})
	}
	return out
}

// verbs are nouns of the bench that are verbs where no article stands before them.
var verbs = map[string]bool{"push": true, "press": true, "switch": true, "touch": true, "turn": true, "turns": true, "light": true, "lights": true, "run": true, "runs": true, "sound": true, "sounds": true, "key": true}

// someOf is what the first, or the last, of several are said to do: "the last four red lamps stay off".
func (c *Case) someOf(which, many, group, rest string) ([]Observation, bool) {
	n := slices.Index([]string{"", "", "two", "three", "four", "five", "six"}, many)
	if n < 0 && many != "" {
		n = int(many[0] - '0')
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

// subject is what a text names first of all, in as many words as it can, and what is left of it.
func (c *Case) subject(said string) (names, parts []string, hands bool, rest string) {
	const longest = 9 // words of a name
	words := strings.Fields(strings.ReplaceAll(said, ",", " ,"))
	from, to := 0, 0
	for n := min(longest, len(words)); n > 0 && len(names) == 0; n-- {
		for i := 0; i+n <= len(words); i++ {
			window := strings.Trim(strings.Join(words[i:i+n], " "), ":;")
			if n > 1 && words[i+n-1] == "lights" && slices.Contains([]string{"lamp", "led"}, words[i+n-2]) {
				continue // "lamp lights" is no name
			}
			if n == 1 && verbs[window] && (i == 0 || words[i-1] != "the" && words[i-1] != "my") {
				continue
			}
			if last := words[i+n-1]; last == "," || words[i] == "," || last == "and" || last == "the" || last == "a" || slices.Contains([]string{"is", "are", "on", "off", "dark", "not", "always", "still", "never", "really", "just", "also"}, last) {
				continue
			}
			if names, parts, hands = c.names.Named(window); len(names) > 0 {
				from, to = i, i+n
				break
			}
		}
	}
	if len(names) == 0 {
		return nil, nil, false, said
	}
	for from > 0 && (words[from-1] == "the" || words[from-1] == "of" || words[from-1] == "my") {
		from--
	}
	return names, parts, hands, strings.Join(slices.Concat(words[:from], words[to:]), " ")
}

// secondSubject reports whether what is left names something else of the other sort, that what is
// said may hang on; "the right one" names nothing.
func (c *Case) secondSubject(rest string, hands bool) bool {
	names, _, others, _ := c.subject(rest)
	return len(names) > 0 && others != hands
}

// acts is what things are said to do.
func (c *Case) acts(names []string, rest string) (out []Observation, ok bool) {
	for _, d := range acting {
		if !d.says.MatchString(rest) {
			continue
		}
		for _, name := range names {
			say := map[string]string{warm: " gets hot", flickers: " flickers", faint: " is faint", dim: " is dim", bright: " is too bright", lit: " is always lit", dark: " is dark"}[d.means]
			o, err := c.Say(name + say)
			if err != nil && d.means == faint { // of what does not shine
				o, err = c.Say(name + " does hardly anything")
			}
			if err != nil {
				return nil, false
			}
			out = append(out, o)
		}
		return out, true
	}
	return nil, false
}

// usedAs is what inputs are said to do.
func (c *Case) usedAs(parts []string, rest string) (out []Observation, ok bool) {
	for _, d := range using {
		if !d.says.MatchString(rest) {
			continue
		}
		for _, part := range parts {
			o, ok := c.readsAs(part, d.means)
			if !ok {
				return nil, false
			}
			out = append(out, o...)
		}
		return out, true
	}
	return nil, false
}

// readsAs is that a part is read in a way.
func (c *Case) readsAs(part, means string) (out []Observation, ok bool) {
	for i := range c.asks {
		a := &c.asks[i]
		in := func() *input { return &c.inputs[a.input] }
		switch {
		case a.Sort == Feel && a.moves && slices.Contains(in().parts, part) && means == asLeft:
			return []Observation{{a.ID, stays}}, true
		case a.Sort != Reads || a.test || a.told || !slices.Contains(in().parts, part):
			continue
		case means == otherWay && in().analog:
			out = c.swapped(a.input)
			return out, len(out) > 0
		case means == otherWay:
			if p := c.predict(0, i); !p.none && !p.number {
				if other := map[string]string{readsLow: readsHigh, readsHigh: readsLow}[likeliest(p.labels)]; other != "" {
					out = append(out, Observation{a.ID, other})
				}
			}
		case means == jumps:
			return []Observation{{a.ID, jumps}}, true
		case in().analog:
			continue
		default:
			level := c.levelOf(a, means)
			if level == "" {
				return nil, false
			}
			if p := c.predict(0, i); c.used(i) == (means == asLeft) && !p.none && likeliest(p.labels) != level {
				return []Observation{{a.ID, level}}, true
			}
		}
	}
	return out, len(out) > 1
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
