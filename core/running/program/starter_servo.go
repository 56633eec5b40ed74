package program

import (
	"fmt"
	"slices"
)

// arm is what a program calls the servo whose signal has a name.
func arm(signal string) string { return signal + "Arm" }

func (o *outline) hasServos() bool {
	return slices.ContainsFunc(o.outs, func(x out) bool { return x.steers })
}

// cppServos writes what a program with servos begins with.
func (o *outline) cppServos(t *text) {
	if o.hasServos() {
		t.say("#include <Servo.h>\n")
	}
}

// pyServos writes the function that sends a servo's arm to an angle: pulses of 0.544 to 2.4 ms, fifty
// a second (from memory: the ends that libraries for servos take).
func (o *outline) pyServos(t *text, d *dialect) {
	if !o.hasServos() {
		return
	}
	t.say("\n\ndef steer(pin, angle):\n    \"\"\"Sends an arm to an angle from 0 to 180 degrees.\"\"\"\n    us = 544 + 1856 * angle // 180\n    %s\n", fmt.Sprintf(d.duty, "pin", "us * 65535 // 20000"))
}
