package testkit

import (
	"math/rand/v2"
	"os"
	"testing"
)

// Wide reports whether tests look at everything they can (make test-wide) or at
// what takes a person's patience (make test).
func Wide() bool { return os.Getenv("CABLAGGIO_WIDE") != "" }

// Few returns the first number, or the second when tests are wide.
func Few(few, wide int) int {
	if Wide() {
		return wide
	}
	return few
}

// Draw returns what draws for a test: the same at every run, and in a wide run anew, with a
// seed that is told.
func Draw(t testing.TB) *rand.Rand {
	seed := uint64(1)
	if Wide() {
		seed = rand.Uint64()
	}
	t.Logf("drawn with the seed %d", seed)
	return rand.New(rand.NewPCG(seed, 0))
}

// Slow skips a test that only searches, where tests are short: beside the race
// detector, which slows it down tenfold. It runs without.
func Slow(t testing.TB) {
	t.Helper()
	if testing.Short() && !Wide() {
		t.Skip("it searches, and tests are to be short")
	}
}
