package server

import (
	"fmt"
	"log/slog"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
	"cablaggio/demo"
)

// mesh is a build in which everything hangs together in more states than can be looked at:
// so many buttons between pins, each of which also has a lamp to the next.
func mesh(t testing.TB, lib *build.Library, buttons int) *build.Document {
	t.Helper()
	doc := build.New("mesh", "large-5v")
	for range buttons {
		next, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Add{Kind: "button", Hookup: "no-pull"}})
		require.NoError(t, err)
		doc = next
	}
	for i := 1; i < buttons; i++ {
		pin := func(k int) build.Terminal { return build.Pin(doc.Parts[k].Signals[0].Pin) }
		next, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Add{Kind: "resistor", Value: "resistance", Text: "1k"}})
		require.NoError(t, err)
		doc = next
		r := doc.Parts[len(doc.Parts)-1].ID
		doc.Join(pin(i-1), build.Of(r, "1"))
		doc.Join(pin(i), build.Of(r, "2"))
	}
	return doc
}

// A build that takes long has a first answer that says what is missing, and the whole
// one when it is asked for later; who asks meanwhile does not wait.
func TestAHeavyBuildIsAnsweredInStages(t *testing.T) {
	lib := build.Shipped()
	var doc *build.Document
	for _, d := range demo.Builds() { // any that takes longer than the budget
		if d.Name == "seedling-shelf" {
			var err error
			doc, err = lib.Parse(d.Data)
			require.NoError(t, err)
		}
	}
	c := newComputer(slog.New(slog.DiscardHandler), budget{time.Millisecond, 2 * time.Millisecond, time.Minute, time.Minute, time.Minute})
	first, err := c.check("heavy", lib, doc)
	require.NoError(t, err)
	require.NotEmpty(t, first.Missing, "it was to be a heavy one")
	again, err := c.check("heavy", lib, doc)
	require.NoError(t, err)
	// On a busy machine a better one may be ready by then.
	assert.True(t, again == first || len(again.Parts) >= len(first.Parts), "no worse than the first")
	require.Eventually(t, func() bool {
		a, err := c.check("heavy", lib, doc)
		return assert.NoError(t, err) && a.Missing == nil
	}, 2*time.Minute, 20*time.Millisecond)
	got, err := c.check("heavy", lib, doc)
	require.NoError(t, err)
	want, err := check.Check(lib, doc)
	require.NoError(t, err)
	assert.Equal(t, want, got)
}

// Sixteen heavy ones at once are all answered, and small ones go before them.
func TestSmallBuildsGoFirst(t *testing.T) {
	lib := build.Shipped()
	// A small one has all the time that it takes on a busy machine, but no turn.
	c := newComputer(slog.New(slog.DiscardHandler), budget{time.Minute, 310 * time.Millisecond, 100 * time.Millisecond, time.Second, time.Minute})
	var wg sync.WaitGroup
	for i := range 16 {
		doc := mesh(t, lib, 7)
		doc.Parts[0].Values = map[string]float64{"bounce": 0.001 * float64(i+1)}
		id := fmt.Sprintf("heavy%d", i)
		c.note(id, true)
		wg.Go(func() {
			a, err := c.check(id, lib, doc)
			assert.NoError(t, err)
			assert.NotNil(t, a)
		})
	}
	for i := range 20 {
		doc, _, err := plan.Apply(lib, build.New("small", "classic-5v"), []plan.Edit{plan.Add{Kind: "led", Value: "forwardVoltage"}})
		require.NoError(t, err)
		doc.Parts[0].Values = map[string]float64{"forwardVoltage": 1.8 + 0.001*float64(i)}
		a, err := c.check("small", lib, doc)
		require.NoError(t, err)
		assert.Empty(t, a.Missing, "a small build does not wait for a turn")
	}
	wg.Wait()
}

// What nobody has asked for any more is not worked out, and begins anew for who asks again.
func TestNothingIsWorkedOutForNobody(t *testing.T) {
	lib := build.Shipped()
	doc := mesh(t, lib, 9)
	c := newComputer(slog.New(slog.DiscardHandler), budget{time.Millisecond, 2 * time.Millisecond, time.Millisecond, time.Hour, 50 * time.Millisecond})
	first, err := c.check("left", lib, doc)
	require.NoError(t, err)
	require.NotEmpty(t, first.Missing)
	require.Eventually(t, func() bool {
		c.mu.Lock()
		defer c.mu.Unlock()
		return len(c.jobs) == 0 && len(c.asked) == 0 && len(c.first) == 0 && len(c.ended) == 0
	}, time.Minute, 10*time.Millisecond, "it would take an hour otherwise")
	again, err := c.check("left", lib, doc)
	require.NoError(t, err)
	assert.Equal(t, working, again.Missing[len(again.Missing)-1], "it is begun again")
}
