package program_test

import (
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/program"
	"cablaggio/core/testkit"
	"cablaggio/demo"
	"cablaggio/starts"
	"cablaggio/toolchain"
)

var (
	lib      = build.Shipped()
	compiler = toolchain.New()
	known    = wiring.NewCache()
)

// made are builds that no ready one has what the rules need.
var made = map[string]struct {
	board string
	edits []plan.Edit
}{
	"tone": {"classic-5v", []plan.Edit{
		plan.Add{Kind: "buzzer", Hookup: "resistor-at-pin", Pin: "D4"},
		plan.Add{Kind: "led", Type: "red", Hookup: "dimmed", Pin: "D11"},
		plan.Add{Kind: "button", Hookup: "ground-internal-pull-up", Pin: "D7"},
	}},
	"channel": {"slim-3v3", []plan.Edit{
		plan.Add{Kind: "led", Type: "red", Hookup: "dimmed", Pin: "GP0"},
		plan.Add{Kind: "led", Type: "red", Hookup: "resistor-at-pin", Pin: "GP16"},
	}},
	"slim": {"slim-3v3", []plan.Edit{
		plan.Add{Kind: "button", Hookup: "ground-internal-pull-up", Pin: "GP2"},
		plan.Add{Kind: "led", Type: "red", Hookup: "resistor-at-pin", Pin: "GP3"},
	}},
	"slim dimmer": {"slim-3v3", []plan.Edit{
		plan.Add{Kind: "potentiometer", Hookup: "knob", Pin: "GP26"},
		plan.Add{Kind: "led", Type: "red", Hookup: "dimmed", Pin: "GP4"},
	}},
	"slim keypad": {"slim-3v3", []plan.Edit{
		plan.Add{Kind: "keypad-4x3", Hookup: "rows-driven"},
		plan.Add{Kind: "led", Type: "red", Hookup: "resistor-at-pin", Pin: "GP9"},
	}},
	"slim wheel": {"slim-3v3", []plan.Edit{
		plan.Add{Kind: "pulse-sensor", Hookup: "interrupt-internal-pull-up", Pin: "GP2"},
		plan.Add{Kind: "led", Type: "red", Hookup: "resistor-at-pin", Pin: "GP3"},
	}},
	"slim turns": {"slim-3v3", []plan.Edit{
		plan.Add{Kind: "led", Type: "red", Hookup: "resistor-at-pin", Pin: "GP2"},
		plan.Add{Kind: "led", Type: "red", Hookup: "resistor-at-pin", Pin: "GP3"},
		plan.Turns{Part: "led2", With: "led1"},
	}},
	"anode": {"classic-5v", []plan.Edit{
		plan.Add{Kind: "led-rgb-anode", Hookup: "resistor-each"},
		plan.Add{Kind: "potentiometer", Hookup: "knob", Pin: "A0"},
		plan.MovePin{Part: "led-rgb-anode1", Signal: "red", Pin: "D5"},
		plan.MovePin{Part: "led-rgb-anode1", Signal: "green", Pin: "D6"},
		plan.MovePin{Part: "led-rgb-anode1", Signal: "blue", Pin: "D9"},
	}},
	"smoothed": {"classic-5v", []plan.Edit{
		plan.Add{Kind: "button", Hookup: "ground-pull-up-debounced", Pin: "D4"},
		plan.Add{Kind: "led", Type: "red", Hookup: "resistor-at-pin", Pin: "D7"},
	}},
	"turns": {"classic-5v", []plan.Edit{
		plan.Add{Kind: "led", Type: "red", Hookup: "resistor-at-pin", Pin: "D2"},
		plan.Add{Kind: "led", Type: "red", Hookup: "resistor-at-pin", Pin: "D4"},
		plan.Add{Kind: "led", Type: "red", Hookup: "resistor-at-pin", Pin: "D5"},
		plan.Turns{Part: "led2", With: "led1"},
		plan.Turns{Part: "led3", With: "led1"},
	}},
	"many": {"classic-5v", func() (out []plan.Edit) {
		for pin := 2; pin <= 12; pin++ {
			out = append(out, plan.Add{Kind: "led", Type: "red", Hookup: "resistor-at-pin", Pin: fmt.Sprint("D", pin)},
				plan.Value{Part: fmt.Sprintf("led%d-resistor", pin-1), Value: "resistance", Text: "180"})
		}
		return out
	}()},
}

// aBuild is a ready build, a demo build, or one of those above.
func aBuild(t testing.TB, name string) *build.Document {
	t.Helper()
	if m, ok := made[name]; ok {
		doc, _, err := plan.Apply(lib, build.New(name, m.board), m.edits)
		require.NoError(t, err, name)
		return doc
	}
	id := strings.TrimSuffix(filepath.Base(name), ".json")
	var data []byte
	for _, s := range starts.All() {
		if s.ID == id && strings.HasPrefix(name, "starts/") {
			data = s.Data
		}
	}
	for _, d := range demo.Builds() {
		if d.Name == id && strings.HasPrefix(name, "demo/") {
			data = d.Data
		}
	}
	doc, err := lib.Parse(data)
	require.NoError(t, err, name)
	return doc
}

// A sample is a program on a build, and whether it raises a rule.
type sample struct {
	rule, build string
	raises      bool
	program     build.Program
	place       string
}

// samples reads the programs of the rules.
func samples(t *testing.T) (out []sample) {
	files, err := filepath.Glob("testdata/rules/*.txt")
	require.NoError(t, err)
	for _, file := range files {
		data, err := os.ReadFile(file)
		require.NoError(t, err)
		rule := strings.TrimSuffix(filepath.Base(file), ".txt")
		for i, text := range strings.Split(string(data), "=== ")[1:] {
			head, body, _ := strings.Cut(text, "\n")
			words := strings.Fields(head)
			require.GreaterOrEqual(t, len(words), 3, "%s: %s", file, head)
			of := strings.Join(words[1:len(words)-1], " ")
			out = append(out, sample{rule, of, words[0] == "raises", build.Program{Language: build.Language(words[len(words)-1]), Text: body}, fmt.Sprintf("%s, program %d", rule, i+1)})
		}
	}
	return out
}

func analyse(t *testing.T, doc *build.Document, p build.Program) *program.Analysis {
	t.Helper()
	doc = doc.Clone()
	doc.Program = &p
	a, err := program.Check(t.Context(), compiler, lib, doc, known)
	require.NoError(t, err)
	return a
}

// Each rule has programs that raise it and near ones that do not.
func TestRules(t *testing.T) {
	all := samples(t)
	seen := map[string][2]int{}
	for _, s := range all {
		n := seen[s.rule]
		n[map[bool]int{true: 0, false: 1}[s.raises]]++
		seen[s.rule] = n
	}
	for _, rule := range program.Rules() {
		assert.GreaterOrEqual(t, seen[rule][0], 2, "%s: programs that raise it", rule)
		assert.GreaterOrEqual(t, seen[rule][1], 2, "%s: programs that do not", rule)
	}
	for _, s := range few(all) {
		t.Run(s.place, func(t *testing.T) {
			t.Parallel()
			a := analyse(t, aBuild(t, s.build), s.program)
			require.True(t, a.Compiles, "%+v", a.Messages)
			found := slices.ContainsFunc(a.Findings, func(x check.Finding) bool { return x.Rule == "program-"+s.rule })
			if found != s.raises {
				var said []string
				for _, x := range a.Findings {
					said = append(said, fmt.Sprintf("%s line %d: %s", x.Rule, x.Line, x.Title))
				}
				t.Errorf("raises %v, wanted %v, on %s:\n%s\nfindings:\n%s", found, s.raises, s.build, s.program.Text, strings.Join(said, "\n"))
			}
		})
	}
}

// few are, of the samples of each rule, the first that raises it and the last that does not;
// all of them where tests are wide.
func few(all []sample) (out []sample) {
	for i, s := range all {
		first := i == 0 || all[i-1].rule != s.rule
		last := i+1 == len(all) || all[i+1].rule != s.rule
		if testkit.Wide() || first || last {
			out = append(out, s)
		}
	}
	return out
}

// A fix of a finding removes it, and brings nothing as bad.
func TestFixesHelp(t *testing.T) {
	for i, s := range few(samples(t)) {
		if !s.raises || s.rule == "name" || !testkit.Wide() && i%5 != 0 {
			continue
		}
		t.Run(s.place, func(t *testing.T) {
			t.Parallel()
			doc := aBuild(t, s.build)
			doc.Program = &s.program
			before := analyse(t, doc, s.program)
			for _, x := range before.Findings {
				for _, fix := range x.Fixes {
					mended, _, err := plan.Apply(lib, doc, fix.Edits)
					require.NoError(t, err, "%s: %s", x.Title, fix.Label)
					after := analyse(t, mended, *mended.Program)
					require.True(t, after.Compiles, "%s\n%s", fix.Label, mended.Program.Text)
					for _, y := range after.Findings {
						assert.NotEqual(t, x.ID, y.ID, "%s stays after %q", x.Title, fix.Label)
						was := slices.ContainsFunc(before.Findings, func(z check.Finding) bool { return z.Rule == y.Rule })
						assert.False(t, !was && y.Level.Worse(x.Level), "%q brings %s", fix.Label, y.Title)
					}
				}
			}
		})
	}
}

// The programs of ready builds do their job without a word against them, in each language that
// the board runs; and so do starters and test programs.
func TestReadyProgramsFit(t *testing.T) {
	for i, s := range starts.All() {
		t.Run(s.ID, func(t *testing.T) {
			t.Parallel()
			doc := aBuild(t, "starts/"+s.ID)
			b, _ := lib.Board(doc.Board)
			languages := []build.Language{build.CPP}
			if b.Programs().Python {
				languages = build.Languages
			}
			require.Len(t, s.Programs, len(languages))
			for n, l := range languages {
				assert.Equal(t, l, s.Programs[n].Language)
				fits(t, doc, s.Programs[n], "the program")
				for k, write := range []func(*build.Library, *build.Document, build.Language) (*build.Program, error){program.Starter, program.Test} {
					if !testkit.Wide() && i%4 != k {
						continue
					}
					p, err := write(lib, doc, l)
					require.NoError(t, err)
					fits(t, doc, *p, "what is generated")
				}
			}
		})
	}
}

func fits(t *testing.T, doc *build.Document, p build.Program, what string) {
	t.Helper()
	a := analyse(t, doc, p)
	assert.True(t, a.Compiles, "%s in %s: %+v\n%s", what, p.Language, a.Messages, p.Text)
	for _, x := range a.Findings {
		t.Errorf("%s in %s, line %d: %s %s\n%s", what, p.Language, x.Line, x.Title, x.Why, p.Text)
	}
}

// The same program on the same build gives the same analysis.
func TestItIsAlwaysTheSame(t *testing.T) {
	doc := aBuild(t, "demo/tram-stop.json")
	first := analyse(t, doc, *doc.Program)
	for range 2 {
		assert.Equal(t, first, analyse(t, doc, *doc.Program))
	}
}

func TestRecognise(t *testing.T) {
	for _, s := range samples(t) {
		if s.program.Language.Python() {
			assert.Equal(t, s.program.Language, build.Recognise("program.txt", s.program.Text), s.place)
		}
	}
	assert.Equal(t, build.CPP, build.Recognise("", "void setup() {}\nvoid loop() {}\n"))
}

// What is found in a file beside the main one is told with that file, and its line.
func TestFindingsNameTheirFile(t *testing.T) {
	doc := build.New("files", "classic-5v")
	doc.Program = &build.Program{Language: build.CPP, Text: "#include \"wait.h\"\nvoid setup() {}\nvoid loop() { rest(); }\n", Files: []build.ProgramFile{{Name: "spare.h", Text: "\n"}, {Name: "wait.h", Text: "\ninline void rest() {\n  digitalWrite(LED_BUILTIN, HIGH); delay(60UL * 60 * 1000);\n}\n"}}}
	a, err := program.Check(t.Context(), compiler, lib, doc, known)
	require.NoError(t, err)
	require.True(t, a.Compiles, "%v", a.Messages)
	i := slices.IndexFunc(a.Findings, func(x check.Finding) bool { return x.Rule == "program-pause" })
	require.GreaterOrEqual(t, i, 0, "%v", a.Findings)
	assert.Contains(t, a.Findings[i].Title, "Line 3 of wait.h pauses for")
	assert.Equal(t, 2*build.LineStep+3, a.Findings[i].Line)
}

// What people write is judged as a teacher would: nothing worse than a note is said of what is
// sound, and a mistake is named where it is.
func TestWrittenPrograms(t *testing.T) {
	data, err := os.ReadFile("testdata/written.txt")
	require.NoError(t, err)
	list := strings.Split(string(data), "=== ")[1:]
	for i, text := range list {
		if !testkit.Wide() && i%4 != 0 {
			continue
		}
		head, body, _ := strings.Cut(text, "\n")
		words := strings.Fields(head)
		n := len(words)
		t.Run(head, func(t *testing.T) {
			t.Parallel()
			a := analyse(t, aBuild(t, words[n-2]), build.Program{Language: build.Language(words[n-1]), Text: body})
			if words[0] == "sound" {
				assert.Zero(t, a.Counts.Stop+a.Counts.Care, "%+v %+v\n%s", a.Messages, a.Findings, body)
				return
			}
			line, err := strconv.Atoi(words[1])
			require.NoError(t, err)
			if words[0] == "compiler" {
				assert.False(t, a.Compiles)
				assert.Equal(t, line, a.Messages[0].Line, body)
				return
			}
			assert.True(t, slices.ContainsFunc(a.Findings, func(x check.Finding) bool {
				return x.Rule == "program-"+words[0] && x.Line == line && x.Level != check.Note
			}), "%+v\n%s", a.Findings, body)
		})
	}
}
