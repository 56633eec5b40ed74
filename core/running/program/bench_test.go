package program_test

import (
	"math"
	"testing"
	"time"

	"cablaggio/core/document/build"
	"cablaggio/core/running/machine"
	"cablaggio/core/running/program"
)

// A still is a world in which nothing happens.
type still struct{}

func (still) Next() int64                   { return machine.Never }
func (still) Happen(int64) bool             { return true }
func (still) Set(int, machine.Drive, int64) {}
func (still) Level(int, int64) bool         { return true }
func (still) Reading(int, int64) float64    { return 0.5 }

// BenchmarkVirtualTime measures how much longer the board's time is than the processor's, for
// programs that pause and programs that poll; asked are 50,000, and 100 in C++ and 10 in Python.
func BenchmarkVirtualTime(b *testing.B) {
	for _, c := range []struct {
		name, board, text string
		language          build.Language
		lasts             time.Duration
	}{
		{"pauses, C++", "classic-5v", "void setup() { pinMode(4, OUTPUT); }\nvoid loop() { digitalWrite(4, HIGH); delay(500); digitalWrite(4, LOW); delay(500); }", build.CPP, 100 * time.Hour},
		{"pauses, Python", "slim-3v3", "from machine import Pin\nimport time\np = Pin(4, Pin.OUT)\nwhile True:\n    p.on()\n    time.sleep(0.5)\n    p.off()\n    time.sleep(0.5)\n", build.PythonMachine, 10 * time.Hour},
		{"polls, C++, 16 bits", "classic-5v", "void setup() { pinMode(2, INPUT_PULLUP); pinMode(4, OUTPUT); }\nvoid loop() { digitalWrite(4, !digitalRead(2)); }", build.CPP, 10 * time.Second},
		{"polls, C++, 32 bits", "slim-3v3", "void setup() { pinMode(2, INPUT_PULLUP); pinMode(4, OUTPUT); }\nvoid loop() { digitalWrite(4, !digitalRead(2)); }", build.CPP, 10 * time.Second},
		{"polls, Python", "slim-3v3", "from machine import Pin\na = Pin(2, Pin.IN)\np = Pin(4, Pin.OUT)\nwhile True:\n    p.value(not a.value())\n", build.PythonMachine, 10 * time.Second},
	} {
		b.Run(c.name, func(b *testing.B) {
			board, _ := lib.Board(c.board)
			made, err := compiler.Compile(b.Context(), &build.Program{Language: c.language, Text: c.text}, board)
			if err != nil || made.Program == nil {
				b.Fatal(err, made.Messages)
			}
			var virtual int64
			for b.Loop() {
				m := machine.NewBoard(board, still{})
				m.Limit = int64(c.lasts)
				e, err := made.Program.Run(b.Context(), m)
				if err != nil {
					b.Fatal(err)
				}
				virtual += e.At
			}
			b.ReportMetric(math.Round(float64(virtual)/float64(b.Elapsed())), "times-real")
		})
	}
}

// BenchmarkFirstAnswer measures a program of 60 lines from its text to the end of its first
// millisecond, and to the whole check.
func BenchmarkFirstAnswer(b *testing.B) {
	doc := aBuild(b, "demo/tram-stop.json")
	board, _ := lib.Board(doc.Board)
	b.Run("compiled and begun", func(b *testing.B) {
		for b.Loop() {
			made, err := compiler.Compile(b.Context(), doc.Program, board)
			if err != nil {
				b.Fatal(err)
			}
			m := machine.NewBoard(board, still{})
			m.Limit = int64(time.Millisecond)
			if _, err := made.Program.Run(b.Context(), m); err != nil {
				b.Fatal(err)
			}
		}
	})
	b.Run("checked", func(b *testing.B) {
		for b.Loop() {
			if _, err := program.Check(b.Context(), compiler, lib, doc, known); err != nil {
				b.Fatal(err)
			}
		}
	})
}
