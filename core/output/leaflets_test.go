package output_test

import (
	_ "embed"
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
	"cablaggio/core/testkit"
)

//go:embed testdata/leaflets.json
var leaflets []byte

// A part that a builder describes from its leaflet is as good as those that come with the program:
// each of twenty invented leaflets is wired on boards of both logics without a stop, and all that
// follows from a kind follows from it.
func TestLeaflets(t *testing.T) {
	var list []part.Leaflet
	require.NoError(t, json.Unmarshal(leaflets, &list))
	require.Len(t, list, 20)
	for i, l := range list {
		k, err := l.Kind("own-part", lib.Catalogue)
		require.NoError(t, err, l.Name)
		own := *lib
		own.Catalogue = lib.Catalogue.With([]part.Kind{*k})
		wired := 0
		for n, b := range lib.Boards {
			var doc *build.Document
			for _, h := range k.Hookups {
				d, _, err := plan.Apply(&own, build.New("one part", b.ID), []plan.Edit{plan.Add{Kind: k.ID, Hookup: h.ID}})
				if err != nil {
					continue
				}
				a, err := check.Check(&own, d)
				require.NoError(t, err)
				if a.Counts.Stop+a.Counts.Care == 0 {
					doc = d
					break
				}
			}
			if doc == nil {
				continue
			}
			wired++
			if testkit.Wide() || n == 0 && i%10 == 0 {
				t.Run(l.Name+"/"+b.ID, func(t *testing.T) { everything(t, &own, doc) })
			}
		}
		assert.GreaterOrEqual(t, wired, 3, "%s is wired without a word on so many boards", l.Name)
	}
}
