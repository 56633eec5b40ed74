package program_test

import (
	"context"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/program"
	"cablaggio/core/testkit"
	_ "cablaggio/core/testkit/drawn"
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
		if next, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Add{Kind: kind.ID, Hookup: h.ID}}); err == nil {
			doc = next
		}
	}
	return doc
}

// A drawn is a build with what is written for it.
type drawn struct {
	doc      *build.Document
	language build.Language
	test     bool
}

var draws = rapid.Custom(func(t *rapid.T) drawn {
	d := drawn{doc: randomBuild(t), test: rapid.Bool().Draw(t, "test program")}
	languages := build.Languages
	if b, _ := lib.Board(d.doc.Board); !b.Programs().Python {
		languages = languages[:1]
	}
	d.language = rapid.SampledFrom(languages).Draw(t, "language")
	return d
})

// A starter of any build compiles and runs in every language of its board; and where the wiring
// has nothing against it, neither has the program. A few builds are always the same ones; where
// tests are wide, as many as are asked for.
func TestAStarterFitsItsBuild(t *testing.T) {
	if testkit.Wide() {
		rapid.Check(t, func(t *rapid.T) { starterFits(t, draws.Draw(t, "build")) })
		return
	}
	for seed := range 8 {
		starterFits(t, draws.Example(seed))
	}
}

// A tester is testing.T, or rapid's.
type tester interface {
	require.TestingT
	Context() context.Context
	Fatalf(format string, args ...any)
}

func starterFits(t tester, d drawn) {
	write := program.Starter
	if d.test {
		write = program.Test
	}
	p, err := write(lib, d.doc, d.language)
	require.NoError(t, err)
	doc := d.doc.Clone()
	doc.Program = p
	a, err := program.Check(t.Context(), compiler, lib, doc, known)
	require.NoError(t, err)
	require.True(t, a.Compiles, "%s: %+v\n%s", d.language, a.Messages, p.Text)
	wires, err := check.NewMemory().Find(lib, doc)
	require.NoError(t, err)
	sound := !slices.ContainsFunc(wires, func(x check.Finding) bool { return x.Level != check.Note })
	for _, x := range a.Findings {
		if sound && x.Level != check.Note || x.Rule == "program-crash" {
			t.Fatalf("%s on %s: line %d: %s %s\n%s", d.language, doc.Board, x.Line, x.Title, x.Why, p.Text)
		}
	}
}
