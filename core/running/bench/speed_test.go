package bench_test

import (
	"math"
	"testing"
	"time"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/bench"
	"cablaggio/core/testkit/ready"
)

// BenchmarkRun measures how much longer a run on the bench is than the processor's time for it,
// with all that is recorded; asked are 100 for a full board that blinks and dims with pauses, 20
// for a keypad scan and for sixteen lamps on registers, and 10,000 for a build that idles.
func BenchmarkRun(b *testing.B) {
	var full []plan.Edit
	text := "const byte dimmed[] = {3, 5, 6, 9, 10, 11}, lamps[] = {2, 4, 7, 8, 12};\nvoid setup() {"
	for _, pin := range []string{"D2", "D4", "D7", "D8", "D12"} {
		full = append(full, plan.Add{Kind: "led", Type: "red", Pin: pin})
		text += " pinMode(" + pin[1:] + ", OUTPUT);"
	}
	for _, pin := range []string{"D3", "D5", "D6", "D9", "D10", "D11"} {
		full = append(full, plan.Add{Kind: "led", Type: "green", Hookup: "dimmed", Pin: pin})
	}
	for _, pin := range []string{"A0", "A1", "A2", "A3"} {
		full = append(full, plan.Add{Kind: "potentiometer", Pin: pin})
	}
	text += " }\nvoid loop() {\n  for (byte p : dimmed) analogWrite(p, analogRead(A0) / 4);\n  for (byte p : lamps) { digitalWrite(p, !digitalRead(p)); delay(20); }\n}"
	board, _, err := plan.Apply(lib, build.New("full", "classic-5v"), full)
	if err != nil {
		b.Fatal(err)
	}
	for _, c := range []struct {
		name  string
		doc   *build.Document
		text  string
		lasts time.Duration
	}{
		{"full board", board, text, 10 * time.Second},
		{"keypad", ready.Build(b, lib, "keypad"), "", 10 * time.Second},
		{"sixteen lamps on registers", ready.Build(b, lib, "register"), "", 10 * time.Second},
		{"idle", ready.Build(b, lib, "button"), "void setup() {}\nvoid loop() { delay(1000); }", time.Hour},
	} {
		b.Run(c.name, func(b *testing.B) {
			x := compiled(b, c.doc, c.text)
			known := wiring.NewCache()
			var virtual time.Duration
			for b.Loop() {
				r, err := bench.Run(b.Context(), known.Build(lib, x.net.Doc), x.made, bench.Options{Lasts: c.lasts, Seed: 1})
				if err != nil {
					b.Fatal(err)
				}
				virtual += time.Duration(r.Ended * 1e9)
			}
			b.ReportMetric(math.Round(float64(virtual)/float64(b.Elapsed())), "times-real")
		})
	}
}
