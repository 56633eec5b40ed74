package server

import (
	"net/http"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/board"
	"cablaggio/core/phrase"
	"cablaggio/core/plan"
	"cablaggio/core/quantity"
)

func (s *server) library(c fiber.Ctx) error {
	out := Library{Library: *s.Library}
	for _, f := range board.Functions {
		out.Functions = append(out.Functions, FunctionName{f, f.Name()})
	}
	return c.JSON(out)
}

// phrase says what is understood of parts as people say them.
func (s *server) phrase(c fiber.Ctx) error {
	return c.JSON(phrase.Parse(s.Library.Catalogue, c.Query("text")))
}

// resistorChoice puts the values for a resistor that belongs to a lamp side by
// side.
func (s *server) resistorChoice(c fiber.Ctx) error {
	v, err := s.get(c)
	if err != nil {
		return err
	}
	part := v.Document.Part(c.Params("part"))
	if part == nil || part.Of == "" {
		return problem(http.StatusNotFound, "There is no such resistor before a lamp.", "")
	}
	candidates, err := plan.Candidates(s.Library, v.Document, part.ID, part.Of)
	if candidates == nil && err != nil {
		return problem(http.StatusUnprocessableEntity, sentence(err.Error()), "")
	}
	out := ResistorChoice{Candidates: []Candidate{}}
	for _, x := range candidates {
		out.Candidates = append(out.Candidates, Candidate{
			Candidate: x,
			OhmsText:  quantity.Short(x.Ohms, quantity.Ohm),
			AmpsText:  quantity.FormatRange(x.Amps.Low, x.Amps.Typ, x.Amps.High, quantity.Ampere),
			WattsText: quantity.Format(x.Watts, quantity.Watt),
		})
	}
	return c.JSON(out)
}

// pinChoices lists the free pins for a part's signal.
func (s *server) pinChoices(c fiber.Ctx) error {
	v, err := s.get(c)
	if err != nil {
		return err
	}
	if part := v.Document.Part(c.Params("part")); part != nil {
		for _, signal := range part.Signals {
			if signal.Name == c.Params("signal") {
				return c.JSON(PinChoices{plan.FreePins(s.Library, v.Document, signal.Needs)})
			}
		}
	}
	return problem(http.StatusNotFound, "There is no such signal.", "")
}
