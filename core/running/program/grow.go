package program

import (
	"cmp"
	"context"
	"math"
	"math/rand/v2"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/general/parallel"
	"cablaggio/core/running/machine"
	"cablaggio/core/running/rig"
)

// How far hands are grown. All of it is counted, so that it is the same on every computer.
const (
	growths = 6  // rounds, of which each begins from what the earlier ones found
	litter  = 8  // runs in a round
	deepest = 10 // deeds of hands in one run
)

// grow tries hands in sequences, where the ones that were tried each by themselves leave something
// of the program that was never come to, or a lamp that it drives and never lights. A run that
// comes to something new is what further ones begin with, so they grow towards what is left.
func (o *observation) grow(ctx context.Context, net *wiring.Network, made *Compiled, text string, pace int64) error {
	o.join()
	if !o.wanting(made) {
		return nil
	}
	g := &garden{net: net, made: made, pace: pace, draw: rand.New(rand.NewPCG(3, 4)), able: touchable(net), seen: map[feature]bool{}, waits: patiences(text, o.alone.longest), said: literals.FindAllStringSubmatch(text, -1)}
	for _, r := range o.all() {
		g.fresh(r)
	}
	seeds := []sequence{nil}
	known := g.written()
	left := made.Calls / 2 // so that a program costs no more than half as much again
	// What asks the board all the time is not waited for as long as what rests.
	each := float64(left/litter) * float64(o.alone.limit) / float64(max(o.alone.calls, 1))
	g.most = max(int64(min(each, 1e12)), 2000*ms*pace)
	for round := 0; round < growths && left > 0 && o.wanting(made); round++ {
		batch := make([]*run, litter)
		grown := make([]sequence, litter)
		for i := range batch {
			// What was found last leads; where nobody touches anything, only time is left to try.
			seed := seeds[len(seeds)-1-g.draw.IntN(min(len(seeds), 3))]
			grown[i] = g.longer(seed, round == 0 && i == 0)
			if round == 0 && i > 0 && i <= len(known) {
				grown[i] = known[i-1]
			}
			batch[i] = g.run(grown[i])
		}
		failed := make([]error, litter)
		parallel.Do(litter, func(i int) { failed[i] = batch[i].do(ctx, net, made) })
		if err := cmp.Or(failed...); err != nil {
			return err
		}
		o.grown += litter
		for i, r := range batch {
			left -= r.calls
			if r.ending.How != machine.Slow && g.fresh(r) {
				seeds = append(seeds, grown[i])
				o.runs = append(o.runs, r)
			}
		}
		o.join()
	}
	return nil
}

// wanting reports whether something of the program was never come to, or a lamp that it drives was
// never lit.
func (o *observation) wanting(made *Compiled) bool {
	if o.slow || slices.ContainsFunc(o.all(), func(r *run) bool { return r.ending.How == machine.Crashed }) {
		return false // what is wrong first is told, and nothing is said of the rest
	}
	for _, c := range made.Tree.Calls {
		if !o.lines[c.Line] && !slices.Contains(silent, c.Name) {
			return true
		}
	}
	for i := range o.alone.rig.Actors {
		a := &o.alone.rig.Actors[i]
		driven := slices.ContainsFunc(a.Part.Signals, func(s build.Signal) bool {
			p := o.pins[o.net.Board.Number(s.Pin)]
			return p != nil && p.output()
		})
		if a.Lamp && driven && !o.lit(i) {
			return true
		}
	}
	return false
}

// A garden is what hands grow in.
type garden struct {
	net   *wiring.Network
	made  *Compiled
	pace  int64
	draw  *rand.Rand
	able  []int
	seen  map[feature]bool
	waits []int64
	said  [][]string // texts in quotes
	most  int64      // how long a run lasts at most
}

var literals = regexp.MustCompile(`"([^"\n]{1,16})"`)

// written are what a program's own texts ask for: what is typed on a keypad that has all of their letters,
// and what is sent.
func (g *garden) written() (out []sequence) {
	for _, m := range g.said {
		if g.made.Tree.Receives {
			out = append(out, sequence{{control: -1, sent: m[1] + "\n", rests: 400 * ms * g.pace}})
		}
		for _, i := range g.able {
			c := &g.net.Controls[i]
			if c.Kind != wiring.Keys || len(m[1]) < 2 {
				continue
			}
			kind, _ := g.net.Library.Catalogue.Kind(g.net.Whose(c).Kind)
			var s sequence
			for _, letter := range m[1] {
				if k := strings.IndexRune(kind.Legends, letter); k >= 0 && k < len(c.Keys) {
					s = append(s, deed{control: i, to: float64(uint64(1) << k), holds: 150 * ms * g.pace, rests: 150 * ms * g.pace})
				}
			}
			if len(s) == len(m[1]) {
				out = append(out, s)
				if end := strings.IndexRune(kind.Legends, '#'); end >= 0 { // and what is often typed behind
					out = append(out, append(slices.Clone(s), deed{control: i, to: float64(uint64(1) << end), holds: 150 * ms * g.pace, rests: 400 * ms * g.pace}))
				}
			}
		}
	}
	return out[:min(len(out), litter-1)]
}

// A feature is something that a run showed: a line that was come to, a thing that was on, or
// something printed, its figures aside.
type feature struct {
	what string
	n    int
}

var figures = regexp.MustCompile(`[0-9.]+`)

// fresh reports whether a run showed something that none before it did, and keeps it.
func (g *garden) fresh(r *run) (found bool) {
	keep := func(f feature) {
		found = found || !g.seen[f]
		g.seen[f] = true
	}
	for line := range r.lines {
		keep(feature{"line", line})
	}
	for i := range r.rig.Actors {
		if r.lit(i) {
			keep(feature{"on", i})
		}
	}
	for _, p := range r.prints[:min(len(r.prints), 50)] {
		keep(feature{figures.ReplaceAllString(p.text, "0"), 0})
	}
	return found
}

// A deed is one thing that hands do, or that is sent, and how long nothing is done after it.
type deed struct {
	control int // -1: nothing is touched
	to      float64
	holds   int64   // for how long; 0: it stays so
	hertz   float64 // of a wheel: how often it closes meanwhile
	sent    string
	rests   int64
}

type sequence []deed

// longer is a sequence with a few deeds more behind it; still: only time passes.
func (g *garden) longer(seed sequence, still bool) sequence {
	out := slices.Clone(seed)
	if still || len(g.able) == 0 && !g.made.Tree.Receives {
		return append(out, deed{control: -1, rests: slices.Max(g.waits) * int64(1+len(seed))})
	}
	for range 1 + g.draw.IntN(2) {
		if len(out) < deepest {
			out = append(out, g.deed())
		}
	}
	return out
}

// deed draws one.
func (g *garden) deed() deed {
	d := deed{control: -1, rests: []int64{150 * ms * g.pace, 400 * ms * g.pace, g.waits[g.draw.IntN(len(g.waits))]}[g.draw.IntN(3)]}
	if g.made.Tree.Receives && (len(g.able) == 0 || g.draw.IntN(3) == 0) {
		d.sent = words[g.draw.IntN(len(words))]
		return d
	}
	d.control = g.able[g.draw.IntN(len(g.able))]
	c := &g.net.Controls[d.control]
	switch c.Kind {
	case wiring.Contact:
		if p := g.net.Whose(c); p != nil && rig.ValueOf(g.net, p, "closures") > 0 {
			// Faster than is expected of it, too.
			d.holds, d.hertz = 2500*ms*g.pace, math.Max(rig.ValueOf(g.net, p, "rate"), 0.1)*[]float64{1, 2, 2, 0.3}[g.draw.IntN(4)]
			return d
		}
		d.to = wiring.Closed - rig.Rest(c)
		d.holds = []int64{shortPress * g.pace, shortPress * g.pace, 700 * ms * g.pace, 1500 * ms * g.pace, 0}[g.draw.IntN(5)]
	case wiring.Level:
		low, high := ends(c)
		d.to = between(c, low, high, []float64{0, 1, 1, 0.5, g.draw.Float64()}[g.draw.IntN(5)])
	case wiring.Keys:
		d.to, d.holds = float64(uint64(1)<<g.draw.IntN(len(c.Keys))), 150*ms*g.pace
	}
	return d
}

// words are what is sent.
var words = []string{"1", "0", "a", "b", "on\n", "off\n", "255\n", "90\n", "r", "?\n"}

// run lays a sequence out in time.
func (g *garden) run(s sequence) *run {
	r := &run{name: "things are done one after another", control: -2}
	at := 200 * ms
	for _, d := range s {
		switch {
		case d.sent != "":
			for i, c := range []byte(d.sent) {
				r.typed = append(r.typed, machine.Received{At: at + int64(i)*2*ms, C: c})
			}
		case d.hertz > 0:
			const most = 300 // closings
			c, period := &g.net.Controls[d.control], int64(1e9/d.hertz)
			for n, from := 0, at; n < most && from+period < at+d.holds; n, from = n+1, from+period {
				r.moves = append(r.moves, moved(from, d.control, wiring.Closed-rig.Rest(c)), moved(from+period/2, d.control, rig.Rest(c)))
			}
			at += d.holds
		case d.control >= 0:
			r.moves = append(r.moves, moved(at, d.control, d.to))
			if d.holds > 0 {
				at += d.holds
				r.moves = append(r.moves, moved(at, d.control, rig.Rest(&g.net.Controls[d.control])))
			}
		}
		at += d.rests
	}
	r.limit = min(at+300*ms*g.pace, g.most)
	return r
}

var numbers = regexp.MustCompile(`\b[0-9]+(?:\.[0-9]+)?\b`)

// patiences are how long a program may wait for something, by its own figures: as milliseconds, and as
// seconds.
func patiences(text string, longest int64) []int64 {
	const most = 70_000 * ms
	out := []int64{1000 * ms, 5000 * ms, min(longest+longest/5, most)}
	for _, number := range numbers.FindAllString(text, -1) {
		n, err := strconv.ParseFloat(number, 64)
		if err != nil {
			continue
		}
		for _, t := range []float64{n, 1000 * n} {
			if t >= 700 && t <= 60_000 {
				out = append(out, int64(t*1.15)*ms)
			}
		}
	}
	slices.Sort(out)
	return slices.Compact(out)
}
