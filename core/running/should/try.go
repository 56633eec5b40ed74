package should

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
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
	Broken  *Broken  `json:"broken,omitempty"`
}

// Broken is the shortest run that was found in which a sentence does not hold.
type Broken struct {
	Actions []bench.Action `json:"actions"`
	Seed    uint64         `json:"seed"`
	Lasts   float64        `json:"lasts"` // s
	At      float64        `json:"at"`    // s
	Words   string         `json:"words"`
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
			}
		}
	})
	if failed != nil {
		return nil, failed
	}
	for i, s := range read {
		v := &verdicts[at[i]]
		if v.Holds = first[i] == nil && tried[i] > 0; v.Holds {
			v.Tried = tried[i]
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

// alone are the runs with no hand, and with each hand alone.
func (t *trial) alone() []try {
	out := []try{{seed: 1, lasts: t.long()}}
	add := func(actions ...bench.Action) {
		out = append(out, try{seed: 1, lasts: t.long(), actions: actions})
	}
	for _, h := range t.hands {
		switch h.Kind {
		case bench.Presses, bench.Switches:
			at := func(s float64, do bench.Verb) bench.Action { return bench.Action{At: s, Do: do, Of: h.Of} }
			add(at(1, bench.Press), at(1.15, bench.Release), at(2.6, bench.Press), at(2.75, bench.Release))
			add(at(1, bench.Press), at(1+math.Max(3, t.longest()+0.5), bench.Release)) // and held for as long as something is to take
		case bench.PadOf:
			for _, k := range h.Keys {
				add(bench.Action{At: 1, Do: bench.Press, Of: h.Of, Key: k}, bench.Action{At: 1.15, Do: bench.Release, Of: h.Of, Key: k})
			}
		case bench.Levels, bench.Spins:
			levels := t.levels(h)
			var actions []bench.Action
			for i, v := range levels {
				actions = append(actions, move(h, 0.2+5.4*float64(i)/float64(len(levels)), v))
			}
			add(actions...)
			add(move(h, 1, levels[0]))
			add(move(h, 1, levels[len(levels)-1]))
			for _, v := range t.near(h) { // for long enough that what comes late comes
				add(move(h, 0.1, v))
			}
		}
	}
	for _, s := range t.sentences {
		if s.typed != "" {
			add(bench.Action{At: 1, Do: bench.Type, Text: s.typed + "\n"})
		}
		for _, x := range s.parts() {
			t.counted(x, add)
			for _, c := range x.conds {
				if len(c.keys) > 0 {
					t.typedOn(c.hand, c.keys, add)
				}
			}
		}
		if len(s.conds) > 1 || slices.ContainsFunc(s.conds, func(c cond) bool { return c.hand.Kind == bench.PadOf }) {
			add(s.brought()...)
		}
	}
	return out
}

// parts are the sentence and what was said with it.
func (s *Sentence) parts() (out []*Sentence) {
	if s == nil {
		return nil
	}
	return append(append([]*Sentence{s}, s.and.parts()...), s.then.parts()...)
}

// counted adds runs with as many presses as a sentence counts, and with the keys that it types.
func (t *trial) counted(s *Sentence, add func(...bench.Action)) {
	if len(s.keys) > 0 {
		t.typedOn(s.hand, s.keys, add)
	}
	if s.nth == 0 {
		return
	}
	var actions []bench.Action
	at := 0.5
	for range 2 * max(s.nth, s.every) {
		a := bench.Action{At: at, Do: bench.Press, Of: s.hand.Of, Key: s.key}
		b := a
		b.Do, b.At = bench.Release, at+0.15
		if b.At > t.long().Seconds() {
			break
		}
		actions = append(actions, a, b)
		at = math.Round((at+math.Max(0.4, s.needs()+0.05))*1000) / 1000
	}
	add(actions...)
}

// typedOn adds runs in which keys are typed one after the other, at a person's pace, and slower.
func (t *trial) typedOn(pad bench.Hand, keys []string, add func(...bench.Action)) {
	for _, pace := range []float64{0.25, 0.4} {
		var actions []bench.Action
		at := 0.5
		for _, k := range keys {
			a := bench.Action{At: math.Round(at*1000) / 1000, Do: bench.Press, Of: pad.Of, Key: k}
			b := a
			b.Do, b.At = bench.Release, math.Round((at+0.6*pace)*1000)/1000
			actions = append(actions, a, b)
			at += pace
		}
		add(actions...)
	}
}

// brought are the hands that bring about all that a sentence asks for.
func (s *Sentence) brought() (out []bench.Action) {
	at := 1.0
	for _, c := range s.conds {
		if len(c.any) > 0 {
			c = c.any[0]
		}
		switch h := c.hand; {
		case c.thing != nil:
			continue
		case c.ranged:
			v := (c.least + h.Most) / 2
			if c.under() {
				v = (c.most + h.Least) / 2
			}
			for _, d := range s.conds { // between two numbers
				if d.ranged && d.hand.Of == h.Of && d.under() != c.under() {
					v = (c.least + c.most + d.least + d.most) / 2
				}
			}
			out = append(out, move(h, at, v))
		case c.on != (h.Rest == 1) && !c.not:
			out = append(out, bench.Action{At: at, Do: bench.Press, Of: h.Of, Key: c.key})
		}
		at += 0.05
	}
	return out
}

// move sets a hand to a level.
func move(h bench.Hand, at, to float64) bench.Action {
	a := bench.Action{At: math.Round(at*1000) / 1000, Do: bench.Set, Of: h.Of, To: to}
	switch {
	case h.Kind == bench.Spins:
		a.Do = bench.Spin
	case h.Unit == turns:
		a.Do, a.To = bench.Turn, (to-h.Least)/(h.Most-h.Least)
	}
	return a
}

// levels are those that are worth a try: the ends, what has a name, and both sides of each
// number in a sentence.
func (t *trial) levels(h bench.Hand) []float64 {
	span := h.Most - h.Least
	out := []float64{h.Least, h.Least + span/4, h.Least + span/2, h.Least + span*3/4, h.Most}
	return reached(h, slices.Concat(out, h.At, t.near(h)))
}

// near are both sides of each number that sentences say of a hand.
func (t *trial) near(h bench.Hand) (out []float64) {
	span := h.Most - h.Least
	for _, s := range t.sentences {
		for _, c := range s.conds {
			for _, c := range c.alternatives() {
				if c.hand.Of == h.Of && c.ranged {
					v := c.most + c.least
					if c.narrow {
						out = append(out, c.at)
						continue
					}
					out = append(out, v*0.8, v*1.25, v-span/50, v+span/50)
				}
			}
		}
	}
	return reached(h, out)
}

// reached are those levels that a hand can have, in order, each once.
func reached(h bench.Hand, levels []float64) []float64 {
	levels = slices.DeleteFunc(levels, func(v float64) bool { return v < h.Least || v > h.Most })
	slices.Sort(levels)
	return slices.Compact(levels)
}

// longest is for how long something is held at most, in seconds: as long as a sentence needs.
func (t *trial) longest() float64 {
	most := 1.5
	for _, s := range t.sentences {
		most = math.Max(most, s.within.Seconds()+0.5)
	}
	return math.Min(most, t.long().Seconds()-1)
}

// anything are runs with random hands.
func (t *trial) anything() (out []try) {
	if len(t.hands) == 0 {
		return []try{{seed: t.o.Seed + 2, lasts: t.long()}}
	}
	for n := range t.o.Tries {
		draw := rand.New(rand.NewPCG(t.o.Seed, uint64(n)))
		x := try{seed: uint64(n) + 2, lasts: t.long()}
		at, until := 0.3+draw.Float64(), t.long().Seconds()-0.7
		if draw.IntN(4) == 0 { // then nobody does anything for a while: what comes late comes
			until *= draw.Float64()
		}
		for at < until {
			h := t.hands[draw.IntN(len(t.hands))]
			switch h.Kind {
			case bench.Presses, bench.Switches, bench.PadOf:
				a := bench.Action{At: math.Round(at*1000) / 1000, Do: bench.Press, Of: h.Of}
				if h.Kind == bench.PadOf {
					a.Key = h.Keys[draw.IntN(len(h.Keys))]
				}
				held := 0.08 + 0.5*draw.Float64()*draw.Float64()
				if draw.IntN(4) == 0 || h.Kind == bench.Switches {
					held = t.longest() * (0.3 + draw.Float64())
				}
				b := a
				b.Do, b.At = bench.Release, math.Round((at+held)*1000)/1000
				x.actions = append(x.actions, a, b)
				at += held
			default:
				levels := t.levels(h)
				v := levels[draw.IntN(len(levels))]
				if draw.IntN(3) == 0 {
					v = h.Least + (h.Most-h.Least)*draw.Float64()
				}
				x.actions = append(x.actions, move(h, at, v))
			}
			at += 0.15 + 1.2*draw.Float64()*draw.Float64()
		}
		slices.SortStableFunc(x.actions, func(a, b bench.Action) int { return cmp.Compare(a.At, b.At) })
		out = append(out, x)
	}
	return out
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
	out := &Broken{Actions: best.actions, Seed: best.seed, Lasts: best.lasts.Seconds(), At: b.at, Words: b.words, Of: b.of}
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
