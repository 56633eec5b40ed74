// Package drawn lets the tests that import it draw the same at every run, and few; in a wide
// run many, or as many as CABLAGGIO_DRAWS says, and each time anew: rapid prints the seed with
// what failed. What is said at the command line counts more.
package drawn

import (
	"cmp"
	"flag"
	"os"

	"pgregory.net/rapid"
)

// checks are how many cases a property is tried with.
const (
	checks     = "40"
	checksWide = "1000"
)

var _ = rapid.Check // its flags are there before they are set

func init() {
	number, seed := checks, "1"
	if os.Getenv("CABLAGGIO_WIDE") != "" {
		number, seed = cmp.Or(os.Getenv("CABLAGGIO_DRAWS"), checksWide), "0"
	}
	for name, value := range map[string]string{"rapid.checks": number, "rapid.seed": seed} {
		if err := flag.Set(name, value); err != nil {
			panic(err)
		}
	}
}
