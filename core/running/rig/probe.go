package rig

import (
	"math"

	"cablaggio/core/electric/circuit"
)

// A Probe is a pair of tips: what is between them is noted whenever it changes. It takes no
// current, as a good meter's takes hardly any.
type Probe struct {
	Plus, Minus circuit.Node
	Samples     []Sample
	Lost        bool // there were more than are kept
}

// A Sample is the voltage of a probe from a time on.
type Sample struct {
	At    int64
	Volts float64 // of plus above minus, typically; the average where it is pulsed
	Hertz float64 // of what it is pulsed with; 0: steady
	Loose bool    // nothing holds one of the two
}

// maxSamples bounds what is kept of a probe in one run.
const maxSamples = 5000

// Watch puts a probe at two nodes, from now on.
func (r *Rig) Watch(plus, minus circuit.Node) *Probe {
	p := &Probe{Plus: plus, Minus: minus}
	r.Probes = append(r.Probes, p)
	for _, node := range []circuit.Node{plus, minus} {
		if g := r.regionOf(node); g != nil {
			g.probes = append(g.probes, p)
			r.touch(g)
		}
	}
	r.sample(p)
	return p
}

// regionOf is the region that a node is in; nil of a rail, and of what is wired to nothing.
func (r *Rig) regionOf(node circuit.Node) *region {
	piece := r.net.PieceOf(node)
	for _, g := range r.regions {
		if piece != nil && g.piece == piece {
			return g
		}
	}
	return nil
}

// sample notes what a probe shows now.
func (r *Rig) sample(p *Probe) {
	s := Sample{At: r.now}
	for i, node := range []circuit.Node{p.Plus, p.Minus} {
		volts, hertz, loose := r.at(node)
		s.Volts += volts * float64(1-2*i)
		s.Hertz, s.Loose = max(s.Hertz, hertz), s.Loose || loose
	}
	const least = 2e-3 // volts: no usual meter shows less of a supply's range
	n := len(p.Samples)
	switch {
	case n > 0 && p.Samples[n-1].Loose == s.Loose && p.Samples[n-1].Hertz == s.Hertz && math.Abs(p.Samples[n-1].Volts-s.Volts) < least:
	case n > 0 && p.Samples[n-1].At == s.At:
		p.Samples[n-1] = s
	case n >= maxSamples:
		p.Lost = true
	default:
		p.Samples = append(p.Samples, s)
	}
}

// at is the voltage of a node now.
func (r *Rig) at(node circuit.Node) (volts, hertz float64, loose bool) {
	if r.net.Stiff(node) {
		return r.net.FedVolts(node).Typ, 0, false
	}
	g := r.regionOf(node)
	if g == nil {
		return 0, 0, true
	}
	if g.motion != nil {
		return g.motion.Volts(node), 0, false
	}
	if s := g.solve(); s == nil || !g.holds(s, node) {
		return 0, 0, true
	}
	if r.isEdged(g) {
		return g.volts(node), 0, false
	}
	volts, hertz = r.averaged(g, func(s *stand) float64 { return s.Typical(node) })
	return volts, hertz, false
}
