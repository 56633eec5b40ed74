package program

import (
	"fmt"

	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
)

// ended finds programs that come to an end by themselves.
var ended = rule{"ended", func(f *facts) []check.Finding {
	e := f.o.alone.ending
	if e.How != machine.Done {
		return nil
	}
	return []check.Finding{{
		Level: check.Care,
		Title: fmt.Sprintf("The program is over after %s.", seconds(e.At)),
		Why:   "From then on nothing is read and nothing changes. What shall go on stands in a loop: while True.",
	}}
}}
