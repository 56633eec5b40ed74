package choose_test

import (
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/planning/choose"
	_ "cablaggio/core/testkit/drawn"
)

func wants(t *rapid.T, most int) []choose.Want {
	var out []choose.Want
	amps, needs := []float64{0, 0.005, 0.02, 0.06}, board.Functions
	if rapid.Bool().Draw(t, "alike") {
		amps, needs = []float64{0.02}, []board.Function{board.DigitalOut}
	}
	for range rapid.IntRange(1, most).Draw(t, "signals") {
		out = append(out, choose.Want{
			Name: "x", Needs: rapid.SampledFrom(needs).Draw(t, "needs"),
			Load: choose.Load{Amps: rapid.SampledFrom(amps).Draw(t, "amps"), Way: rapid.SampledFrom([]board.Way{board.Source, board.Sink}).Draw(t, "way")},
		})
	}
	return out
}

// total is what an assignment costs, with that of the groups that it crowds.
func total(b *board.Profile, wants []choose.Want, pins []string, used []choose.Used) (sum float64) {
	all := slices.Clone(used)
	for i, name := range pins {
		p, _ := b.Pin(name)
		sum += choose.Cost(b, wants[i], p, i)
		all = append(all, choose.Used{Pin: name, Load: wants[i].Load})
	}
	return sum + 1e6*choose.Crowding(b, all)
}

// tight is a board whose groups carry little, so that they are crowded soon.
func tight(b *board.Profile, amps float64) *board.Profile {
	c := *b
	c.Logic.Groups = slices.Clone(b.Logic.Groups)
	for i := range c.Logic.Groups {
		c.Logic.Groups[i].Limit.Recommended = amps
	}
	return &c
}

// brute is the least cost of any assignment.
func brute(b *board.Profile, wants []choose.Want, free []string, chosen []string, used []choose.Used) float64 {
	if len(chosen) == len(wants) {
		return total(b, wants, chosen, used)
	}
	least := math.Inf(1)
	for i, p := range free {
		least = min(least, brute(b, wants, slices.Delete(slices.Clone(free), i, i+1), append(slices.Clone(chosen), p), used))
	}
	return least
}

func TestAssignIsAsGoodAsBruteForce(t *testing.T) {
	boards := board.Shipped()
	rapid.Check(t, func(t *rapid.T) {
		b := boards[rapid.IntRange(0, len(boards)-1).Draw(t, "board")]
		if rapid.Bool().Draw(t, "tight") {
			b = tight(b, rapid.SampledFrom([]float64{0.01, 0.04, 0.07}).Draw(t, "limit"))
		}
		ws := wants(t, 5)
		var free, taken []string
		for _, p := range b.Pins {
			taken = append(taken, p.Name)
		}
		for range 7 {
			i := rapid.IntRange(0, len(taken)-1).Draw(t, "free")
			free = append(free, taken[i])
			taken = slices.Delete(taken, i, i+1)
		}
		var used []choose.Used
		for _, name := range taken {
			used = append(used, choose.Used{Pin: name, Load: choose.Load{Amps: rapid.SampledFrom([]float64{0, 0, 0.002}).Draw(t, "there"), Way: board.Source}})
		}
		least := brute(b, ws, free, nil, used)
		pins, err := choose.Assign(b, ws, used)
		if err != nil {
			assert.Greater(t, least, 1e14, "%v", err)
			return
		}
		assert.InDelta(t, least, total(b, ws, pins, used), 1e-9*least+1e-6)
	})
}

// A big case is never beaten by 10,000 random tries, nor one whose lamps crowd
// the groups.
func TestAssignIsNotBeaten(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 8))
	boards := board.Shipped()
	for _, b := range boards[:len(boards):len(boards)] {
		boards = append(boards, tight(b, 0.045))
	}
	for _, b := range boards {
		var ws []choose.Want
		for i := range 16 {
			w := choose.Want{Needs: []board.Function{board.DigitalOut, board.PWMOut, board.DigitalIn, board.DigitalOut}[i%4]}
			if w.Needs != board.DigitalIn {
				w.Load = choose.Load{Amps: 0.01, Way: []board.Way{board.Source, board.Sink}[i/8]}
			}
			ws = append(ws, w)
		}
		ws = append(ws, choose.Want{Needs: board.AnalogIn}, choose.Want{Needs: board.AnalogIn})
		pins, err := choose.Assign(b, ws, nil)
		require.NoError(t, err, b.ID)
		again, _ := choose.Assign(b, ws, nil)
		assert.Equal(t, pins, again)
		best := total(b, ws, pins, nil)
		names := make([]string, len(b.Pins))
		for i, p := range b.Pins {
			names[i] = p.Name
		}
		for range 10_000 {
			rng.Shuffle(len(names), func(i, j int) { names[i], names[j] = names[j], names[i] })
			require.LessOrEqual(t, best, total(b, ws, names[:len(ws)], nil)+1e-6, b.ID)
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

// Lamps are spread over the groups of pins before one carries more than is
// recommended, though others are nearer; and the reason is given.
func TestLoadsAreSpread(t *testing.T) {
	shipped, ok := slices.BinarySearchFunc(board.Shipped(), "classic-5v", func(b *board.Profile, id string) int { return strings.Compare(b.ID, id) })
	require.True(t, ok)
	b := tight(board.Shipped()[shipped], 0.035)
	lamp := choose.Want{Name: "lamp", Needs: board.DigitalOut, Load: choose.Load{Amps: 0.01, Way: board.Source}}
	pins, err := choose.Assign(b, slices.Repeat([]choose.Want{lamp}, 6), nil)
	require.NoError(t, err)
	var used []choose.Used
	for _, p := range pins {
		used = append(used, choose.Used{Pin: p, Load: lamp.Load})
	}
	assert.Zero(t, choose.Crowding(b, used), "%v", pins)
	// A seventh crowds one, whichever: every pin says so, and costs more.
	assert.Positive(t, choose.Crowding(b, append(used, choose.Used{Pin: "D9", Load: lamp.Load})))
	for _, c := range choose.Pins(b, lamp, used) {
		assert.Contains(t, c.Reasons[len(c.Reasons)-1], "would source 40 mA of 35 mA", c.Pin)
		assert.GreaterOrEqual(t, c.Cost, 20)
	}
	// What carries nothing is not told.
	for _, c := range choose.Pins(b, choose.Want{Needs: board.DigitalIn}, used) {
		assert.NotContains(t, strings.Join(c.Reasons, " "), "would carry", c.Pin)
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

// The same, with lamps that crowd every group: the search goes to its bound.
func BenchmarkAssign20Crowded(b *testing.B) {
	p := tight(board.Shipped()[2], 0.05)
	ws := slices.Repeat([]choose.Want{{Needs: board.DigitalOut, Load: choose.Load{Amps: 0.01, Way: board.Source}}, {Needs: board.DigitalIn}}, 10)
	for b.Loop() {
		if _, err := choose.Assign(p, ws, nil); err != nil {
			b.Fatal(err)
		}
	}
}

// Lamps that are alike: how many there are in each group says all about the
// points, so the least can be counted out, however many lamps there are.
func TestAssignIsAsGoodAsCountingOut(t *testing.T) {
	for _, b := range board.Shipped() {
		for _, way := range []board.Way{board.Source, board.Sink} {
			for _, amps := range []float64{0.01, 0.02} {
				for n := 2; n <= 14; n++ {
					lamp := choose.Want{Needs: board.DigitalOut, Load: choose.Load{Amps: amps, Way: way}}
					ws := slices.Repeat([]choose.Want{lamp}, n)
					pins, err := choose.Assign(b, ws, nil)
					require.NoError(t, err)
					order := 0.1e6 // the order of pins weighs less than a tenth of a point
					assert.InDelta(t, 1e6*counted(b, lamp, n)+order/2, total(b, ws, pins, nil), order/2, "%d of %g A on the %s", n, amps, b.Name)
				}
			}
		}
	}
}

// counted is the least points of n lamps that are alike: over the numbers of them
// in each group, the pins of a group that cost least.
func counted(b *board.Profile, lamp choose.Want, n int) float64 {
	in := map[int][]float64{} // by group, or -1
	for _, p := range b.Pins {
		if p.Has(lamp.Needs) {
			k := slices.IndexFunc(b.Logic.Groups, func(g board.Group) bool { return g.Way == lamp.Load.Way && slices.Contains(g.Pins, p.Name) })
			in[k] = append(in[k], math.Floor(choose.Cost(b, lamp, p, 0)/1e6))
		}
	}
	least := slices.Repeat([]float64{math.Inf(1)}, n+1) // by how many are placed
	least[0] = 0
	for k, points := range in {
		slices.Sort(points)
		next := slices.Repeat([]float64{math.Inf(1)}, n+1)
		for placed := range least {
			sum := 0.0
			for more := 0; placed+more <= n && more <= len(points); more++ {
				if more > 0 {
					sum += points[more-1]
				}
				crowding := 0.0
				if amps := float64(more) * lamp.Load.Amps; k >= 0 && amps > b.Logic.Groups[k].Limit.Recommended*(1+1e-9) {
					crowding = 20 * amps / b.Logic.Groups[k].Limit.Recommended
				}
				next[placed+more] = min(next[placed+more], least[placed]+sum+crowding)
			}
		}
		least = next
	}
	return least[n]
}
