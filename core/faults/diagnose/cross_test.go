package diagnose

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/faults/fault"
)

// A lamp that lights in the place of another is explained by their pins, exchanged; and nobody is
// asked whether it does.
func TestTheWrongOneLights(t *testing.T) {
	for _, name := range []string{"demo/tram-stop", "starts/four"} {
		c := read(t, name)
		told := 0
		for i := range c.actors {
			for j := range c.actors {
				x, y := &c.actors[i], &c.actors[j]
				o, err := c.SayAll(fmt.Sprintf("%s lights instead of %s", x.name, y.name))
				if _, ok := c.crossed(i, j); !ok || len(x.states[0].set) == 0 {
					continue // one that is lit by low is not lit by another's high
				}
				require.NoError(t, err)
				require.Len(t, o, 2)
				again, err := c.SayAll(fmt.Sprintf("The %s comes on when the %s should.", x.name, y.name))
				require.NoError(t, err)
				assert.Equal(t, o, again)
				again, err = c.SayAll(fmt.Sprintf("If I switch the %s on, %s lights instead", y.name, x.name))
				require.NoError(t, err)
				assert.Equal(t, o, again)
				r, err := c.Ask(o)
				require.NoError(t, err)
				exchanged := func(id string) bool {
					return slices.Contains([]string{"mixed:" + pinOf(x) + ":" + pinOf(y), "mixed:" + pinOf(y) + ":" + pinOf(x)}, id)
				}
				assert.True(t, slices.ContainsFunc(r.Causes[0].Faults, exchanged), "%s for %s: %s", x.name, y.name, r.Causes[0].Words)
				require.NotNil(t, r.Next)
				assert.False(t, c.asks[c.byID[r.Next.Ask]].told)
				told++
			}
		}
		assert.GreaterOrEqual(t, told, 6, name)
	}
}

func TestTwoLampsAreExchanged(t *testing.T) {
	c := read(t, "demo/tram-stop")
	o, err := c.SayAll("platform lamp left and sign lamp are swapped")
	require.NoError(t, err)
	require.Len(t, o, 4)
	r, err := c.Ask(o)
	require.NoError(t, err)
	assert.Contains(t, r.Causes[0].Faults, "mixed:D4:D5")
	for _, text := range []string{"the moon lights instead of sign lamp", "sign lamp lights instead of sign lamp", "request button and sign lamp are swapped", "sign lamp lights instead of"} {
		assert.Nil(t, c.sayInstead(text), text)
	}
}

func TestWhichLampIsTheWrongOne(t *testing.T) {
	for _, text := range []string{"the wrong lamp lights", "The wrong LED comes on when I switch on sign lamp"} {
		_, err := read(t, "demo/tram-stop").SayAll(text)
		assert.ErrorContains(t, err, "platform lamp left lights instead of platform lamp right", text)
	}
}

func pinOf(a *actor) string { return a.part.Signals[0].Pin }

// What the console counts while a wheel is turned is an answer as any reading is.
func TestTurnsTellOfTheirWires(t *testing.T) {
	c := read(t, "starts/wheel")
	const ask = "counts:board.D2:pulse-sensor1.1:D2=pulled up"
	r, err := c.Ask([]Observation{{ask, "0"}})
	require.NoError(t, err)
	assert.Contains(t, r.Causes[0].Words, "wire")
	again, err := c.Ask([]Observation{{ask, "0"}, {ask, "0"}}) // what is kept says the same
	require.NoError(t, err)
	assert.Equal(t, r.Causes[0].Words, again.Causes[0].Words)
	well, err := c.Ask([]Observation{{ask, "10"}})
	require.NoError(t, err)
	assert.NotEqual(t, r.Causes[0].Words, well.Causes[0].Words)
	_, err = c.Ask([]Observation{{ask, "2.5"}})
	assert.ErrorContains(t, err, "not a number of times")
}

// A reading of the meter's list was taken with the test program: what the builder's has exchanged
// does not show in it. One that is asked for is read with the builder's.
func TestReadingsWithTheTestProgram(t *testing.T) {
	c := read(t, "demo/tram-stop")
	const check = "volts:led3-resistor.2:led3-resistor.1:D5=high"
	x, ok := c.expectation(0, c.byID[check])
	require.True(t, ok)
	reading, ok := c.Taken(check, x.Text, "2.71 V")
	require.True(t, ok)
	_, ok = c.Taken(check, "9 V", "2.71 V")
	assert.False(t, ok, "something else is expected by now")
	said, err := c.SayAll("sign lamp lights instead of platform lamp right")
	require.NoError(t, err)
	share := func(more ...Observation) float64 {
		r, err := c.Ask(append(slices.Clone(said), more...))
		require.NoError(t, err)
		for _, x := range r.Causes {
			if slices.Contains(x.Faults, "mixed:D5:D7") && len(x.Faults) == 1 {
				return x.Weight
			}
		}
		return 0
	}
	assert.GreaterOrEqual(t, share(reading), 0.9*share())
	assert.Less(t, share(Observation{check, "2.71 V"}), 0.5*share())
	lifted, ok := c.Taken("lifted:led1-resistor.1:led1-resistor.2", c.text("lifted:led1-resistor.1:led1-resistor.2"), "180")
	assert.True(t, ok)
	assert.Equal(t, "lifted:led1-resistor.1:led1-resistor.2", lifted.Ask, "without power no program runs")
}

// text is what is expected of a measurement.
func (c *Case) text(ask string) string {
	x, _ := c.expectation(0, c.byID[ask])
	return x.Text
}

// A button that does the contrary of what it should is one that the program asks the wrong way; a
// voltage at the pin tells it from one that is wired the other way.
func TestALevelIsTakenTheWrongWay(t *testing.T) {
	for name, say := range map[string]string{"demo/tram-stop": "the request button is inverted", "starts/button": "the button works the wrong way round"} {
		c := read(t, name)
		seen, err := c.SayAll(say)
		require.NoError(t, err)
		r, err := c.Ask(seen)
		require.NoError(t, err)
		assert.Contains(t, r.Causes[0].Faults[0], "inverted:", name)
		assert.Contains(t, r.Causes[0].Words, "takes low for high", name)
		// What the network is does not change: the meter, and another program, find all as planned.
		f := c.byFault(r.Causes[0].Faults[0])
		for i := range c.asks {
			if a := &c.asks[i]; a.Sort == Measure || a.test {
				assert.Equal(t, c.predict(0, i), c.predict(c.classOf[slices.IndexFunc(c.faults, func(g fault.Fault) bool { return g.ID == f.ID })], i), a.ID)
			}
		}
	}
}
