package program

import (
	"fmt"
	"math"
	"strings"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
)

// A text is a program that is being written.
type text struct {
	strings.Builder
	indent, step string
}

// say writes a line, or several, each with the indent.
func (t *text) say(format string, args ...any) {
	for line := range strings.SplitSeq(fmt.Sprintf(format, args...), "\n") {
		if line == "" {
			t.WriteString("\n")
			continue
		}
		t.WriteString(t.indent + line + "\n")
	}
}

// in writes what stands further in.
func (t *text) in(what func()) {
	was := t.indent
	t.indent += t.step
	what()
	t.indent = was
}

// cppNames are the constants of a program in C++, by what they are for.
type cppNames struct {
	outs, ins, knobs, pulses []string
	on                       []string // by in: whether it is closed
	prints                   bool
}

// cpp writes the starter in C++.
func (o *outline) cpp() string {
	t := &text{step: "  "}
	n := cppNames{}
	t.say("// %s: written from the wiring.\n// What the parts do is up to you: change loop.\n", o.doc.Title)
	o.cppServos(t)
	for _, x := range o.outs {
		id := o.identifier(x.words, build.CPP)
		n.outs = append(n.outs, id)
		how := "HIGH switches it on"
		switch {
		case x.tone:
			how = "it sounds by a tone"
		case x.steers:
			how = "pulses say where its arm goes"
		case x.dims && x.low:
			how = "0 is brightest, 255 is off"
		case x.dims:
			how = "0 is off, 255 is brightest"
		case x.low:
			how = "LOW switches it on"
		}
		t.say("const int %s = %s;  // %s", id, o.board.InCode(x.pin), how)
		if x.steers {
			t.say("Servo %s;", arm(id))
		}
	}
	for _, x := range o.ins {
		id := o.identifier(x.words, build.CPP)
		n.ins, n.on = append(n.ins, id), append(n.on, o.identifier(x.words+" on", build.CPP))
		t.say("const int %s = %s;  // reads %s when it is %s", id, o.board.InCode(x.pin), level(x.closed), x.when)
	}
	for _, x := range o.knobs {
		id := o.identifier(x.words, build.CPP)
		n.knobs = append(n.knobs, id)
		t.say("const int %s = %s;  // 0 to %d", id, o.board.InCode(x.pin), o.full())
	}
	for _, x := range o.pulses {
		id := o.identifier(x.words, build.CPP)
		n.pulses = append(n.pulses, id)
		t.say("const int %s = %s;  // each pulse goes to %s and back", id, o.board.InCode(x.pin), level(x.closed))
	}
	for i, p := range o.pads {
		if p.ladder != nil {
			t.say("const int ladder%d = %s;  // %s", i, o.board.InCode(p.ladder.pin), p.words)
			continue
		}
		t.say("\n// %s: the %s are driven one after the other, the %s are read.", p.words, lines(p.rows), lines(!p.rows))
		t.say("const int driven%d[] = {%s};\nconst int read%d[] = {%s};", i, o.codes(p.driven), i, o.codes(p.read))
		t.say("const char keys%d[] = %q;  // row by row", i, p.keys)
	}
	for i, c := range o.chains {
		t.say("\n// %s: %d outputs.", c.words, len(c.lamps))
		t.say("const int data%d = %s;\nconst int clock%d = %s;", i, o.board.InCode(c.data), i, o.board.InCode(c.clock))
		if c.latch != "" {
			t.say("const int latch%d = %s;", i, o.board.InCode(c.latch))
		}
	}
	if len(o.digits) > 0 {
		t.say("\n// The figures 0 to 9: a bit for each bar, the lowest for a.\nconst byte figures[] = {%s};", figureBits)
	}
	for i, bars := range o.digits {
		t.say("const int bars%d[] = {%s};", i, namesOf(n.outs, bars))
	}
	n.prints = len(o.knobs)+len(o.pulses)+len(o.pads)+len(o.sonars)+len(o.dials) > 0
	for i := range o.ins {
		n.prints = n.prints || o.roles().printsIn(i)
	}
	o.cppHelpers(t, n)
	t.say("void setup() {")
	t.in(func() { o.cppSetup(t, n) })
	t.say("}\n\nvoid loop() {")
	t.in(func() { o.cppLoop(t, n) })
	t.say("}")
	return t.String()
}

// figureBits are the bars of the figures 0 to 9 (common practice: 6 and 9 with their tails).
const figureBits = "0x3f, 0x06, 0x5b, 0x4f, 0x66, 0x6d, 0x7d, 0x07, 0x7f, 0x6f"

// namesOf lists some of the names of a program.
func namesOf(names []string, which []int) string {
	var out []string
	for _, k := range which {
		out = append(out, names[k])
	}
	return strings.Join(out, ", ")
}

// milliseconds writes a time in whole ones, at least one.
func milliseconds(seconds float64) int { return int(max(1, math.Ceil(seconds*1000-1e-9))) }

func level(high bool) string {
	if high {
		return "HIGH"
	}
	return "LOW"
}

func lines(rows bool) string {
	if rows {
		return "rows"
	}
	return "columns"
}

// full is the largest reading in C++.
func (o *outline) full() int { return 1<<o.board.Programs().ReadBits - 1 }

// codes lists pins as C++ writes them.
func (o *outline) codes(pins []string) string {
	var out []string
	for _, p := range pins {
		out = append(out, o.board.InCode(p))
	}
	return strings.Join(out, ", ")
}

// cppHelpers writes the functions that loop uses.
func (o *outline) cppHelpers(t *text, n cppNames) {
	o.cppSonars(t)
	o.cppDials(t)
	for i, x := range o.pulses {
		if x.polled {
			continue
		}
		t.say("\nvolatile unsigned long pulses%d = 0;\nvolatile unsigned long edge%d = 0;  // ms, when the last one was", i, i)
		t.say("// At each edge. The contact bounces: a pulse is one in front of which it was quiet.\nvoid count%d() {", i)
		t.say("  unsigned long now = millis();\n  if (digitalRead(%s) == %s && now - edge%d >= %d) pulses%d++;\n  edge%d = now;\n}", n.pulses[i], level(x.closed), i, milliseconds(x.wait), i, i)
	}
	for i, p := range o.pads {
		if p.ladder != nil {
			p.ladder.cpp(t, i, o.full())
			continue
		}
		idle, release := fmt.Sprintf("digitalWrite(driven%d[d], %s);", i, level(!p.active)), ""
		if p.open {
			idle, release = fmt.Sprintf("pinMode(driven%d[d], INPUT);", i), fmt.Sprintf("pinMode(driven%d[d], OUTPUT); ", i)
		}
		at := fmt.Sprintf("d * %d + r", len(p.read))
		if !p.rows {
			at = fmt.Sprintf("r * %d + d", len(p.driven))
		}
		t.say(`
// The key that is down; 0: none.
char scan%d() {
  char key = 0;
  for (int d = 0; d < %d; d++) {
    %sdigitalWrite(driven%d[d], %s);
    for (int r = 0; r < %d; r++)
      if (digitalRead(read%d[r]) == %s) key = keys%d[%s];
    %s
  }
  return key;
}`, i, len(p.driven), release, i, level(p.active), len(p.read), i, level(p.active), i, at, idle)
	}
	for i, c := range o.chains {
		t.say("\n// One bit for each output, the lowest for the first.\nvoid show%d(unsigned long bits) {", i)
		t.in(func() {
			if !c.highLights {
				t.say("bits = ~bits;  // a low output lights")
			}
			if c.latch != "" {
				t.say("digitalWrite(latch%d, LOW);", i)
			}
			for k := len(c.lamps) - 8; k >= 0; k -= 8 {
				shifted := "bits"
				if k > 0 {
					shifted = fmt.Sprintf("bits >> %d", k)
				}
				t.say("shiftOut(data%d, clock%d, MSBFIRST, (%s) & 255);", i, i, shifted)
			}
			if c.latch != "" {
				t.say("digitalWrite(latch%d, HIGH);  // all outputs change at once", i)
			}
		})
		t.say("}")
	}
	for i, bars := range o.digits {
		t.say("\nvoid figure%d(int n) {\n  for (int bar = 0; bar < %d; bar++)\n    digitalWrite(bars%d[bar], figures[n] >> bar & 1 ? %s : %s);\n}", i, len(bars), i, level(!o.outs[bars[0]].low), level(o.outs[bars[0]].low))
	}
	for k, g := range o.groups {
		t.say("\n// These take turns: all go off before one goes on. −1: none.\nvoid only%d(int which) {", k)
		t.in(func() {
			for i, m := range g {
				t.say("if (which != %d) %s", i, o.cppSet(n, m, "false"))
			}
			for i, m := range g {
				t.say("if (which == %d) %s", i, o.cppSet(n, m, "true"))
			}
		})
		t.say("}")
	}
	t.say("")
}

// cppSet switches an out.
func (o *outline) cppSet(n cppNames, i int, on string) string {
	x := o.outs[i]
	switch {
	case x.steers && on == "true":
		return arm(n.outs[i]) + ".write(180);"
	case x.steers && on == "false":
		return arm(n.outs[i]) + ".write(0);"
	case x.steers:
		return fmt.Sprintf("%s.write(%s ? 180 : 0);", arm(n.outs[i]), on)
	case x.tone && on == "true":
		return fmt.Sprintf("tone(%s, 880);", n.outs[i])
	case x.tone && on == "false":
		return fmt.Sprintf("noTone(%s);", n.outs[i])
	case x.tone:
		return fmt.Sprintf("if (%s) tone(%s, 880); else noTone(%s);", on, n.outs[i], n.outs[i])
	case x.open && on == "true":
		return fmt.Sprintf("{ pinMode(%s, OUTPUT); digitalWrite(%s, %s); }", n.outs[i], n.outs[i], level(!x.low))
	case x.open && on == "false":
		return fmt.Sprintf("pinMode(%s, INPUT);", n.outs[i])
	case x.open:
		return fmt.Sprintf("pinMode(%s, %s ? OUTPUT : INPUT);", n.outs[i], on)
	case on == "true":
		return fmt.Sprintf("digitalWrite(%s, %s);", n.outs[i], level(!x.low))
	case on == "false":
		return fmt.Sprintf("digitalWrite(%s, %s);", n.outs[i], level(x.low))
	}
	return fmt.Sprintf("digitalWrite(%s, %s ? %s : %s);", n.outs[i], on, level(!x.low), level(x.low))
}

func (o *outline) cppSetup(t *text, n cppNames) {
	if o.talks && n.prints {
		t.say("Serial.begin(115200);")
	}
	for i, bars := range o.digits {
		if o.outs[bars[0]].low {
			t.say("for (int bar : bars%d) {\n  digitalWrite(bar, HIGH);  // off before it is an output\n  pinMode(bar, OUTPUT);\n}", i)
		} else {
			t.say("for (int bar : bars%d) pinMode(bar, OUTPUT);", i)
		}
	}
	for i, x := range o.outs {
		switch {
		case x.bar:
		case x.steers:
			t.say("%s.attach(%s);", arm(n.outs[i]), n.outs[i])
		case x.tone || x.dims:
			t.say("pinMode(%s, OUTPUT);", n.outs[i])
			if x.dims && x.low {
				t.say("digitalWrite(%s, HIGH);", n.outs[i])
			}
		case x.open:
			t.say("digitalWrite(%s, %s);\npinMode(%s, INPUT);", n.outs[i], level(!x.low), n.outs[i])
		default:
			if x.low {
				t.say("digitalWrite(%s, HIGH);  // off before it is an output", n.outs[i])
			}
			t.say("pinMode(%s, OUTPUT);", n.outs[i])
		}
	}
	for i, x := range o.ins {
		t.say("pinMode(%s, %s);", n.ins[i], mode(x.pull))
	}
	for i, x := range o.pulses {
		t.say("pinMode(%s, %s);", n.pulses[i], mode(x.pull))
		if !x.polled {
			t.say("attachInterrupt(digitalPinToInterrupt(%s), count%d, CHANGE);", n.pulses[i], i)
		}
	}
	o.cppSonarSetup(t)
	o.cppDialSetup(t)
	for i, p := range o.pads {
		if p.ladder != nil {
			continue
		}
		if p.open {
			t.say("for (int pin : driven%d) pinMode(pin, INPUT);", i)
		} else {
			t.say("for (int pin : driven%d) {\n  digitalWrite(pin, %s);\n  pinMode(pin, OUTPUT);\n}", i, level(!p.active))
		}
		t.say("for (int pin : read%d) pinMode(pin, %s);", i, mode(p.pull))
	}
	for i, c := range o.chains {
		t.say("pinMode(data%d, OUTPUT);\npinMode(clock%d, OUTPUT);", i, i)
		if c.latch != "" {
			t.say("pinMode(latch%d, OUTPUT);", i)
		}
		t.say("show%d(0);  // at power-up a register holds anything", i)
	}
}

func mode(pull board.Pull) string {
	switch pull {
	case board.PullUp:
		return "INPUT_PULLUP"
	case board.PullDown:
		return "INPUT_PULLDOWN"
	}
	return "INPUT"
}

func (o *outline) cppLoop(t *text, n cppNames) {
	plan := o.roles()
	o.cppDialLoop(t)
	if plan.beats {
		t.say("unsigned long beat = millis() / 500;  // halves of a second")
	}
	for i, x := range o.ins {
		t.say("bool %s = digitalRead(%s) == %s;", n.on[i], n.ins[i], level(x.closed))
		if plan.printsIn(i) && o.talks {
			t.say("static bool was%d = true;  // closed from the start is no press\nif (%s != was%d) {\n  was%d = %s;\n  if (was%d) Serial.println(%q);\n  delay(%d);  // the contact bounces\n}", i, n.on[i], i, i, n.on[i], i, x.words, milliseconds(x.wait))
		} else if plan.printsIn(i) {
			t.say("(void)%s;", n.on[i])
		}
	}
	for i, x := range o.pulses {
		if x.polled {
			t.say("static unsigned long pulses%d = 0, edge%d = 0;\nstatic bool was%d = true;", i, i, len(o.ins)+i)
			t.say("bool closed%d = digitalRead(%s) == %s;\nif (closed%d != was%d) {\n  // The contact bounces: a pulse is one in front of which it was quiet.\n  if (closed%d && millis() - edge%d >= %d) pulses%d++;\n  was%d = closed%d;\n  edge%d = millis();\n}", i, n.pulses[i], level(x.closed), i, len(o.ins)+i, i, i, milliseconds(x.wait), i, len(o.ins)+i, i, i)
		}
	}
	for i := range o.pads {
		o.cppPad(t, i, "\n  delay(20);  // keys bounce")
	}
	for k := range o.groups {
		t.say("%s", o.cppGroup(n, k, plan))
	}
	for i := range o.digits {
		t.say("figure%d(beat / 2 %% 10);  // counts the seconds", i)
	}
	for i, x := range o.outs {
		r := plan.outs[i]
		switch {
		case x.bar:
		case x.group >= 0 && !x.dims:
		case x.steers && r.knob >= 0:
			t.say("%s.write(map(analogRead(%s), 0, %d, 0, 180));", arm(n.outs[i]), n.knobs[r.knob], o.full())
		case x.dims && r.knob >= 0:
			value := fmt.Sprintf("map(analogRead(%s), 0, %d, 0, 255)", n.knobs[r.knob], o.full())
			if x.low {
				value = fmt.Sprintf("map(analogRead(%s), 0, %d, 255, 0)", n.knobs[r.knob], o.full())
			}
			t.say("analogWrite(%s, %s);", n.outs[i], value)
		case x.dims && r.in >= 0:
			on, off := 255, 0
			if x.low {
				on, off = 0, 255
			}
			t.say("analogWrite(%s, %s ? %d : %d);", n.outs[i], n.on[r.in], on, off)
		case x.dims:
			wave := "abs((long)(millis() / 8 % 510) - 255)"
			if x.low {
				wave = "255 - " + wave
			}
			t.say("analogWrite(%s, %s);  // up and down in four seconds", n.outs[i], wave)
		case r.in >= 0:
			t.say("%s", o.cppSet(n, i, n.on[r.in]))
		case r.pad >= 0:
			t.say("%s", o.cppSet(n, i, fmt.Sprintf("key%d != 0", r.pad)))
		case r.knob >= 0:
			t.say("%s", o.cppSet(n, i, fmt.Sprintf("analogRead(%s) > %d", n.knobs[r.knob], int(o.knobs[r.knob].middle*float64(o.full())))))
		case x.tone:
			t.say("%s", o.cppSet(n, i, "millis() % 4000 < 100"))
		default:
			t.say("%s", o.cppSet(n, i, "beat % 2 == 0"))
		}
	}
	for i, c := range o.chains {
		t.say("static unsigned long shown%d = ~0UL;\nif (beat != shown%d) {\n  shown%d = beat;\n  show%d(1UL << (beat %% %d));  // one after the other\n}", i, i, i, i, len(c.lamps))
	}
	o.cppReport(t, n)
}

// cppPad tells of each key of a keypad once, as it goes down; after is what is done then.
func (o *outline) cppPad(t *text, i int, after string) {
	t.say("static char down%d = 0;\nchar key%d = scan%d();", i, i, i)
	if o.talks {
		after = fmt.Sprintf("\n  if (key%d) Serial.println(key%d);", i, i) + after
	}
	t.say("if (key%d != down%d) {\n  down%d = key%d;%s\n}", i, i, i, i, after)
}

// cppGroup switches the members of a group.
func (o *outline) cppGroup(n cppNames, k int, plan roles) string {
	g := o.groups[k]
	if plan.outs[g[0]].in < 0 {
		return fmt.Sprintf("only%d(beat %% %d);", k, len(g))
	}
	which := "-1"
	for i := len(g) - 1; i >= 0; i-- {
		if in := plan.outs[g[i]].in; in >= 0 { // others of the group may follow a knob
			which = fmt.Sprintf("%s ? %d : %s", n.on[in], i, which)
		}
	}
	return fmt.Sprintf("only%d(%s);", k, which)
}

// cppReport prints what is measured, once a second.
func (o *outline) cppReport(t *text, n cppNames) {
	if len(o.knobs)+len(o.pulses)+len(o.sonars) == 0 {
		return
	}
	t.say("\nstatic unsigned long told = 0;\nif (millis() - told >= 1000) {")
	t.in(func() {
		t.say("told += 1000;")
		for i, x := range o.pulses {
			if x.polled {
				t.say("unsigned long counted%d = pulses%d;\npulses%d = 0;", i, i, i)
			} else {
				t.say("noInterrupts();\nunsigned long counted%d = pulses%d;\npulses%d = 0;\ninterrupts();", i, i, i)
			}
			if o.talks {
				t.say("Serial.print(%q);\nSerial.println(%s);", x.words+": ", x.measure(fmt.Sprintf("counted%d", i)))
			} else {
				t.say("(void)counted%d;", i)
			}
		}
		o.cppSonarReport(t)
		if o.talks {
			for i, x := range o.knobs {
				t.say("Serial.print(%q);\nSerial.println(analogRead(%s));", x.words+": ", n.knobs[i])
			}
		}
	})
	t.say("}")
	if !o.talks {
		for i := range o.knobs {
			t.say("(void)analogRead(%s);", n.knobs[i])
		}
	}
}
