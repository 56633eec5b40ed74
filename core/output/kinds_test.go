package output_test

import (
	"errors"
	"fmt"
	"os"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/diagnose"
	"cablaggio/core/faults/meter"
	"cablaggio/core/judgement/check"
	"cablaggio/core/layout/placement"
	"cablaggio/core/output/assembly"
	"cablaggio/core/planning/choose"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/bench"
	"cablaggio/core/running/program"
	"cablaggio/core/running/should"
	"cablaggio/core/testkit"
	"cablaggio/toolchain"
)

var (
	lib      = build.Shipped()
	compiler = toolchain.New()
	known    = wiring.NewCache()
)

// Everything that follows from a kind of part does follow, for each hookup on each board: a
// layout, steps for all of its legs, a start and a test program that compile and that nothing is
// said against, hands that move all that is read, sentences that are understood, checks with a
// meter, and a diagnosis that finds what was put in. A few of them where tests are few.
func TestKindsEverywhere(t *testing.T) {
	only, n := os.Getenv("CABLAGGIO_KIND"), 0
	for _, kind := range lib.Catalogue.Kinds {
		for _, h := range kind.Hookups {
			for _, b := range lib.Boards {
				if n++; only != "" && only != kind.ID || only == "" && !testkit.Wide() && n%211 != 1 || h.Host != nil {
					continue
				}
				doc := added(t, lib, b.ID, plan.Add{Kind: kind.ID, Hookup: h.ID})
				if doc == nil {
					continue
				}
				a, err := check.Check(lib, doc)
				require.NoError(t, err)
				if a.Counts.Stop+a.Counts.Care > 0 {
					continue // the hookup is not for this board; that a default one is never so is held elsewhere
				}
				t.Run(fmt.Sprintf("%s/%s/%s", kind.ID, h.ID, b.ID), func(t *testing.T) { everything(t, lib, doc) })
			}
		}
	}
}

// added makes a build on a board; nil where the board has not the pins that it takes.
func added(t require.TestingT, lib *build.Library, board string, edits ...plan.Edit) *build.Document {
	doc, _, err := plan.Apply(lib, build.New("one part", board), edits)
	var full *choose.NoPinError
	if errors.As(err, &full) {
		return nil
	}
	require.NoError(t, err)
	return doc
}

func everything(t *testing.T, lib *build.Library, doc *build.Document) {
	p, err := placement.Place(lib, doc)
	require.NoError(t, err)
	steps := assembly.Steps(lib, doc, p)
	for i := range doc.Parts {
		assert.True(t, slices.ContainsFunc(steps, func(s assembly.Step) bool { return slices.Contains(s.Parts, doc.Parts[i].ID) }), "no step seats %s", doc.Parts[i].Name)
	}
	net := known.Build(lib, doc)
	hands := bench.Hands(net)
	for i := range doc.Parts {
		for _, s := range doc.Parts[i].Signals {
			if c := net.HandOf(doc.Parts[i].ID, s.Name); c >= 0 {
				assert.True(t, slices.ContainsFunc(hands, func(h bench.Hand) bool { return h.Of == net.Controls[c].Of }), "no hand moves %s", net.Controls[c].Name)
			}
		}
	}
	r := should.NewReader(net)
	for _, text := range r.Suggest() {
		_, err := r.Read(text)
		assert.NoError(t, err, text)
	}
	b, _ := lib.Board(doc.Board)
	languages := build.Languages
	if !b.Programs().Python {
		languages = languages[:1]
	}
	for _, l := range languages[:testkit.Few(1, len(languages))] {
		for _, write := range []func(*build.Library, *build.Document, build.Language) (*build.Program, error){program.Starter, program.Test} {
			tried := doc.Clone()
			tried.Program, err = write(lib, doc, l)
			require.NoError(t, err)
			a, err := program.Check(t.Context(), compiler, lib, tried, known)
			require.NoError(t, err)
			require.True(t, a.Compiles, "%s: %+v\n%s", l, a.Messages, tried.Program.Text)
			for _, x := range a.Findings {
				assert.Equal(t, check.Note, x.Level, "%s: line %d: %s\n%s", l, x.Line, x.Title, tried.Program.Text)
			}
		}
	}
	m := meter.Handheld()
	checks, err := m.ChecksWith(known, lib, doc)
	require.NoError(t, err)
	assert.NotEmpty(t, checks.Checks)
	finds(t, m, lib, doc)
}

// finds puts each fault in, and asks until the diagnosis is sure.
func finds(t *testing.T, m *meter.Instrument, lib *build.Library, doc *build.Document) {
	c := diagnose.New(known, m, lib, doc)
	shown, first := 0, 0
	var missed []string
	for _, f := range c.Faults()[1:] {
		b, ok := c.Bench(f.ID)
		if !ok {
			continue
		}
		wrong, seen := b.Start()
		if len(wrong) == 0 {
			continue
		}
		shown++
		var r *diagnose.Result
		var err error
		for range 12 {
			r, err = c.Ask(seen)
			require.NoError(t, err)
			if r.Sure || r.Next == nil || r.Next.Sort == diagnose.Try {
				break
			}
			o, _, err := b.Answer(r.Next.Ask)
			require.NoError(t, err)
			seen = append(seen, o)
		}
		if len(r.Causes) > 0 && slices.ContainsFunc(r.Causes[0].Faults, b.Right) {
			first++
		} else {
			missed = append(missed, f.ID)
		}
	}
	most := max(2, (shown+9)/10)
	if kind, _ := lib.Catalogue.Kind(doc.Parts[0].Kind); kind.Acts == part.Tone {
		most = shown / 5 // known to be short: that a disc is silent tells little of why
	}
	assert.LessOrEqual(t, len(missed), most, "%d of %d are found; not %v", first, shown, missed)
}
