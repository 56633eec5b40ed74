package program

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
)

// A misplaced is a pin that the program uses as nothing there can be used.
type misplaced struct {
	facts *pinFacts
	want  want
}

// seeds is a reading that is wanted for its chance alone.
var seeds = regexp.MustCompile(`randomSeed\s*\(\s*analogRead`)

// pinElsewhere finds pins that the program uses and that have nothing, or something of another
// sort, and says where the part that is probably meant is. However many there are, it is one
// finding: they have one cause.
var pinElsewhere = rule{"pin", func(f *facts) []check.Finding {
	var lost []misplaced
	for _, p := range f.used {
		w, ok := p.wants()
		if !ok || f.ownUse(p.pin) || f.beyond(p.firstLine) || p.reading.line > 0 && seeds.MatchString(f.line(p.reading.line)) {
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
		var text []plan.Rewrite
		var wires []plan.MovePin
		ok := true
		seen := map[int]string{}
		for _, p := range pairs {
			name := f.o.words(p.facts.pin)
			f.moved[p.facts.pin] = p.claim.Signal.Pin
			said = append(said, fmt.Sprintf("%s %s, but %s is on %s", verb(p.want), name, p.claim.Part.Name, p.claim.Signal.Pin))
			x = f.about(x, p.facts.pin, f.board.Number(p.claim.Signal.Pin))
			wires = append(wires, plan.MovePin{Part: p.claim.Part.ID, Signal: p.claim.Signal.Name, Pin: name})
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
				text = append(text, plan.Rewrite{Count: line, With: f.line(line), Text: becomes})
			}
			slices.SortFunc(text, func(a, b plan.Rewrite) int { return a.Count - b.Count })
			x.Fixes = append(x.Fixes, check.Fix{Label: rewritten(text), Edits: plan.EditsOf(text)})
		}
		if len(wires) == 1 && f.suits(wires[0]) {
			x.Fixes = append(x.Fixes, check.Fix{Label: fmt.Sprintf("Move the wire of %s to %s", pairs[0].claim.Part.Name, wires[0].Pin), Edits: plan.EditsOf(wires)})
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

// suits reports whether the wiring can be moved so.
func (f *facts) suits(e plan.Edit) bool {
	_, _, err := plan.Apply(f.lib, f.doc, []plan.Edit{e})
	return err == nil
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
