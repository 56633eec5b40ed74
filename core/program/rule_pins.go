package program

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strings"

	"cablaggio/core/board"
	"cablaggio/core/build"
	"cablaggio/core/check"
	"cablaggio/core/machine"
	"cablaggio/core/quantity"
	"cablaggio/core/rig"
	"cablaggio/core/wiring"
)

// pinFunction finds pins that are asked for what they have not.
var pinFunction = rule{"function", func(f *facts) []check.Finding {
	var out []check.Finding
	add := func(p *pinFacts, line int, level check.Level, title, why string) {
		out = append(out, f.about(check.Finding{Level: level, Line: line, Title: title, Why: why}, p.pin))
	}
	for _, p := range f.used {
		pin, ok := f.board.Numbered(p.pin)
		name := f.named(p.pin)
		if !ok {
			add(p, p.firstLine, check.Stop, fmt.Sprintf("The %s has no pin %d.", f.board.Name, p.pin), "Nothing happens there.")
			continue
		}
		if p.output() && !pin.Has(board.DigitalOut) {
			add(p, p.firstLine, check.Stop, name+" is only an input: it cannot drive anything.", "Take a pin that can be an output.")
		}
		if p.duty.line > 0 && pin.PWM == nil && p.duty.between {
			add(p, p.duty.line, check.Care, name+" has no PWM: a duty below a half is off, one from a half on is on.", fmt.Sprintf("Nothing is dimmed. Pins with PWM are %s.", f.having(board.PWMOut)))
		}
		if p.reading.line > 0 && !pin.Has(board.AnalogIn) {
			add(p, p.reading.line, check.Stop, name+" has no converter: what is read there means nothing.", fmt.Sprintf("Pins with a converter are %s.", f.having(board.AnalogIn)))
		}
		if p.attachLine > 0 && !pin.Has(board.Interrupt) {
			add(p, p.attachLine, check.Stop, name+" has no interrupt: the function is never called.", fmt.Sprintf("Pins with an interrupt are %s.", f.having(board.Interrupt)))
		}
		if _, up := p.modes[machine.PulledUp]; up && f.board.PullAt(pin, board.PullUp).IsZero() {
			add(p, p.modes[machine.PulledUp], check.Stop, name+" has no pull-up of its own: asked for one, it floats.", "Wire a resistor of 10 kΩ from the pin to the supply of the logic.")
		}
		if _, down := p.modes[machine.PulledDown]; down && f.board.PullAt(pin, board.PullDown).IsZero() {
			add(p, p.modes[machine.PulledDown], check.Stop, name+" has no pull-down of its own: asked for one, it floats.", "Wire a resistor of 10 kΩ from the pin to ground.")
		}
	}
	return out
}}

// having lists the pins that have a function.
func (f *facts) having(fn board.Function) string {
	var out []string
	for _, p := range f.board.Pins {
		if p.Has(fn) {
			out = append(out, p.Name)
		}
	}
	if len(out) > 8 {
		out = append(out[:8], "…")
	}
	return strings.Join(out, ", ")
}

// pinMode finds pins that drive something and were never made outputs, and outputs that only
// are read.
var pinMode = rule{"mode", func(f *facts) []check.Finding {
	var out []check.Finding
	for _, p := range f.used {
		name := f.o.words(p.pin)
		if _, moved := f.moved[p.pin]; moved || !f.wired(p.pin) {
			continue
		}
		_, driven := p.modes[machine.Driven]
		if p.wroteBefore && !driven && p.duty.line == 0 && p.toneLine == 0 && !p.input() {
			x := f.about(check.Finding{Level: check.Stop, Line: p.wroteBeforeLine}, p.pin)
			x.Title = fmt.Sprintf("%s is written, but never made an output.", f.named(p.pin))
			x.Why = "So nothing drives what hangs on it."
			if amps, part := f.faint(p.pin); f.board.Programs().WritePulls && amps > 1e-6 {
				x.Why = fmt.Sprintf("Writing high to an input switches its pull-up on: %s gets %s, and glows faintly at most.", part, quantity.Format(amps, quantity.Ampere))
			}
			x.Fixes = f.makeOutput(p, name)
			out = append(out, x)
			continue
		}
		u, used := f.uses[name]
		if used && !u.Drives() && driven && p.input() {
			x := f.about(check.Finding{Level: check.Stop, Line: p.modes[machine.Driven]}, p.pin)
			x.Title = fmt.Sprintf("%s is made an output, and then read.", f.named(p.pin))
			x.Why = "An output reads what it drives itself, and fights with what is wired to it. Make it an input."
			x.Fixes = f.makeInput(p, u)
			out = append(out, x)
		}
	}
	return out
}}

// faint is the current that a pull-up alone drives through what hangs on a pin, and through
// which part.
func (f *facts) faint(pin int) (amps float64, part string) {
	r := rig.New(f.net)
	r.Set(pin, machine.Drive{Mode: machine.PulledUp}, 0)
	for i := range r.Actors {
		a := &r.Actors[i]
		if r.Beside(a, pin) {
			if through, _ := r.Through(a); through > amps {
				amps, part = through, a.Name
			}
		}
	}
	return amps, part
}

// setupOf is the line on which setup begins, and what stands before its statements.
func (f *facts) setupOf() (line int, indent string) {
	for i, text := range f.lines {
		if strings.Contains(text, "void setup") && strings.HasSuffix(strings.TrimRight(text, " \t\r"), "{") {
			indent = "  "
			if i+1 < len(f.lines) {
				next := f.lines[i+1]
				if trimmed := strings.TrimLeft(next, " \t"); trimmed != "" && trimmed != "}" {
					indent = next[:len(next)-len(trimmed)]
				}
			}
			return i + 1, indent
		}
	}
	return 0, ""
}

// called is how the program calls a pin: by its constant where it has one.
func (f *facts) called(p *pinFacts) string {
	if name := f.calledIn(p); name != "" {
		return name
	}
	return f.board.InCode(f.o.words(p.pin))
}

// modeCall finds where the program sets the mode of a pin to a word, in a line.
func (f *facts) modeCall(p *pinFacts, line int, word string) (from, to int, ok bool) {
	names := []string{regexp.QuoteMeta(f.board.InCode(f.o.words(p.pin))), fmt.Sprint(p.pin)}
	for _, c := range f.constants() {
		if c.pin == p.pin {
			names = append(names, regexp.QuoteMeta(c.name))
		}
	}
	form := regexp.MustCompile(`pinMode\(\s*(?:` + strings.Join(names, "|") + `)\s*,\s*(` + word + `)\s*\)`)
	if m := form.FindStringSubmatchIndex(f.line(line)); m != nil {
		return m[2], m[3], true
	}
	return 0, 0, false
}

// setMode is the fix that sets the mode of a pin: in its own pinMode where there is one, or at
// the beginning of setup where there is none.
func (f *facts) setMode(p *pinFacts, label, from, to string) []check.Fix {
	if f.doc.Program.Language != build.CPP {
		return nil
	}
	for _, line := range p.modes {
		if a, b, ok := f.modeCall(p, line, from); ok {
			text := f.line(line)
			return f.rewrite(label, line, text[:a]+to+text[b:])
		}
	}
	if line, indent := f.setupOf(); line > 0 && len(p.modes) == 0 {
		return f.rewrite(label, line, f.line(line)+"\n"+indent+"pinMode("+f.called(p)+", "+to+");")
	}
	return nil
}

// makeOutput is the fix that makes a pin an output.
func (f *facts) makeOutput(p *pinFacts, name string) []check.Fix {
	return f.setMode(p, "Make "+name+" an output", `INPUT(?:_PULLUP|_PULLDOWN)?`, "OUTPUT")
}

// makeInput is the fix that makes a pin an input, with the pull that the wiring counts on.
func (f *facts) makeInput(p *pinFacts, u wiring.Use) []check.Fix {
	with := "INPUT"
	if u.Pull() == board.PullUp {
		with = "INPUT_PULLUP"
	}
	if _, moved := f.moved[p.pin]; moved {
		return nil
	}
	return f.setMode(p, "Make "+u.Pin.Name+" an input", "OUTPUT", with)
}

// fights finds pins that the program drives against what is wired to them: a contact, a
// sensor, another output.
var fights = rule{"fights", func(f *facts) []check.Finding {
	var out []check.Finding
	for _, p := range f.used {
		name := f.o.words(p.pin)
		u, used := f.uses[name]
		c, piece := f.place(p.pin)
		_, driven := p.modes[machine.Driven]
		if piece == nil || used && u.Drives() || !driven && p.duty.line+p.toneLine == 0 {
			continue
		}
		worst, at := f.fight(piece, c, p)
		if worst.High < f.board.Logic.Pin.Recommended {
			continue
		}
		q := check.Against("current", quantity.Ampere, worst, f.board.Logic.Pin)
		line := p.modes[machine.Driven]
		if line == 0 {
			line = p.firstLine
		}
		x := f.about(check.Finding{Level: q.Level, Line: line, Found: q, State: at.Words(), At: check.At(at.Address())}, p.pin)
		x.Title = fmt.Sprintf("The program drives %s against what is wired there: %s flows.", f.named(p.pin), q.TypText)
		x.Why = fmt.Sprintf("That is through the pin while %s. A pin with a contact or a sensor on it is an input.", at.Words())
		if used {
			x.Fixes = f.makeInput(p, u)
		}
		out = append(out, x)
	}
	return out
}}

// fight is the largest current of a pin that is driven as the program drives it, over what
// everything else can do.
func (f *facts) fight(piece *wiring.Piece, control int, p *pinFacts) (worst wiring.Range, at *wiring.Solved) {
	planned, err := piece.Planned(wiring.Subject{})
	if err != nil {
		return worst, nil
	}
	k := -1
	for i, c := range piece.Controls {
		if c == control {
			k = i
		}
	}
	for _, mode := range []struct {
		setting float64
		role    wiring.Role
		done    bool
	}{{wiring.DrivenLow, wiring.LowSide, true}, {wiring.DrivenHigh, wiring.HighSide, p.high || p.duty.line+p.toneLine > 0}} {
		if !mode.done {
			continue
		}
		element := f.net.Find(mode.role, "", f.net.Controls[control].Of)
		if element < 0 {
			continue
		}
		seen := map[string]bool{}
		for _, s := range planned {
			state := append(wiring.State{}, s.State...)
			state[k] = mode.setting
			key := fmt.Sprint(state)
			if seen[key] || len(seen) > 256 {
				continue
			}
			seen[key] = true
			t, err := piece.At(state)
			if err == nil && math.Abs(t.TypicalAmps(element)) > math.Abs(worst.Typ) {
				r := t.Amps(element)
				worst, at = wiring.Range{Low: math.Abs(r.Low), Typ: math.Abs(r.Typ), High: r.Peak()}, t
			}
		}
	}
	return worst, at
}

// pinPull finds inputs that the program leaves floating, and pulls against the wiring's own.
var pinPull = rule{"pull", func(f *facts) []check.Finding {
	var out []check.Finding
	for _, p := range f.used {
		name := f.o.words(p.pin)
		c, piece := f.place(p.pin)
		if piece == nil || p.readLine+p.attachLine == 0 || p.output() || p.reading.line > 0 {
			continue
		}
		mode, line := float64(wiring.LetGo), p.modes[machine.LetGo]
		pulled := board.NoPull
		if l, ok := p.modes[machine.PulledUp]; ok {
			mode, line, pulled = wiring.PulledUp, l, board.PullUp
		}
		if l, ok := p.modes[machine.PulledDown]; ok {
			mode, line, pulled = wiring.PulledDown, l, board.PullDown
		}
		if pulled == board.NoPull && p.highLine > 0 && f.board.Programs().WritePulls {
			mode, line, pulled = wiring.PulledUp, p.highLine, board.PullUp
		}
		if _, moved := f.moved[p.pin]; moved {
			continue
		}
		if f.net.Controls[c].Settings[int(mode)] == "" {
			continue // it has no such pull: another rule's
		}
		if line == 0 {
			line = p.readLine
		}
		if line == 0 {
			line = p.attachLine
		}
		floats, between := f.held(piece, c, mode, name)
		if planned := f.net.Controls[c].Planned; len(planned) == 1 && planned[0] == mode {
			between = nil // as planned: the wiring's own finding
		}
		u, used := f.uses[name]
		switch {
		case floats != nil:
			x := f.about(check.Finding{Level: check.Stop, Line: line, State: floats.Words(), At: check.At(floats.Address())}, p.pin)
			x.Title = fmt.Sprintf("%s floats: the program switches no pull on.", f.named(p.pin))
			x.Why = fmt.Sprintf("While %s, nothing holds it, and it reads chance: a hand nearby is enough.", floats.Words())
			if used && u.Pull() != board.NoPull {
				x.Why = fmt.Sprintf("The wiring counts on the pin's own pull-%s. ", u.Pull()) + x.Why
				x.Fixes = f.pullOn(p, u.Pull(), line)
			} else if pulled == board.NoPull {
				for _, pull := range []board.Pull{board.PullUp, board.PullDown} {
					if len(x.Fixes) == 0 && f.pulls(piece, c, pull, name) {
						x.Fixes = f.pullOn(p, pull, line)
					}
				}
			}
			out = append(out, x)
		case between != nil:
			x := f.about(check.Finding{Level: check.Stop, Line: line, State: between.Words(), At: check.At(between.Address())}, p.pin)
			x.Title = fmt.Sprintf("%s is at %s, which is neither low nor high.", f.named(p.pin), quantity.Format(between.Typical(f.net.Node(build.Pin(name))), quantity.Volt))
			x.Why = "The pull that the program switches on and the resistor on the breadboard pull against each other."
			if pulled != board.NoPull {
				x.Fixes = f.setMode(p, "Switch the pull of "+name+" off", "INPUT_PULLUP|INPUT_PULLDOWN", "INPUT")
			}
			out = append(out, x)
		case pulled != board.NoPull && used && u.Pull() == board.NoPull && f.holds(piece, c):
			x := f.about(check.Finding{Level: check.Note, Line: line}, p.pin)
			x.Title = fmt.Sprintf("%s has a resistor on the breadboard, and the program switches the pin's own pull-%s on beside it.", f.named(p.pin), pulled)
			x.Why = "One of them is enough. It works, and reads a little later or weaker than worked out."
			x.Fixes = f.setMode(p, "Switch the pull of "+name+" off", "INPUT_PULLUP|INPUT_PULLDOWN", "INPUT")
			out = append(out, x)
		}
	}
	return out
}}

// held looks at an input in a mode, over what everything else can do as planned, with pins that
// the program never drives let go: the first state in which nothing holds it, and the first in
// which it is between the thresholds.
func (f *facts) held(piece *wiring.Piece, control int, mode float64, pin string) (floats, between *wiring.Solved) {
	planned, err := piece.Planned(wiring.Subject{})
	if err != nil {
		return nil, nil
	}
	node := f.net.Node(build.Pin(pin))
	rail := f.net.RailVolts(f.board.Logic.Rail).Typ
	seen := map[string]bool{}
	for _, s := range planned {
		state := append(wiring.State{}, s.State...)
		for i, c := range piece.Controls {
			if c == control {
				state[i] = mode
			}
		}
		key := fmt.Sprint(state)
		if seen[key] || len(seen) > 512 {
			continue
		}
		seen[key] = true
		t, err := piece.At(state)
		if err != nil {
			continue
		}
		if !t.Held(node) {
			if floats == nil {
				floats = t
			}
			continue
		}
		if v := t.Typical(node); between == nil && mode != wiring.LetGo && v > f.board.Logic.VIL.At(rail) && v < f.board.Logic.VIH.At(rail) {
			between = t
		}
	}
	return floats, between
}

// holds reports whether the wiring alone holds an input in every state.
func (f *facts) holds(piece *wiring.Piece, control int) bool {
	floats, _ := f.held(piece, control, wiring.LetGo, f.net.Controls[control].Of)
	return floats == nil
}

// pulls reports whether a pull of its own would hold an input in every state.
func (f *facts) pulls(piece *wiring.Piece, control int, pull board.Pull, pin string) bool {
	mode := wiring.PulledUp
	if pull == board.PullDown {
		mode = wiring.PulledDown
	}
	if f.net.Controls[control].Settings[mode] == "" {
		return false
	}
	floats, between := f.held(piece, control, float64(mode), pin)
	return floats == nil && between == nil
}

// pullOn is the fix that switches a pull on.
func (f *facts) pullOn(p *pinFacts, pull board.Pull, line int) []check.Fix {
	word := map[board.Pull]string{board.PullUp: "INPUT_PULLUP", board.PullDown: "INPUT_PULLDOWN"}[pull]
	label := fmt.Sprintf("Switch the pin's own pull-%s on", pull)
	text := f.line(line)
	switch f.doc.Program.Language {
	case build.CPP:
		return f.setMode(p, label, "INPUT", word)
	case build.PythonMachine:
		if m := pinIn.FindString(text); m != "" {
			return f.rewrite(label, line, strings.Replace(text, m, m+", Pin.PULL_"+strings.ToUpper(string(pull)), 1))
		}
	case build.PythonBoard:
		if strings.Contains(text, "switch_to_input()") {
			return f.rewrite(label, line, strings.Replace(text, "switch_to_input()", "switch_to_input(pull=digitalio.Pull."+strings.ToUpper(string(pull))+")", 1))
		}
		if m := assigned.FindStringSubmatch(text); m != nil {
			return f.rewrite(label, line, text+"\n"+m[1]+".pull = digitalio.Pull."+strings.ToUpper(string(pull)))
		}
	}
	return nil
}

var (
	pinIn    = regexp.MustCompile(`Pin\([^()]*Pin\.IN`)
	assigned = regexp.MustCompile(`^(\s*\w+)\s*=`)
)

// partUnused finds parts that the program never uses.
var partUnused = rule{"unused", func(f *facts) []check.Finding {
	var out []check.Finding
	told := map[string]bool{}
	meant := map[string]bool{}
	for _, pin := range f.moved {
		meant[pin] = true
	}
	if f.o.alone.ending.How == machine.Crashed {
		return nil // what it would have used nobody knows
	}
	if f.o.slow && slices.ContainsFunc(f.tree.Calls, func(c Call) bool { return !f.o.lines[c.Line] }) {
		return nil // it was not come to all of it
	}
	for _, c := range f.idle() {
		p := f.o.pins[f.board.Number(c.Signal.Pin)]
		if meant[c.Signal.Pin] || told[c.Part.ID] || p != nil && (p.output() || p.input()) {
			continue
		}
		told[c.Part.ID] = true
		x := check.Finding{Level: check.Care, Parts: []string{c.Part.ID}, Pins: []string{c.Signal.Pin}}
		w := signalWants(c.Signal.Needs)
		x.Title = fmt.Sprintf("The program never uses %s on %s.", c.Part.Name, c.Signal.Pin)
		switch {
		case p != nil:
			x.Line = p.firstLine
			x.Why = "It sets the pin up, and does no more with it."
		case w == drives || w == dims:
			x.Why = "It stays as it is when the board starts."
		default:
			x.Why = "Whatever it does, nothing comes of it."
		}
		out = append(out, x)
	}
	return out
}}

// sharedTimer finds duties that one timer or channel cannot give together.
var sharedTimer = rule{"timer", func(f *facts) []check.Finding {
	var out []check.Finding
	channels := map[string]*pinFacts{}
	timer := f.board.Programs().ToneTimer
	var tones []*pinFacts
	for _, p := range f.used {
		if p.toneLine > 0 {
			tones = append(tones, p)
		}
	}
	for _, p := range f.used {
		pin, ok := f.board.Numbered(p.pin)
		if !ok || p.duty.line == 0 || pin.PWM == nil {
			continue
		}
		if other := channels[pin.PWM.Channel]; pin.PWM.Channel != "" && other != nil {
			out = append(out, f.about(check.Finding{
				Level: check.Stop, Line: p.duty.line,
				Title: fmt.Sprintf("%s and %s share a channel: they always have the same duty.", f.named(other.pin), f.named(p.pin)),
				Why:   "What the program sets for the one it sets for the other. Take a pin with a channel of its own.",
			}, other.pin, p.pin))
		}
		channels[pin.PWM.Channel] = p
		if timer != "" && len(tones) > 0 && strings.HasPrefix(pin.PWM.Channel, timer) {
			out = append(out, f.about(check.Finding{
				Level: check.Care, Line: p.duty.line,
				Title: fmt.Sprintf("A tone takes the timer that %s gets its duty from.", f.named(p.pin)),
				Why:   fmt.Sprintf("While it sounds, nothing is dimmed there. Take a pin whose timer the tone leaves alone: %s.", f.dimmable(timer)),
			}, p.pin, tones[0].pin))
		}
	}
	return out
}}

// dimmable lists the pins with PWM that a tone leaves alone.
func (f *facts) dimmable(timer string) string {
	var out []string
	for _, p := range f.board.Pins {
		if p.PWM != nil && !strings.HasPrefix(p.PWM.Channel, timer) {
			out = append(out, p.Name)
		}
	}
	return strings.Join(out, ", ")
}

// dutyRange finds duties beyond what is full, and those that use little of it.
var dutyRange = rule{"range", func(f *facts) []check.Finding {
	var out []check.Finding
	for _, p := range f.used {
		d := p.duty
		if d.line == 0 || d.full == 0 {
			continue
		}
		if d.most > d.full || d.least < 0 {
			bad, line := d.most, d.mostLine
			if d.least < 0 && d.most <= d.full {
				bad, line = d.least, d.leastLine
			}
			x := f.about(check.Finding{Level: check.Care, Line: line}, p.pin)
			x.Title = fmt.Sprintf("%s is given a duty of %g, and full is %g.", f.named(p.pin), bad, d.full)
			x.Why = fmt.Sprintf("What is beyond begins again from the start: %g does as %d does.", bad, int(bad)&int(d.full))
			x.Fixes = f.scale(line, bad, d.full)
			out = append(out, x)
			continue
		}
		if d.most > 0 && d.most*50 < d.full {
			x := f.about(check.Finding{Level: check.Care, Line: d.mostLine}, p.pin)
			x.Title = fmt.Sprintf("%s is never given more than %g of %g: that is as good as off.", f.named(p.pin), d.most, d.full)
			x.Why = fmt.Sprintf("A duty goes from 0 to %g here.", d.full)
			out = append(out, x)
			continue
		}
		if x, ok := f.sliver(p); ok {
			out = append(out, x)
		}
	}
	return out
}}

// scale is the fix that maps a reading to a duty.
func (f *facts) scale(line int, bad, full float64) []check.Fix {
	if f.doc.Program.Language != build.CPP || bad < 0 {
		return nil
	}
	m := duties.FindStringSubmatch(f.line(line))
	most := float64(int(1)<<f.board.Programs().ReadBits - 1)
	if m == nil || bad > most {
		return nil
	}
	becomes := fmt.Sprintf("analogWrite(%s, map(%s, 0, %g, 0, %g))", m[1], strings.TrimSpace(m[2]), most, full)
	return f.rewrite(fmt.Sprintf("Scale 0 to %g down to 0 to %g", most, full), line, strings.Replace(f.line(line), m[0], becomes, 1))
}

var duties = regexp.MustCompile(`analogWrite\(([^,()]+),\s*((?:[^()]|\([^()]*\))+)\)`)

// sliver finds a knob whose whole turn moves a duty over a part of its range only, though the
// reading goes over all of its own.
func (f *facts) sliver(p *pinFacts) (check.Finding, bool) {
	for _, r := range f.o.runs {
		if r.control < 0 || f.net.Controls[r.control].Kind != wiring.Level {
			continue
		}
		q := r.pins[p.pin]
		if q == nil || q.duty.line == 0 || q.duty.full == 0 || q.duty.most == q.duty.least {
			continue
		}
		alone := f.o.alone.pins[p.pin]
		if alone != nil && alone.duty.line > 0 && alone.duty.most != alone.duty.least {
			continue // it moves by itself
		}
		for _, in := range r.pins {
			if in.reading.line == 0 || in.reading.full == 0 || in.reading.most < 0.95*in.reading.full || in.reading.least > 0.05*in.reading.full {
				continue
			}
			if q.duty.most-q.duty.least > 0.6*q.duty.full {
				continue
			}
			x := f.about(check.Finding{Level: check.Note, Line: q.duty.mostLine}, p.pin, in.pin)
			x.Title = fmt.Sprintf("%s goes from %g to %g of %g only, while %s goes over its whole range.", f.named(p.pin), q.duty.least, q.duty.most, q.duty.full, f.named(in.pin))
			x.Why = fmt.Sprintf("The reading goes up to %g. Scale that to %g.", in.reading.full, q.duty.full)
			return x, true
		}
	}
	return check.Finding{}, false
}
