package part_test

import (
	"bytes"
	"encoding/json"
	"maps"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/catalogue/part"
	_ "cablaggio/core/testkit/drawn"
)

// Kinds that come with the program keep the rules that kinds of a builder's own have to keep, and a
// file of one is read as it was written.
func TestShippedKindsAreValid(t *testing.T) {
	ids := map[string]bool{}
	for i := range catalogue.Kinds {
		k := &catalogue.Kinds[i]
		assert.NoError(t, k.Validate(catalogue), k.ID)
		assert.False(t, ids[k.ID], "two kinds %s", k.ID)
		assert.False(t, k.Own(), "%s would take the place of a builder's", k.ID)
		ids[k.ID] = true
	}
}

// own is a kind of the builder's own made of one that came with the program.
func own(t require.TestingT, id string) part.Kind {
	k, ok := catalogue.Kind(id)
	require.True(t, ok)
	out := k.Clone()
	out.ID = part.OwnPrefix + "mine"
	out.Hookups = slices.DeleteFunc(out.Hookups, func(h part.Hookup) bool { return h.Host != nil })
	out.Set, out.Legs = "", nil
	return out
}

// composed are the ids of the kinds that a builder could have made.
func composed() (ids []string) {
	for i := range catalogue.Kinds {
		k := own(noTest{}, catalogue.Kinds[i].ID)
		if k.Validate(catalogue) == nil {
			ids = append(ids, catalogue.Kinds[i].ID)
		}
	}
	return ids
}

type noTest struct{}

func (noTest) Errorf(string, ...any) {}
func (noTest) FailNow()              { panic("a shipped kind is not there") }

func TestAFileIsReadAsItWasWritten(t *testing.T) {
	ids := composed()
	assert.Greater(t, len(ids), 30, "but for registers, modules with a task of their own and cases of several lamps all can be made")
	for _, id := range ids {
		k := own(t, id)
		read, err := part.Parse(bytes.NewReader(k.Write()), catalogue)
		require.NoError(t, err, id)
		assert.Equal(t, k, *read)
		_, err = part.Parse(bytes.NewReader(read.Write()), catalogue.With([]part.Kind{*read}))
		assert.NoError(t, err, "one's own may be taken in again")
	}
	k := own(t, "button")
	k.ID = "led"
	_, err := part.Parse(bytes.NewReader(k.Write()), catalogue)
	assert.ErrorContains(t, err, "begins with own-")
}

// Each of these is one mistake in a file that is right without it; the error names the place.
func TestMistakesInAFile(t *testing.T) {
	for _, c := range []struct {
		kind, where string
		do          func(k *part.Kind)
	}{
		{"button", "id", func(k *part.Kind) { k.ID = "My Button" }},
		{"button", "family", func(k *part.Kind) { k.Family = "knobs" }},
		{"button", "symbol", func(k *part.Kind) { k.Symbol = "star" }},
		{"button", "words", func(k *part.Kind) { k.Words = nil }},
		{"button", "body.package", func(k *part.Kind) { k.Body.Package = "dip-9" }},
		{"button", "terminals", func(k *part.Kind) { k.Body.Package = "inline-3" }},
		{"button", "terminals[1].id", func(k *part.Kind) { k.Terminals[1].ID = k.Terminals[0].ID }},
		{"button", "links[0]", func(k *part.Kind) { k.Links[0][0] = "9" }},
		{"button", "links[0]", func(k *part.Kind) { k.Links[0] = nil }},
		{"temperature-sensor", "hands[0].quantity.unit", func(k *part.Kind) { k.Hands[0].Quantity.Unit = `"C"` }},
		{"button", "inside[0].legs", func(k *part.Kind) { k.Inside[0].Legs[1] = "nowhere" }},
		{"button", "inside[0].legs", func(k *part.Kind) { k.Inside[0].Legs[1] = k.Inside[0].Legs[0] }},
		{"button", "inside[0].legs", func(k *part.Kind) { k.Inside[0].Legs = k.Inside[0].Legs[:1] }},
		{"button", "inside[0].is", func(k *part.Kind) { k.Inside[0].Is = "magic" }},
		{"button", "inside[0].hand", func(k *part.Kind) { k.Hands = nil }},
		{"button", "inside[0].hand", func(k *part.Kind) { k.Hands[0].Settings = k.Hands[0].Settings[:1] }},
		{"button", "hands[0].settings[1]", func(k *part.Kind) { k.Hands[0].Settings[1].Name = "up" }},
		{"button", "inside[0].when", func(k *part.Kind) { k.Inside[0].When = []string{"sideways"} }},
		{"button", "values", func(k *part.Kind) { k.Values = k.Values[1:] }},
		{"button", "values[0].default", func(k *part.Kind) { k.Values[0].Default.Low = 1e9 }},
		{"button", "values[0].default.source", func(k *part.Kind) { k.Values[0].Default.Source = "" }},
		{"button", "hookups[1].id", func(k *part.Kind) { k.Hookups[1].ID = k.Hookups[0].ID }},
		{"button", "hookups[0].joins[0]", func(k *part.Kind) { k.Hookups[0].Joins[0][0] = "self.9" }},
		{"button", "hookups[0].signals[0].needs", func(k *part.Kind) { k.Hookups[0].Signals[0].Needs = "wifi" }},
		{"button", "hookups[0]", func(k *part.Kind) {
			k.Hookups[0].Signals = append(k.Hookups[0].Signals, part.Signal{Name: "more", Needs: "digital-in"})
		}},
		{"temperature-sensor", "feed", func(k *part.Kind) { k.Feed = nil }},
		{"temperature-sensor", "feed", func(k *part.Kind) { k.Feed.Plus = k.Feed.Minus }},
		{"temperature-sensor", "hookups[1].helpers[0].kind", func(k *part.Kind) { k.Hookups[1].Helpers[0].Kind = "string" }},
		{"temperature-sensor", "hookups[1].helpers[1].role", func(k *part.Kind) { k.Hookups[1].Helpers[1].Role = k.Hookups[1].Helpers[0].Role }},
		{"thermistor", "inside[0].law", func(k *part.Kind) { k.Inside[0].Law = "moon" }},
		{"keypad-4x3", "inside[0].rows", func(k *part.Kind) { k.Inside[0].Rows = 7 }},
		{"joystick", "hands[1].id", func(k *part.Kind) { k.Hands[1].ID = "x" }},
	} {
		k := own(t, c.kind)
		require.NoError(t, k.Validate(catalogue), c.kind)
		c.do(&k)
		var wrong part.Problems
		require.ErrorAs(t, k.Validate(catalogue), &wrong, "%s %s", c.kind, c.where)
		assert.True(t, slices.ContainsFunc(wrong, func(p part.Problem) bool { return p.Where == c.where }), "%s: %v", c.where, wrong)
	}
}

// Whatever is done to a file, reading it ends with a kind that holds together or with words.
func TestSpoiltFiles(t *testing.T) {
	ids := composed()
	rapid.Check(t, func(t *rapid.T) {
		k := own(t, rapid.SampledFrom(ids).Draw(t, "kind"))
		var tree map[string]any
		require.NoError(t, json.Unmarshal(k.Write(), &tree))
		for range rapid.IntRange(1, 4).Draw(t, "changes") {
			spoil(t, tree)
		}
		text, err := json.Marshal(tree)
		require.NoError(t, err)
		if k, err := part.Parse(bytes.NewReader(text), catalogue); err == nil {
			assert.NoError(t, k.Validate(catalogue))
		} else {
			assert.NotEmpty(t, err.Error())
		}
	})
}

// spoil changes something somewhere in a file.
func spoil(t *rapid.T, at any) {
	replace := func() any {
		return rapid.SampledFrom([]any{nil, "", "self.1", ".x", -1.0, 1e308, true, []any{}, map[string]any{}}).Draw(t, "with")
	}
	switch x := at.(type) {
	case map[string]any:
		keys := slices.Sorted(maps.Keys(x))
		if len(keys) == 0 {
			return
		}
		key := rapid.SampledFrom(keys).Draw(t, "key")
		switch inner := x[key].(type) {
		case map[string]any, []any:
			if rapid.IntRange(0, 4).Draw(t, "deeper") > 0 {
				spoil(t, inner)
				return
			}
		}
		x[key] = replace()
	case []any:
		if len(x) == 0 {
			return
		}
		i := rapid.IntRange(0, len(x)-1).Draw(t, "at")
		switch inner := x[i].(type) {
		case map[string]any, []any:
			spoil(t, inner)
		default:
			x[i] = replace()
		}
	}
}

// A leaflet that says nonsense is refused at the field that does, and one that says little is wide.
func TestLeafletsThatSayTooLittle(t *testing.T) {
	legs := func(is ...part.LegRole) (out []part.LeafletLeg) {
		for _, r := range is {
			l := part.LeafletLeg{Is: r}
			if r == part.OutputLeg {
				l.Gives = part.GivesLevel
			}
			out = append(out, l)
		}
		return out
	}
	module := legs(part.PlusLeg, part.OutputLeg, part.GroundLeg)
	for where, l := range map[string]part.Leaflet{
		"name":               {Sort: part.Module, Legs: module},
		"sort":               {Name: "x", Legs: module},
		"legs":               {Name: "x", Sort: part.Module, Legs: legs(part.PlusLeg, part.OutputLeg)},
		"legs[2].is":         {Name: "x", Sort: part.Module, Legs: legs(part.PlusLeg, part.OutputLeg, part.PlusLeg, part.GroundLeg)},
		"from":               {Name: "x", Sort: part.Module, Legs: module, From: 6, To: 5},
		"amps":               {Name: "x", Sort: part.Consume, Legs: legs(part.EndLeg, part.EndLeg), Volt: 5, Acts: part.Turns},
		"volt":               {Name: "x", Sort: part.Consume, Legs: legs(part.EndLeg, part.EndLeg), Volt: 230, Amps: 1, Acts: part.Glows},
		"acts":               {Name: "x", Sort: part.Consume, Legs: legs(part.EndLeg, part.EndLeg), Volt: 5, Amps: 1},
		"ways":               {Name: "x", Sort: part.Closer, Legs: legs(part.EndLeg, part.EndLeg), Ways: [2]string{"a", "a"}},
		"legs[1].gives":      {Name: "x", Sort: part.Module, Legs: []part.LeafletLeg{{Is: part.PlusLeg}, {Is: part.OutputLeg}, {Is: part.GroundLeg}}},
		"legs[1].told":       {Name: "x", Sort: part.Module, Legs: []part.LeafletLeg{{Is: part.PlusLeg}, {Is: part.OutputLeg, Gives: part.GivesLevel, Quiet: "on", Told: "on"}, {Is: part.GroundLeg}}},
		"legs[1].leastGives": {Name: "x", Sort: part.Module, Legs: []part.LeafletLeg{{Is: part.PlusLeg}, {Is: part.OutputLeg, Gives: part.GivesVolts, LeastGive: -1, MostGive: 3}, {Is: part.GroundLeg}}},
	} {
		_, err := l.Kind("own-mine", catalogue)
		var wrong part.Problems
		require.ErrorAs(t, err, &wrong, where)
		assert.True(t, slices.ContainsFunc(wrong, func(p part.Problem) bool { return p.Where == where }), "%s: %v", where, wrong)
	}
	little := part.Leaflet{Name: "unknown thing", Sort: part.Module, Legs: module}
	k, err := little.Kind("own-mine", catalogue)
	require.NoError(t, err)
	amps, _ := k.Value("supplyCurrent")
	assert.Greater(t, amps.Default.High, 10*amps.Default.Low, "what is not known is wide")
}

// The file that the page on parts shows as a whole one is one.
func TestTheExampleOnThePage(t *testing.T) {
	page, err := os.ReadFile("../../../docs/parts.md")
	require.NoError(t, err)
	_, rest, ok := strings.Cut(string(page), "```json\n")
	require.True(t, ok)
	text, _, _ := strings.Cut(rest, "```")
	k, err := part.Parse(strings.NewReader(text), catalogue)
	require.NoError(t, err)
	assert.Equal(t, "Latch eye", k.Name)
}
