package server

import (
	"bytes"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/drawer"
	"cablaggio/store"
)

func (s *server) getDrawer(c fiber.Ctx) error {
	ctx, cancel := ask(c)
	defer cancel()
	items, err := s.Store.Drawer(ctx)
	if err != nil {
		return err
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(DrawerView{fromStore(items)})
}

// putDrawer takes the drawer's whole content.
func (s *server) putDrawer(c fiber.Ctx) error {
	var req DrawerView
	if err := body(c, &req); err != nil {
		return err
	}
	if err := drawer.Check(s.lib(c).Catalogue, req.Items); err != nil {
		return err
	}
	items := make([]store.Item, len(req.Items))
	for i, it := range req.Items {
		items[i] = store.Item{Kind: it.Kind, Type: it.Type, Name: it.Name, Values: it.Values, Pieces: it.Pieces, Measured: it.Measured}
	}
	ctx, cancel := ask(c)
	defer cancel()
	if err := s.Store.FillDrawer(ctx, items); err != nil {
		return err
	}
	return s.getDrawer(c)
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
	c.Set("Content-Type", "text/csv; charset=utf-8")
	return c.Send(b.Bytes())
}

// readDrawer says what a table holds, without taking it.
func (s *server) readDrawer(c fiber.Ctx) error {
	var req Text
	if err := body(c, &req); err != nil {
		return err
	}
	items, err := drawer.Read(bytes.NewBufferString(req.Text), s.lib(c).Catalogue)
	if err != nil {
		return err
	}
	return c.JSON(DrawerView{items})
}
