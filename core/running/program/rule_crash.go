package program

import (
	"fmt"
	"slices"
	"strings"

	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
)

// crashes says by a word how a program broke off, and what to look for.
var crashes = map[string][2]string{
	"recursion": {"a function calls itself without end", "Each call takes memory, and the board has little: it starts again, or does something else. Let it end somewhere."},
	"bounds":    {"it reaches beyond its memory", "A pointer or an index leads to where nothing of the program is."},
	"memory":    {"it wants more memory than there is", "Texts and lists that grow take all of it in the end; give them a size."},
	"division":  {"it divides by zero", "The board goes on with a number that means nothing. Ask first whether the divisor is zero."},
	"null":      {"it follows a pointer that leads nowhere", "Nothing was assigned to it, or there was no room for what was asked. On a board it reads and overwrites whatever lies at the beginning of the memory."},
	"trap":      {"it comes to where it cannot go on", "A pointer leads nowhere, or a function that promises a result returns none."},
}

// Broke says in words how a program broke off, by the What of its ending.
func Broke(what string) string {
	if words, ok := crashes[what]; ok {
		return words[0]
	}
	said, _, _ := strings.Cut(what, " (meant: ")
	return said
}

// crash finds programs that break off.
var crash = rule{"crash", func(f *facts) []check.Finding {
	for _, r := range f.o.all() {
		e := r.ending
		if e.How != machine.Crashed {
			continue
		}
		x := check.Finding{Level: check.Stop, Line: e.Line, State: r.name}
		if slices.ContainsFunc(r.notes, func(n machine.Event) bool { return n.Kind == machine.Wronged && n.Text == "null" && n.Line == e.Line }) {
			e.What = "null"
		}
		words, ok := crashes[e.What]
		if !ok {
			_, meant, _ := strings.Cut(e.What, " (meant: ")
			words[1] = "The program ends there, and the board stands still."
			switch meant = strings.TrimSuffix(meant, ")"); {
			case strings.HasSuffix(meant, "(…)"):
				words[1] = fmt.Sprintf("It is called, not assigned to: %s.", meant)
			case meant != "":
				words[1] = fmt.Sprintf("Perhaps %q is meant.", meant)
			}
		}
		where := ""
		if e.Line > 0 {
			where = " in " + f.at(e.Line)
		}
		x.Title = fmt.Sprintf("The program breaks off%s after %s: %s.", where, seconds(e.At), strings.TrimSuffix(Broke(e.What), "."))
		x.Why = words[1]
		return []check.Finding{x}
	}
	return nil
}}
