package program

import (
	"fmt"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
)

// arithmetic finds numbers that do not fit, and memory that is not the program's, as they
// came up while it ran; and what the compiler warns of.
var arithmetic = rule{"arithmetic", func(f *facts) []check.Finding {
	var out []check.Finding
	told := map[int]bool{}
	add := func(x check.Finding) {
		if x.Line == 0 || told[x.Line] {
			return
		}
		told[x.Line] = true
		out = append(out, x)
	}
	bits := f.board.Programs().Int
	for _, r := range f.o.all() {
		for _, e := range r.notes {
			x := check.Finding{Level: check.Care, Line: e.Line, State: r.about()}
			switch {
			case e.Kind == machine.Wrapped:
				x.Title = fmt.Sprintf("In %s a number of %.0f becomes %.0f.", f.at(e.Line), e.Value, e.Max)
				x.Why = fmt.Sprintf("An int of this board has %d bits: it goes from −32768 to 32767, and what is more begins again from below. Write 1000L or (long) before it multiplies, or use long.", bits)
			case e.Kind != machine.Wronged:
				continue
			case (e.Text == "division" || e.Text == "null") && r.ending.How == machine.Crashed && r.ending.Line == e.Line:
				told[e.Line] = true // that is how it broke off
				continue
			case e.Text == "division":
				x.Level = check.Stop
				x.Title = fmt.Sprintf("%s divides by zero.", build.Capital(f.at(e.Line)))
				x.Why = "What comes out means nothing. Ask first whether the divisor is zero."
			case e.Text == "bounds":
				x.Level = check.Stop
				x.Title = fmt.Sprintf("%s reaches for place %.0f of a list that is shorter.", build.Capital(f.at(e.Line)), e.Value)
				x.Why = "A list of three has the places 0, 1 and 2. What lies behind is something else of the program, and is read or overwritten."
			case e.Text == "null":
				x.Level = check.Stop
				x.Title = fmt.Sprintf("%s follows a pointer that leads nowhere.", build.Capital(f.at(e.Line)))
				x.Why = crashes["null"][1]
			case e.Text == "conversion" && (strings.Contains(f.line(e.Line), "<<") || strings.Contains(f.line(e.Line), "~")):
				continue // what is shifted out is meant to go, and so is what turning bits over puts above
			case e.Text == "conversion":
				x.Title = fmt.Sprintf("In %s a number is too large for the variable that takes it.", f.at(e.Line))
				x.Why = "A byte goes from 0 to 255, an int of 16 bits to 32767. What is more begins again from below."
			case e.Text == "overflow":
				x.Title = fmt.Sprintf("In %s a number grows beyond what it can hold.", f.at(e.Line))
				x.Why = "It begins again from below, with the other sign. Use a larger type."
			case e.Text == "shift":
				x.Title = fmt.Sprintf("%s shifts by more bits than there are.", build.Capital(f.at(e.Line)))
				x.Why = "What comes out differs from board to board."
			case e.Text == "return":
				x.Level = check.Stop
				x.Title = fmt.Sprintf("The function of %s promises a result, and ends without one.", f.at(e.Line))
				x.Why = "What it gives back is chance."
			case e.Text == "map":
				x.Title = "A range that map works from is nothing wide."
				x.Why = "It would divide by zero."
				x.Line = max(e.Line, 1)
			default:
				continue
			}
			add(x)
		}
	}
	for _, m := range f.messages {
		if m.Wrong || m.Option == AbsentLibrary {
			continue
		}
		x := check.Finding{Level: warned[m.Option], Line: m.Line, Title: m.Text, Why: "The compiler says: " + m.Said + "."}
		if m.Option == "idle" {
			x.Why = "The line names what could be done, and goes on without doing it."
		}
		if m.Replace != nil && m.Replace.Line == m.Replace.ToLine {
			if text := f.line(m.Replace.Line); m.Replace.ToColumn-1 <= len(text) && m.Replace.Column >= 1 && m.Replace.Column <= m.Replace.ToColumn {
				x.Fixes = f.rewrite("Change it", m.Replace.Line, text[:m.Replace.Column-1]+m.Replace.With+text[m.Replace.ToColumn-1:])
			}
		}
		add(x)
	}
	return out
}}

// tells reports whether a message says something to a builder. What is cut where a number goes
// into a smaller type is no matter until it is too large, which is looked at while it runs; of
// milliseconds in an int it is known beforehand.
func (m Message) tells() bool {
	if m.Option == "implicit-int-conversion" {
		return strings.Contains(m.Said, "'unsigned long' to 'int'")
	}
	return m.Wrong || m.Option == AbsentLibrary || warned[m.Option] != ""
}

// warned is how bad it is what the compiler warns of, by its option.
var warned = map[string]check.Level{
	"integer-overflow": check.Care, "constant-conversion": check.Care, "literal-conversion": check.Care, "shift-count-overflow": check.Care,
	"tautological-constant-out-of-range-compare": check.Care, "tautological-constant-compare": check.Care, "tautological-overlap-compare": check.Care,
	"parentheses": check.Care, "empty-body": check.Care, "implicit-fallthrough": check.Care, "array-bounds": check.Care, "division-by-zero": check.Stop,
	"sometimes-uninitialized": check.Care, "uninitialized": check.Care, "conditional-uninitialized": check.Care, "return-type": check.Care,
	"unused-comparison": check.Care, "begins-anew": check.Care, "constant-logical-operand": check.Care, "unused-value": check.Care, "comma": check.Care, "logical-not-parentheses": check.Care, "for-loop-analysis": check.Care,
	"self-assign": check.Note, "self-compare": check.Care, "float-conversion": check.Note, "dangling-else": check.Note, "implicit-int-conversion": check.Care,
	"idle": check.Stop, "always-so": check.Stop, "behind-endless": check.Stop, "bool-operation": check.Note, "string-compare": check.Care, "tautological-compare": check.Care, "integer-division-zero": check.Care, "more-than-a-level": check.Care, "compared-with-volts": check.Care, "beyond-the-scale": check.Care,
	"infinite-recursion": check.Stop, "misleading-indentation": check.Care, "int-in-bool-context": check.Note, "tautological-unsigned-zero-compare": check.Care,
}
