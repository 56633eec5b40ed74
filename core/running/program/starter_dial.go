package program

import (
	"fmt"

	"cablaggio/core/document/build"
)

// A dial is an encoder: two pins tell its clicks, and which way they go.
type dial struct {
	part  *build.Part
	words string
	a, b  string // pins
	in    [2]in  // as inputs
}

// cppDials writes the pins of the encoders, and the functions that look at them.
func (o *outline) cppDials(t *text) {
	for i, x := range o.dials {
		t.say("\n// %s.\nconst int a%d = %s;\nconst int b%d = %s;\nint position%d = 0;", x.words, i, o.board.InCode(x.a), i, o.board.InCode(x.b), i)
		t.say(`
// A click is where a closes: what b is then says which way it went. Call it often.
void turned%[1]d() {
  static bool was = false;
  bool closed = digitalRead(a%[1]d) == LOW;
  if (closed && !was) position%[1]d += digitalRead(b%[1]d) == HIGH ? 1 : -1;
  was = closed;
}`, i)
	}
}

func (o *outline) cppDialSetup(t *text) {
	for i, x := range o.dials {
		t.say("pinMode(a%d, %s);\npinMode(b%d, %s);", i, mode(x.in[0].pull), i, mode(x.in[1].pull))
	}
}

// cppDialLoop looks at the encoders, and prints where they are when that has changed.
func (o *outline) cppDialLoop(t *text) {
	for i, x := range o.dials {
		t.say("turned%d();", i)
		if o.talks {
			t.say("static int shown%[1]d = 0;\nif (position%[1]d != shown%[1]d) {\n  shown%[1]d = position%[1]d;\n  Serial.print(%[2]q);\n  Serial.println(position%[1]d);\n}", i, x.words+": ")
		}
	}
}

// pyDials writes the same in Python.
func (o *outline) pyDials(t *text, d *dialect) {
	for i, x := range o.dials {
		t.say("\n# %s.", x.words)
		t.say(d.in, fmt.Sprintf("a%d", i), d.pin(o.board, x.a), d.pulls[x.in[0].pull])
		t.say(d.in, fmt.Sprintf("b%d", i), d.pin(o.board, x.b), d.pulls[x.in[1].pull])
		t.say("position%[1]d = 0\nwas_a%[1]d = False\n\n\ndef turned%[1]d():\n    \"\"\"A click is where a closes: what b is then says which way it went.\"\"\"\n    global position%[1]d, was_a%[1]d\n    closed = not %[2]s\n    if closed and not was_a%[1]d:\n        position%[1]d += 1 if %[3]s else -1\n    was_a%[1]d = closed\n",
			i, fmt.Sprintf(d.get, fmt.Sprintf("a%d", i)), fmt.Sprintf(d.get, fmt.Sprintf("b%d", i)))
	}
}

func (o *outline) pyDialLoop(t *text) {
	for i, x := range o.dials {
		t.say("before = position%[1]d\nturned%[1]d()\nif position%[1]d != before:\n    print(%[2]q, position%[1]d)", i, x.words+":")
	}
}
