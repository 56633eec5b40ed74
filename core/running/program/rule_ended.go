package program

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
)

// ended finds programs that come to an end by themselves.
var ended = rule{"ended", func(f *facts) []check.Finding {
	e := f.o.alone.ending
	if line := f.idles(); line > 0 && e.How == machine.Over {
		return []check.Finding{{
			Level: check.Note, Line: line,
			Title: "What the program does, it does once: loop is empty.",
			Why:   "setup is done once, as the board starts. What is to be done again and again stands in loop.",
		}}
	}
	if e.How != machine.Done {
		return nil
	}
	return []check.Finding{{
		Level: check.Care,
		Title: fmt.Sprintf("The program is over after %s.", seconds(e.At)),
		Why:   "From then on nothing is read and nothing changes. What shall go on stands in a loop: while True.",
	}}
}}

var emptyLoop = regexp.MustCompile(`void\s+loop\s*\(\s*(?:void)?\s*\)\s*\{(?:\s|//.*|/\*[^*]*\*/)*\}`)

// idles is the line of a loop with nothing in it, in a program that pauses before it, and that nothing
// interrupts: it takes time over what it does once; 0: there is none.
func (f *facts) idles() int {
	at := emptyLoop.FindStringIndex(f.doc.Program.Text)
	handled := slices.ContainsFunc(f.used, func(p *pinFacts) bool { return p.attachLine > 0 })
	if f.doc.Program.Language != build.CPP || at == nil || handled || f.o.alone.longest == 0 {
		return 0
	}
	return 1 + strings.Count(f.doc.Program.Text[:at[0]], "\n")
}
