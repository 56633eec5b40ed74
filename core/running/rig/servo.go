package rig

import (
	"math"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
)

// A Servo is an arm that goes where the length of its pulses says.
type Servo struct {
	Part   *build.Part
	Angles []Angle // where it was sent, the first one first; at most [maxActs]

	signal leg
	was    bool
	rose   int64
}

// An Angle is where a servo was sent, and when.
type Angle struct {
	At      int64 // ns
	Degrees float64
}

func (r *Rig) addServo(p *build.Part, of map[*wiring.Piece]*region) {
	kind, ok := r.net.Library.Catalogue.Kind(p.Kind)
	if !ok || !kind.Is(part.Servo) {
		return
	}
	s := Servo{Part: p}
	s.signal.node = r.net.Node(build.Of(p.ID, kind.Inside[0].Legs[0]))
	if s.signal.region = of[r.net.PieceOf(s.signal.node)]; s.signal.region != nil {
		s.signal.region.chips = true
	}
	r.Servos = append(r.Servos, s)
}

// steer has servos notice how long their pulses were, while they are fed.
func (r *Rig) steer() {
	for i := range r.Servos {
		s := &r.Servos[i]
		if s.signal.region == nil || !s.signal.region.touched {
			continue
		}
		high := r.high(s.signal)
		switch {
		case high && !s.was:
			s.rose = r.now
		case !high && s.was && r.powered(s.Part):
			s.sent(r, r.now-s.rose)
		}
		s.was = high
	}
}

// sent notes a pulse. One that is far from what servos understand moves nothing.
func (s *Servo) sent(r *Rig, ns int64) {
	kind, _ := r.net.Library.Catalogue.Kind(s.Part.Kind)
	value := func(name string) float64 {
		return wiring.ValueOf(kind, s.Part, kind.Inside[0].Value(name)).Typ
	}
	least, most := value("pulseLeast")*1e9, value("pulseMost")*1e9
	const beyond = 0.15 // of its range, to both sides (from memory)
	part := (float64(ns) - least) / (most - least)
	if part < -beyond || part > 1+beyond {
		return
	}
	degrees := math.Max(0, math.Min(1, part)) * value("sweep")
	if n := len(s.Angles); n < maxActs && (n == 0 || math.Abs(s.Angles[n-1].Degrees-degrees) > 0.5) {
		s.Angles = append(s.Angles, Angle{r.now, degrees})
	}
}
