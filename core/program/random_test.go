package program_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/build"
	"cablaggio/core/check"
	"cablaggio/core/plan"
	"cablaggio/core/program"
	"cablaggio/core/testkit"
)

// randomBuild draws a build of parts as people hang them on a board, each wired by a hookup.
func randomBuild(t *rapid.T) *build.Document {
	b := rapid.SampledFrom(lib.Boards).Draw(t, "board")
	doc := build.New("a build", b.ID)
	for range rapid.IntRange(1, 6).Draw(t, "parts") {
		kind := lib.Catalogue.Kinds[rapid.IntRange(0, len(lib.Catalogue.Kinds)-1).Draw(t, "kind")]
		if len(kind.Hookups) == 0 {
			continue
		}
		h := kind.Hookups[rapid.IntRange(0, len(kind.Hookups)-1).Draw(t, "hookup")]
		if next, _, err := plan.Apply(lib, doc, []plan.Edit{{Op: plan.Add, Kind: kind.ID, Hookup: h.ID}}); err == nil {
			doc = next
		}
	}
	return doc
}

// A starter of any build compiles and runs in every language of its board; and where the wiring
// has nothing against it, neither has the program.
func TestAStarterFitsItsBuild(t *testing.T) {
	tried := 0
	rapid.Check(t, func(t *rapid.T) {
		if tried++; tried > testkit.Few(8, 1000) {
			return // each takes a second
		}
		doc := randomBuild(t)
		b, _ := lib.Board(doc.Board)
		languages := build.Languages
		if !b.Programs().Python {
			languages = languages[:1]
		}
		write := program.Starter
		if rapid.Bool().Draw(t, "test program") {
			write = program.Test
		}
		l := rapid.SampledFrom(languages).Draw(t, "language")
		p, err := write(lib, doc, l)
		require.NoError(t, err)
		doc.Program = p
		a, err := program.Check(t.Context(), compiler, lib, doc, known)
		require.NoError(t, err)
		require.True(t, a.Compiles, "%s: %+v\n%s", l, a.Messages, p.Text)
		wires, err := check.NewMemory().Find(lib, doc)
		require.NoError(t, err)
		sound := true
		for _, x := range wires {
			sound = sound && x.Level == check.Note
		}
		for _, x := range a.Findings {
			if sound && x.Level != check.Note || x.Rule == "program-crash" {
				t.Fatalf("%s on %s: line %d: %s %s\n%s", l, b.ID, x.Line, x.Title, x.Why, p.Text)
			}
		}
	})
}
