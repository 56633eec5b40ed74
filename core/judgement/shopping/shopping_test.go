package shopping_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/document/build"
	"cablaggio/core/document/drawer"
	"cablaggio/core/judgement/check"
	"cablaggio/core/judgement/shopping"
	"cablaggio/core/planning/plan"
	_ "cablaggio/core/testkit/drawn"
)

var lib = build.Shipped()

// two lamps, and a button with its pull-up.
func few(t testing.TB) *build.Document {
	doc, _, err := plan.Apply(lib, build.New("few", "classic-5v"), []plan.Edit{
		plan.Add{Kind: "led", Type: "red"}, plan.Add{Kind: "led", Type: "red"},
		plan.Add{Kind: "button", Hookup: "ground-pull-up"},
		plan.Value{Part: "led1-resistor", Value: "resistance", Text: "330"}, plan.Value{Part: "led2-resistor", Value: "resistance", Text: "330"}})
	require.NoError(t, err)
	return doc
}

func ohms(v float64, pieces int) drawer.Item {
	return drawer.Item{Kind: "resistor", Values: map[string]float64{"resistance": v}, Pieces: pieces}
}

func lines(t testing.TB, doc *build.Document, items ...drawer.Item) map[string]shopping.Line {
	list, err := shopping.List(check.NewMemory(), lib, doc, items)
	require.NoError(t, err)
	out := map[string]shopping.Line{}
	for _, l := range list {
		out[l.What+" "+l.Value] = l
	}
	return out
}

func TestWhatIsThereAndWhatIsToBeBought(t *testing.T) {
	l := lines(t, few(t), drawer.Item{Kind: "led", Type: "red", Pieces: 1}, drawer.Item{Kind: "led", Type: "blue", Pieces: 9}, ohms(331, 1), ohms(330, 5), ohms(9.8e3, 1))
	assert.Equal(t, shopping.Line{What: "red LED", Names: []string{"red LED 1", "red LED 2"}, Needed: 2, Have: 1, Buy: 1}, l["red LED "])
	assert.Equal(t, 2, l["Resistor 330 Ω"].Have, "a measured one first, then the others")
	assert.Equal(t, 1, l["Resistor 10 kΩ"].Have, "2 % is as good")
	assert.Equal(t, 1, l["Button "].Buy)
}

// A part that was measured is there, and is known by what is printed on it.
func TestAMeasuredPartIsThere(t *testing.T) {
	doc, _, err := plan.Apply(lib, few(t), []plan.Edit{plan.Measure{Part: "led1-resistor", Value: "resistance", Text: "327.3"}})
	require.NoError(t, err)
	l := lines(t, doc)["Resistor 330 Ω"]
	assert.Equal(t, 2, l.Needed)
	assert.Equal(t, 1, l.Have)
}

// What is offered instead is the nearest with which nothing worse is found: not 130 Ω, with which
// a red lamp on 5 V gets more than 20 mA (Ohm's law), but 900 Ω; nothing where the drawer has too few.
func TestInstead(t *testing.T) {
	doc := few(t)
	l := lines(t, doc, ohms(130, 9), ohms(900, 9))
	require.NotNil(t, l["Resistor 330 Ω"].Instead)
	assert.Equal(t, "900 Ω", l["Resistor 330 Ω"].Instead.Value)
	after, _, err := plan.Apply(lib, doc, l["Resistor 330 Ω"].Instead.Edits)
	require.NoError(t, err)
	assert.Zero(t, lines(t, after, ohms(130, 9), ohms(900, 9))["Resistor 900 Ω"].Buy, "then nothing is to be bought")
	assert.Nil(t, lines(t, doc, ohms(680, 1))["Resistor 330 Ω"].Instead, "one is not enough for two")
	assert.Nil(t, lines(t, doc, ohms(56, 9))["Resistor 330 Ω"].Instead, "far too little")
}

// Whatever is in the drawer: what is there and what is bought is what is needed, every part is on
// one line, and no more is given away than there is.
func TestNothingIsGivenTwice(t *testing.T) {
	doc := few(t)
	rapid.Check(t, func(t *rapid.T) {
		var items []drawer.Item
		total := 0
		for range rapid.IntRange(0, 6).Draw(t, "items") {
			n := rapid.IntRange(0, 3).Draw(t, "pieces")
			total += n
			if rapid.Bool().Draw(t, "lamp") {
				items = append(items, drawer.Item{Kind: "led", Type: rapid.SampledFrom([]string{"", "red", "blue"}).Draw(t, "type"), Pieces: n})
			} else {
				items = append(items, ohms(rapid.SampledFrom([]float64{100, 325, 330, 1e4}).Draw(t, "ohms"), n))
			}
		}
		list, err := shopping.List(check.NewMemory(), lib, doc, items)
		require.NoError(t, err)
		parts, given := 0, 0
		for _, l := range list {
			assert.Equal(t, l.Needed, l.Have+l.Buy)
			assert.Len(t, l.Names, l.Needed)
			parts += l.Needed
			given += l.Have
		}
		assert.Equal(t, len(doc.Parts), parts)
		assert.LessOrEqual(t, given, total)
	})
}
