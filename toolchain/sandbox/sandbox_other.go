//go:build !linux

package sandbox

import (
	"fmt"
	"os"
	"os/exec"
)

func dieWithParent(*exec.Cmd) {}

func init() {
	if len(os.Args) == 2 && os.Args[0] == name {
		fmt.Fprintln(os.Stderr, name+":", ErrUnavailable)
		os.Exit(exitUnavailable)
	}
}
