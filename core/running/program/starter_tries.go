package program

import (
	"fmt"

	"cablaggio/core/document/build"
)

// cppTest writes the test program in C++.
func (o *outline) cppTest() string {
	t := &text{step: "  "}
	n := cppNames{}
	t.say("// %s: tries each part by itself, and prints its name.\n", o.doc.Title)
	o.cppServos(t)
	ids := func(words string) string { return o.identifier(words, build.CPP) }
	for _, x := range o.outs {
		n.outs = append(n.outs, ids(x.words))
		t.say("const int %s = %s;", n.outs[len(n.outs)-1], o.board.InCode(x.pin))
		if x.steers {
			t.say("Servo %s;", arm(n.outs[len(n.outs)-1]))
		}
	}
	for _, x := range o.ins {
		n.ins = append(n.ins, ids(x.words))
		t.say("const int %s = %s;", n.ins[len(n.ins)-1], o.board.InCode(x.pin))
	}
	for _, x := range o.knobs {
		n.knobs = append(n.knobs, ids(x.words))
		t.say("const int %s = %s;", n.knobs[len(n.knobs)-1], o.board.InCode(x.pin))
	}
	for _, x := range o.pulses {
		n.pulses = append(n.pulses, ids(x.words))
		t.say("const int %s = %s;", n.pulses[len(n.pulses)-1], o.board.InCode(x.pin))
	}
	for i, p := range o.pads {
		if p.ladder != nil {
			t.say("const int ladder%d = %s;", i, o.board.InCode(p.ladder.pin))
			continue
		}
		t.say("const int driven%d[] = {%s};\nconst int read%d[] = {%s};\nconst char keys%d[] = %q;", i, o.codes(p.driven), i, o.codes(p.read), i, p.keys)
	}
	for i, c := range o.chains {
		t.say("const int data%d = %s;\nconst int clock%d = %s;", i, o.board.InCode(c.data), i, o.board.InCode(c.clock))
		if c.latch != "" {
			t.say("const int latch%d = %s;", i, o.board.InCode(c.latch))
		}
	}
	own := *o
	own.ins, own.pulses, own.groups = nil, nil, nil
	own.cppHelpers(t, n)
	for _, x := range o.pulses {
		own.ins = append(own.ins, x.in)
	}
	t.say("void say(const char *what) { %s }\n", map[bool]string{true: "Serial.println(what);", false: "(void)what;"}[o.talks])
	t.say("void setup() {")
	t.in(func() {
		both := *o
		both.pulses = nil
		n.prints = true
		both.cppSetup(t, n)
		for i, x := range o.pulses {
			t.say("pinMode(%s, %s);", n.pulses[i], mode(x.pull))
		}
	})
	t.say("}\n")
	// What is read is said as soon as it changes, while each lamp has its second.
	if o.talks {
		t.say("bool held = false;  // send anything: all stays as it is, until something is sent again\n")
	}
	t.say("// Says what the inputs read, whenever it has changed.\nvoid look() {")
	t.in(func() {
		for i, x := range append(o.ins[:len(o.ins):len(o.ins)], own.ins...) {
			name := append(n.ins[:len(n.ins):len(n.ins)], n.pulses...)[i]
			t.say("static int was%d = -1;\nint now%d = digitalRead(%s);", i, i, name)
			t.say("if (now%d != was%d) {\n  was%d = now%d;\n  say(now%d == %s ? %q : %q);\n}", i, i, i, i, i, level(x.closed), x.words+": closed", x.words+": open")
		}
		for i, x := range o.knobs {
			t.say("static int near%d = -1000;\nint at%d = analogRead(%s);", i, i, n.knobs[i])
			print := "(void)at%d;"
			if o.talks {
				print = "Serial.print(" + fmt.Sprintf("%q", x.words+": ") + ");\n  Serial.println(at%d);"
			}
			t.say("if (abs(at%d - near%d) > %d) {\n  near%d = at%d;\n  "+print+"\n}", i, i, o.full()/64, i, i, i)
		}
		for i := range o.pads {
			o.cppPad(t, i, "")
		}
		o.cppDialLoop(t)
		if o.talks {
			t.say("if (Serial.available()) {\n  while (Serial.available()) Serial.read();\n  held = !held;\n  say(held ? \"held\" : \"going on\");\n}")
		}
		t.say("delay(25);  // longer than a contact bounces")
	})
	held := ""
	if o.talks {
		held = "held || "
	}
	t.say("}\n\nvoid wait(unsigned long ms) {\n  for (unsigned long since = millis(); %smillis() - since < ms;) look();\n}\n\nvoid loop() {", held)
	t.in(func() {
		for i, x := range o.outs {
			t.say("say(%q);", x.words)
			on, off := o.cppSet(n, i, "true"), o.cppSet(n, i, "false")
			t.say("%s\nwait(1000);\n%s", on, off)
		}
		for i, c := range o.chains {
			for k, lamp := range c.lamps {
				if lamp != "" {
					t.say("say(%q);\nshow%d(1UL << %d);\nwait(1000);", lamp, i, k)
				}
			}
			t.say("show%d(0);", i)
		}
		o.cppSonarReport(t)
		t.say("wait(500);")
	})
	t.say("}")
	return t.String()
}
