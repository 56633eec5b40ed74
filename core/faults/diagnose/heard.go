package diagnose

import (
	"regexp"
	"slices"
	"strings"
)

// What people say of many things, by number, with a not: put as the plain words that are known.

// not is a word that turns round what comes behind it.
const not = `(?:isn't|is not|aren't|are not|is no longer|are no longer|no longer|is never|are never|never|doesn't|does not|don't|do not|won't|will not|can't|cannot|refuses to|fails to|stopped|not)`

// denied is a state of which it is said that it is not so. "Not bright" is dim, and is among the
// sayings.
var denied = regexp.MustCompile(`\b` + not + ` (?:ever |really |even )?(?:be |being |is |are |stays? |staying |goes? |going |gets? |getting |reads? |reading |remains? |remaining |turns? |shows? |comes? )*` +
	`(dark|off|out|silent|quiet|stop(?:s|ping)?|lit|on|glow(?:s|ing)?|light(?:s|ing)?(?: up)?|shin(?:e|es|ing)|sound(?:s|ing)?|beep(?:s|ing)?|buzz(?:es|ing)?|ring(?:s|ing)?|run(?:s|ning)?|spin(?:s|ning)?|work(?:s|ing)?|low|high|pressed|closed|open|released)\b`)

// negated is what something does of which it is said that it is not so.
func (c *Case) negated(a *Ask, say string) (means string, ok bool) {
	m := denied.FindStringSubmatch(say)
	if m == nil || shaded.MatchString(say) {
		return "", false
	}
	switch m[1] {
	case "dark", "off", "out", "silent", "quiet", "stop", "stops", "stopping":
		means = lit
	case "low":
		means = readsHigh
	case "high":
		means = readsLow
	case "pressed", "closed":
		means = c.levelOf(a, asLeft)
	case "open", "released":
		means = c.levelOf(a, asUsed)
	case "work", "works", "working":
		if means = dark; a.Sort == Reads {
			means = c.levelOf(a, asLeft)
		}
	default:
		means = dark
	}
	if means == "" {
		return "", false
	}
	_, err := c.read(Observation{a.ID, c.word(a, means)})
	return means, err == nil
}

// What is said of sound, of heat, and of when something is so in the world outside, which only the
// program knows.
var (
	soundless = regexp.MustCompile(`\b(?:no|without) (?:sound|tone|beep|noise)\b|\bhear nothing\b|\bnothing is heard\b`)
	hot       = regexp.MustCompile(`\b(?:hot|smoke|smokes|smoking|smells?|burns|burning|burnt|melts|melting)\b`)
	outside   = regexp.MustCompile(`\b(?:in|at|by|during) (?:the )?(?:daylight|day|daytime|night|dark|darkness|sun)\b|\b(?:when|while|if) it(?: is|'s| gets) (?:dark|bright|light|cold|warm|hot)\b`)
)

// onlySound lists what is asked about the one thing that sounds.
func (c *Case) onlySound() (asks []int) {
	one := -1
	for i := range c.asks {
		a := &c.asks[i]
		if a.Sort != See || a.test || a.told || c.actors[a.actor].lamp || !c.actors[a.actor].swings {
			continue
		}
		if one >= 0 && one != a.actor {
			return nil
		}
		one = a.actor
		asks = append(asks, i)
	}
	return asks
}

// What is used, and nothing comes of it.
var noEffect = []*regexp.Regexp{
	regexp.MustCompile(`(?i)^nothing (?:at all )?happens (?:when|if) (?:i|one|you) (?:press|push|close|use|turn|switch|open) (?:the )?(.+)$`),
	regexp.MustCompile(`(?i)^(?:when|if) (?:i|one|you) (?:press|push|close|use|turn|switch|open) (?:the )?(.+?),? (?:then )?nothing (?:at all )?happens$`),
	regexp.MustCompile(`(?i)^(?:nothing (?:at all )?happens|no reaction|nothing changes) (?:when|if) (?:the )?(.+?) (?:opens?|closes?|turns?|spins?|moves?|is (?:pressed|pushed|turned|opened|closed|moved|shaded|covered))$`),
	regexp.MustCompile(`(?i)^(?:i |you |one )?(?:press|push|close|use|turn|switch|open) (?:the )?(.+?),? (?:and|but) (?:then )?nothing (?:at all )?happens$`),
	regexp.MustCompile(`(?i)^(?:pressing|pushing|closing|using|turning|switching|opening) (?:the )?(.+?) (?:does nothing|has no effect|does not do anything|doesn't do anything|changes nothing|does not help)$`),
}

// unnoticed is the contact that is used without effect; empty where it is not that.
func unnoticed(text string) string {
	for _, x := range noEffect {
		if m := x.FindStringSubmatch(strings.TrimRight(strings.TrimSpace(text), ".!")); m != nil {
			return m[1]
		}
	}
	return ""
}

var nth = regexp.MustCompile(`(?i)\b(?:the )?(first|second|third|fourth|fifth|sixth|seventh|eighth|last) (?:lamp|led|light)\b`)

// numbered puts "the third lamp" as its name.
func (c *Case) numbered(text string) string {
	return nth.ReplaceAllStringFunc(text, func(said string) string {
		var lamps []string
		for i := range c.actors {
			if c.actors[i].lamp {
				lamps = append(lamps, c.actors[i].name)
			}
		}
		word := strings.ToLower(nth.FindStringSubmatch(said)[1])
		i := slices.Index([]string{"first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth"}, word)
		if word == "last" {
			i = len(lamps) - 1
		}
		if i < 0 || i >= len(lamps) {
			return said
		}
		return lamps[i]
	})
}

// Several things, and what they do.
var several = regexp.MustCompile(`^(all|both|none|no|neither)? ?(?:of )?(?:the )?(.+?s) (are|stay|remain|do not|don't|won't|will not|never|light|lights|come|comes|work|works|glow|blink|flicker|is|go)\b ?(.*)$`)

// sayOfMany understands what is said of several things at once: "all score lamps are dark", "the
// platform lamps don't light", "none of the team lamps works". Nothing, and no error, where it is
// not that.
func (c *Case) sayOfMany(text string) ([]Observation, error) {
	m := several.FindStringSubmatch(strings.ToLower(strings.TrimRight(text, " .!")))
	if m == nil {
		return nil, nil
	}
	group := c.group(m[2])
	if len(group) < 2 && m[1] == "" || m[1] == "both" && len(group) != 2 {
		return nil, nil
	}
	does := map[string]string{
		"are": "is ", "stay": "stays ", "remain": "stays ", "do not": "does not ", "don't": "does not ", "won't": "does not ", "will not": "does not ", "never": "never ", "light": "lights ", "lights": "lights ",
		"come": "comes ", "comes": "comes ", "work": "works ", "works": "works ", "glow": "glows ", "blink": "flickers ", "flicker": "flickers ", "is": "is ", "go": "goes ",
	}[m[3]] + m[4]
	if m[1] == "none" || m[1] == "no" || m[1] == "neither" {
		does = "never " + does
	}
	var out []Observation
	for _, i := range group {
		o, err := c.Say(c.actors[i].name + " " + strings.TrimSpace(does))
		if err != nil {
			return nil, err
		}
		out = append(out, o)
	}
	return out, nil
}

// group lists the things that several words mean: whose names have all of them, but for what all
// lamps are called.
func (c *Case) group(said string) (out []int) {
	var words []string
	lamps := false
	for _, w := range spoken.FindAllString(said, -1) {
		w = strings.TrimSuffix(w, "s")
		switch w {
		case "lamp", "led", "light", "bulb":
			lamps = true
		case "the", "all":
		default:
			words = append(words, w)
		}
	}
	if !lamps && len(words) == 0 {
		return nil
	}
	seen := map[string]bool{}
	for i := range c.actors {
		a := &c.actors[i]
		name := strings.ToLower(a.name)
		if lamps && !a.lamp || seen[name] || slices.ContainsFunc(words, func(w string) bool { return !strings.Contains(name, w) }) {
			continue
		}
		seen[name] = true
		out = append(out, i)
	}
	return out
}
