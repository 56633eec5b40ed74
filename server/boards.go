package server

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"slices"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/document/drawer"
	"cablaggio/store"
)

const libraryKey = "library"

// ownThings are the builder's own boards and resistors, as they were at a tag.
type ownThings struct {
	tags      store.Tags
	revisions map[string][]*board.Profile
	kinds     map[string]int // how often each kind of part was kept
	library   *build.Library // with the newest of them in it
}

// withOwn gives a request the library with the builder's own boards and
// resistors in it. Whether they have changed is asked each time, for several servers
// may share one database; they are read when they have.
func (s *server) withOwn(c fiber.Ctx) error {
	ctx, cancel := ask(c)
	defer cancel()
	own, err := s.ownThings(ctx)
	if err != nil {
		return err
	}
	c.Locals(libraryKey, own)
	return c.Next()
}

func (s *server) ownThings(ctx context.Context) (*ownThings, error) {
	tags, err := s.Store.Tags(ctx)
	if err != nil {
		return nil, err
	}
	if own := s.own.Load(); own != nil && own.tags == tags {
		return own, nil
	}
	kept, err := s.Store.Boards(ctx)
	if err != nil {
		return nil, err
	}
	items, err := s.Store.Drawer(ctx)
	if err != nil {
		return nil, err
	}
	kinds, counts, err := s.ownKinds(ctx)
	if err != nil {
		return nil, err
	}
	own := &ownThings{tags, map[string][]*board.Profile{}, counts,
		&build.Library{Boards: slices.Clone(s.Library.Boards), Catalogue: s.Library.Catalogue.With(kinds), Resistors: drawer.Resistors(fromStore(items))}}
	for _, b := range kept {
		p, err := board.Parse(bytes.NewReader(b.Profile))
		if err != nil {
			s.Log.Error("a board in the database is not one", "id", b.ID, "revision", b.N, "error", err)
		}
		own.revisions[b.ID] = append(own.revisions[b.ID], p)
		if b.Newest && p != nil {
			own.library.Boards = append(own.library.Boards, p)
		}
	}
	s.own.Store(own)
	return own, nil
}

// lib returns the library of a request.
func (s *server) lib(c fiber.Ctx) *build.Library {
	if own, ok := c.Locals(libraryKey).(*ownThings); ok {
		return own.library
	}
	return s.Library
}

// libOf returns the library of a build: a board of the builder's own is in it as it was
// when the build was put on it.
func (s *server) libOf(c fiber.Ctx, b *store.Build) *build.Library {
	lib := s.lib(c)
	p := s.keptBoard(c, b)
	if p == nil {
		return lib
	}
	of := *lib
	of.Boards = slices.Clone(lib.Boards)
	for i, x := range of.Boards {
		if x.ID == p.ID {
			of.Boards[i] = p
		}
	}
	return &of
}

// keptBoard returns the board of a build when it is not the newest of its name.
func (s *server) keptBoard(c fiber.Ctx, b *store.Build) *board.Profile {
	own, ok := c.Locals(libraryKey).(*ownThings)
	if !ok || b.BoardN == 0 {
		return nil
	}
	if all := own.revisions[b.Board]; b.BoardN < len(all) {
		return all[b.BoardN-1]
	}
	return nil
}

// newest returns the number of the newest revision of a board, 0 for one that came with
// the program.
func (s *server) newest(c fiber.Ctx, id string) int {
	own, ok := c.Locals(libraryKey).(*ownThings)
	if !ok {
		return 0
	}
	return len(own.revisions[id])
}

// shipped reports whether a board came with the program.
func (s *server) shipped(id string) bool {
	_, ok := s.Library.Board(id)
	return ok
}

// keepBoard takes in a board that the builder described.
func (s *server) keepBoard(c fiber.Ctx) error {
	body, err := s.json(c)
	if err != nil {
		return err
	}
	p, err := board.Parse(bytes.NewReader(body))
	if err == nil {
		if twins := p.Unnumbered(); len(twins) > 0 {
			err = twins
		}
	}
	if err != nil {
		wrong := problem(http.StatusUnprocessableEntity, "This is not a board that can be taken.", err.Error())
		var all board.Problems
		if errors.As(err, &all) {
			for _, x := range all {
				wrong.Problems = append(wrong.Problems, build.Problem{Where: x.Where, What: x.Right})
			}
		}
		return wrong
	}
	switch {
	case !build.ValidID(p.ID):
		return problem(http.StatusUnprocessableEntity, "The id of the board is not one.", "a letter, then lower-case letters, digits and hyphens, at most 40")
	case s.shipped(p.ID):
		return problem(http.StatusConflict, "A board that comes with Cablaggio has this id.", "give yours another one")
	}
	data, err := json.Marshal(p)
	if err != nil {
		return err
	}
	from := 0
	if match := matches(c); match != "" {
		if from, err = strconv.Atoi(match); err != nil {
			return problem(http.StatusBadRequest, "The If-Match is not the tag of a board.", "send the tag of the board as it came")
		}
	}
	ctx, cancel := ask(c)
	defer cancel()
	var stale *store.StaleError
	n, err := s.Store.KeepBoard(ctx, p.ID, from, data)
	switch {
	case errors.As(err, &stale) && from == 0:
		return problem(http.StatusPreconditionFailed, "You have a board with this name already.", "give this one another name, or keep it as what the other one is from now on: builds that are on it stay on the board as it was")
	case errors.As(err, &stale):
		return problem(http.StatusPreconditionFailed, "This board was described anew elsewhere in the meantime.", "look at what it is now, then keep yours or leave it")
	case err != nil:
		return err
	}
	setTag(c, strconv.Itoa(n))
	c.Status(http.StatusCreated)
	return c.JSON(p)
}

func (s *server) dropBoard(c fiber.Ctx) error {
	if s.shipped(c.Params("board")) {
		return problem(http.StatusConflict, "This board comes with Cablaggio; it stays.", "")
	}
	ctx, cancel := ask(c)
	defer cancel()
	if err := s.Store.DropBoard(ctx, c.Params("board")); err != nil {
		return err
	}
	return c.SendStatus(http.StatusNoContent)
}

// exportBoard sends a board as a file in the open format.
func (s *server) exportBoard(c fiber.Ctx) error {
	p, ok := s.lib(c).Board(c.Params("board"))
	if !ok {
		return problem(http.StatusNotFound, "There is no such board.", "")
	}
	c.Attachment(p.ID + ".json")
	var b bytes.Buffer
	if err := writeJSON(&b, p); err != nil {
		return err
	}
	c.Set("Content-Type", jsonType)
	return c.Send(b.Bytes())
}
