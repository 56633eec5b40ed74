package bench_test

import (
	"bytes"
	"encoding/json"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/bench"
	"cablaggio/core/running/program"
	"cablaggio/core/testkit/ready"
	"cablaggio/toolchain"
)

var (
	lib   = build.Shipped()
	tools = toolchain.New()
)

// a is a build with its program, compiled.
type a struct {
	net  *wiring.Network
	made *program.Compiled
}

func compiled(t testing.TB, doc *build.Document, text string) a {
	t.Helper()
	b, _ := lib.Board(doc.Board)
	p := doc.Program
	if text != "" {
		p = &build.Program{Language: build.CPP, Text: text}
	}
	made, err := tools.Compile(t.Context(), p, b)
	require.NoError(t, err)
	require.NotNil(t, made.Program, "%+v", made.Messages)
	bare := doc.Clone()
	bare.Program = nil
	return a{wiring.Build(lib, bare), made}
}

func (x a) run(t testing.TB, script string, lasts time.Duration, seed uint64) *bench.Recording {
	t.Helper()
	actions, err := bench.ParseScript(x.net, script)
	require.NoError(t, err)
	r, err := bench.Run(t.Context(), x.net, x.made, bench.Options{Actions: actions, Lasts: lasts, Seed: seed})
	require.NoError(t, err)
	return r
}

func row(t testing.TB, r *bench.Recording, kind bench.RowKind, name string) bench.Row {
	t.Helper()
	i := slices.IndexFunc(r.Rows, func(x bench.Row) bool { return x.Kind == kind && x.Name == name })
	require.GreaterOrEqual(t, i, 0, "no row %s", name)
	return r.Rows[i]
}

func at(x bench.Row, when float64) (last bench.Change) {
	for _, c := range x.Changes {
		if c.At <= when {
			last = c
		}
	}
	return last
}

func printed(r *bench.Recording) (s string) {
	for _, x := range r.Serial {
		s += strings.ReplaceAll(x.Text, "\r", "")
	}
	return s
}

// What a visitor of the tram stop would expect.
func TestATramIsAskedToStop(t *testing.T) {
	r := compiled(t, ready.Build(t, lib, "tram-stop"), "").run(t, "1s press request button; 1.1s release request button; 2s set dusk sensor to 2; 3s turn dimmer to 100 %; 4s press button1; 4.2s release button1", 5*time.Second, 1)
	lamp := row(t, r, bench.LampRow, "stop request lamp")
	assert.Less(t, at(lamp, 1).Value, 1.0)
	assert.Greater(t, at(lamp, 1.2).Value, 50.0)
	assert.Less(t, at(lamp, 4.3).Value, 1.0, "the next press takes it back, however the contact bounces")
	assert.Less(t, at(row(t, r, bench.LampRow, "platform lamp left"), 1.9).Value, 1.0)
	assert.Greater(t, at(row(t, r, bench.LampRow, "platform lamp left"), 2.1).Value, 50.0)
	assert.Equal(t, "100 %", at(row(t, r, bench.PinRow, "D5"), 3.1).Text, "reading ÷ 4 fills a duty exactly")
	assert.Equal(t, "a tram is asked to stop\nnobody waits\n", printed(r))
	assert.Empty(t, r.Stress)
	for _, c := range row(t, r, bench.PinRow, "D12").Changes {
		assert.Positive(t, c.Line, "each change knows its line")
	}
}

// The same seed gives the same bytes; another seed another bounce; and a longer run begins as
// the shorter one.
func TestARunIsDeterministic(t *testing.T) {
	x := compiled(t, ready.Build(t, lib, "toggle"), "")
	script := "0.5s press button; 0.8s release button; 1.5s press button; 1.6s release button"
	bytesOf := func(r *bench.Recording) string {
		data, err := json.Marshal(r)
		require.NoError(t, err)
		return string(data)
	}
	first := x.run(t, script, 3*time.Second, 5)
	assert.Equal(t, bytesOf(first), bytesOf(x.run(t, script, 3*time.Second, 5)))
	assert.NotEqual(t, bytesOf(first), bytesOf(x.run(t, script, 3*time.Second, 6)))
	longer := x.run(t, script, 6*time.Second, 5)
	for i, r := range first.Rows {
		assert.Equal(t, r.Changes, longer.Rows[i].Changes[:len(r.Changes)], r.Name)
	}
	// What a script says is what an action says, and it comes back in.
	var again strings.Builder
	require.NoError(t, first.Script(&again))
	assert.Equal(t, bytesOf(first), bytesOf(x.run(t, again.String(), 3*time.Second, 5)))
}

// A press that is read by a loop without debounce toggles more than once for some seeds; one
// that waits never does (common practice).
func TestBounce(t *testing.T) {
	hasty := compiled(t, ready.Build(t, lib, "toggle"), "bool lit, was = HIGH;\nvoid setup() { pinMode(4, INPUT_PULLUP); pinMode(7, OUTPUT); }\nvoid loop() { bool now = digitalRead(4); if (was && !now) lit = !lit; was = now; digitalWrite(7, lit); }")
	patient := compiled(t, ready.Build(t, lib, "toggle"), "")
	wrong := 0
	for seed := range uint64(20) {
		for _, x := range []a{hasty, patient} {
			r := x.run(t, "0.5s press button; 0.7s release button", 1200*time.Millisecond, seed)
			n := len(row(t, r, bench.LampRow, "reading lamp").Changes) - 1
			if x.net == patient.net {
				assert.Equal(t, 1, n, "seed %d", seed)
			} else if n > 1 {
				wrong++
			}
		}
	}
	assert.Greater(t, wrong, 10)
}

// An input that nothing holds reads both levels, and more so with a hand near it; one with a
// pull reads one level (common practice).
func TestAnInputThatFloats(t *testing.T) {
	doc, _, err := plan.Apply(lib, build.New("floating", "classic-5v"), []plan.Edit{plan.Add{Kind: "button", Hookup: "no-pull", Pin: "D4"}})
	require.NoError(t, err)
	text := "int last = -1;\nvoid setup() { Serial.begin(115200); pinMode(4, MODE); }\nvoid loop() { int now = digitalRead(4); if (now != last) { last = now; Serial.println(now); } delay(1); }"
	changes := func(mode, script string) int {
		r := compiled(t, doc, strings.Replace(text, "MODE", mode, 1)).run(t, script, 2*time.Second, 3)
		return strings.Count(printed(r), "\n")
	}
	quiet, touched := changes("INPUT", ""), changes("INPUT", "0.1s touch D4; 0.6s touch D4; 1.1s touch D4")
	assert.Greater(t, quiet, 2)
	assert.Greater(t, touched, quiet)
	assert.Equal(t, 1, changes("INPUT_PULLUP", "0.1s touch D4"))
}

// 6 closings a second read 5.99 or 6.02 when their time is taken in whole milliseconds (common
// practice, as in core/values/timing).
func TestAMillisecondClock(t *testing.T) {
	text := `volatile unsigned long last = 0, took = 0;
void hit() { unsigned long now = millis(); if (now - last < 100) return; took = now - last; last = now; }
void setup() { Serial.begin(115200); pinMode(2, INPUT_PULLUP); pinMode(4, OUTPUT); pinMode(7, OUTPUT); attachInterrupt(digitalPinToInterrupt(2), hit, FALLING); }
void loop() { static unsigned long told = 0; noInterrupts(); unsigned long ms = took; unsigned long at = last; interrupts(); if (at != told) { told = at; Serial.println(1000.0 / ms); } }`
	r := compiled(t, ready.Build(t, lib, "wheel"), text).run(t, "0s spin water wheel at 6 Hz", 5*time.Second, 1)
	lines := strings.Fields(printed(r))
	require.Greater(t, len(lines), 20)
	seen := map[string]int{}
	for _, l := range lines[2:] {
		seen[l]++
	}
	assert.Equal(t, len(lines)-2, seen["5.99"]+seen["6.02"], "%v", seen)
	assert.Positive(t, seen["5.99"])
	assert.Positive(t, seen["6.02"])
}

// A generator in place of a wheel closes exactly as often as it says, for its share, without a
// bounce; in place of a sensor it goes from level to level; a hand that takes over takes it away.
func TestAGenerator(t *testing.T) {
	text := `volatile int hits = 0;
void hit() { hits++; }
void setup() { Serial.begin(115200); pinMode(2, INPUT_PULLUP); attachInterrupt(digitalPinToInterrupt(2), hit, CHANGE); }
void loop() { delay(1000); noInterrupts(); int n = hits; hits = 0; interrupts(); Serial.println(n); Serial.println(pulseIn(2, LOW, 500000UL) / 1000); }`
	x := compiled(t, ready.Build(t, lib, "wheel"), text)
	r := x.run(t, "0.5s feed water wheel at 10 Hz 20 %; 8.2s spin water wheel at 0", 12*time.Second, 1)
	lines := strings.Fields(printed(r))
	require.Greater(t, len(lines), 12)
	assert.Equal(t, []string{"20", "20"}, []string{lines[1], lines[5]}, "closed for a fifth of a tenth of a second")
	assert.Equal(t, "0", lines[len(lines)-2], "it was taken away")
	for _, said := range []string{lines[2], lines[4], lines[6]} {
		n, err := strconv.Atoi(said)
		require.NoError(t, err)
		assert.InDelta(t, 22, n, 3, "two edges, ten times a second, and those while one was measured")
	}
	knob := compiled(t, ready.Build(t, lib, "dimmer"), "void setup() { Serial.begin(115200); }\nvoid loop() { Serial.println(analogRead(A0)); delay(100); }")
	r = knob.run(t, "0s feed potentiometer1 at 2 Hz 50 % from 0.25 to 0.75", 3*time.Second, 1)
	seen := map[string]int{}
	for _, said := range strings.Fields(printed(r)) {
		seen[said]++
	}
	assert.Len(t, seen, 2, "%v", seen)
}

// A pause of 100 ms makes a press wait up to 100 ms.
func TestAPressWaits(t *testing.T) {
	x := compiled(t, ready.Build(t, lib, "button"), "void setup() { pinMode(4, INPUT_PULLUP); pinMode(7, OUTPUT); }\nvoid loop() { digitalWrite(7, !digitalRead(4)); delay(100); }")
	most := 0.0
	for k := range 10 {
		press := 1 + float64(k)*0.013
		r := x.run(t, fmt.Sprintf("%gs press bell push", press), 2*time.Second, 1)
		for _, c := range row(t, r, bench.LampRow, "lamp").Changes {
			if c.Value > 50 {
				most = math.Max(most, c.At-press)
				assert.LessOrEqual(t, c.At-press, 0.106, "a bounce may take one look more")
			}
		}
	}
	assert.Greater(t, most, 0.07)
}

// A register without a latch shows each bit on its way; one with a latch does not.
func TestGhosts(t *testing.T) {
	for kind, want := range map[string]bool{"shift-register": true, "shift-register-latched": false} {
		edits := []plan.Edit{plan.Add{Kind: kind, Hookup: "own-data-line"}}
		for range 8 {
			edits = append(edits, plan.Add{Kind: "led", Type: "red", Hookup: "on-register"})
		}
		doc, _, err := plan.Apply(lib, build.New("register", "classic-5v"), edits)
		require.NoError(t, err)
		var legs []string
		for _, s := range doc.Parts[0].Signals {
			legs = append(legs, strings.TrimPrefix(s.Pin, "D"))
		}
		text := "void setup() { "
		for _, l := range legs {
			text += "pinMode(" + l + ", OUTPUT); "
		}
		text += "}\nvoid loop() { "
		if len(legs) > 2 {
			text += "digitalWrite(" + legs[2] + ", LOW); "
		}
		text += "shiftOut(" + legs[0] + ", " + legs[1] + ", MSBFIRST, 0x01); "
		if len(legs) > 2 {
			text += "digitalWrite(" + legs[2] + ", HIGH); "
		}
		text += "delay(500); }"
		r := compiled(t, doc, text).run(t, "", 2*time.Second, 1)
		ghosts := false
		for _, x := range r.Rows {
			if x.Kind == bench.LampRow && len(x.Changes) > 3 {
				ghosts = true
			}
		}
		assert.Equal(t, want, ghosts, kind)
	}
}

// What passes a limit is marked at its moment.
func TestStress(t *testing.T) {
	doc, _, err := plan.Apply(lib, build.New("no resistor", "classic-5v"), []plan.Edit{plan.Add{Kind: "led", Type: "red", Hookup: "no-resistor", Pin: "D4"}})
	require.NoError(t, err)
	r := compiled(t, doc, "void setup() { pinMode(4, OUTPUT); delay(700); digitalWrite(4, HIGH); }\nvoid loop() { delay(10); }").run(t, "", 2*time.Second, 1)
	require.NotEmpty(t, r.Stress)
	assert.InDelta(t, 0.7, r.Stress[0].At, 0.001)
}

func TestEyes(t *testing.T) {
	for text, want := range map[string]string{
		"digitalWrite(4, HIGH); delay(250); digitalWrite(4, LOW); delay(250);": "blinks at 2 Hz",
		"digitalWrite(4, HIGH); delay(2); digitalWrite(4, LOW); delay(2);":     "looks steady",
		"digitalWrite(4, HIGH); delay(10);":                                    "lit, at",
		"delay(10);":                                                           "dark",
	} {
		r := compiled(t, ready.Build(t, lib, "blink"), "void setup() { pinMode(4, OUTPUT); }\nvoid loop() { "+text+" }").run(t, "", 4*time.Second, 1)
		assert.Contains(t, row(t, r, bench.LampRow, "firefly").Looks, want, text)
	}
}

func TestScriptsThatMakeNoSense(t *testing.T) {
	net := compiled(t, ready.Build(t, lib, "tram-stop"), "").net
	for script, right := range map[string]string{
		"press button1":                               "write when, what and what of",
		"1s press":                                    "names no part",
		"1s press nothing":                            "the parts are",
		"-1s press button1":                           "write when",
		"1s jump button1":                             "write when",
		"1s turn potentiometer1 to x":                 "needs a number",
		"1s turn potentiometer1 to 200 %":             "0 to 100 %",
		"1s press light-resistor1":                    "cannot be pressed",
		"1s set light-resistor1 to -5":                "it goes from",
		"1s type on":                                  "in quotes",
		"1s touch button1":                            "is a pin",
		"1s feed button1 at noon":                     "a generator has a rate",
		"1s feed button1 at 6 Hz 120 %":               "from 0 to 100 %",
		"1s feed button1 at 6 Hz from 0 to 1":         "no levels between",
		"1s feed light-resistor1 at 6 Hz from 9 to 2": "the lower one first",
		"1s feed led1 at 6 Hz":                        "in for a sensor or a contact",
		"1s spin button1 at 99999 Hz":                 "0 to 10000",
		"9999999s press button1":                      "write when",
	} {
		_, err := bench.ParseScript(net, script)
		var wrong *bench.ActionError
		require.ErrorAs(t, err, &wrong, script)
		assert.Contains(t, wrong.Right, right, script)
	}
	good, err := bench.ParseScript(net, "# nothing\n\n2s press button1 # now\n1s release button1")
	require.NoError(t, err)
	assert.Equal(t, 1.0, good[0].At, "they are put in order")
}

// A generator's settings are read as they are written.
func TestGeneratorsAreWritten(t *testing.T) {
	net := wiring.Build(lib, ready.Build(t, lib, "thermometer"))
	for script, want := range map[string]bench.Action{
		"1s feed temperature-sensor1 at 6 Hz":                       {At: 1, Do: bench.Feed, Of: "temperature-sensor1", To: 6},
		"1s feed temperature-sensor1 at 0.5Hz 25%":                  {At: 1, Do: bench.Feed, Of: "temperature-sensor1", To: 0.5, Share: 0.25},
		"1s feed temperature-sensor1 at 1,5 Hz from 10 °C to 30 °C": {At: 1, Do: bench.Feed, Of: "temperature-sensor1", To: 1.5, Low: 10, High: 30},
	} {
		got, err := bench.ParseScript(net, script)
		require.NoError(t, err, script)
		require.Equal(t, []bench.Action{want}, got, script)
		again, err := bench.ParseScript(net, want.String())
		require.NoError(t, err, want)
		assert.Equal(t, got, again)
	}
}

// In quotes the marks of a script are what they are.
func TestScriptsWithMarksInThem(t *testing.T) {
	net := wiring.Build(lib, ready.Build(t, lib, "keypad"))
	for script, want := range map[string][]bench.Action{
		`1s type "a;b#c" # said`:                          {{At: 1, Do: bench.Type, Text: "a;b#c"}},
		`1s type "say \"on; off\"";2s touch D2`:           {{At: 1, Do: bench.Type, Text: `say "on; off"`}, {At: 2, Do: bench.Touch, Of: "D2"}},
		"1s press keypad-4x31 at row 2 column 1; # a key": {{At: 1, Do: bench.Press, Of: "keypad-4x31", Key: "row 2 column 1"}},
		" ; ;# only words":                                nil,
	} {
		got, err := bench.ParseScript(net, script)
		require.NoError(t, err, script)
		assert.Equal(t, want, got, script)
		for _, x := range got {
			again, err := bench.ParseScript(net, x.String())
			require.NoError(t, err)
			assert.Equal(t, []bench.Action{x}, again, "it is read as it is written")
		}
	}
}

// What hands find at a build: each with its own way of being moved, where it begins, and what
// its settings are called.
func TestHands(t *testing.T) {
	hands := func(id string) map[string]bench.Hand {
		out := map[string]bench.Hand{}
		for _, h := range bench.Hands(wiring.Build(lib, ready.Build(t, lib, id))) {
			out[h.Of] = h
		}
		return out
	}
	button := hands("button")["button1"]
	assert.Equal(t, bench.Presses, button.Kind)
	assert.Equal(t, "pressed", button.On)
	assert.Equal(t, 0.0, button.Rest)
	knob := hands("dimmer")["potentiometer1"]
	assert.Equal(t, bench.Levels, knob.Kind)
	assert.True(t, knob.Least < knob.Rest && knob.Rest < knob.Most, "it begins in the middle")
	assert.False(t, knob.Log)
	pad := hands("keypad")["keypad-4x31"]
	assert.Equal(t, bench.PadOf, pad.Kind)
	assert.Len(t, pad.Keys, 4*3)
	assert.Equal(t, "row 2 column 1", pad.Keys[3], "row by row")
	wheel := hands("wheel")
	assert.True(t, slices.ContainsFunc(slices.Collect(maps.Values(wheel)), func(h bench.Hand) bool { return h.Kind == bench.Spins && h.Unit == "Hz" }), "%v", wheel)
	light := hands("light")["phototransistor1"]
	assert.True(t, light.Log, "light is seen in ratios")
	assert.Len(t, light.At, len(light.Names))
	assert.Empty(t, hands("blink"))
	doc, _, err := plan.Apply(lib, build.New("dial", "classic-5v"), []plan.Edit{plan.Add{Kind: "rotary-encoder"}})
	require.NoError(t, err)
	dial := bench.Hands(wiring.Build(lib, doc))[0]
	assert.Equal(t, 1.0, dial.Step, "a dial rests at its clicks")
	assert.Empty(t, dial.Names, "and nowhere between them")
	assert.Zero(t, knob.Step)
}

func FuzzScript(f *testing.F) {
	net := wiring.Build(lib, ready.Build(f, lib, "tram-stop"))
	f.Add("1.2s press button1; 2s turn dimmer to 50 %")
	f.Add("6s type \"on\"")
	f.Add("6s type \"o;#n\\\"\" # \"")
	f.Fuzz(func(t *testing.T, script string) {
		actions, err := bench.ParseScript(net, script)
		if err != nil {
			return
		}
		for _, x := range actions {
			again, err := bench.ParseScript(net, x.String())
			require.NoError(t, err, x.String())
			require.Len(t, again, 1)
			assert.InDelta(t, x.At, again[0].At, 1e-9)
			assert.Equal(t, x.Do, again[0].Do)
		}
	})
}

// A dump has a variable for each row, and its times go forwards.
func TestDump(t *testing.T) {
	r := compiled(t, ready.Build(t, lib, "tram-stop"), "").run(t, "1s press button1; 1.2s release button1", 2*time.Second, 1)
	var out bytes.Buffer
	require.NoError(t, r.VCD(&out))
	last, variables := -1, map[string]bool{}
	for line := range strings.SplitSeq(strings.TrimSpace(out.String()), "\n") {
		switch fields := strings.Fields(line); {
		case strings.HasPrefix(line, "$var"):
			require.Len(t, fields, 6, line)
			assert.False(t, variables[fields[3]], "each has a name of its own")
			variables[fields[3]] = true
		case strings.HasPrefix(line, "#"):
			at, err := strconv.Atoi(line[1:])
			require.NoError(t, err)
			assert.Greater(t, at, last)
			last = at
		case line[0] == '0' || line[0] == '1' || line[0] == 'z':
			assert.True(t, variables[line[1:]], line)
		case line[0] == 'r':
			require.Len(t, fields, 2, line)
			assert.True(t, variables[fields[1]], line)
		}
	}
	assert.Len(t, variables, len(r.Rows))
	assert.Equal(t, int(2e9), last)
	out.Reset()
	require.NoError(t, r.CSV(&out))
	assert.Contains(t, out.String(), "1.000000000,request button,1,pressed,0")
}

// Without a program all pins are inputs, and time goes by all the same.
func TestNoProgram(t *testing.T) {
	r, err := bench.Run(t.Context(), wiring.Build(lib, ready.Build(t, lib, "button")), nil, bench.Options{Lasts: 24 * time.Hour})
	require.NoError(t, err)
	assert.Equal(t, 86400.0, r.Ended)
	assert.Equal(t, "over", r.How)
}

// The drawing is well-formed, has a line for each row, and names with signs in them stand in it
// as they are.
func TestSVG(t *testing.T) {
	doc := ready.Build(t, lib, "toggle")
	doc.Part("led1").Name = "lamp <1> & more"
	r := compiled(t, doc, "").run(t, "1s press button1; 1.2s release button1", 3*time.Second, 1)
	var out bytes.Buffer
	require.NoError(t, r.SVG(&out))
	d := xml.NewDecoder(bytes.NewReader(out.Bytes()))
	count := map[string]int{}
	text := ""
	for {
		token, err := d.Token()
		if errors.Is(err, io.EOF) {
			break
		}
		require.NoError(t, err)
		switch x := token.(type) {
		case xml.StartElement:
			count[x.Name.Local]++
		case xml.CharData:
			text += string(x)
		}
	}
	assert.Equal(t, 2*len(r.Rows), count["path"], "a rule and a line for each row")
	assert.Contains(t, text, "lamp <1> & more")
	assert.NotContains(t, out.String(), "NaN")
	require.NoError(t, (&bench.Recording{}).SVG(&out), "nothing happened at all")
}

// How a program broke off is told in words.
func TestWhyItBrokeOff(t *testing.T) {
	doc := ready.Build(t, lib, "button")
	r := compiled(t, doc, "int deep(int n) { volatile int here[64]; here[0] = n; return deep(n + 1) + here[0]; }\nvoid setup() { pinMode(7, deep(1)); }\nvoid loop() {}").run(t, "", time.Second, 1)
	assert.Equal(t, "broke off", r.How)
	assert.Equal(t, "it reaches beyond its memory", r.Why)
}

// A wheel is up to its rate at once, and coasts when it is let go: after one time constant of a
// second it has lost all but 1/e of its rate, so at 6 Hz it goes on for some six turns.
func TestAWheelCoasts(t *testing.T) {
	x := compiled(t, ready.Build(t, lib, "wheel"), "void setup() {}\nvoid loop() { delay(1000); }")
	closings := func(script string, from, to float64) (n int) {
		before := 0.0
		for _, c := range row(t, x.run(t, script, 12*time.Second, 1), bench.HandRow, "water wheel").Changes {
			if c.Value == 1 && c.At-before > 0.02 && c.At > from && c.At <= to { // it was open for a while: no bounce
				n++
			}
			before = c.At
		}
		return n
	}
	assert.InDelta(t, 12, closings("1s spin water wheel at 6 Hz", 1, 3), 1)
	stopped := "1s spin water wheel at 6 Hz; 3s spin water wheel at 0 Hz"
	assert.InDelta(t, 6*(1-math.Exp(-1)), closings(stopped, 3, 4), 1)
	assert.InDelta(t, 6, closings(stopped, 3, 12), 1)
	assert.InDelta(t, 2*2+4*(1-math.Exp(-2)), closings("1s spin water wheel at 6 Hz; 3s spin water wheel at 2 Hz", 3, 5), 1)
	slow := row(t, x.run(t, "1s spin water wheel at 0.15 Hz; 1.4s spin water wheel at 0 Hz", 12*time.Second, 1), bench.HandRow, "water wheel").Changes
	assert.Equal(t, 1.0, slow[len(slow)-1].Value, "it stands with its contact closed")
	assert.Less(t, slow[len(slow)-1].At, 1.1)
}

// A lamp has its colour by its type, also the one of a case with several; what the eye does not
// see shines in none.
func TestLampsHaveTheirColour(t *testing.T) {
	doc, _, err := plan.Apply(lib, build.New("t", "classic-5v"), []plan.Edit{plan.Add{Kind: "led", Type: "infrared"}, plan.Add{Kind: "led", Type: "amber"}, plan.Add{Kind: "led-rgb-cathode"}})
	require.NoError(t, err)
	inks := map[string]string{}
	for _, l := range wiring.Build(lib, doc).Lamps {
		kind, _ := lib.Catalogue.Kind(l.Part.Kind)
		ink := l.Ink(kind)
		inks[l.Name] = ink.ID
		assert.NotEmpty(t, ink.Fill, l.Name)
		assert.Equal(t, ink.ID == "infrared", ink.Shines == "", l.Name)
	}
	require.Len(t, inks, 5)
	assert.Equal(t, "infrared", inks["infrared LED 1"])
	assert.Equal(t, "blue", inks["blue of RGB LED, common cathode 1"], "%v", inks)
}

// A torrent without an end of a line is kept as far as there is room, and it is said that it
// was cut.
func TestATorrentIsCut(t *testing.T) {
	doc := build.New("torrent", "slim-3v3")
	text := "char text[20001];\nvoid setup() { Serial.begin(115200); memset(text, 'x', 20000); }\nvoid loop() { Serial.print(text); }"
	r := compiled(t, doc, text).run(t, "", 30*time.Second, 1)
	assert.True(t, r.Cut)
	n := len(printed(r))
	assert.Greater(t, n, 500_000)
	assert.LessOrEqual(t, n, 1<<20)
}
