package check

import "cablaggio/core/electric/circuit"

// thresholds returns what an input reads as low and as high, with the logic's rail at its
// typical voltage.
func (f *facts) thresholds() (vil, vih float64) {
	l := f.board.Logic
	rail := f.net.RailVolts(l.Rail).Typ
	return l.VIL.At(rail), l.VIH.At(rail)
}

// A standing is how a digital input stands to its thresholds in the corner in which it
// is nearest to the wrong side. Thresholds follow the rail, which moves with the supply,
// so that the voltage and the threshold are those of one corner.
type standing struct {
	reads     Reads
	volts     float64 // of the input
	threshold float64 // which it has to keep clear of: VIL when it should read low, or VIH
	rail      float64 // the logic's supply
	low       bool    // it should read low: typically it is below the middle
}

// margin is how far a level keeps clear of its threshold.
func (s standing) margin() float64 {
	if s.low {
		return s.threshold - s.volts
	}
	return s.volts - s.threshold
}

// stands says how a digital input at a node stands in a visit.
func (f *facts) stands(v visit, node circuit.Node) (s standing) {
	l := f.board.Logic
	rail := f.net.RailNode(l.Rail)
	vil, vih := f.thresholds()
	if s.low = v.Typical(node) < (vil+vih)/2; s.low {
		s.volts, s.rail = v.Against(node, rail, l.VIL.Fraction, true)
		s.threshold = l.VIL.At(s.rail)
	} else {
		s.volts, s.rail = v.Against(node, rail, l.VIH.Fraction, false)
		s.threshold = l.VIH.At(s.rail)
	}
	switch {
	case !v.Held(node):
		s.reads = Floats
	case s.margin() < 0:
		s.reads = ReadsEither
	case s.low:
		s.reads = ReadsLow
	default:
		s.reads = ReadsHigh
	}
	return s
}

// reads says what a digital input makes of its node in a visit.
func (f *facts) reads(v visit, node circuit.Node) Reads {
	if !v.Held(node) {
		return Floats
	}
	return f.stands(v, node).reads
}

// hopeless reports whether an input has no sure level in any corner.
func (f *facts) hopeless(v visit, node circuit.Node) bool {
	l := f.board.Logic
	rail := f.net.RailNode(l.Rail)
	least, below := v.Against(node, rail, l.VIL.Fraction, false)
	most, above := v.Against(node, rail, l.VIH.Fraction, true)
	return least > l.VIL.At(below) && most < l.VIH.At(above)
}
