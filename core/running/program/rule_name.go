package program

import (
	"fmt"
	"slices"
	"strings"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
)

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
		var text []plan.Rewrite
		for line, becomes := range seen {
			text = append(text, plan.Rewrite{Count: line, With: f.line(line), Text: becomes})
		}
		slices.SortFunc(text, func(a, b plan.Rewrite) int { return a.Count - b.Count })
		x.Fixes = []check.Fix{{Label: rewritten(text), Edits: plan.EditsOf(text)}}
	}
	return []check.Finding{x}
}}
