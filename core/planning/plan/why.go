package plan

import (
	"cmp"
	"slices"

	"cablaggio/core/document/build"
	"cablaggio/core/planning/choose"
)

// A Why says why a signal is on its pin, and what the others of the board would
// cost.
type Why struct {
	Here  choose.PinChoice `json:"here"`
	Other []PinPrice       `json:"other"` // the cheapest first, then those that cannot be had
}

// A PinPrice is another pin for a signal: by how many points, as [choose.Pins]
// gives them, all is worse when the signal moves there, or changes places with
// the one that is there.
type PinPrice struct {
	Pin      string   `json:"pin"`
	Price    int      `json:"price"` // below zero: it is better
	Reasons  []string `json:"reasons"`
	With     string   `json:"with,omitempty"` // the part it would change places with
	Possible bool     `json:"possible"`
}

// WhyPin weighs the pins of the board for a signal of the build.
func WhyPin(lib *build.Library, doc *build.Document, q *build.Part, s build.Signal) Why {
	b, _ := lib.Board(doc.Board)
	want := func(q *build.Part, s build.Signal) choose.Want {
		return choose.Want{Name: q.Name, Needs: s.Needs, Pull: s.Pull, Load: load(lib, doc, q, s.Needs, s.Drive)}
	}
	// without weighs a pin as if nothing were on either of two.
	without := func(w choose.Want, pin string, two ...string) (choose.PinChoice, bool) {
		rest := slices.DeleteFunc(used(lib, doc), func(u choose.Used) bool { return slices.Contains(two, u.Pin) })
		all := choose.Pins(b, w, rest)
		i := slices.IndexFunc(all, func(c choose.PinChoice) bool { return c.Pin == pin })
		if i < 0 {
			return choose.PinChoice{Pin: pin, Reasons: []string{}}, false
		}
		return all[i], true
	}
	me := want(q, s)
	var out Why
	out.Here, _ = without(me, s.Pin, s.Pin)
	for _, c := range PinsFor(lib, doc, q, s) {
		if c.Pin != s.Pin {
			out.Other = append(out.Other, PinPrice{Pin: c.Pin, Price: c.Cost - out.Here.Cost, Reasons: c.Reasons, Possible: true})
		}
	}
	for _, r := range refusedPins(lib, doc, want(q, s)) {
		if r.Pin == s.Pin {
			continue
		}
		p := PinPrice{Pin: r.Pin, Reasons: []string{r.Reason}}
		if other, t, ok := soleUser(doc, r.Pin); ok && r.Able && !(other.ID == q.ID && t.Name == s.Name) {
			is, _ := without(want(other, t), r.Pin, r.Pin)
			here, fits := without(want(other, t), s.Pin, s.Pin, r.Pin)
			there, _ := without(me, r.Pin, s.Pin, r.Pin)
			p.With, p.Possible = other.Name, fits && other.Hookup != "" && q.Hookup != ""
			p.Price = there.Cost + here.Cost - out.Here.Cost - is.Cost
			p.Reasons = there.Reasons
			switch {
			case !fits:
				p.Reasons = []string{r.Reason + ", which cannot go to " + s.Pin}
			case !p.Possible:
				p.Reasons = []string{r.Reason + ", and one of the two is wired by hand"}
			}
		}
		out.Other = append(out.Other, p)
	}
	last := func(p PinPrice) int {
		if p.Possible {
			return 0
		}
		return 1
	}
	slices.SortStableFunc(out.Other, func(a, b PinPrice) int {
		return cmp.Or(cmp.Compare(last(a), last(b)), cmp.Compare(a.Price, b.Price))
	})
	return out
}

// soleUser returns the signal that a pin has, if it is the only one there.
func soleUser(doc *build.Document, pin string) (part *build.Part, signal build.Signal, ok bool) {
	for i := range doc.Parts {
		for _, s := range doc.Parts[i].Signals {
			if s.Pin == pin {
				if ok {
					return nil, build.Signal{}, false
				}
				part, signal, ok = &doc.Parts[i], s, true
			}
		}
	}
	return part, signal, ok
}
