package drawer_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/drawer"
)

var catalogue = part.Shipped()

func ExampleResistors() {
	fmt.Println(drawer.Resistors(drawer.Kit(10))[:6])
	// Output: [10 15 22 33 47 68]
}

// What is written comes back the same.
func TestTheDrawerComesBack(t *testing.T) {
	items := append(drawer.Kit(20), drawer.Item{Kind: "led", Type: "red", Name: "=cmd", Values: map[string]float64{"forwardVoltage": 1.93}, Pieces: 5, Measured: true})
	require.Len(t, items, 31)
	var b strings.Builder
	require.NoError(t, drawer.Write(&b, catalogue, items))
	assert.NotContains(t, b.String(), ",=cmd")
	got, err := drawer.Read(strings.NewReader(b.String()), catalogue)
	require.NoError(t, err)
	assert.Equal(t, items, got)
}

func TestReadTakesWhatPeopleWrite(t *testing.T) {
	got, err := drawer.Read(strings.NewReader("Kind,Value,Pieces\nResistor,4k7,12\nled,,3\npot,10k,\n\n"), catalogue)
	require.NoError(t, err)
	require.Len(t, got, 3)
	assert.Equal(t, 4700.0, got[0].Values["resistance"])
	assert.Equal(t, 12, got[0].Pieces)
	assert.Equal(t, 1, got[2].Pieces)
}

func TestABrokenTableSaysWhere(t *testing.T) {
	for text, want := range map[string]string{
		"":                                "empty",
		"a,b\n1,2\n":                      "no column kind",
		"kind\nflux capacitor coil\n":     "line 2",
		"kind,value\nresistor,4kk7\n":     "resistance",
		"kind,pieces\nresistor,many\n":    "not a number of pieces",
		"kind,values\nresistor,220\n":     "not a value",
		"kind,values\nresistor,volts=2\n": `no value "volts"`,
		"kind,value\nresistor,0.0001\n":   "not possible",
		"kind,type\nled,ultra\n":          "no LED of type",
		"kind,value\nresistor,\"4\n":      "not CSV",
	} {
		_, err := drawer.Read(strings.NewReader(text), catalogue)
		assert.ErrorContains(t, err, want, text)
	}
}

func FuzzRead(f *testing.F) {
	f.Add("kind,type,name,pieces,measured,values\r\nresistor,,,10,,resistance=220 Ω; tolerance=1 %\r\n")
	f.Fuzz(func(t *testing.T, text string) {
		items, err := drawer.Read(strings.NewReader(text), catalogue)
		if err != nil {
			return
		}
		var b strings.Builder
		require.NoError(t, drawer.Write(&b, catalogue, items))
	})
}
