package standin_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/diagnose"
	"cablaggio/core/faults/meter"
	"cablaggio/core/running/program"
	"cablaggio/core/testkit"
	"cablaggio/demo"
	"cablaggio/link/standin"
)

// interview asks a build's board, with a fault in the build, all that it can be asked alone, and while
// each thing is held as it can be.
func interview(t *testing.T, c *diagnose.Case, profile *board.Profile, net *wiring.Network, made *program.Compiled) []diagnose.Observation {
	t.Helper()
	line, err := standin.NewVirtual(t.Context(), net, made, 1)
	require.NoError(t, err)
	b := begin(t, line)
	seen, err := b.Interview(t.Context(), profile, c.PinAsks(), "", func(int, int) {})
	require.NoError(t, err)
	held := map[string]bool{}
	for _, ask := range c.PinAsks() {
		if ask.Of == "" || held[ask.Hand()] {
			continue
		}
		held[ask.Hand()] = true
		require.NoError(t, line.Hold(ask.Of, ask.Setting))
		more, err := b.Interview(t.Context(), profile, c.PinAsks(), ask.Hand(), func(int, int) {})
		require.NoError(t, err)
		seen = append(seen, more...)
		if ask.Setting == "pressed" {
			require.NoError(t, line.Hold(ask.Of, "up"))
		}
	}
	require.NoError(t, line.Close())
	return seen
}

// A sound build's board settles nothing. With a fault in it that shows at a pin, it is mostly among what
// it may be, and no other is said to be it with certainty: much that is wrong looks alike from a pin.
func TestTheBoardIsAsked(t *testing.T) {
	lib := build.Shipped()
	put, shown, first, among := 0, 0, 0, 0
	for _, d := range demo.Builds() {
		doc, err := lib.Parse(d.Data)
		require.NoError(t, err)
		if len(doc.Parts) > 14 {
			continue
		}
		known := wiring.NewCache()
		c := diagnose.New(known, meter.Handheld(), lib, doc)
		profile, _ := lib.Board(doc.Board)
		made := probing(t, profile, build.CPP)
		net := known.Build(lib, doc)
		sound := interview(t, c, profile, net, made)
		r, err := c.Ask(sound)
		require.NoError(t, err)
		for _, cause := range r.Causes {
			assert.False(t, len(cause.Faults) > 0 && cause.Weight > 0.5, "%s is sound, and it is said: %s (%.2f)", d.Name, cause.Words, cause.Weight)
		}
		cures := map[string]string{}
		for _, f := range c.Faults() {
			cures[f.ID] = f.Cure
		}
		for i, f := range c.Faults() {
			if f.InProgram() || f.Sometimes() || f.Everywhere() || i%every != 0 {
				continue
			}
			put++
			seen := interview(t, c, profile, f.In(net), made)
			if slices.Equal(seen, sound) {
				continue
			}
			shown++
			r, err := c.Ask(seen)
			require.NoError(t, err)
			of := slices.IndexFunc(r.Causes, func(x diagnose.Cause) bool {
				return slices.ContainsFunc(x.Faults, func(id string) bool { return cures[id] == f.Cure })
			})
			if of == 0 {
				first++
			}
			if of >= 0 {
				among++
			}
			top := r.Causes[0]
			assert.False(t, of != 0 && top.Weight >= 0.9, "%s: %s, and it is said to be: %s (%.2f) %v", d.Name, f.ID, top.Words, top.Weight, top.For)
		}
	}
	t.Logf("of %d faults %d show at a pin; of these %d are named first, %d are among what it may be", put, shown, first, among)
	assert.Greater(t, among, shown/2)
}

// every is of how many faults one is put in.
var every = testkit.Few(25, 5)
