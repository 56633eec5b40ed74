package program

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"cablaggio/core/electric/wiring"
)

// A constant is a name that a program gives to a pin.
type constant struct {
	name string
	pin  int
	line int
}

var constants = []*regexp.Regexp{
	regexp.MustCompile(`^\s*(?:static\s+)?(?:const(?:expr)?\s+)?(?:static\s+)?(?:unsigned\s+)?(?:int|byte|short|char|long|uint8_t|int8_t|uint16_t|auto|word)\s+(?:const\s+)?(\w+)\s*(?:=\s*|\{)\s*(A?\d+)\s*\}?\s*;`),
	regexp.MustCompile(`^\s*#define\s+(\w+)\s+\(?(A?\d+)\)?\s*(?://.*)?$`),
	regexp.MustCompile(`^\s*(\w+)\s*=\s*(?:\w+\.)?(?:Pin|ADC|PWM|DigitalInOut|AnalogIn|PWMOut)\(\s*(?:Pin\(\s*)?(?:machine\.)?(?:Pin\(\s*)?(?:board\.)?["']?(\w+)["']?`),
	regexp.MustCompile(`^\s*([A-Za-z_]\w*)\s*=\s*(?:const\()?(?:board\.)?(\w+)\)?\s*(?:#.*)?$`),
}

// constants lists the names that the program gives to pins.
func (f *facts) constants() (out []constant) {
	python := f.doc.Program.Language.Python()
	for i, line := range f.lines {
		for k, form := range constants {
			if python != (k >= 2) {
				continue
			}
			if m := form.FindStringSubmatch(line); m != nil {
				if pin, ok := f.numberOf(m[2]); ok {
					out = append(out, constant{m[1], pin, i + 1})
					break
				}
			}
		}
	}
	return out
}

// numberOf is the pin that a program writes so.
func (f *facts) numberOf(text string) (int, bool) {
	for _, p := range f.board.Pins {
		n := f.board.Number(p.Name)
		if p.Name == text || fmt.Sprint(n) == text {
			return n, true
		}
	}
	return 0, false
}

// calledIn is the name that the program gives to a pin; empty where it gives none, or several.
func (f *facts) calledIn(p *pinFacts) string {
	name := ""
	for _, c := range f.constants() {
		if c.pin == p.pin {
			if name != "" {
				return ""
			}
			name = c.name
		}
	}
	return name
}

// renumber is the one line in which a pin's number has to change, and how it reads then; 0
// where it is not one. What was changed in it before stands in seen.
func (f *facts) renumber(p *pinFacts, to string, seen map[int]string) (line int, becomes string) {
	var at []int
	for _, c := range f.constants() {
		if c.pin == p.pin {
			at = append(at, c.line)
		}
	}
	if len(at) == 0 {
		at = f.mentions(p)
	}
	if len(at) != 1 {
		return 0, ""
	}
	text := f.line(at[0])
	if s, ok := seen[at[0]]; ok {
		text = s
	}
	was, will := f.board.InCode(f.o.words(p.pin)), f.board.InCode(to)
	if f.doc.Program.Language.Python() {
		if strings.Contains(text, f.o.words(p.pin)) {
			was, will = f.o.words(p.pin), to
		} else {
			was, will = fmt.Sprint(p.pin), fmt.Sprint(f.board.Number(to))
		}
	}
	whole := regexp.MustCompile(`\b` + regexp.QuoteMeta(was) + `\b`)
	if len(whole.FindAllString(text, -1)) != 1 {
		return 0, ""
	}
	return at[0], whole.ReplaceAllString(text, will)
}

// mentions are the lines of calls that name a pin by its number.
func (f *facts) mentions(p *pinFacts) (out []int) {
	form := regexp.MustCompile(`\(\s*(?:board\.|["'])?(?:` + regexp.QuoteMeta(f.board.InCode(f.o.words(p.pin))) + `|` + regexp.QuoteMeta(f.o.words(p.pin)) + `|` + fmt.Sprint(p.pin) + `)["']?\s*[,)]`)
	for i, line := range f.lines {
		if form.MatchString(line) {
			out = append(out, i+1)
		}
	}
	return out
}

// signalWord is a signal's name where it tells one of a part's from another.
func signalWord(c wiring.Claim) string {
	if len(c.Part.Signals) > 1 {
		return c.Signal.Name
	}
	return ""
}

// plainWords are those that say nothing about which part it is.
var plainWords = map[string]bool{"pin": true, "the": true, "of": true, "a": true, "and": true, "in": true, "out": true, "at": true, "on": true}

// common is how many words two names have in common.
func common(a, b string) (n int) {
	other := split(b)
	for _, w := range split(a) {
		if slices.Contains(other, w) {
			n++
		}
	}
	return n
}

var humps = regexp.MustCompile(`[A-Z]?[a-z]+|[A-Z]+|\d+`)

// same are words that builders use for one thing.
var same = map[string]string{"led": "lamp", "light": "lamp", "btn": "button", "switch": "button", "pot": "knob", "dimmer": "knob", "potentiometer": "knob", "ldr": "light", "temp": "temperature", "speaker": "buzzer"}

// split takes a name apart: "redLamp2" is red, lamp, 2.
func split(name string) (out []string) {
	for _, w := range humps.FindAllString(name, -1) {
		w = strings.ToLower(w)
		if s := same[w]; s != "" {
			w = s
		}
		if !plainWords[w] && !slices.Contains(out, w) {
			out = append(out, w)
		}
	}
	return out
}
