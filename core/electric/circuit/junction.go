package circuit

import "math"

// at returns the junction's current at a voltage across junction and series
// resistance together, and the slope of that current.
//
// With a series resistance the implicit equation has the closed form
// i = (N·Vt/Rs)·ω(x) − Is, where ω is the Wright omega function (Banwell and
// Jayakumar, Electronics Letters 36(4), 2000, in terms of Lambert's W). It
// keeps the unknowns of the circuit to its real nodes, and it grows no faster
// than a straight line, so that Newton's steps cannot overflow.
func (j Junction) at(v float64) (i, g float64) {
	nvt := j.N * ThermalVoltage
	if j.bare() {
		e := math.Exp(v / nvt)
		return j.Is * (e - 1), j.Is / nvt * e
	}
	if v < -40*nvt {
		return -j.Is, 0 // the exponential is lost beside 1
	}
	a := j.Is * j.Rs / nvt
	if v < 0 && a < 1e-12 {
		// Backwards ω(x) is exp(x) to the last digit, which spares the logarithms.
		w := a * math.Exp(v/nvt)
		return nvt/j.Rs*w - j.Is, w / j.Rs
	}
	w := omega(math.Log(a) + (v+j.Is*j.Rs)/nvt)
	return nvt/j.Rs*w - j.Is, w / (j.Rs * (1 + w))
}

// bare reports whether the series resistance is none, or so small (a microohm)
// that the closed form would only lose digits over it.
func (j Junction) bare() bool { return j.Rs < 1e-6 }

// omega is the Wright omega function of a real argument: the w > 0 with
// w + ln w = x, to within a few units in the last place.
func omega(x float64) float64 {
	var w float64
	switch {
	case x < -700:
		return 0 // below the smallest current that a float holds
	case x < -37:
		return math.Exp(x) // w is lost beside ln w in a float
	case x < -2:
		w = math.Exp(x)
	case x < 1:
		w = math.Exp(2 * (x - 1) / 3)
	default:
		w = x - math.Log(x)
	}
	// Fritsch, Shafer and Crowley, Comm. ACM 16(2), 1973: fourth order.
	for range 3 {
		r := x - w - math.Log(w)
		u := 1 + w
		q := 2 * u * (u + 2*r/3)
		w *= 1 + r/u*(q-r)/(q-2*r)
		if math.Abs(r) < 1e-4*u { // what is left is its fourth power
			break
		}
	}
	return w
}

// limit holds back a step of the voltage across a junction (Nagel, SPICE2,
// UCB/ERL M520, 1975, 4.2). A bare junction needs it always, because its
// exponential would overflow; one with a series resistance only where Newton
// jumps to and fro between two junctions that face each other.
func (j Junction) limit(next, last float64) float64 {
	nvt := j.N * ThermalVoltage
	critical := nvt * math.Log(nvt/(math.Sqrt2*j.Is))
	if next <= critical || math.Abs(next-last) <= 2*nvt {
		return next
	}
	if last <= 0 {
		return nvt * math.Log(next/nvt)
	}
	if arg := 1 + (next-last)/nvt; arg > 0 {
		return last + nvt*math.Log(arg)
	}
	return critical
}
