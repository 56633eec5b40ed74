package choose_test

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/board"
	"cablaggio/core/choose"
)

func wants(t *rapid.T, most int) []choose.Want {
	var out []choose.Want
	for range rapid.IntRange(1, most).Draw(t, "signals") {
		out = append(out, choose.Want{Name: "x", Needs: rapid.SampledFrom(board.Functions).Draw(t, "needs")})
	}
	return out
}

// total is what an assignment costs.
func total(b *board.Profile, wants []choose.Want, pins []string) (sum float64) {
	for i, name := range pins {
		p, _ := b.Pin(name)
		sum += choose.Cost(b, wants[i].Needs, p, i)
	}
	return sum
}

// brute is the least cost of any assignment.
func brute(b *board.Profile, wants []choose.Want, free []string, chosen []string) float64 {
	if len(chosen) == len(wants) {
		return total(b, wants, chosen)
	}
	least := math.Inf(1)
	for i, p := range free {
		least = min(least, brute(b, wants, slices.Delete(slices.Clone(free), i, i+1), append(slices.Clone(chosen), p)))
	}
	return least
}

func TestAssignIsAsGoodAsBruteForce(t *testing.T) {
	boards := board.Shipped()
	rapid.Check(t, func(t *rapid.T) {
		b := boards[rapid.IntRange(0, len(boards)-1).Draw(t, "board")]
		ws := wants(t, 4)
		var free, taken []string
		for _, p := range b.Pins {
			taken = append(taken, p.Name)
		}
		for range 7 {
			i := rapid.IntRange(0, len(taken)-1).Draw(t, "free")
			free = append(free, taken[i])
			taken = slices.Delete(taken, i, i+1)
		}
		least := brute(b, ws, free, nil)
		pins, err := choose.Assign(b, ws, taken)
		if err != nil {
			assert.Greater(t, least, 1e14, "%v", err)
			return
		}
		assert.InDelta(t, least, total(b, ws, pins), 1e-6*least+1e-6)
	})
}

// A big case is never beaten by 10,000 random tries.
func TestAssignIsNotBeaten(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 8))
	for _, b := range board.Shipped() {
		var ws []choose.Want
		for i := range 16 {
			ws = append(ws, choose.Want{Needs: []board.Function{board.DigitalOut, board.PWMOut, board.DigitalIn, board.DigitalOut}[i%4]})
		}
		ws = append(ws, choose.Want{Needs: board.AnalogIn}, choose.Want{Needs: board.AnalogIn})
		pins, err := choose.Assign(b, ws, nil)
		require.NoError(t, err, b.ID)
		again, _ := choose.Assign(b, ws, nil)
		assert.Equal(t, pins, again)
		best := total(b, ws, pins)
		names := make([]string, len(b.Pins))
		for i, p := range b.Pins {
			names[i] = p.Name
		}
		for range 10_000 {
			rng.Shuffle(len(names), func(i, j int) { names[i], names[j] = names[j], names[i] })
			require.LessOrEqual(t, best, total(b, ws, names[:len(ws)])+1e-6, b.ID)
		}
	}
}

func TestAssignSaysWhatIsMissing(t *testing.T) {
	b := board.Shipped()[0]
	_, err := choose.Assign(b, slices.Repeat([]choose.Want{{Needs: board.AnalogIn}}, 40), nil)
	assert.ErrorContains(t, err, "analog in")
}

// Four signals that are alike keep their order on the board.
func TestNeighboursStayNeighbours(t *testing.T) {
	for _, b := range board.Shipped() {
		if b.ID == "slim-3v3" {
			pins, err := choose.Assign(b, slices.Repeat([]choose.Want{{Needs: board.DigitalOut}}, 4), nil)
			require.NoError(t, err)
			assert.Equal(t, []string{"GP0", "GP1", "GP2", "GP3"}, pins)
		}
	}
}

func BenchmarkAssign20(b *testing.B) {
	p := board.Shipped()[2]
	ws := slices.Repeat([]choose.Want{{Needs: board.DigitalOut}, {Needs: board.DigitalIn}}, 10)
	for b.Loop() {
		if _, err := choose.Assign(p, ws, nil); err != nil {
			b.Fatal(err)
		}
	}
}
