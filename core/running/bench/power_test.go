package bench_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/supply"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/bench"
)

// counts prints how often it came by, once every 100 ms, and holds a lamp lit.
const counts = `int n = 7;
void setup() { pinMode(4, OUTPUT); digitalWrite(4, HIGH); Serial.begin(9600); }
void loop() { Serial.print(n++); Serial.print(' '); Serial.println(millis() / 100); while (Serial.available()) Serial.write(Serial.read()); delay(100); }`

func lamp(t testing.TB, edits ...plan.Edit) *build.Document {
	doc, _, err := plan.Apply(lib, build.New("lamp", "classic-5v"), append(edits, plan.Add{Kind: "led", Type: "red", Pin: "D4"}))
	require.NoError(t, err)
	return doc
}

// A reset holds the board for as long as a finger presses; then the program begins anew, with its
// variables and its clock as at first, and nothing that was sent before.
func TestReset(t *testing.T) {
	r := compiled(t, lamp(t), counts).run(t, `0.1s type "a"; 0.35s reset board; 0.38s type "b"; 0.6s type "c"`, 800*time.Millisecond, 1)
	assert.Equal(t, "7 0\n8 1\na9 2\n10 3\n7 0\n8 1\n9 2\nc10 3\n", printed(r))
	lit := row(t, r, bench.LampRow, "red LED 1")
	for when, bright := range map[float64]bool{0.2: true, 0.34: true, 0.36: false, 0.42: false, 0.44: true, 0.7: true} {
		assert.Equal(t, bright, at(lit, when).Value > 10, "%g s", when)
	}
	assert.Equal(t, "input", at(row(t, r, bench.PinRow, "D4"), 0.4).Text)
	board := row(t, r, bench.HandRow, "Board")
	assert.Equal(t, []string{"runs", "held in reset", "runs"}, texts(board))
	assert.Equal(t, 0.43, board.Changes[2].At)
	assert.Equal(t, "over", r.How)
}

// What a program keeps without power is there after a reset and without the plug; each run begins with
// an empty store.
func TestWhatIsKept(t *testing.T) {
	x := compiled(t, lamp(t), "#include <EEPROM.h>\nvoid setup() { Serial.begin(9600); byte n = EEPROM.read(3) + 1; EEPROM.write(3, n); Serial.println(n); }\nvoid loop() { delay(10); }")
	for range 2 {
		assert.Equal(t, "0\n1\n2\n", printed(x.run(t, "0.3s reset board; 0.6s unplug board; 0.8s plug in", 1200*time.Millisecond, 1)))
	}
}

func texts(r bench.Row) (out []string) {
	for _, c := range r.Changes {
		out = append(out, c.Text)
	}
	return out
}

// Without its plug nothing is fed: lamps are dark at once, what a capacitor holds runs out, and no
// line of the program runs; with it the program begins anew.
func TestUnplugged(t *testing.T) {
	doc := lamp(t)
	doc, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Add{Kind: "button", Hookup: "ground-pull-up-debounced", Pin: "D2"}})
	require.NoError(t, err)
	x := compiled(t, doc, counts)
	actions, err := bench.ParseScript(x.net, "0.25s unplug the board; 0.3s press button1; 1s plug in; 2s unplug board; 2.2s reset board")
	require.NoError(t, err)
	probe, err := bench.ParseProbe(x.net, "D2,GND")
	require.NoError(t, err)
	r, err := bench.Run(t.Context(), x.net, x.made, bench.Options{Actions: actions, Lasts: 3 * time.Second, Probes: []bench.Probe{probe}})
	require.NoError(t, err)
	first, second, _ := strings.Cut(printed(r), "7 0\n8 1\n9 2\n7 0\n")
	assert.Empty(t, first)
	assert.True(t, strings.HasSuffix(second, "16 9\n"), second)
	lit := row(t, r, bench.LampRow, "red LED 1")
	for when, bright := range map[float64]bool{0.2: true, 0.26: false, 0.9: false, 1.1: true, 2.1: false, 2.9: false} {
		assert.Equal(t, bright, at(lit, when).Value > 10, "%g s", when)
	}
	volts := r.Rows[0]
	assert.Equal(t, bench.VoltRow, volts.Kind)
	assert.InDelta(t, 5, at(volts, 0.24).Value, 0.1, "held high")
	assert.Less(t, at(volts, 0.9).Value, 0.1)
	assert.Equal(t, []string{"runs", "unplugged", "runs", "unplugged"}, texts(row(t, r, bench.HandRow, "Board")), "what is unplugged is not reset")
}

// A lamp is as bright at the cells' charge as in a build whose supply has that voltage, and the
// board stops where its rail has too little for it.
func TestCellsRunDown(t *testing.T) {
	x := compiled(t, lamp(t, plan.Supply{Supply: "vin", Cells: "alkaline-aa", Count: 4}), counts)
	amps := func(charge float64) float64 {
		r := x.run(t, fmt.Sprintf("0.05s set cells to %g %%", charge), 200*time.Millisecond, 1)
		_, text, _ := strings.Cut(at(row(t, r, bench.LampRow, "red LED 1"), 0.2).Text, ", ")
		var v float64
		_, err := fmt.Sscanf(text, "%g mA", &v)
		if err != nil {
			return 0
		}
		return v
	}
	fresh, used, low := amps(100), amps(50), amps(10)
	assert.Greater(t, fresh, used)
	assert.Greater(t, used, low)
	assert.Positive(t, low)
	n := x.net.With(wiring.Feed(8))
	assert.InDelta(t, 5, n.RailVolts("5V").Typ, 1e-9, "eight volts are enough for all of five")
	n = x.net.With(wiring.Feed(5))
	assert.InDelta(t, 3.9, n.RailVolts("5V").Typ, 1e-9)
	assert.InDelta(t, 3.3, n.RailVolts("3V3").Typ, 1e-9)
	three := compiled(t, lamp(t, plan.Supply{Supply: "vin", Cells: "alkaline-aa", Count: 3}), counts)
	r := three.run(t, "0.15s set cells to 5 %; 0.3s set cells to 100 %", 500*time.Millisecond, 1)
	assert.Equal(t, "7 0\n8 1\n7 0\n8 1\n", printed(r), "it stops, and begins anew with fresh ones")
	assert.Equal(t, []string{"runs", "too few volts", "about to begin", "runs"}, texts(row(t, r, bench.HandRow, "Board")))
	for _, script := range []string{"1s set cells to 120 %", "1s set cells", "1s drain cells", "1s drain cells at 1e9 h/s", "1s drain led1 at 3 h/s"} {
		_, err := bench.ParseScript(x.net, script)
		assert.Error(t, err, script)
	}
	_, err := bench.ParseScript(compiled(t, lamp(t), counts).net, "1s set cells to 20 %")
	assert.ErrorContains(t, err, "is not fed by cells")
}

// cells reads how cells stand at a time.
func cells(t testing.TB, r *bench.Recording, when float64) (charge, volts float64) {
	t.Helper()
	_, err := fmt.Sscanf(at(row(t, r, bench.HandRow, "Cells"), when).Text, "%g %%, %g V", &charge, &volts)
	require.NoError(t, err)
	return charge, volts
}

// What is drawn makes cells sag, by Ohm's law, and takes their charge, by the hour: while two of them
// pass in a second it goes 7200 times as fast. Nothing is drawn from cells that are out.
func TestCellsGiveWhatIsDrawn(t *testing.T) {
	x := compiled(t, lamp(t, plan.Supply{Supply: "vin", Cells: "alkaline-aa", Count: 4}), counts)
	r := x.run(t, "0.5s drain cells at 2 h/s; 2.5s unplug board; 3.5s plug board; 4s drain cells at 0 h/s", 5*time.Second, 1)
	lit := at(row(t, r, bench.LampRow, "red LED 1"), 0.4)
	var mA float64
	_, text, _ := strings.Cut(lit.Text, ", ")
	_, err := fmt.Sscanf(text, "%g mA", &mA)
	require.NoError(t, err)
	drawn := x.net.Board.Appetite.Typ + mA/1000
	cell, _ := supply.CellOf("alkaline-aa")
	charge, volts := cells(t, r, 0.4)
	assert.Equal(t, 50.0, charge)
	assert.InDelta(t, 4*(1.4-drawn*cell.Ohms), volts, 0.02)
	lost := 100 * drawn * 2 / cell.AmpHours.Typ // a second
	charge, volts = cells(t, r, 2.49)
	assert.InDelta(t, 50-2*lost, charge, 1+0.02*lost)
	assert.InDelta(t, 4*(1+0.4*charge/50-drawn*cell.Ohms), volts, 0.04)
	out, none := cells(t, r, 3.4)
	assert.InDelta(t, charge, out, 1)
	assert.Zero(t, none)
	charge, _ = cells(t, r, 4.9)
	assert.InDelta(t, 50-2.5*lost, charge, 1+0.03*lost)
	again, err := bench.ParseScript(x.net, r.Actions[0].String())
	require.NoError(t, err)
	assert.Equal(t, r.Actions[:1], again)
}

// fan is a motor of four ohms at D4, and cells.
func fan(t testing.TB, sort string, cells int) *build.Document {
	doc, _, err := plan.Apply(lib, build.New("fan", "classic-5v"), []plan.Edit{
		plan.Supply{Supply: "vin", Cells: sort, Count: cells},
		plan.Add{Kind: "motor", Hookup: "mosfet", Pin: "D4"},
		plan.Value{Part: "motor1", Value: "resistance", Text: "4"},
	})
	require.NoError(t, err)
	return doc
}

// A motor that cells cannot carry takes the board down with it, which lets go of the motor, begins
// anew, and does it again.
func TestAMotorTakesTheBoardDown(t *testing.T) {
	const turns = "void setup() { pinMode(4, OUTPUT); delay(100); digitalWrite(4, HIGH); }\nvoid loop() {}"
	r := compiled(t, fan(t, "alkaline-aaa", 3), turns).run(t, "", time.Second, 1)
	board := row(t, r, bench.HandRow, "Board")
	said := texts(board)
	require.Greater(t, len(said), 12)
	assert.Equal(t, []string{"runs", "too few volts", "about to begin", "runs", "too few volts"}, said[:5])
	assert.InDelta(t, 0.1, board.Changes[1].At, 0.01)
	assert.InDelta(t, 0.065, board.Changes[3].At-board.Changes[2].At, 1e-9, "as a chip waits")
	_, rest := cells(t, r, 0.09)
	_, under := cells(t, r, board.Changes[1].At)
	assert.Greater(t, rest-under, 0.3)
	assert.Equal(t, []string{"runs"}, texts(row(t, compiled(t, fan(t, "nimh-aa", 5), turns).run(t, "", time.Second, 1), bench.HandRow, "Board")))
}

// Cells may be moved as often as a thumb slides; but a program that begins again and again is
// followed for so long only.
func TestTheProgramBeginsOnlySoOften(t *testing.T) {
	three := compiled(t, lamp(t, plan.Supply{Supply: "vin", Cells: "alkaline-aa", Count: 3}), counts)
	var slid, reset []string
	for i := range 220 {
		slid = append(slid, fmt.Sprintf("%dms set cells to %d %%", 10*i+10, 50+i%50))
		reset = append(reset, fmt.Sprintf("%dms reset board", 100*i+100))
	}
	assert.Equal(t, "over", three.run(t, strings.Join(slid, ";"), 3*time.Second, 1).How)
	r := three.run(t, strings.Join(reset, ";"), 30*time.Second, 1)
	assert.Equal(t, "too much", r.How)
	assert.InDelta(t, 20, r.Ended, 0.2, "two hundred of them")
}
