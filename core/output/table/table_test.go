package table_test

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/output/assembly"
	"cablaggio/core/output/table"
	"cablaggio/core/planning/plan"
	"cablaggio/demo"
)

var lib = build.Shipped()

func tables(t *testing.T, doc *build.Document) (parts, pins [][]string) {
	t.Helper()
	a, err := check.Check(lib, doc)
	require.NoError(t, err)
	var b bytes.Buffer
	require.NoError(t, table.Parts(&b, lib, doc, a))
	assert.Equal(t, strings.Count(b.String(), "\n"), strings.Count(b.String(), "\r\n"), "RFC 4180 ends lines with CRLF")
	parts, err = csv.NewReader(&b).ReadAll()
	require.NoError(t, err)
	b.Reset()
	require.NoError(t, table.Pins(&b, doc, a))
	pins, err = csv.NewReader(&b).ReadAll()
	require.NoError(t, err)
	return parts, pins
}

func ExampleParts() {
	doc, _, _ := plan.Apply(lib, build.New("lamps", "classic-5v"), []plan.Edit{
		plan.Add{Kind: "led", Type: "red"}, plan.Add{Kind: "led", Type: "red"}, plan.Add{Kind: "button"},
	})
	a, _ := check.Check(lib, doc)
	var b strings.Builder
	_ = table.Parts(&b, lib, doc, a)
	fmt.Print(strings.ReplaceAll(b.String(), "\r", ""))
	// Output:
	// count,part,value,marking,names
	// 2,red LED,,,"red LED 1, red LED 2"
	// 2,Resistor,270 Ω,red violet brown gold,"resistor of red LED 1, resistor of red LED 2"
	// 1,Button,,,Button 1
}

func TestEveryPartAndPinIsInTheTables(t *testing.T) {
	for _, d := range demo.Builds() {
		doc, err := lib.Parse(d.Data)
		require.NoError(t, err)
		parts, pins := tables(t, doc)
		count := 0
		for _, row := range parts[1:] {
			var n int
			_, err := fmt.Sscan(row[0], &n)
			require.NoError(t, err)
			count += n
		}
		assert.Equal(t, len(doc.Parts), count, d.Name)
		used := map[string]bool{}
		for _, p := range doc.Parts {
			for _, s := range p.Signals {
				used[s.Pin] = true
			}
		}
		for _, row := range pins[1:] {
			assert.True(t, used[row[0]])
			assert.NotEmpty(t, row[4])
			delete(used, row[0])
		}
		assert.Empty(t, used, d.Name)
	}
}

// A name that a spreadsheet would run is only a name.
func TestNamesAreNoFormulas(t *testing.T) {
	for _, name := range []string{"=1+1", "+49 30", "-lamp", "@SUM(A1)", `a "quoted", name`} {
		doc, _, err := plan.Apply(lib, build.New("t", "classic-5v"), []plan.Edit{plan.Add{Kind: "button", Name: name}})
		require.NoError(t, err)
		parts, pins := tables(t, doc)
		for _, cell := range []string{parts[1][4], pins[1][1]} {
			assert.NotContains(t, "=+-@", cell[:1])
			assert.Contains(t, cell, name)
		}
	}
}

func TestAWriterThatFails(t *testing.T) {
	doc, err := lib.Parse(demo.Builds()[0].Data)
	require.NoError(t, err)
	a, err := check.Check(lib, doc)
	require.NoError(t, err)
	closed, err := os.CreateTemp(t.TempDir(), "")
	require.NoError(t, err)
	require.NoError(t, closed.Close())
	assert.Error(t, table.Parts(closed, lib, doc, a))
	assert.Error(t, table.Pins(closed, doc, a))
}

// A pin table that is read back changes nothing, and one that was changed in a
// spreadsheet moves what it says.
func TestThePinTableComesBack(t *testing.T) {
	for _, d := range demo.Builds() {
		doc, err := lib.Parse(d.Data)
		require.NoError(t, err)
		a, err := check.Check(lib, doc)
		require.NoError(t, err)
		var b strings.Builder
		require.NoError(t, table.Pins(&b, doc, a))
		edits, words, err := table.ReadPins(lib, doc, strings.NewReader(b.String()))
		require.NoError(t, err, d.Name)
		assert.Empty(t, edits)
		assert.Empty(t, words)
	}
	doc, _, err := plan.Apply(lib, build.New("t", "classic-5v"), []plan.Edit{plan.Add{Kind: "led"}, plan.Add{Kind: "button"}})
	require.NoError(t, err)
	edits, words, err := table.ReadPins(lib, doc, strings.NewReader("Part;x,PIN,part\r\n,d9,RED LED 1\r\n,D12,Button 1\r\n"))
	require.NoError(t, err)
	assert.Equal(t, []string{"red LED 1 goes from D4 to D9", "Button 1 goes from D7 to D12"}, words)
	after, _, err := plan.Apply(lib, doc, edits)
	require.NoError(t, err)
	assert.Equal(t, "D9", after.Part("led1").Signals[0].Pin)
	assert.Equal(t, "D12", after.Part("button1").Signals[0].Pin)
}

func TestABrokenPinTableSaysWhere(t *testing.T) {
	doc, _, err := plan.Apply(lib, build.New("t", "classic-5v"), []plan.Edit{plan.Add{Kind: "led"}, plan.Add{Kind: "led-rgb-cathode"}})
	require.NoError(t, err)
	for text, want := range map[string]string{
		"":                                       "empty",
		"a,b\n1,2\n":                             "no column pin",
		"pin,part\nD99,red LED 1\n":              `no pin "D99"`,
		"pin,part\nD3,lamp\n":                    `no part called "lamp"`,
		"pin,part\nD3,\"red\n":                   "not CSV",
		"pin,part\nD3,RGB LED, common cathode 1": "no part called",
		"pin,part,signal\nD3,\"RGB LED, common cathode 1\",violet\n": `no signal "violet"`,
	} {
		_, _, err := table.ReadPins(lib, doc, strings.NewReader(text))
		assert.ErrorContains(t, err, want, text)
	}
}

func FuzzReadPins(f *testing.F) {
	doc, _, err := plan.Apply(lib, build.New("t", "classic-5v"), []plan.Edit{plan.Add{Kind: "led"}, plan.Add{Kind: "keypad-4x3"}})
	require.NoError(f, err)
	f.Add("pin,part,signal\r\nD9,red LED 1,drive\r\n")
	f.Fuzz(func(t *testing.T, text string) {
		edits, _, err := table.ReadPins(lib, doc, strings.NewReader(text))
		if err == nil && len(edits) > 0 {
			_, _, err = plan.Apply(lib, doc, edits)
			require.NoError(t, err)
		}
	})
}

// The wires and the connections of a build are tables like the others: one line
// for each, and every terminal that is joined is in the connections.
func TestWiresAndLinks(t *testing.T) {
	for _, d := range demo.Builds() {
		doc, err := lib.Parse(d.Data)
		require.NoError(t, err)
		r := assembly.Make(lib, doc)
		var wires, links bytes.Buffer
		require.NoError(t, table.Wires(&wires, r.Placement))
		require.NoError(t, table.Links(&links, r.Links))
		rows, err := csv.NewReader(&wires).ReadAll()
		require.NoError(t, err)
		assert.Len(t, rows, 1+len(r.Placement.Wires))
		for i, w := range r.Placement.Wires {
			from, err := breadboard.ParseEnd(rows[i+1][0])
			require.NoError(t, err)
			assert.Equal(t, w.From, from)
		}
		rows, err = csv.NewReader(&links).ReadAll()
		require.NoError(t, err)
		joins := 0
		for _, n := range doc.Nets {
			joins += len(n) - 1
		}
		assert.Len(t, rows, 1+joins, "a net of n terminals takes n-1 connections")
	}
}
