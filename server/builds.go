package server

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
	"cablaggio/store"
)

// Draft makes the revision of a document that has been analysed.
func Draft(doc *build.Document, a *check.Analysis, summary string) (store.Draft, error) {
	data, err := json.Marshal(doc)
	if err != nil {
		return store.Draft{}, err
	}
	return store.Draft{
		Title: doc.Title, Board: doc.Board, Document: data, Summary: summary,
		Counts: store.Counts{Stops: a.Counts.Stop, Cares: a.Counts.Care, Notes: a.Counts.Note},
	}, nil
}

// pageOfBuilds is how many builds come at once.
const pageOfBuilds = 100

// listBuilds sends a page of the builds: ?search=…&bin=true&skip=100.
func (s *server) listBuilds(c fiber.Ctx) error {
	q := store.Query{Search: strings.TrimSpace(c.Query("search")), Deleted: c.Query("bin") == "true", Most: pageOfBuilds}
	var err error
	if q.Skip, err = count(c, "skip"); err != nil {
		return err
	}
	if len(q.Search) > 4*build.MaxName {
		return problem(http.StatusBadRequest, "That is too long to be in a name.", fmt.Sprintf("names have at most %d letters", build.MaxName))
	}
	ctx, cancel := ask(c)
	defer cancel()
	list, more, err := s.Store.List(ctx, q)
	if err != nil {
		return err
	}
	out := BuildList{Builds: []BuildSummary{}, More: more}
	for i := range list {
		out.Builds = append(out.Builds, summary(&list[i]))
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(out)
}

// count reads a number of the query that is not negative; 0 when it is not there.
func count(c fiber.Ctx, name string) (int, error) {
	text := c.Query(name)
	if text == "" {
		return 0, nil
	}
	n, err := strconv.Atoi(text)
	if err != nil || n < 0 || n > math.MaxInt32 {
		return 0, problem(http.StatusBadRequest, "The "+name+" is not a count.", "a whole number from 0 on")
	}
	return n, nil
}

// key reads the name of the request.
func key(c fiber.Ctx) (string, error) {
	k := c.Get("Idempotency-Key")
	if len(k) > 64 || strings.ContainsFunc(k, func(r rune) bool { return r < '!' || r > '~' }) {
		return "", problem(http.StatusBadRequest, "The Idempotency-Key is not one.", "at most 64 printable ASCII signs")
	}
	return k, nil
}

func summary(b *store.Build) BuildSummary {
	return BuildSummary{
		ID: b.ID, Title: b.Title, Board: b.Board, Changed: b.Changed,
		Counts: check.Counts{Stop: b.Counts.Stops, Care: b.Counts.Cares, Note: b.Counts.Notes},
	}
}

func (s *server) createBuild(c fiber.Ctx) error {
	var req NewBuild
	asked, err := s.body(c, &req)
	if err != nil {
		return err
	}
	doc := req.Document
	if doc == nil {
		if req.Board == "" {
			req.Board = s.lib(c).Boards[0].ID
		}
		doc = build.New(strings.TrimSpace(req.Title), req.Board)
	}
	return s.create(c, doc, "began", asked)
}

// readBuild says what a build in a file is.
func (s *server) readBuild(c fiber.Ctx) error {
	var req NewBuild
	if _, err := s.body(c, &req); err != nil {
		return err
	}
	if req.Document == nil {
		return problem(http.StatusUnprocessableEntity, "There is no build to read.", "send it as document")
	}
	doc, _, a, err := s.draft(c, req.Document, "")
	if err != nil {
		return err
	}
	return c.JSON(Preview{doc, a})
}

// analyse works out a build, or says that its circuit has no answer.
func (s *server) analyse(id string, lib *build.Library, doc *build.Document) (*check.Analysis, error) {
	a, err := s.computer.check(id, lib.For(doc), doc)
	if err != nil {
		return nil, problem(http.StatusUnprocessableEntity, "This circuit has no answer.", err.Error())
	}
	return a, nil
}

// draft makes a document ready to be kept, after the checks of a file.
func (s *server) draft(c fiber.Ctx, doc *build.Document, words string) (*build.Document, store.Draft, *check.Analysis, error) {
	data, err := json.Marshal(doc)
	if err == nil {
		doc, err = s.lib(c).Parse(data)
	}
	if err != nil {
		return nil, store.Draft{}, nil, err
	}
	a, err := s.analyse("", s.lib(c), doc)
	if err != nil {
		return nil, store.Draft{}, nil, err
	}
	draft, err := Draft(doc, a, words)
	return doc, draft, a, err
}

// create keeps a document as a new build. A repeated request makes one.
func (s *server) create(c fiber.Ctx, doc *build.Document, words string, asked []byte) error {
	name, err := key(c)
	if err != nil {
		return err
	}
	doc, draft, a, err := s.draft(c, doc, words)
	if err != nil {
		return err
	}
	draft.Key, draft.Asked, draft.BoardN = name, asked, s.newest(c, doc.Board)
	ctx, cancel := ask(c)
	defer cancel()
	b, err := s.Store.Create(ctx, draft)
	if err != nil {
		return err
	}
	c.Status(http.StatusCreated)
	return s.sendKept(c, b, draft, doc, a)
}

// sendKept sends a build that was kept with what was computed of it, unless it is not
// that any more: a request that was repeated finds what has become of it.
func (s *server) sendKept(c fiber.Ctx, b *store.Build, draft store.Draft, doc *build.Document, a *check.Analysis) error {
	if b.BoardN == draft.BoardN && bytes.Equal(b.Document, draft.Document) {
		return send(c, s.view(c, b, doc, a))
	}
	return s.sendStored(c, b)
}

// view joins what is stored of a build with what is computed.
func (s *server) view(c fiber.Ctx, b *store.Build, doc *build.Document, a *check.Analysis) *BuildView {
	return &BuildView{
		BuildSummary: summary(b), Tag: b.Tag.String(), Created: b.Created,
		Document: doc, Analysis: a, Board: s.keptBoard(c, b), Undo: b.Undo, Redo: b.Redo,
		lib: s.libOf(c, b).For(doc),
	}
}

func send(c fiber.Ctx, v *BuildView) error {
	setTag(c, v.Tag)
	c.Set("Cache-Control", "no-store")
	return c.JSON(v)
}

// load reads a build's document and analyses it.
func (s *server) load(c fiber.Ctx, b *store.Build) (*BuildView, error) {
	lib, doc, err := s.documentOf(c, b)
	if err != nil {
		return nil, err
	}
	a, err := s.analyse(b.ID, lib, doc)
	if err != nil {
		return nil, err
	}
	return s.view(c, b, doc, a), nil
}

// documentOf reads a build's document, and returns it with its library.
func (s *server) documentOf(c fiber.Ctx, b *store.Build) (*build.Library, *build.Document, error) {
	lib := s.libOf(c, b)
	doc, err := lib.Parse(b.Document)
	if err != nil {
		return nil, nil, err
	}
	return lib.For(doc), doc, nil
}

// opened reads the build that the request names, with its library and its document; nothing
// is computed of it.
func (s *server) opened(c fiber.Ctx) (*store.Build, *build.Library, *build.Document, error) {
	ctx, cancel := ask(c)
	defer cancel()
	b, err := s.Store.Get(ctx, c.Params("id"))
	if err != nil {
		return nil, nil, nil, err
	}
	lib, doc, err := s.documentOf(c, b)
	return b, lib, doc, err
}

// get reads the build that the request names.
func (s *server) get(c fiber.Ctx) (*BuildView, error) {
	ctx, cancel := ask(c)
	defer cancel()
	b, err := s.Store.Get(ctx, c.Params("id"))
	if err != nil {
		return nil, err
	}
	return s.load(c, b)
}

func (s *server) getBuild(c fiber.Ctx) error {
	v, err := s.get(c)
	if err != nil {
		return err
	}
	return send(c, v)
}

// fileName keeps of a title what every file system takes.
func fileName(title string) string {
	name := strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z', r >= '0' && r <= '9':
			return r
		case r >= 'A' && r <= 'Z':
			return r + 'a' - 'A'
		}
		return '-'
	}, title)
	if name = strings.Trim(name, "-"); name == "" {
		return "build"
	}
	return name
}

func (s *server) duplicateBuild(c fiber.Ctx) error {
	v, err := s.get(c)
	if err != nil {
		return err
	}
	v.Document.Title = "Copy of " + v.Document.Title
	if r := []rune(v.Document.Title); len(r) > build.MaxName {
		v.Document.Title = string(r[:build.MaxName])
	}
	return s.create(c, v.Document, "copied", []byte("copy of "+v.ID))
}

func (s *server) deleteBuild(c fiber.Ctx) error {
	ctx, cancel := ask(c)
	defer cancel()
	if err := s.Store.Delete(ctx, c.Params("id")); err != nil {
		return err
	}
	return c.SendStatus(http.StatusNoContent)
}

func (s *server) restoreBuild(c fiber.Ctx) error {
	ctx, cancel := ask(c)
	defer cancel()
	if err := s.Store.Restore(ctx, c.Params("id")); err != nil {
		return err
	}
	return s.getBuild(c)
}

// setTag names the state that is answered. It is a weak tag (RFC 9110): the same state may be sent compressed
// or not.
func setTag(c fiber.Ctx, tag string) { c.Set("ETag", `W/"`+tag+`"`) }

// matches is the tag that a request was made from, strong or weak; empty when there is none.
func matches(c fiber.Ctx) string {
	return strings.Trim(strings.TrimPrefix(c.Get("If-Match"), "W/"), `"`)
}

// base reads which state of the build the request was made from.
func base(c fiber.Ctx) (store.Tag, error) {
	match := matches(c)
	if match == "" {
		return store.Tag{}, problem(http.StatusPreconditionRequired, "The request does not say which state of the build it is for.", "send its tag as If-Match")
	}
	tag, err := store.ParseTag(match)
	if err != nil {
		return tag, problem(http.StatusBadRequest, sentence(err.Error()), "send the tag of the build as it came")
	}
	return tag, nil
}

func (s *server) editBuild(c fiber.Ctx) error {
	from, err := base(c)
	if err != nil {
		return err
	}
	name, err := key(c)
	if err != nil {
		return err
	}
	var req Edits
	if _, err := s.body(c, &req); err != nil {
		return err
	}
	asked, err := json.Marshal(req.Edits)
	if err != nil {
		return err
	}
	b, done, err := s.find(c, name, asked)
	if err != nil {
		return err
	}
	if done {
		return s.sendStored(c, b)
	}
	if b.Tag != from {
		return s.stale(c, from, b)
	}
	boardN := b.BoardN
	lib, doc, err := s.documentOf(c, b)
	if err != nil {
		return err
	}
	if slices.ContainsFunc(req.Edits, func(e plan.Edit) bool { _, moves := e.(plan.Board); return moves }) {
		lib, boardN = s.lib(c), 0 // the builder moves it
	}
	doc, words, err := plan.Apply(lib, doc, req.Edits)
	if err != nil {
		return err
	}
	if boardN == 0 || doc.Board != b.Board {
		lib, boardN = s.lib(c), s.newest(c, doc.Board)
	}
	lib = lib.For(doc)
	a, err := s.analyse(b.ID, lib, doc)
	if err != nil {
		return err
	}
	draft, err := Draft(doc, a, words)
	if err != nil {
		return err
	}
	draft.Key, draft.Asked, draft.BoardN = name, asked, boardN
	if len(req.Edits) == 1 {
		_, draft.Coalesces = req.Edits[0].(plan.Program)
	}
	draft.Line, draft.About = plan.LineOf(req.Edits)
	ctx, cancel := ask(c)
	defer cancel()
	b, err = s.Store.Save(ctx, b.ID, from, draft)
	if err != nil {
		return s.explainStale(c, from, err)
	}
	return s.sendKept(c, b, draft, doc, a)
}

// find reads the build that a request names, and whether the request was made before.
func (s *server) find(c fiber.Ctx, key string, asked []byte) (b *store.Build, done bool, err error) {
	ctx, cancel := ask(c)
	defer cancel()
	if b, err = s.Store.Get(ctx, c.Params("id")); err != nil {
		return nil, false, err
	}
	done, err = s.Store.Seen(ctx, b.ID, key, asked)
	return b, done, err
}

func (s *server) sendStored(c fiber.Ctx, b *store.Build) error {
	v, err := s.load(c, b)
	if err != nil {
		return err
	}
	return send(c, v)
}

// explainStale turns the store's word that another was first into a problem
// with the build as it is now.
func (s *server) explainStale(c fiber.Ctx, from store.Tag, err error) error {
	var stale *store.StaleError
	if !errors.As(err, &stale) {
		return err
	}
	ctx, cancel := ask(c)
	defer cancel()
	b, err := s.Store.Get(ctx, c.Params("id"))
	if err != nil {
		return err
	}
	return s.stale(c, from, b)
}

// stale says that another was first, with the build as it is now and what has
// changed in words.
func (s *server) stale(c fiber.Ctx, from store.Tag, now *store.Build) error {
	v, err := s.load(c, now)
	if err != nil {
		return err
	}
	p := problem(http.StatusPreconditionFailed, "This build was changed elsewhere in the meantime.", "look at what changed, then make your change again or leave it")
	p.Current = v
	ctx, cancel := ask(c)
	defer cancel()
	data, err := s.Store.Document(ctx, now.ID, from.Revision)
	if err == nil {
		if old, err := v.lib.Parse(data); err == nil {
			p.Changes = build.Diff(old, v.Document)
		}
	}
	return p
}

func (s *server) undoBuild(c fiber.Ctx) error { return s.step(c, s.Store.Undo) }

func (s *server) redoBuild(c fiber.Ctx) error { return s.step(c, s.Store.Redo) }

// step moves along the revisions.
func (s *server) step(c fiber.Ctx, move func(context.Context, string, store.Tag) (*store.Build, error)) error {
	from, err := base(c)
	if err != nil {
		return err
	}
	ctx, cancel := ask(c)
	defer cancel()
	b, err := move(ctx, c.Params("id"), from)
	if err != nil {
		return s.explainStale(c, from, err)
	}
	return s.sendStored(c, b)
}
