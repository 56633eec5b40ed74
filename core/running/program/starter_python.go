package program

import (
	"fmt"
	"slices"
	"strings"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
)

// A dialect is how one of the dialects of Python says things.
type dialect struct {
	language build.Language
	imports  []string
	out      string // makes an output of a name and a pin
	in       string // makes an input of a name, a pin and a pull
	pulls    map[board.Pull]string
	knob     string
	dim      string
	set      string // sets an output to a level
	get      string // what an input reads
	measure  string // what a knob reads, 0 to 65535
	duty     string // sets a duty, 0 to 65535
	sound    string // begins a tone
	quiet    string
	now      string // milliseconds
	pause    string // a pause of milliseconds
	half     string // a pause of half a wave of 880 Hz

	hears []string // the modules that tell whether something was sent
	ready string   // makes what tells it
	sent  string   // whether something was
}

// dialects of Python, each by its own modules.
var dialects = map[build.Language]dialect{
	build.PythonMachine: {
		language: build.PythonMachine,
		imports:  []string{"from machine import ADC, PWM, Pin", timed, "import time"},
		out:      "%[1]s = Pin(%[2]s, Pin.OUT, value=%[3]d)",
		in:       "%[1]s = Pin(%[2]s, Pin.IN%[3]s)",
		pulls:    map[board.Pull]string{board.NoPull: "", board.PullUp: ", Pin.PULL_UP", board.PullDown: ", Pin.PULL_DOWN"},
		knob:     "%[1]s = ADC(Pin(%[2]s))",
		dim:      "%[1]s = PWM(Pin(%[2]s), freq=1000, duty_u16=%[3]d)",
		set:      "%[1]s.value(%[2]s)", get: "%[1]s.value()", measure: "%[1]s.read_u16()", duty: "%[1]s.duty_u16(%[2]s)",
		sound: "%[1]s.freq(880)\n%[1]s.duty_u16(32768)", quiet: "%[1]s.duty_u16(0)",
		now: "time.ticks_ms()", pause: "time.sleep_ms(%d)", half: "time.sleep_us(568)",
		hears: []string{"import select", "import sys"}, ready: "link = select.poll()\nlink.register(sys.stdin, select.POLLIN)", sent: "link.poll(0)",
	},
	build.PythonBoard: {
		language: build.PythonBoard,
		imports:  []string{"import analogio", "import board", "import digitalio", "import pwmio", "import time"},
		out:      "%[1]s = digitalio.DigitalInOut(board.%[2]s)\n%[1]s.switch_to_output(value=%[4]s)",
		in:       "%[1]s = digitalio.DigitalInOut(board.%[2]s)\n%[1]s.switch_to_input(pull=%[3]s)",
		pulls:    map[board.Pull]string{board.NoPull: "None", board.PullUp: "digitalio.Pull.UP", board.PullDown: "digitalio.Pull.DOWN"},
		knob:     "%[1]s = analogio.AnalogIn(board.%[2]s)",
		dim:      "%[1]s = pwmio.PWMOut(board.%[2]s, frequency=1000, duty_cycle=%[3]d)",
		set:      "%[1]s.value = %[2]s", get: "%[1]s.value", measure: "%[1]s.value", duty: "%[1]s.duty_cycle = %[2]s",
		sound: "%[1]s.duty_cycle = 32768", quiet: "%[1]s.duty_cycle = 0",
		now: "int(time.monotonic() * 1000)", pause: "time.sleep(%d / 1000)", half: "time.sleep(0.000568)",
		hears: []string{"import supervisor", "import sys"}, sent: "supervisor.runtime.serial_bytes_available",
	},
}

// timed is the import of what measures pulses.
const timed = "from machine import time_pulse_us"

// pin writes a pin as the dialect does.
func (d *dialect) pin(b *board.Profile, name string) string {
	if d.language == build.PythonBoard {
		return name
	}
	return fmt.Sprint(b.Number(name))
}

func truth(b bool) string {
	if b {
		return "True"
	}
	return "False"
}

func one(b bool) int {
	if b {
		return 1
	}
	return 0
}

// pyNames are the names of a program in Python.
type pyNames struct{ outs, ins, on, knobs, pulses []string }

// begin writes what every program in Python begins with: imports, and an object for each pin.
func (o *outline) begin(t *text, d *dialect, what string) (n pyNames) {
	t.say("# %s: %s", o.doc.Title, what)
	imports := d.imports
	for _, line := range imports {
		if o.needs(line) {
			t.say("%s", line)
		}
	}
	t.say("")
	for _, x := range o.outs {
		id := o.identifier(x.words, d.language)
		n.outs = append(n.outs, id)
		switch {
		case x.steers && x.pwm:
			t.say(strings.ReplaceAll(d.dim, "1000", "50"), id, d.pin(o.board, x.pin), 0)
		case x.dims || x.tone && x.pwm:
			off := 0
			if x.low && x.dims {
				off = 65535
			}
			t.say(d.dim, id, d.pin(o.board, x.pin), off)
			if x.low && x.dims {
				t.say("# of %s 0 is brightest, 65535 is off", id)
			}
		case x.open:
			t.say(d.in, id, d.pin(o.board, x.pin), d.pulls[board.NoPull])
		default:
			t.say(d.out, id, d.pin(o.board, x.pin), one(x.low), truth(x.low))
		}
	}
	for _, x := range o.ins {
		id := o.identifier(x.words, d.language)
		n.ins, n.on = append(n.ins, id), append(n.on, o.identifier(x.words+" on", d.language))
		t.say(d.in, id, d.pin(o.board, x.pin), d.pulls[x.pull])
	}
	for _, x := range o.knobs {
		id := o.identifier(x.words, d.language)
		n.knobs = append(n.knobs, id)
		t.say(d.knob, id, d.pin(o.board, x.pin))
	}
	for _, x := range o.pulses {
		id := o.identifier(x.words, d.language)
		n.pulses = append(n.pulses, id)
		t.say(d.in, id, d.pin(o.board, x.pin), d.pulls[x.pull])
	}
	for i, p := range o.pads {
		if p.ladder != nil {
			t.say(d.knob+"  # %[3]s", fmt.Sprintf("ladder%d", i), d.pin(o.board, p.ladder.pin), p.words)
			continue
		}
		t.say("\n# %s: the %s are driven one after the other, the %s are read.", p.words, lines(p.rows), lines(!p.rows))
		t.say("keys%d = %q  # row by row", i, p.keys)
		o.each(t, d, fmt.Sprintf("driven%d", i), p.driven, func(pin string) {
			if p.open {
				t.say(d.in, "pin", d.pin(o.board, pin), d.pulls[board.NoPull])
			} else {
				t.say(d.out, "pin", d.pin(o.board, pin), one(!p.active), truth(!p.active))
			}
		})
		o.each(t, d, fmt.Sprintf("read%d", i), p.read, func(pin string) { t.say(d.in, "pin", d.pin(o.board, pin), d.pulls[p.pull]) })
	}
	for i, c := range o.chains {
		t.say("\n# %s: %d outputs.", c.words, len(c.lamps))
		for _, leg := range []struct{ name, pin string }{{"data", c.data}, {"clock", c.clock}, {"latch", c.latch}} {
			if leg.pin != "" {
				t.say(d.out, fmt.Sprintf("%s%d", leg.name, i), d.pin(o.board, leg.pin), 0, "False")
			}
		}
	}
	o.pyHelpers(t, d, n)
	return n
}

// needs reports whether a program of the build uses what a line imports.
func (o *outline) needs(line string) bool {
	dims := false
	for _, x := range o.outs {
		dims = dims || x.dims || x.steers && x.pwm || x.tone && x.pwm
	}
	switch line {
	case timed:
		return len(o.sonars) > 0
	case "import analogio":
		return len(o.knobs) > 0 || slices.ContainsFunc(o.pads, func(p pad) bool { return p.ladder != nil })
	case "import pwmio":
		return dims
	}
	return true
}

// each makes a list of pins.
func (o *outline) each(t *text, _ *dialect, list string, pins []string, make func(pin string)) {
	t.say("%s = []", list)
	for _, pin := range pins {
		make(pin)
		t.say("%s.append(pin)", list)
	}
}

// write is how an output is set to a level.
func (d *dialect) write(name string, level string) string { return fmt.Sprintf(d.set, name, level) }

// pyHelpers writes the functions that the loop uses.
func (o *outline) pyHelpers(t *text, d *dialect, n pyNames) {
	if slices.ContainsFunc(o.outs, func(x out) bool { return x.tone && !x.pwm }) {
		t.say("\n\ndef beep(pin):\n    \"\"\"A tone for a tenth of a second: a pin without PWM is turned over by hand.\"\"\"\n    for _ in range(88):\n        %s\n        %s\n        %s\n        %s", d.write("pin", d.level(true)), d.half, d.write("pin", d.level(false)), d.half)
	}
	o.pySonars(t, d)
	o.pyDials(t, d)
	o.pyServos(t, d)
	for i, x := range o.pulses {
		if d.polls(x) {
			continue
		}
		t.say(`
pulses%[1]d = 0
edge%[1]d = 0


def count%[1]d(pin):
    """At each edge. The contact bounces: a pulse is one in front of which it was quiet."""
    global pulses%[1]d, edge%[1]d
    now = time.ticks_ms()
    if pin.value() == %[2]d and time.ticks_diff(now, edge%[1]d) >= %[3]d:
        pulses%[1]d += 1
    edge%[1]d = now


%[4]s.irq(count%[1]d, Pin.IRQ_FALLING | Pin.IRQ_RISING)`, i, one(x.closed), milliseconds(x.wait), n.pulses[i])
	}
	for i, p := range o.pads {
		if p.ladder != nil {
			p.ladder.python(t, d, i)
			continue
		}
		at := fmt.Sprintf("d * %d + r", len(p.read))
		if !p.rows {
			at = fmt.Sprintf("r * %d + d", len(p.driven))
		}
		selects, releases := d.write("pin", fmt.Sprint(one(p.active))), d.write("pin", fmt.Sprint(one(!p.active)))
		if d.language == build.PythonBoard {
			selects, releases = d.write("pin", truth(p.active)), d.write("pin", truth(!p.active))
		}
		if p.open {
			selects, releases = "pin.init(Pin.OUT, value="+fmt.Sprint(one(p.active))+")", "pin.init(Pin.IN)"
			if d.language == build.PythonBoard {
				selects, releases = "pin.switch_to_output(value="+truth(p.active)+")", "pin.switch_to_input()"
			}
		}
		not := "not "
		if p.active {
			not = ""
		}
		t.say(`

def scan%d():
    """The key that is down, or nothing."""
    key = ""
    for d, pin in enumerate(driven%d):
        %s
        for r, line in enumerate(read%d):
            if %s%s:
                key = keys%d[%s]
        %s
    return key`, i, i, selects, i, not, fmt.Sprintf(d.get, "line"), i, at, releases)
	}
	for i, c := range o.chains {
		t.say("\n\ndef show%d(bits):\n    \"\"\"One bit for each output, the lowest for the first.\"\"\"", i)
		t.in(func() {
			if !c.highLights {
				t.say("bits = ~bits  # a low output lights")
			}
			if c.latch != "" {
				t.say("%s", d.write(fmt.Sprintf("latch%d", i), d.level(false)))
			}
			t.say("for place in range(%d, -1, -1):", len(c.lamps)-1)
			t.in(func() {
				bit := "bits >> place & 1"
				if d.language == build.PythonBoard {
					bit = "bool(bits >> place & 1)"
				}
				t.say("%s", d.write(fmt.Sprintf("data%d", i), bit))
				t.say("%s\n%s", d.write(fmt.Sprintf("clock%d", i), d.level(true)), d.write(fmt.Sprintf("clock%d", i), d.level(false)))
			})
			if c.latch != "" {
				t.say("%s  # all outputs change at once", d.write(fmt.Sprintf("latch%d", i), d.level(true)))
			}
		})
	}
	if len(o.digits) > 0 {
		t.say("\n# The figures 0 to 9: a bit for each bar, the lowest for a.\nfigures = (%s)", figureBits)
	}
	for i, bars := range o.digits {
		t.say("bars%d = (%s)", i, namesOf(n.outs, bars))
	}
	for i, bars := range o.digits {
		on := "figures[n] >> place & 1"
		if o.outs[bars[0]].low {
			on = "~" + on
		}
		if d.language == build.PythonBoard {
			on = "bool(" + on + ")"
		}
		t.say("\n\ndef figure%d(n):\n    for place, bar in enumerate(bars%d):\n        %s", i, i, d.write("bar", on))
	}
	for k, g := range o.groups {
		t.say("\n\ndef only%d(which):\n    \"\"\"These take turns: all go off before one goes on. -1: none.\"\"\"", k)
		t.in(func() {
			for i, m := range g {
				t.say("if which != %d:", i)
				t.in(func() { t.say("%s", o.pySet(d, n, m, "False")) })
			}
			for i, m := range g {
				t.say("if which == %d:", i)
				t.in(func() { t.say("%s", o.pySet(d, n, m, "True")) })
			}
		})
	}
	if len(o.pads)+len(o.chains)+len(o.groups)+len(o.digits) > 0 {
		t.say("")
	}
}

func (d *dialect) level(high bool) string {
	if d.language == build.PythonBoard {
		return truth(high)
	}
	return fmt.Sprint(one(high))
}

// polls reports whether pulses are looked for in the loop.
func (d *dialect) polls(x pulse) bool { return x.polled || d.language == build.PythonBoard }

// poll counts a pulse in the loop, which knows the time as now.
func (d *dialect) poll(t *text, i int, x pulse, name string) {
	t.say("closed = %s\nif closed != closed%d:\n    # The contact bounces: a pulse is one in front of which it was quiet.\n    if closed and now - edge%d >= %d:\n        pulses%d += 1\n    closed%d = closed\n    edge%d = now", d.closed(x.in, name), i, i, milliseconds(x.wait), i, i, i)
}

// pySet switches an out.
func (o *outline) pySet(d *dialect, n pyNames, i int, on string) string {
	x := o.outs[i]
	name := n.outs[i]
	switch {
	case x.steers && on == "True":
		return steer(x) + "(" + name + ", 180)"
	case x.steers && on == "False":
		return steer(x) + "(" + name + ", 0)"
	case x.steers:
		return fmt.Sprintf("%s(%s, 180 if %s else 0)", steer(x), name, on)
	case x.tone && !x.pwm && on == "True":
		return "beep(" + name + ")"
	case x.tone && !x.pwm && on == "False":
		return fmt.Sprintf(d.set, name, on)
	case x.tone && !x.pwm:
		return fmt.Sprintf("if %s:\n    beep(%s)", on, name)
	case x.tone && on == "True":
		return fmt.Sprintf(d.sound, name)
	case x.tone && on == "False":
		return fmt.Sprintf(d.quiet, name)
	case x.tone:
		return fmt.Sprintf(d.duty, name, "32768 if "+on+" else 0")
	case x.dims:
		off, full := "0", "65535"
		if x.low {
			off, full = full, off
		}
		return fmt.Sprintf(d.duty, name, full+" if "+on+" else "+off)
	case x.open && d.language == build.PythonBoard:
		return fmt.Sprintf("if %s:\n    %s.switch_to_output(value=%s)\nelse:\n    %s.switch_to_input()", on, name, truth(!x.low), name)
	case x.open:
		return fmt.Sprintf("%s.init(Pin.OUT if %s else Pin.IN, value=%d)", name, on, one(!x.low))
	}
	if x.low {
		switch on {
		case "True", "False":
			on = truth(on == "False")
		default:
			on = "not (" + on + ")"
		}
	}
	return fmt.Sprintf(d.set, name, on)
}

// closed is whether a contact is closed.
func (d *dialect) closed(x in, name string) string {
	reads := fmt.Sprintf(d.get, name)
	if d.language == build.PythonMachine {
		return fmt.Sprintf("%s == %d", reads, one(x.closed))
	}
	if x.closed {
		return reads
	}
	return "not " + reads
}

// python writes the starter.
func (o *outline) python(l build.Language) string {
	d := dialects[l]
	t := &text{step: "    "}
	n := o.begin(t, &d, "written from the wiring. What the parts do is up to you: change the loop.")
	plan := o.roles()
	t.say("")
	for i := range o.ins {
		if plan.printsIn(i) {
			t.say("was%d = True  # closed from the start is no press", i)
		}
	}
	for i, x := range o.pulses {
		if d.polls(x) {
			t.say("pulses%d = 0\nedge%d = 0\nclosed%d = True", i, i, i)
		}
	}
	for i := range o.pads {
		t.say("down%d = \"\"", i)
	}
	t.say("started = %s\ntold = 0\n\nwhile True:", d.now)
	t.in(func() {
		t.say("now = %s - started", d.now)
		if d.language == build.PythonMachine {
			t.WriteString("")
		}
		if plan.beats {
			t.say("beat = now // 500  # halves of a second")
		}
		o.pyDialLoop(t)
		for i, x := range o.ins {
			t.say("%s = %s", n.on[i], d.closed(x, n.ins[i]))
			if plan.printsIn(i) {
				t.say("if %s != was%d:\n    was%d = %s\n    if was%d:\n        print(%q)\n    "+d.pause+"  # the contact bounces", n.on[i], i, i, n.on[i], i, x.words, milliseconds(x.wait))
			}
		}
		for i, x := range o.pulses {
			if d.polls(x) {
				d.poll(t, i, x, n.pulses[i])
			}
		}
		for i := range o.pads {
			t.say("key%d = scan%d()\nif key%d != down%d:\n    if key%d:\n        print(key%d)\n    down%d = key%d\n    "+d.pause+"  # keys bounce", i, i, i, i, i, i, i, i, 20)
		}
		for i := range o.digits {
			t.say("figure%d(beat // 2 %% 10)  # counts the seconds", i)
		}
		for k, g := range o.groups {
			if plan.outs[g[0]].in < 0 {
				t.say("only%d(beat %% %d)", k, len(g))
				continue
			}
			which := "-1"
			for i := len(g) - 1; i >= 0; i-- {
				if in := plan.outs[g[i]].in; in >= 0 { // others of the group may follow a knob
					which = fmt.Sprintf("%d if %s else %s", i, n.on[in], which)
				}
			}
			t.say("only%d(%s)", k, which)
		}
		for i, x := range o.outs {
			r := plan.outs[i]
			switch {
			case x.bar:
			case x.group >= 0 && !x.dims:
			case x.steers && r.knob >= 0:
				t.say("%s(%s, %s * 180 // 65535)", steer(x), n.outs[i], fmt.Sprintf(d.measure, n.knobs[r.knob]))
			case x.dims && r.knob >= 0 && x.low:
				t.say(d.duty, n.outs[i], "65535 - "+fmt.Sprintf(d.measure, n.knobs[r.knob]))
			case x.dims && r.knob >= 0:
				t.say(d.duty, n.outs[i], fmt.Sprintf(d.measure, n.knobs[r.knob]))
			case r.in >= 0:
				t.say("%s", o.pySet(&d, n, i, n.on[r.in]))
			case x.dims:
				t.say(d.duty+"  # up and down in four seconds", n.outs[i], "abs(now % 4000 - 2000) * 32")
			case r.pad >= 0:
				t.say("%s", o.pySet(&d, n, i, fmt.Sprintf("key%d != \"\"", r.pad)))
			case r.knob >= 0:
				t.say("%s", o.pySet(&d, n, i, fmt.Sprintf(d.measure+" > %[2]d", n.knobs[r.knob], int(o.knobs[r.knob].middle*65535))))
			case x.tone:
				t.say("%s", o.pySet(&d, n, i, "now % 4000 < 100"))
			default:
				t.say("%s", o.pySet(&d, n, i, "beat % 2 == 0"))
			}
		}
		for i, c := range o.chains {
			t.say("show%d(1 << beat %% %d)  # one after the other", i, len(c.lamps))
		}
		if len(o.knobs)+len(o.pulses)+len(o.sonars) > 0 {
			t.say("if now - told >= 1000:\n    told += 1000")
			t.in(func() {
				for i, x := range o.pulses {
					t.say("print(%q, %s)\npulses%d = 0", x.words+":", x.measure(fmt.Sprintf("pulses%d", i)), i)
				}
				for i, x := range o.knobs {
					t.say("print(%q, %s)", x.words+":", fmt.Sprintf(d.measure, n.knobs[i]))
				}
				for i, s := range o.sonars {
					t.say("print(%q, centimetres%d())", s.words+":", i)
				}
			})
		}
		t.say(d.pause, 2)
	})
	return t.String()
}

// pythonTest writes the test program.
func (o *outline) pythonTest(l build.Language) string {
	d := dialects[l]
	d.imports = slices.Sorted(slices.Values(slices.Concat(d.imports, d.hears)))
	t := &text{step: "    "}
	groups := o.groups
	o.groups = nil
	n := o.begin(t, &d, "tries each part by itself, and prints its name.")
	o.groups = groups
	inputs, names := slices.Clone(o.ins), slices.Concat(n.ins, n.pulses)
	for _, x := range o.pulses {
		inputs = append(inputs, x.in)
	}
	if d.ready != "" {
		t.say("%s", d.ready)
	}
	t.say("was = {}\nheld = False  # send a letter: all stays as it is, until one is sent again\n\n\ndef look():\n    \"\"\"Says what the inputs read, whenever it has changed.\"\"\"")
	t.in(func() {
		t.say("global held")
		for i, x := range inputs {
			t.say("now = %q if %s else %q\nif was.get(%q) != now:\n    was[%q] = now\n    print(now)", x.words+": closed", d.closed(x, names[i]), x.words+": open", x.words, x.words)
		}
		for i, x := range o.knobs {
			t.say("at = %s\nif abs(at - was.get(%q, -9999)) > 1000:\n    was[%q] = at\n    print(%q, at)", fmt.Sprintf(d.measure, n.knobs[i]), x.words+":", x.words+":", x.words+":")
		}
		o.pyDialLoop(t)
		for i := range o.pads {
			t.say("key = scan%d()\nif key != was.get(\"key%d\", \"\"):\n    was[\"key%d\"] = key\n    if key:\n        print(key)", i, i, i)
		}
		t.say("if %s:\n    sys.stdin.read(1)\n    held = not held\n    print(\"held\" if held else \"going on\")", d.sent)
		t.say(d.pause+"  # longer than a contact bounces", 25)
	})
	t.say("\n\ndef wait(ms):\n    while ms > 0:\n        look()\n        ms -= 0 if held else 25\n\n\nwhile True:")
	t.in(func() {
		for i, x := range o.outs {
			t.say("print(%q)\n%s\nwait(1000)\n%s", x.words, o.pySet(&d, n, i, "True"), o.pySet(&d, n, i, "False"))
		}
		for i, c := range o.chains {
			for k, lamp := range c.lamps {
				if lamp != "" {
					t.say("print(%q)\nshow%d(1 << %d)\nwait(1000)", lamp, i, k)
				}
			}
			t.say("show%d(0)", i)
		}
		for i, s := range o.sonars {
			t.say("print(%q, centimetres%d())", s.words+":", i)
		}
		t.say("wait(500)")
	})
	return t.String()
}
