package server

import (
	"context"
	"fmt"
	"slices"

	"cablaggio/core/document/build"
	"cablaggio/core/faults/meter"
	"cablaggio/demo"
	"cablaggio/store"
)

// LoadLog keeps the log that a demo build comes with.
func LoadLog(ctx context.Context, lib *build.Library, st *store.Store, name, id string, doc *build.Document) error {
	entries, err := demo.Log(name)
	if err != nil || len(entries) == 0 {
		return err
	}
	m := meter.Handheld()
	list, err := m.Checks(lib, doc)
	if err != nil {
		return err
	}
	for _, x := range entries {
		e := store.Entry{Kind: x.Kind, Part: x.Part, Text: x.Text, Data: []byte("{}")}
		switch x.Kind {
		case "reading":
			i := slices.IndexFunc(list.Checks, func(c meter.Check) bool { return c.ID == x.Check })
			if i < 0 {
				return fmt.Errorf("there is no check %s", x.Check)
			}
			e, err = Reading(m, &list.Checks[i], x.Reading)
		case "picture":
			e, err = PictureOf(x.Picture, x.Text, x.Part)
		}
		if err != nil {
			return err
		}
		if _, err := st.Log(ctx, id, "", e); err != nil {
			return err
		}
	}
	return nil
}
