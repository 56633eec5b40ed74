package should

import (
	"cmp"
	"math"
	"math/rand/v2"
	"slices"

	"cablaggio/core/running/bench"
)

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
		if s.form == each && len(s.conds) > 0 {
			add(s.led()...)
			continue
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
		case c.thing != nil || c.since:
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
