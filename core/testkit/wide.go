package testkit

import "os"

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
