package server

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"runtime"
	"slices"
	"sync"
	"time"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/build"
	"cablaggio/core/check"
	"cablaggio/core/program"
	"cablaggio/core/wiring"
	"cablaggio/toolchain"
	"cablaggio/toolchain/sandbox"
)

// programs compiles and runs programs, a few at a time, and remembers the last answers.
type programs struct {
	compiler program.Compiler
	known    *wiring.Known
	turns    chan struct{}

	mu   sync.Mutex
	last []toldProgram // the latest first
}

type toldProgram struct {
	key      string
	analysis *program.Analysis
}

const (
	rememberedPrograms = 16
	programPatience    = 20 * time.Second // for one program, with waiting for its turn
)

func newPrograms() *programs {
	return &programs{compiler: toolchain.New(), known: wiring.NewKnown(), turns: make(chan struct{}, max(1, runtime.GOMAXPROCS(0)-1))}
}

// check says what the program of a document does on its wiring.
func (p *programs) check(ctx context.Context, lib *build.Library, doc *build.Document) (*program.Analysis, error) {
	wires, err := check.DependsOn(lib, doc)
	if err != nil {
		return nil, err
	}
	text, err := json.Marshal(doc.Program)
	if err != nil {
		return nil, err
	}
	key := wires + string(text)
	if a := p.told(key); a != nil {
		return a, nil
	}
	ctx, cancel := context.WithTimeout(ctx, programPatience)
	defer cancel()
	select {
	case p.turns <- struct{}{}:
		defer func() { <-p.turns }()
	case <-ctx.Done():
		return nil, problem(http.StatusServiceUnavailable, "Other programs are being run.", "try again in a moment")
	}
	a, err := program.Check(ctx, p.compiler, lib, doc, p.known)
	var missing toolchain.Missing
	switch {
	case errors.As(err, &missing):
		return nil, problem(http.StatusNotImplemented, "Something is not installed that this program needs.", missing.Error())
	case errors.Is(err, sandbox.ErrUnavailable):
		return nil, problem(http.StatusNotImplemented, "Programs are not run on this computer.", sandbox.ErrUnavailable.Error())
	case errors.Is(err, context.DeadlineExceeded):
		return nil, problem(http.StatusUnprocessableEntity, "This program does so much that it was not come to the end of.", "less in its loops, or a pause")
	case err != nil:
		return nil, err
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	p.last = slices.Insert(p.last, 0, toldProgram{key, a})
	p.last = p.last[:min(len(p.last), rememberedPrograms)]
	return a, nil
}

// join puts what is found of the program among what is found of the wiring. Where programs are
// not run, it says so.
func (p *programs) join(ctx context.Context, lib *build.Library, doc *build.Document, wiring *check.Analysis) *check.Analysis {
	a, err := p.check(ctx, lib, doc)
	if err != nil {
		a = &program.Analysis{Missing: []string{"The program was not looked at: " + err.Error()}}
	}
	return program.Join(wiring, a)
}

func (p *programs) told(key string) *program.Analysis {
	p.mu.Lock()
	defer p.mu.Unlock()
	i := slices.IndexFunc(p.last, func(t toldProgram) bool { return t.key == key })
	if i < 0 {
		return nil
	}
	return p.last[i].analysis
}

// opened reads the document that the request names, with its library.
func (s *server) opened(c fiber.Ctx) (*build.Library, *build.Document, error) {
	ctx, cancel := ask(c)
	defer cancel()
	b, err := s.Store.Get(ctx, c.Params("id"))
	if err != nil {
		return nil, nil, err
	}
	lib := s.libOf(c, b)
	doc, err := lib.Parse(b.Document)
	return lib, doc, err
}

func (s *server) checkProgram(c fiber.Ctx) error {
	lib, doc, err := s.opened(c)
	if err != nil {
		return err
	}
	return s.sendProgram(c, lib, doc)
}

// tryProgram checks a program that is not kept: while it is typed.
func (s *server) tryProgram(c fiber.Ctx) error {
	var req build.Program
	if _, err := s.body(c, &req); err != nil {
		return err
	}
	lib, doc, err := s.opened(c)
	if err != nil {
		return err
	}
	doc.Program = &req
	if err := lib.Validate(doc); err != nil {
		return err
	}
	return s.sendProgram(c, lib, doc)
}

func (s *server) sendProgram(c fiber.Ctx, lib *build.Library, doc *build.Document) error {
	a, err := s.programs.check(c.Context(), lib, doc)
	if err != nil {
		return err
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(a)
}

// starter sends a program to begin with: ?language=cpp&test=true.
func (s *server) starter(c fiber.Ctx) error {
	lib, doc, err := s.opened(c)
	if err != nil {
		return err
	}
	write := program.Starter
	if c.Query("test") == "true" {
		write = program.Test
	}
	p, err := write(lib, doc, build.Language(c.Query("language", string(build.CPP))))
	if err != nil {
		return problem(http.StatusUnprocessableEntity, sentence(err.Error()), "another language")
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(p)
}
