package program

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"cablaggio/core/board"
	"cablaggio/core/check"
	"cablaggio/core/machine"
	"cablaggio/core/plan"
	"cablaggio/core/wiring"
)

// A want is how a program uses a pin, or how a signal wants one used.
type want uint8

const (
	drives want = iota
	dims
	reads
	converts
)

// wants is how the program uses a pin.
func (p *pinFacts) wants() (w want, ok bool) {
	switch {
	case p.reading.line > 0:
		return converts, true
	case p.duty.line > 0:
		return dims, true
	case p.output():
		return drives, true
	case p.input():
		return reads, true
	}
	return 0, false
}

// signalWants is how a signal wants its pin used.
func signalWants(needs board.Function) want {
	switch needs {
	case board.DigitalOut:
		return drives
	case board.PWMOut:
		return dims
	case board.AnalogIn:
		return converts
	}
	return reads
}

// serves reports whether a use of a pin can be what a signal wants: a dimmed lamp may be
// switched, and a switched one dimmed; a sensor may be asked for a level.
func (w want) serves(signal want) bool {
	switch signal {
	case drives, dims:
		return w == drives || w == dims
	case reads:
		return w == reads
	}
	return w == converts || w == reads
}

// A misplaced is a pin that the program uses as nothing there can be used.
type misplaced struct {
	facts *pinFacts
	want  want
}

// pinElsewhere finds pins that the program uses and that have nothing, or something of another
// sort, and says where the part that is probably meant is. However many there are, it is one
// finding: they have one cause.
var pinElsewhere = rule{"pin", func(f *facts) []check.Finding {
	var lost []misplaced
	for _, p := range f.used {
		w, ok := p.wants()
		if !ok || f.ownUse(p.pin) || f.beyond(p.firstLine) {
			continue
		}
		u, used := f.uses[f.o.words(p.pin)]
		fits := !used && f.wired(p.pin) || used && slices.ContainsFunc(u.Signals, func(c wiring.Claim) bool { return w.serves(signalWants(c.Signal.Needs)) })
		if !fits {
			lost = append(lost, misplaced{p, w})
		}
	}
	if len(lost) == 0 {
		return nil
	}
	idle := f.idle()
	// The pairs are those of one sort, in the order of the board, the names first.
	type pair struct {
		misplaced
		claim wiring.Claim
	}
	var pairs []pair
	var alone []misplaced
	taken, placed := make([]bool, len(idle)), make([]bool, len(lost))
	take := func(l, i int) {
		taken[i], placed[l] = true, true
		pairs = append(pairs, pair{lost[l], idle[i]})
	}
	// Names that have most in common belong together, then uses of one sort, in the board's order.
	scores := func(l, i int) int {
		if name := f.calledIn(lost[l].facts); name != "" {
			return common(name, idle[i].Part.Name+" "+signalWord(idle[i]))
		}
		return 0
	}
	for best := 1; best > 0; {
		best = 0
		at := [2]int{}
		for l := range lost {
			for i, c := range idle {
				if !placed[l] && !taken[i] && lost[l].want.serves(signalWants(c.Signal.Needs)) && scores(l, i) > best {
					best, at = scores(l, i), [2]int{l, i}
				}
			}
		}
		if best > 0 {
			take(at[0], at[1])
		}
	}
	for _, exact := range []bool{true, false} {
		for l := range lost {
			for i, c := range idle {
				w := signalWants(c.Signal.Needs)
				if !placed[l] && !taken[i] && (lost[l].want == w || !exact && lost[l].want.serves(w)) {
					take(l, i)
				}
			}
		}
	}
	for l := range lost {
		if !placed[l] {
			alone = append(alone, lost[l])
		}
	}
	slices.SortStableFunc(pairs, func(a, b pair) int { return cmp.Compare(f.definedIn(a.facts), f.definedIn(b.facts)) })
	var out []check.Finding
	if len(pairs) > 0 {
		x := check.Finding{Level: check.Stop, Line: f.definedIn(pairs[0].facts)}
		var said []string
		var text, wires []plan.Edit
		ok := true
		seen := map[int]string{}
		for _, p := range pairs {
			name := f.o.words(p.facts.pin)
			f.moved[p.facts.pin] = p.claim.Signal.Pin
			said = append(said, fmt.Sprintf("%s %s, but %s is on %s", verb(p.want), name, p.claim.Part.Name, p.claim.Signal.Pin))
			x = f.about(x, p.facts.pin, f.board.Number(p.claim.Signal.Pin))
			wires = append(wires, plan.Edit{Op: plan.MovePin, Part: p.claim.Part.ID, Signal: p.claim.Signal.Name, Pin: name})
			line, becomes := f.renumber(p.facts, p.claim.Signal.Pin, seen)
			if line == 0 {
				ok = false
				continue
			}
			seen[line] = becomes
		}
		x.Title = "The program " + strings.Join(said, "; it ") + "."
		x.Why = "The pin in the program and the pin on the board have to be the same. Nothing is wrong with either alone."
		if len(said) > 1 {
			x.Why = "The pins in the program and on the board are exchanged. Put right the one or the other."
		}
		if ok {
			for line, becomes := range seen {
				text = append(text, plan.Edit{Op: plan.Rewrite, Count: line, With: f.line(line), Text: becomes})
			}
			slices.SortFunc(text, func(a, b plan.Edit) int { return a.Count - b.Count })
			x.Fixes = append(x.Fixes, check.Fix{Label: rewritten(text), Edits: text})
		}
		if len(wires) == 1 && f.suits(wires[0]) {
			x.Fixes = append(x.Fixes, check.Fix{Label: fmt.Sprintf("Move the wire of %s to %s", pairs[0].claim.Part.Name, wires[0].Pin), Edits: wires})
		}
		out = append(out, x)
	}
	for _, l := range alone {
		name := f.o.words(l.facts.pin)
		x := check.Finding{Level: check.Care, Line: f.definedIn(l.facts)}
		x.Title = fmt.Sprintf("The program %s %s, where nothing is wired.", verb(l.want), name)
		x.Why = "Whatever it should do or see there, it cannot."
		if u, ok := f.uses[name]; ok {
			x.Level = check.Stop
			x.Title = fmt.Sprintf("The program %s %s, but %s is wired there.", verb(l.want), name, u.Signals[0].Part.Name)
			x.Why = "That is another sort of part than the program takes it for."
		} else if l.want == reads || l.want == converts {
			x.Level = check.Stop
			x.Why = "What it reads there is chance: nothing holds the pin."
		}
		out = append(out, f.about(x, l.facts.pin))
	}
	return out
}}

func verb(w want) string {
	switch w {
	case drives:
		return "drives"
	case dims:
		return "dims"
	case reads:
		return "reads"
	}
	return "measures at"
}

// ownUse reports whether a pin has something of the board's own that a program may want.
func (f *facts) ownUse(pin int) bool {
	p, ok := f.board.Numbered(pin)
	if !ok {
		return false
	}
	used := len(f.uses[p.Name].Signals) > 0
	return p.Own != nil && p.Own.LED != nil && !used && !f.wired(pin)
}

// beyond reports whether a line reaches beyond a list: what it takes for a pin is chance.
func (f *facts) beyond(line int) bool {
	for _, r := range f.o.all() {
		for _, e := range r.notes {
			if e.Kind == machine.Wronged && e.Text == "bounds" && e.Line == line {
				return true
			}
		}
	}
	return false
}

// idle are the signals whose pins the program does not use as they want.
func (f *facts) idle() (out []wiring.Claim) {
	for _, u := range f.net.Uses {
		p := f.o.pins[f.board.Number(u.Pin.Name)]
		for _, c := range u.Signals {
			if p != nil {
				if w, ok := p.wants(); ok && w.serves(signalWants(c.Signal.Needs)) {
					continue
				}
			}
			out = append(out, c)
		}
	}
	return out
}

// suits reports whether the wiring can be moved so.
func (f *facts) suits(e plan.Edit) bool {
	_, _, err := plan.Apply(f.lib, f.doc, []plan.Edit{e})
	return err == nil
}

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

// definedIn is the line in which the program names a pin; or else the first that uses it.
func (f *facts) definedIn(p *pinFacts) int {
	line := 0
	for _, c := range f.constants() {
		if c.pin == p.pin {
			if line != 0 {
				return p.firstLine
			}
			line = c.line
		}
	}
	if line == 0 {
		return p.firstLine
	}
	return line
}

// rewritten says what edits of lines make of them.
func rewritten(edits []plan.Edit) string {
	if len(edits) == 1 {
		return fmt.Sprintf("Change line %d to: %s", edits[0].Count, strings.TrimSpace(edits[0].Text))
	}
	var lines []int
	for _, e := range edits {
		lines = append(lines, e.Count)
	}
	return "Change lines " + list(lines, 8)
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

// pinNamed finds pins that the program calls by the name of another part than is there.
var pinNamed = rule{"name", func(f *facts) []check.Finding {
	type wrong struct {
		constant
		there, meant wiring.Claim
	}
	var all []wrong
	for _, c := range f.constants() {
		if _, ok := f.moved[c.pin]; ok {
			continue
		}
		there, ok := f.uses[f.o.words(c.pin)]
		p := f.o.pins[c.pin]
		if !ok || p == nil {
			continue
		}
		own := 0
		for _, claim := range there.Signals {
			own = max(own, common(c.name, claim.Part.Name+" "+signalWord(claim)))
		}
		best, n := wiring.Claim{}, 0
		w, _ := p.wants()
		for _, u := range f.net.Uses {
			for _, claim := range u.Signals {
				if k := common(c.name, claim.Part.Name+" "+signalWord(claim)); w.serves(signalWants(claim.Signal.Needs)) {
					if k > own && (best.Part == nil || k > n) {
						best, n = claim, k
					} else if k == n && k > own && best.Part != nil && best.Part.ID != claim.Part.ID {
						best.Part = nil // two of them: the name says too little
					}
				}
			}
		}
		if best.Part != nil && n > own {
			all = append(all, wrong{c, there.Signals[0], best})
		}
	}
	if len(all) == 0 {
		return nil
	}
	x := check.Finding{Level: check.Care, Line: all[0].line}
	var said []string
	seen := map[int]string{}
	ok := true
	for _, w := range all {
		said = append(said, fmt.Sprintf("calls %s %q, but %s is there; %s is on %s", f.o.words(w.pin), w.name, w.there.Part.Name, w.meant.Part.Name, w.meant.Signal.Pin))
		x = f.about(x, w.pin, f.board.Number(w.meant.Signal.Pin))
		line, becomes := f.renumber(f.o.pins[w.pin], w.meant.Signal.Pin, seen)
		if line == 0 {
			ok = false
			continue
		}
		seen[line] = becomes
	}
	x.Title = "The program " + strings.Join(said, "; it ") + "."
	x.Why = "Everything will run, but the wrong one will do it."
	if ok {
		var text []plan.Edit
		for line, becomes := range seen {
			text = append(text, plan.Edit{Op: plan.Rewrite, Count: line, With: f.line(line), Text: becomes})
		}
		slices.SortFunc(text, func(a, b plan.Edit) int { return a.Count - b.Count })
		x.Fixes = []check.Fix{{Label: rewritten(text), Edits: text}}
	}
	return []check.Finding{x}
}}

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
