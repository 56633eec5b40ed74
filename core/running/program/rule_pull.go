package program

import (
	"fmt"
	"regexp"
	"strings"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
	"cablaggio/core/values/quantity"
)

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
		case pulled != board.NoPull && used && u.Pull() != board.NoPull && u.Pull() != pulled:
			level := map[board.Pull]string{board.PullUp: "high", board.PullDown: "low"}[pulled]
			x := f.about(check.Finding{Level: check.Stop, Line: line}, p.pin)
			x.Title = fmt.Sprintf("%s always reads %s: the program pulls it the wrong way.", f.named(p.pin), level)
			x.Why = fmt.Sprintf("The wiring counts on the pin's own pull-%s. With its pull-%s it is %s whatever is pressed.", u.Pull(), pulled, level)
			x.Fixes = f.pullOver(pulled, u.Pull(), line)
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

// pullOver is the fix that switches the other pull on.
func (f *facts) pullOver(from, to board.Pull, line int) []check.Fix {
	text := f.line(line)
	for _, word := range []string{"INPUT_PULL", "Pin.PULL_", "Pull."} {
		if was := word + strings.ToUpper(string(from)); strings.Contains(text, was) {
			return f.rewrite(fmt.Sprintf("Switch the pin's own pull-%s on instead", to), line, strings.Replace(text, was, word+strings.ToUpper(string(to)), 1))
		}
	}
	return nil
}

var (
	pinIn    = regexp.MustCompile(`Pin\([^()]*Pin\.IN`)
	assigned = regexp.MustCompile(`^(\s*\w+)\s*=`)
)
