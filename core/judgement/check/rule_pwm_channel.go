package check

import (
	"fmt"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
)

// pwmChannel finds pins whose duties are one.
var pwmChannel = rule{"pwm-channel", func(f *facts) []Finding {
	var out []Finding
	first := map[string]wiring.Claim{}
	for _, u := range f.net.Uses {
		for _, c := range u.Signals {
			if c.Signal.Needs != board.PWMOut || u.Pin.PWM == nil || u.Pin.PWM.Channel == "" {
				continue
			}
			channel := u.Pin.PWM.Channel
			other, ok := first[channel]
			if !ok {
				first[channel] = c
				continue
			}
			if other.Signal.Pin == u.Pin.Name {
				continue
			}
			out = append(out, Finding{
				Level: Stop, Parts: []string{other.Part.ID, c.Part.ID}, Pins: []string{other.Signal.Pin, u.Pin.Name},
				title: say("%s and %s share PWM channel %s: they always have the same duty.", pinName(other.Signal.Pin), pinName(u.Pin.Name), channel),
				why:   say("What the program sets for %s it sets for %s too.", called(other.Part.Name), called(c.Part.Name)),
				Fixes: f.moveOffChannels(c),
			})
		}
	}
	return out
}}

// moveOffChannels moves a PWM signal to a free pin whose channel nobody uses.
func (f *facts) moveOffChannels(c wiring.Claim) []Fix {
	used := map[string]bool{}
	for _, u := range f.net.Uses {
		for _, s := range u.Signals {
			if s.Signal.Needs == board.PWMOut && u.Pin.PWM != nil {
				used[u.Pin.PWM.Channel] = true
			}
		}
	}
	for _, p := range plan.PinsFor(f.lib, f.doc, c.Part, c.Signal) {
		if pin, _ := f.board.Pin(p.Pin); pin.PWM.Channel == "" || !used[pin.PWM.Channel] {
			return []Fix{{fmt.Sprintf("Move %s to %s", c.Part.Name, p.Pin), editsOf(plan.MovePin{Part: c.Part.ID, Signal: c.Signal.Name, Pin: p.Pin})}}
		}
	}
	return nil
}
