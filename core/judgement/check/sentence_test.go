package check

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Two sentences have one shape when they say the same of things with other names, in states in which
// the same is set; the name of a third stays, and so does every number.
func TestShapesOfSentences(t *testing.T) {
	floats := func(pin, while string, at At) string {
		return say("%s floats: nothing holds it%s.", pinName(pin), state(while)).shape([]string{pin}, at)
	}
	up := floats("D4", " while button 1 is up", At{"button1": "up"})
	assert.Equal(t, up, floats("D5", " while button 2 is up", At{"button2": "up"}))
	assert.NotEqual(t, up, floats("D5", " while button 2 is pressed", At{"button2": "pressed"}))
	gets := func(name, amps, by string) string {
		return say("%s gets %s from %s.", called(name), amps, called(by)).shape([]string{"LED 1", "LED 2"}, nil)
	}
	assert.Equal(t, gets("LED 1", "8 mA", "Q1"), gets("LED 2 red", "8 mA", "Q1"))
	assert.NotEqual(t, gets("LED 1", "8 mA", "Q1"), gets("LED 1", "9 mA", "Q1"))
	assert.NotEqual(t, gets("LED 1", "8 mA", "Q1"), gets("LED 1", "8 mA", "Q2"))
}

// Sentences in sentences say what they say, whatever signs names are made of.
func TestSentences(t *testing.T) {
	s := say("The pins of %[3]s carry %[1]s; %[2]s is enough.", "4 mA", "2 mA", called("100 % fun"))
	assert.Equal(t, "The pins of 100 % fun carry 4 mA; 2 mA is enough.", s.String())
	assert.Equal(t, "USB alone: the pins of 100 % fun carry 4 mA; 2 mA is enough.", s.under("USB alone").String())
	assert.Equal(t, "Look. The pins of 100 % fun carry 4 mA; 2 mA is enough.", s.after(words("Look.")).String())
	assert.Equal(t, s, s.after(sentence{}))
	assert.Equal(t, s.under("A").shape([]string{"100 % fun"}, nil), say(s.form, "4 mA", "2 mA", called("x")).under("A").shape([]string{"x"}, nil))
	inner := say("%s floats.", pinName("D4"))
	assert.True(t, inner.under("A").after(words("B")).names("D4"))
	assert.False(t, inner.names("D5"))
	assert.Equal(t, "a, b and 2 more", shorten([]string{"a", "b", "c", "d"}, 3))
	assert.Equal(t, "a, b, c", shorten([]string{"a", "b", "c"}, 3))
}
