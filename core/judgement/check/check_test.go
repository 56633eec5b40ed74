package check_test

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"cablaggio/core/testkit/ready"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
	"cablaggio/core/testkit"
	"cablaggio/demo"
)

var lib = build.Shipped()

func analyse(t *testing.T, doc *build.Document) *check.Analysis {
	t.Helper()
	a, err := check.Check(lib, doc)
	require.NoError(t, err)
	return a
}

func read(t *testing.T, file string) *build.Document {
	t.Helper()
	data, err := os.ReadFile(file)
	require.NoError(t, err)
	doc, err := lib.Parse(data)
	require.NoError(t, err, file)
	return doc
}

// edited applies edits to an empty build.
func edited(t *testing.T, board string, edits ...plan.Edit) *build.Document {
	t.Helper()
	doc, _, err := plan.Apply(lib, build.New("test", board), edits)
	require.NoError(t, err)
	return doc
}

// The corpus: testdata/rules/RULE/raises-*.json must raise the rule,
// spares-*.json are near misses that must not.
func TestRules(t *testing.T) {
	testkit.Slow(t)
	files, err := filepath.Glob("testdata/rules/*/*.json")
	require.NoError(t, err)
	require.NotEmpty(t, files)
	for i, file := range files {
		if testing.Short() && i%2 > 0 { // beside the race detector
			continue
		}
		rule, name := filepath.Base(filepath.Dir(file)), strings.TrimSuffix(filepath.Base(file), ".json")
		t.Run(rule+"/"+name, func(t *testing.T) {
			doc := read(t, file)
			a := analyse(t, doc)
			var raised []check.Finding
			for _, x := range a.Findings {
				if x.Rule == rule {
					raised = append(raised, x)
				}
			}
			if strings.HasPrefix(name, "spares-") {
				assert.Empty(t, raised)
				return
			}
			require.NotEmpty(t, raised, "%v", titles(a))
			for _, x := range raised {
				assert.NotEmpty(t, x.Why)
				assertFixed(t, doc, a, x)
			}
		})
	}
}

// Every rule has a file of its own, two builds that raise it, and two that come close and do not.
func TestEveryRuleHasItsSamples(t *testing.T) {
	for _, rule := range check.Rules() {
		assert.FileExists(t, "rule_"+strings.ReplaceAll(rule, "-", "_")+".go")
		for what, pattern := range map[string]string{"that raise it": "raises-*.json", "that come close": "spares-*.json"} {
			files, err := filepath.Glob(filepath.Join("testdata/rules", rule, pattern))
			require.NoError(t, err)
			assert.GreaterOrEqual(t, len(files), 2, "%s needs two builds %s", rule, what)
		}
	}
}

// assertFixed holds every fix of a finding to its promise: the finding is gone,
// and nothing as bad has come.
func assertFixed(t *testing.T, doc *build.Document, before *check.Analysis, x check.Finding) {
	t.Helper()
	if unfixable[x.Rule] && len(x.Fixes) == 0 {
		return
	}
	assert.NotEmpty(t, x.Fixes, "%s: %s", x.ID, x.Title)
	for _, fix := range x.Fixes {
		after, _, err := plan.Apply(lib, doc, fix.Edits)
		require.NoError(t, err, fix.Label)
		a := analyse(t, after)
		for _, y := range a.Findings {
			assert.NotEqual(t, x.ID, y.ID, "%q does not remove %q", fix.Label, x.Title)
			isNew := !slices.ContainsFunc(before.Findings, func(z check.Finding) bool { return isKnown(z, y) && !y.Level.Worse(z.Level) })
			if isNew && !x.Level.Worse(y.Level) && y.Level != check.Note {
				t.Errorf("%q removes %q and brings %q", fix.Label, x.Title, y.Title)
			}
		}
	}
}

// isKnown reports whether a finding was told before, alone or with others of its kind.
func isKnown(before, now check.Finding) bool {
	for _, id := range append([]string{now.ID}, now.Also...) {
		if id != before.ID && !slices.Contains(before.Also, id) {
			return now.ID == before.ID
		}
	}
	return true
}

// unfixable are the rules that may have no fix: nothing but the builder can
// say what a resistor across the supply was meant for.
var unfixable = map[string]bool{"supply-load": true, "rail-load": true}

func titles(a *check.Analysis) (out []string) {
	for _, x := range a.Findings {
		out = append(out, x.Rule+": "+x.Title)
	}
	return out
}

// current returns the computed current of a part in milliamperes.
func current(t *testing.T, a *check.Analysis, part string) (low, typ, high float64) {
	t.Helper()
	for _, r := range a.Parts {
		if r.ID == part {
			q := r.Quantities[0]
			return q.Low * 1e3, q.Typ * 1e3, q.High * 1e3
		}
	}
	t.Fatalf("no report on %s", part)
	return 0, 0, 0
}

// Common practice, no published source: what everybody measures at a bench.
func TestFactsOfTheTrade(t *testing.T) {
	red := plan.Add{Kind: "led", Type: "red"}
	ohms := func(v string) plan.Edit {
		return plan.Value{Part: "led1-resistor", Value: "resistance", Text: v}
	}
	t.Run("a red LED behind 220 ohms on a 5 V pin takes about 14 mA", func(t *testing.T) {
		low, typ, high := current(t, analyse(t, edited(t, "classic-5v", red, ohms("220"))), "led1")
		assert.Less(t, low, 14.0)
		assert.Greater(t, high, 14.0)
		assert.InDelta(t, 14, typ, 2)
	})
	t.Run("behind 1 kilohm it is dim", func(t *testing.T) {
		_, typ, _ := current(t, analyse(t, edited(t, "classic-5v", red, ohms("1k"))), "led1")
		assert.InDelta(t, 3, typ, 0.5)
	})
	t.Run("a 5 V pin held low through its own pull-up gives 100 to 250 µA, about 135 µA typical", func(t *testing.T) {
		a := analyse(t, edited(t, "classic-5v", plan.Add{Kind: "button"}))
		for _, load := range a.Loads {
			if load.ID == "rail-5V" {
				assert.GreaterOrEqual(t, load.Carries.Low, 90e-6)
				assert.LessOrEqual(t, load.Carries.High, 265e-6)
				assert.InDelta(t, 140e-6, load.Carries.Typ, 10e-6)
			}
		}
	})
	t.Run("an LED straight at a 5 V pin is far over what it survives", func(t *testing.T) {
		low, _, _ := current(t, analyse(t, edited(t, "classic-5v", red, plan.Hookup{Part: "led1", Hookup: "no-resistor"})), "led1")
		assert.Greater(t, low, 30.0)
	})
}

func TestDemo(t *testing.T) {
	testkit.Slow(t)
	for _, d := range demo.Builds() {
		doc, err := lib.Parse(d.Data)
		require.NoError(t, err, d.Name)
		a := analyse(t, doc)
		if !strings.Contains(d.Name, "mistakes") {
			assert.Zero(t, a.Counts.Stop+a.Counts.Care, "%s: %v", d.Name, titles(a))
			continue
		}
		mistakes := map[string][]string{
			"tram-stop-mistakes":  {"led-current", "input-floats", "pin-own"},
			"quiz-table-mistakes": {"led-current", "led-reverse", "part-input", "pin-current", "contact-bounce", "led-robbed"},
		}
		for _, rule := range mistakes[d.Name] {
			assert.True(t, slices.ContainsFunc(a.Findings, func(x check.Finding) bool { return x.Rule == rule }), "%s: %v", rule, titles(a))
		}
		for _, x := range a.Findings {
			assertFixed(t, doc, a, x)
		}
	}
}

// What Cablaggio wires by itself is right: every kind and type, as it comes, on
// every board.
func TestDefaultsAreFine(t *testing.T) {
	testkit.Slow(t)
	for _, b := range lib.Boards {
		for _, kind := range lib.Catalogue.Kinds {
			types := kind.Types
			if len(types) == 0 {
				types = []part.Type{{}}
			}
			for _, typ := range types {
				doc := edited(t, b.ID, plan.Add{Kind: kind.ID, Type: typ.ID})
				a := analyse(t, doc)
				for _, x := range a.Findings {
					// A colour that needs nearly all the volts of a board is the builder's choice.
					if x.Rule == "led-uneven" && b.Power != b.Logic.Rail {
						if kind.ID == "led" {
							assertFixed(t, doc, a, x)
						}
						continue
					}
					// A servo that starts while the radio sends takes more than USB gives: that is so, and said.
					if kind.Is(part.Servo) && b.ID == "wireless-3v3" {
						assert.Contains(t, x.Title, "USB")
						continue
					}
					assert.Equal(t, check.Note, x.Level, "%s %s on the %s: %s", typ.Name, kind.Name, b.Name, x.Title)
				}
				if !kind.Is(part.Keys) { // its tolerances move together, and the analysis says so
					assert.True(t, a.Exhaustive, kind.ID)
				}
			}
		}
	}
}

// Ids are names for the file alone: other ids change no number.
func TestRenamingIdsChangesNothingElse(t *testing.T) {
	testkit.Slow(t)
	for _, d := range demo.Builds() {
		doc, err := lib.Parse(d.Data)
		require.NoError(t, err)
		other := doc.Clone()
		for i := range other.Parts {
			p := &other.Parts[i]
			p.ID = "z-" + p.ID
			if p.Of != "" {
				p.Of = "z-" + p.Of
			}
		}
		for _, group := range other.Exclusive {
			for i := range group {
				group[i] = "z-" + group[i]
			}
		}
		for _, net := range other.Nets {
			for i, terminal := range net {
				if !terminal.OnBoard() {
					net[i] = "z-" + terminal
				}
			}
		}
		require.NoError(t, lib.Validate(other))
		a, b := analyse(t, doc), analyse(t, other)
		bare := func(q check.Quantity) check.Quantity {
			q.At = nil // the address has the id of what is set
			return q
		}
		for i := range a.Parts {
			for k := range a.Parts[i].Quantities {
				assert.Equal(t, bare(a.Parts[i].Quantities[k]), bare(b.Parts[i].Quantities[k]))
			}
		}
		assert.Equal(t, a.Loads, b.Loads)
		assert.Equal(t, titles(a), titles(b))
	}
}

// The limits of a tolerance widen the result and never move it.
func TestMoreToleranceMeansAWiderRange(t *testing.T) {
	red := plan.Add{Kind: "led", Type: "red"}
	width := 0.0
	for _, percent := range []string{"0", "1", "5", "10", "20"} {
		a := analyse(t, edited(t, "classic-5v", red,
			plan.Value{Part: "led1-resistor", Value: "resistance", Text: "330"},
			plan.Value{Part: "led1-resistor", Value: "tolerance", Text: percent}))
		low, typ, high := current(t, a, "led1")
		assert.InDelta(t, 8.7, typ, 0.05)
		assert.Greater(t, high-low, width)
		width = high - low
	}
}

// sharing is n lamps on pins of their own with one resistor in common.
func sharing(t *testing.T, n int) *build.Document {
	t.Helper()
	doc := edited(t, "large-5v", plan.Add{Kind: "resistor"}, plan.Join{Terminal: "resistor1.2", To: "board.GND"})
	for i := range n {
		id := fmt.Sprintf("led%d", i+1)
		var err error
		doc, _, err = plan.Apply(lib, doc, []plan.Edit{
			plan.Add{Kind: "led", Type: []string{"red", "green", "blue"}[i%3], Hookup: "no-resistor"},
			plan.Free{Terminal: build.Of(id, "cathode")},
			plan.Join{Terminal: build.Of(id, "cathode"), To: "resistor1.1"},
		})
		require.NoError(t, err)
	}
	return doc
}

// Of many states the corners are solved where they matter: the result is that
// of all corners in all states.
func TestTheWorstOfManyStates(t *testing.T) {
	testkit.Slow(t)
	doc := sharing(t, 8) // 256 states in one piece
	a := analyse(t, doc)
	assert.True(t, a.Exhaustive)
	n := wiring.Build(lib, doc)
	for _, r := range a.Parts {
		if !strings.HasPrefix(r.ID, "led") {
			continue
		}
		element := n.Find(wiring.Body, r.ID, "")
		piece := n.PieceWith(element)
		high := 0.0
		for mask := range 1 << len(piece.Controls) {
			s := make(wiring.State, len(piece.Controls))
			for k := range s {
				s[k] = []float64{wiring.DrivenLow, wiring.DrivenHigh}[mask>>k&1]
			}
			solved, err := piece.At(s)
			require.NoError(t, err)
			high = max(high, solved.Amps(element).High)
		}
		assert.InEpsilon(t, high, r.Quantities[0].High, 1e-9, r.ID)
	}
}

// A heap of parts in one piece is searched at its extremes, says so, and stays
// affordable.
func TestAHeapOfParts(t *testing.T) {
	if !testkit.Wide() {
		t.Skip("in the wide run")
	}
	n := 50
	a := analyse(t, sharing(t, n))
	assert.False(t, a.Exhaustive)
	assert.Less(t, a.States, 200)
	assert.Len(t, a.Parts, n+1)
}

// Readings of sums that can be done by hand.
func TestAnalogReadings(t *testing.T) {
	readings := func(board string, edits ...plan.Edit) (out []string) {
		for _, p := range analyse(t, edited(t, board, edits...)).Pins {
			for _, in := range p.Inputs {
				out = append(out, in.Count)
			}
		}
		return out
	}
	// A knob spans the scale but for what is left of the track at its ends.
	assert.Equal(t, []string{"0", "511", "1023"}, readings("classic-5v", plan.Add{Kind: "potentiometer"}))
	assert.Equal(t, []string{"1", "2047", "4094"}, readings("slim-3v3", plan.Add{Kind: "potentiometer"}))
	// 10 kΩ at 25 °C over 10 kΩ is half of the supply: IEC 60539-1 defines R25.
	ntc := readings("classic-5v", plan.Add{Kind: "thermistor"}, plan.Value{Part: "thermistor1-sense", Value: "resistance", Text: "10k"})
	require.Len(t, ntc, 3)
	assert.Equal(t, "511", ntc[1])
	// At 0 °C: 10 kΩ · exp(3950 · (1/273.15 − 1/298.15)) = 33.6 kΩ, so 1023 · 10 ÷ 43.6 = 234.5.
	assert.Contains(t, []string{"234", "235"}, ntc[0])
}

func TestTheSameBuildGivesTheSameBytes(t *testing.T) {
	testkit.Slow(t)
	for _, d := range demo.Builds() {
		var first []byte
		for range testkit.Few(2, 5) {
			doc, err := lib.Parse(d.Data)
			require.NoError(t, err)
			data, err := json.Marshal(analyse(t, doc))
			require.NoError(t, err)
			if first == nil {
				first = data
			}
			require.Equal(t, string(first), string(data))
		}
	}
}

func TestTheWorkingAddsUp(t *testing.T) {
	a := analyse(t, edited(t, "classic-5v", plan.Add{Kind: "led", Type: "red"}, plan.Value{Part: "led1-resistor", Value: "resistance", Text: "220"}))
	w := a.Parts[0].Quantities[0].Working
	assert.Equal(t, "I = (U − VF) ÷ R", w.Formula)
	assert.Equal(t, "(5.00 V − 1.95 V) ÷ (25 Ω + 220 Ω)", w.Numbers)
	assert.Equal(t, "12.4 mA", w.Result)
	require.Len(t, w.Drops, 3)
	assert.Equal(t, []string{"311 mV", "2.74 V", "1.95 V"}, []string{w.Drops[0].Volts, w.Drops[1].Volts, w.Drops[2].Volts})
}

// To find is to check without looking for what would help: the same findings, each
// alone.
func TestFindIsCheckWithoutFixes(t *testing.T) {
	testkit.Slow(t)
	for name, doc := range ready.Builds(t, lib) {
		m := check.NewMemory()
		want, err := m.Check(lib, doc)
		require.NoError(t, err)
		found, err := m.Find(lib, doc)
		require.NoError(t, err)
		levels := map[string]check.Level{}
		for _, x := range want.Findings {
			for _, id := range append([]string{x.ID}, x.Also...) {
				levels[id] = x.Level
			}
		}
		require.Len(t, found, len(levels), name)
		for _, f := range found {
			assert.Equal(t, levels[f.ID], f.Level, name)
			assert.Empty(t, f.Fixes)
		}
	}
}
