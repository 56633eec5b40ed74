package drill_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/diagnose"
	"cablaggio/core/faults/drill"
	"cablaggio/core/faults/meter"
	"cablaggio/core/testkit"
	"cablaggio/core/testkit/ready"
)

func aCase(t testing.TB, id string) *diagnose.Case {
	t.Helper()
	lib := build.Shipped()
	return diagnose.New(wiring.NewCache(), meter.Handheld(), lib, ready.Build(t, lib, id))
}

// Every lesson has a fault that is noticed; who asks what the diagnosis asks finds it, and its
// code gives it again.
func TestLessons(t *testing.T) {
	all := drill.Lessons()
	assert.Len(t, all, 10)
	for _, l := range all {
		if l.Build == "register" && !testkit.Wide() {
			continue // it is the largest
		}
		c := aCase(t, l.Build)
		d, err := drill.OfLesson(l, c)
		require.NoError(t, err, l.ID)
		b, ok := c.Bench(d.Fault.ID)
		require.True(t, ok)
		_, seen := b.Start()
		var r *diagnose.Result
		for range 12 {
			r, err = c.Ask(seen)
			require.NoError(t, err)
			if r.Next == nil || r.Next.Sort == diagnose.Try {
				break
			}
			o, _, err := b.Answer(r.Next.Ask)
			require.NoError(t, err)
			seen = append(seen, o)
		}
		assert.True(t, b.Right(r.Causes[0].Faults[0]), "%s is %s, not %s", l.ID, d.Fault.ID, r.Causes[0].Faults)
		again, err := drill.Find(d.Code, c)
		require.NoError(t, err)
		assert.Equal(t, d.Fault.ID, again.Fault.ID)
		par, asked, err := b.Par()
		require.NoError(t, err)
		assert.Equal(t, par > 0, asked > 0, l.ID)
	}
}

func TestDraws(t *testing.T) {
	c := aCase(t, "dimmer")
	kinds := map[string]bool{}
	for seed := range uint64(12) {
		d, err := drill.Draw("dimmer", c, "", seed)
		require.NoError(t, err)
		again, err := drill.Draw("dimmer", c, "", seed)
		require.NoError(t, err)
		assert.Equal(t, d.Code, again.Code, "the same seed, the same drill")
		kinds[string(d.Fault.Kind)] = true
		assert.NotContains(t, d.Code, d.Fault.ID)
	}
	assert.Greater(t, len(kinds), 4)
	d, err := drill.Draw("dimmer", c, "value", 3)
	require.NoError(t, err)
	assert.EqualValues(t, "value", d.Fault.Kind)
	_, err = drill.Draw("dimmer", c, "quarter", 3)
	assert.ErrorContains(t, err, "no such fault")
	for _, text := range []string{"", "DIMMER", "DIMMER-000000", "dimmer-"} {
		_, err := drill.Find(text, c)
		assert.ErrorContains(t, err, "it looks like")
	}
}
