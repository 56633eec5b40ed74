package check

import ()

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
				title: say("%s and %s are both on %s.", called(first.Part.Name), called(c.Part.Name), pinName(u.Pin.Name)),
				why:   say("A pin cannot drive the one and read the other."),
				Fixes: f.moveTo(c),
			}
			if first.Part == c.Part {
				x.Parts = x.Parts[:1]
				x.title = say("%s has two of its signals on %s.", called(c.Part.Name), pinName(u.Pin.Name))
			}
			if first.Signal.Needs == c.Signal.Needs {
				x.Level = Care
				x.why = say("The program cannot tell them apart: what it does to one it does to the other.")
			}
			out = append(out, x)
		}
	}
	return out
}}
