package program

import (
	"fmt"
	"strings"

	"cablaggio/core/judgement/check"
)

// sharedTimer finds duties that one timer or channel cannot give together.
var sharedTimer = rule{"timer", func(f *facts) []check.Finding {
	var out []check.Finding
	channels := map[string]*pinFacts{}
	timer := f.board.Programs().ToneTimer
	var tones []*pinFacts
	for _, p := range f.used {
		if p.toneLine > 0 {
			tones = append(tones, p)
		}
	}
	for _, p := range f.used {
		pin, ok := f.board.Numbered(p.pin)
		if !ok || p.duty.line == 0 || pin.PWM == nil {
			continue
		}
		if other := channels[pin.PWM.Channel]; pin.PWM.Channel != "" && other != nil {
			out = append(out, f.about(check.Finding{
				Level: check.Stop, Line: p.duty.line,
				Title: fmt.Sprintf("%s and %s share a channel: they always have the same duty.", f.named(other.pin), f.named(p.pin)),
				Why:   "What the program sets for the one it sets for the other. Take a pin with a channel of its own.",
			}, other.pin, p.pin))
		}
		channels[pin.PWM.Channel] = p
		if timer != "" && len(tones) > 0 && strings.HasPrefix(pin.PWM.Channel, timer) {
			out = append(out, f.about(check.Finding{
				Level: check.Care, Line: p.duty.line,
				Title: fmt.Sprintf("A tone takes the timer that %s gets its duty from.", f.named(p.pin)),
				Why:   fmt.Sprintf("While it sounds, nothing is dimmed there. Take a pin whose timer the tone leaves alone: %s.", f.dimmable(timer)),
			}, p.pin, tones[0].pin))
		}
	}
	return out
}}

// dimmable lists the pins with PWM that a tone leaves alone.
func (f *facts) dimmable(timer string) string {
	var out []string
	for _, p := range f.board.Pins {
		if p.PWM != nil && !strings.HasPrefix(p.PWM.Channel, timer) {
			out = append(out, p.Name)
		}
	}
	return strings.Join(out, ", ")
}
