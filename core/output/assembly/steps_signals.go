package assembly

import (
	"cmp"
	"math"
	"slices"
	"strings"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
	"cablaggio/core/layout/placement"
)

// signals puts in the wires to the board's pins, and what is left between parts.
func (s *steps) signals() {
	var pins []string
	defer func() {
		if len(pins) > 1 {
			s.add(Step{ID: "look signals " + strings.Join(pins, " "), Group: signals, Look: true, Do: "Look it over: count the pins on the board: " + list(pins) + "."})
		}
	}()
	var of []int
	for i, w := range s.p.Wires {
		if !s.done[i] && !s.isFeed(w) {
			of = append(of, i)
		}
	}
	// Along the headers, so that pins are counted once.
	slices.SortStableFunc(of, func(a, b int) int { return cmp.Compare(s.along(a), s.along(b)) })
	for _, i := range of {
		w := s.p.Wires[i]
		s.wire(signals, i, "")
		for _, e := range []breadboard.End{w.From, w.To} {
			if pin, ok := s.onBoard(e); ok {
				pins = append(pins, pin)
			}
		}
	}
}

// along is the place of a wire's pin, counted along the headers; a wire between
// parts comes after them.
func (s *steps) along(wire int) int {
	w := s.p.Wires[wire]
	for _, e := range []breadboard.End{w.From, w.To} {
		pin, ok := s.onBoard(e)
		n := 0
		for _, h := range s.table.Board.Headers {
			if i := slices.Index(h.Places, pin); ok && i >= 0 {
				return n + i
			}
			n += len(h.Places)
		}
	}
	return math.MaxInt
}

// isGround reports whether a wire comes from the board's ground.
func (s *steps) isGround(w placement.Jumper) bool {
	for _, e := range []breadboard.End{w.From, w.To} {
		if name, ok := s.onBoard(e); ok && name == s.ground {
			return true
		}
	}
	return false
}

// isFeed reports whether a wire brings ground or a supply from the board to a
// rail.
func (s *steps) isFeed(w placement.Jumper) bool {
	for _, e := range []breadboard.End{w.From, w.To} {
		if name, ok := s.onBoard(e); ok {
			if _, rail := s.table.Board.Rail(name); rail || name == s.ground {
				return true
			}
		}
	}
	return false
}

func (s *steps) program() {
	if !slices.ContainsFunc(s.doc.Parts, func(q build.Part) bool { return len(q.Signals) > 0 }) {
		return
	}
	s.add(Step{
		ID: LoadStep, Group: program,
		Do:    "Load the new program into the board by its USB cable now, or an empty one, and unplug it again.",
		Watch: []string{"An old program may drive pins that are inputs now. Until the pins are wired and the supply is joined to the rails, little can happen."},
	})
}

// feed joins the rails with the board, ground first.
func (s *steps) feed() {
	var of []int
	for i := range s.p.Wires {
		if !s.done[i] {
			of = append(of, i)
		}
	}
	slices.SortStableFunc(of, func(a, b int) int { return cmp.Compare(s.order(a), s.order(b)) })
	for _, i := range of {
		s.wire(supply, i, "")
	}
	s.add(Step{ID: "power", Group: supply, Do: "Look once more: no bare leg touches another, every lamp and chip the right way round. Then give it power.", Watch: []string{"Smoke or heat: unplug first, look later."}, Look: true})
}
