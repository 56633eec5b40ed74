package program_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
)

// Where one hand after the other leads nowhere, sequences are tried: what comes only after a press, a
// code or a long time is found, what cannot come is said to be not reached, with how much was tried.
func TestHandsGrow(t *testing.T) {
	about := func(t *testing.T, name, text string) (unreached *check.Finding, others []string) {
		a := analyse(t, aBuild(t, name), build.Program{Language: build.CPP, Text: text})
		require.True(t, a.Compiles, "%+v", a.Messages)
		for i, x := range a.Findings {
			if x.Rule == "program-unreached" {
				unreached = &a.Findings[i]
			} else {
				others = append(others, x.Title)
			}
		}
		return unreached, others
	}
	for what, x := range map[string][2]string{
		"after fifteen seconds of rest": {"starts/blink.json", `void setup() { pinMode(4, OUTPUT); }
void loop() { if (millis() > 15000) digitalWrite(4, (millis() / 500) % 2); delay(20); }`},
		"three presses": {"starts/button.json", `int n = 0; bool was = false;
void setup() { pinMode(4, INPUT_PULLUP); pinMode(7, OUTPUT); }
void loop() { bool now = !digitalRead(4); if (now && !was) n++; was = now; delay(20); if (n >= 3) { digitalWrite(7, HIGH); delay(300); digitalWrite(7, LOW); n = 0; } }`},
		"a word that is sent": {"starts/blink.json", `void setup() { Serial.begin(9600); pinMode(4, OUTPUT); }
void loop() { if (Serial.available()) digitalWrite(4, Serial.readStringUntil('\n') == "hello lamp"); }`},
	} {
		t.Run(what, func(t *testing.T) {
			unreached, others := about(t, x[0], x[1])
			assert.Nil(t, unreached)
			assert.False(t, slices.ContainsFunc(others, func(s string) bool { return strings.Contains(s, "never lights") }), "%v", others)
		})
	}
	unreached, _ := about(t, "starts/button.json", `void setup() { pinMode(4, INPUT_PULLUP); pinMode(7, OUTPUT); }
void loop() {
  if (digitalRead(4) == 2) {
    digitalWrite(7, HIGH);
  }
  delay(10);
}`)
	require.NotNil(t, unreached)
	assert.Equal(t, 4, unreached.Line)
	assert.Regexp(t, `and then \d+ sequences of them`, unreached.Why)
}
