package check_test

import (
	"fmt"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/spice"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
	"cablaggio/demo"
)

func BenchmarkCheckDemo(b *testing.B) {
	for _, d := range demo.Builds() {
		b.Run(d.Name, func(b *testing.B) {
			doc, err := lib.Parse(d.Data)
			if err != nil {
				b.Fatal(err)
			}
			b.ReportAllocs()
			for b.Loop() {
				if _, err := check.Check(lib, doc); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// full is a build with n parts of all sorts on the large board: lamps with
// resistors, dimmed lamps, buttons, knobs, sensors. The lamps are faint, so that
// a board full of them is within its limits: fixes cost extra.
func full(b *testing.B, board string, n int) *build.Document {
	kinds := []plan.Edit{
		plan.Add{Kind: "led", Type: "red"}, plan.Add{Kind: "button"}, plan.Add{Kind: "led", Type: "green"},
		plan.Add{Kind: "led", Type: "blue", Hookup: "dimmed"}, plan.Add{Kind: "potentiometer"}, plan.Add{Kind: "led", Type: "amber", Hookup: "low-side"},
		plan.Add{Kind: "switch"}, plan.Add{Kind: "digital-sensor"},
	}
	doc := build.New("full", board)
	for i := range n {
		next, _, err := plan.Apply(lib, doc, []plan.Edit{kinds[i%len(kinds)]})
		if err != nil {
			b.Fatal(err)
		}
		doc = next
		if p := doc.Parts[len(doc.Parts)-1]; p.Of != "" && p.Role == "resistor" {
			if doc, _, err = plan.Apply(lib, doc, []plan.Edit{plan.Value{Part: p.Of, Value: "targetCurrent", Text: "1.5 mA"}}); err != nil {
				b.Fatal(err)
			}
		}
	}
	return doc
}

// fullBoard is the classic board with all of its pins in use: 16 parts on 20
// pins.
func fullBoard(b *testing.B) *build.Document {
	doc := build.New("full board", "classic-5v")
	for _, e := range []plan.Edit{
		plan.Add{Kind: "potentiometer"}, plan.Add{Kind: "light-resistor"}, plan.Add{Kind: "thermistor"}, plan.Add{Kind: "temperature-sensor"},
		plan.Add{Kind: "led-rgb-cathode"}, plan.Add{Kind: "shift-register-latched"},
		plan.Add{Kind: "led", Type: "red"}, plan.Add{Kind: "led", Type: "amber"}, plan.Add{Kind: "led", Type: "green"}, plan.Add{Kind: "led", Type: "blue", Hookup: "dimmed"},
		plan.Add{Kind: "button"}, plan.Add{Kind: "button"}, plan.Add{Kind: "button", Hookup: "supply-pull-down"}, plan.Add{Kind: "switch"},
		plan.Add{Kind: "motor"}, plan.Add{Kind: "buzzer"},
	} {
		next, _, err := plan.Apply(lib, doc, []plan.Edit{e})
		if err != nil {
			b.Fatal(err)
		}
		doc = next
	}
	return doc
}

// median runs something until it has taken a while and returns the median time.
func median(do func()) time.Duration {
	var times []time.Duration
	for begun := time.Now(); len(times) < 15 || time.Since(begun) < 300*time.Millisecond; {
		start := time.Now()
		do()
		times = append(times, time.Since(start))
	}
	slices.Sort(times)
	return times[len(times)/2]
}

// The whole analysis of a full board: its median and what it allocates.
func BenchmarkFullBoard(b *testing.B) {
	doc := fullBoard(b)
	b.ReportAllocs()
	for b.Loop() {
		if _, err := check.Check(lib, doc); err != nil {
			b.Fatal(err)
		}
	}
	b.ReportMetric(float64(median(func() { check.Check(lib, doc) }))/1e6, "median-ms")
}

// How the cost grows with the parts: 5, 10, 20, 40, 80 of them on one board.
// The exponent is the slope of the regression line of the logarithms.
func BenchmarkGrowth(b *testing.B) {
	for b.Loop() {
		growth(b)
	}
}

func growth(b *testing.B) {
	var xs, ys []float64
	for _, n := range []int{5, 10, 20, 40, 80} {
		doc := full(b, "large-5v", min(n, 56))
		for len(doc.Parts) > 0 && countOwn(doc) < n {
			// Beyond the pins: lamps on registers take none.
			next, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Add{Kind: "led", Hookup: "on-register"}})
			if err != nil {
				next, _, err = plan.Apply(lib, doc, []plan.Edit{plan.Add{Kind: "shift-register-latched"}})
			}
			if err != nil {
				b.Fatal(err)
			}
			doc = next
		}
		took := median(func() { check.Check(lib, doc) })
		b.ReportMetric(float64(took)/1e6, fmt.Sprintf("ms-%d-parts", n))
		xs, ys = append(xs, math.Log(float64(n))), append(ys, math.Log(float64(took)))
	}
	b.ReportMetric(slope(xs, ys), "exponent")
}

func countOwn(doc *build.Document) (n int) {
	for _, p := range doc.Parts {
		if p.Of == "" {
			n++
		}
	}
	return n
}

func slope(xs, ys []float64) float64 {
	var mx, my, xy, xx float64
	for i := range xs {
		mx, my = mx+xs[i]/float64(len(xs)), my+ys[i]/float64(len(xs))
	}
	for i := range xs {
		xy, xx = xy+(xs[i]-mx)*(ys[i]-my), xx+(xs[i]-mx)*(xs[i]-mx)
	}
	return xy / xx
}

// Beside ngspice in batch mode, as one netlist file: against solving the pieces in their planned states
// at the corners in which their currents are worst; and against the whole analysis, with every state and
// every corner that it has looked at (of the build as it is: what was tried for fixes is not among
// them). The ratios are how many times longer ngspice takes.
func BenchmarkBesideNgspice(b *testing.B) {
	for b.Loop() {
		besideNgspice(b)
	}
}

// visit solves a piece in its planned states at the corners in which its currents
// and the voltages of its elements' ends are worst.
func visit(b *testing.B, p *wiring.Piece) []*wiring.Solved {
	list, err := p.Planned(wiring.Subject{})
	if err != nil {
		b.Fatal(err)
	}
	for _, s := range list {
		for _, i := range p.Elements {
			s.Amps(i)
		}
	}
	return list
}

func besideNgspice(b *testing.B) {
	program, err := exec.LookPath("ngspice")
	if err != nil {
		b.Skip("ngspice is not installed")
	}
	doc := fullBoard(b)
	batch := func(all [][]*wiring.Solved) (circuits int, took time.Duration) {
		var deck strings.Builder
		deck.WriteString("* beside\n" + spice.Options)
		for _, list := range all {
			for _, s := range list {
				for _, corner := range s.Corners() {
					spice.Body(&deck, s.Piece.Circuit(s.State, corner), fmt.Sprintf("c%d", circuits), nil)
					circuits++
				}
			}
		}
		deck.WriteString(".op\n.end\n")
		file := filepath.Join(b.TempDir(), "deck.cir")
		if err := os.WriteFile(file, []byte(deck.String()), 0o600); err != nil {
			b.Fatal(err)
		}
		return circuits, median(func() {
			if out, err := exec.Command(program, "-b", file).CombinedOutput(); err != nil {
				b.Fatalf("%v\n%s", err, out)
			}
		})
	}
	var currents, everything [][]*wiring.Solved
	for _, p := range wiring.Build(lib, doc).Pieces {
		currents = append(currents, visit(b, p))
	}
	memory := check.NewMemory()
	if _, err := memory.Check(lib, doc); err != nil {
		b.Fatal(err)
	}
	for _, p := range memory.Network(lib, doc).Pieces {
		list, err := p.Solutions()
		if err != nil {
			b.Fatal(err)
		}
		everything = append(everything, list)
	}
	count, theirs := batch(currents)
	all, theirsAll := batch(everything)
	solve := func(pieces []*wiring.Piece) {
		for _, p := range pieces {
			visit(b, p)
		}
	}
	oneCore := median(func() { solve(wiring.Build(lib, doc).Pieces) })
	solving := median(func() { // pieces side by side, as the analysis does it
		var workers sync.WaitGroup
		pieces := wiring.Build(lib, doc).Pieces
		for half := range slices.Chunk(pieces, (len(pieces)+1)/2) {
			workers.Go(func() { solve(half) })
		}
		workers.Wait()
	})
	whole := median(func() { check.Check(lib, doc) })
	b.ReportMetric(float64(count), "circuits")
	b.ReportMetric(float64(theirs)/float64(solving), "times-faster-solving")
	b.ReportMetric(float64(theirs)/float64(oneCore), "times-faster-solving-on-one-core")
	b.ReportMetric(float64(all), "circuits-whole")
	b.ReportMetric(float64(theirsAll)/float64(whole), "times-faster-whole")
}

// An edit of the build with most mistakes, beside the check of a build without: the
// ratios are how many times longer it takes. A step done on the breadboard changes
// nothing that an analysis depends on.
func BenchmarkEdit(b *testing.B) {
	builds := map[string]*build.Document{}
	for _, d := range demo.Builds() {
		doc, err := lib.Parse(d.Data)
		if err != nil {
			b.Fatal(err)
		}
		builds[d.Name] = doc
	}
	doc := builds["quiz-table-mistakes"]
	var lamp string
	for _, p := range doc.Parts {
		if p.Kind == "led" && p.Of == "" {
			lamp = p.ID
		}
	}
	memory := check.NewMemory()
	n := 0
	edit := func(e plan.Edit) {
		next, _, err := plan.Apply(lib, doc, []plan.Edit{e})
		if err != nil {
			b.Fatal(err)
		}
		if _, err := memory.Check(lib, next); err != nil {
			b.Fatal(err)
		}
		doc = next
	}
	for b.Loop() {
		value := median(func() {
			n++
			edit(plan.Value{Part: lamp, Value: "maximumCurrent", Text: fmt.Sprintf("%d mA", 20+n%500)})
		})
		step := median(func() {
			n++
			edit(plan.StepDone{Text: "unplug", Name: fmt.Sprint(n)})
		})
		whole := median(func() { check.Check(lib, builds["tram-stop"]) })
		b.ReportMetric(float64(value)/float64(whole), "times-tram-stop-value")
		b.ReportMetric(float64(step)/float64(whole), "times-tram-stop-step")
	}
}
