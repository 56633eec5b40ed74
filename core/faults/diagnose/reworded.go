package diagnose

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"cablaggio/core/catalogue/part"
)

// A rewording is another way of saying something: what is said, and what stands for it, with $x for its
// parts and {light}, {case}, {contact}, {reading} for the only one of its kind.
type rewording struct {
	said *regexp.Regexp
	is   string
}

// rewordings are looked for before anything else: their words by themselves would say something else.
var rewordings = []rewording{
	{regexp.MustCompile(`^(.+?) (?:is|stays|remains) (?:dark|off|out|silent),? (?:but|and|though) (?:sometimes|now and then|once in a while|at times|occasionally) (?:it |does )?(?:works?|lights?(?: up)?|comes? on|goes on|sounds?)$`), "$1 flickers"},
	{regexp.MustCompile(`^(?:all|every)(?: the)? ([\pL]+?)s? (?:but|except)(?: for)?(?: the)? ([\pL\d]+)(?: one)? (?:works?|lights?|are fine|is fine|are lit|comes? on)$`), "the $2 $1 does not work"},
	{regexp.MustCompile(`^(.+?),? (?:but|while|whereas|although|though) (?:the )?(?:[\pL\d ]+?) (?:works?|is (?:fine|ok|okay|alright|good)|are (?:fine|ok|okay|alright|good)|seems? (?:fine|ok|to work))(?: fine| well| perfectly)?$`), "$1"},
	{regexp.MustCompile(`^(.+?) only (?:works?|lights?(?: up)?|shines?|comes? on|goes on|is lit|sounds?|runs?) (?:when|while|if|as long as) (?:i|you) (?:hold|press|push|touch|move|wiggle|bend|lift|shake)(?: down| on| at| against)? (?:it|(?:the|its|a) (?:wires?|board|breadboard|leads?|cables?|legs?|plug))(?: down)?$`), "$1 flickers"},
	{regexp.MustCompile(`^i (?:do not|can not|never) see (.+?) (?:light(?: up)?|come on|glow|shine|go on)$`), "$1 does not light"},
	{regexp.MustCompile(`^(.+?) (?:will not|does not|never|can not|is never|does never|not) (?:go |get |be |become |turn )?(?:completely|quite|fully|entirely|totally|all the way|really) (?:dark|off|out|black)$`), "$1 is faint when it should be dark"},
	{regexp.MustCompile(`^(.+?) (?:does not go|never goes|will not go|does not get|never gets|is never) (?:dark|off|out) (?:completely|fully|entirely|all the way)$`), "$1 is faint when it should be dark"},
	{regexp.MustCompile(`^(.+?) (?:still )?(?:glows|shines|lights) (?:a little|a bit|faintly|weakly) (?:when|while|though|although|even when|even though) (?:it|they) (?:should|must|ought to) be (?:off|dark|out)$`), "$1 is faint when it should be dark"},
	{regexp.MustCompile(`^(?:.+?) (?:does not|never|will not) (?:react|respond)s? to (?:light|brightness|daylight|the light|darkness|the dark|day or night)(?: at all)?$`), "{light} does nothing"},
	{regexp.MustCompile(`^(?:.+?) ignores (?:the )?(?:light|brightness|daylight|darkness|day and night)$`), "{light} does nothing"},
	{regexp.MustCompile(`^(.+?) (?:is|are|lights?|comes? on|goes? on) (?:lit |on )?together with (.+)$`), "$1 and $2 light together"},
	{regexp.MustCompile(`\b(?:the )?(?:top|upper|uppermost) (?:bar|segment)\b`), "bar a {ofdigit}"},
	{regexp.MustCompile(`\b(?:the )?(?:upper|top) right (?:bar|segment)\b`), "bar b {ofdigit}"},
	{regexp.MustCompile(`\b(?:the )?(?:lower|bottom) right (?:bar|segment)\b`), "bar c {ofdigit}"},
	{regexp.MustCompile(`\b(?:the )?(?:bottom|lowest|lower) (?:bar|segment)\b`), "bar d {ofdigit}"},
	{regexp.MustCompile(`\b(?:the )?(?:lower|bottom) left (?:bar|segment)\b`), "bar e {ofdigit}"},
	{regexp.MustCompile(`\b(?:the )?(?:upper|top) left (?:bar|segment)\b`), "bar f {ofdigit}"},
	{regexp.MustCompile(`\b(?:the )?(?:middle|centre|center) (?:bar|segment)\b`), "bar g {ofdigit}"},
}

// lately are looked for where nothing else was understood.
var lately = []rewording{
	{regexp.MustCompile(`^(.+?) (?:blinks?|flashes|pulses) (?:strangely|oddly|irregularly|wildly|in a strange way|like crazy)$`), "$1 flickers"},
	{regexp.MustCompile(`^(.+?) (?:crackles?|rattles?|stutters?|chops)$`), "$1 flickers"},
	{regexp.MustCompile(`^it (?:works|goes|reads|behaves|acts) (?:the )?(?:wrong way (?:a?round)?|other way (?:a?round)|upside down|backwards?|inverted|opposite)$`), "{contact} works the wrong way round"},
	{regexp.MustCompile(`^(?:.+?) (?:is|gets|becomes|turns) never (red|green|blue)$`), "$1 of {case} is dark"},
	{regexp.MustCompile(`^(?:.+?) never (?:is|gets|becomes|turns) (red|green|blue)$`), "$1 of {case} is dark"},
	{regexp.MustCompile(`^there is no (red|green|blue)(?: in (?:the |it).*)?$`), "$1 of {case} is dark"},
	{regexp.MustCompile(`^(?:the )?(red|green|blue)(?: one| part| lamp| light)? (.*\b(?:come on|comes on|works?|off|out|dead|light|lights|lit|dark|bright|brighter|dim|dimmer|glows?|shines?|flickers?|weak|missing|faint|always on|stays on)\b.*)$`), "$1 of {case} $2"},
	{regexp.MustCompile(`^(red|green|blue) and (red|green|blue) (are (?:mixed up|swapped|exchanged|crossed))$`), "$1 of {case} and $2 of {case} $3"},
	{regexp.MustCompile(`^(?:the )?(?:reading|value|number|measurement)s? (.+)$`), "{reading} $1"},
	{regexp.MustCompile(`^it (?:only )?(?:reacts|works|responds|switches|toggles) (?:only )?(?:every now and then|now and then|sometimes|from time to time|not every time|once in a while)$`), "{contact} works only sometimes"},
}

// nowAndThen is that something is so at times only: then what comes behind a but belongs to it.
var nowAndThen = regexp.MustCompile(`\b(?:sometimes|now and then|once in a while|at times|only|first|later|again|occasionally|every other)\b`)

// twiceOf is a name that stands there twice: what was put, and what was said.
var twiceOf = regexp.MustCompile(`( of [\pL\d ]+?) of (?:the )?(?:number|digit|display|[\pL\d]+)\b`)

// reworded is what a text stands for by a list; itself where nothing is found.
func (c *Case) reworded(text string, list []rewording) string {
	said := contracted.Replace(strings.ToLower(strings.Trim(strings.TrimSpace(text), " .!?")))
	for _, x := range list {
		if !x.said.MatchString(said) || x.is == "$1" && nowAndThen.MatchString(said) {
			continue
		}
		plain, ok := x.said.ReplaceAllString(said, x.is), true
		for slot, name := range map[string]func() string{"{light}": c.onlyLight, "{case}": c.onlyCase, "{contact}": c.onlyContact, "{reading}": c.onlyReading, "{ofdigit}": c.ofDigit} {
			if strings.Contains(plain, slot) {
				only := name()
				ok = ok && only != ""
				plain = strings.ReplaceAll(plain, slot, only)
			}
		}
		if ok {
			return twiceOf.ReplaceAllString(plain, "$1")
		}
	}
	return text
}

// onlyInput is the name of the only input that is so.
func (c *Case) onlyInput(is func(in *input) bool) string {
	name := ""
	for i := range c.inputs {
		if in := &c.inputs[i]; is(in) {
			if name != "" && name != in.name {
				return ""
			}
			name = in.name
		}
	}
	return name
}

func (c *Case) onlyReading() string { return c.onlyInput(func(in *input) bool { return in.analog }) }
func (c *Case) onlyContact() string { return c.onlyInput(func(in *input) bool { return !in.analog }) }

func (c *Case) onlyLight() string {
	return c.onlyInput(func(in *input) bool {
		for k := range c.net.Controls {
			if x := &c.net.Controls[k]; x.Unit == "lx" && len(in.parts) == 1 && strings.HasPrefix(x.Of, in.parts[0]) {
				return true
			}
		}
		return false
	})
}

// ofDigit is "of" the only digit, as its bars are called.
func (c *Case) ofDigit() string {
	name := ""
	for i := range c.doc.Parts {
		if kind, ok := c.net.Library.Catalogue.Kind(c.doc.Parts[i].Kind); ok && kind.Shows == part.Digits {
			if name != "" {
				return ""
			}
			name = "of " + c.doc.Parts[i].Name
		}
	}
	return name
}

// onlyCase is the name of the only part with lamps of several colours.
func (c *Case) onlyCase() string {
	name := ""
	for i := range c.doc.Parts {
		p := &c.doc.Parts[i]
		kind, ok := c.net.Library.Catalogue.Kind(p.Kind)
		if !ok || len(kind.Emitters) < 2 || kind.Shows == part.Digits {
			continue
		}
		if name != "" {
			return ""
		}
		name = p.Name
	}
	return name
}

// partOfThe is what one of several lamps in a case is called with an article behind it.
var partOfThe = regexp.MustCompile(`(?i)\b(bar [a-g]|point|segment \d+|red|green|blue) of the `)

// chaotic is that lamps light in no order.
var chaotic = regexp.MustCompile(`(?i)\b(?:wild|crazy|random|chaotic|wrong|strange|weird|odd) (?:pattern|order)s?\b|\b(?:all mixed up|a mess|chaos)\b`)

// keepsOn is the error of something that is said to keep on, and that acts only while its pin does.
func keepsOn(text, name string) error {
	return fmt.Errorf("%q: %s acts only while its pin does, so that it keeps on is for the program first: see what Program says of it, and what it does on the bench", text, name)
}

// ofCase understands what is said of a part with several lamps as a whole: that it is dark is so of all of
// them; of all else that is seen one has to say of which. It is false where nothing is said of one as a whole.
func (c *Case) ofCase(text string) (out []Observation, is bool, err error) {
	said := strings.ToLower(text)
	for k := range c.doc.Parts {
		p := &c.doc.Parts[k]
		var lamps []int
		named := false
		for i := range c.actors {
			x := &c.actors[i]
			if x.part.ID == p.ID && x.lamp {
				lamps, named = append(lamps, i), named || within(said, strings.ToLower(x.name))
			}
		}
		if len(lamps) < 2 || named || !within(said, strings.ToLower(p.Name)) || strings.Contains(said, "=") {
			continue
		}
		colour := func(i int) string {
			return strings.TrimSuffix(strings.ToLower(c.actors[i].name), " of "+strings.ToLower(p.Name))
		}
		if slices.ContainsFunc(lamps, func(i int) bool { return within(said, colour(i)) && colour(i) != "a" }) {
			continue
		}
		if one, wrong := c.Say(text); wrong == nil {
			an, wrong := c.read(one)
			if wrong != nil || c.asks[an.ask].Sort != See {
				continue
			}
			if an.label == dark {
				for _, i := range lamps {
					out = append(out, c.seen(i, dark))
				}
				return out, true, nil
			}
			var names []string
			for _, i := range lamps {
				names = append(names, c.actors[i].name)
			}
			return nil, true, fmt.Errorf("%q: which one is meant, %s?", text, orOf(names))
		}
	}
	return nil, false, nil
}
