package bench_test

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/bench"
	"cablaggio/core/running/program"
	"cablaggio/core/testkit"
	"cablaggio/starts"
)

// started makes a build of edits on a board, with the starter that is written for it; nil where
// the board has not what it takes.
func started(t *testing.T, b *board.Profile, l build.Language, edits ...plan.Edit) *build.Document {
	t.Helper()
	doc, _, err := plan.Apply(lib, build.New("truth", b.ID), edits)
	if err != nil {
		return nil
	}
	doc.Program, err = program.Starter(lib, doc, l)
	require.NoError(t, err)
	return doc
}

// eachStart calls do for every board in every language that it runs, and for every hookup of a
// kind; few of them where tests are few, but each hookup, each board and each language.
func eachStart(t *testing.T, kind string, edits []plan.Edit, do func(t *testing.T, doc *build.Document)) {
	k, ok := lib.Catalogue.Kind(kind)
	require.True(t, ok)
	n, done := 0, 0
	for _, b := range lib.Boards {
		languages := []build.Language{build.CPP}
		if b.Programs().Python {
			languages = build.Languages
		}
		for _, l := range languages {
			for _, h := range k.Hookups {
				n++
				if h.Host != nil || !testkit.Wide() && n%23 > 1 {
					continue
				}
				doc := started(t, b, l, append([]plan.Edit{plan.Add{Kind: kind, Hookup: h.ID}}, edits...)...)
				if doc == nil {
					continue
				}
				if k.Family != "lamps" && kind != "buzzer" && kind != "buzzer-active" && !strings.Contains(doc.Program.Text, "print") {
					continue // it wants the pins that it would print by
				}
				if a, err := check.Check(lib, doc); err != nil || a.Counts.Stop > 0 {
					continue // nobody promises anything of an input that floats
				}
				done++
				t.Run(fmt.Sprintf("%s/%s/%s", b.ID, l, h.ID), func(t *testing.T) { do(t, doc) })
			}
		}
	}
	require.Positive(t, done, kind)
}

// said is the numbers that stand behind a name in what is printed.
func said(text, name string) (out []float64) {
	for line := range strings.Lines(text) {
		if rest, ok := strings.CutPrefix(line, name+": "); ok {
			if v, err := strconv.ParseFloat(strings.TrimSpace(rest), 64); err == nil {
				out = append(out, v)
			}
		}
	}
	return out
}

// What a starter prints of a wheel is what the wheel did, though its contact bounces as it closes
// and as it opens, whatever a turn stands for.
func TestStartersCountTurns(t *testing.T) {
	cases := []struct{ closures, factor, turns float64 }{{2, 2.4, 3}, {1, 1, 6}, {1, 0.4, 4}, {4, 0.75, 1.25}}
	for _, c := range cases[:testkit.Few(1, len(cases))] {
		edits := []plan.Edit{plan.Value{Part: "pulse-sensor1", Value: "closures", Text: fmt.Sprint(c.closures)}, plan.Value{Part: "pulse-sensor1", Value: "factor", Text: fmt.Sprint(c.factor)}}
		eachStart(t, "pulse-sensor", edits, func(t *testing.T, doc *build.Document) {
			r := compiled(t, doc, "").run(t, fmt.Sprintf("0s spin pulse-sensor1 at %g Hz", c.turns*c.closures), 12*time.Second, 5)
			all := said(printed(r), doc.Parts[0].Name)
			require.Greater(t, len(all), 8, "%s\n%s", printed(r), doc.Program.Text)
			sum := 0.0
			for _, v := range all[1:] {
				sum += v
			}
			mean := sum / float64(len(all)-1)
			assert.InDelta(t, c.turns*c.factor, mean, 0.03*c.turns*c.factor+c.factor/c.closures/float64(len(all)-1), "%v\n%s", all, doc.Program.Text)
		})
	}
}

// The key that is printed is the one that was pressed, as it is printed on usual ones.
func TestStartersReadKeys(t *testing.T) {
	pads := map[string]string{"keypad-4x4": "123A456B789C*0#D"}
	if testkit.Wide() {
		pads["keypad-4x3"] = "123456789*0#"
	}
	for kind, legends := range pads {
		eachStart(t, kind, nil, func(t *testing.T, doc *build.Document) {
			x := compiled(t, doc, "")
			var keys []string
			for _, c := range x.net.Controls {
				if c.Of == doc.Parts[0].ID {
					keys = c.Keys
				}
			}
			require.Len(t, keys, len(legends))
			script, want := "", ""
			for i, k := range keys {
				at := 0.5 + 0.4*float64(i)
				script += fmt.Sprintf("%gs press %s at %s; %gs release %s at %s; ", at, doc.Parts[0].ID, k, at+0.2, doc.Parts[0].ID, k)
				want += legends[i:i+1] + "\n"
			}
			got := printed(x.run(t, script, 8*time.Second, 5))
			assert.Equal(t, want, strings.ReplaceAll(got, "\r\n", "\n"), doc.Program.Text)
		})
	}
}

// A press is one press, however it bounces, and as long as it may be held.
func TestStartersCountPresses(t *testing.T) {
	eachStart(t, "button", nil, func(t *testing.T, doc *build.Document) {
		script := ""
		for i := range 9 {
			at := 0.5 + 0.7*float64(i)
			script += fmt.Sprintf("%gs press button1; %gs release button1; ", at, at+0.15+0.05*float64(i))
		}
		r := compiled(t, doc, "").run(t, script, 8*time.Second, 5)
		assert.Equal(t, 9, strings.Count(printed(r), doc.Parts[0].Name), "%s\n%s", printed(r), doc.Program.Text)
	})
}

// What is printed of a knob is where it stands.
func TestStartersReadKnobs(t *testing.T) {
	eachStart(t, "potentiometer", nil, func(t *testing.T, doc *build.Document) {
		full := 65535.0
		if doc.Program.Language == build.CPP {
			b, _ := lib.Board(doc.Board)
			full = float64(int(1)<<b.Programs().ReadBits - 1)
		}
		for _, to := range []float64{0, 0.25, 0.5, 1} {
			r := compiled(t, doc, "").run(t, fmt.Sprintf("0s set potentiometer1 to %g", to), 3500*time.Millisecond, 5)
			all := said(printed(r), doc.Parts[0].Name)
			require.NotEmpty(t, all, printed(r))
			assert.InDelta(t, to*full, all[len(all)-1], 0.03*full, doc.Program.Text)
		}
	})
}

// The ready wheel prints what its water wheel did: six turns a second of 0.4 litres are 144
// litres a minute.
func TestTheReadyWheelMeasures(t *testing.T) {
	for _, start := range starts.All() {
		if start.ID != "wheel" {
			continue
		}
		doc, err := lib.Parse(start.Data)
		require.NoError(t, err)
		doc.Program = &start.Programs[0]
		for _, turns := range []float64{1, 3, 6} {
			r := compiled(t, doc, "").run(t, fmt.Sprintf("0s spin water wheel at %g Hz", turns), 20*time.Second, 5)
			sum, n := 0.0, 0
			for line := range strings.Lines(printed(r)) {
				if v, ok := strings.CutSuffix(strings.TrimSpace(line), " litres a minute"); ok {
					litres, err := strconv.ParseFloat(v, 64)
					require.NoError(t, err)
					sum += litres
					n++
				}
			}
			require.Greater(t, n, 15)
			assert.InDelta(t, turns*0.4*60, sum/float64(n), 0.03*turns*0.4*60+2)
		}
	}
}

// What a starter prints of a distance module is how far away it is, and 0 where nothing is.
func TestStartersMeasureDistances(t *testing.T) {
	eachStart(t, "distance-module", nil, func(t *testing.T, doc *build.Document) {
		r := compiled(t, doc, "").run(t, "0s set distance-module1 to 150 cm; 3.5s set distance-module1 to 20; 6.5s set distance-module1 to 500", 10*time.Second, 5)
		all := said(printed(r), doc.Parts[0].Name)
		if len(all) == 0 { // Python writes a space after its own comma
			t.Fatal(printed(r), doc.Program.Text)
		}
		near := func(v, cm float64) bool { return math.Abs(v-cm) < 0.02*cm+1 }
		var seen []float64
		for _, v := range all {
			for _, cm := range []float64{150, 20, 0} {
				if near(v, cm) && (len(seen) == 0 || seen[len(seen)-1] != cm) {
					seen = append(seen, cm)
				}
			}
		}
		assert.Equal(t, []float64{150, 20, 0}, seen, "%v\n%s", all, doc.Program.Text)
	})
}

// A starter prints each axis of a joystick as it leans, and its push.
func TestStartersReadJoysticks(t *testing.T) {
	eachStart(t, "joystick", nil, func(t *testing.T, doc *build.Document) {
		r := compiled(t, doc, "").run(t, "1.5s set joystick1.x to 1; 1.5s set y axis of Joystick 1 to 0; 3.2s press joystick1.push; 3.4s release joystick1.push", 5*time.Second, 5)
		x, y := said(printed(r), "x axis of "+doc.Parts[0].Name), said(printed(r), "y axis of "+doc.Parts[0].Name)
		require.Greater(t, len(x), 2, "%s\n%s", printed(r), doc.Program.Text)
		assert.InDelta(t, 2, x[len(x)-1]/x[0], 0.05)
		assert.Less(t, y[len(y)-1], y[0]/20)
		if strings.Contains(doc.Program.Text, "ush") {
			assert.Equal(t, 1, strings.Count(printed(r), "push of "+doc.Parts[0].Name), printed(r))
		}
	})
}

// A starter sends a servo's arm where a knob stands, in all dialects.
func TestStartersSteer(t *testing.T) {
	eachStart(t, "servo", []plan.Edit{plan.Add{Kind: "potentiometer"}}, func(t *testing.T, doc *build.Document) {
		r := compiled(t, doc, "").run(t, "0s set potentiometer1 to 0; 1s set potentiometer1 to 1; 2s set potentiometer1 to 0.25", 3*time.Second, 5)
		i := slices.IndexFunc(r.Rows, func(x bench.Row) bool { return x.Kind == bench.TurnRow })
		require.GreaterOrEqual(t, i, 0, doc.Program.Text)
		for at, degrees := range map[float64]float64{0.9: 0, 1.9: 180, 2.9: 45} {
			stands := math.NaN()
			for _, c := range r.Rows[i].Changes {
				if c.At <= at {
					stands = c.Value
				}
			}
			assert.InDelta(t, degrees, stands, 3, "%+v\n%s", r.Rows[i].Changes, doc.Program.Text)
		}
	})
}

// A starter counts the clicks of an encoder, both ways, in all dialects.
func TestStartersCountClicks(t *testing.T) {
	eachStart(t, "rotary-encoder", nil, func(t *testing.T, doc *build.Document) {
		r := compiled(t, doc, "").run(t, "0.5s set rotary-encoder1.dial to 7; 2s set dial of Rotary encoder 1 to 3; 3s press rotary-encoder1.push; 3.2s release rotary-encoder1.push", 5*time.Second, 5)
		all := said(printed(r), doc.Parts[0].Name)
		require.NotEmpty(t, all, "%s\n%s", printed(r), doc.Program.Text)
		assert.Equal(t, []float64{7, 3}, []float64{slices.Max(all), all[len(all)-1]}, "%v\n%s", all, doc.Program.Text)
		assert.Contains(t, printed(r), "push of")
	})
}

// The button of a ladder that is printed is the one that was pressed.
func TestStartersReadLadders(t *testing.T) {
	eachStart(t, "button-ladder", nil, func(t *testing.T, doc *build.Document) {
		script := ""
		for k := range 5 {
			script += fmt.Sprintf("%gs press button-ladder1 at button %d; %gs release button-ladder1 at button %d\n", 0.5+float64(k)*0.5, k+1, 0.7+float64(k)*0.5, k+1)
		}
		r := compiled(t, doc, "").run(t, script, 4*time.Second, 5)
		assert.Equal(t, []string{"1", "2", "3", "4", "5"}, strings.Fields(printed(r)), doc.Program.Text)
	})
}
