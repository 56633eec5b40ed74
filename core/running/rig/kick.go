package rig

import "cablaggio/core/document/build"

// A Kick is a transistor that a coil's current drove beyond the voltage that it stands, when its
// way was cut.
type Kick struct {
	Part  *build.Part
	At    int64
	Volts float64 // infinite: nothing held it
	Most  float64 // that it stands
}

// A breaker is a transistor that switches a coil.
type breaker struct {
	part    *build.Part
	element int
	most    float64
	kicked  bool
}

// breakers lists the transistors that switch a coil in a region.
func (r *Rig) breakers(g *region) (out []breaker) {
	for _, i := range g.piece.Breakers() {
		p := r.net.Doc.Part(r.net.Elements[i].Part)
		if most := ValueOf(r.net, p, "maximumVoltage"); most > 0 {
			out = append(out, breaker{part: p, element: i, most: most})
		}
	}
	return out
}

// kicks notes which transistors of a region a coil drives too far, at the moment at which a control
// has moved: later its current is less.
func (r *Rig) kicks(g *region) {
	if g.motion == nil {
		return
	}
	for i := range g.breakers {
		b := &g.breakers[i]
		if b.kicked {
			continue
		}
		if volts := g.motion.Across(b.element); volts > b.most {
			b.kicked = true
			r.Kicks = append(r.Kicks, Kick{b.part, r.now, volts, b.most})
		}
	}
}
