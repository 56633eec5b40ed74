package paper_test

import (
	"bytes"
	"compress/zlib"
	"encoding/json"
	"fmt"
	"image"
	"image/jpeg"
	"io"
	"regexp"
	"strings"
	"testing"
	"time"

	"cablaggio/core/testkit/ready"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/judgement/shopping"
	"cablaggio/core/layout/holemap"
	"cablaggio/core/output/assembly"
	"cablaggio/core/output/paper"
	edits "cablaggio/core/planning/plan"
	"cablaggio/demo"
)

var lib = build.Shipped()

func plan(t *testing.T, data []byte) []byte {
	t.Helper()
	doc, err := lib.Parse(data)
	require.NoError(t, err)
	a, err := check.Check(lib, doc)
	require.NoError(t, err)
	var b bytes.Buffer
	require.NoError(t, paper.Plan(&b, lib, doc, a))
	return b.Bytes()
}

// Every demo build and start goes onto paper, as a whole PDF and always the same.
func TestEveryPlanGoesOnPaper(t *testing.T) {
	for _, doc := range ready.Builds(t, lib) {
		data, err := json.Marshal(doc)
		require.NoError(t, err)
		pdf := plan(t, data)
		assert.True(t, bytes.HasPrefix(pdf, []byte("%PDF-")))
		assert.True(t, bytes.HasSuffix(bytes.TrimSpace(pdf), []byte("%%EOF")))
		assert.True(t, bytes.Equal(pdf, plan(t, data)))
	}
}

// pages counts the pages of a PDF.
func pages(pdf []byte) int { return len(regexp.MustCompile(`/Type /Page\b[^s]`).FindAll(pdf, -1)) }

// A plan takes one page where it fits, and says readings with what they are read at.
func TestAPlanFitsOnePage(t *testing.T) {
	for _, d := range demo.Builds() {
		pdf := plan(t, d.Data)
		switch d.Name {
		case "tram-stop", "seedling-shelf":
			assert.Equal(t, 1, pages(pdf), d.Name)
		case "quiz-table":
			assert.Equal(t, 2, pages(pdf), d.Name)
		}
		if d.Name == "tram-stop" {
			says := strings.Join(strings.Fields(words(t, pdf)), " ")
			assert.Contains(t, says, "reads 29 in the dark (1 lx), 557 in a lit room (200 lx), 970 in daylight")
			assert.Contains(t, says, "reads high when up, low when pressed")
		}
	}
}

// So do the steps, with the hole map.
func TestTheStepsGoOnPaper(t *testing.T) {
	for _, d := range demo.Builds() {
		doc, err := lib.Parse(d.Data)
		require.NoError(t, err)
		r := assembly.Make(lib, doc)
		write := func() []byte {
			var b bytes.Buffer
			m := holemap.Draw(lib, doc, r.Placement.Table(lib, doc), r.Placement.Built(), r.Placement.Wires)
			require.NoError(t, paper.Steps(&b, lib, doc, r, m))
			return b.Bytes()
		}
		pdf := write()
		assert.True(t, bytes.HasPrefix(pdf, []byte("%PDF-")))
		assert.True(t, bytes.Equal(pdf, write()))
		// A cover, and then spreads: the map on the left, the steps on the right.
		n := pages(pdf)
		assert.Equal(t, 1, n%2, "%s has %d pages", d.Name, n)
		says := words(t, pdf)
		assert.Contains(t, says, "Lay ready")
		for _, s := range doc.Should {
			assert.Contains(t, strings.ReplaceAll(says, "\n", " "), s)
		}
		for i := range r.Steps {
			assert.Contains(t, says, fmt.Sprintf("%d. ", i+1))
		}
	}
}

// words returns what a PDF writes: its fonts number letters as Unicode does, in
// two bytes each.
func words(t *testing.T, pdf []byte) string {
	t.Helper()
	var all []rune
	for _, part := range bytes.Split(pdf, []byte("stream\n"))[1:] {
		z, err := zlib.NewReader(bytes.NewReader(part))
		if err != nil {
			continue // a font, or what is not packed
		}
		content, err := io.ReadAll(z)
		require.NoError(t, err)
		for _, text := range regexp.MustCompile(`(?s)\(((?:\\.|[^\\)])*)\) ?Tj`).FindAllSubmatch(content, -1) {
			raw := regexp.MustCompile(`(?s)\\(.)`).ReplaceAll(text[1], []byte("$1"))
			for i := 0; i+1 < len(raw); i += 2 {
				all = append(all, rune(raw[i])<<8|rune(raw[i+1]))
			}
			all = append(all, '\n')
		}
	}
	return string(all)
}

// The plan says on paper what it says on the screen, with Ω, − and × as they are;
// a sign that no font has does no harm.
func TestTheWordsOnPaper(t *testing.T) {
	doc, _, err := edits.Apply(lib, build.New("Lamp 💡 of the pond", "classic-5v"), []edits.Edit{edits.Add{Kind: "led", Type: "red", Name: "Teichlampe größer"}})
	require.NoError(t, err)
	a, err := check.Check(lib, doc)
	require.NoError(t, err)
	var b bytes.Buffer
	require.NoError(t, paper.Plan(&b, lib, doc, a))
	said := words(t, b.Bytes())
	for _, want := range []string{
		"Lamp □ of the pond", "Teichlampe größer", "270 Ω", "pin D4", "1 × red LED", "Parts list",
		"Resistor 270 Ω (red – violet – brown – gold)", "Never mains on a breadboard",
	} {
		assert.Contains(t, said, want)
	}
}

// The booklet holds every step, in order, with what to watch for.
func TestTheWordsOfTheBooklet(t *testing.T) {
	doc, err := lib.Parse(demo.Builds()[0].Data)
	require.NoError(t, err)
	r := assembly.Make(lib, doc)
	var b bytes.Buffer
	m := holemap.Draw(lib, doc, r.Placement.Table(lib, doc), r.Placement.Built(), r.Placement.Wires)
	require.NoError(t, paper.Steps(&b, lib, doc, r, m))
	said := strings.ReplaceAll(words(t, b.Bytes()), "\n", " ")
	at := 0
	for i, s := range r.Steps {
		begin := fmt.Sprintf("%d. %s", i+1, strings.Join(strings.Fields(s.Do)[:3], " "))
		found := strings.Index(said[at:], begin)
		require.GreaterOrEqual(t, found, 0, "%q comes after %.60q", begin, said[at:])
		at += found
	}
}

// The log on paper is what was noted, day by day, with what was expected and the pictures.
func TestTheLogOnPaper(t *testing.T) {
	doc := build.New("Tram stop", "classic-5v")
	var picture bytes.Buffer
	require.NoError(t, jpeg.Encode(&picture, image.NewGray(image.Rect(0, 0, 40, 300)), nil))
	day := time.Date(2026, 3, 1, 9, 5, 0, 0, time.UTC)
	entries := []paper.Entry{
		{Made: day, Part: "sign lamp", Text: "Volts over the resistor: 2.10 V", Expected: "1.9 to 2.2 V"},
		{Made: day.Add(time.Hour), Text: "Ohms: OL", Expected: "95 to 105 Ω", Differs: true},
		{Made: day.Add(30 * time.Hour), Text: "How it is to look", Picture: picture.Bytes()},
	}
	var b, again bytes.Buffer
	require.NoError(t, paper.Log(&b, lib, doc, entries))
	said := words(t, b.Bytes())
	at := 0
	for _, want := range []string{"Tram stop", "1 March 2026", "09:05", "sign lamp", "2.10 V", "It should read 1.9 to 2.2 V.", "10:05", "Not as expected: it should read 95 to 105 Ω.", "2 March 2026", "15:05", "How it is to look"} {
		found := strings.Index(said[at:], want)
		require.GreaterOrEqual(t, found, 0, "%q comes in its place: %s", want, said)
		at += found
	}
	require.NoError(t, paper.Log(&again, lib, doc, entries))
	assert.Equal(t, b.Bytes(), again.Bytes())
	for range 300 {
		entries = append(entries, entries[2])
	}
	require.NoError(t, paper.Log(&again, lib, doc, entries), "many pages")
	assert.ErrorContains(t, paper.Log(&again, lib, doc, []paper.Entry{{Picture: []byte("no picture")}}), "cannot be printed")
	require.NoError(t, paper.Log(&again, lib, doc, nil))
}

// What is to be bought stands first, with what would do instead; what is there comes after it.
func TestTheShoppingListGoesOnPaper(t *testing.T) {
	doc, err := lib.Parse(demo.Builds()[0].Data)
	require.NoError(t, err)
	say := func(lines ...shopping.Line) string {
		var b bytes.Buffer
		require.NoError(t, paper.Shopping(&b, lib, doc, lines))
		return strings.Join(strings.Fields(words(t, b.Bytes())), " ")
	}
	says := say(shopping.Line{What: "Resistor", Value: "220 Ω", Names: []string{"a", "b"}, Needed: 3, Have: 1, Buy: 2, Instead: &shopping.Instead{Value: "270 Ω"}})
	assert.Contains(t, says, "2 × Resistor 220 Ω for a, b; 270 Ω from the drawer would do as well")
	assert.Contains(t, says, "1 × Resistor 220 Ω, for a, b")
	says = say(shopping.Line{What: "Button", Names: []string{"bell"}, Needed: 1, Have: 1})
	assert.Contains(t, says, "Nothing: all of it is there.")
	assert.Contains(t, say(), "Nothing yet.")
}
