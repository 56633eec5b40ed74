package meter

import (
	"slices"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/layout/placement"
)

// A Survey is all that could be measured in a build, of which a list of checks is a part.
type Survey struct{ s *surveyor }

// Survey finds what could be measured, laid out as p has it; nil: not laid out.
func (m *Instrument) Survey(known *wiring.Cache, lib *build.Library, doc *build.Document, p *placement.Placement) *Survey {
	return &Survey{m.survey(known, lib, doc, p)}
}

func (m *Instrument) survey(known *wiring.Cache, lib *build.Library, doc *build.Document, p *placement.Placement) *surveyor {
	s := &surveyor{meter: m, known: known, lib: lib, doc: doc, placed: p, on: known.Build(lib, doc)}
	s.off = s.on.With(wiring.Unpowered())
	s.propose()
	return s
}

// A Proposal is one thing that could be measured.
type Proposal struct {
	Question Question
	Part     string // that it is about; "" the board
}

// Proposals lists what could be measured. Whether a place floats, so that a reading there
// says nothing, is asked of [Survey.Held].
func (s *Survey) Proposals() []Proposal {
	out := make([]Proposal, len(s.s.candidates))
	for i, c := range s.s.candidates {
		out[i] = Proposal{c.Question, c.Part}
	}
	return out
}

// Network returns the network of the build, with or without power as the way wants it.
func (s *Survey) Network(w Way) *wiring.Network { return s.s.network(w) }

// Held reports whether the places of a question are held by something else than leakage.
func (s *Survey) Held(q Question) bool { return q.Way != Volts || s.s.held(q) }

// Tell says a question as a check, in words and with what to expect of it. Its error says why
// there is no answer.
func (s *Survey) Tell(q Question) (Check, error) {
	x, err := s.s.ask(&q)
	if err != nil {
		return Check{}, err
	}
	c := candidate{Check: Check{ID: q.ID(), Question: q, Expect: x}}
	if i := slices.IndexFunc(s.s.candidates, func(c candidate) bool { return c.ID == q.ID() }); i >= 0 {
		c.Part, c.Value = s.s.candidates[i].Part, s.s.candidates[i].Value
	}
	return s.s.told(&c), nil
}
