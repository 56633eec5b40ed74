package check

import (
	"fmt"
)

// pinShared finds pins that more than one signal claims.
var pinShared = rule{"pin-shared", func(f *facts) []Finding {
	var out []Finding
	for _, u := range f.net.Uses {
		for _, c := range u.Signals[1:] {
			first := u.Signals[0]
			if c.Signal.Bus != "" && c.Signal.Bus == first.Signal.Bus {
				continue // meant to be one line
			}
			x := Finding{
				Level: Stop, Parts: []string{first.Part.ID, c.Part.ID}, Pins: []string{u.Pin.Name},
				Title: fmt.Sprintf("%s and %s are both on %s.", first.Part.Name, c.Part.Name, u.Pin.Name),
				Why:   "A pin cannot drive the one and read the other.",
				Fixes: f.moveTo(c),
			}
			if first.Part == c.Part {
				x.Parts = x.Parts[:1]
				x.Title = fmt.Sprintf("%s has two of its signals on %s.", c.Part.Name, u.Pin.Name)
			}
			if first.Signal.Needs == c.Signal.Needs {
				x.Level = Care
				x.Why = "The program cannot tell them apart: what it does to one it does to the other."
			}
			out = append(out, x)
		}
	}
	return out
}}
