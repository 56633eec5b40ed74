package toolchain_test

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/bench"
	"cablaggio/core/running/program"
	"cablaggio/demo"
	"cablaggio/starts"
	"cablaggio/toolchain"
)

// What a program in Python tells the board in one go does the same, to the nanosecond, as what it
// tells call by call: of the programs that come with the builds, with hands at them, and of one whose own output
// comes back to it through a capacitor.
func TestToldTogetherIsToldOneByOne(t *testing.T) {
	lib := build.Shipped()
	type one struct {
		doc  *build.Document
		does build.Program
		hand string
	}
	var all []one
	for _, s := range starts.All() {
		doc, err := lib.Parse(s.Data)
		require.NoError(t, err)
		for _, p := range s.Programs {
			if p.Language == build.CPP {
				continue
			}
			hand := map[string]string{"hold": "1s press button1; 3.5s release button1; 4s press button1", "dusk": "1s set light-resistor1 to 5; 4s set light-resistor1 to 2000"}[s.ID]
			all = append(all, one{doc, p, hand})
		}
	}
	for _, d := range demo.Builds() {
		if doc, err := lib.Parse(d.Data); assert.NoError(t, err) && doc.Program != nil && doc.Program.Language != build.CPP {
			all = append(all, one{doc, *doc.Program, ""})
		}
	}
	edits := []plan.Edit{plan.Add{Kind: "resistor", Value: "resistance", Text: "10k"}, plan.Add{Kind: "capacitor", Value: "capacitance", Text: "1 µF"}}
	for _, w := range [][2]build.Terminal{{"board.GP5", "resistor1.1"}, {"resistor1.2", "capacitor1.1"}, {"capacitor1.1", "board.GP6"}, {"capacitor1.2", "board.GND"}} {
		edits = append(edits, plan.Join{Terminal: w[0], To: w[1]})
	}
	looped, _, err := plan.Apply(lib, build.New("looped", "slim-3v3"), edits)
	require.NoError(t, err)
	all = append(all, one{looped, build.Program{Language: build.PythonMachine, Text: `from machine import Pin
import time
out, back = Pin(5, Pin.OUT), Pin(6, Pin.IN)
n = 0
while True:
    for ms in (1, 3, 9, 27, 2):
        out.toggle()
        time.sleep_ms(ms)
        out.value(1)
        time.sleep_ms(3)
        n += back.value()
        out.value(0)
        time.sleep_ms(ms)
        n += back.value()
        for k in range(90):
            out.value(k % 3 > 0)
        n += back.value()
        print(n, time.ticks_us())
`}, ""})
	require.Greater(t, len(all), 5)
	for _, x := range all {
		b, _ := lib.Board(x.doc.Board)
		made, err := tools.Compile(t.Context(), &x.does, b)
		require.NoError(t, err)
		require.NotNil(t, made.Program, "%+v", made.Messages)
		recorded := func(made *program.Compiled) string {
			net := wiring.Build(lib, x.doc)
			actions, err := bench.ParseScript(net, x.hand)
			require.NoError(t, err)
			r, err := bench.Run(t.Context(), net, made, bench.Options{Actions: actions, Lasts: 6 * time.Second, Seed: 1})
			require.NoError(t, err)
			text, err := json.MarshalIndent(r, "", " ")
			require.NoError(t, err)
			return string(text)
		}
		waiting := *made
		waiting.Program = toolchain.Waiting(made.Program)
		assert.Equal(t, recorded(&waiting), recorded(made), "%s, %s", x.doc.Title, x.does.Language)
	}
}
