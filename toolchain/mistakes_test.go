package toolchain_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
)

const (
	pinHead = "from machine import ADC, PWM, Pin\nimport time\nb = Pin(4, Pin.IN, Pin.PULL_UP)\nlamp = Pin(5, Pin.OUT)\nadc = ADC(Pin(26))\n"
	behindB = "\nwhile True:\n    time.sleep_ms(5)\n"
)

// What is told of a Python program without running it, at its line, and near programs of which nothing
// is to be told.
func TestPythonMistakes(t *testing.T) {
	for _, x := range []struct {
		name, text string
		line       int // counted from the first line behind the head; 0: nothing is told
		says       string
	}{
		{"a value that is not read", "while True:\n    if b.value:\n        lamp.on()\n", 2, "Write b.value()"},
		{"not a value", "while True:\n    lamp.value(0 if not b.value else 1)\n", 2, "Write b.value()"},
		{"a value compared", "while True:\n    if b.value == 0:\n        lamp.on()\n", 2, "Write b.value()"},
		{"a value among others", "on = True\nwhile True:\n    while on and b.value:\n        time.sleep_ms(5)\n", 3, "Write b.value()"},
		{"a value that is read", "while True:\n    if b.value() == 0:\n        lamp.on()\n    time.sleep_ms(5)\n", 0, ""},
		{"a value of something else", "class Box:\n    value = 3\nbox = Box()\nif box.value:\n    lamp.on()" + behindB, 0, ""},
		{"a function that is not called", "def dark():\n    return adc.read_u16() < 9000\nwhile True:\n    if dark:\n        lamp.on()\n    time.sleep_ms(5)\n", 4, "Write dark()"},
		{"a function that is called", "def dark():\n    return adc.read_u16() < 9000\nwhile True:\n    if dark():\n        lamp.on()\n    time.sleep_ms(5)\n", 0, ""},
		{"a property", "class Button:\n    @property\n    def held(self):\n        return not b.value()\nx = Button()\nwhile True:\n    if x.held:\n        lamp.on()\n    time.sleep_ms(5)\n", 0, ""},
		{"a callback", "def tick(t):\n    lamp.toggle()\nb.irq(tick, Pin.IRQ_FALLING)" + behindB, 0, ""},

		{"behind the loop", "while True:\n    v = adc.read_u16()\nlamp.value(v < 9000)\n", 3, "The loop in line 6 never ends"},
		{"behind while 1", "while 1:\n    time.sleep(1)\nprint('over')\n", 3, "never ends"},
		{"behind it in a function", "def run():\n    while True:\n        time.sleep(1)\n    lamp.on()\nrun()\n", 4, "never ends"},
		{"a loop that is left", "while True:\n    if b.value() == 0:\n        break\n    time.sleep_ms(5)\nlamp.on()" + behindB, 0, ""},
		{"a function that is left", "def wait():\n    while True:\n        if b.value() == 0:\n            return\n        time.sleep_ms(5)\nwait()\nlamp.on()" + behindB, 0, ""},
		{"a break of another loop", "while True:\n    for k in range(3):\n        if b.value() == 0:\n            break\n    time.sleep_ms(5)\n", 0, ""},
		{"a loop that ends", "n = 0\nwhile n < 3:\n    n += 1\nlamp.on()" + behindB, 0, ""},
		{"a function behind it", "while True:\n    time.sleep(1)\ndef never():\n    pass\n", 0, ""},

		{"a counter anew", "while True:\n    n = 0\n    if b.value() == 0:\n        n += 1\n    lamp.value(n > 5)\n    time.sleep_ms(5)\n", 2, `"n" begins anew`},
		{"a state anew", "while True:\n    on = False\n    if b.value() == 0:\n        on = not on\n    lamp.value(on)\n    time.sleep_ms(5)\n", 2, `"on" begins anew`},
		{"a counter written out", "while True:\n    n = 10\n    if b.value() == 0:\n        n = n - 1\n    if n < 3:\n        lamp.on()\n    time.sleep_ms(5)\n", 2, `"n" begins anew`},
		{"a counter above", "n = 0\nwhile True:\n    if b.value() == 0:\n        n += 1\n    lamp.value(n > 5)\n    time.sleep_ms(5)\n", 0, ""},
		{"a sum of one round", "while True:\n    n = 0\n    for k in range(9):\n        n += 1\n    lamp.value(n > 5)\n    time.sleep_ms(5)\n", 0, ""},
		{"a count of what is so now", "while True:\n    n = 0\n    if b.value() == 0:\n        n += 1\n    if adc.read_u16() > 9000:\n        n += 1\n    lamp.value(n > 1)\n    time.sleep_ms(5)\n", 0, ""},
		{"a step of this round", "d = 0\nwhile True:\n    step = 0\n    if b.value() == 0:\n        step += 5\n    d = min(255, d + step)\n    lamp.value(d > 9)\n    time.sleep_ms(5)\n", 0, ""},
		{"what is read anew", "while True:\n    n = 0\n    n = adc.read_u16()\n    lamp.value(n > 5000)\n    time.sleep_ms(5)\n", 0, ""},

		{"a number for a level", "lamp.value(128)" + behindB, 1, "0 and 1 only"},
		{"a counter for a level", "n = 0\nwhile True:\n    n += 1\n    lamp.value(n)\n    time.sleep_ms(5)\n", 4, "0 and 1 only"},
		{"a reading for a level", "while True:\n    lamp.value(adc.read_u16())\n    time.sleep_ms(5)\n", 2, "0 and 1 only"},
		{"a part of a counter", "n = 0\nwhile True:\n    n += 1\n    lamp.value(n % 2)\n    time.sleep_ms(5)\n", 0, ""},
		{"a comparison", "while True:\n    lamp.value(adc.read_u16() > 3000)\n    time.sleep_ms(5)\n", 0, ""},
		{"a level by its name", "on = 1\nlamp.value(on)" + behindB, 0, ""},

		{"volts", "while True:\n    if adc.read_u16() < 1.5:\n        lamp.on()\n    time.sleep_ms(5)\n", 2, "no volts"},
		{"volts by a name", "while True:\n    v = adc.read_u16()\n    if 2.2 > v:\n        lamp.on()\n    time.sleep_ms(5)\n", 3, "no volts"},
		{"volts that are worked out", "while True:\n    v = adc.read_u16() * 3.3 / 65535\n    if v < 1.5:\n        lamp.on()\n    time.sleep_ms(5)\n", 0, ""},
		{"volts put in the same name", "while True:\n    v = adc.read_u16()\n    v = v * 3.3 / 65535\n    if v < 1.5:\n        lamp.on()\n    time.sleep_ms(5)\n", 0, ""},
		{"beyond the scale", "while True:\n    if adc.read_u16() > 70000:\n        lamp.on()\n    time.sleep_ms(5)\n", 2, "never comes to 70000"},
		{"the last of the scale", "while True:\n    lamp.value(adc.read_u16() >= 65535)\n    time.sleep_ms(5)\n", 0, ""},
	} {
		made := compile(t, build.PythonMachine, "slim-3v3", pinHead+x.text)
		require.NotNil(t, made.Program, "%s: %+v", x.name, made.Messages)
		if x.line == 0 {
			assert.Empty(t, made.Messages, x.name)
			continue
		}
		if assert.NotEmpty(t, made.Messages, x.name) {
			assert.Equal(t, x.line+5, made.Messages[0].Line, "%s: %+v", x.name, made.Messages)
			assert.Contains(t, made.Messages[0].String(), x.says, x.name)
		}
	}
}

// In the other dialect a value is none of a call, and is asked for as it stands.
func TestAValueIsNoCallOnTheOtherBoards(t *testing.T) {
	text := "import board\nimport digitalio\nimport time\nb = digitalio.DigitalInOut(board.GP4)\nwhile True:\n    if b.value:\n        print('up')\n    time.sleep(0.1)\n"
	assert.Empty(t, compile(t, build.PythonBoard, "slim-3v3", text).Messages)
}
