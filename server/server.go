// Package server is the HTTP interface: builds, what is computed about them,
// and the front end. It is stateless beside the database.
package server

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"net/http"
	"net/url"
	"runtime/debug"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/gofiber/fiber/v3"
	fiberlog "github.com/gofiber/fiber/v3/log"
	"github.com/gofiber/fiber/v3/middleware/compress"
	"github.com/gofiber/fiber/v3/middleware/recover"
	"github.com/gofiber/fiber/v3/middleware/requestid"
	lru "github.com/hashicorp/golang-lru/v2"

	"cablaggio/core/document/build"
	"cablaggio/core/faults/meter"
	"cablaggio/core/general/parallel"
	"cablaggio/core/general/version"
	"cablaggio/core/output/assembly"
	"cablaggio/core/planning/plan"
	"cablaggio/store"
)

// Config is what a server needs.
type Config struct {
	Store   *store.Store
	Library *build.Library
	Web     fs.FS    // the built front end
	Hosts   []string // the names and ports that the server may be called by
	Log     *slog.Logger
}

type server struct {
	Config
	routes     []route
	computer   *computer
	programs   *programs
	assembled  *assembly.Memory
	own        atomic.Pointer[ownThings]
	surveys    *lru.Cache[build.Key, *meter.List]
	cases      cases
	live       *sessions
	developing sync.Mutex    // a picture
	asking     sync.Mutex    // a board, over its cable
	bodies     chan struct{} // has room for as many as are read at once
}

const (
	maxBody    = build.MaxBytes + 64<<10
	askAtMost  = 6 * time.Second // of the database, for one request
	retryAfter = "1"             // seconds, when the database is away
)

// New returns the application.
func New(cfg Config) *fiber.App {
	computer := newComputer(cfg.Log, usual)
	s := &server{Config: cfg, routes: routes(), computer: computer, programs: newPrograms(), assembled: assembly.NewMemory(computer.memory), bodies: make(chan struct{}, bodiesAtOnce)}
	s.surveys, _ = lru.New[build.Key, *meter.List](mostSurveys) // it fails for no room alone
	s.cases = newCases()
	s.live = &sessions{log: cfg.Log, all: map[string]*session{}}
	app := fiber.New(fiber.Config{
		BodyLimit:         maxArchive,
		ReadBufferSize:    16 << 10, // of the address and the headers
		StreamRequestBody: true,
		ReadTimeout:       30 * time.Second,
		WriteTimeout:      30 * time.Second,
		IdleTimeout:       2 * time.Minute,
		Concurrency:       connections,
		Immutable:         true,
		ErrorHandler:      s.fail,
	})
	app.Server().Logger = &connectionLog{log: s.Log}
	fiberlog.SetOutput(io.Discard) // it has a line of its own for each request that cannot be read
	app.Use(requestid.New(requestid.Config{Generator: func() string { return strings.ToLower(rand.Text()[:10]) }}))
	app.Use(s.logged)
	app.Use(recover.New(recover.Config{EnableStackTrace: true, StackTraceHandler: func(c fiber.Ctx, e any) {
		s.logOf(c).Error("a request broke off", "what", e, "stack", stackOf(e))
	}}))
	app.Use(s.guard)
	app.Hooks().OnPreShutdown(func() error { s.live.close(); return nil })

	app.Get("/api/openapi.json", s.openAPI)
	for _, r := range s.routes {
		h := r.handlers(s)
		methods := []string{r.method}
		if r.method == http.MethodGet {
			methods = append(methods, http.MethodHead)
		}
		app.Add(methods, r.pattern(), h[0], h[1:]...)
	}
	app.Use("/api", s.nowhere)
	app.Get("/*", compress.New(), s.static)
	return app
}

// logOf is the log with what a request is known by.
func (s *server) logOf(c fiber.Ctx) *slog.Logger {
	return s.Log.With("request", requestid.FromContext(c), "method", c.Method(), "path", c.Path())
}

// logged writes down each request, and what came of it.
func (s *server) logged(c fiber.Ctx) error {
	began := time.Now()
	err := c.Next()
	if s.Log.Enabled(c, slog.LevelDebug) {
		status := c.Response().StatusCode()
		if err != nil {
			status = explain(err).Status
		}
		s.logOf(c).Debug("request", "status", status, "milliseconds", time.Since(began).Milliseconds())
	}
	return err
}

// stackOf is where a panic came from: in what was done side by side, or here.
func stackOf(what any) string {
	if p, ok := what.(*parallel.Panic); ok {
		return string(p.Stack)
	}
	return string(debug.Stack())
}

// behind does work that no request waits for, by itself. When it breaks off that is logged, and all
// else goes on.
func behind(log *slog.Logger, what string, do func()) {
	go func() {
		if p := parallel.Try(do); p != nil {
			log.Error("work in the background broke off", "what", what, "error", p, "stack", string(p.Stack))
		}
	}()
}

// guard refuses what does not come from the builder's own browser, and says
// what the pages may load.
func (s *server) guard(c fiber.Ctx) error {
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Referrer-Policy", "no-referrer")
	c.Set("Cross-Origin-Opener-Policy", "same-origin")
	c.Set("Cross-Origin-Resource-Policy", "same-origin")
	if !slices.Contains(s.Hosts, hostOf(c)) {
		return problem(http.StatusMisdirectedRequest, "This server is not called "+clip(string(c.Request().Header.Host()))+".", "it answers to "+strings.Join(s.Hosts, ", "))
	}
	if origin := c.Get("Origin"); origin != "" {
		u, err := url.Parse(origin)
		if err != nil || !slices.Contains(s.Hosts, strings.ToLower(u.Host)) {
			return problem(http.StatusForbidden, "Another site may not use this server.", "open Cablaggio at its own address")
		}
	}
	if site := c.Get("Sec-Fetch-Site"); site == "cross-site" && c.Method() != http.MethodGet {
		return problem(http.StatusForbidden, "Another site may not use this server.", "open Cablaggio at its own address")
	}
	return c.Next()
}

func clip(s string) string {
	if r := []rune(s); len(r) > 80 {
		return string(r[:80]) + "…"
	}
	return s
}

// ask bounds what one request may ask of the database.
func ask(c fiber.Ctx) (context.Context, context.CancelFunc) {
	return context.WithTimeout(c.Context(), askAtMost)
}

// problem makes an error that is sent as a problem.
func problem(status int, title, detail string) *Problem {
	return &Problem{Type: "about:blank", Title: title, Status: status, Detail: detail}
}

// words are a problem in one or two sentences.
func (p *Problem) words() string {
	return strings.TrimSpace(p.Title + " " + sentence(strings.TrimSuffix(p.Detail, ".")))
}

func (p *Problem) Error() string { return fmt.Sprintf("%d %s %s", p.Status, p.Title, p.Detail) }

// fail turns any error into a problem.
func (s *server) fail(c fiber.Ctx, err error) error {
	p := explain(err)
	if c.Request().IsBodyStream() {
		c.Response().SetConnectionClose() // what may be left of the body is not read
	}
	if p.Status >= 500 && p.Status != http.StatusServiceUnavailable {
		s.logOf(c).Error("request failed", "error", err)
		if p.Status == http.StatusInternalServerError {
			p.Detail += " under " + requestid.FromContext(c)
		}
	}
	if p.Status == http.StatusServiceUnavailable || p.Status == http.StatusTooManyRequests {
		c.Set("Retry-After", retryAfter)
	}
	body, err := json.Marshal(p)
	if err != nil {
		return err
	}
	c.Set("Content-Type", problemType)
	c.Set("Cache-Control", "no-store")
	return c.Status(p.Status).Send(body)
}

func explain(err error) *Problem {
	var (
		p        *Problem
		problems build.Problems
		edit     *plan.EditError
		framed   *fiber.Error
	)
	switch {
	case errors.As(err, &p):
		return p
	case errors.Is(err, store.ErrNotFound):
		return problem(http.StatusNotFound, "There is no such build.", "it may have been made on another computer; see the list of builds")
	case errors.Is(err, store.ErrDeleted):
		return problem(http.StatusGone, "This build was deleted.", "restore it to go on with it")
	case errors.Is(err, store.ErrUnavailable):
		return problem(http.StatusServiceUnavailable, "The database does not answer.", "nothing is lost; try again in a moment")
	case errors.Is(err, store.ErrFull):
		return problem(http.StatusInsufficientStorage, "The disk is full.", "what was kept before is safe; make room on it, then try again")
	case errors.Is(err, store.ErrKeyUsed):
		return problem(http.StatusUnprocessableEntity, "The Idempotency-Key was used for another request.", "give each request a key of its own")
	case errors.Is(err, store.ErrTooManyKinds):
		return problem(http.StatusConflict, "There are as many parts of your own as there can be.", fmt.Sprintf("at most %d; forget one that you do not use", store.MaxKinds))
	case errors.Is(err, store.ErrTooManyBoards):
		return problem(http.StatusConflict, "There are as many boards of your own as there can be.", fmt.Sprintf("at most %d; forget one that you do not use", store.MaxBoards))
	case errors.Is(err, context.Canceled):
		return problem(http.StatusRequestTimeout, "Whoever asked has gone.", "")
	case errors.Is(err, store.ErrBoardInUse):
		return problem(http.StatusConflict, "Builds are on this board.", "move them to another one first; their history keeps it, too")
	case errors.Is(err, store.ErrNoUndo), errors.Is(err, store.ErrNoRedo):
		return problem(http.StatusConflict, sentence(err.Error()), "")
	case errors.As(err, &edit):
		p := problem(http.StatusUnprocessableEntity, sentence(edit.Error()), "")
		errors.As(edit.Err, &problems)
		p.Problems = problems
		return p
	case errors.As(err, &problems):
		p := problem(http.StatusUnprocessableEntity, "This is not a build that can be taken.", problems.Error())
		p.Problems = problems
		return p
	case errors.As(err, &framed) && framed.Code == http.StatusRequestEntityTooLarge:
		return problem(framed.Code, "That is too much at once.", "a build has at most 1 MB, a picture at most 12 MB, an archive at most 64 MB")
	case errors.As(err, &framed):
		return problem(framed.Code, framed.Message, "")
	}
	return problem(http.StatusInternalServerError, "Something went wrong here.", "nothing was changed; the server's log says more")
}

// sentence makes a sentence of an error's words.
func sentence(s string) string {
	if s == "" {
		return s
	}
	return build.Capital(s) + "."
}

// body reads the request's JSON strictly, and returns it as it came.
func (s *server) body(c fiber.Ctx, into any) ([]byte, error) {
	data, err := s.json(c)
	if err != nil {
		return nil, err
	}
	return data, build.Decode(data, into)
}

// json reads the body of a request that says it is JSON.
func (s *server) json(c fiber.Ctx) ([]byte, error) {
	if t, _, _ := strings.Cut(c.Get("Content-Type"), ";"); t != jsonType {
		return nil, problem(http.StatusUnsupportedMediaType, "The body is not JSON.", "send it as application/json")
	}
	return s.bodyOf(c, maxBody)
}

func (s *server) health(c fiber.Ctx) error {
	ctx, cancel := ask(c)
	defer cancel()
	if err := s.Store.Ping(ctx); err != nil {
		return err
	}
	return c.JSON(Health{OK: true, Version: version.Number})
}
