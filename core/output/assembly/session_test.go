package assembly_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/layout/placement"
	"cablaggio/core/output/assembly"
	"cablaggio/core/planning/plan"
	"cablaggio/core/testkit"
)

// A bench is a build on which somebody works: steps are done and taken back, and
// the plan changes meanwhile.
type bench struct {
	memory *assembly.Memory
	doc    *build.Document
	report *assembly.Report
}

func (b *bench) try(edits ...plan.Edit) bool {
	next, _, err := plan.Apply(lib, b.doc, edits)
	if err != nil {
		return false
	}
	b.doc, b.report = next, b.memory.Make(lib, next)
	return true
}

// accounted holds that nothing that is plugged in is forgotten: what the steps
// that are done have put in is where the layout has it, or a step takes it out.
func (b *bench) accounted(t require.TestingT) {
	if b.doc.Assembly == nil || b.report.Problem != "" {
		return
	}
	steps := map[string]bool{}
	for _, s := range b.report.Steps {
		steps[s.ID] = true
	}
	for _, d := range b.doc.Assembly.Done {
		if _, ends := placement.Puts(d.Step); ends != nil {
			require.True(t, steps[d.Step] || steps[placement.Out+d.Step], "%q is in, and no step has to do with it", d.Step)
		}
	}
}

// free holds that every hole is free when its step comes, with what is plugged in
// already and after what is to be taken out.
func (b *bench) free(t require.TestingT) {
	taken := map[string]string{}
	for _, s := range b.report.Steps {
		if s.Done || strings.HasPrefix(s.ID, placement.Out) {
			continue
		}
		if _, ends := placement.Puts(s.ID); ends != nil {
			for _, e := range ends {
				require.Empty(t, taken[e], "%s: %s is taken", s.Do, e)
				taken[e] = s.Do
			}
		}
	}
	for _, s := range b.report.Steps {
		if _, ends := placement.Puts(s.ID); s.Done && ends != nil {
			for _, e := range ends {
				require.Empty(t, taken[e], "%s is plugged into, and again by %s", e, taken[e])
			}
		}
	}
}

// Whatever is done at the bench and changed in the plan, in any order: nothing
// that is plugged in is lost sight of, no hole is used twice, and when all steps
// are done what is there is the plan.
func TestWorkAtTheBench(t *testing.T) {
	memory := assembly.NewMemory(check.NewMemory())
	rapid.Check(t, func(t *rapid.T) {
		b := &bench{memory: memory, doc: build.New("t", rapid.SampledFrom([]string{"classic-5v", "compact-5v", "wireless-3v3"}).Draw(t, "board"))}
		require.True(t, b.try(plan.Add{Kind: "led"}, plan.Add{Kind: "button"}))
		for range rapid.IntRange(3, 14).Draw(t, "turns") {
			steps := b.report.Steps
			if len(steps) == 0 {
				break // it fits no breadboard
			}
			step := steps[rapid.IntRange(0, len(steps)-1).Draw(t, "step")]
			switch rapid.SampledFrom([]string{"do", "do", "do", "take back", "change", "move", "begin again"}).Draw(t, "turn") {
			case "do":
				require.True(t, b.try(plan.StepDone{Text: step.ID, Name: step.Do}))
			case "take back":
				require.True(t, b.try(plan.StepUndone{Text: step.ID, Name: step.Do}))
			case "change":
				b.try(testkit.RandomEdit(t, lib, b.doc))
			case "move":
				p := b.doc.Parts[rapid.IntRange(0, len(b.doc.Parts)-1).Draw(t, "part")]
				k, _ := lib.Catalogue.Kind(p.Kind)
				b.try(plan.Fix{Terminal: build.Of(p.ID, k.LegOrder()[0]), Text: rapid.SampledFrom([]string{"c22", "e9", "j28", "f25", ""}).Draw(t, "hole")})
			case "begin again":
				require.True(t, b.try(plan.StepsUndone{}))
				require.Empty(t, b.doc.Assembly.Done)
			}
			b.accounted(t)
			b.free(t)
			if len(b.doc.Parts) == 0 {
				return
			}
		}
		if b.report.Problem != "" {
			return
		}
		// First out with what belongs there no more, then everything in.
		for _, s := range b.report.Steps {
			if strings.HasPrefix(s.ID, placement.Out) {
				require.True(t, b.try(plan.StepDone{Text: s.ID, Name: s.Do}))
			}
		}
		for _, s := range b.report.Steps {
			require.False(t, strings.HasPrefix(s.ID, placement.Out), s.Do)
			require.True(t, b.try(plan.StepDone{Text: s.ID, Name: s.Do}))
		}
		require.True(t, b.try(plan.AsBuilt{Text: plan.FromSteps}))
		require.Empty(t, b.report.Built.Differences)
		require.Zero(t, b.report.Built.ToCome)
	})
}

// A plan that comes to need a bigger breadboard, with other rail holes, when some
// of it is plugged in already: what is really there can be looked at all the same.
func TestAPlanOutgrowsItsBreadboard(t *testing.T) {
	b := &bench{memory: assembly.NewMemory(check.NewMemory()), doc: build.New("t", "classic-5v")}
	for range 4 {
		require.True(t, b.try(plan.Add{Kind: "led"}))
	}
	for _, s := range b.report.Steps {
		require.True(t, b.try(plan.StepDone{Text: s.ID, Name: s.Do}))
	}
	first := b.report.Placement.Breadboards
	for len(b.doc.Parts) < 40 && slices.Equal(b.report.Placement.Breadboards, first) {
		require.True(t, b.try(plan.Add{Kind: "shift-register"}))
	}
	require.NotEqual(t, first, b.report.Placement.Breadboards)
	require.NotEmpty(t, b.doc.Assembly.Done)
	require.True(t, b.try(plan.AsBuilt{Text: plan.FromSteps}))
	b.accounted(t)
}
