package should

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/bench"
	_ "cablaggio/core/testkit/drawn" // fixes what is drawn
	"cablaggio/core/testkit/ready"
)

// What a sentence was understood as is read again as the same, whatever it says: the plain forms are
// what a builder sees, and what is kept.
func TestPlainFormsAreReadAgain(t *testing.T) {
	lib := build.Shipped()
	var readers []*Reader
	for _, id := range []string{"button", "toggle", "dusk", "dimmer", "four", "hold", "keypad", "thermometer", "wheel", "row", "colours", "digit", "tram-stop", "seedling-shelf"} {
		readers = append(readers, NewReader(wiring.Build(lib, ready.Build(t, lib, id))))
	}
	rapid.Check(t, func(t *rapid.T) {
		r := rapid.SampledFrom(readers).Draw(t, "build")
		s := drawnSentence(t, r)
		says := s.plainForm()
		read, err := r.Read(says)
		if err != nil {
			t.Fatalf("what is said is not understood: %v", err)
		}
		if !assert.Equal(t, says, read.Says) {
			t.Fatalf("read otherwise")
		}
		third, err := r.Read(read.Says)
		if err != nil || third.Says != read.Says {
			t.Fatalf("%q is not read again: %v", read.Says, err)
		}
	})
}

// drawnSentence is any sentence about a build.
func drawnSentence(t *rapid.T, r *Reader) *Sentence {
	pick := func(n int, what string) int { return rapid.IntRange(0, n-1).Draw(t, what) }
	x := r.things[pick(len(r.things), "thing")]
	s := &Sentence{things: []thing{x}, within: usual}
	claims := map[bench.RowKind][]claim{
		bench.LampRow:  {lit, dark, full, blinks, steady, idle, unlit, undark, leaves},
		bench.SoundRow: {sounds, silent, idle, unlit, undark},
		bench.LoadRow:  {runs, rests},
	}[x.kind]
	s.claim = claims[pick(len(claims), "claim")]
	if rapid.Bool().Draw(t, "soon") {
		s.within = time.Duration(rapid.SampledFrom([]int{100, 250, 2000, 3500}).Draw(t, "within")) * time.Millisecond
	}
	var pressed []bench.Hand
	for _, h := range r.hands {
		if h.Kind == bench.Presses {
			pressed = append(pressed, h)
		}
	}
	event := s.claim == lit || s.claim == dark || s.claim == sounds || s.claim == silent || s.claim == runs || s.claim == rests || s.claim == leaves
	if len(pressed) > 0 && event && rapid.Bool().Draw(t, "press") {
		s.form, s.doing = each, doing{hand: pressed[pick(len(pressed), "button")]}
		switch pick(5, "which") {
		case 0:
			s.nth = 1 + pick(len(words.Ordinals), "nth")
		case 1:
			s.nth, s.every = 1+pick(2, "odd"), 2
		case 2:
			if s.claim != leaves {
				s.lasts = time.Duration(1+pick(9, "lasts")) * time.Second
			}
		case 3:
			s.keeps = s.claim != leaves
		}
		return s
	}
	if event && s.claim != leaves && rapid.Bool().Draw(t, "each time") {
		d := time.Duration(1+pick(30, "length")) * 100 * time.Millisecond
		s.atATime = []lengths{{d, d}, {d, 0}, {0, d}}[pick(3, "at least")]
	}
	if s.claim == blinks && rapid.Bool().Draw(t, "rate") {
		s.hertz = rapid.SampledFrom([]float64{0.5, 1, 2, 2.5, 4}).Draw(t, "hertz")
	}
	if rapid.Bool().Draw(t, "while") {
		if c, ok := drawnCond(t, r); ok {
			s.conds = []cond{c}
			s.only = event && s.claim != leaves && s.atATime == lengths{} && rapid.Bool().Draw(t, "only")
		}
	}
	return s
}

// drawnCond is something that is so meanwhile.
func drawnCond(t *rapid.T, r *Reader) (cond, bool) {
	if len(r.hands) == 0 {
		return cond{}, false
	}
	switch h := rapid.SampledFrom(r.hands).Draw(t, "hand"); h.Kind {
	case bench.Presses, bench.Switches:
		return cond{hand: h, on: rapid.Bool().Draw(t, "on")}, true
	case bench.PadOf:
		return cond{hand: h, key: rapid.SampledFrom(h.Keys).Draw(t, "key"), on: true}, true
	case bench.Spins:
		return spinning(h), true
	default:
		v := h.Least + (h.Most-h.Least)*float64(rapid.IntRange(1, 9).Draw(t, "level"))/10
		if rapid.Bool().Draw(t, "above") {
			return cond{hand: h, ranged: true, least: v}, true
		}
		return cond{hand: h, ranged: true, most: v}, true
	}
}

// A part may be called anything; what can be said of it is read again.
func TestOddNames(t *testing.T) {
	lib := build.Shipped()
	for _, name := range []string{"lamp, left", "Lamp (red)", "no. 3", "the gate", "down", "on air", "LED 2.5", "fan – left", "B's lamp", "warning!", "über", "stop: now", "up/down", "A & B", "1st", "off", "dark corner", "when", "it", "lamp 1, 2 and 3", "x", "press me", "3 s lamp", `"quoted"`, "lit"} {
		for _, id := range []string{"toggle", "dusk"} {
			for _, kind := range []string{"led", "button-4", "ldr"} {
				doc := ready.Build(t, lib, id)
				for i := range doc.Parts {
					if p := &doc.Parts[i]; p.Kind == kind {
						p.Name = name
					}
				}
				r := NewReader(wiring.Build(lib, doc))
				for _, text := range r.Suggest() {
					s, err := r.Read(text)
					if assert.NoError(t, err, "%s of %s: %s", kind, id, name) {
						again, err := r.Read(s.Says)
						if assert.NoError(t, err, "%s: %s", name, text) {
							assert.Equal(t, s.Says, again.Says)
						}
					}
				}
			}
		}
	}
}

// What is put together by choosing is understood as it stands there.
func TestPiecesMakeSentences(t *testing.T) {
	lib := build.Shipped()
	for _, id := range []string{"toggle", "dusk", "dimmer", "four", "keypad", "wheel", "thermometer", "seedling-shelf", "tram-stop"} {
		r := NewReader(wiring.Build(lib, ready.Build(t, lib, id)))
		pieces := r.Pieces()
		for _, when := range pieces.Whens {
			x := pieces.Things[len(when.Text)%len(pieces.Things)]
			list := x.Does
			if when.Press {
				list = x.Done
			}
			for i, does := range list {
				soon := pieces.Soon[i%2]
				said := when.Text + does.Text + soon.Text
				s, err := r.Read(said)
				if assert.NoError(t, err, id) {
					assert.Equal(t, said, s.Says, id)
				}
			}
		}
	}
}
