package program

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"cablaggio/core/judgement/check"
	"cablaggio/core/running/rig"
)

// pulseBounce finds programs that take the bounces of a pulse sensor's contact for pulses. What
// the hands did is known: the same pulses, with bounces and without, are to print the same.
var pulseBounce = rule{"pulse-bounce", func(f *facts) []check.Finding {
	var out []check.Finding
	for _, clean := range f.o.runs {
		c := f.contact(clean)
		if c == nil || !strings.HasSuffix(clean.name, pulsing) {
			continue
		}
		i := slices.IndexFunc(f.o.runs, func(r *run) bool { return r.name == c.Name+pulsingAndBouncing })
		if i < 0 {
			continue
		}
		with, without := measured(f.o.runs[i]), measured(clean)
		if len(without) < 2 || len(with) < 2 {
			continue
		}
		// The first may be of a time that had only begun.
		more, less := typical(with[1:]), typical(without[1:])
		if many := float64(len(with)) / float64(len(without)); many < 1+bounceTells && many > 1/(1+bounceTells) && math.Abs(more-less) <= bounceTells*math.Abs(less) {
			continue
		}
		p := f.net.Whose(c)
		x := check.Finding{Level: check.Care, Parts: []string{p.ID}, State: f.o.runs[i].name}
		for _, s := range p.Signals {
			x.Pins = append(x.Pins, s.Pin)
			if q := f.o.pins[f.board.Number(s.Pin)]; q != nil {
				x.Line = max(x.Line, q.attachLine, q.readLine)
			}
		}
		x.Title = fmt.Sprintf("The program takes bounces of %s for pulses.", c.Name)
		x.Why = fmt.Sprintf("At %.3g pulses a second it prints about %.3g, %d times; without bounces about %.3g, %d times. The contact bounces for up to %s, as it closes and as it opens: count a closing in front of which the pin was quiet for longer.",
			rig.ValueOf(f.net, p, "rate"), more, len(with), less, len(without), seconds(rig.BounceOf(f.net, p)))
		out = append(out, x)
	}
	return out
}}

// bounceTells is by which part what is printed must differ to tell: more than one pulse in a
// second more or less does.
const bounceTells = 0.3

var aNumber = regexp.MustCompile(`-?\d+(?:\.\d+)?`)

// measured is the last number of each line that is printed.
func measured(r *run) (out []float64) {
	text := ""
	for _, p := range r.prints {
		text += p.text
	}
	for line := range strings.Lines(text) {
		if all := aNumber.FindAllString(line, -1); all != nil {
			if v, err := strconv.ParseFloat(all[len(all)-1], 64); err == nil {
				out = append(out, v)
			}
		}
	}
	return out
}

// typical is the median of numbers, of which there is one.
func typical(of []float64) float64 {
	sorted := slices.Sorted(slices.Values(of))
	return sorted[len(sorted)/2]
}
