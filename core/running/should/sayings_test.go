package should_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"cablaggio/core/running/should"
	"cablaggio/core/testkit"
)

// What people say is put in the plain form that is meant, or refused with what would be right:
// understood wrongly is worse than not at all.
func TestSayings(t *testing.T) {
	readers := map[string]*should.Reader{}
	for i, x := range lines(t, "sayings.txt") {
		if !testkit.Wide() && i%2 == 1 { // all of them where tests are wide
			continue
		}
		build, said, says := x[0], x[1], x[2]
		if readers[build] == nil {
			readers[build] = reader(t, build)
		}
		s, err := readers[build].Read(said)
		if right, ok := strings.CutPrefix(says, "!"); ok {
			assert.ErrorContains(t, err, right, said)
			continue
		}
		if !assert.NoError(t, err, "%s: %s", build, said) || !assert.Equal(t, says, s.Says, said) {
			continue
		}
		again, err := readers[build].Read(s.Says)
		if assert.NoError(t, err, "what it says is understood") {
			assert.Equal(t, s.Says, again.Says)
		}
	}
}

// What is not understood comes with sentences that are, about what it names; and nonsense, however
// long, comes to an end.
func TestInstead(t *testing.T) {
	r := reader(t, "tram-stop")
	for _, x := range []struct{ said, word string }{
		{"the sign lamp sings a song", "sign lamp"}, {"the dimmer makes coffee", "dimmer"}, {"the request button is nice", "request button"},
	} {
		_, err := r.Read(x.said)
		var e *should.Error
		if !assert.ErrorAs(t, err, &e, x.said) || !assert.NotEmpty(t, e.Instead, x.said) {
			continue
		}
		assert.LessOrEqual(t, len(e.Instead), 3)
		assert.Contains(t, e.Instead[0], x.word, x.said)
		for _, s := range e.Instead {
			_, err := r.Read(s)
			assert.NoError(t, err, "%s: %s", x.said, s)
		}
	}
	for _, x := range []struct{ said, right string }{
		{strings.Repeat("when the button is pressed and ", 11) + "the sign lamp", "what they say together is not"},
		{strings.Repeat("the sign lamp, the sign and ", 12) + " is lit when when", "what they say together is not"},
		{strings.Repeat("only while until on in the dark ", 40), "it is too long"},
		{"the sign lamp lights for 900 s when the request button is pressed", "at most a minute"},
		{"the sign lamp blinks 0 times a second", "how often?"},
	} {
		_, err := r.Read(x.said)
		assert.ErrorContains(t, err, x.right)
	}
}

// What is suggested in place of a saying is understood as it stands, no two are alike, and none says
// a thing of which the saying says that it is not.
func TestWhatIsSuggestedInstead(t *testing.T) {
	readers := map[string]*should.Reader{}
	refused, helped := 0, 0
	for i, x := range lines(t, "sayings.txt") {
		build, said := x[0], x[1]
		if !strings.HasPrefix(x[2], "!") || !testkit.Wide() && i%2 == 0 {
			continue
		}
		if readers[build] == nil {
			readers[build] = reader(t, build)
		}
		_, err := readers[build].Read(said)
		var e *should.Error
		if !assert.ErrorAs(t, err, &e, said) {
			continue
		}
		refused++
		seen := map[string]bool{}
		for _, s := range e.Instead {
			again, err := readers[build].Read(s)
			if assert.NoError(t, err, "%s: %s", said, s) {
				assert.False(t, seen[again.Says], "%s: %s twice", said, s)
				seen[again.Says] = true
			}
		}
		if len(e.Instead) > 0 {
			helped++
		}
	}
	assert.Greater(t, refused, 20)
	assert.Greater(t, 10*helped, 9*refused, "nine in ten of those that are refused get a suggestion")

	r := reader(t, "tram-stop")
	for _, x := range []struct{ said, never string }{
		{"the sign lamp is not zorgly lit", "sign lamp is lit"},
		{"the stop request lamp never ever blips on", "stop request lamp is lit"},
		{"no frobnicated platform lamp is lit by day", "while dusk sensor is above 1000 lx, platform lamp left and platform lamp right are lit"},
		{"while nobody wibbles the request button, the stop request lamp is dark", "while request button is pressed, stop request lamp is dark"},
	} {
		_, err := r.Read(x.said)
		var e *should.Error
		if assert.ErrorAs(t, err, &e, x.said) {
			assert.NotEqual(t, x.never, append(e.Instead, "")[0], "%s: the opposite is not the first", x.said)
		}
	}
}
