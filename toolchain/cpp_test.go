package toolchain_test

import (
	"context"
	"fmt"
	"math/rand/v2"
	"runtime"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/running/machine"
	"cablaggio/core/running/program"
	"cablaggio/core/testkit"
	"cablaggio/toolchain"
)

var tools = toolchain.New()

func aBoard(t *testing.T, id string) *board.Profile {
	t.Helper()
	b, ok := build.Shipped().Board(id)
	require.True(t, ok)
	return b
}

// A desk is a world of levels that a test sets: at a time, a pin goes to a level.
type desk struct {
	levels [machine.Pins]bool
	part   [machine.Pins]float64
	moves  []moved
	drives [machine.Pins]machine.Drive
}

type moved struct {
	at    int64
	pin   int
	level bool
}

func (d *desk) Next() int64 {
	if len(d.moves) == 0 {
		return machine.Never
	}
	return d.moves[0].at
}

func (d *desk) Happen(at int64) bool {
	for len(d.moves) > 0 && d.moves[0].at <= at {
		d.levels[d.moves[0].pin] = d.moves[0].level
		d.moves = d.moves[1:]
	}
	return true
}

func (d *desk) Set(pin int, drive machine.Drive, _ int64) { d.drives[pin] = drive }

func (d *desk) Level(pin int, _ int64) bool {
	switch w := d.drives[pin]; w.Mode {
	case machine.Driven:
		return w.Level
	case machine.PulledUp:
		return true
	}
	return d.levels[pin]
}

func (d *desk) Reading(pin int, _ int64) float64 { return d.part[pin] }

// An outcome is what a run showed.
type outcome struct {
	printed string
	events  []machine.Event
	ending  machine.Ending
	desk    *desk
}

func compile(t *testing.T, language build.Language, boardID, text string) *program.Compiled {
	t.Helper()
	c, err := tools.Compile(t.Context(), &build.Program{Language: language, Text: text}, aBoard(t, boardID))
	require.NoError(t, err)
	return c
}

// run runs a program for some time on a desk.
func run(t *testing.T, language build.Language, boardID, text string, lasts time.Duration, prepare func(*machine.Board, *desk)) outcome {
	t.Helper()
	c := compile(t, language, boardID, text)
	require.NotNil(t, c.Program, "%+v", c.Messages)
	d := &desk{}
	b := machine.NewBoard(aBoard(t, boardID), d)
	var o outcome
	b.Limit, b.Most = int64(lasts), 2_000_000
	b.Seen = func(e machine.Event) {
		if e.Kind == machine.Printed {
			o.printed += strings.ReplaceAll(e.Text, "\r\n", "\n")
		}
		if len(o.events) < 10000 {
			o.events = append(o.events, e)
		}
	}
	if prepare != nil {
		prepare(b, d)
	}
	var err error
	o.ending, err = c.Program.Run(t.Context(), b)
	require.NoError(t, err)
	o.desk = d
	return o
}

// prints runs statements once, and returns the lines that they print.
func prints(t *testing.T, boardID, before string, statements []string) []string {
	t.Helper()
	text := before + "\nvoid setup() {\n  Serial.begin(115200);\n"
	for _, s := range statements {
		text += "  " + s + "\n"
	}
	o := run(t, build.CPP, boardID, text+"}\nvoid loop() { delay(1000); }\n", time.Minute, nil)
	require.Equal(t, machine.Over, o.ending.How, "%+v", o.ending)
	return strings.Split(strings.TrimSuffix(o.printed, "\n"), "\n")
}

// What is kept without power is there again: as it was written, of any type, and 255 where nothing was.
func TestStore(t *testing.T) {
	got := prints(t, "classic-5v", "#include <EEPROM.h>\nstruct Marks { int best; char name[4]; } m = {1234, \"abc\"}, n;", []string{
		"Serial.println(EEPROM.read(7));", "EEPROM.write(7, 42); Serial.println(EEPROM.read(7));", "EEPROM[8] = 300; Serial.println(EEPROM[8]);",
		"EEPROM.put(100, m); EEPROM.get(100, n); Serial.println(n.best); Serial.println(n.name);", "EEPROM.update(7, 42); Serial.println(EEPROM.length());",
	})
	assert.Equal(t, []string{"255", "42", "44", "1234", "abc", "1024"}, got)
}

// The calls as their public description has them: each case is a statement and what it prints.
func TestCalls(t *testing.T) {
	cases := []struct{ does, prints string }{
		{"Serial.println(map(512, 0, 1023, 0, 255));", "127"},
		{"Serial.println(map(0, 0, 1023, 255, 0));", "255"},
		{"Serial.println(map(-5, 0, 10, 0, 100));", "-50"}, // it does not keep within the range
		{"Serial.println(map(15, 0, 10, 0, 100));", "150"},
		{"Serial.println(constrain(300, 0, 255));", "255"},
		{"Serial.println(constrain(-3, 0, 255));", "0"},
		{"Serial.println(constrain(7, 0, 255));", "7"},
		{"Serial.println(min(3, 7));", "3"},
		{"Serial.println(max(3, 7));", "7"},
		{"Serial.println(abs(-12));", "12"},
		{"Serial.println(sq(9));", "81"},
		{"Serial.println(bitRead(6, 1));", "1"},
		{"{ int x = 0; bitSet(x, 3); Serial.println(x); }", "8"},
		{"{ int x = 15; bitClear(x, 0); Serial.println(x); }", "14"},
		{"{ int x = 0; bitWrite(x, 2, 1); Serial.println(x); }", "4"},
		{"Serial.println(lowByte(0x1234));", "52"},
		{"Serial.println(highByte(0x1234));", "18"},
		{"Serial.println(bit(10));", "1024"},
		{"Serial.println(B101 + B00010000);", "21"},
		{"Serial.println(word(0x12, 0x34));", "4660"},
		{"{ float x = NAN; Serial.println(isnan(x)); }", "1"},
		{"{ int n = 0; for (char c : String(\"abc\")) n += c; Serial.println(n); }", "294"},
		{"Serial.println(random(5, 5));", "5"},
		{"{ bool ok = true; for (int i = 0; i < 500; i++) { long r = random(3, 9); ok &= r >= 3 && r < 9; } Serial.println(ok); }", "1"},
		{"{ randomSeed(7); long a = random(1000); randomSeed(7); Serial.println(a == random(1000)); }", "1"},
		{"{ char s[12]; Serial.println(dtostrf(3.14159, 6, 2, s)); }", "  3.14"},
		{"{ char s[12]; Serial.println(itoa(-254, s, 10)); }", "-254"},
		{"{ char s[12]; Serial.println(itoa(254, s, 16)); }", "fe"},
		{"{ char s[12]; Serial.println(utoa(5, s, 2)); }", "101"},
		{`{ char s[8]; strcpy_P(s, PSTR("abc")); Serial.println(s); }`, "abc"},
		{`{ const __FlashStringHelper *f = F("flash"); Serial.println(f); }`, "flash"},
		{"{ int x = 3; int *p = &x; *p += 4; Serial.println(x); }", "7"},
		{"{ struct P { int a; P *next; }; P q = {2, nullptr}, r = {1, &q}; P *p = &r; Serial.println(p->next->a); }", "2"},
		{"{ int *p = new int[3]; p[2] = 9; Serial.println(p[2]); delete[] p; }", "9"},
		// Printing: two digits behind the point unless told otherwise, rounded.
		{"Serial.println(1.23456);", "1.23"},
		{"Serial.println(1.23456, 0);", "1"},
		{"Serial.println(1.23456, 4);", "1.2346"},
		{"Serial.println(-0.005, 1);", "-0.0"},
		{"Serial.println(2.675f, 1);", "2.7"},
		{"Serial.println(78, BIN);", "1001110"},
		{"Serial.println(78, OCT);", "116"},
		{"Serial.println(78, DEC);", "78"},
		{"Serial.println(78, HEX);", "4E"},
		{"Serial.println('N');", "N"},
		{"{ byte b = 65; Serial.println(b); }", "65"},
		{"{ char c = 66; Serial.println(c); }", "B"},
		{"Serial.println(true);", "1"},
		{"Serial.println(4294967295UL);", "4294967295"},
		{"Serial.println(-2147483647L - 1);", "-2147483648"},
		{`Serial.println("text");`, "text"},
		{`Serial.println(F("text"));`, "text"},
		{"Serial.println(5e9);", "ovf"},
		{"Serial.println(0.0 / 0.0);", "nan"},
		{`Serial.println(String("a") + 5 + 'c' + 1.5);`, "a5c1.50"},
		{`Serial.println(String(255, HEX));`, "ff"}, // as itoa; print writes capitals (from memory)
		{`Serial.println(String("hello").substring(1, 3));`, "el"},
		{`Serial.println(String("hello").indexOf("lo"));`, "3"},
		{`Serial.println(String("hello").indexOf("x"));`, "-1"},
		{`{ String s = " a "; s.trim(); Serial.println(s.length()); }`, "1"},
		{`{ String s = "aXbX"; s.replace("X", "--"); Serial.println(s); }`, "a--b--"},
		{`{ String s = "abc"; s.toUpperCase(); Serial.println(s); }`, "ABC"},
		{`Serial.println(String("42 lamps").toInt());`, "42"},
		{`Serial.println(String("abc") == "abc");`, "1"},
		{`{ char s[20]; snprintf(s, sizeof s, "%d-%s", 7, "x"); Serial.println(s); }`, "7-x"},
		// The old numbering of interrupts, and the new.
		{"Serial.println(digitalPinToInterrupt(3));", "1"},
		{"Serial.println(LED_BUILTIN);", "13"},
		{"Serial.println(A0);", "14"},
		// A pin that was never set up reads what is there; an output reads itself.
		{"pinMode(8, OUTPUT); digitalWrite(8, HIGH); Serial.println(digitalRead(8));", "1"},
		{"pinMode(8, INPUT_PULLUP); Serial.println(digitalRead(8));", "1"},
		{"pinMode(8, INPUT); Serial.println(digitalRead(8));", "0"},
		{"{ unsigned long t = micros(); delay(3); Serial.println((micros() - t) / 1000); }", "3"},
		{"{ unsigned long t = micros(); delayMicroseconds(500); Serial.println((micros() - t) / 100); }", "5"},
		{"Serial.println(helper(20));", "41"}, // which is defined behind
		{"Serial.println(sizeof(int));", "2"},
		{"Serial.println(Serial.available());", "0"},
		{"Serial.println(Serial.read());", "-1"},
	}
	var statements []string
	for _, c := range cases {
		statements = append(statements, c.does)
	}
	// helper is defined after it is used, as programs of this sort may.
	text := "void setup() {\n  Serial.begin(115200);\n  " + strings.Join(statements, "\n  ") + "\n}\nvoid loop() { delay(1000); }\nint helper(int x) { return 2 * x + 1; }\n"
	o := run(t, build.CPP, "classic-5v", text, time.Minute, nil)
	got := strings.Split(o.printed, "\n")
	require.Len(t, got, len(cases)+1, "%+v", o.ending)
	for i, c := range cases {
		assert.Equal(t, c.prints, got[i], c.does)
	}
}

// What goes out bit by bit goes in either order, data before the clock's edge.
func TestShiftOut(t *testing.T) {
	for order, want := range map[string]string{"MSBFIRST": "10110001", "LSBFIRST": "10001101"} {
		o := run(t, build.CPP, "classic-5v", "void setup() { pinMode(8, OUTPUT); pinMode(9, OUTPUT); shiftOut(8, 9, "+order+", 0xB1); }\nvoid loop() { delay(1000); }", time.Second, nil)
		data, got := byte('0'), ""
		for _, e := range o.events {
			switch {
			case e.Kind == machine.Wrote && e.Pin == 8:
				data = '0' + byte(e.Value)
			case e.Kind == machine.Wrote && e.Pin == 9 && e.Value == 1:
				got += string(data)
			}
		}
		assert.Equal(t, want, got, order)
	}
}

// The registers of ports do what the calls do, at the pins that the board's chip has there, and
// tell of those pins alone whose bit becomes another (common practice for chips of this class).
func TestPorts(t *testing.T) {
	events := func(text string) (out []string) {
		o := run(t, build.CPP, "classic-5v", "void setup() { "+text+" }\nvoid loop() { delay(1000); }", time.Second, nil)
		for _, e := range o.events {
			switch e.Kind {
			case machine.Wrote:
				out = append(out, fmt.Sprintf("write %d %g", e.Pin, e.Value))
			case machine.Moded:
				out = append(out, fmt.Sprintf("mode %d %g", e.Pin, e.Value))
			case machine.Read:
				out = append(out, fmt.Sprintf("read %d", e.Pin))
			}
		}
		return out
	}
	for ports, calls := range map[string]string{
		"DDRD |= (1 << 7); PORTD |= (1 << 7); PORTD &= ~(1 << 7);": "digitalWrite(7, LOW); pinMode(7, OUTPUT); digitalWrite(7, HIGH); digitalWrite(7, LOW);",
		"PORTB |= _BV(PB2);":                           "pinMode(10, INPUT_PULLUP);",
		"bitSet(DDRB, 5); PORTB ^= 0x20; PINB = 0x20;": "digitalWrite(13, LOW); pinMode(13, OUTPUT); digitalWrite(13, HIGH); digitalWrite(13, LOW);",
		"DDRC = B011; PORTC = 2; PORTC = 3;":           "digitalWrite(A0, LOW); pinMode(A0, OUTPUT); digitalWrite(A1, LOW); pinMode(A1, OUTPUT); digitalWrite(A1, HIGH); digitalWrite(A0, HIGH);",
		"volatile int x = PIND & (1 << PD4);":          "volatile int x = digitalRead(4);",
		"volatile int x = bitRead(PIND, 4);":           "volatile int x = digitalRead(4);",
		"volatile bool x = bit_is_clear(PINB, PB0);":   "volatile bool x = digitalRead(8);",
		"volatile int x = PIND >> 3 & 1;":              "volatile int x = digitalRead(3);",
	} {
		assert.Equal(t, events(calls), events(ports), ports)
	}
}

func TestPulseInAndTone(t *testing.T) {
	text := `void setup() {
  Serial.begin(9600);
  pinMode(7, INPUT);
  Serial.println(pulseIn(7, HIGH));
  Serial.println(pulseIn(7, HIGH, 20000));
  tone(8, 440, 50);
  delay(100);
}
void loop() { delay(1000); }`
	o := run(t, build.CPP, "classic-5v", text, time.Second, func(_ *machine.Board, d *desk) {
		d.moves = []moved{{20e6, 7, true}, {21.5e6, 7, false}}
	})
	assert.Equal(t, "1500\n0\n", o.printed)
	var tones []machine.Event
	for _, e := range o.events {
		if e.Kind == machine.Toned {
			tones = append(tones, e)
		}
	}
	require.Len(t, tones, 2)
	assert.Equal(t, 440.0, tones[0].Value)
	assert.Zero(t, tones[1].Value)
	assert.InDelta(t, 50e6, tones[1].At-tones[0].At, 1e5)
}

// The milliseconds run over after 49.7 days, and differences are right all the same.
func TestMillisRunsOver(t *testing.T) {
	text := `unsigned long since = 0;
void setup() { Serial.begin(115200); pinMode(8, OUTPUT); since = millis(); }
void loop() { if (millis() - since >= 500) { since += 500; digitalWrite(8, !digitalRead(8)); Serial.println(millis()); } }`
	o := run(t, build.CPP, "classic-5v", text, 2100*time.Millisecond, func(b *machine.Board, _ *desk) { b.Start = 4294967295*1e6 - 1e9 })
	assert.Equal(t, "4294966795\n4294967295\n499\n999\n", o.printed)
}

func TestInterrupts(t *testing.T) {
	text := `volatile int n = 0;
void hit() { n++; }
void setup() { Serial.begin(115200); pinMode(2, INPUT); attachInterrupt(digitalPinToInterrupt(2), hit, MODE); }
void loop() { delay(1000); Serial.println(n); }`
	for mode, want := range map[string]string{"RISING": "2\n", "FALLING": "1\n", "CHANGE": "3\n"} {
		o := run(t, build.CPP, "classic-5v", strings.Replace(text, "MODE", mode, 1), 1100*time.Millisecond, func(_ *machine.Board, d *desk) {
			d.moves = []moved{{100e6, 2, true}, {200e6, 2, false}, {300e6, 2, true}}
		})
		assert.Equal(t, want, o.printed, mode)
	}
}

func TestSerialIn(t *testing.T) {
	text := `void setup() { Serial.begin(9600); }
void loop() {
  if (Serial.available()) {
    int n = Serial.parseInt();
    String rest = Serial.readStringUntil('\n');
    Serial.println(n * 2);
    Serial.println(rest);
  }
}`
	o := run(t, build.CPP, "classic-5v", text, 3*time.Second, func(b *machine.Board, _ *desk) {
		for i, c := range []byte("21 lamps\n") {
			b.Receive = append(b.Receive, machine.Received{At: int64(100e6 + i*1e6), C: c})
		}
	})
	assert.Equal(t, "42\n lamps\n", o.printed)
}

// A knob's reading is that of the converter's bits, and as many as the program asks for.
func TestReadings(t *testing.T) {
	for _, c := range []struct {
		board, ask string
		part       float64
		want       string
	}{
		{"classic-5v", "", 0, "0"}, {"classic-5v", "", 1, "1023"}, {"classic-5v", "", 0.5, "512"},
		{"slim-3v3", "", 1, "1023"}, {"slim-3v3", "analogReadResolution(12);", 1, "4095"}, {"slim-3v3", "analogReadResolution(12);", 0.25, "1024"},
	} {
		pin := map[string]string{"classic-5v": "A0", "slim-3v3": "26"}[c.board]
		o := run(t, build.CPP, c.board, "void setup() { Serial.begin(9600); "+c.ask+" Serial.println(analogRead("+pin+")); }\nvoid loop() { delay(1000); }", time.Second,
			func(_ *machine.Board, d *desk) { d.part[14], d.part[26] = c.part, c.part })
		assert.Equal(t, c.want+"\n", o.printed, "%+v", c)
	}
}

// An expression of the 16-bit board, and its value by a reference that counts in 64 bits and
// cuts by the rules of the language (C++17, 7.4 [expr.arith.conv], with an int of 16 bits).
type expression struct {
	text  string
	value int64
	bits  int // 16 or 32
	sign  bool
}

func (e expression) cut() expression {
	switch {
	case e.bits == 16 && e.sign:
		e.value = int64(int16(e.value))
	case e.bits == 16:
		e.value = int64(uint16(e.value))
	case e.sign:
		e.value = int64(int32(e.value))
	default:
		e.value = int64(uint32(e.value))
	}
	return e
}

// as converts to another type.
func (e expression) as(bits int, sign bool) expression {
	return expression{e.text, e.value, bits, sign}.cut()
}

// usual brings two to their common type: the wider one; of the same width the unsigned one.
func usual(a, b expression) (expression, expression) {
	bits := max(a.bits, b.bits)
	sign := (a.sign || a.bits < bits) && (b.sign || b.bits < bits)
	return a.as(bits, sign), b.as(bits, sign)
}

func draw(r *rand.Rand, depth int) expression {
	if depth == 0 || r.IntN(6) == 0 {
		return leaf(r)
	}
	a := draw(r, depth-1)
	switch r.IntN(9) {
	case 0:
		return expression{"(-" + a.text + ")", -a.value, a.bits, a.sign}.cut()
	case 1:
		return expression{"(~" + a.text + ")", ^a.value, a.bits, a.sign}.cut()
	case 2:
		n := r.IntN(5)
		return expression{fmt.Sprintf("(%s << %d)", a.text, n), a.value << n, a.bits, a.sign}.cut()
	case 3:
		n := r.IntN(5)
		return expression{fmt.Sprintf("(%s >> %d)", a.text, n), a.value >> n, a.bits, a.sign}.cut()
	}
	b := draw(r, depth-1)
	op := []string{"+", "-", "*", "/", "%", "&", "|", "^"}[r.IntN(8)]
	x, y := usual(a, b)
	if (op == "/" || op == "%") && (y.value == 0 || y.value == -1) {
		op = "+"
	}
	var v int64
	switch op {
	case "+":
		v = x.value + y.value
	case "-":
		v = x.value - y.value
	case "*":
		v = x.value * y.value
	case "/":
		v = x.value / y.value
	case "%":
		v = x.value % y.value
	case "&":
		v = x.value & y.value
	case "|":
		v = x.value | y.value
	default:
		v = x.value ^ y.value
	}
	return expression{"(" + a.text + " " + op + " " + b.text + ")", v, x.bits, x.sign}.cut()
}

func leaf(r *rand.Rand) expression {
	switch r.IntN(5) {
	case 0:
		n := int64(r.IntN(32768))
		return expression{strconv.FormatInt(n, 10), n, 16, true}
	case 1:
		return expression{"i", 1234, 16, true}
	case 2:
		return expression{"u", 60000, 16, false}
	case 3:
		return expression{"l", -70000, 32, true}
	}
	return expression{"b", 200, 16, true} // a byte, which becomes an int
}

func TestArithmeticOf16Bits(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	var statements, want []string
	for range 200 {
		e := draw(r, 4)
		statements = append(statements, "Serial.println("+e.text+");")
		want = append(want, strconv.FormatInt(e.value, 10))
	}
	got := prints(t, "classic-5v", "volatile int i = 1234;\nvolatile unsigned int u = 60000;\nvolatile long l = -70000;\nvolatile byte b = 200;", statements)
	require.Len(t, got, len(want))
	for i := range want {
		assert.Equal(t, want[i], got[i], statements[i])
	}
}

// Macros hide arithmetic too, and what a board of 32 bits does is 32 bits wide.
func TestWhereNumbersWrap(t *testing.T) {
	before := "#define MINUTE 60 * 1000\nint n = 300;\nunsigned int u = 65535;"
	statements := []string{"Serial.println(MINUTE);", "Serial.println(n * 200);", "u++; Serial.println(u);", "Serial.println(n * 200L);", "{ byte b = n; Serial.println(b); }"}
	assert.Equal(t, []string{"-5536", "-5536", "0", "60000", "44"}, prints(t, "classic-5v", before, statements))
	assert.Equal(t, []string{"60000", "60000", "65536", "60000", "44"}, prints(t, "slim-3v3", before, statements))
}

// What is hostile, or nonsense, ends with words.
func TestBadPrograms(t *testing.T) {
	long := "int x = " + strings.Repeat("1+", testkit.Few(4000, 30000)) + "1;"
	for name, text := range map[string]string{
		"one long line":          long,
		"nested templates":       "template <int N> struct A { A<N - 1> a; A<N - 2> b; };\ntemplate <> struct A<0> {};\nA<9999> a;\nvoid setup() {}\nvoid loop() {}",
		"a file of the machine":  "#include \"/etc/passwd\"\nvoid setup() {}\nvoid loop() {}",
		"a program in Python":    "import time\nwhile True:\n    time.sleep(1)\n",
		"nothing":                "",
		"no loop":                "void setup() {}\n",
		"brackets":               strings.Repeat("(", 20000),
		"itself":                 "#include \"program.cpp\"\nvoid setup() {}\nvoid loop() {}",
		"a call of no board":     "extern \"C\" __attribute__((import_module(\"board\"), import_name(\"ring\"))) void ring(int);\nvoid setup() { ring(1); }\nvoid loop() {}",
		"a call taken otherwise": "extern \"C\" __attribute__((import_module(\"board\"), import_name(\"sync\"))) int sync2(double);\nvoid setup() { sync2(1); }\nvoid loop() {}",
		"an include of a device": "#include \"/dev/zero\"\nvoid setup() {}\nvoid loop() {}",
	} {
		t.Run(name, func(t *testing.T) {
			c := compile(t, build.CPP, "classic-5v", text)
			assert.Nil(t, c.Program)
			require.NotEmpty(t, c.Messages)
			assert.LessOrEqual(t, len(c.Messages), 5)
			for _, m := range c.Messages {
				assert.NotContains(t, m.Said+m.Text, "root:")
				assert.NotEmpty(t, m.Text)
			}
		})
	}
}

// A program that does not end, or takes what there is, is ended; how says what it was.
func TestProgramsEnd(t *testing.T) {
	for name, c := range map[string]struct {
		text string
		how  machine.How
		what string
	}{
		"an empty loop":     {"void setup() { for (;;) {} }\nvoid loop() {}", machine.Over, ""},
		"recursion":         {"volatile int d = 0;\nint down(int n) { d = n; return down(n + 1) + d; }\nvoid setup() { down(0); }\nvoid loop() {}", machine.Crashed, "recursion"},
		"memory":            {"String s;\nvoid setup() { for (;;) s += \"0123456789012345678901234567890123456789\"; }\nvoid loop() {}", machine.Crashed, "memory"},
		"a null pointer":    {"void setup() { volatile int *p = (int *)0xFFFFFF0; *p = 1; }\nvoid loop() {}", machine.Crashed, "bounds"},
		"division by zero":  {"volatile int z = 0;\nvoid setup() { Serial.println(1 / z); }\nvoid loop() {}", machine.Over, ""}, // a board goes on, too
		"a thousand prints": {"void setup() { Serial.begin(9600); }\nvoid loop() { Serial.println(\"again\"); }", machine.Over, ""},
	} {
		t.Run(name, func(t *testing.T) {
			o := run(t, build.CPP, "classic-5v", c.text, time.Second, nil)
			assert.Equal(t, c.how, o.ending.How, "%+v", o.ending)
			assert.Equal(t, c.what, o.ending.What)
		})
	}
}

// A program that writes over what counts its time, or loops where nobody counts, is ended from
// outside: it holds up nobody else.
func TestProgramsThatNobodyCounts(t *testing.T) {
	for name, text := range map[string]string{
		"its own page":           "void setup() { page_.next = ~0ULL; for (;;); }\nvoid loop() {}",
		"a loop without a count": "__attribute__((no_sanitize(\"coverage\"))) void spin() { for (volatile int i = 0;; i = i + 1); }\nvoid setup() { spin(); }\nvoid loop() {}",
		"the C library":          "char text[8];\nvoid setup() { for (;;) snprintf(text, 8, \"%*d\", 2147483647, 1); }\nvoid loop() {}",
	} {
		t.Run(name, func(t *testing.T) {
			c := compile(t, build.CPP, "classic-5v", text)
			require.NotNil(t, c.Program, "%+v", c.Messages)
			ctx, cancel := context.WithTimeout(t.Context(), 200*time.Millisecond)
			defer cancel()
			b := machine.NewBoard(aBoard(t, "classic-5v"), &desk{})
			b.Limit, b.Most = int64(time.Hour), 1<<40
			_, err := c.Program.Run(ctx, b)
			require.ErrorIs(t, err, context.DeadlineExceeded)
			runtime.GC() // which waits for all that runs
		})
	}
}

// What a compiler says is put so that a builder knows what to do, with a change where there is one.
func TestHints(t *testing.T) {
	for _, c := range []struct {
		text, says string
		line       int
		becomes    string
	}{
		{"int led = 13\nvoid setup() {}\nvoid loop() {}", "semicolon", 1, ";"},
		{"void setup() { pinmode(3, OUTPUT); }\nvoid loop() {}", `Is "pinMode" meant?`, 1, "pinMode"},
		{"void setup() { digitalWrite(3, high); }\nvoid loop() {}", "capitals", 1, ""},
		{"void setup() {\n  if (true) {\n}\nvoid loop() {}\n", "brace", 4, ""},
		{"void setup() { serial.begin(9600); }\nvoid loop() {}", `Is "Serial" meant?`, 1, "Serial"},
		{"#include <Wire.h>\nvoid setup() {}\nvoid loop() {}", `The library "Wire.h" is not there`, 1, ""},
		{"#include <vector>\nvoid setup() {}\nvoid loop() {}", "standard library", 1, ""},
		{"void setup { pinMode(7, OUTPUT); }\nvoid loop() {}", "parentheses", 1, ""},
		{"void setup() { Serial.printf(\"%d\", 3); }\nvoid loop() {}", `"printf" is not known there`, 1, ""}, // the small boards have none
		{"void setup() { digitalWrite(3); }\nvoid loop() {}", "too few", 1, ""},
		{"int on;\nvoid Setup() { on = 1; }\nvoid loop() {}", "capitals count", 2, "setup"},
		{"void setup() {}\nvoid LOOP() {}", "capitals count", 2, "loop"},
		{"int on;\nvoid setup() {}\nvoid loop() { if (digitalRead(3)) { on == 1; } digitalWrite(4, on); }", "write one =", 3, ""},
		{"bool ready;\nvoid setup() {}\nvoid loop() {\n  if (digitalRead(3)) ready;\n  digitalWrite(4, ready); }", "Nothing comes of this line", 4, ""},
		{"void setup() {}\nvoid loop() { int a = digitalRead(3); if (a == 1 || 2) digitalWrite(4, HIGH); }", "each comparison whole", 2, ""},
		{"void setup() {}\nvoid loop() {\n  int count = 0;\n  if (digitalRead(3)) { count++; delay(200); }\n  if (count >= 3) digitalWrite(4, HIGH);\n}", "begins anew", 3, ""},
		{"void setup() {}\nvoid loop() {\n  int lamp = LOW;\n  if (digitalRead(3)) {\n    lamp = !lamp;\n    digitalWrite(4, lamp);\n  }\n}", "begins anew", 3, ""},
		{"void setup() {}\nvoid loop() {\n  int value = analogRead(A0) / 4;\n  digitalWrite(5, value);\n}", "low and high only", 4, ""},
		{"void setup() {}\nvoid loop() {\n  if (analogRead(A0) > 2.5) digitalWrite(5, HIGH);\n}", "no volts", 3, ""},
		{"const int limit = 2000;\nint v = 0;\nvoid setup() {}\nvoid loop() {\n  v = analogRead(A0);\n  if (v > limit) digitalWrite(5, HIGH);\n}", "never comes to 2000", 6, ""},
		{"void setup() { digitalWrite(5, 255); }\nvoid loop() {}", "low and high only", 1, ""},
		{"float x;\nvoid setup() {}\nvoid loop() { x = analogRead(A0) * (5 / 1023); Serial.print(x); }", "Write 5.0", 3, ""},
	} {
		got := compile(t, build.CPP, "classic-5v", c.text)
		require.NotEmpty(t, got.Messages, c.text)
		m := got.Messages[0]
		assert.Contains(t, m.Text, c.says, c.text)
		assert.Equal(t, c.line, m.Line, c.text)
		if c.becomes != "" {
			require.NotNil(t, m.Replace, c.text)
			assert.Equal(t, c.becomes, m.Replace.With)
		}
	}
	// What looks like them, and is meant so.
	for _, fine := range []string{
		"void setup() {}\nvoid loop() {\n  int count = 0;\n  if (digitalRead(2)) count++;\n  if (digitalRead(3)) count++;\n  if (count >= 2) digitalWrite(4, HIGH);\n}",
		"void setup() {}\nvoid loop() {\n  int count = 0;\n  for (int i = 0; i < 9; i++) if (digitalRead(3)) count++;\n  if (count >= 5) digitalWrite(4, HIGH);\n}",
		"void setup() {}\nvoid loop() {\n  static int count = 0;\n  if (digitalRead(3)) count++;\n  if (count >= 5) digitalWrite(4, HIGH);\n}",
		"void setup() {}\nvoid loop() {\n  int x = 0;\n  x = analogRead(A0);\n  x++;\n  if (x >= 500) digitalWrite(4, HIGH);\n}",
		"void add(int &x) { x += 5; }\nvoid setup() {}\nvoid loop() {\n  int x = 0;\n  add(x);\n  x++;\n  if (x > 3) digitalWrite(4, HIGH);\n}",
		"void setup() {}\nvoid loop() { int x = analogRead(A0); digitalWrite(5, x > 500); digitalWrite(6, x & 4); bool dark = x < 99; digitalWrite(7, dark); digitalWrite(8, x > 9 ? HIGH : LOW); }",
		"void setup() {}\nvoid loop() {\n  static bool on = false;\n  bool was = HIGH;\n  was = digitalRead(3);\n  if (was) on = !on;\n  digitalWrite(4, on);\n}",
		"void setup() {}\nvoid loop() {\n  bool on = LOW;\n  for (int i = 0; i < 8; i++) { on = !on; digitalWrite(4, on); delay(100); }\n}",
		"void setup() {}\nvoid loop() { float volts = analogRead(A0) * 5.0 / 1023; if (volts > 2.5) digitalWrite(5, HIGH); int v = analogRead(A1); v = v * 2; if (v > 2000) digitalWrite(6, HIGH); if (analogRead(A2) >= 1023) digitalWrite(7, HIGH); }",
		"bool a, b;\nvoid setup() {}\nvoid loop() { if (a || b) digitalWrite(4, HIGH); (void)a; }",
	} {
		assert.Empty(t, compile(t, build.CPP, "classic-5v", fine).Messages, fine)
	}
	require.NotNil(t, compile(t, build.CPP, "classic-5v", "#include <chip/texts.h>\nconst char s[] PROGMEM = \"a\";\nvoid setup() { Serial.print(s); }\nvoid loop() {}").Program)
	require.NotNil(t, compile(t, build.CPP, "slim-3v3", "void setup() { Serial.printf(\"%d\", 3); }\nvoid loop() {}").Program)
	// A library of which nothing is used is passed over.
	got := compile(t, build.CPP, "classic-5v", "#include <Wire.h>\nvoid setup() {}\nvoid loop() {}")
	require.NotNil(t, got.Program)
	require.Len(t, got.Messages, 1)
	assert.Contains(t, got.Messages[0].Text, "nothing of it is used")
}

// Other files are part of the program, and their lines are told from those of the main one.
func TestSeveralFiles(t *testing.T) {
	p := &build.Program{Language: build.CPP, Text: "#include \"lamps.h\"\nvoid setup() { Serial.begin(9600); Serial.println(twice(21)); }\nvoid loop() { delay(1000); }\n", Files: []build.ProgramFile{
		{Name: "lamps.h", Text: "int twice(int x);\n"}, {Name: "lamps.cpp", Text: "#include \"lamps.h\"\nint twice(int x) { return 2 * x; }\n"},
	}}
	c, err := tools.Compile(t.Context(), p, aBoard(t, "classic-5v"))
	require.NoError(t, err)
	require.NotNil(t, c.Program, "%+v", c.Messages)
	b := machine.NewBoard(aBoard(t, "classic-5v"), &desk{})
	printed := ""
	b.Seen = func(e machine.Event) { printed += e.Text }
	_, err = c.Program.Run(t.Context(), b)
	require.NoError(t, err)
	assert.Equal(t, "42\r\n", printed)
}

// A builder's header may have the name of one of ours: he gets his, and the board's calls
// stay what they are.
func TestHeadersOfOurNames(t *testing.T) {
	p := &build.Program{Language: build.CPP, Text: "#include \"pins.h\"\n#include <own.h>\n#include \"own.h\"\n#include <program.h>\n#include <math.h>\nvoid setup() { Serial.begin(9600); Serial.println(lamp + own + A0 + (int)sqrt(9.0)); }\nvoid loop() { delay(1000); }\n"}
	for _, name := range []string{"pins.h", "program.h", "math.h", "stdint.h"} {
		p.Files = append(p.Files, build.ProgramFile{Name: name, Text: "const int lamp = 4;\n"}) // only the first is asked for as his own
	}
	p.Files = append(p.Files, build.ProgramFile{Name: "own.h", Text: "#pragma once\nconst int own = 1;\n"})
	for _, id := range []string{"classic-5v", "classic-layout-3v3"} {
		c, err := tools.Compile(t.Context(), p, aBoard(t, id))
		require.NoError(t, err)
		require.NotNil(t, c.Program, "%+v", c.Messages)
	}
}

// What is wrong in a file beside the main one is told with that file.
func TestMessagesNameTheirFile(t *testing.T) {
	b, _ := build.Shipped().Board("classic-5v")
	p := &build.Program{Language: build.CPP, Text: "#include \"lamp.h\"\nvoid setup() {}\nvoid loop() { on(); }\n", Files: []build.ProgramFile{{Name: "spare.h", Text: "\n"}, {Name: "lamp.h", Text: "\ninline void on() { digitalwrite(4, HIGH); }\n"}}}
	got, err := toolchain.New().Compile(t.Context(), p, b)
	require.NoError(t, err)
	require.NotEmpty(t, got.Messages)
	assert.Equal(t, `line 2 of lamp.h: "digitalwrite" is not known. Is "digitalWrite" meant? Capitals count.`, got.Messages[0].String())
}
