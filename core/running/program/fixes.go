package program

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
)

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

// rewritten says what edits of lines make of them.
func rewritten(edits []plan.Rewrite) string {
	if len(edits) == 1 {
		return fmt.Sprintf("Change line %d to: %s", edits[0].Count, strings.TrimSpace(edits[0].Text))
	}
	var lines []string
	for _, e := range edits {
		lines = append(lines, strconv.Itoa(e.Count))
	}
	return "Change lines " + list(lines, 8)
}

// rewrite is a fix that makes a line read otherwise; nil when it would not change.
func (f *facts) rewrite(label string, line int, becomes string) []check.Fix {
	was := f.line(line)
	if was == "" || was == becomes {
		return nil
	}
	return []check.Fix{{Label: label, Edits: []plan.Edit{plan.Rewrite{Count: line, With: was, Text: becomes}}}}
}
