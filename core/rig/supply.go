package rig

import (
	"math/rand/v2"
	"slices"

	"cablaggio/core/machine"
	"cablaggio/core/wiring"
)

// What is no control of the network, and moves all the same: the supply, which gets another
// voltage, in volts; and a mark, at which nothing happens but that it is told.
const (
	Supply = -1
	Mark   = -2
)

// Usual is the voltage that a build's supply has, and whether its rails have what the plan gives
// them then: through a regulator that gets too little they have less.
func Usual(net *wiring.Network) (volts float64, asPlanned bool) {
	s, _ := net.Board.Supply(net.Doc.Supply)
	volts = net.Doc.Fed(s).Typ
	for _, r := range net.Board.Rails {
		if s.RailAt(net.Board.Rails, r.Name, volts) < net.RailVolts(r.Name).Typ-1e-9 {
			return volts, false
		}
	}
	return volts, true
}

// feed goes on with the build as it is with another voltage of its supply: at 0 it is unplugged.
// Capacitors keep what they have, and so do hands; registers that had no supply hold nothing.
func (r *Rig) feed(volts float64) {
	net, ok := r.fed[volts]
	if !ok {
		net = r.plan.With(wiring.Feed(volts))
		r.fed[volts] = net
	}
	for i, g := range r.regions {
		if net.Pieces[i] == g.piece {
			continue
		}
		r.before(g)
		g.piece, g.solved, g.now = net.Pieces[i], map[string]*stand{}, nil
		g.age++
		if g.motion != nil {
			g.motion.Of(g.piece, g.state)
		}
		r.touch(g)
	}
	was := r.net
	r.net = net
	r.levels()
	if r.noise != nil && was.RailVolts(net.Board.Logic.Rail).Typ == 0 {
		r.wake(rand.New(rand.NewPCG(r.noise.seed, uint64(r.now))))
	}
	for _, p := range r.Probes {
		r.sample(p)
	}
}

// levels works out from which voltages on inputs read high, and up to which they read low.
func (r *Rig) levels() {
	rail := r.net.RailVolts(r.net.Board.Logic.Rail).Typ
	r.vil, r.vih = r.net.Board.Logic.VIL.At(rail), r.net.Board.Logic.VIH.At(rail)
}

// Cancel takes back moves that were planned and not made yet.
func (r *Rig) Cancel(these func(Move) bool) {
	r.moves = append(r.moves[:r.done], slices.DeleteFunc(r.moves[r.done:], these)...)
}

// LetGo lets go of all pins, as the board does that stops or begins.
func (r *Rig) LetGo(at int64) {
	for pin := range r.pins {
		if r.pins[pin].drive.Mode != machine.LetGo {
			r.Set(pin, machine.Drive{}, at)
		}
	}
}
