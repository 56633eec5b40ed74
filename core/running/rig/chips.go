package rig

import (
	"math/rand/v2"
	"slices"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
)

// A chip is a shift register: what it has taken in, and what it shows.
type chip struct {
	part                           *build.Part
	data, data2, clock, latch, off leg // off is of the one with an output enable
	clear                          leg
	latched                        bool
	outs                           [9]int // controls of qa to qh and serial; -1: nothing is wired there
	shift, store                   [8]bool
	clockWas, latchWas, seen       bool
	clocked, latchedAfter          int // how often the clock rose, and how often the latch after it had
	dataWas                        bool
	fed                            int // how often the data rose
}

// A Register is what a shift register has seen in a run.
type Register struct {
	Part    *build.Part
	Latched bool // it has a latch
	Clocked int  // how often its clock rose
	Taken   int  // how often its latch rose after that; of one without a latch 0
	Fed     int  // how often its data rose
}

// Registers says what each shift register has seen so far.
func (r *Rig) Registers() []Register {
	var out []Register
	for _, c := range r.chips {
		out = append(out, Register{c.part, c.latched, c.clocked, c.latchedAfter, c.fed})
	}
	return out
}

// A leg is an input of a chip.
type leg struct {
	node   circuit.Node
	region *region // nil: a rail, or nothing
	fixed  bool    // what it reads then
}

// inputs are the legs that the chip looks at.
func (c *chip) inputs() [6]leg { return [6]leg{c.data, c.data2, c.clock, c.latch, c.off, c.clear} }

var registerOuts = [...]string{"qa", "qb", "qc", "qd", "qe", "qf", "qg", "qh", "serial"}

func (r *Rig) addChip(p *build.Part, of map[*wiring.Piece]*region) {
	kind, ok := r.net.Library.Catalogue.Kind(p.Kind)
	if !ok || !kind.Is(part.Register) {
		return
	}
	at := func(name string) leg {
		if !slices.Contains(kind.Inputs, name) {
			return leg{}
		}
		l := leg{node: r.net.Node(build.Of(p.ID, name))}
		if l.region = of[r.net.PieceOf(l.node)]; l.region != nil {
			l.region.chips = true
		} else {
			l.fixed = r.net.FedVolts(l.node).Typ > r.vil
		}
		return l
	}
	c := chip{part: p, data: at("data"), data2: at("data2"), clock: at("clock"), latch: at("latch"), off: at("enable"), clear: at("clear"), latched: slices.Contains(kind.Inputs, "latch")}
	for i, name := range registerOuts {
		c.outs[i] = slices.IndexFunc(r.net.Controls, func(x wiring.Control) bool { return x.Of == p.ID+"."+name })
	}
	r.chips = append(r.chips, c)
}

// high reports what a leg reads, against half of the board's logic.
func (r *Rig) high(l leg) bool {
	if l.region == nil {
		return l.fixed
	}
	return l.region.volts(l.node) >= (r.vil+r.vih)/2
}

// clockChips lets the registers see their edges (JEDEC JESD7 class: both the shift and the
// storage register take over on the rising edge of their clock), and reports whether an output
// moved. All look before any moves, so that a chain takes over together.
func (r *Rig) clockChips() (moved bool) {
	if len(r.chips) == 0 || r.vih <= 0 || !slices.ContainsFunc(r.touched, func(g *region) bool { return g.chips }) {
		return false
	}
	type sight struct{ data, in, clock, latch, clear, off bool }
	sights := make([]sight, len(r.chips))
	for i := range r.chips {
		c, s := &r.chips[i], &sights[i]
		s.clock, s.clear, s.in = r.high(c.clock), !r.high(c.clear), r.high(c.data)
		if s.clock && !c.clockWas {
			s.data = s.in && (c.latched || r.high(c.data2))
		}
		if c.latched {
			s.latch, s.off = r.high(c.latch), r.high(c.off)
		}
	}
	for i := range r.chips {
		c, s := &r.chips[i], sights[i]
		if c.latched && c.seen && s.latch && !c.latchWas {
			c.store = c.shift
			if c.clocked > 0 {
				c.latchedAfter++
			}
		}
		if c.seen && s.clock && !c.clockWas {
			c.clocked++
			copy(c.shift[1:], c.shift[:7])
			c.shift[0] = s.data
		}
		if c.seen && s.in && !c.dataWas {
			c.fed++
		}
		c.dataWas = s.in
		if s.clear {
			c.shift = [8]bool{}
		}
		c.clockWas, c.latchWas, c.seen = s.clock, s.latch, true
		shown := c.shift
		if c.latched {
			shown = c.store
		}
		for k, out := range c.outs {
			if out < 0 {
				continue
			}
			to := float64(wiring.Low)
			if k == 8 && c.shift[7] || k < 8 && shown[k] && !s.off {
				to = wiring.High
			}
			if r.Setting(out) != to {
				r.Turn(out, to)
				moved = true
			}
		}
	}
	return moved
}

// wake has the registers hold anything, drawn from a source, as they do when their supply comes.
func (r *Rig) wake(from *rand.Rand) {
	for i := range r.chips {
		c := &r.chips[i]
		c.seen = false
		for k := range c.shift {
			c.shift[k], c.store[k] = from.IntN(2) == 1, from.IntN(2) == 1
		}
	}
}
