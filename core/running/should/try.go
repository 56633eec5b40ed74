package should

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"sync"
	"time"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/general/parallel"
	"cablaggio/core/running/bench"
	"cablaggio/core/running/program"
)

// A Verdict says whether a sentence holds.
type Verdict struct {
	Text  string `json:"text"`
	Says  string `json:"says"`            // as it was understood
	Wrong string `json:"wrong,omitempty"` // what is not understood, and what would be right, or why nothing is said
	// Of what is not understood: sentences about what it names, that may be meant.
	Instead []string `json:"instead,omitempty"`
	Never   bool     `json:"never,omitempty"` // it is understood, and no run came to what it is about
	Holds   bool     `json:"holds"`
	Tried   int      `json:"tried"` // runs in which it had something to say, as far as it held
	// Of what holds: how far it was tried, in words, and where it held only just, by how much.
	Extent string  `json:"extent,omitempty"`
	Barely string  `json:"barely,omitempty"`
	Broken *Broken `json:"broken,omitempty"`
}

// Broken is the shortest run that was found in which a sentence does not hold.
type Broken struct {
	Actions []bench.Action `json:"actions"`
	Seed    uint64         `json:"seed"`
	Lasts   float64        `json:"lasts"` // s
	At      float64        `json:"at"`    // s
	Words   string         `json:"words"`
	Story   string         `json:"story"`           // what hands do up to then
	Line    int            `json:"line,omitempty"`  // of the program, that last did something there
	Blame   string         `json:"blame,omitempty"` // whose it is, where one can tell
	Of      string         `json:"of"`              // the part that it is seen at
}

// Options say how sentences are tried.
type Options struct {
	Tries int                   // random hands, beside each hand alone; 0: [Usual]
	Seed  uint64                // of the hands
	Tried func(runs, whole int) // is told how far it is; may be nil
}

// Usual is how many random hands are tried when nothing is said.
const Usual = 100

// lasts is how long each run is at least.
const lasts = 6 * time.Second

// long is how long runs are: as long as what is said of a press takes, and what comes after it.
func (t *trial) long() time.Duration {
	out := lasts
	for _, s := range t.sentences {
		for _, x := range s.parts() {
			each := x.needs() + 3
			if x.nth > 0 {
				each += math.Min(20, math.Max(0.4, x.needs())*float64(2*max(x.nth, x.every)))
			}
			each = math.Max(each, 0.5*float64(len(x.keys))+x.needs()+2)
			out = max(out, time.Duration(each*float64(time.Second)))
		}
	}
	return out.Round(time.Millisecond)
}

// Try tries what a build should do, with each hand alone and with random ones. What is always
// there, [Limits], is among the verdicts. Its error is that of the context, or of a machine
// that does not work.
func Try(ctx context.Context, net *wiring.Network, made *program.Compiled, sentences []string, o Options) ([]Verdict, error) {
	if o.Tries <= 0 {
		o.Tries = Usual
	}
	reader := NewReader(net)
	if !slices.ContainsFunc(sentences, func(t string) bool { return clean(t) == Limits }) {
		sentences = append(slices.Clip(sentences), Limits)
	}
	verdicts := reader.ReadAll(sentences)
	var read []*Sentence
	var at []int
	for i, text := range sentences {
		if s, err := reader.Read(text); err == nil {
			read, at = append(read, s), append(at, i)
		}
	}
	t := &trial{ctx: ctx, net: net, made: made, hands: bench.Hands(net), sentences: read, o: o}
	runs := append(t.alone(), t.anything()...)
	first := make([]*try, len(read)) // the first run that breaks it, by the order of the runs
	tried := make([]int, len(read))
	slowest := make([]float64, len(read))
	deeds, lasted := make([]int, len(read)), make([]float64, len(read))
	var mu sync.Mutex
	var failed error
	done := 0
	parallel.Do(len(runs), func(k int) {
		mu.Lock()
		over := failed != nil || !slices.Contains(first, nil)
		mu.Unlock()
		if over {
			return
		}
		rec, err := t.run(&runs[k])
		mu.Lock()
		defer mu.Unlock()
		if done++; o.Tried != nil {
			o.Tried(done, len(runs))
		}
		if err != nil {
			failed = cmp.Or(failed, err)
			return
		}
		for i, s := range read {
			if first[i] != nil && first[i].nth < k {
				continue
			}
			if b := s.judge(rec); b != nil {
				runs[k].nth = k
				first[i] = &runs[k]
			} else if s.says(rec) {
				tried[i]++
				slowest[i] = math.Max(slowest[i], s.slowest(rec))
				lasted[i] += rec.Ended
				for _, a := range rec.Actions {
					if a.Do != bench.Release {
						deeds[i]++
					}
				}
			}
		}
	})
	if failed != nil {
		return nil, failed
	}
	for i, s := range read {
		v := &verdicts[at[i]]
		if v.Holds = first[i] == nil && tried[i] > 0; v.Holds {
			v.Tried, v.Extent, v.Barely = tried[i], extent(tried[i], deeds[i], lasted[i]), s.barely(slowest[i])
		} else if first[i] == nil { // nothing is said of what was never so
			v.Never = true
			v.Wrong = fmt.Sprintf("in none of %d runs did it come to that, so nothing is said of it", len(runs))
		}
		if first[i] == nil {
			continue
		}
		b, err := t.shrink(s, first[i])
		if err != nil {
			return nil, err
		}
		v.Broken = b
	}
	return verdicts, nil
}

// ReadAll says how sentences are understood, without trying them.
func (r *Reader) ReadAll(sentences []string) []Verdict {
	out := make([]Verdict, len(sentences))
	for i, text := range sentences {
		out[i].Text = text
		if s, err := r.Read(text); err != nil {
			out[i].Wrong = err.Error()
			if e := (*Error)(nil); errors.As(err, &e) {
				out[i].Wrong, out[i].Instead = e.short(), e.Instead
			}
		} else {
			out[i].Says = s.Says
		}
	}
	return out
}

// says reports whether a sentence has something to say of a recording.
func (s *Sentence) says(rec *bench.Recording) bool {
	if s.then != nil && s.then.says(rec) {
		return true
	}
	switch s.form {
	case holds:
		return len(s.spans(rec, true)) > 0
	case oneOf:
		return len(s.conds) == 0 || len(s.spans(rec, true)) > 0
	case each:
		return slices.ContainsFunc(s.times(rec), func(x done) bool { return x.at+s.needs() <= x.next && s.open(rec, x) })
	case inTurn:
		n := map[int]bool{}
		for _, c := range s.comings(rec) {
			n[c.nth] = true
		}
		return len(n) == len(s.things)
	case turning:
		return slices.ContainsFunc(rec.Actions, func(a bench.Action) bool { return a.Of == s.hand.Of && a.Key == s.key })
	}
	return true
}

// A trial is all runs of one build.
type trial struct {
	ctx       context.Context
	net       *wiring.Network
	made      *program.Compiled
	hands     []bench.Hand
	sentences []*Sentence
	o         Options
}

// A try is one run.
type try struct {
	nth     int
	seed    uint64
	actions []bench.Action
	lasts   time.Duration
}

func (t *trial) run(x *try) (*bench.Recording, error) {
	return bench.Run(t.ctx, t.net, t.made, bench.Options{Actions: x.actions, Lasts: x.lasts, Seed: x.seed})
}

// shrink looks for the shortest run that breaks a sentence still: with fewer actions, and no
// longer than it takes.
func (t *trial) shrink(s *Sentence, from *try) (*Broken, error) {
	best := *from
	rec, err := t.run(&best)
	if err != nil {
		return nil, err
	}
	b := s.judge(rec)
	try := func(x try) (bool, error) {
		r, err := t.run(&x)
		if err != nil {
			return false, err
		}
		c := s.judge(r)
		if c != nil {
			best, rec, b = x, r, c
		}
		return c != nil, nil
	}
	// What comes after it broke is left out at once; then one thing after another, a press with
	// its release.
	cut := best
	cut.actions = slices.DeleteFunc(slices.Clone(best.actions), func(a bench.Action) bool { return a.At > b.at })
	if _, err := try(cut); err != nil {
		return nil, err
	}
	for i := 0; i < len(best.actions); {
		if best.actions[i].Do == bench.Release {
			i++
			continue
		}
		x := best
		x.actions = without(best.actions, i)
		ok, err := try(x)
		if err != nil {
			return nil, err
		}
		if !ok {
			i++
		}
	}
	const tail = 300 * time.Millisecond
	if end := time.Duration((b.at + tail.Seconds()) * 1e9).Round(time.Millisecond); end < best.lasts {
		x := best
		x.lasts = end
		if _, err := try(x); err != nil {
			return nil, err
		}
	}
	out := &Broken{Actions: best.actions, Seed: best.seed, Lasts: best.lasts.Seconds(), At: b.at, Words: b.words, Of: b.of, Story: story(t.hands, best.actions, b.at)}
	if out.Actions == nil {
		out.Actions = []bench.Action{}
	}
	out.Line, out.Blame = t.blame(s, rec, b)
	return out, nil
}

// without leaves out one action, and the release of a press.
func without(actions []bench.Action, i int) []bench.Action {
	out := slices.Clone(actions)
	a := out[i]
	out = slices.Delete(out, i, i+1)
	if a.Do != bench.Press {
		return out
	}
	for k := i; k < len(out); k++ {
		if out[k].Of == a.Of && out[k].Key == a.Key && out[k].Do == bench.Release {
			return slices.Delete(out, k, k+1)
		}
	}
	return out
}
