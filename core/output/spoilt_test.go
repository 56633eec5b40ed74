package output_test

import (
	"bytes"
	"encoding/json"
	"io"
	"maps"
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/faults/diagnose"
	"cablaggio/core/faults/fault"
	"cablaggio/core/faults/meter"
	"cablaggio/core/judgement/check"
	"cablaggio/core/layout/placement"
	"cablaggio/core/output/assembly"
	"cablaggio/core/output/paper"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/bench"
	"cablaggio/core/running/program"
	"cablaggio/core/running/rig"
	"cablaggio/core/running/should"
)

// mine is a kind of the catalogue as a builder could have described it: by another id, with legs of
// other names; nil where only kinds that come with the program are such.
func mine(t require.TestingT, id string, renamed bool) *part.Kind {
	from, ok := lib.Catalogue.Kind(id)
	require.True(t, ok)
	k := from.Clone()
	k.ID, k.Set, k.Legs = part.OwnPrefix+"mine", "", nil
	k.Hookups = slices.DeleteFunc(k.Hookups, func(h part.Hookup) bool { return h.Host != nil })
	if renamed {
		rename(&k)
	}
	if k.ValidateOwn(lib.Catalogue) != nil {
		return nil
	}
	return &k
}

// rename gives each leg another name, everywhere.
func rename(k *part.Kind) {
	to := func(leg string) string {
		if k.HasTerminal(leg) {
			return "n" + leg
		}
		return leg
	}
	all := func(legs []string) {
		for i := range legs {
			legs[i] = to(legs[i])
		}
	}
	for i := range k.Hookups {
		for _, join := range k.Hookups[i].Joins {
			for j, end := range join {
				if leg, ok := strings.CutPrefix(end, "self."); ok {
					join[j] = "self." + to(leg)
				}
			}
		}
	}
	for _, e := range k.Inside {
		all(e.Legs)
	}
	for _, link := range k.Links {
		all(link)
	}
	all(k.Body.Legs)
	if k.Feed != nil {
		k.Feed = &part.Feed{Plus: to(k.Feed.Plus), Minus: to(k.Feed.Minus)}
	}
	for i := range k.Terminals {
		k.Terminals[i].ID = "n" + k.Terminals[i].ID
	}
}

// follows goes through all that follows from a build, but for programs that are compiled.
func follows(t require.TestingT, own *build.Library, doc *build.Document) {
	a, err := check.Check(own, doc)
	if err != nil { // a circuit without an answer says so
		return
	}
	for _, x := range a.Findings {
		assert.NotEmpty(t, x.Title)
	}
	p, err := placement.Place(own, doc)
	if err == nil {
		assert.NotEmpty(t, assembly.Steps(own, doc, p))
	}
	net := known.Build(own, doc)
	hands := bench.Hands(net)
	r := should.NewReader(net)
	for _, text := range r.Suggest() {
		_, err := r.Read(text)
		assert.NoError(t, err, text)
	}
	g := rig.New(net)
	for i := range net.Controls {
		c := &net.Controls[i]
		for _, to := range append(slices.Clone(c.Planned), rig.Rest(c)) {
			g.Turn(i, to)
			g.Settle()
		}
	}
	for pin := range 20 {
		assert.False(t, math.IsNaN(g.Reading(pin, 0)))
	}
	assert.LessOrEqual(t, len(hands), len(net.Controls))
	b, _ := own.Board(doc.Board)
	for _, l := range build.Languages {
		if l != build.CPP && !b.Programs().Python {
			continue
		}
		for _, write := range []func(*build.Library, *build.Document, build.Language) (*build.Program, error){program.Starter, program.Test} {
			made, err := write(own, doc, l)
			require.NoError(t, err)
			assert.NotEmpty(t, made.Text)
		}
	}
	faults := fault.List(own, doc, p)
	assert.NotEmpty(t, faults)
	assert.NoError(t, paper.Plan(io.Discard, own, doc, a))
	if len(doc.Parts) < 6 {
		c := diagnose.New(known, meter.Handheld(), own, doc)
		_, err := c.Ask(nil)
		assert.NoError(t, err)
	}
}

// with is the library with a kind of one's own in it.
func with(k *part.Kind) *build.Library {
	own := *lib
	own.Catalogue = lib.Catalogue.With([]part.Kind{*k})
	return &own
}

// What follows from a kind does not hang on what its legs are called: each kind that a builder could
// have described is checked, laid out, told of and programmed with legs of other names as well, and
// with as many findings.
func TestNamesOfLegsDoNotMatter(t *testing.T) {
	tried := 0
	for _, kind := range lib.Catalogue.Kinds {
		as, other := mine(t, kind.ID, false), mine(t, kind.ID, true)
		if as == nil || other == nil || len(as.Hookups) == 0 {
			continue
		}
		h := as.Hookups[0].ID
		one, two := added(t, with(as), "classic-5v", plan.Add{Kind: as.ID, Hookup: h}), added(t, with(other), "classic-5v", plan.Add{Kind: other.ID, Hookup: h})
		require.Equal(t, one == nil, two == nil, kind.ID)
		if one == nil {
			continue
		}
		tried++
		follows(t, with(other), two)
		a, err := check.Check(with(as), one)
		require.NoError(t, err)
		b, err := check.Check(with(other), two)
		require.NoError(t, err)
		assert.Equal(t, a.Counts, b.Counts, kind.ID)
	}
	assert.Greater(t, tried, 25)
}

// A file of a part in which anything was changed is refused with words, or it is a part from which
// all follows: nothing that is taken in makes anything fall.
func TestSpoiltKinds(t *testing.T) {
	var ids []string
	for _, kind := range lib.Catalogue.Kinds {
		if mine(t, kind.ID, false) != nil {
			ids = append(ids, kind.ID)
		}
	}
	taken := 0
	rapid.Check(t, func(t *rapid.T) {
		k := mine(t, rapid.SampledFrom(ids).Draw(t, "kind"), rapid.Bool().Draw(t, "renamed"))
		if k == nil {
			return
		}
		var tree map[string]any
		require.NoError(t, json.Unmarshal(k.Write(), &tree))
		for range rapid.IntRange(1, 2).Draw(t, "changes") {
			spoil(t, tree)
		}
		text, err := json.Marshal(tree)
		require.NoError(t, err)
		k, err = part.Parse(bytes.NewReader(text), lib.Catalogue)
		if err != nil {
			assert.NotEmpty(t, err.Error())
			return
		}
		taken++
		board := lib.Boards[rapid.IntRange(0, len(lib.Boards)-1).Draw(t, "board")].ID
		for _, h := range k.Hookups {
			if doc := added(t, with(k), board, plan.Add{Kind: k.ID, Hookup: h.ID}, plan.Add{Kind: "led"}); doc != nil {
				follows(t, with(k), doc)
				return
			}
		}
	})
	assert.Positive(t, taken)
}

// spoil changes something somewhere in a file: numbers and texts mostly, sometimes the whole branch.
func spoil(t *rapid.T, at any) {
	number := rapid.SampledFrom([]any{-1.0, 0.0, 1e-12, 1.0, 3.3, 1e9, 1e300})
	other := rapid.SampledFrom([]any{nil, "", "gnd", ".x", "pressed", true, []any{}, map[string]any{}})
	put := func(was any) any {
		if _, is := was.(float64); is && rapid.IntRange(0, 3).Draw(t, "a number") > 0 {
			return number.Draw(t, "number")
		}
		return other.Draw(t, "other")
	}
	deeper := func(inner any) bool {
		switch inner.(type) {
		case map[string]any, []any:
			return rapid.IntRange(0, 9).Draw(t, "deeper") > 0
		}
		return false
	}
	switch x := at.(type) {
	case map[string]any:
		keys := slices.Sorted(maps.Keys(x))
		if len(keys) == 0 {
			return
		}
		key := rapid.SampledFrom(keys).Draw(t, "key")
		if deeper(x[key]) {
			spoil(t, x[key])
			return
		}
		x[key] = put(x[key])
	case []any:
		if len(x) == 0 {
			return
		}
		i := rapid.IntRange(0, len(x)-1).Draw(t, "at")
		if deeper(x[i]) {
			spoil(t, x[i])
			return
		}
		x[i] = put(x[i])
	}
}
