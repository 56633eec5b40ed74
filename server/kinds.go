package server

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/store"
)

// ownKinds reads the builder's own kinds of parts, and how often each was kept. One that this
// version does not take is left out, and the log says so.
func (s *server) ownKinds(ctx context.Context) (kinds []part.Kind, counts map[string]int, err error) {
	kept, err := s.Store.Kinds(ctx)
	if err != nil {
		return nil, nil, err
	}
	counts = map[string]int{}
	for _, k := range kept {
		parsed, err := part.Parse(bytes.NewReader(k.Kind), s.Library.Catalogue)
		if err != nil {
			s.Log.Error("a part in the database is not one", "id", k.ID, "error", err)
			continue
		}
		kinds = append(kinds, *parsed)
		counts[k.ID] = k.N
	}
	return kinds, counts, nil
}

// notAPart says in words what is wrong with a kind of part, all of it.
func notAPart(err error) error {
	wrong := problem(http.StatusUnprocessableEntity, "This is not a part that can be taken.", err.Error())
	var all part.Problems
	if errors.As(err, &all) {
		for _, x := range all {
			wrong.Problems = append(wrong.Problems, build.Problem{Where: x.Where, What: x.Right})
		}
	}
	return wrong
}

// readLeaflet makes a kind of part of what a leaflet says; nothing is kept.
func (s *server) readLeaflet(c fiber.Ctx) error {
	var l part.Leaflet
	if _, err := s.body(c, &l); err != nil {
		return err
	}
	k, err := l.Kind(s.freeKind(c, l.Name), s.lib(c).Catalogue)
	if err != nil {
		return notAPart(err)
	}
	return c.JSON(part.File{Format: part.Format, Kind: *k})
}

// freeKind is an id for a kind of part of a name, which no other has.
func (s *server) freeKind(c fiber.Ctx, name string) string {
	id := part.OwnPrefix + part.PlainID(name)
	for n, free := 2, id; ; n++ {
		if _, taken := s.lib(c).Catalogue.Kind(free); !taken {
			return free
		}
		free = fmt.Sprintf("%s-%d", id, n)
	}
}

// keepKind takes in a kind of part that the builder described.
func (s *server) keepKind(c fiber.Ctx) error {
	body, err := s.json(c)
	if err != nil {
		return err
	}
	k, err := part.Parse(bytes.NewReader(body), s.Library.Catalogue)
	if err != nil {
		return notAPart(err)
	}
	from := 0
	if match := matches(c); match != "" {
		if from, err = strconv.Atoi(match); err != nil {
			return problem(http.StatusBadRequest, "The If-Match is not the tag of a part.", "send the tag of the part as it came")
		}
	}
	ctx, cancel := ask(c)
	defer cancel()
	var stale *store.StaleError
	n, err := s.Store.KeepKind(ctx, k.ID, from, k.Write())
	switch {
	case errors.As(err, &stale) && from == 0:
		return problem(http.StatusPreconditionFailed, "You have a part with this id already.", "give this one another id, or keep it as what the other one is from now on: builds that have one keep it as it was")
	case errors.As(err, &stale):
		return problem(http.StatusPreconditionFailed, "This part was described anew elsewhere in the meantime.", "look at what it is now, then keep yours or leave it")
	case err != nil:
		return err
	}
	setTag(c, strconv.Itoa(n))
	c.Status(http.StatusCreated)
	return c.JSON(part.File{Format: part.Format, Kind: *k})
}

func (s *server) dropKind(c fiber.Ctx) error {
	if !strings.HasPrefix(c.Params("kind"), part.OwnPrefix) {
		return problem(http.StatusConflict, "This part comes with Cablaggio; it stays.", "")
	}
	ctx, cancel := ask(c)
	defer cancel()
	if err := s.Store.DropKind(ctx, c.Params("kind")); err != nil {
		return err
	}
	return c.SendStatus(http.StatusNoContent)
}

// exportKind sends a kind of part as a file in the open format, also one that came with the program.
func (s *server) exportKind(c fiber.Ctx) error {
	k, ok := s.lib(c).Catalogue.Kind(c.Params("kind"))
	if !ok {
		return problem(http.StatusNotFound, "There is no such part.", "")
	}
	c.Attachment(k.ID + ".part.json")
	c.Set("Content-Type", jsonType)
	return c.Send(k.Write())
}
