package server

import (
	"bytes"
	"errors"
	"net/http"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/document/build"
	"cablaggio/core/document/drawer"
	"cablaggio/core/judgement/check"
	"cablaggio/core/judgement/shopping"
	"cablaggio/core/output/paper"
	"cablaggio/core/output/table"
	"cablaggio/store"
)

func (s *server) getDrawer(c fiber.Ctx) error {
	ctx, cancel := ask(c)
	defer cancel()
	// The tag first: a change in between makes what is sent older, never newer, than it says.
	tags, err := s.Store.Tags(ctx)
	if err != nil {
		return err
	}
	items, err := s.Store.Drawer(ctx)
	if err != nil {
		return err
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(DrawerView{fromStore(items), strconv.FormatInt(tags.Drawer, 10)})
}

// putDrawer takes the drawer's whole content.
func (s *server) putDrawer(c fiber.Ctx) error {
	var req DrawerView
	if _, err := s.body(c, &req); err != nil {
		return err
	}
	if err := drawer.Check(s.lib(c).Catalogue, req.Items); err != nil {
		return err
	}
	items := toStore(req.Items)
	match := matches(c)
	if match == "" {
		return problem(http.StatusPreconditionRequired, "The request does not say which state of the drawer it is for.", "send its tag as If-Match")
	}
	from, err := strconv.ParseInt(match, 10, 64)
	if err != nil {
		return problem(http.StatusBadRequest, "The If-Match is not the tag of a drawer.", "send the tag of the drawer as it came")
	}
	ctx, cancel := ask(c)
	defer cancel()
	var stale *store.StaleError
	if err := s.Store.FillDrawer(ctx, from, items); errors.As(err, &stale) {
		return problem(http.StatusPreconditionFailed, "The drawer was changed elsewhere in the meantime.", "look at what is in it now, then make your change again")
	} else if err != nil {
		return err
	}
	return s.getDrawer(c)
}

// shoppingOf compares a build with the drawer.
func (s *server) shoppingOf(c fiber.Ctx) (*store.Build, *build.Library, *build.Document, []shopping.Line, error) {
	b, lib, doc, err := s.opened(c)
	if err != nil {
		return nil, nil, nil, nil, err
	}
	ctx, cancel := ask(c)
	defer cancel()
	items, err := s.Store.Drawer(ctx)
	if err != nil {
		return nil, nil, nil, nil, err
	}
	lines, err := shopping.List(check.NewMemory(), lib, doc, fromStore(items))
	return b, lib, doc, lines, err
}

func (s *server) getShopping(c fiber.Ctx) error {
	_, _, _, lines, err := s.shoppingOf(c)
	if err != nil {
		return err
	}
	return c.JSON(lines)
}

// exportShopping sends the shopping list as a file.
func (s *server) exportShopping(c fiber.Ctx) error {
	b, lib, doc, lines, err := s.shoppingOf(c)
	if err != nil {
		return err
	}
	var out bytes.Buffer
	switch c.Params("format") {
	case "shopping.csv":
		err = table.Shopping(&out, lines)
		return errors.Join(err, sendFile(c, b.Title, "-shopping.csv", csvType+"; charset=utf-8", out.Bytes()))
	case "shopping.pdf":
		err = paper.Shopping(&out, lib, doc, lines)
		return errors.Join(err, sendFile(c, b.Title, "-shopping.pdf", pdfType, out.Bytes()))
	}
	return problem(http.StatusNotFound, "There is no such format.", "the shopping list goes out as shopping.csv or shopping.pdf")
}

func toStore(items []drawer.Item) []store.Item {
	out := make([]store.Item, len(items))
	for i, it := range items {
		out[i] = store.Item{Kind: it.Kind, Type: it.Type, Name: it.Name, Values: it.Values, Pieces: it.Pieces, Measured: it.Measured}
	}
	return out
}

func fromStore(items []store.Item) []drawer.Item {
	out := make([]drawer.Item, len(items))
	for i, it := range items {
		out[i] = drawer.Item{ID: it.ID, Kind: it.Kind, Type: it.Type, Name: it.Name, Values: it.Values, Pieces: it.Pieces, Measured: it.Measured}
	}
	return out
}

func (s *server) exportDrawer(c fiber.Ctx) error {
	ctx, cancel := ask(c)
	defer cancel()
	items, err := s.Store.Drawer(ctx)
	if err != nil {
		return err
	}
	var b bytes.Buffer
	if err := drawer.Write(&b, s.lib(c).Catalogue, fromStore(items)); err != nil {
		return err
	}
	c.Attachment("drawer.csv")
	c.Set("Content-Type", csvType+"; charset=utf-8")
	return c.Send(b.Bytes())
}

// readDrawer says what a table holds, without taking it.
func (s *server) readDrawer(c fiber.Ctx) error {
	var req Text
	if _, err := s.body(c, &req); err != nil {
		return err
	}
	items, err := drawer.Read(bytes.NewBufferString(req.Text), s.lib(c).Catalogue)
	if err != nil {
		return err
	}
	return c.JSON(DrawerView{Items: items})
}
