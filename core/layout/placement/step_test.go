package placement_test

import (
	"slices"
	"testing"

	"cablaggio/core/testkit/ready"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
	"cablaggio/core/layout/placement"
	"cablaggio/core/planning/plan"
)

// done are the steps that put in the parts of a placement and every other wire.
func done(p *placement.Placement) (out []plan.Edit) {
	for _, s := range p.Seats {
		out = append(out, plan.StepDone{Text: s.Step(), Name: s.Part})
	}
	for i, w := range p.Wires {
		if i%2 == 0 {
			out = append(out, plan.StepDone{Text: w.Step(), Name: "wire"})
		}
	}
	return out
}

// A plan that grows does not move what is plugged in already, and the rest goes
// around it.
func TestWhatIsPluggedInStays(t *testing.T) {
	for name, doc := range ready.Builds(t, lib) {
		before := sound(t, doc)
		half, _, err := plan.Apply(lib, doc, done(before))
		require.NoError(t, err, name)
		assert.Equal(t, before, sound(t, half), "%s: a step that is done moves nothing", name)
		more, _, err := plan.Apply(lib, half, []plan.Edit{plan.Add{Kind: "led"}})
		if err != nil {
			continue // the board has no pin left
		}
		after := sound(t, more)
		if len(after.Breadboards) != len(before.Breadboards) || after.Breadboards[0] != before.Breadboards[0] {
			continue // on a bigger breadboard everything begins again
		}
		for _, s := range before.Seats {
			assert.Equal(t, s, after.Seat(s.Part), name)
		}
		for i, w := range before.Wires {
			if i%2 == 0 {
				assert.True(t, slices.ContainsFunc(after.Wires, func(o placement.Jumper) bool { return o.Wire == w.Wire }), "%s: the wire from %s to %s", name, w.From, w.To)
			}
		}
	}
}

// A part that the builder puts elsewhere moves, though it was plugged in.
func TestWhatIsPutElsewhereMoves(t *testing.T) {
	doc := planned(t, "classic-5v", plan.Add{Kind: "led"}, plan.Add{Kind: "led"}, plan.Breadboards{Text: "half"})
	p := sound(t, doc)
	var all []plan.Edit
	for _, s := range p.Seats {
		all = append(all, plan.StepDone{Text: s.Step()})
	}
	doc, _, err := plan.Apply(lib, doc, append(all, plan.Fix{Terminal: "led1.anode", Text: "c25"}))
	require.NoError(t, err)
	after := sound(t, doc)
	h, _ := after.Seat("led1").Hole("anode")
	assert.Equal(t, "c25", h.String())
	assert.Equal(t, p.Seat("led2"), after.Seat("led2"))
	// Naming the breadboard that it is on already changes nothing that is done.
	same, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Breadboards{Text: "half"}})
	require.NoError(t, err)
	assert.Equal(t, doc.Assembly, same.Assembly)
	chosen, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Breadboards{}})
	require.NoError(t, err)
	assert.Equal(t, doc.Assembly.Done, chosen.Assembly.Done, "half is what would be chosen")
	// On other breadboards nothing is plugged in.
	doc, _, err = plan.Apply(lib, doc, []plan.Edit{plan.Breadboards{Text: "full"}})
	require.NoError(t, err)
	assert.Empty(t, doc.Assembly.Done)
	assert.Nil(t, doc.Assembly.Kept)
}

// What a step puts in is read back from its id; what says nothing puts in nothing.
func TestStanding(t *testing.T) {
	doc := planned(t, "compact-5v", plan.Add{Kind: "led"}, plan.Add{Kind: "button"})
	p := sound(t, doc)
	var steps []build.Done
	for _, s := range p.Seats {
		steps = append(steps, build.Done{Step: s.Step()})
	}
	for _, w := range p.Wires {
		steps = append(steps, build.Done{Step: w.Step()})
	}
	assert.Equal(t, p.Built(), placement.Standing(lib, doc, steps))
	assert.Equal(t, p.Built(), p.Done(steps))
	for _, bad := range []string{"", "unplug", "look led1 row 3", "seat", "seat led1", "seat led1 e3", "seat led1 e3 e99999", "seat led9 e3 e4", "seat led1 e3 e4 e5", "wire e3", "wire e3 e4 e5", "wire e3 nowhere", "out wire e3 e4"} {
		b := placement.Standing(lib, doc, []build.Done{{Step: bad}})
		assert.Empty(t, b.Legs, bad)
		assert.Empty(t, b.Wires, bad)
	}
}

// What is noted of holes that there are not is left out when the plan changes,
// and costs nothing that was typed.
func TestStepsOfNowhere(t *testing.T) {
	doc := planned(t, "classic-5v", plan.Add{Kind: "led"}, plan.Breadboards{Text: "mini"})
	doc, _, err := plan.Apply(lib, doc, []plan.Edit{
		plan.StepDone{Text: "seat led1 e60 e61"}, plan.StepDone{Text: "wire L-3 e2"}, plan.StepDone{Text: "wire e2 board.D99"},
		plan.Add{Kind: "led", Name: "second"},
	})
	require.NoError(t, err)
	assert.Nil(t, doc.Assembly.Kept)
	sound(t, doc)
}

// Looking from the steps that are done, what is done later is there too, and what
// is taken back or out is not.
func TestBuiltFollowsTheSteps(t *testing.T) {
	doc := planned(t, "classic-5v", plan.Add{Kind: "led"}, plan.Add{Kind: "button"})
	p := sound(t, doc)
	lamp, wire := p.Seat("led1").Step(), p.Wires[0]
	apply := func(edits ...plan.Edit) {
		var err error
		doc, _, err = plan.Apply(lib, doc, edits)
		require.NoError(t, err)
	}
	apply(plan.StepDone{Text: lamp}, plan.AsBuilt{Text: plan.FromSteps})
	at := func(t build.Terminal) breadboard.End { return breadboard.InHole(p.Built().Legs[t].Hole) }
	assert.Equal(t, map[build.Terminal]breadboard.End{"led1.anode": at("led1.anode"), "led1.cathode": at("led1.cathode")}, doc.Assembly.Built.Legs)
	assert.Empty(t, doc.Assembly.Built.Wires)
	apply(plan.StepDone{Text: wire.Step()}, plan.StepDone{Text: wire.Step()})
	assert.Equal(t, []build.Wire{wire.Wire}, doc.Assembly.Built.Wires, "once")
	apply(plan.StepUndone{Text: wire.Step()}, plan.StepDone{Text: placement.Out + lamp})
	assert.Empty(t, doc.Assembly.Built.Wires)
	assert.Empty(t, doc.Assembly.Built.Legs)
	assert.Empty(t, doc.Assembly.Done)
	apply(plan.StepDone{Text: lamp}, plan.StepsUndone{})
	assert.Empty(t, doc.Assembly.Done)
	assert.Nil(t, doc.Assembly.Built, "nothing is plugged in any more")
}
