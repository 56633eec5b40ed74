package export_test

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/build"
	"cablaggio/core/check"
	"cablaggio/core/export"
	"cablaggio/core/plan"
	"cablaggio/demo"
)

var lib = build.Shipped()

func tables(t *testing.T, doc *build.Document) (parts, pins [][]string) {
	t.Helper()
	a, err := check.Check(lib, doc)
	require.NoError(t, err)
	var b bytes.Buffer
	require.NoError(t, export.Parts(&b, lib, doc, a))
	assert.Equal(t, strings.Count(b.String(), "\n"), strings.Count(b.String(), "\r\n"), "RFC 4180 ends lines with CRLF")
	parts, err = csv.NewReader(&b).ReadAll()
	require.NoError(t, err)
	b.Reset()
	require.NoError(t, export.Pins(&b, doc, a))
	pins, err = csv.NewReader(&b).ReadAll()
	require.NoError(t, err)
	return parts, pins
}

func ExampleParts() {
	doc, _, _ := plan.Apply(lib, build.New("lamps", "classic-5v"), []plan.Edit{
		{Op: plan.Add, Kind: "led", Type: "red"}, {Op: plan.Add, Kind: "led", Type: "red"}, {Op: plan.Add, Kind: "button"},
	})
	a, _ := check.Check(lib, doc)
	var b strings.Builder
	_ = export.Parts(&b, lib, doc, a)
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
		assert.Len(t, pins, 1+len(used), d.Name)
		for _, row := range pins[1:] {
			assert.True(t, used[row[0]])
			assert.NotEmpty(t, row[3])
		}
	}
}

// A name that a spreadsheet would run is only a name.
func TestNamesAreNoFormulas(t *testing.T) {
	for _, name := range []string{"=1+1", "+49 30", "-lamp", "@SUM(A1)", `a "quoted", name`} {
		doc, _, err := plan.Apply(lib, build.New("t", "classic-5v"), []plan.Edit{{Op: plan.Add, Kind: "button", Name: name}})
		require.NoError(t, err)
		parts, pins := tables(t, doc)
		for _, cell := range []string{parts[1][4], pins[1][2]} {
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
	assert.Error(t, export.Parts(closed, lib, doc, a))
	assert.Error(t, export.Pins(closed, doc, a))
}
