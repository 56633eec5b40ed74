package rig

import (
	"encoding/binary"
	"math"
	"slices"

	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
)

// A region is a piece of the network in the state that it is in. A program meets the same few
// states thousands of times, so what was solved is kept.
type region struct {
	piece    *wiring.Piece
	state    wiring.State
	key      []byte
	solved   map[string]*stand
	kept     map[*wiring.Piece]map[string]*stand // of what it was, with another voltage of the supply
	now      *stand                              // nil: not asked since a control moved
	age      int                                 // how often one moved
	touched  bool
	ends     []int // the elements that drive its pins
	amps     float64
	rails    []int   // the elements that stand for rails in it, where cells feed them
	drawn    float64 // amperes, from the cells
	actors   []int
	pins     []int
	chips    bool // a chip looks at it
	slow     bool // its capacitors take their time
	breakers []breaker
	pulsed   []int // those of its pins that have a duty
	probes   []*Probe
	course
}

// A stand is a region in a state, with what was worked out of it there.
type stand struct {
	*wiring.Solved
	summed bool
	amps   float64 // that its pins carry
	looked []looked
}

// A looked is a node of which it is known whether something holds it.
type looked struct {
	node circuit.Node
	held bool
}

// solve returns the region in the state that it is in; nil where the circuit has no answer,
// which is the wiring's own finding.
func (g *region) solve() *stand {
	if g.now == nil {
		g.now = g.in(g.state)
	}
	return g.now
}

func (g *region) in(state wiring.State) *stand {
	for i, v := range state {
		binary.LittleEndian.PutUint64(g.key[8*i:], math.Float64bits(v))
	}
	if s, ok := g.solved[string(g.key)]; ok {
		return s
	}
	var found *stand
	if s, err := g.piece.At(slices.Clone(state)); err == nil {
		found = &stand{Solved: s}
	}
	g.solved[string(g.key)] = found
	return found
}

// volts is the voltage of a node of a region.
func (g *region) volts(node circuit.Node) float64 {
	if g.motion != nil {
		return g.motion.Volts(node)
	}
	if s := g.solve(); s != nil {
		return s.Typical(node)
	}
	return 0
}
