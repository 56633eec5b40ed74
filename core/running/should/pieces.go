package should

import (
	"time"

	"cablaggio/core/running/bench"
)

// Pieces are what sentences about a build can be put together of, by choosing: when, then what a
// thing does, then within which time. Each is written as it stands in a sentence.
type Pieces struct {
	Whens  []When  `json:"whens"`
	Things []Doing `json:"things"`
	Soon   []Piece `json:"soon"`
}

// A Piece is a part of a sentence, and what it is called in a list.
type Piece struct {
	Name string `json:"name"`
	Text string `json:"text"`
}

// When says when something is so, or, with a press, what brings it about.
type When struct {
	Piece
	Press bool `json:"press,omitempty"`
}

// Doing is what a thing can do: does while something is so, done by a press.
type Doing struct {
	Name string  `json:"name"`
	Does []Piece `json:"does"`
	Done []Piece `json:"done"`
}

// Pieces lists what sentences about the build can be put together of.
func (r *Reader) Pieces() Pieces {
	out := Pieces{
		Whens: []When{{Piece: Piece{Name: "always"}}, {Piece: Piece{"before anything is touched", "before anything is touched, "}}},
		Soon:  []Piece{{Name: "at once (half a second)"}},
	}
	for _, h := range r.hands {
		while := func(c cond) {
			s := Sentence{conds: []cond{c}}
			out.Whens = append(out.Whens, When{Piece: Piece{"while " + c.words(), s.when()}})
		}
		press := func(key, name string) {
			text := "each press of " + name
			out.Whens = append(out.Whens, When{Piece{text, text + " "}, true})
			if h.Kind == bench.Presses {
				while(cond{hand: h, on: true})
				while(cond{hand: h})
			}
		}
		switch {
		case h.Kind == bench.Presses:
			press("", h.Name)
		case h.Kind == bench.PadOf:
			for _, key := range h.Keys {
				press(key, keyOf(h, key))
			}
		case h.Kind == bench.Switches:
			while(cond{hand: h, on: true})
			while(cond{hand: h})
		case h.Kind == bench.Spins:
			while(spinning(h))
			while(spinning(h).negated())
		default:
			for _, part := range []float64{0.25, 0.5, 0.75} {
				v := h.Least + part*(h.Most-h.Least)
				if len(h.At) > 2 { // between those that have names
					v = h.At[int(part*float64(len(h.At)-1))]
				}
				while(cond{hand: h, ranged: true, least: v})
				while(cond{hand: h, ranged: true, most: v})
			}
		}
	}
	for _, x := range r.things {
		if x.digit {
			continue
		}
		d := Doing{Name: x.name}
		for _, c := range claimsOf[x.kind] {
			if s := (&Sentence{things: []thing{x}, claim: c.claim}); c.claim <= blinks || c.claim >= sounds && c.claim <= rests {
				d.Does = append(d.Does, Piece{s.do()[len(x.name)+1:], s.do()})
			}
		}
		for _, c := range donesOf[x.kind] {
			s := &Sentence{things: []thing{x}, claim: c}
			d.Done = append(d.Done, Piece{doneNames[c], s.done()})
		}
		out.Things = append(out.Things, d)
	}
	for _, t := range []time.Duration{100 * time.Millisecond, time.Second, 5 * time.Second, 20 * time.Second} {
		text := (&Sentence{within: t}).soon()
		out.Soon = append(out.Soon, Piece{text[2:], text})
	}
	return out
}

// donesOf are what a press does to a thing of a kind, and doneNames how that is called.
var (
	donesOf = map[bench.RowKind][]claim{
		bench.LampRow:  {lit, dark, changes, leaves},
		bench.SoundRow: {sounds, silent, changes, leaves},
		bench.LoadRow:  {runs, rests, changes, leaves},
	}
	doneNames = map[claim]string{lit: "lights it", dark: "puts it out", sounds: "sounds it", silent: "silences it", runs: "starts it", rests: "stops it", changes: "changes it", leaves: "leaves it as it is"}
)
