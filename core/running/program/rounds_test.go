package program_test

import (
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/machine"
	"cablaggio/core/running/rig"
)

// told leaves out what a program sets again and again to what it is: nobody hears of it twice.
func told(events []machine.Event) (out []machine.Event) {
	last := map[[2]int]machine.Event{}
	for _, e := range events {
		if e.Kind <= machine.Toned {
			at, was := [2]int{int(e.Kind), e.Pin}, e
			was.At = 0
			if last[at] == was {
				continue
			}
			last[at] = was
		}
		out = append(out, e)
	}
	return out
}

// Rounds of loop that do as the one before are passed over: what the program does, and when, to
// the nanosecond, is what it would have done, whatever it waits by: levels, milliseconds,
// microseconds, memory that it takes as it runs, or nothing at all.
func TestRoundsAlikeArePassedOver(t *testing.T) {
	for name, c := range map[string]struct{ build, text string }{
		"levels":       {"starts/button.json", "void setup() { pinMode(4, INPUT_PULLUP); pinMode(7, OUTPUT); }\nvoid loop() { digitalWrite(7, !digitalRead(4)); }"},
		"edges":        {"starts/toggle.json", "bool lit, was = true;\nvoid setup() { pinMode(4, INPUT_PULLUP); pinMode(7, OUTPUT); }\nvoid loop() { bool now = digitalRead(4); if (was && !now) lit = !lit; was = now; digitalWrite(7, lit); }"},
		"milliseconds": {"starts/button.json", "unsigned long last;\nvoid setup() { pinMode(4, INPUT_PULLUP); pinMode(7, OUTPUT); }\nvoid loop() { if (millis() - last >= 37) { last = millis(); digitalWrite(7, !digitalRead(7)); } if (!digitalRead(4)) last = millis(); }"},
		"microseconds": {"starts/button.json", "unsigned long last;\nvoid setup() { pinMode(4, INPUT_PULLUP); pinMode(7, OUTPUT); }\nvoid loop() { if (micros() - last >= 3700) { last = micros(); digitalWrite(7, !digitalRead(7)); } }"},
		"counts":       {"starts/button.json", "unsigned long n;\nvoid setup() { pinMode(7, OUTPUT); }\nvoid loop() { if (++n % 5000 == 0) digitalWrite(7, !digitalRead(7)); }"},
		"memory":       {"starts/button.json", "int *n;\nvoid setup() { n = (int *)malloc(40); *n = 0; pinMode(7, OUTPUT); }\nvoid loop() { if (++*n % 5000 == 0) digitalWrite(7, !digitalRead(7)); }"},
		"prints":       {"starts/button.json", "String last;\nvoid setup() { Serial.begin(115200); pinMode(4, INPUT_PULLUP); pinMode(7, OUTPUT); }\nvoid loop() { String now = digitalRead(4) ? \"up\" : \"down\"; if (now != last) { last = now; Serial.println(last + millis()); digitalWrite(7, now == \"down\"); } }"},
		"interrupts":   {"starts/wheel.json", "volatile int n;\nvoid count() { n++; }\nvoid setup() { pinMode(2, INPUT_PULLUP); pinMode(7, OUTPUT); attachInterrupt(digitalPinToInterrupt(2), count, FALLING); }\nvoid loop() { digitalWrite(7, n % 2); }"},
		"memory late":  {"starts/button.json", "int *n;\nvoid setup() { pinMode(4, INPUT_PULLUP); pinMode(7, OUTPUT); }\nvoid loop() { if (!digitalRead(4) && !n) { n = (int *)malloc(4000) + 900; *n = 0; } if (n && ++*n % 5000 == 0) digitalWrite(7, !digitalRead(7)); }"},
		"tone":         {"starts/button.json", "void setup() { pinMode(4, INPUT_PULLUP); pinMode(7, OUTPUT); }\nvoid loop() { pinMode(7, OUTPUT); if (digitalRead(4)) noTone(7); else tone(7, 440); }"},
		"short tone":   {"starts/button.json", "void setup() { pinMode(4, INPUT_PULLUP); pinMode(7, OUTPUT); }\nvoid loop() { if (!digitalRead(4)) tone(7, 440, 30); }"},
		"duty":         {"starts/button.json", "void setup() { pinMode(4, INPUT_PULLUP); }\nvoid loop() { analogWrite(7, digitalRead(4) ? 0 : 128); analogWrite(6, millis() / 256 % 2 ? 40 : 90); }"},
		"held back":    {"starts/wheel.json", "volatile unsigned long last;\nvoid turned() { last = millis(); }\nvoid setup() { pinMode(2, INPUT_PULLUP); pinMode(7, OUTPUT); attachInterrupt(digitalPinToInterrupt(2), turned, FALLING); }\nvoid loop() { noInterrupts(); unsigned long since = millis() - last; interrupts(); digitalWrite(7, since < 60); if (since < 60) noTone(4); else tone(4, 880); }"},
		"two speeds":   {"starts/button.json", "int k;\nvoid setup() { pinMode(7, OUTPUT); pinMode(4, INPUT_PULLUP); }\nvoid loop() { if (digitalRead(4)) { if (k) k = 0; } else { if (k < 100) k++; } digitalWrite(7, k == 100); }"},
	} {
		t.Run(name, func(t *testing.T) {
			doc := aBuild(t, c.build)
			doc.Program = nil
			net := wiring.Build(lib, doc)
			made, err := compiler.Compile(t.Context(), &build.Program{Language: build.CPP, Text: c.text}, net.Board)
			require.NoError(t, err)
			require.NotNil(t, made.Program, "%v", made.Messages)
			rng := rand.New(rand.NewPCG(1, 2))
			contact := -1
			for i := range net.Controls {
				if net.Controls[i].Kind == wiring.Contact {
					contact = i
				}
			}
			var moves []rig.Move
			for at, k := int64(0), 0; at < 2e9; k++ {
				at += 1e5 + rng.Int64N(2e8)
				moves = append(moves, rig.Move{At: at, Control: contact, To: float64((k + 1) % 2)})
			}
			run := func(steps bool) (events []machine.Event, end machine.Ending) {
				w := rig.New(net)
				w.Timed()
				w.Plan(moves)
				b := machine.NewBoard(net.Board, w)
				b.Limit, b.Steps = int64(2*time.Second), steps
				b.Seen = func(e machine.Event) { events = append(events, e) }
				end, err := made.Program.Run(t.Context(), b)
				require.NoError(t, err)
				return events, end
			}
			all, end := run(true)
			fast, fastEnd := run(false)
			require.Greater(t, len(all), 10)
			assert.Equal(t, told(all), told(fast))
			if slices.Contains([]string{"duty", "held back"}, name) {
				assert.Less(t, len(fast), len(all)/4, "setting what is so already is passed over too")
			}
			assert.Equal(t, end, fastEnd)
		})
	}
}
