package meter

import (
	"slices"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
)

// propose lists what could be measured.
func (s *surveyor) propose() {
	ground := build.Pin(s.on.Board.Ground)
	for _, r := range s.on.Board.Rails {
		if rail := build.Pin(r.Name); s.wired(rail) {
			s.add(Question{Way: Ohms, Red: rail, Black: ground}, true, "", "")
			s.add(Question{Way: Volts, Red: rail, Black: ground}, true, "", "")
		}
	}
	for i := range s.doc.Parts {
		s.part(&s.doc.Parts[i], ground)
		s.countable(&s.doc.Parts[i])
	}
	for _, u := range s.on.Uses {
		s.pin(u, ground)
	}
}

func (s *surveyor) wired(t build.Terminal) bool { return s.doc.NetOf(t) >= 0 }

// part proposes what can be measured at the legs of a part.
func (s *surveyor) part(p *build.Part, ground build.Terminal) {
	kind, _ := s.lib.Catalogue.Kind(p.Kind)
	var legs []build.Terminal
	for _, leg := range kind.LegOrder() {
		if t := build.Of(p.ID, leg); s.wired(t) {
			legs = append(legs, t)
		}
	}
	if kind.Is(part.Resistor) && len(kind.Terminals) == 2 {
		s.add(Question{Way: Lifted, Red: build.Of(p.ID, kind.Terminals[0].ID), Black: build.Of(p.ID, kind.Terminals[1].ID)}, false, p.ID, "resistance")
	}
	for _, l := range s.on.Lamps {
		if l.Part.ID == p.ID {
			if a, c, ok := s.ends(l.Element, legs); ok {
				s.add(Question{Way: Diode, Red: a, Black: c}, false, p.ID, "")
				for _, set := range s.settings(a, c) {
					s.add(Question{Way: Volts, Red: a, Black: c, Set: set}, false, p.ID, "")
				}
			}
		}
	}
	if kind.Feed != nil {
		s.add(Question{Way: Volts, Red: build.Of(p.ID, kind.Feed.Plus), Black: build.Of(p.ID, kind.Feed.Minus)}, false, p.ID, "")
	}
	for i, red := range legs {
		for _, black := range legs[:i] {
			if len(legs) == 2 && kind.Is(part.Resistor) {
				for _, set := range s.settings(red, black) {
					s.add(Question{Way: Volts, Red: red, Black: black, Set: set}, false, p.ID, "")
				}
			}
			for _, control := range s.on.HandsOf(p.ID) {
				for _, set := range s.levels(control) {
					s.add(Question{Way: Ohms, Red: red, Black: black, Set: set}, false, p.ID, "")
				}
			}
		}
		s.add(Question{Way: Volts, Red: red, Black: ground}, false, p.ID, "")
		for _, set := range s.settings(red, ground) {
			s.add(Question{Way: Volts, Red: red, Black: ground, Set: set}, false, p.ID, "")
		}
		// From where it is wired to on the board.
		if to, ok := s.onBoard(red); ok {
			s.add(Question{Way: Continuity, Red: red, Black: to}, false, p.ID, "")
		} else {
			for _, other := range s.doc.Nets[s.doc.NetOf(red)] {
				if other < red {
					s.add(Question{Way: Continuity, Red: red, Black: other}, false, p.ID, "")
					break
				}
			}
		}
	}
}

// pin proposes what can be measured at a pin.
func (s *surveyor) pin(u wiring.Use, ground build.Terminal) {
	pin := build.Pin(u.Pin.Name)
	if !s.wired(pin) {
		return
	}
	s.add(Question{Way: Diode, Red: pin, Black: ground}, false, "", "")
	s.add(Question{Way: Ohms, Red: pin, Black: ground}, false, "", "")
	for _, r := range s.on.Board.Rails {
		if rail := build.Pin(r.Name); s.wired(rail) {
			s.add(Question{Way: Diode, Red: rail, Black: pin}, false, "", "")
		}
	}
	for _, set := range s.settings(pin, ground) {
		s.add(Question{Way: Volts, Red: pin, Black: ground, Set: set}, false, "", "")
	}
}

// ends returns the wired legs of a part at the two ends of an element.
func (s *surveyor) ends(element int, legs []build.Terminal) (a, b build.Terminal, ok bool) {
	na, nb := s.on.Ends(element)
	for _, t := range legs {
		switch s.on.Node(t) {
		case na:
			if a == "" {
				a = t
			}
		case nb:
			if b == "" {
				b = t
			}
		}
	}
	return a, b, a != "" && b != ""
}

// onBoard returns a place of the board that a leg is wired to.
func (s *surveyor) onBoard(t build.Terminal) (build.Terminal, bool) {
	net := s.doc.Nets[s.doc.NetOf(t)]
	i := slices.IndexFunc(net, build.Terminal.OnBoard)
	if i < 0 {
		return "", false
	}
	return net[i], true
}

// mostLevels is in how many settings of one control is measured.
const mostLevels = 3

// levels lists settings of a control, others as the plan begins.
func (s *surveyor) levels(control int) (out []wiring.Settings) {
	c := &s.on.Controls[control]
	planned := c.Planned
	if len(planned) > mostLevels {
		planned = []float64{planned[0], planned[len(planned)/2], planned[len(planned)-1]}
	}
	for _, v := range planned {
		out = append(out, wiring.Settings{c.Of: c.Text(v)})
	}
	return out
}

// settings lists states that make a difference at two places: one control of theirs in
// each of its settings, the others as the plan begins.
func (s *surveyor) settings(red, black build.Terminal) (out []wiring.Settings) {
	var controls []int
	for _, t := range []build.Terminal{red, black} {
		if p := s.on.PieceOf(s.on.Node(t)); p != nil {
			for _, c := range p.Controls {
				if !slices.Contains(controls, c) {
					controls = append(controls, c)
				}
			}
		}
	}
	const most = 6 // of many, those that come first say enough of the wires
	for _, c := range controls[:min(len(controls), most)] {
		out = append(out, s.levels(c)...)
	}
	return out
}

func (s *surveyor) add(q Question, must bool, part, value string) {
	if q.Red == q.Black || s.on.Node(q.Red) == s.on.Node(q.Black) && q.Way != Continuity && q.Way != Lifted && q.Way != Counts {
		return
	}
	id := q.ID()
	if slices.ContainsFunc(s.candidates, func(c candidate) bool { return c.ID == id }) {
		return
	}
	s.candidates = append(s.candidates, candidate{Check: Check{ID: id, Question: q, Part: part, Value: value}, must: must, sees: map[int]*Expectation{}})
}
