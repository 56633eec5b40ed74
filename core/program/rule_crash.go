package program

import (
	"fmt"
	"strings"

	"cablaggio/core/check"
	"cablaggio/core/machine"
)

// crashes says by a word how a program broke off, and what to look for.
var crashes = map[string][2]string{
	"recursion": {"a function calls itself without end", "Each call takes memory, and the board has little: it starts again, or does something else. Let it end somewhere."},
	"bounds":    {"it reaches beyond its memory", "A pointer or an index leads to where nothing of the program is."},
	"memory":    {"it wants more memory than there is", "Texts and lists that grow take all of it in the end; give them a size."},
	"division":  {"it divides by zero", "The board goes on with a number that means nothing. Ask first whether the divisor is zero."},
	"trap":      {"it comes to a place where nothing more is written", "A function that promises a result has to return one on every way."},
}

// crash finds programs that break off.
var crash = rule{"crash", func(f *facts) []check.Finding {
	for _, r := range f.o.all() {
		e := r.ending
		if e.How != machine.Crashed {
			continue
		}
		x := check.Finding{Level: check.Stop, Line: e.Line, State: r.name}
		words, ok := crashes[e.What]
		if !ok {
			said, meant, _ := strings.Cut(e.What, " (meant: ")
			words[0] = said
			words[1] = "The program ends there, and the board stands still."
			if meant = strings.TrimSuffix(meant, ")"); meant != "" {
				words[1] = fmt.Sprintf("Perhaps %q is meant.", meant)
			}
		}
		where := ""
		if e.Line > 0 {
			where = fmt.Sprintf(" in line %d", e.Line)
		}
		x.Title = fmt.Sprintf("The program breaks off%s after %s: %s.", where, seconds(e.At), strings.TrimSuffix(words[0], "."))
		x.Why = words[1]
		return []check.Finding{x}
	}
	return nil
}}

// seconds writes a time.
func seconds(ns int64) string {
	switch {
	case ns < 1000*1000:
		return fmt.Sprintf("%.3g µs", float64(ns)/1e3)
	case ns < 1000*ms:
		return fmt.Sprintf("%.3g ms", float64(ns)/1e6)
	}
	return fmt.Sprintf("%.3g s", float64(ns)/1e9)
}

// ended finds programs that come to an end by themselves.
var ended = rule{"ended", func(f *facts) []check.Finding {
	e := f.o.alone.ending
	if e.How != machine.Done {
		return nil
	}
	return []check.Finding{{
		Level: check.Care,
		Title: fmt.Sprintf("The program is over after %s.", seconds(e.At)),
		Why:   "From then on nothing is read and nothing changes. What shall go on stands in a loop: while True.",
	}}
}}

// unreached finds calls of the board that no run came to.
var unreached = rule{"unreached", func(f *facts) []check.Finding {
	if f.o.slow || f.o.alone.ending.How == machine.Crashed {
		return nil
	}
	var lines []int
	for _, c := range f.tree.Calls {
		if !f.o.lines[c.Line] && (len(lines) == 0 || lines[len(lines)-1] != c.Line) && c.Name != "print" && c.Name != "println" && c.Name != "begin" && c.Name != "delay" {
			lines = append(lines, c.Line)
		}
	}
	if len(lines) == 0 {
		return nil
	}
	return []check.Finding{{
		Level: check.Note, Line: lines[0],
		Title: fmt.Sprintf("Nothing that was tried led to line %s.", list(lines, 5)),
		Why:   "Each contact was pressed, each knob turned and each key tried. Either something else has to happen first, or the program never gets there.",
	}}
}}

// list writes numbers, no more than so many.
func list(lines []int, most int) string {
	var out []string
	for i, n := range lines {
		if i == most {
			return strings.Join(out, ", ") + fmt.Sprintf(" and %d more", len(lines)-most)
		}
		out = append(out, fmt.Sprint(n))
	}
	return strings.Join(out, ", ")
}
