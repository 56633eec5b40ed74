package should

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"cablaggio/core/running/bench"
)

// A rewriting puts one way of saying something as another, which is nearer to the forms.
type rewriting struct {
	was *regexp.Regexp
	is  string
}

// rewritings are tried one after the other, each on what the ones before it made.
var rewritings = func() (out []rewriting) {
	for _, x := range [][2]string{
		{`\b(?:should|must|shall|has to|have to|ought to|will) be\b`, "is"},
		{`\b(?:should|must|shall|has to|have to|ought to|will) (light|blink|flash|sound|beep|glow|run|change|toggle)\b`, "${1}s"},
		{`\bblink\b`, "blinks"}, {`\bflash\b`, "flashes"},
		{`\b(?:doesn't|does not) (?:light|glow|shine)\b|\b(?:is never|is not|isn't) (?:lit|on)\b|\bnever (?:lights|glows)\b`, "is dark"},
		{`\b(?:is not|isn't|is never) (?:dark|off|out)\b`, "is lit"},
		{`\b(?:stays|remains|keeps) (lit|on|dark|off|out|silent|full)\b`, "is $1"},
		{`\b(?:lights? up|go(?:es)? on|comes? on|turns? on|switch(?:es)? on|shines?|(?:is|are) switched on|(?:is|are) turned on)$`, "is lit"},
		{`\b(?:go(?:es)? off|go(?:es)? dark|turns? off|switch(?:es)? off|(?:is|are) out|(?:is|are) switched off|(?:is|are) turned off)$`, "is dark"},
		{`\b(?:is at full brightness|is fully lit|is brightest|is at full)$`, "is full"},
		{`\b(?:buzzes|rings|plays|makes a sound)$`, "sounds"},
		{`\bis quiet$`, "is silent"},
		{`\b(?:pushed|pressed down|held down|down)\b`, "pressed"},
		{`\b(?:blinks|flashes) (?:once a|once per|every) second\b`, "blinks at 1 hz"},
		{`\b(?:blinks|flashes) twice (?:a|per|every) second\b`, "blinks at 2 hz"},
		{`\b(blinks|flashes) (\d+(?:[.,]\d+)?) times (?:a|per|every) second\b`, "$1 at $2 hz"},
		{`^(?:if|once|during|provided that|as soon as) `, "while "},
		{`^after (?:pressing|pushing|each press of|every press of|a press of) `, "each press of "},
		{`^(.+?) follows (.+)$`, "turning $2 takes $1 from dark to full"},
		{`^(?:turning )?(.+?) (?:controls|varies|regulates) (?:how bright |brightness of )?(.+?)(?: is)?$`, "turning $1 takes $2 from dark to full"},
		{`^turning (.+?) (?:sets|changes) (?:how bright |brightness of )?(.+?)(?: is)?$`, "turning $1 takes $2 from dark to full"},
		{`^(?:at|with) (?:full|maximum) (.+?),? (.+ (?:is|blinks|sounds|runs) ?.*)$`, "while $1 is above 98 %, $2"},
		{`\bis (?:at zero|at minimum|at 0 ?%|turned down(?: fully)?|fully turned down)`, "is below 2 %"},
		{`\bis (?:at maximum|at 100 ?%|turned up(?: fully)?|fully turned up)`, "is above 98 %"},
		{`\bnever (?:lights?|are lit) (?:all )?(?:together|at once|at the same time)$`, "are never lit together"},
		{`^(?:each|every|any) time (.+?) is pressed,? (?:then )?(.+)$`, "each press of $1 $2"},
		{`^(?:pressing|pushing|a press of|each push of|each press on|every push of|a press on) `, "each press of "},
		{`^(?:when|while|whenever) (.+?) is pressed,? (?:then )?(.+) (changes|toggles)$`, "each press of $1 $3 $2"},
		{`^(each press of .+?) (?:turns|switches) (.+) on$`, "$1 lights $2"},
		{`^(each press of .+?) (?:turns|switches) (.+) off$`, "$1 darkens $2"},
		{`^turning (.+?)(?: up)? (?:makes (.+) brighter|brightens (.+)|sets (?:brightness of )?(.+))$`, "turning $1 takes $2$3$4 from dark to full"},
		{`^turning (.+?)(?: up)? (?:makes (.+) darker|dims (.+)|darkens (.+))$`, "turning $1 takes $2$3$4 from full to dark"},
		{`^only one of (.+) is lit(?: at a time| at once)?$`, "$1 light one at a time"},
		{`^(.+) (?:is|are) never (?:lit|on) (?:together|at the same time|at once)$`, "$1 are never lit together"},
		{`^(?:nothing is ever|nothing is|nothing ever is|no part is ever|no part is) over its limits?$`, Limits},
		{`\bare (lit|on|dark|off|full|silent)$`, "is $1"},
		{`\b(light|sound|glow)$`, "${1}s"},
	} {
		out = append(out, rewriting{regexp.MustCompile(x[0]), x[1]})
	}
	return out
}()

var (
	everySoLong = regexp.MustCompile(`\b(blinks|flashes) every (\d+(?:[.,]\d+)?) ?(ms|s)\b`)
	endsWith    = regexp.MustCompile(`^(.+?),? (?:while|when|whenever|if|as long as|as soon as) (.+)$`)
	limitLast   = regexp.MustCompile(`^(.+?) ((?:above|over|below|under) -?\d+(?:[.,]\d+)? ?[^ ,\d]*)$`)
	pressAlone  = regexp.MustCompile(`^(?:each|every) press (?:of )?((?:changes|toggles|lights|darkens|turns|switches|sounds|silences) .+)$`)
)

// rephrase puts a sentence as the forms have it: what is so meanwhile comes first, with a comma
// behind it, and each thing has the first of its words.
func (r *Reader) rephrase(t string) string {
	if m := everySoLong.FindStringSubmatch(t); m != nil {
		v, _ := strconv.ParseFloat(strings.Replace(m[2], ",", ".", 1), 64)
		if m[3] == "ms" {
			v /= 1000
		}
		if v > 0 {
			t = strings.Replace(t, m[0], fmt.Sprintf("%s at %g hz", m[1], 1/v), 1)
		}
	}
	if m := pressAlone.FindStringSubmatch(t); m != nil {
		if h, ok := r.onlyPressed(); ok {
			t = "each press of " + plain(h.Name) + " " + m[1]
		}
	}
	t = r.byLight(t)
	for _, x := range rewritings {
		t = x.was.ReplaceAllString(t, x.is)
	}
	t = r.verbFirst(t)
	for _, begin := range []string{"while ", "when ", "as long as ", "whenever ", "each ", "every ", "turning "} {
		if strings.HasPrefix(t, begin) {
			return r.withComma(t)
		}
	}
	if m := endsWith.FindStringSubmatch(t); m != nil {
		return r.rephrase("while " + m[2] + ", " + m[1])
	}
	if m := limitLast.FindStringSubmatch(t); m != nil {
		return r.rephrase(m[2] + ", " + m[1])
	}
	return t
}

// What is said of the light without a number, and the numbers that are meant: darker than a lit
// street, brighter than a lit room (common practice).
var (
	darkness = regexp.MustCompile(`(?:(?:^|,? )(?:if|when|while|whenever|once|as soon as) (?:it is|it's|it gets|it becomes|it has become) (?:dark|night)|(?:^|,? )(?:in|at|by|during) (?:dark|darkness|night|dusk))\b,?`)
	daylight = regexp.MustCompile(`(?:(?:^|,? )(?:if|when|while|whenever|once|as soon as) (?:it is|it's|it gets|it becomes|it has become) (?:bright|light|day)|(?:^|,? )(?:in|at|by|during) (?:daylight|day|daytime|sun|sunlight|bright light))\b,?`)
)

// byLight puts what is said of the light as the number of the one sensor of light that there is.
func (r *Reader) byLight(t string) string {
	var sensor bench.Hand
	n := 0
	for _, h := range r.hands {
		if h.Unit == "lx" {
			sensor, n = h, n+1
		}
	}
	if n != 1 {
		return t
	}
	for _, x := range []struct {
		says  *regexp.Regexp
		limit string
	}{{darkness, "below 5 lx"}, {daylight, "above 1000 lx"}} {
		if at := x.says.FindStringIndex(t); at != nil {
			return "while " + plain(sensor.Name) + " is " + x.limit + ", " + strings.TrimSpace(t[:at[0]]+" "+strings.TrimSpace(t[at[1]:]))
		}
	}
	return t
}

// onlyPressed is the one thing that is pressed in a build; false where there are others.
func (r *Reader) onlyPressed() (h bench.Hand, ok bool) {
	n := 0
	for _, x := range r.hands {
		if x.Kind == bench.Presses || x.Kind == bench.PadOf {
			h = x
			n++
		}
	}
	return h, n == 1
}

// verbFirst puts "each press of B X is lit" as "each press of B lights X".
func (r *Reader) verbFirst(t string) string {
	rest, ok := strings.CutPrefix(t, "each press of ")
	if !ok {
		return t
	}
	h, after, ok := r.handIn(rest)
	if !ok {
		return t
	}
	x, does, ok := r.thing(strings.TrimLeft(after, " ,"))
	if !ok {
		return t
	}
	for _, v := range [][2]string{{"is lit", "lights"}, {"lights", "lights"}, {"is dark", "darkens"}, {"goes out", "darkens"}, {"changes", "changes"}, {"toggles", "changes"}, {"sounds", "sounds"}, {"is silent", "silences"}} {
		if strings.TrimSpace(does) == v[0] {
			return "each press of " + plain(h.Name) + " " + v[1] + " " + plain(x.name)
		}
	}
	return t
}

// withComma puts the comma behind what is so meanwhile, where a sentence has none: before the
// first thing that is named there.
func (r *Reader) withComma(t string) string {
	if strings.Contains(t, ", ") || strings.HasPrefix(t, "each ") || strings.HasPrefix(t, "every ") || strings.HasPrefix(t, "turning ") {
		return strings.Replace(t, ", then ", ", ", 1)
	}
	for i := range t {
		if t[i] != ' ' {
			continue
		}
		rest := strings.TrimPrefix(t[i+1:], "then ")
		if _, _, hand := r.handIn(rest); hand {
			continue // a button may be named after its lamp
		}
		if _, _, ok := r.some(rest); ok {
			return t[:i] + ", " + rest
		}
	}
	return t
}

// some finds the things that a text begins with: one, several with commas and an and between,
// "both" or "all" with what their names have in common, or all lamps.
func (r *Reader) some(t string) (out []thing, rest string, ok bool) {
	for _, begin := range []string{"both ", "all ", ""} {
		after, is := strings.CutPrefix(t, begin)
		if _, _, one := r.thing(t); !is || begin == "" && one {
			continue
		}
		for _, verb := range []string{" is ", " lights", " blinks", " sounds", " goes "} {
			i := strings.Index(after, verb)
			if i < 0 {
				continue
			}
			common, many := strings.CutSuffix(after[:i], "s")
			if begin == "" && (!many || common == "") {
				continue
			}
			for _, x := range r.things {
				if (x.kind == bench.LampRow && (common == "lamp" || common == "led")) || strings.Contains(plain(x.name), common) {
					out = append(out, x)
				}
			}
			if begin == "both " && len(out) != 2 || begin == "" && len(out) < 2 {
				return nil, "", false
			}
			return out, after[i:], len(out) > 0
		}
	}
	for {
		x, after, is := r.thing(t)
		if !is {
			return out, t, false
		}
		out = append(out, x)
		next, more := strings.CutPrefix(after, ", ")
		if !more {
			next, more = strings.CutPrefix(after, " and ")
		}
		if next = strings.TrimPrefix(next, "and "); !more {
			return out, after, true
		}
		t = next
	}
}
