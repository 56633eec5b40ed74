package diagnose

import (
	"regexp"
	"slices"
	"strings"
)

// What people say in more words than needed: said of somebody, how surely, and under which
// circumstances it is so, too.
var (
	contracted = strings.NewReplacer("isn't", "is not", "aren't", "are not", "doesn't", "does not", "don't", "do not", "won't", "will not", "can't", "can not", "cannot", "can not", "it's", "it is", "there's", "there is", "’", "'")
	though     = regexp.MustCompile(`\b(?:always|still|even|whatever|although)\b`)
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
		{regexp.MustCompile(`\b(?:flicker(?:s|ing|ed)?|pulses|pulsates|flutters?|twinkles?|stutters?|unstable|unsteady|sometimes|only (?:works|lights|sounds|runs) (?:when|if|sometimes)|now and then|on and off|once in a while|from time to time|intermittent(?:ly)?|loose|random(?:ly)?|by (?:itself|themselves)|when (?:i|you|somebody) (?:touch|move|push|press|wiggle|shake|bend|knock)(?:es|s)? (?:it|them|on it|the (?:wires?|board|breadboard|table|lamp|leads?|cables?)))\b`), flickers},
		{regexp.MustCompile(`\b(?:faint(?:ly)?|hardly|barely|glimmers?|a glow|next to nothing|clicks?|cracks?)\b`), faint},
		{regexp.MustCompile(`\b(?:dim(?:mer|ly)?|half (?:as )?bright|weak(?:er|ly)?|darker|less bright|not (?:as |so )?(?:bright|loud)|quiet(?:er)?|too dark|half as bright|slow(?:er|ly)?|low light|not enough light)\b`), dim},
		{regexp.MustCompile(`\b(?:too bright|brighter|too loud|louder|blinding|too fast|glaring)\b`), bright},
		{regexp.MustCompile(`\b(?:never (?:goes|go|turns?|switch(?:es)?) (?:off|out)|not (?:go|turn|switch|get) (?:off|out)|(?:always|permanently|constantly|forever) (?:on|lit|full|sounds?|runs?|bright)|(?:is|are|stays?|remains?|keeps?|burns?|shines?|sounds?|runs?|rings?|beeps?|buzz(?:es)?|whistles?|glows?|lights?) (?:all the time|non-?stop|constantly|permanently|forever|on|lit|full|at full|fully on|without end)|not (?:stop(?:ping)?|shut up|be (?:silenced|quiet))|never stops?|keeps (?:on )?(?:shining|sounding|beeping|running|ringing|glowing|buzzing)|stuck on|full all the time)\b`), lit},
		{regexp.MustCompile(`\b(?:dead|dark|off|out|black|nothing|broken|kaput|silent|mute|stopped (?:working|lighting)|without light|no light|no sound|no reaction|unlit|missing)\b|\b(?:not|never|no longer|fails to|refuses to|will not|can not(?: get)?) (?:even |ever |it |to |the )*(?:work|light|lit|glow|shine|come|go on|turn on|switch on|be switched on|sound|beep|ring|run|spin|do (?:anything|a thing)|respond|react|start|flash|blink|on)`), dark},
		{regexp.MustCompile(`\b(?:on|lit|full|all the time|sounds?|rings?|beeps?|runs?)$`), lit},
	}
	using = []deed{
		{regexp.MustCompile(`\b(?:wrong way (?:a?round)?|inverted|reversed|backwards?|opposite|upside down|other way (?:a?round))\b`), otherWay},
		{regexp.MustCompile(`\b(?:sometimes|now and then|jumps?|jitter(?:s|y|ing)?|noisy|unstable|unsteady|flickers?|random(?:ly)?|by itself|itself|loose|on and off|from time to time|not reliabl[ey]|unreliable|not every time|every other time|(?:press|pressed|pressing|push|pushed|pushing) hard|twitch(?:es|y)?|when (?:i|you) (?:touch|move|wiggle|shake) (?:it|the wires?))\b`), jumps},
		{regexp.MustCompile(`\b(?:stuck|(?:always|permanently|constantly) (?:pressed|closed|on|active)|(?:is|stays|remains|keeps) (?:pressed|down|held|closed|active|on)|never (?:released|open|up)|as if (?:it (?:is|were) |i )?(?:pressed|held|pressing|holding)|hangs?|sticks?|jammed)\b`), asUsed},
		{regexp.MustCompile(`\b(?:nothing|no effect|no reaction|no difference|no influence|ignor(?:es|ed|ing)|dead|broken|kaput|without effect|useless|same|stays the same|fails|refuses|stopped working|constant)\b|\b(?:not|never|no longer) (?:even |always )?(?:works?|working|reacts?|responds?|registers?|do(?:es)? (?:anything|a thing)|change|changes|count|counts|counted|detected|noticed|recogni[sz]ed|seen|switch|trigger|dim|move|make|have|get|read|care)\b|\bnot$`), asLeft},
	}
)

// otherWay is that something reads at each end what it should at the other.
const otherWay = "the other way round"

// listen understands what is said in other words than [Case.Say] knows: whose it is, by its name
// anywhere in the text, and what it does, by what is left; false where it is not surely one thing.
func (c *Case) listen(text string) ([]Observation, bool) {
	said := contracted.Replace(strings.ToLower(strings.Trim(strings.TrimSpace(text), " .!?")))
	evenSo := though.MatchString(said)
	said = tails.ReplaceAllString(said, "")
	if out, is := c.listenWhole(said); is {
		return out, len(out) > 0
	}
	names, parts, hands, rest := c.subject(said)
	if len(names) > 1 && !hands {
		names = coloured(names, rest)
	}
	if len(names) == 0 || !counts(said, len(names)) {
		return nil, false
	}
	touched := uneven.MatchString(rest) && loose.MatchString(rest) // when I touch it
	if !hands && uneven.MatchString(rest) && !touched {            // the lamp flickers when I turn the knob
		if _, of, turned, _ := c.subject(rest); turned {
			return c.readsAs(of[0], jumps)
		}
	}
	if !touched && c.secondSubject(rest, hands) {
		return nil, false
	}
	if !hands && len(names) == 2 && mixedUp.MatchString(rest) {
		out := append(c.inPlace(names[0], names[1]), c.inPlace(names[1], names[0])...)
		return out, len(out) > 0
	}
	if m := readsNumber.FindStringSubmatch(rest); m != nil && hands && len(names) == 1 {
		o, err := c.Say(names[0] + " reads " + m[1])
		return []Observation{o}, err == nil
	}
	rest = strings.TrimSpace(fillers.ReplaceAllString(rest, ""))
	if evenSo {
		rest = strings.TrimSpace(beingOn.ReplaceAllString(" "+rest, " is always on"))
	}
	if hands {
		return c.usedAs(parts, rest)
	}
	return c.acts(names, rest)
}

// listenWhole understands what is said of several by a pattern of the whole text; it is one of these
// also where nothing comes of it.
func (c *Case) listenWhole(said string) (out []Observation, is bool) {
	if out, ok := c.listenApart(said); ok {
		return out, true
	}
	if shaken.MatchString(said) && strings.Contains(said, "lamps") { // when I touch the wires the lamps flicker
		if _, _, hands, _ := c.subject(said); !hands {
			return c.ofGroup("lamps", flickers), true
		}
	}
	if m := onlyThese.FindStringSubmatch(said); m != nil { // only score lamps 1 to 4 work
		out, _ = c.onlyThese(m[1] + m[2])
		return out, true
	}
	if m := darker.FindStringSubmatch(said); m != nil { // turning it up makes it darker
		if _, parts, hands := c.names.Named(strings.Replace(m[1], "it", "knob", 1)); hands && len(parts) == 1 {
			out, _ = c.readsAs(parts[0], otherWay)
		}
		return out, true
	}
	if m := noneOf.FindStringSubmatch(said); m != nil { // no score lamp lights
		if _, parts, hands := c.names.Named(m[1] + "s"); hands {
			out, _ = c.usedAs(parts, "nothing")
			return out, true
		}
		if out = c.ofGroup(m[1], dark); len(out) > 1 {
			return out, true
		}
		if one := c.actorCalled(m[1]); one >= 0 {
			out = []Observation{c.seen(one, dark)}
		}
		return out, true
	}
	if m := someOf.FindStringSubmatch(said); m != nil { // the first two lamps
		out, _ = c.someOf(m[1], m[2], m[3], m[4])
		return out, true
	}
	return nil, false
}

// numerals are the numbers that things are counted by.
var numerals = []string{"", "one", "two", "three", "four", "five", "six", "seven", "eight"}

// counts reports whether as many things are named as a text says: "both", "two lamps", and not one or
// some of them.
func counts(said string, named int) bool {
	if m := counted.FindStringSubmatch(said); m != nil && named != slices.Index(numerals, m[1]) {
		return false // which two?
	}
	return (named == 2 || !within(said, "both")) && (named == 1 || !oneOf.MatchString(said))
}

// seen is that something that acts does something while it is switched on.
func (c *Case) seen(actor int, does string) Observation {
	x := &c.actors[actor]
	return Observation{"see:" + x.id() + keyOf(x.states[0].set), c.doingWord(actor, does)}
}

var (
	beingOn     = regexp.MustCompile(` (?:is (?:lit|on|bright)|lights(?: up)?|glows|shines|burns)$`)
	someOf      = regexp.MustCompile(`\b(first|last|middle|outer|inner|left|right|upper|lower|top|bottom) (two|three|four|five|six|2|3|4|5|6)? ?((?:[\pL]+ )?(?:lamps|leds|lights|buttons|doors|keys))\b(.*)$`)
	onlyThese   = regexp.MustCompile(`^(?:only (?:the )?(.+?) (?:works?|lights?|is lit|are lit|is on|are on|comes? on|glows?)|(?:nothing|no(?:thing)? (?:lamp|else)|none) (?:lights?|works?|is lit|is on|comes on)(?: up)?,? (?:except|but|apart from|only|besides)(?: for)?(?: the)? (.+?))$`)
	darker      = regexp.MustCompile(`^turning (?:the )?(it|.+?) (?:up|to the right|clockwise) (?:makes|turns|dims) .*(?:darker|dimmer|down|less bright)`)
	counted     = regexp.MustCompile(`^(two|three|four|five|six|seven|eight) `)
	readsNumber = regexp.MustCompile(`\b(?:reads|shows|says|gives|is|prints|stays at|stuck at)\b(?: at)? (-?\d+)$`)
	hanging     = regexp.MustCompile(`\b(?:when(?:ever)?|while|if|unless|until|as soon as)\b`)
	noneOf      = regexp.MustCompile(`^(?:no|none of (?:the )?|not one of (?:the )?|not a single(?: one)?(?: of the)?|neither(?: of (?:the )?)?) ?(.+?s?)(?: (?:lights?|works?|comes?|is|are|glows?|shines?|goes|turns?|reacts?|do|does|has|have)\b.*)?$`)
	oneOf       = regexp.MustCompile(`\b(?:one|some|two|three|half) of (?:the|my)\b`)
	uneven      = regexp.MustCompile(`\b(?:flickers?|flutters?|jumps?|jitters?|only works|crackles?|unsteady)\b`)
	loose       = regexp.MustCompile(`\bwhen(?:ever)? (?:i|you|somebody) (?:touch|move|push|press|wiggle|shake|bend|knock)(?:es|s)? (?:it|them|on it|the (?:wires?|board|breadboard|table|lamp|leads?|cables?))\b`)
	mixedUp     = regexp.MustCompile(`\b(?:swapped|exchanged|mixed up|crossed|changed places|the wrong way round)\b`)
)

// shaken is that something is touched.
var shaken = regexp.MustCompile(`\b(?:when|if|as soon as) (?:i|you|somebody) (?:touch|move|push|wiggle|shake|bend|knock)(?:es|s)? (?:at |on |against )?(?:the )?(?:wires?|board|breadboard|table|leads?|cables?)\b`)

// ofGroup is what several things do.
func (c *Case) ofGroup(said, does string) (out []Observation) {
	for _, i := range c.group(said) {
		out = append(out, c.seen(i, does))
	}
	return out
}

// verbs are nouns of the bench that are verbs where no article stands before them.
var verbs = map[string]bool{"push": true, "press": true, "switch": true, "touch": true, "turn": true, "turns": true, "light": true, "lights": true, "run": true, "runs": true, "sound": true, "sounds": true, "key": true, "bright": true, "dark": true}

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
			if last := words[i+n-1]; last == "," || words[i] == "," || last == "and" || last == "the" || last == "a" || slices.Contains([]string{"is", "are", "on", "off", "dark", "not", "always", "still", "never", "really", "just", "also", "does", "do"}, last) {
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
		if (d.means == lit || d.means == dark) && hanging.MatchString(rest) { // lights only when the moon is full
			return nil, false
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
		case a.Sort == Feel && a.moves && slices.Contains(in().parts, part) && (means == asLeft || means == asUsed):
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
