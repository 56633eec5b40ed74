package server

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"net/http"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
	lru "github.com/hashicorp/golang-lru/v2"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/output/assembly"
	"cablaggio/core/running/bench"
	"cablaggio/core/running/program"
	"cablaggio/core/running/should"
	"cablaggio/toolchain"
	"cablaggio/toolchain/sandbox"
)

// programs compiles and runs programs, a few at a time, and remembers the last answers.
type programs struct {
	compiler program.Compiler
	known    *wiring.Cache
	turns    chan struct{}

	last  *lru.Cache[build.Key, *program.Analysis]
	made  *lru.Cache[build.Key, *program.Compiled]
	tried *lru.Cache[build.Key, []should.Verdict] // of sentences
}

const (
	rememberedPrograms = 16
	programPatience    = 20 * time.Second // for one program, with waiting for its turn
)

func newPrograms() *programs {
	last, _ := lru.New[build.Key, *program.Analysis](rememberedPrograms) // it fails for no room alone
	made, _ := lru.New[build.Key, *program.Compiled](rememberedPrograms)
	tried, _ := lru.New[build.Key, []should.Verdict](rememberedPrograms)
	return &programs{compiler: toolchain.New(), known: wiring.NewCache(), last: last, made: made, tried: tried, turns: make(chan struct{}, max(1, runtime.GOMAXPROCS(0)-1))}
}

// check says what the program of a document does on its wiring.
func (p *programs) check(ctx context.Context, lib *build.Library, doc *build.Document) (*program.Analysis, error) {
	key := lib.Key(doc, build.Wiring|build.Code)
	if a, ok := p.last.Get(key); ok {
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
	switch {
	case errors.Is(err, context.DeadlineExceeded):
		return nil, problem(http.StatusUnprocessableEntity, "This program does so much that it was not finished.", "less in its loops, or a pause")
	case err != nil:
		return nil, installed(err)
	}
	p.last.Add(key, a)
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

// Running asks for a run of a build on the bench.
type Running struct {
	Actions []bench.Action `json:"actions,omitempty"`
	Seconds float64        `json:"seconds" required:"true"`
	Seed    uint64         `json:"seed,omitempty"`
	Probes  []bench.Probe  `json:"probes,omitempty"`
	Built   bool           `json:"built,omitempty"`   // on what was really built, not on the plan
	Bare    bool           `json:"bare,omitempty"`    // without its program: all pins are inputs
	Program string         `json:"program,omitempty"` // with that of another build, by its id; "id@7": as it was in its revision 7
	Format  string         `json:"format,omitempty"`  // vcd, csv, svg or txt (the actions, as a script): as a file, instead
}

// HandList is what hands move on the bench, and where probes may be put.
type HandList struct {
	Hands  []bench.Hand  `json:"hands"`
	Places []bench.Place `json:"places"`
}

func (s *server) hands(c fiber.Ctx) error {
	_, lib, doc, err := s.opened(c)
	if err != nil {
		return err
	}
	c.Set("Cache-Control", "no-store")
	net := s.programs.known.Build(lib, doc)
	return c.JSON(HandList{slices.Concat(bench.Hands(net), bench.SupplyHands(net)), bench.Places(net)})
}

const (
	longestRun  = 600.0 // s, on a server
	runPatience = 15 * time.Second
)

// run lets a build run on the bench.
func (s *server) run(c fiber.Ctx) error {
	var req Running
	if _, err := s.body(c, &req); err != nil {
		return err
	}
	if !(req.Seconds > 0 && req.Seconds <= longestRun) {
		return problem(http.StatusUnprocessableEntity, "A run lasts more than nothing, and at most ten minutes here.", "the command line lets it run for a day")
	}
	_, lib, doc, err := s.opened(c)
	if err != nil {
		return err
	}
	ctx, cancel := context.WithTimeout(c.Context(), runPatience)
	defer cancel()
	if err := s.programFor(ctx, lib, doc, req.Bare, req.Program); err != nil {
		return err
	}
	net, made, err := s.onBench(ctx, lib, doc, req.Built)
	if err != nil {
		return err
	}
	r, err := bench.Run(ctx, net, made, bench.Options{Actions: req.Actions, Lasts: time.Duration(req.Seconds * 1e9), Seed: req.Seed, Probes: req.Probes})
	var wrong *bench.ActionError
	var nowhere *bench.ProbeError
	switch {
	case errors.As(err, &nowhere):
		return problem(http.StatusUnprocessableEntity, "There is no such place for a probe.", nowhere.Error())
	case errors.As(err, &wrong):
		return problem(http.StatusUnprocessableEntity, "That cannot be done on this bench.", wrong.Error())
	case errors.Is(err, context.DeadlineExceeded):
		return problem(http.StatusUnprocessableEntity, "This run does so much that it was not finished.", "a shorter one")
	case err != nil:
		return err
	}
	c.Set("Cache-Control", "no-store")
	var out bytes.Buffer
	switch req.Format {
	case "vcd":
		err = r.VCD(&out)
	case "csv":
		err = r.CSV(&out)
	case "svg":
		err = r.SVG(&out)
	case "txt":
		err = r.Script(&out)
	default:
		return c.JSON(r)
	}
	if err != nil {
		return err
	}
	return sendFile(c, doc.Title, "-run."+req.Format, plainType+"; charset=utf-8", out.Bytes())
}

// programFor gives a document the program that a run is asked for with: none, or that of another
// build or an earlier revision, as a board keeps it when it is put on new wiring.
func (s *server) programFor(ctx context.Context, lib *build.Library, doc *build.Document, bare bool, other string) error {
	switch {
	case bare:
		doc.Program = nil
	case other != "":
		from, err := s.programIn(ctx, lib, other)
		if err != nil {
			return err
		}
		if from.Program == nil {
			return problem(http.StatusUnprocessableEntity, fmt.Sprintf("%q has no program.", from.Title), "one that has")
		}
		doc.Program = from.Program
	}
	return nil
}

// programIn is the build that a program is taken from: its id, and after an @ its revision.
func (s *server) programIn(ctx context.Context, lib *build.Library, of string) (*build.Document, error) {
	id, revision, earlier := strings.Cut(of, "@")
	b, err := s.Store.Get(ctx, id)
	if err != nil {
		return nil, err
	}
	data := b.Document
	if earlier {
		n, err := strconv.Atoi(revision)
		if err != nil || n < 1 {
			return nil, problem(http.StatusUnprocessableEntity, fmt.Sprintf("%q is not the number of a revision.", revision), "revisions are numbered from 1")
		}
		if data, err = s.Store.Document(ctx, id, n); err != nil {
			return nil, err
		}
	}
	return lib.Parse(data)
}

// onBench is the network of a build with its program, as planned, or as it was really built.
func (s *server) onBench(ctx context.Context, lib *build.Library, doc *build.Document, built bool) (net *wiring.Network, made *program.Compiled, err error) {
	if doc.Program != nil {
		if made, err = s.programs.compile(ctx, lib, doc); err != nil {
			return nil, nil, err
		}
	}
	if built {
		if doc, err = assembly.AsBuilt(lib, doc); err != nil {
			return nil, nil, problem(http.StatusUnprocessableEntity, sentence(err.Error()), "")
		}
	}
	return s.programs.known.Build(lib, bareOf(doc)), made, nil
}

// bareOf is a build but for what its network does not depend on.
func bareOf(doc *build.Document) *build.Document {
	bare := doc.Clone()
	bare.Assembly, bare.Program = nil, nil
	return bare
}

// compile compiles the program of a document, or gives what was compiled of it last.
func (p *programs) compile(ctx context.Context, lib *build.Library, doc *build.Document) (*program.Compiled, error) {
	key := lib.Key(doc, build.Code)
	made, ok := p.made.Get(key)
	if !ok {
		b, _ := lib.Board(doc.Board)
		var err error
		if made, err = p.compiler.Compile(ctx, doc.Program, b); err != nil {
			return nil, installed(err)
		}
		p.made.Add(key, made)
	}
	if made.Program == nil {
		return nil, problem(http.StatusUnprocessableEntity, "The program does not compile.", made.Messages[0].String())
	}
	return made, nil
}

// installed puts the error of a compiler that is not there into a problem.
func installed(err error) error {
	var missing toolchain.Missing
	switch {
	case errors.As(err, &missing):
		return problem(http.StatusNotImplemented, "Something is not installed that this program needs.", missing.Error())
	case errors.Is(err, sandbox.ErrUnavailable):
		return problem(http.StatusNotImplemented, "Programs are not run on this computer.", sandbox.ErrUnavailable.Error())
	}
	return err
}

func (s *server) checkProgram(c fiber.Ctx) error {
	_, lib, doc, err := s.opened(c)
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
	_, lib, doc, err := s.opened(c)
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
	_, lib, doc, err := s.opened(c)
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
