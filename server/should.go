package server

import (
	"context"
	"errors"
	"net/http"
	"time"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/document/build"
	"cablaggio/core/running/should"
)

const (
	shouldPatience = 30 * time.Second
	shouldTries    = 16 // random hands; the command line tries more
)

// Sayings asks whether sentences hold of a build.
type Sayings struct {
	Sentences []string `json:"sentences"`
	Built     bool     `json:"built,omitempty"` // on what was really built, not on the plan
	Read      bool     `json:"read,omitempty"`  // only say how they are understood, and try nothing
}

// Verdicts says whether they do.
type Verdicts struct {
	Verdicts []should.Verdict `json:"verdicts"`
	Suggest  []string         `json:"suggest"` // what else could be said
	Pieces   should.Pieces    `json:"pieces"`  // what sentences can be put together of
}

// should tries what a build should do.
func (s *server) should(c fiber.Ctx) error {
	var req Sayings
	if _, err := s.body(c, &req); err != nil {
		return err
	}
	if len(req.Sentences) > build.MaxShould {
		return problem(http.StatusUnprocessableEntity, "There are too many sentences.", "at most 40")
	}
	_, lib, doc, err := s.opened(c)
	if err != nil {
		return err
	}
	c.Set("Cache-Control", "no-store")
	if req.Read {
		r := should.NewReader(s.programs.known.Build(lib, bareOf(doc)))
		return c.JSON(Verdicts{r.ReadAll(req.Sentences), r.Suggest(), r.Pieces()})
	}
	key := triedKey(lib, doc, req.Sentences, req.Built)
	if tried, ok := s.programs.tried.Get(key); ok {
		r := should.NewReader(s.programs.known.Build(lib, bareOf(doc)))
		return c.JSON(Verdicts{tried, r.Suggest(), r.Pieces()})
	}
	ctx, cancel := context.WithTimeout(c.Context(), shouldPatience)
	defer cancel()
	net, made, err := s.onBench(ctx, lib, doc, req.Built)
	if err != nil {
		return err
	}
	reader := should.NewReader(net)
	out := Verdicts{Suggest: reader.Suggest(), Pieces: reader.Pieces()}
	select {
	case s.programs.turns <- struct{}{}:
		defer func() { <-s.programs.turns }()
	case <-ctx.Done():
		return problem(http.StatusServiceUnavailable, "Other programs are being run.", "try again in a moment")
	}
	out.Verdicts, err = should.Try(ctx, net, made, req.Sentences, should.Options{Tries: shouldTries, Seed: 1})
	switch {
	case errors.Is(err, context.DeadlineExceeded):
		return problem(http.StatusUnprocessableEntity, "This program does so much that it was not tried to the end.", "cablaggio should, on the command line, takes its time")
	case err != nil:
		return err
	}
	s.programs.tried.Add(key, out.Verdicts)
	return c.JSON(out)
}
