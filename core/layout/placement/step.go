package placement

import (
	"strings"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
)

// The first words of the ids of steps that put something in.
const (
	seatWord = "seat"
	wireWord = "wire"
)

// Out begins the id of a step that takes out again what the step put in whose id
// follows.
const Out = "out "

// Step returns the id of the step that puts a part in: it names the holes, so
// that elsewhere it is another step.
func (s Seat) Step() string {
	words := []string{seatWord, s.Part}
	for _, l := range s.Legs {
		words = append(words, l.Hole.String())
	}
	return strings.Join(words, " ")
}

// Step returns the id of the step that lays a wire.
func (j Jumper) Step() string {
	return strings.Join([]string{wireWord, j.From.String(), j.To.String()}, " ")
}

// Done returns what of a placement the steps that are done have put in.
func (p *Placement) Done(done []build.Done) *build.Built {
	is := map[string]bool{}
	for _, d := range done {
		is[d.Step] = true
	}
	some := &Placement{}
	for _, s := range p.Seats {
		if is[s.Step()] {
			some.Seats = append(some.Seats, s)
		}
	}
	for _, w := range p.Wires {
		if is[w.Step()] {
			some.Wires = append(some.Wires, w)
		}
	}
	return some.Built()
}

// Puts reads from a step's id what it puts in and where: the id of a part, or
// "the wire". Steps that put nothing in have no ends.
func Puts(step string) (what string, ends []string) {
	words := strings.Fields(step)
	switch {
	case len(words) > 2 && words[0] == seatWord:
		return words[1], words[2:]
	case len(words) == 3 && words[0] == wireWord:
		return "the wire", words[1:]
	}
	return "", nil
}

// Standing returns what steps have put in. What they say of parts that the
// document has no more is left out.
func Standing(lib *build.Library, doc *build.Document, done []build.Done) *build.Built {
	b := &build.Built{Legs: map[build.Terminal]breadboard.End{}, Wires: []build.Wire{}}
	for _, d := range done {
		what, names := Puts(d.Step)
		ends := make([]breadboard.End, len(names))
		var err error
		for i, name := range names {
			if ends[i], err = breadboard.ParseEnd(name); err != nil {
				break
			}
		}
		if err != nil || len(ends) == 0 {
			continue
		}
		if strings.HasPrefix(d.Step, wireWord) {
			b.Wires = append(b.Wires, build.Wire{From: ends[0], To: ends[1]})
			continue
		}
		p := doc.Part(what)
		if p == nil {
			continue
		}
		k, _ := lib.Catalogue.Kind(p.Kind)
		if legs := k.LegOrder(); len(legs) == len(ends) {
			for i, leg := range legs {
				b.Legs[build.Of(p.ID, leg)] = ends[i]
			}
		}
	}
	return b
}
