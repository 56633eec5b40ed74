package main

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/layout/placement"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/program"
	"cablaggio/core/testkit"
	"cablaggio/toolchain"
)

// Whatever kind of part is taken on whatever board, as it is usually wired: the plan is sound, it
// has a place on a breadboard, and the program that it begins with fits in every language of the
// board, and so does the one that tries each part. One loop, so that a new kind is in it by being in the catalogue.
func TestEveryKindOnEveryBoard(t *testing.T) {
	lib, tools, known := build.Shipped(), toolchain.New(), wiring.NewCache()
	n := 0
	for _, kind := range lib.Catalogue.Kinds {
		if len(kind.Hookups) == 0 {
			continue // a resistor is no part by itself
		}
		for _, b := range lib.Boards {
			if n++; !testkit.Wide() && n%13 != 0 {
				continue
			}
			t.Run(fmt.Sprintf("%s on %s", kind.ID, b.ID), func(t *testing.T) {
				t.Parallel()
				doc, _, err := plan.Apply(lib, build.New(kind.Name, b.ID), []plan.Edit{plan.Add{Kind: kind.ID}})
				if err != nil {
					t.Skipf("it does not go there: %v", err) // more pins than there are
				}
				a, err := check.Check(lib, doc)
				require.NoError(t, err)
				assert.Zero(t, a.Counts.Stop, "%+v", a.Findings)

				layout, err := placement.Place(lib, doc)
				require.NoError(t, err, "it has a place")
				for _, p := range doc.Parts {
					assert.NotEmpty(t, layout.Seat(p.ID).Legs, p.ID)
				}

				languages := []build.Language{build.CPP}
				if b.Programs().Python {
					languages = build.Languages
				}
				for _, l := range languages {
					doc := doc.Clone()
					doc.Program, err = program.Starter(lib, doc, l)
					require.NoError(t, err)
					fits, err := program.Check(t.Context(), tools, lib, doc, known)
					require.NoError(t, err)
					assert.True(t, fits.Compiles, "%s: %+v\n%s", l, fits.Messages, doc.Program.Text)
					assert.Zero(t, fits.Counts.Stop+fits.Counts.Care, "%s: %+v\n%s", l, fits.Findings, doc.Program.Text)

					doc.Program, err = program.Test(lib, doc, l)
					require.NoError(t, err)
					b, _ := lib.Board(doc.Board)
					made, err := tools.Compile(t.Context(), doc.Program, b)
					require.NoError(t, err)
					assert.NotNil(t, made.Program, "the test program in %s: %+v\n%s", l, made.Messages, doc.Program.Text)
				}
			})
		}
	}
}
