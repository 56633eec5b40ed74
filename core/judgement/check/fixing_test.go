package check_test

import (
	"bytes"
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
	"cablaggio/core/testkit"
	"cablaggio/starts"
)

// Fixes can be taken one after another: whatever became of a ready
// build, each can be made, and
// taking the first fix of the first finding again and again comes to an end.
func TestFixingComesToAnEnd(t *testing.T) {
	testkit.Slow(t)
	const most = 25
	builds := testkit.Few(14, 60)
	m := check.NewMemory()
	var begun []*build.Document
	for _, s := range starts.All() {
		doc, err := lib.Parse(s.Data)
		require.NoError(t, err)
		begun = append(begun, doc)
	}
	gen := rapid.Custom(func(t *rapid.T) *build.Document {
		doc := begun[rapid.IntRange(0, len(begun)-1).Draw(t, "start")]
		for range rapid.IntRange(2, 8).Draw(t, "steps") {
			if after, _, err := plan.Apply(lib, doc, []plan.Edit{testkit.RandomEdit(t, lib, doc)}); err == nil {
				doc = after
			}
		}
		return doc
	})
	taken := 0
	for i := range builds {
		doc := gen.Example(i)
		for step := 0; ; step++ {
			a, err := m.Check(lib, doc)
			require.NoError(t, err)
			fix, of := firstFix(a)
			if fix == nil {
				break
			}
			require.Less(t, step, most, "build %d: no end of fixes: %s", i, of)
			doc, _, err = plan.Apply(lib, doc, fix.Edits)
			require.NoError(t, err, "build %d: %q cannot be made", i, fix.Label)
			taken++
		}
	}
	require.Greater(t, taken, builds/2, "the random builds have nothing to fix")
}

// firstFix returns the first fix of the worst finding that is worth one.
func firstFix(a *check.Analysis) (fix *check.Fix, of string) {
	for _, x := range a.Findings {
		if x.Level != check.Note && len(x.Fixes) > 0 {
			return &x.Fixes[0], x.Title
		}
	}
	return nil, ""
}

// A fix that needs more pins than there are is not offered.
func TestAFixNeedsItsPins(t *testing.T) {
	free := edited(t, "classic-5v", plan.Add{Kind: "led-rgb-cathode", Hookup: "resistor-in-common"})
	doc := free
	for range 3 {
		doc = applied(t, doc, plan.Add{Kind: "led", Hookup: "dimmed"})
	}
	// As a file may have it: one colour on a pin without PWM, and its own pin is used.
	pin := doc.Parts[0].Signals[0].Pin
	data, err := json.Marshal(doc)
	require.NoError(t, err)
	doc, err = lib.Parse(bytes.ReplaceAll(bytes.ReplaceAll(data, []byte("board."+pin+`"`), []byte(`board.D2"`)), []byte(`"`+pin+`"`), []byte(`"D2"`)))
	require.NoError(t, err)
	doc = applied(t, doc, plan.Add{Kind: "led", Hookup: "dimmed"})
	for fixes, doc := range map[int]*build.Document{1: free, 0: doc} {
		a := analyse(t, doc)
		robbed := 0
		for _, x := range a.Findings {
			if x.Rule == "led-robbed" {
				robbed++
				require.Len(t, x.Fixes, fixes, x.Title)
			}
			for _, fix := range x.Fixes {
				_, _, err := plan.Apply(lib, doc, fix.Edits)
				require.NoError(t, err, "%s: %s", x.Title, fix.Label)
			}
		}
		require.Positive(t, robbed)
	}
}

func applied(t *testing.T, doc *build.Document, edits ...plan.Edit) *build.Document {
	t.Helper()
	after, _, err := plan.Apply(lib, doc, edits)
	require.NoError(t, err)
	return after
}

// An input that a wire ties to a rail is taken off it, and wired as it is meant to be.
func TestAPinIsWiredAnew(t *testing.T) {
	doc := edited(t, "classic-5v", plan.Add{Kind: "potentiometer", Pin: "A0"})
	doc = applied(t, doc, plan.Free{Terminal: "board.A0"})
	doc = applied(t, doc, plan.Join{Terminal: "board.A0", To: "board.5V"})
	fix, of := firstFix(analyse(t, doc))
	require.NotNil(t, fix)
	assert.Equal(t, "A0 always reads 1023, whatever Potentiometer 1 does.", of)
	assert.True(t, strings.HasPrefix(fix.Label, "Take the wire off A0, then wire it as: "), fix.Label)
	assert.Empty(t, worse(analyse(t, applied(t, doc, fix.Edits...))))
}

// worse are the findings that are more than notes.
func worse(a *check.Analysis) (out []string) {
	for _, x := range a.Findings {
		if x.Level != check.Note {
			out = append(out, x.Title)
		}
	}
	return out
}
