package testkit

import (
	"fmt"

	"pgregory.net/rapid"

	"cablaggio/core/board"
	"cablaggio/core/build"
	"cablaggio/core/plan"
)

// RandomEdit draws an edit of the build, sensible or not: it may be refused.
func RandomEdit(t *rapid.T, lib *build.Library, doc *build.Document) plan.Edit {
	kind := lib.Catalogue.Kinds[rapid.IntRange(0, len(lib.Catalogue.Kinds)-1).Draw(t, "kind")]
	e := plan.Edit{Op: plan.Add, Kind: kind.ID}
	if len(kind.Hookups) > 0 {
		e.Hookup = rapid.SampledFrom(kind.Hookups).Draw(t, "hookup").ID
	}
	if len(doc.Parts) == 0 {
		return e
	}
	b, _ := lib.Board(doc.Board)
	p := rapid.SampledFrom(doc.Parts).Draw(t, "part")
	own, _ := lib.Catalogue.Kind(p.Kind)
	terminal := func(name string) build.Terminal {
		q := rapid.SampledFrom(doc.Parts).Draw(t, name)
		k, _ := lib.Catalogue.Kind(q.Kind)
		if rapid.Bool().Draw(t, name+" on board") {
			return build.Pin(rapid.SampledFrom(b.Terminals()).Draw(t, name+" place"))
		}
		return build.Of(q.ID, rapid.SampledFrom(k.Terminals).Draw(t, name+" leg").ID)
	}
	v := rapid.SampledFrom(own.Values).Draw(t, "value")
	pin := rapid.SampledFrom(b.Pins).Draw(t, "pin").Name
	signal := ""
	if len(p.Signals) > 0 {
		signal = p.Signals[0].Name
	}
	return rapid.SampledFrom([]plan.Edit{
		e, e,
		{Op: plan.Remove, Part: p.ID},
		{Op: plan.Flip, Part: p.ID},
		{Op: plan.Join, Terminal: terminal("from"), To: terminal("to")},
		{Op: plan.Join, Terminal: terminal("from"), To: terminal("to")},
		{Op: plan.Free, Terminal: terminal("free")},
		{Op: plan.Insert, Terminal: terminal("insert"), Text: "330"},
		{Op: plan.MovePin, Part: p.ID, Signal: signal, Pin: pin},
		{Op: plan.SetPull, Part: p.ID, Signal: signal, Pull: rapid.SampledFrom([]board.Pull{"", "up", "down"}).Draw(t, "pull")},
		{Op: plan.Value, Part: p.ID, Value: v.ID, Text: fmt.Sprint(rapid.Float64Range(v.Min, v.Max).Draw(t, "number"))},
		{Op: plan.Size, Part: p.ID},
		{Op: plan.Board, Board: rapid.SampledFrom(lib.Boards).Draw(t, "to board").ID},
	}).Draw(t, "edit")
}
