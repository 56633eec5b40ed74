package server

import (
	"bytes"
	"encoding/json"
	"errors"
	"net/http"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/board"
	"cablaggio/core/build"
	"cablaggio/core/drawer"
)

const libraryKey = "library"

// withOwn gives a request the library with the builder's own boards and
// resistors in it. They are read each time: several servers may share one
// database.
func (s *server) withOwn(c fiber.Ctx) error {
	ctx, cancel := ask(c)
	defer cancel()
	own, err := s.Store.Boards(ctx)
	if err != nil {
		return err
	}
	items, err := s.Store.Drawer(ctx)
	if err != nil {
		return err
	}
	lib := &build.Library{Boards: slices.Clone(s.Library.Boards), Catalogue: s.Library.Catalogue, Resistors: drawer.Resistors(fromStore(items))}
	for _, data := range own {
		p, err := board.Parse(bytes.NewReader(data))
		if err != nil {
			s.Log.Error("a board in the database is not one", "error", err)
			continue
		}
		lib.Boards = append(lib.Boards, p)
	}
	c.Locals(libraryKey, lib)
	return c.Next()
}

// lib returns the library of a request.
func (s *server) lib(c fiber.Ctx) *build.Library {
	if lib, ok := c.Locals(libraryKey).(*build.Library); ok {
		return lib
	}
	return s.Library
}

// shipped reports whether a board came with the program.
func (s *server) shipped(id string) bool {
	_, ok := s.Library.Board(id)
	return ok
}

// keepBoard takes in a board that the builder described.
func (s *server) keepBoard(c fiber.Ctx) error {
	if t, _, _ := strings.Cut(c.Get("Content-Type"), ";"); t != "application/json" {
		return problem(http.StatusUnsupportedMediaType, "The body is not JSON.", "send it as application/json")
	}
	p, err := board.Parse(bytes.NewReader(c.Body()))
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
	ctx, cancel := ask(c)
	defer cancel()
	if err := s.Store.KeepBoard(ctx, p.ID, data); err != nil {
		return err
	}
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
	c.Set("Content-Type", "application/json")
	return c.Send(b.Bytes())
}
