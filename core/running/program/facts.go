package program

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
	"cablaggio/core/running/rig"
)

// contact is the part that the hands of a run use; nil of other runs.
func (f *facts) contact(r *run) *wiring.Control {
	if r.control < 0 || f.net.Controls[r.control].Kind != wiring.Contact {
		return nil
	}
	return &f.net.Controls[r.control]
}

// clean are the runs in which a contact is used without bounce, and the ones with.
func (f *facts) clean() (out [][2]*run) {
	for i, r := range f.o.runs {
		c := f.contact(r)
		if c == nil || len(r.presses) != 3 || !r.presses[2].holds {
			continue
		}
		pair := [2]*run{r, nil}
		if i+1 < len(f.o.runs) && f.o.runs[i+1].control == r.control {
			pair[1] = f.o.runs[i+1]
		}
		out = append(out, pair)
	}
	return out
}

// steady reports whether an actor does nothing by itself in a run from a time on.
func steady(a *rig.Actor, from, to int64) bool { return a.Changes(from, to) == 0 }

// driver is the pin that drives an actor, and a line that writes it.
func (f *facts) driver(a *rig.Actor) (pin string, line int) {
	for _, s := range a.Part.Signals {
		if len(a.Part.Signals) > 1 && !switches(s.Name, a) {
			continue
		}
		if p := f.o.pins[f.board.Number(s.Pin)]; p != nil && p.output() {
			return s.Pin, slices.Max([]int{p.lowLine, p.highLine, p.duty.line})
		}
	}
	return "", 0
}

// switches reports whether a signal of a part is that of an actor in it: "segment-2" of "segment
// 2 of bar", "a" of "bar a of digit".
func switches(signal string, a *rig.Actor) bool {
	own := strings.TrimSuffix(a.Name, " of "+a.Part.Name)
	signal = strings.ReplaceAll(signal, "-", " ")
	return own == signal || strings.HasSuffix(own, " "+signal)
}

// follows reports whether an actor does what the contact does: on while it is held, off while
// it is not, or the other way round.
func follows(a *rig.Actor, r *run) bool {
	h := r.presses[2]
	during, before, after := a.At(h.to-20*ms).Amps >= a.On, a.At(h.from-20*ms).Amps >= a.On, a.At(r.limit-1).Amps >= a.On
	return before == after && during != before
}

func prints(r *run, from, to int64) (n int) {
	for _, p := range r.prints {
		if p.at >= from && p.at <= to && strings.Contains(p.text, "\n") {
			n++
		}
	}
	return n
}

// held looks at an input in a mode, over what everything else can do as planned, with pins that
// the program never drives let go: the first state in which nothing holds it, and the first in
// which it is between the thresholds.
func (f *facts) held(piece *wiring.Piece, control int, mode float64, pin string) (floats, between *wiring.Solved) {
	planned, err := piece.Planned(wiring.Subject{})
	if err != nil {
		return nil, nil
	}
	node := f.net.Node(build.Pin(pin))
	rail := f.net.RailVolts(f.board.Logic.Rail).Typ
	seen := map[string]bool{}
	for _, s := range planned {
		state := append(wiring.State{}, s.State...)
		for i, c := range piece.Controls {
			if c == control {
				state[i] = mode
			}
		}
		key := fmt.Sprint(state)
		if seen[key] || len(seen) > 512 {
			continue
		}
		seen[key] = true
		t, err := piece.At(state)
		if err != nil {
			continue
		}
		if !t.Held(node) {
			if floats == nil {
				floats = t
			}
			continue
		}
		if v := t.Typical(node); between == nil && mode != wiring.LetGo && v > f.board.Logic.VIL.At(rail) && v < f.board.Logic.VIH.At(rail) {
			between = t
		}
	}
	return floats, between
}

// holds reports whether the wiring alone holds an input in every state.
func (f *facts) holds(piece *wiring.Piece, control int) bool {
	floats, _ := f.held(piece, control, wiring.LetGo, f.net.Controls[control].Of)
	return floats == nil
}

// facts is what the rules look at.
type facts struct {
	lib      *build.Library
	doc      *build.Document
	net      *wiring.Network
	board    *board.Profile
	o        *observation
	tree     Tree
	messages []Message
	lines    []string              // of the main file
	uses     map[string]wiring.Use // of pins that signals use
	used     []*pinFacts           // the pins that the program uses, in the board's order
	numbers  []*pinFacts           // interrupts that there are none with
	moved    map[int]string        // pins that are probably meant to be others, and which
}

func newFacts(lib *build.Library, doc *build.Document, net *wiring.Network, o *observation, made *Compiled) *facts {
	f := &facts{lib: lib, doc: doc, net: net, board: net.Board, o: o, tree: made.Tree, messages: made.Messages, uses: map[string]wiring.Use{}, moved: map[int]string{}}
	f.lines = strings.Split(doc.Program.Text, "\n")
	for _, u := range net.Uses {
		f.uses[u.Pin.Name] = u
	}
	for _, p := range o.pins {
		if p.pin >= machine.NoInterrupt {
			f.numbers = append(f.numbers, p)
		} else {
			f.used = append(f.used, p)
		}
	}
	slices.SortFunc(f.used, func(a, b *pinFacts) int { return cmp.Compare(a.pin, b.pin) })
	return f
}

// wired reports whether anything is wired to a pin.
func (f *facts) wired(pin int) bool {
	if f.o.alone.rig.ControlOf(pin) < 0 {
		return false
	}
	name := f.o.words(pin)
	if _, ok := f.uses[name]; ok {
		return true
	}
	return f.doc.NetOf(build.Pin(name)) >= 0 || slices.ContainsFunc(f.board.Places, func(p board.Place) bool {
		return p.Of == name && f.doc.NetOf(build.Pin(p.Name)) >= 0
	})
}

// place is the control of a pin, and the piece that it is in; nil where it is in none.
func (f *facts) place(pin int) (control int, piece *wiring.Piece) {
	if p := f.o.alone.rig.Piece(pin); p != nil {
		return f.o.alone.rig.ControlOf(pin), p
	}
	return -1, nil
}

// named is the name of a pin, and what is on it.
func (f *facts) named(pin int) string {
	name := f.o.words(pin)
	if u, ok := f.uses[name]; ok {
		return name + " (" + u.Signals[0].Part.Name + ")"
	}
	return name
}

// about fills a finding with a pin, and the parts on it.
func (f *facts) about(x check.Finding, pins ...int) check.Finding {
	for _, pin := range pins {
		name := f.o.words(pin)
		if !slices.Contains(x.Pins, name) {
			x.Pins = append(x.Pins, name)
		}
		for _, c := range f.uses[name].Signals {
			if !slices.Contains(x.Parts, c.Part.ID) {
				x.Parts = append(x.Parts, c.Part.ID)
			}
		}
	}
	return x
}

// at says in words which line of the program a number stands for.
func (f *facts) at(n int) string { return f.doc.Program.Line(n) }

// line is a line of the main file.
func (f *facts) line(n int) string {
	if n < 1 || n > len(f.lines) {
		return ""
	}
	return f.lines[n-1]
}
