package assembly_test

import (
	"slices"
	"strings"
	"testing"

	"cablaggio/core/testkit/ready"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/layout/placement"
	"cablaggio/core/output/assembly"
	"cablaggio/core/planning/plan"
)

// doing are the edits that do the first steps of a build.
func doing(steps []assembly.Step) (out []plan.Edit) {
	for _, s := range steps {
		out = append(out, plan.StepDone{Text: s.ID, Name: s.Do})
	}
	return out
}

// Looking after any step, what has been done is as planned, and what is to come
// is not told as missing: what is there and what is to come are everything.
func TestLookingHalfWay(t *testing.T) {
	ready := ready.Builds(t, lib)
	for _, name := range []string{"demo tram-stop", "demo seedling-shelf", "start keypad", "start wheel", "start toggle"} {
		doc, m := ready[name], assembly.NewMemory(check.NewMemory())
		steps := m.Make(lib, doc).Steps
		for _, n := range []int{0, len(steps) / 3, len(steps) * 2 / 3, len(steps)} {
			edits := append(doing(steps[:n]), plan.AsBuilt{Text: plan.FromSteps})
			half, _, err := plan.Apply(lib, doc, edits)
			require.NoError(t, err, name)
			r := m.Make(lib, half)
			assert.Empty(t, r.Built.Differences, "%s after %d steps", name, n)
			assert.Empty(t, r.Built.Missing)
			legs := 0
			for _, s := range r.Placement.Seats {
				legs += len(s.Legs)
			}
			assert.Equal(t, legs+len(r.Placement.Wires), len(r.Built.Legs)+len(r.Built.Wires)+r.Built.ToCome, name)
			assert.Equal(t, n == len(steps), r.Built.ToCome == 0, name)
		}
	}
}

// A mistake among what is done is told while the rest is still to come.
func TestMistakeHalfWay(t *testing.T) {
	doc := lamp(t)
	steps := assembly.Make(lib, doc).Steps
	last := slices.IndexFunc(steps, func(s assembly.Step) bool { return slices.Contains(s.Parts, "led1") && s.Look })
	p, err := laid.Place(lib, doc)
	require.NoError(t, err)
	anode, _ := p.Seat("led1").Hole("anode")
	cathode, _ := p.Seat("led1").Hole("cathode")
	doc, _, err = plan.Apply(lib, doc, append(doing(steps[:last]),
		plan.AsBuilt{Text: plan.FromSteps},
		plan.BuiltLeg{Terminal: "led1.anode", Text: cathode.String()},
		plan.BuiltLeg{Terminal: "led1.cathode", Text: anode.String()}))
	require.NoError(t, err)
	r := assembly.Make(lib, doc)
	require.Len(t, r.Built.Differences, 1)
	assert.Equal(t, placement.Reversed, r.Built.Differences[0].Fault)
	assert.Positive(t, r.Built.ToCome)

	// A wire of a step that is done is missing when it is not there.
	wired := slices.IndexFunc(steps, func(s assembly.Step) bool { return len(s.Wires) > 0 })
	w := p.Wires[steps[wired].Wires[0]]
	doc, _, err = plan.Apply(lib, doc, append(doing(steps[wired:wired+1]),
		plan.WireOut{With: w.From.String(), Text: w.To.String()}))
	require.NoError(t, err)
	r = assembly.Make(lib, doc)
	require.Len(t, r.Built.Missing, 1)
	assert.Equal(t, w.Wire, r.Built.Missing[0].Wire)
}

// What the plan has no more is taken out again: that is a step too, and when it
// is done it is gone.
func TestTakingOut(t *testing.T) {
	doc := lamp(t, plan.Add{Kind: "button", Name: "bell"})
	p, err := laid.Place(lib, doc)
	require.NoError(t, err)
	bell := p.Seat("button1")
	wire := p.Wires[slices.IndexFunc(p.Wires, func(w placement.Jumper) bool { return w.For == "button1" && w.From.OnBoard() })]
	doc, _, err = plan.Apply(lib, doc, []plan.Edit{
		plan.StepDone{Text: bell.Step()}, plan.StepDone{Text: wire.Step()}, plan.Remove{Part: "button1"},
	})
	require.NoError(t, err)
	out := takeOuts(doc)
	require.Len(t, out, 2)
	assert.Equal(t, "Take out the button: it is in "+words(bell)+".", out[0].Do)
	assert.Contains(t, out[1].Do, "Take out the wire: it is in "+wire.From.Words()+" and "+wire.To.Words())
	for _, s := range out {
		doc, _, err = plan.Apply(lib, doc, []plan.Edit{plan.StepDone{Text: s.ID, Name: s.Do}})
		require.NoError(t, err)
	}
	assert.Empty(t, takeOuts(doc))
	assert.Empty(t, doc.Assembly.Done)
}

func takeOuts(doc *build.Document) (out []assembly.Step) {
	for _, s := range assembly.Make(lib, doc).Steps {
		if strings.HasPrefix(s.ID, placement.Out) {
			out = append(out, s)
		}
	}
	return out
}

func words(s placement.Seat) string {
	var holes []string
	for _, l := range s.Legs {
		holes = append(holes, l.Hole.String())
	}
	n := len(holes) - 1
	return strings.Join(holes[:n], ", ") + " and " + holes[n]
}

// A file may say little of what is there: then it is not plugged in, or still to
// come.
func TestLittleIsSaidOfWhatIsThere(t *testing.T) {
	for _, built := range []*build.Built{{}, {Partial: true}, {Wires: []build.Wire{}}, {Legs: map[build.Terminal]breadboard.End{}}} {
		doc := lamp(t)
		doc.Assembly = &build.Assembly{Breadboards: []string{"half"}, Built: built}
		require.NoError(t, lib.Validate(doc))
		r := assembly.Make(lib, doc)
		require.NotNil(t, r.Built)
		if built.Partial {
			assert.Empty(t, r.Built.Differences)
			assert.Positive(t, r.Built.ToCome)
		} else {
			assert.Equal(t, placement.Missing, r.Built.Differences[0].Fault)
		}
	}
}
