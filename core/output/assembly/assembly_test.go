package assembly_test

import (
	"encoding/json"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"
	"unicode/utf8"

	"cablaggio/core/testkit/ready"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/layout/placement"
	"cablaggio/core/output/assembly"
	"cablaggio/core/planning/plan"
	_ "cablaggio/core/testkit/drawn"
)

var lib = build.Shipped()

// Steps that are replayed give the placement: every hole is free when its step
// comes, every leg and wire goes in once, ground before supply, and nothing of
// the board's supply before the rest.
func TestStepsGiveThePlacement(t *testing.T) {
	for name, doc := range ready.Builds(t, lib) {
		t.Run(name, func(t *testing.T) {
			p, err := laid.Place(lib, doc)
			require.NoError(t, err)
			taken, ids := map[string]bool{}, map[string]bool{}
			parts, wires := map[string]bool{}, map[int]bool{}
			steps := assembly.Steps(lib, doc, p)
			fed := false
			for _, s := range steps {
				assert.False(t, ids[s.ID], "two steps %s", s.ID)
				ids[s.ID] = true
				assert.NotEmpty(t, s.Do)
				assert.NotContains(t, s.Do, "  ")
				if s.Look {
					continue
				}
				fill := func(end string) {
					assert.False(t, taken[end], "%s: %s is taken", s.Do, end)
					assert.Contains(t, s.Ends, end)
					taken[end] = true
				}
				for _, id := range s.Parts {
					parts[id] = true
					for _, l := range p.Seat(id).Legs {
						fill(l.Hole.String())
						if len(p.Seat(id).Legs) < 10 { // of a chip, or a digit, the first says where the rest are
							assert.Contains(t, s.Do, l.Hole.String())
						}
					}
					assert.False(t, fed, "a part after the supply")
				}
				for _, i := range s.Wires {
					assert.False(t, wires[i])
					wires[i] = true
					fill(p.Wires[i].From.String())
					fill(p.Wires[i].To.String())
					for _, id := range p.Wires[i].Round {
						assert.Regexp(t, "laid round .*"+regexp.QuoteMeta(doc.Part(id).Name), s.Do)
					}
					fed = fed || s.Group == "Supply"
				}
			}
			assert.Len(t, parts, len(doc.Parts))
			assert.Len(t, wires, len(p.Wires))
			assert.Equal(t, "unplug", steps[0].ID)
			assert.Equal(t, "power", steps[len(steps)-1].ID)
			at := func(group string) int {
				return slices.IndexFunc(steps, func(s assembly.Step) bool { return s.Group == group })
			}
			program := at("Program")
			if program >= 0 {
				assert.Less(t, program, at("Supply"), "the program before power")
			}
			if signals := at("Signal wires"); program >= 0 && signals >= 0 {
				assert.Less(t, program, signals, "and before the pins are wired")
			}
			for i, s := range steps {
				for _, w := range s.Wires {
					if e := p.Wires[w]; e.Colour == "black" && (e.From.OnBoard() && e.To.Hole.Column.IsRail() || e.To.OnBoard() && e.From.Hole.Column.IsRail()) {
						assert.Equal(t, "Rails", s.Group, "ground before everything but the rails: step %d", i)
					}
				}
			}
		})
	}
}

func lamp(t *testing.T, edits ...plan.Edit) *build.Document {
	doc, _, err := plan.Apply(lib, build.New("t", "classic-5v"), append([]plan.Edit{plan.Add{Kind: "led", Type: "red", Name: "pond lamp"}}, edits...))
	require.NoError(t, err)
	return doc
}

func TestWordsOfSteps(t *testing.T) {
	doc := lamp(t, plan.Add{Kind: "button", Name: "bell"})
	r := assembly.Make(lib, doc)
	all := ""
	for _, s := range r.Steps {
		all += s.Do + " " + strings.Join(s.Watch, " ") + strings.Join(s.Bands, " ") + "\n"
	}
	for _, words := range []string{
		"Pond lamp (LED), red: long leg into", "short leg into", "The case is flat at the short one", "Resistor of pond lamp, 270 Ω: one leg into", "red violet brown gold",
		"Bell (button) across the channel: legs in", "are joined inside", "black wire", "Look it over:", "Then give it power",
	} {
		assert.Contains(t, strings.ToLower(all), strings.ToLower(words))
	}
	assert.Nil(t, r.Built)
	assert.NotEmpty(t, r.Links)
	named, _, err := plan.Apply(lib, build.New("t", "classic-5v"), []plan.Edit{plan.Add{Kind: "led", Type: "red"}})
	require.NoError(t, err)
	said := slices.ContainsFunc(assembly.Make(lib, named).Steps, func(s assembly.Step) bool { return strings.HasPrefix(s.Do, "Red LED 1: long leg into") })
	assert.True(t, said, "a colour is not said twice")
}

// A step that is done stays done; one whose part has moved is to be done again.
func TestDoneSteps(t *testing.T) {
	doc := lamp(t)
	steps := assembly.Make(lib, doc).Steps
	i := slices.IndexFunc(steps, func(s assembly.Step) bool { return slices.Contains(s.Parts, "led1") && !s.Look })
	doc, words, err := plan.Apply(lib, doc, []plan.Edit{plan.StepDone{Text: steps[i].ID, Name: steps[i].Do}})
	require.NoError(t, err)
	assert.Contains(t, words, "did a step: Pond lamp (LED)")
	assert.True(t, assembly.Make(lib, doc).Steps[i].Done, "without a time, too")
	doc.Assembly.Done[0].At = time.Date(2026, 5, 1, 10, 0, 0, 0, time.UTC)
	assert.Equal(t, doc.Assembly.Done[0].At, assembly.Make(lib, doc).Steps[i].At)
	moved, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Fix{Terminal: "led1.anode", Text: "c20"}})
	require.NoError(t, err)
	r := assembly.Make(lib, moved)
	h, _ := r.Placement.Seat("led1").Hole("anode")
	assert.Equal(t, "c20", h.String())
	for _, s := range r.Steps {
		assert.False(t, s.Done && slices.Contains(s.Parts, "led1"), s.Do)
	}
	back, _, err := plan.Apply(lib, doc, []plan.Edit{plan.StepUndone{Text: steps[i].ID, Name: steps[i].Do}})
	require.NoError(t, err)
	assert.False(t, assembly.Make(lib, back).Steps[i].Done)
}

// What was really built goes through the same check as the plan.
func TestAsBuilt(t *testing.T) {
	doc := lamp(t, plan.AsBuilt{})
	r := assembly.Make(lib, doc)
	require.NotNil(t, r.Built)
	assert.Empty(t, r.Built.Differences)
	assert.Empty(t, r.Built.Findings)
	anode, _ := r.Placement.Seat("led1").Hole("anode")
	// The resistor is bridged: both of its legs in the row of the lamp's long leg.
	doc, words, err := plan.Apply(lib, doc, []plan.Edit{plan.BuiltLeg{Text: "Resistor of pond lamp one end " + breadboard.Hole{Column: breadboard.A, Row: anode.Row}.String()}})
	require.NoError(t, err, words)
	r = assembly.Make(lib, doc)
	require.Len(t, r.Built.Differences, 1)
	assert.Contains(t, r.Built.Differences[0].What, "it is bridged and holds nothing back")
	// A wire by hand puts the pin straight onto the lamp, and the check says what that does.
	for _, w := range r.Placement.Wires {
		if w.From.OnBoard() && w.From.Place.Name != "GND" {
			doc, _, err = plan.Apply(lib, doc, []plan.Edit{
				plan.WireOut{With: w.From.String(), Text: w.To.String()},
				plan.WireIn{With: w.From.String(), Text: breadboard.Hole{Column: breadboard.B, Row: anode.Row}.String()},
			})
			require.NoError(t, err)
		}
	}
	r = assembly.Make(lib, doc)
	require.NotEmpty(t, r.Built.Findings)
	assert.Equal(t, check.Stop, r.Built.Findings[0].Level)
	assert.Contains(t, r.Built.Findings[0].Title, "pond lamp")
	// Put right again, one after the other.
	doc, _, err = plan.Apply(lib, doc, []plan.Edit{plan.AsBuilt{Text: plan.Forget}})
	require.NoError(t, err)
	assert.Nil(t, assembly.Make(lib, doc).Built)
}

// A resistor is noted by its value or by its bands (IEC 60062).
func TestAnotherResistorByItsBands(t *testing.T) {
	for _, text := range []string{"2k7", "red, violet, red, gold", "Red violet black brown brown"} {
		doc := lamp(t, plan.AsBuilt{}, plan.BuiltValue{Part: "led1-resistor", Text: text})
		diffs := assembly.Make(lib, doc).Built.Differences
		require.Len(t, diffs, 1, text)
		assert.Equal(t, "Resistor of pond lamp is 2.7 kΩ; the plan has 270 Ω.", strings.ToUpper(diffs[0].What[:1])+diffs[0].What[1:])
	}
	_, _, err := plan.Apply(lib, lamp(t, plan.AsBuilt{}), []plan.Edit{plan.BuiltValue{Part: "led1-resistor", Text: "red mauve"}})
	assert.ErrorContains(t, err, "as in: red violet brown gold")
}

func TestBadEntries(t *testing.T) {
	doc := lamp(t, plan.AsBuilt{})
	for words, e := range map[string]plan.Edit{
		"no hole there":            plan.BuiltLeg{Terminal: "led1.anode", Text: "L+1"},
		"is not a hole":            plan.BuiltLeg{Terminal: "led1.anode", Text: "z9"},
		"has no terminal":          plan.BuiltLeg{Terminal: "led1.tail", Text: "a1"},
		"there is no leg":          plan.BuiltLeg{Text: "nobody's leg a1"},
		"which leg and which hole": plan.BuiltLeg{Text: "a1"},
		"two ends":                 plan.WireIn{With: "a1", Text: "a1"},
		"has no place X1":          plan.WireIn{With: "board.X1", Text: "a1"},
		"is noted":                 plan.WireOut{With: "a1", Text: "a2"},
		"not a resistor":           plan.BuiltValue{Part: "led1", Text: "1k"},
		"there is no breadboard":   plan.Breadboards{Text: "huge"},
		"rows 1 to 30":             plan.Fix{Terminal: "led1.anode", Text: "a31"},
	} {
		from := doc
		if _, fixes := e.(plan.Fix); fixes {
			from = lamp(t, plan.Breadboards{Text: "half"})
		}
		_, _, err := plan.Apply(lib, from, []plan.Edit{e})
		assert.ErrorContains(t, err, words)
	}
	_, _, err := plan.Apply(lib, lamp(t), []plan.Edit{plan.BuiltLeg{Terminal: "led1.anode", Text: "a1"}})
	assert.ErrorContains(t, err, "begin to look")
	// A full breadboard says what would help.
	full := build.New("t", "large-5v")
	for range 40 {
		full, _, err = plan.Apply(lib, full, []plan.Edit{plan.Add{Kind: "led"}})
		require.NoError(t, err)
	}
	full.Assembly = &build.Assembly{Breadboards: []string{"half"}}
	r := assembly.Make(lib, full)
	assert.Contains(t, r.Problem, "take a bigger breadboard or a second one")
	full.Assembly = nil
	assert.Empty(t, assembly.Make(lib, full).Problem)
}

// Whatever a builder notes, the report is made, and what is noted can be read
// again as a file.
func TestAnythingMayBeNoted(t *testing.T) {
	memory := assembly.NewMemory(check.NewMemory())
	rapid.Check(t, func(t *rapid.T) {
		doc := build.New("t", rapid.SampledFrom([]string{"classic-5v", "compact-5v", "wireless-3v3"}).Draw(t, "board"))
		for _, kind := range rapid.SliceOfN(rapid.SampledFrom([]string{"led", "button", "potentiometer", "shift-register", "float-contact", "led-rgb-anode"}), 1, 4).Draw(t, "kinds") {
			if next, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Add{Kind: kind}}); err == nil {
				doc = next
			}
		}
		end := func(name string) string {
			if rapid.IntRange(0, 4).Draw(t, name+" on board") == 0 {
				return "board." + rapid.SampledFrom([]string{"GND", "GND/2", "5V", "D4", "A0", "RESET", "IO4"}).Draw(t, name)
			}
			column := breadboard.Column(rapid.IntRange(0, 13).Draw(t, name+" column"))
			return breadboard.Hole{Column: column, Row: rapid.IntRange(1, 32).Draw(t, name+" row")}.String()
		}
		leg := func() build.Terminal {
			q := rapid.SampledFrom(doc.Parts).Draw(t, "part")
			kind, _ := lib.Catalogue.Kind(q.Kind)
			return build.Of(q.ID, rapid.SampledFrom(kind.Terminals).Draw(t, "leg").ID)
		}
		for range rapid.IntRange(1, 10).Draw(t, "edits") {
			somewhere := func() string {
				if rapid.Bool().Draw(t, "somewhere") {
					return end("hole")
				}
				return ""
			}
			first := doc.Parts[0].ID
			edits := []func() plan.Edit{
				func() plan.Edit { return plan.AsBuilt{} },
				func() plan.Edit { return plan.AsBuilt{Text: plan.Forget} },
				func() plan.Edit { return plan.BuiltLeg{Terminal: leg(), Text: somewhere()} },
				func() plan.Edit { return plan.BuiltLeg{Terminal: leg()} },
				func() plan.Edit { return plan.WireIn{With: end("from"), Text: end("to")} },
				func() plan.Edit { return plan.Fix{Terminal: leg(), Text: somewhere()} },
				func() plan.Edit { return plan.Fix{Terminal: leg()} },
				func() plan.Edit { return plan.Breadboards{Text: "mini"} },
				func() plan.Edit { return plan.Breadboards{Text: "full-broken half", With: plan.Beside} },
				func() plan.Edit { return plan.Breadboards{} },
				func() plan.Edit { return plan.Stock{Text: "green", With: "30"} },
				func() plan.Edit { return plan.Board{Board: "slim-3v3"} },
				func() plan.Edit { return plan.Remove{Part: first} },
			}
			if !slices.ContainsFunc(doc.Parts[1:], func(q build.Part) bool { return q.Of != first }) {
				edits = edits[:len(edits)-1] // a build without parts has no legs
			}
			e := rapid.SampledFrom(edits).Draw(t, "edit")()
			next, _, err := plan.Apply(lib, doc, []plan.Edit{e})
			if err != nil {
				continue
			}
			doc = next
			r := memory.Make(lib, doc)
			if r.Problem == "" && r.Built != nil {
				for _, d := range r.Built.Differences {
					require.NotEmpty(t, d.What)
					require.NotEmpty(t, d.Do)
				}
			}
			data, err := json.Marshal(doc)
			require.NoError(t, err)
			again, err := lib.Parse(data)
			require.NoError(t, err)
			same, err := json.Marshal(again)
			require.NoError(t, err)
			require.JSONEq(t, string(data), string(same))
		}
	})
}

// What is built as planned is the plan: the same check finds the same in it, with
// the same numbers.
func TestBuiltAsPlannedIsThePlan(t *testing.T) {
	memory := check.NewMemory()
	for name, doc := range ready.Builds(t, lib) {
		p, err := laid.Place(lib, doc)
		require.NoError(t, err)
		want, err := memory.Check(lib, doc)
		require.NoError(t, err)
		got, err := memory.Check(lib, assembly.AsDocument(lib, doc, p, p.Built()))
		require.NoError(t, err)
		assert.Equal(t, want.Counts, got.Counts, name)
		require.Len(t, got.Pins, len(want.Pins))
		for i := range want.Pins {
			if want.Pins[i].Amps != nil {
				assert.InEpsilon(t, want.Pins[i].Amps.High+1e-9, got.Pins[i].Amps.High+1e-9, 1e-6, "%s: %s", name, want.Pins[i].Pin)
			}
		}
	}
}

// A board that stands in the breadboard goes in first, and its wires end beside
// its pins.
func TestABoardThatPlugsIn(t *testing.T) {
	doc, _, err := plan.Apply(lib, build.New("t", "compact-5v"), []plan.Edit{plan.Add{Kind: "led"}, plan.Add{Kind: "potentiometer"}})
	require.NoError(t, err)
	steps := assembly.Make(lib, doc).Steps
	assert.Equal(t, "Press the Compact 5 V board into the top of the breadboard: pin D13 in c1, pin D12 in g1, the USB socket over the upper edge.", steps[1].Do)
	words := ""
	for _, s := range steps {
		if s.Group == "Signal wires" || s.Group == "Supply" {
			words += s.Do
		}
		assert.NotContains(t, s.Do, "the board's ", "no wire goes to a header that is in the breadboard")
	}
	assert.Contains(t, words, ", beside pin ")
	beside, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Breadboards{With: plan.Beside}})
	require.NoError(t, err)
	words = ""
	for _, s := range assembly.Make(lib, beside).Steps {
		words += s.Do
	}
	assert.NotContains(t, words, "Press the")
	assert.Contains(t, words, "the board's 2nd GND to L")
}

// What has no program needs no step for it; what hangs on rails alone gets them.
func TestABuildWithoutSignals(t *testing.T) {
	doc, _, err := plan.Apply(lib, build.New("t", "classic-5v"), []plan.Edit{
		plan.Add{Kind: "resistor", Name: "heater"},
		plan.Join{Terminal: "resistor1.1", To: "board.5V"},
		plan.Join{Terminal: "resistor1.2", To: "board.GND"},
	})
	require.NoError(t, err)
	r := assembly.Make(lib, doc)
	groups := []string{}
	for _, s := range r.Steps {
		if !slices.Contains(groups, s.Group) {
			groups = append(groups, s.Group)
		}
	}
	assert.NotContains(t, groups, "Program")
	assert.Equal(t, "Supply", groups[len(groups)-1])
	assert.Equal(t, []assembly.Link{
		{From: "5V", To: "heater, one end", Millimetres: 100, Sleeve: 15, Net: 1},
		{From: "GND", To: "heater, other end", Millimetres: 100, Sleeve: 15, Net: 2},
	}, r.Links)
}

// Two legs that meet alone are soldered to each other; a net of many is a chain
// that begins at the board.
func TestSolderedConnections(t *testing.T) {
	doc := lamp(t, plan.Add{Kind: "led", Name: "other lamp"})
	links := assembly.Links(lib, doc)
	far, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Reach{Text: "350 mm"}})
	require.NoError(t, err)
	for i, l := range assembly.Links(lib, far) {
		want := links[i]
		if want.Millimetres > 0 {
			want.Millimetres = 350
		}
		assert.Equal(t, want, l, "only wires reach further")
	}
	near, _, err := plan.Apply(lib, far, []plan.Edit{plan.Reach{}})
	require.NoError(t, err)
	assert.Equal(t, links, assembly.Links(lib, near))
	for _, text := range []string{"long", "0", "-3", "2001", "1.5"} {
		_, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Reach{Text: text}})
		assert.ErrorContains(t, err, "say millimetres", text)
	}
	assert.Contains(t, links, assembly.Link{From: "resistor of pond lamp, other end", To: "pond lamp, long leg", Sleeve: 25, Net: 2})
	assert.Contains(t, links, assembly.Link{From: "GND", To: "pond lamp, short leg", Millimetres: 100, Sleeve: 15, Net: 3})
	assert.Contains(t, links, assembly.Link{From: "pond lamp, short leg", To: "other lamp, short leg", Millimetres: 100, Sleeve: 30, Net: 3})
}

// Row by row stands everything that is plugged in, each leg and each end of a wire
// once, and what shares a row in words shares a strip.
func TestRows(t *testing.T) {
	for _, name := range []string{"demo tram-stop", "demo seedling-shelf", "start keypad"} {
		doc := ready.Builds(t, lib)[name]
		p, err := laid.Place(lib, doc)
		require.NoError(t, err)
		table := p.Table(lib, doc)
		var names, holes []string
		strips := map[breadboard.Strip]string{}
		for _, r := range assembly.Rows(lib, doc, table, p.Built(), p.Wires) {
			assert.NotContains(t, names, r.Name)
			names = append(names, r.Name)
			for _, what := range r.Holds {
				hole, words, ok := strings.Cut(what, ": ")
				require.True(t, ok, what)
				h, err := breadboard.ParseHole(hole)
				require.NoError(t, err)
				if was, seen := strips[table.StripOf(h)]; seen {
					assert.Equal(t, was, r.Name, what)
				}
				strips[table.StripOf(h)] = r.Name
				if !strings.HasSuffix(words, "of the board") {
					holes = append(holes, hole)
				}
			}
		}
		var want []string
		for _, s := range p.Seats {
			for _, l := range s.Legs {
				want = append(want, l.Hole.String())
			}
		}
		for _, w := range p.Wires {
			for _, e := range []breadboard.End{w.From, w.To} {
				if !e.OnBoard() {
					want = append(want, e.String())
				}
			}
		}
		assert.ElementsMatch(t, want, holes, name)
	}
	rows := assembly.Make(lib, lamp(t)).Rows
	assert.Equal(t, "left − rail", rows[0].Name)
	assert.True(t, slices.ContainsFunc(rows, func(r assembly.Row) bool {
		return slices.ContainsFunc(r.Holds, func(s string) bool { return strings.HasSuffix(s, ": long leg of pond lamp") })
	}), "%v", rows)
}

// A name may begin with any letter, and what was put in is named as people do.
func TestNamesBeginWithAnyLetter(t *testing.T) {
	b := &bench{memory: assembly.NewMemory(check.NewMemory()), doc: build.New("t", "classic-5v")}
	require.True(t, b.try(plan.Add{Kind: "button", Name: "äußerer Taster"}))
	for _, s := range b.report.Steps {
		require.True(t, b.try(plan.StepDone{Text: s.ID, Name: s.Do}))
	}
	require.True(t, b.try(plan.Remove{Part: "button1"}, plan.Add{Kind: "led", Name: "œil"}))
	words := ""
	for _, s := range b.report.Steps {
		words += s.Do + "\n"
	}
	assert.Contains(t, words, "\nŒil (LED), red: ")
	assert.Contains(t, words, "Take out the wire: it is in the board's ")
	assert.True(t, utf8.ValidString(words))
	assert.NotContains(t, words, "\uFFFD")
}

// laid places each build once for all tests.
var laid = placement.NewMemory()
