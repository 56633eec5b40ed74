package program

import (
	"fmt"

	"cablaggio/core/judgement/check"
)

// flickers finds lamps whose duty goes over so slowly that one sees it, and so fast that no
// blinking can be meant.
var flickers = rule{"flicker", func(f *facts) []check.Finding {
	const (
		blinks = 12.0 // Hz up to which it is a blinking
		steady = 50.0 // Hz from which on the eye sees steady light (common practice)
	)
	var out []check.Finding
	for i := range f.o.alone.rig.Actors {
		for _, r := range f.o.all() {
			a := &r.rig.Actors[i]
			hertz := 0.0
			for _, x := range a.Acts {
				if x.Hertz >= blinks && x.Hertz < steady && x.Amps >= a.On {
					hertz = x.Hertz
				}
			}
			if !a.Lamp || hertz == 0 {
				continue
			}
			pin, line := f.driver(a)
			x := check.Finding{Level: check.Care, Parts: []string{a.Part.ID}, Line: line}
			if pin != "" {
				x.Pins = []string{pin}
			}
			x.Title = fmt.Sprintf("%s is switched %g times a second: one sees it flicker.", a.Name, hertz)
			x.Why = "From about 50 times a second on the light seems steady (common practice); 200 and more is usual."
			out = append(out, x)
			break
		}
	}
	return out
}}
