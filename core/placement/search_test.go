package placement

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/build"
	"cablaggio/demo"
	"cablaggio/starts"
)

// ready are the ready builds; package testkit, which has them too, leans on this
// one.
func ready(t *testing.T) (lib *build.Library, docs []*build.Document) {
	lib = build.Shipped()
	var files [][]byte
	for _, d := range demo.Builds() {
		files = append(files, d.Data)
	}
	for _, s := range starts.All() {
		files = append(files, s.Data)
	}
	for _, data := range files {
		doc, err := lib.Parse(data)
		require.NoError(t, err)
		docs = append(docs, doc)
	}
	return lib, docs
}

// The search never makes a layout worse, and over all ready builds it takes out
// at least a quarter of what crosses.
func TestTheSearchPays(t *testing.T) {
	lib, docs := ready(t)
	count := func(s *state) (crossings int) {
		for i, w := range s.wires {
			crossings += s.crossings(w.line, i)
		}
		return crossings
	}
	before, after := 0, 0
	for _, doc := range docs {
		s, empty, err := begun(lib, doc)
		require.NoError(t, err)
		found := s.better(empty)
		assert.LessOrEqual(t, found.cost(), s.cost(), doc.Title)
		before, after = before+count(s), after+count(found)
	}
	t.Logf("%d wires cross, %d when the search is done", before, after)
	assert.Less(t, float64(after), 0.75*float64(before))
}

// A row of lamps, one after another, needs no crossing.
func TestARowOfLampsDoesNotCross(t *testing.T) {
	lib, docs := ready(t)
	i := slices.IndexFunc(docs, func(d *build.Document) bool { return d.Title == "Runway for a paper plane" })
	require.GreaterOrEqual(t, i, 0)
	s, empty, err := begun(lib, docs[i])
	require.NoError(t, err)
	found := s.better(empty)
	for k, w := range found.wires {
		assert.Zero(t, found.crossings(w.line, k), "from %s to %s", w.From, w.To)
	}
}
