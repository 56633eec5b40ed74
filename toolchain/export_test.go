package toolchain

import "cablaggio/core/running/machine"

// Waiting is a program in Python that waits for every answer of the board before it goes on.
func Waiting(p machine.Program) machine.Program {
	r := *p.(*interpreted)
	r.waits = true
	return &r
}
