package should_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"cablaggio/core/testkit"
	"cablaggio/core/testkit/ready"
)

// What is said in people's words of builds whose programs were read by hand is judged as they
// are.
func TestTruths(t *testing.T) {
	said := map[string][][]string{}
	var builds []string
	for _, x := range lines(t, "truths.txt") {
		if said[x[0]] == nil {
			builds = append(builds, x[0])
		}
		said[x[0]] = append(said[x[0]], x)
	}
	assert.Len(t, builds, 20)
	if !testkit.Wide() {
		builds = builds[:9]
	}
	for _, name := range builds {
		doc := ready.Build(t, lib, name)
		doc.Should = nil
		for _, x := range said[name] {
			doc.Should = append(doc.Should, x[1])
		}
		for i, v := range try(t, doc, testkit.Few(3, 100))[:len(doc.Should)] {
			x := said[name][i]
			if x[2] == "misread" {
				assert.NotEmpty(t, v.Wrong, "%s: %s: %s", name, x[1], v.Says)
			} else if assert.Empty(t, v.Wrong, "%s: %s", name, x[1]) {
				assert.Equal(t, x[2] == "holds", v.Holds, "%s: %s\n%s: %+v", name, x[1], v.Says, v.Broken)
			}
		}
	}
}

// What is printed, what is typed, and what no hand comes to, with a program that does so.
func TestPrintedTypedAndNever(t *testing.T) {
	doc := ready.Build(t, lib, "toggle")
	doc.Program.Text = `void setup() { Serial.begin(9600); pinMode(4, INPUT_PULLUP); pinMode(7, OUTPUT); }
void loop() {
  static bool was = HIGH;
  bool now = digitalRead(4);
  if (was && !now) { Serial.println("Hello"); delay(30); }
  was = now;
  if (Serial.available()) digitalWrite(7, Serial.readStringUntil('\n') == "desk on");
}
`
	doc.Should = nil
	truths := []struct{ says, is string }{
		{`each press of button prints "hello"`, "holds"}, {`each press of button prints "bye"`, "broken"}, {`while button is up, "Hello" is printed`, "broken"},
		{`typing "desk on" lights reading lamp`, "holds"}, {`typing "desk off" lights reading lamp`, "broken"}, {`typing "desk on" leaves reading lamp as it is`, "broken"},
		{`while reading lamp is lit, reading lamp blinks`, "broken"}, {`each press of button leaves reading lamp as it is`, "holds"},
		{`each press of button changes reading lamp`, "broken"}, {`reading lamp is above 50 %`, "broken"},
	}
	for _, x := range truths {
		doc.Should = append(doc.Should, x.says)
	}
	for i, v := range try(t, doc, 3)[:len(truths)] {
		assert.Empty(t, v.Wrong, v.Says)
		assert.Equal(t, truths[i].says, v.Says)
		assert.Equal(t, truths[i].is == "holds", v.Holds, v.Says)
	}
	doc.Should = []string{"while reading lamp is lit, reading lamp is full"} // nobody types, so it never is
	v := try(t, doc, 3)[0]
	assert.True(t, v.Never)
	assert.False(t, v.Holds, "what was never so is not said to hold")
	assert.True(t, strings.HasPrefix(v.Wrong, "in none of"), v.Wrong)
	assert.Nil(t, v.Broken)
}
