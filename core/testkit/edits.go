package testkit

import (
	"fmt"

	"pgregory.net/rapid"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/planning/plan"
)

// RandomEdit draws an edit of the build, sensible or not: it may be refused.
func RandomEdit(t *rapid.T, lib *build.Library, doc *build.Document) plan.Edit {
	kind := pick(t, "kind", lib.Catalogue.Kinds)
	e := plan.Add{Kind: kind.ID}
	if len(kind.Hookups) > 0 {
		e.Hookup = pick(t, "hookup", kind.Hookups).ID
	}
	if len(doc.Parts) == 0 {
		return e
	}
	b, _ := lib.Board(doc.Board)
	p := pick(t, "part", doc.Parts)
	own, _ := lib.Catalogue.Kind(p.Kind)
	terminal := func(name string) build.Terminal {
		q := pick(t, name, doc.Parts)
		k, _ := lib.Catalogue.Kind(q.Kind)
		if rapid.Bool().Draw(t, name+" on board") {
			return build.Pin(pick(t, name+" place", b.Terminals()))
		}
		return build.Of(q.ID, pick(t, name+" leg", k.Terminals).ID)
	}
	v := pick(t, "value", own.Values)
	pin := pick(t, "pin", b.Pins).Name
	signal := ""
	if len(p.Signals) > 0 {
		signal = p.Signals[0].Name
	}
	return pick(t, "edit", []plan.Edit{
		e, e,
		plan.Remove{Part: p.ID},
		plan.Flip{Part: p.ID},
		plan.Join{Terminal: terminal("from"), To: terminal("to")},
		plan.Join{Terminal: terminal("from"), To: terminal("to")},
		plan.Free{Terminal: terminal("free")},
		plan.Insert{Terminal: terminal("insert"), Text: "330"},
		plan.MovePin{Part: p.ID, Signal: signal, Pin: pin},
		plan.SetPull{Part: p.ID, Signal: signal, Pull: rapid.SampledFrom([]board.Pull{"", "up", "down"}).Draw(t, "pull")},
		plan.Value{Part: p.ID, Value: v.ID, Text: fmt.Sprint(rapid.Float64Range(v.Min, v.Max).Draw(t, "number"))},
		plan.Size{Part: p.ID},
		plan.Board{Board: pick(t, "to board", lib.Boards).ID},
	})
}

// pick draws one of a list by its index, which is all that a failure prints.
func pick[T any](t *rapid.T, label string, from []T) T {
	return from[rapid.IntRange(0, len(from)-1).Draw(t, label)]
}

// Wired returns the edits that add a part of a kind and type by a hookup, with
// what it hangs on before it.
func Wired(kind *part.Kind, h part.Hookup, typ string) []plan.Edit {
	add := plan.Add{Kind: kind.ID, Type: typ, Hookup: h.ID}
	switch {
	case h.Host == nil:
		return []plan.Edit{add}
	case h.Host.Hookup != "":
		return []plan.Edit{plan.Add{Kind: kind.ID, Hookup: h.Host.Hookup}, add}
	}
	return []plan.Edit{plan.Add{Kind: h.Host.Kinds[0]}, add}
}
