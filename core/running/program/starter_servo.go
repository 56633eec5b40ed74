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

// steer is the function that sends a servo's arm to an angle in Python.
func steer(x out) string {
	if x.pwm {
		return "steer"
	}
	return "pulse"
}

// pyServos writes the functions that send a servo's arm to an angle: pulses of 0.544 to 2.4 ms, fifty
// a second (from memory: the ends that libraries for servos take). On a pin without PWM each is made
// by hand, so it is to be asked for again and again.
func (o *outline) pyServos(t *text, d *dialect) {
	has := func(pwm bool) bool {
		return slices.ContainsFunc(o.outs, func(x out) bool { return x.steers && x.pwm == pwm })
	}
	if has(true) {
		t.say("\n\ndef steer(pin, angle):\n    \"\"\"Sends an arm to an angle from 0 to 180 degrees.\"\"\"\n    us = 544 + 1856 * angle // 180\n    %s\n", fmt.Sprintf(d.duty, "pin", "us * 65535 // 20000"))
	}
	if has(false) {
		t.say("\n\ndef pulse(pin, angle):\n    \"\"\"One pulse towards an angle from 0 to 180 degrees: a pin without PWM gets each by hand.\"\"\"\n    us = 544 + 1856 * angle // 180\n    %s\n    time.sleep(us / 1000000)\n    %s\n    %s\n",
			d.write("pin", d.level(true)), d.write("pin", d.level(false)), fmt.Sprintf(d.pause, 18))
	}
}
