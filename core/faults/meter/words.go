package meter

import (
	"fmt"
	"slices"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/fault"
	"cablaggio/core/layout/placement"
)

// told says a check in words.
func (s *surveyor) told(c *candidate) Check {
	out := c.Check
	q := out.Question
	out.Red, out.Black = s.place(q.Red), s.place(q.Black)
	out.Expect.Leans = s.meter.leans(s.network(q.Way), q, out.Expect.Typ)
	out.Shows = []Sign{}
	var faults []int
	for k := range c.sees {
		faults = append(faults, k)
	}
	slices.Sort(faults) // the most common come first
	for _, k := range faults {
		f := &s.faults[k]
		out.Shows = append(out.Shows, Sign{Fault: f.ID, Reads: *c.sees[k], Words: f.Words, Look: f.Look})
	}
	switch q.Way {
	case Lifted:
		id, _ := q.Red.Split()
		out.Group = before
		out.Do = fmt.Sprintf("Hold the tips to the two legs of %s.", s.doc.Part(id).Name)
		out.Red.End, out.Black.End = "", ""
	case Counts:
		out.Group = powered
		out.Do = fmt.Sprintf("Turn %s %d times by hand, and add up what the console prints of it.", s.doc.Part(out.Part).Name, countedTurns)
		out.How = "The test program, which Program makes, counts them."
		return out
	case Volts:
		out.Group = powered
		out.Do = fmt.Sprintf("Red to the %s, black to the %s.", out.Red.Words, out.Black.Words)
	default:
		out.Group = unpowered
		out.Do = fmt.Sprintf("Red to the %s, black to the %s.", out.Red.Words, out.Black.Words)
		out.State = append(out.State, "The board is unplugged.")
	}
	state, how := s.state(q)
	out.State, out.How = append(out.State, state...), how
	return out
}

// state says how everything at the tips is set, and how pins get so.
func (s *surveyor) state(q Question) (out []string, how string) {
	if q.Way == Lifted {
		return nil, ""
	}
	settings, err := s.on.Resolve(q.Set)
	if err != nil {
		return nil, ""
	}
	var controls []int
	for _, t := range []build.Terminal{q.Red, q.Black} {
		if p := s.on.PieceOf(s.on.Node(t)); p != nil {
			for _, c := range p.Controls {
				if !slices.Contains(controls, c) {
					controls = append(controls, c)
				}
			}
		}
	}
	slices.Sort(controls)
	pulled, driven := false, false
	for _, i := range controls {
		c := &s.on.Controls[i]
		is := c.Text(settings[i])
		switch {
		case c.Kind == wiring.Contact || c.Kind == wiring.Level || c.Kind == wiring.Keys:
			out = append(out, fmt.Sprintf("%s is %s.", build.Capital(c.Name), is))
		case !q.Way.Powered():
		case c.Kind == wiring.Mode && settings[i] == wiring.LetGo:
		case c.Kind == wiring.Mode && (settings[i] == wiring.PulledUp || settings[i] == wiring.PulledDown):
			pulled = true
			out = append(out, fmt.Sprintf("The program has %s %s.", c.Name, is))
		default:
			driven = driven || c.Kind == wiring.Mode
			out = append(out, fmt.Sprintf("The program sets %s %s.", c.Name, is))
		}
	}
	switch {
	case driven:
		how = testHolds
	case pulled:
		how = testPulls
	}
	return out, how
}

// How pins are set for a check: by the test program, which can be held.
const (
	testPulls = "The test program, which Program makes, does so."
	testHolds = "The test program, which Program makes, does so in its round, and says whose turn it is: send it anything then, and it stays."
)

func (s *surveyor) place(t build.Terminal) Place {
	id, leg := t.Split()
	if t.OnBoard() {
		return Place{Terminal: t, Words: "board's " + leg, End: string(t)}
	}
	p := s.doc.Part(id)
	kind, _ := s.lib.Catalogue.Kind(p.Kind)
	out := Place{Terminal: t, Words: placement.LegName(kind, leg) + " of " + p.Name, End: fault.End(s.placed, t)}
	if out.End != "" {
		out.Words += " (" + out.End + ")"
	}
	return out
}
