package program

import (
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strings"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
	"cablaggio/core/running/rig"
)

// withNumber takes a name with one number in it apart.
var withNumber = regexp.MustCompile(`^(\D*)(\d+)(\D*)$`)

// exchanged finds contacts and lamps of the same numbers of which the program lights others: "button 3"
// lights "lamp 4".
var exchanged = rule{"exchanged", func(f *facts) []check.Finding {
	if f.o.slow || f.o.alone.ending.How == machine.Crashed || len(f.moved) > 0 {
		return nil
	}
	type light struct {
		lamp, number, contact string
		part                  string
		line                  int
		pin                   string
	}
	groups := map[string][]light{} // by what the contacts and the lamps are called, their numbers aside
	for _, pair := range f.clean() {
		r, c := pair[0], f.contact(pair[0])
		m := withNumber.FindStringSubmatch(c.Name)
		if m == nil {
			continue
		}
		lit := -1
		for i := range r.rig.Actors {
			a, base := &r.rig.Actors[i], &f.o.alone.rig.Actors[i]
			if !a.Lamp || base.Changes(100*ms, f.o.alone.limit) > 0 || a.Changes(r.presses[0].from, r.limit) == 0 {
				continue
			}
			if lit >= 0 {
				lit = -1
				break
			}
			lit = i
		}
		if lit < 0 {
			continue
		}
		a := &r.rig.Actors[lit]
		n := withNumber.FindStringSubmatch(a.Name)
		if n == nil {
			continue
		}
		pin, line := f.driver(a)
		key := m[1] + "\x00" + m[3] + "\x00" + n[1] + "\x00" + n[3]
		groups[key] = append(groups[key], light{a.Name, n[2], c.Name, a.Part.ID, line, pin})
	}
	var out []check.Finding
	for _, key := range slices.Sorted(maps.Keys(groups)) {
		g := groups[key]
		var wrong []light
		of, lamps := map[string]bool{}, map[string]bool{}
		for _, l := range g {
			number := withNumber.FindStringSubmatch(l.contact)[2]
			of[number], lamps[l.number] = true, true
			if number != l.number {
				wrong = append(wrong, l)
			}
		}
		// All of them, each its own: then two are exchanged. What is moved on by one is meant.
		whole := len(of) == len(g) && len(lamps) == len(g)
		for n := range of {
			whole = whole && lamps[n]
		}
		if !whole || len(wrong) != 2 {
			continue
		}
		x := check.Finding{Level: check.Care, Line: wrong[0].line}
		var says []string
		for _, l := range wrong {
			x.Parts = append(x.Parts, l.part)
			if l.pin != "" {
				x.Pins = append(x.Pins, l.pin)
			}
			says = append(says, l.contact+" lights "+l.lamp)
		}
		x.Title = strings.Join(says, ", and ") + "."
		x.Why = fmt.Sprintf("Of %d that have the same numbers, these two are exchanged.", len(g))
		out = append(out, x)
	}
	return append(out, f.exchangedColours()...)
}}

// exchangedColours finds knobs that are called by colours of which each moves the other's lamp.
func (f *facts) exchangedColours() []check.Finding {
	colours := []string{"red", "green", "blue", "yellow", "white"}
	of := func(name string) (colour string) {
		for _, c := range colours {
			if slices.Contains(strings.Fields(strings.ToLower(name)), c) {
				if colour != "" {
					return ""
				}
				colour = c
			}
		}
		return colour
	}
	moves := map[string]*rig.Actor{} // by the colour of the knob
	names := map[string]string{}
	for _, r := range f.o.runs {
		if r.control < 0 || f.net.Controls[r.control].Kind != wiring.Level {
			continue
		}
		knob := &f.net.Controls[r.control]
		var only *rig.Actor
		for i := range r.rig.Actors {
			a := &r.rig.Actors[i]
			if a.Lamp && len(a.Acts) > 3 && len(f.o.alone.rig.Actors[i].Acts) <= 3 {
				if only != nil {
					only = nil
					break
				}
				only = a
			}
		}
		if c := of(knob.Name); c != "" && only != nil && of(only.Name) != "" {
			moves[c], names[c] = only, knob.Name
		}
	}
	for i, c := range colours {
		for _, d := range colours[i+1:] {
			x, y := moves[c], moves[d]
			if x == nil || y == nil || of(x.Name) != d || of(y.Name) != c {
				continue
			}
			pin, line := f.driver(x)
			found := check.Finding{Level: check.Care, Line: line, Parts: []string{x.Part.ID}}
			if pin != "" {
				found.Pins = []string{pin}
			}
			found.Title = fmt.Sprintf("%s moves %s, and %s moves %s.", names[c], x.Name, names[d], y.Name)
			found.Why = "The two are exchanged, by what they are called."
			return []check.Finding{found}
		}
	}
	return nil
}
