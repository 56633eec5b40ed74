package circuit

import (
	"math"

	"gonum.org/v1/gonum/mat"
)

// phi1 returns φ1(h·a)·b with φ1(z) = (exp z − 1) ÷ z, and phi3 returns
// φ3(h·a)·b with φ3(z) = (exp z − 1 − z − z²/2) ÷ z³: the functions of
// exponential integrators. Of matrices they are read off the exponential of an
// augmented one (Sidje, ACM Trans. Math. Softw. 24(1), 1998, 4.2).
func phi1(a *mat.Dense, h float64, b []float64) []float64 { return phi(a, h, b, 1) }

func phi3(a *mat.Dense, h float64, b []float64) []float64 { return phi(a, h, b, 3) }

func phi(a *mat.Dense, h float64, b []float64, order int) []float64 {
	m := len(b)
	if m == 1 {
		return []float64{b[0] * phiOf(h*a.At(0, 0), order)}
	}
	w := mat.NewDense(m+order, m+order, nil)
	for j := range m {
		for k := range m {
			w.Set(j, k, h*a.At(j, k))
		}
		w.Set(j, m, b[j])
	}
	for k := 1; k < order; k++ {
		w.Set(m+k-1, m+k, 1)
	}
	var e mat.Dense
	e.Exp(w)
	out := make([]float64, m)
	for j := range m {
		out[j] = e.At(j, m+order-1)
	}
	return out
}

// phiOf is φ1 or φ3 of a number; near zero, where digits would be lost, by its
// series.
func phiOf(z float64, order int) float64 {
	if order == 1 {
		if z == 0 {
			return 1
		}
		return math.Expm1(z) / z
	}
	if math.Abs(z) < 0.1 {
		sum, term := 0.0, 1.0/6
		for k := 4.0; k < 12; k++ {
			sum += term
			term *= z / k
		}
		return sum
	}
	return (math.Expm1(z) - z - z*z/2) / (z * z * z)
}
