package rig

import (
	"slices"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/machine"
)

// An echoer is a distance module: triggered, it sends a sound, and its output is high for as long as
// that is on its way to what is before it and back.
type echoer struct {
	part        *build.Part
	trigger     leg
	output      int // control
	distance    int // control
	was         bool
	rose        int64
	rises, ends int64 // of the echo that is on its way; 0: none is
	measured    int
}

const (
	// trigger is how long the trigger is high at least, of the ten microseconds that leaflets ask for
	// (from memory).
	trigger = 8_000
	// sends is how long the module takes to send its sound before the output rises (from memory:
	// eight periods of 40 kHz, and its own work).
	sends = 450_000
	// perCentimetre is how long sound takes to go a centimetre and back: 2 cm ÷ 343 m/s, the speed of
	// sound in dry air at 20 °C.
	perCentimetre = 58_309
	// unheard is how long the output stays high when no echo comes (from memory).
	unheard = 38_000_000
)

func (r *Rig) addEcho(p *build.Part, of map[*wiring.Piece]*region) {
	kind, ok := r.net.Library.Catalogue.Kind(p.Kind)
	if !ok || !kind.Is(part.Echo) {
		return
	}
	in := kind.Inside[0]
	e := echoer{part: p, distance: r.net.HandOf(p.ID, in.Legs[1])}
	e.output = slices.IndexFunc(r.net.Controls, func(x wiring.Control) bool { return x.Of == p.ID+"."+in.Legs[1] })
	e.trigger.node = r.net.Node(build.Of(p.ID, in.Legs[0]))
	if e.trigger.region = of[r.net.PieceOf(e.trigger.node)]; e.trigger.region != nil {
		e.trigger.region.chips = true
	}
	r.echoes = append(r.echoes, e)
}

// next is when the output goes over.
func (e *echoer) next() int64 {
	switch {
	case e.rises > 0:
		return e.rises
	case e.ends > 0:
		return e.ends
	}
	return machine.Never
}

// hear has the modules notice that they are triggered: by the end of a level that was high for long
// enough, while no echo is on its way, and while they are fed.
func (r *Rig) hear() {
	for i := range r.echoes {
		e := &r.echoes[i]
		if e.trigger.region == nil || !e.trigger.region.touched {
			continue
		}
		high := r.high(e.trigger)
		switch {
		case high && !e.was:
			e.rose = r.now
		case !high && e.was && r.now-e.rose >= trigger && e.next() == machine.Never && e.output >= 0 && r.powered(e.part):
			kind, _ := r.net.Library.Catalogue.Kind(e.part.Kind)
			e.measured++
			e.rises = r.now + sends
			e.ends = e.rises + unheard
			if cm := r.Setting(e.distance); cm <= wiring.ValueOf(kind, e.part, kind.Inside[0].Value("reach")).Typ {
				e.ends = e.rises + int64(cm*perCentimetre)
			}
		}
		e.was = high
	}
}

func (r *Rig) powered(p *build.Part) bool {
	plus, minus := r.net.Fed(p)
	return plus && minus
}

// answer lets the outputs go over whose time has come.
func (r *Rig) answer() {
	for i := range r.echoes {
		e := &r.echoes[i]
		if e.rises > 0 && e.rises <= r.now {
			e.rises = 0
			r.Turn(e.output, wiring.High)
		}
		if e.rises == 0 && e.ends > 0 && e.ends <= r.now {
			e.ends = 0
			r.Turn(e.output, wiring.Low)
		}
	}
}

// Measured is how often a distance module was asked to measure, and did.
func (r *Rig) Measured(id string) int {
	for i := range r.echoes {
		if r.echoes[i].part.ID == id {
			return r.echoes[i].measured
		}
	}
	return 0
}
