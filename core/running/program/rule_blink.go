package program

import (
	"fmt"
	"math"
	"slices"

	"cablaggio/core/judgement/check"
	"cablaggio/core/running/rig"
)

// blink finds lamps that go on and off faster than anybody sees, or flash for less.
var blink = rule{"blink", func(f *facts) []check.Finding {
	var out []check.Finding
	exclusive := func(id string) bool {
		return slices.ContainsFunc(f.doc.Exclusive, func(g []string) bool { return slices.Contains(g, id) })
	}
	for i := range f.o.alone.rig.Actors {
		for _, r := range f.o.all() {
			a := &r.rig.Actors[i]
			if !a.Lamp || r.control == -2 || exclusive(a.Part.ID) || len(a.Acts) < 8 {
				continue
			}
			on, off, n := shares(a)
			fades := false
			if n < 4 {
				if on, off, n = fading(a); n < 4 || on+off >= 20*ms {
					continue
				}
				fades = true
			}
			pin, line := f.driver(a)
			x := check.Finding{Level: check.Care, Parts: []string{a.Part.ID}, Line: line, State: r.name}
			if r == f.o.alone {
				x.State = ""
			}
			if pin != "" {
				x.Pins = []string{pin}
			}
			period := on + off
			switch {
			case fades:
				x.Title = fmt.Sprintf("%s goes from dark to bright and back %s times a second: the eye sees it steadily lit.", a.Name, rounded(1e9/float64(period)))
				x.Why = "From about 60 times a second on nobody sees it come and go (common practice). A pause of some milliseconds is missing after each step of the duty."
			case period < 16*ms && (int64(n)*period < 300*ms && !a.Lost || dimmed(a)):
				continue // a contact that bounces, and what follows it; or a duty that the program makes
			case period < 16*ms:
				x.Title = fmt.Sprintf("%s goes on and off %s times a second: the eye sees it steadily lit, at %.0f %%.", a.Name, rounded(1e9/float64(period)), 100*float64(on)/float64(period))
				x.Why = "From about 60 times a second on nobody sees a blinking (common practice). A pause is missing after one of the two writes, or both."
			case on < 4*ms && off > 50*ms:
				x.Title = fmt.Sprintf("%s is lit for %s only: hardly anybody sees that.", a.Name, seconds(on))
				x.Why = "After the write that lights it a pause is missing."
			case off < 4*ms && on > 50*ms:
				x.Title = fmt.Sprintf("%s is dark for %s only: it seems to stay lit.", a.Name, seconds(off))
				x.Why = "After the write that darkens it a pause is missing."
			default:
				continue
			}
			out = append(out, x)
			break
		}
	}
	return out
}}

// shares is how long an actor is typically on and off, when it goes to and fro.
func shares(a *rig.Actor) (on, off int64, n int) {
	var ons, offs []int64
	start := 0
	for k := 1; k < len(a.Acts); k++ {
		was, is := a.Acts[k-1].Amps >= a.On, a.Acts[k].Amps >= a.On
		if a.Acts[k].Hertz > 0 || a.Acts[k-1].Hertz > 0 {
			return 0, 0, 0
		}
		if was == is {
			continue
		}
		if start > 0 {
			if lasted := a.Acts[k].At - a.Acts[start].At; was {
				ons = append(ons, lasted)
			} else {
				offs = append(offs, lasted)
			}
		}
		start = k
	}
	if len(ons) == 0 || len(offs) == 0 {
		return 0, 0, 0
	}
	slices.Sort(ons)
	slices.Sort(offs)
	return ons[len(ons)/2], offs[len(offs)/2], min(len(ons), len(offs))
}

// dimmed reports whether what goes on and off fast is on for a share that changes: then the program
// makes a duty of its own, and means what the eye sees.
func dimmed(a *rig.Actor) bool {
	const window = 120 * ms // some rounds of the slowest that the eye takes for steady
	const differs = 0.15
	least, most := 1.0, 0.0
	for from := a.Acts[0].At; from+window <= a.Acts[len(a.Acts)-1].At; from += window {
		on, at, was := int64(0), from, a.At(from).Amps >= a.On
		for _, x := range append(slices.Clone(a.Within(from, from+window)), rig.Act{At: from + window}) {
			if x.At > at {
				if was {
					on += x.At - at
				}
				at = x.At
			}
			was = x.Amps >= a.On
		}
		if a.Changes(from, from+window) > 4 {
			share := float64(on) / float64(window)
			least, most = min(least, share), max(most, share)
		}
	}
	return most-least > differs
}

// fading is how long an actor that is pulsed is typically more than half as bright as it gets, and
// less, when it goes from dark to bright and back.
func fading(a *rig.Actor) (on, off int64, n int) {
	least, most := math.Inf(1), 0.0
	for _, x := range a.Acts {
		least, most = min(least, x.Amps), max(most, x.Amps)
	}
	if most < 3*a.On || least > most/4 {
		return 0, 0, 0
	}
	half := rig.Actor{On: (least + most) / 2}
	for _, x := range a.Acts {
		half.Acts = append(half.Acts, rig.Act{At: x.At, Amps: x.Amps})
	}
	return shares(&half)
}

// rounded writes a number of which the size matters.
func rounded(x float64) string {
	if x >= 1000 {
		return fmt.Sprintf("%.0f", math.Round(x/100)*100)
	}
	return fmt.Sprintf("%.0f", x)
}
