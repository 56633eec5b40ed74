package program

import (
	"fmt"

	"cablaggio/core/document/build"
)

// A sonar is a distance module: a pin triggers it, and another measures how long its echo is.
type sonar struct {
	part          *build.Part
	words         string
	trigger, echo string // pins
}

// perCentimetre is for how many microseconds an echo is on its way to what is a centimetre away and
// back, at 343 m/s (sound in dry air at 20 °C).
const perCentimetre = "58.3"

// cppSonars writes the pins of the distance modules, and the functions that ask them.
func (o *outline) cppSonars(t *text) {
	for i, s := range o.sonars {
		t.say("\n// %s.\nconst int trigger%d = %s;\nconst int echo%d = %s;", s.words, i, o.board.InCode(s.trigger), i, o.board.InCode(s.echo))
		t.say(`
// The distance in centimetres; 0: nothing came back.
float centimetres%[1]d() {
  digitalWrite(trigger%[1]d, HIGH);
  delayMicroseconds(10);
  digitalWrite(trigger%[1]d, LOW);
  unsigned long us = pulseIn(echo%[1]d, HIGH, 30000);
  return us / %[2]s;
}`, i, perCentimetre)
	}
}

func (o *outline) cppSonarSetup(t *text) {
	for i := range o.sonars {
		t.say("pinMode(trigger%d, OUTPUT);\npinMode(echo%d, INPUT);", i, i)
	}
}

// cppSonarReport prints what the distance modules measure.
func (o *outline) cppSonarReport(t *text) {
	for i, s := range o.sonars {
		if o.talks {
			t.say("Serial.print(%q);\nSerial.println(centimetres%d());", s.words+": ", i)
		} else {
			t.say("(void)centimetres%d();", i)
		}
	}
}

// pySonars writes the same in Python. The dialect without a call that measures pulses looks at the
// time itself.
func (o *outline) pySonars(t *text, d *dialect) {
	for i, s := range o.sonars {
		t.say("\n# %s.", s.words)
		t.say(d.out, fmt.Sprintf("trigger%d", i), d.pin(o.board, s.trigger), 0, "False")
		t.say(d.in, fmt.Sprintf("echo%d", i), d.pin(o.board, s.echo), d.pulls[""])
		t.say("\n\ndef centimetres%d():\n    \"\"\"The distance; 0: nothing came back.\"\"\"", i)
		t.in(func() {
			t.say("%s", d.write(fmt.Sprintf("trigger%d", i), d.level(true)))
			if d.language == build.PythonMachine {
				t.say("time.sleep_us(10)\ntrigger%[1]d.value(0)\nus = time_pulse_us(echo%[1]d, 1, 30000)\nreturn max(us, 0) / %[2]s\n", i, perCentimetre)
				return
			}
			t.say(`time.sleep(0.00001)
trigger%[1]d.value = False
sent = time.monotonic_ns()
while not echo%[1]d.value:
    if time.monotonic_ns() - sent > 30000000:
        return 0
rose = time.monotonic_ns()
while echo%[1]d.value:
    if time.monotonic_ns() - rose > 30000000:
        return 0
return (time.monotonic_ns() - rose) / 1000 / %[2]s
`, i, perCentimetre)
		})
	}
}
