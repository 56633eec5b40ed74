package output_test

import (
	_ "embed"
	"encoding/json"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/program"
	"cablaggio/core/running/should"
	"cablaggio/core/testkit"
	_ "cablaggio/core/testkit/drawn"
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
				d := added(t, &own, b.ID, plan.Add{Kind: k.ID, Hookup: h.ID})
				if d == nil {
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

// anyLeaflet is one as somebody types it who does not look.
var anyLeaflet = rapid.Custom(func(t *rapid.T) part.Leaflet {
	number := rapid.SampledFrom([]float64{0, 0, 0, 1, 3.3, 5, 12, -5, 0.001, 1e9, -1e-9})
	words := rapid.SampledFrom([]string{"", "", "rain", "Ω µ 😀", "\"quoted\"", "on", "off", "a very long name that goes on and on and on and on and on and on"})
	l := part.Leaflet{
		Name: rapid.SampledFrom([]string{"Rain module", "x", "板", "1", "board", "a\nb"}).Draw(t, "name"),
		Sort: rapid.SampledFrom([]part.LeafletSort{part.Module, part.Module, part.Closer, part.Consume}).Draw(t, "sort"),
		From: number.Draw(t, "from"), To: number.Draw(t, "to"), Amps: number.Draw(t, "amps") / 100, Volt: number.Draw(t, "volt"),
		Ways: [2]string{words.Draw(t, "open"), words.Draw(t, "closed")}, Acts: rapid.SampledFrom([]string{part.Turns, part.Sounds, part.Pulls, part.Glows, ""}).Draw(t, "acts"),
	}
	roles := map[part.LeafletSort][]part.LegRole{
		part.Module: {part.PlusLeg, part.GroundLeg, part.OutputLeg, part.OutputLeg, part.FreeLeg},
		part.Closer: {part.EndLeg, part.EndLeg, part.FreeLeg}, part.Consume: {part.EndLeg, part.EndLeg},
	}[l.Sort]
	if rapid.IntRange(0, 3).Draw(t, "shuffled") == 0 {
		roles = rapid.SliceOfN(rapid.SampledFrom(roles), 1, 9).Draw(t, "roles")
	}
	for _, r := range roles {
		l.Legs = append(l.Legs, part.LeafletLeg{
			Name: words.Draw(t, "printed"), Is: r, Gives: rapid.SampledFrom([]part.Giving{part.GivesVolts, part.GivesLevel, part.GivesPull}).Draw(t, "gives"),
			About: words.Draw(t, "about"), Unit: words.Draw(t, "unit"), Least: number.Draw(t, "least"), Most: number.Draw(t, "most"),
			LeastGive: number.Draw(t, "least gives"), MostGive: number.Draw(t, "most gives"), Quiet: words.Draw(t, "quiet"), Told: words.Draw(t, "told"),
			Low: rapid.Bool().Draw(t, "low"), High: number.Draw(t, "high"),
		})
	}
	return l
})

// Whatever is typed into a leaflet, it is a part that can be wired, checked and programmed, or it is
// told what is missing.
func TestAnyLeaflet(t *testing.T) {
	made := 0
	rapid.Check(t, func(t *rapid.T) {
		l := anyLeaflet.Draw(t, "leaflet")
		k, err := l.Kind("own-part", lib.Catalogue)
		if err != nil {
			assert.NotEmpty(t, err.Error())
			return
		}
		made++
		own := *lib
		own.Catalogue = lib.Catalogue.With([]part.Kind{*k})
		board := lib.Boards[rapid.IntRange(0, len(lib.Boards)-1).Draw(t, "board")].ID
		for _, h := range k.Hookups {
			doc := added(t, &own, board, plan.Add{Kind: k.ID, Hookup: h.ID}, plan.Add{Kind: "led"})
			if doc == nil {
				continue
			}
			_, err := check.Check(&own, doc)
			require.NoError(t, err)
			p, err := program.Starter(&own, doc, build.CPP)
			require.NoError(t, err)
			assert.NotEmpty(t, p.Text)
			data, err := json.Marshal(doc)
			require.NoError(t, err)
			back, err := lib.Parse(data)
			require.NoError(t, err, "a file brings its part along")
			assert.Equal(t, doc.Kinds, back.Kinds)
		}
	})
	assert.Positive(t, made)
}

// What parts of one's own do is said as of the others: by their names, by the names of their states,
// and by what they tell of.
func TestSayingsOfOwnParts(t *testing.T) {
	var list []part.Leaflet
	require.NoError(t, json.Unmarshal(leaflets, &list))
	for _, c := range []struct{ name, said, says string }{
		{"Flame module", "while there is a flame the lamp is on", "while Flame module 1 is flame, red LED 1 is lit"},
		{"Flame module", "while there is no flame the lamp is dark", "while Flame module 1 is no flame, red LED 1 is dark"},
		{"Rain module", "while the rain module is wet the lamp is on", "while rain of Rain module 1 is wet, red LED 1 is lit"},
		{"Rain module", "above 60 % wetness the lamp is lit", "while wetness of Rain module 1 is above 60 %, red LED 1 is lit"},
		{"Humidity module", "while the humidity is above 60 % the lamp is lit", "while Humidity module 1 is above 60 %, red LED 1 is lit"},
		{"Humidity module", "prints the humidity", "what Humidity module 1 measures is printed"},
		{"Pressure pad", "when somebody stands on the pad the lamp is lit", "while Pressure pad 1 is stood on, red LED 1 is lit"},
	} {
		l := list[slices.IndexFunc(list, func(l part.Leaflet) bool { return l.Name == c.name })]
		k, err := l.Kind("own-part", lib.Catalogue)
		require.NoError(t, err)
		own := *lib
		own.Catalogue = lib.Catalogue.With([]part.Kind{*k})
		doc, _, err := plan.Apply(&own, build.New(c.name, "classic-5v"), []plan.Edit{plan.Add{Kind: k.ID}, plan.Add{Kind: "led", Type: "red"}})
		require.NoError(t, err)
		s, err := should.NewReader(known.Build(&own, doc)).Read(c.said)
		require.NoError(t, err, c.said)
		assert.Equal(t, c.says, s.Says)
	}
}

// Where a part of one's own leaves an input floating, and no hookup of its own holds it, the chip's
// pull is offered, and with it nothing is found any more.
func TestAFloatingPartOfOnesOwn(t *testing.T) {
	k, _ := lib.Catalogue.Kind("rotary-encoder")
	bare := k.Clone()
	bare.ID = "own-bare-encoder"
	bare.Inside = slices.DeleteFunc(bare.Inside, func(e part.Element) bool { return e.Is == part.Resistor })
	own := *lib
	own.Catalogue = lib.Catalogue.With([]part.Kind{bare})
	doc, _, err := plan.Apply(&own, build.New("bare", "classic-5v"), []plan.Edit{plan.Add{Kind: bare.ID}})
	require.NoError(t, err)
	for stops := 2; ; stops-- {
		a, err := check.Check(&own, doc)
		require.NoError(t, err)
		require.Equal(t, stops, a.Counts.Stop)
		if stops == 0 {
			assert.Zero(t, a.Counts.Care)
			return
		}
		require.NotEmpty(t, a.Findings[0].Fixes)
		doc, _, err = plan.Apply(&own, doc, a.Findings[0].Fixes[0].Edits)
		require.NoError(t, err)
		require.NotNil(t, doc.Part("own-bare-encoder1"))
	}
}
