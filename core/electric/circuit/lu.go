package circuit

import "math"

// factor replaces an n by n matrix, row by row, with its factors L and U, rows
// exchanged for the largest pivot (Golub and Van Loan, Matrix Computations, 3.4).
// It is false when the matrix is singular. Matrices here have a handful of rows,
// for which the blocks and checks of a library cost more than the factors.
func factor(a []float64, n int, pivots []int) bool {
	for k := range n {
		p, most := k, math.Abs(a[k*n+k])
		for i := k + 1; i < n; i++ {
			if v := math.Abs(a[i*n+k]); v > most {
				p, most = i, v
			}
		}
		pivots[k] = p
		if !(most > 0) || math.IsInf(most, 1) {
			return false
		}
		top := a[k*n : k*n+n]
		if p != k {
			other := a[p*n : p*n+n]
			for j := range top {
				top[j], other[j] = other[j], top[j]
			}
		}
		inverse := 1 / top[k]
		for i := k + 1; i < n; i++ {
			row := a[i*n : i*n+n]
			if row[k] == 0 {
				continue
			}
			l := row[k] * inverse
			row[k] = l
			for j := k + 1; j < n; j++ {
				row[j] -= l * top[j]
			}
		}
	}
	return true
}

// substitute solves A·x = b in place, with the factors of A.
func substitute(a []float64, n int, pivots []int, b []float64) {
	for k, p := range pivots {
		b[k], b[p] = b[p], b[k]
	}
	for i := 1; i < n; i++ {
		row, sum := a[i*n:i*n+i], b[i]
		for j, l := range row {
			sum -= l * b[j]
		}
		b[i] = sum
	}
	for i := n - 1; i >= 0; i-- {
		row, sum := a[i*n:i*n+n], b[i]
		for j := i + 1; j < n; j++ {
			sum -= row[j] * b[j]
		}
		b[i] = sum / row[i]
	}
}

// transposed solves Aᵀ·x = b in place, with the factors of A.
func transposed(a []float64, n int, pivots []int, b []float64) {
	for i := range n {
		row := a[i*n : i*n+n]
		b[i] /= row[i]
		for j, x := i+1, b[i]; j < n && x != 0; j++ {
			b[j] -= row[j] * x
		}
	}
	for i := n - 1; i > 0; i-- {
		if x := b[i]; x != 0 {
			for j, l := range a[i*n : i*n+i] {
				b[j] -= l * x
			}
		}
	}
	for k := n - 1; k >= 0; k-- {
		p := pivots[k]
		b[k], b[p] = b[p], b[k]
	}
}
