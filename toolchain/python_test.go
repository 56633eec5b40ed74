package toolchain_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/running/machine"
)

// The calls of both dialects as their public descriptions have them.
func TestPythonCalls(t *testing.T) {
	for _, c := range []struct {
		language       build.Language
		does           string
		prints, breaks string
	}{
		{build.PythonMachine, "from machine import Pin\np = Pin(5, Pin.OUT)\np.on()\nprint(p.value())\np.toggle()\nprint(p.value(), p())", "1\n0 0\n", ""},
		{build.PythonMachine, "from machine import Pin\nprint(Pin(5, Pin.IN, Pin.PULL_UP).value(), Pin(6, Pin.IN).value())", "1 0\n", ""},
		{build.PythonMachine, "from machine import Pin\nPin(99)", "", "ValueError: invalid pin: 99"},
		{build.PythonMachine, "from machine import ADC, Pin\nprint(ADC(Pin(26)).read_u16(), ADC(0).read_u16())", "32775 32775\n", ""},
		{build.PythonMachine, "from machine import PWM, Pin\np = PWM(Pin(5), freq=50)\np.duty_u16(1000)\nprint(p.duty_u16(), p.freq())", "1000 50\n", ""},
		{build.PythonMachine, "import time\na = time.ticks_ms()\ntime.sleep_ms(250)\nprint(time.ticks_diff(time.ticks_ms(), a))", "250\n", ""},
		{build.PythonMachine, "import time\nprint(time.ticks_diff(5, 2 ** 30 - 5))", "10\n", ""},
		{build.PythonMachine, "import utime\nfrom micropython import const\nA = const(7)\nprint(A)", "7\n", ""},
		{build.PythonMachine, "import time\ntime.sleep(-1)", "", "ValueError: sleep length must be non-negative"},
		{build.PythonMachine, "from machine import Timer\nimport time\nn = 0\ndef tick(t):\n    global n\n    n += 1\nTimer(period=100, callback=tick)\ntime.sleep(1.05)\nprint(n)", "10\n", ""},
		{build.PythonBoard, "import board\nimport digitalio\nd = digitalio.DigitalInOut(board.GP5)\nprint(d.direction == digitalio.Direction.INPUT)\nd.switch_to_output(value=True)\nprint(d.value)\nd.pull = None", "True\nTrue\n", "AttributeError: Pull not used when direction is output."},
		{build.PythonBoard, "import board\nimport digitalio\na = digitalio.DigitalInOut(board.GP5)\nb = digitalio.DigitalInOut(board.GP5)", "", "ValueError: GP5 in use"},
		{build.PythonBoard, "import board\nimport digitalio\nwith digitalio.DigitalInOut(board.GP5) as a:\n    pass\nb = digitalio.DigitalInOut(board.GP5)\nprint('ok')", "ok\n", ""},
		{build.PythonBoard, "import board\nprint(board.GP55)", "", "AttributeError: module 'board' has no attribute 'GP55'"},
		{build.PythonBoard, "import analogio\nimport board\na = analogio.AnalogIn(board.A0)\nprint(a.value, a.reference_voltage)", "32775 3.3\n", ""},
		{build.PythonBoard, "import board\nimport pwmio\np = pwmio.PWMOut(board.GP5)\np.duty_cycle = 70000", "", "ValueError: duty_cycle must be between 0 and 65535 inclusive (16 bit resolution)"},
		{build.PythonBoard, "import time\na = time.monotonic()\ntime.sleep(0.5)\nprint(round(time.monotonic() - a, 1))", "0.5\n", ""},
		{build.PythonMachine, "from machine import Pin, Signal\ns = Signal(Pin(5, Pin.OUT), invert=True)\ns.on()\nprint(s.value(), s.pin.value())", "1 0\n", ""},
		{build.PythonMachine, "from machine import WDT\nimport time\nw = WDT(timeout=1000)\nfor k in range(4):\n    time.sleep(0.8)\n    w.feed()\n    print(k)\ntime.sleep(1.1)\nprint('late')", "0\n1\n2\n3\n", ""},
		{build.PythonMachine, "from machine import I2C", "", "ImportError: machine has no I2C here: parts on a bus are not on the bench"},
		{build.PythonMachine, "from machine import pin", "", "(meant: Pin)"},
		{build.PythonMachine, "from machine import Pin\nPin('LED')", "", "ValueError: this board has no LED of its own"},
		{build.PythonBoard, "import board, keypad, time\nk = keypad.Keys((board.GP5, board.GP6), value_when_pressed=True, pull=False)\ntime.sleep(0.1)\nprint(len(k.events), k.events.get())", "0 None\n", ""},
		// Several things by turns: each goes on when its time has come, whoever began first at the same time.
		{build.PythonMachine, "import uasyncio as asyncio\nasync def say(word, ms, n):\n    for k in range(n):\n        print(word, k)\n        await asyncio.sleep_ms(ms)\n    return n\nasync def main():\n    print(await asyncio.gather(say('a', 100, 3), say('b', 150, 2)))\nasyncio.run(main())", "a 0\nb 0\na 1\nb 1\na 2\n[3, 2]\n", ""},
		{build.PythonBoard, "import asyncio, time\nasync def tick():\n    while True:\n        print('tick')\n        await asyncio.sleep(0.4)\nasync def main():\n    e, begin = asyncio.Event(), time.monotonic()\n    t = asyncio.create_task(tick())\n    async def later():\n        await asyncio.sleep(1)\n        e.set()\n    asyncio.create_task(later())\n    await e.wait()\n    t.cancel()\n    await asyncio.sleep(1)\n    print(round(time.monotonic() - begin, 1), t.done())\nasyncio.run(main())", "tick\ntick\ntick\n2.0 True\n", ""},
		{build.PythonMachine, "import asyncio\nasync def bad():\n    return 1 / 0\nasync def main():\n    await asyncio.create_task(bad())\nasyncio.run(main())", "", "ZeroDivisionError"},
		{build.PythonMachine, "import asyncio\nasync def take(lock, name):\n    async with lock:\n        print(name, 'in')\n        await asyncio.sleep(0.1)\n        print(name, 'out')\nasync def main():\n    lock = asyncio.Lock()\n    await asyncio.gather(take(lock, 'a'), take(lock, 'b'))\nasyncio.run(main())", "a in\na out\nb in\nb out\n", ""},
		{build.PythonMachine, "class Lamp:\n    def __init__(self, n):\n        self.n = n\n\n    def __str__(self):\n        return f'lamp {self.n:02d}'\n\n\nprint(*[Lamp(i) for i in range(2)], sep=', ')", "lamp 00, lamp 01\n", ""},
		{build.PythonMachine, "def f(n):\n    return f(n + 1)\n\n\nf(0)", "", "RecursionError: maximum recursion depth exceeded"},
		{build.PythonMachine, "x = bytearray(1 << 30)", "", "MemoryError: "},
		{build.PythonMachine, "__import__('os').system('true')", "", "ModuleNotFoundError: no module named 'os'"},
		{build.PythonMachine, "open('/etc/passwd')", "", "NameError: name 'open' is not defined"},
	} {
		o := run(t, c.language, "slim-3v3", c.does, 5*time.Second, func(_ *machine.Board, d *desk) { d.part[26] = 0.5 })
		assert.Equal(t, c.prints, o.printed, c.does)
		if c.breaks == "" {
			assert.NotEqual(t, machine.Crashed, o.ending.How, "%s: %s", c.does, o.ending.What)
		} else {
			assert.Equal(t, machine.Crashed, o.ending.How, c.does)
			assert.Contains(t, o.ending.What, c.breaks)
		}
	}
}

// What comes by the serial link is read as either dialect reads it, waiting for it or not.
func TestPythonListens(t *testing.T) {
	const each = "import sys, time\n%s\nheard = ''\nwhile len(heard) < 3:\n    if %s:\n        heard += sys.stdin.read(1)\n    time.sleep(0.01)\nprint(heard, round(time.%s, 1))\n"
	for _, c := range []struct {
		language    build.Language
		text, wants string
	}{
		{build.PythonBoard, fmt.Sprintf(each, "import supervisor", "supervisor.runtime.serial_bytes_available", "monotonic()"), "abc 0.3\n"},
		{build.PythonBoard, "import usb_cdc\nimport time\ntime.sleep(0.5)\nprint(usb_cdc.console.in_waiting, usb_cdc.console.read(2))", "3 b'ab'\n"},
		{build.PythonMachine, fmt.Sprintf(each, "import select\np = select.poll()\np.register(sys.stdin, select.POLLIN)", "p.poll(0)", "ticks_ms() / 1000"), "abc 0.3\n"},
		{build.PythonMachine, "import select, sys, time\nprint(select.select([sys.stdin], [], [], 0.05)[0], len(select.select([sys.stdin], [], [], 5)[0]), time.ticks_ms() // 10)", "[] 1 10\n"},
		{build.PythonMachine, "import sys\nprint(sys.stdin.read(2), input())\nsys.stdout.write('done\\n')", "ab c\ndone\n"},
	} {
		o := run(t, c.language, "slim-3v3", c.text, 5*time.Second, func(b *machine.Board, _ *desk) {
			for i, x := range []byte("abc\r") {
				b.Receive = append(b.Receive, machine.Received{At: int64(100e6 + i*100e6), C: x})
			}
			if strings.Contains(c.text, "0.01") {
				b.Receive = b.Receive[:3]
			}
			if strings.Contains(c.text, "usb_cdc") {
				b.Receive = b.Receive[:3]
			}
		})
		assert.Equal(t, c.wants, o.printed, c.text)
		assert.Empty(t, o.ending.What, c.text)
	}
}

// An interrupt of Python and of C++ are the same board's.
func TestPythonInterrupts(t *testing.T) {
	text := "from machine import Pin\nimport time\nn = 0\n\n\ndef hit(pin):\n    global n\n    n += 1\n\n\nPin(5, Pin.IN).irq(hit, Pin.IRQ_RISING)\ntime.sleep(1)\nprint(n)\n"
	o := run(t, build.PythonMachine, "slim-3v3", text, 2*time.Second, func(_ *machine.Board, d *desk) {
		d.moves = []moved{{100e6, 5, true}, {200e6, 5, false}, {300e6, 5, true}}
	})
	assert.Equal(t, "2\n", o.printed)
}

// What is not Python says where and what, and what reaches beyond the board is refused.
func TestBadPython(t *testing.T) {
	for _, c := range []struct {
		text, says string
		line       int
	}{
		{"import time\nwhile True\n    time.sleep(1)", "colon", 2},
		{"if True:\nprint(1)", "further in", 2},
		{"print('a)", "quotation mark", 1},
		{"print((1, 2)", "never closed", 1},
		{"import os\nprint(os.listdir('/'))", `"os" is not there`, 1},
		{"import socket", `"socket" is not there`, 1},
		{"from machine import Pin\nfrom neopixel import NeoPixel", `"neopixel" is not there`, 2},
		{"int led = 13;\nvoid setup() {}", "not Python", 1},
	} {
		got := compile(t, build.PythonMachine, "slim-3v3", c.text)
		assert.Nil(t, got.Program, c.text)
		require.NotEmpty(t, got.Messages, c.text)
		assert.Contains(t, got.Messages[0].Text, c.says)
		assert.Equal(t, c.line, got.Messages[0].Line, c.text)
	}
	got := compile(t, build.PythonMachine, "classic-5v", "print(1)")
	assert.Nil(t, got.Program)
	assert.Contains(t, got.Messages[0].Text, "C++ only")
}

// A loop without an end is ended by the number of its calls, or by the processor's clock.
func TestEndlessPython(t *testing.T) {
	c := compile(t, build.PythonMachine, "slim-3v3", "x = sum(i for i in range(10 ** 12))")
	b := machine.NewBoard(aBoard(t, "slim-3v3"), &desk{})
	b.Until = time.Now().Add(500 * time.Millisecond)
	e, err := c.Program.Run(t.Context(), b)
	require.NoError(t, err)
	assert.Equal(t, machine.Slow, e.How)
}
