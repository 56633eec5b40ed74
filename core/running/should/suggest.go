package should

import (
	"fmt"

	"cablaggio/core/running/bench"
)

// mostSuggested is how many sentences are suggested.
const mostSuggested = 12

// doesUsually is what things do first of all.
var doesUsually = map[bench.RowKind]string{bench.LampRow: "is lit", bench.SoundRow: "sounds", bench.LoadRow: "runs"}

// Suggest lists sentences that could be said of the build, as a beginning: whether they hold
// is another question.
func (r *Reader) Suggest() []string {
	all := r.suggestions()
	return all[:min(len(all), mostSuggested)]
}

func (r *Reader) suggestions() []string {
	out := []string{}
	add := func(format string, args ...any) { out = append(out, fmt.Sprintf(format, args...)) }
	lamps := 0
	for _, x := range r.things {
		if x.kind == bench.LampRow {
			lamps++
		}
	}
	for i, h := range r.hands {
		if len(r.things) == 0 {
			break
		}
		x := r.things[min(i, len(r.things)-1)]
		does := doesUsually[x.kind]
		switch {
		case h.Kind == bench.Presses || h.Kind == bench.Switches:
			add("while %s is %s, %s %s", h.Name, h.On, x.name, does)
			if h.Kind == bench.Presses && x.kind == bench.LampRow {
				add("each press of %s changes %s, within 100 ms", h.Name, x.name)
			}
		case h.Kind == bench.PadOf && x.kind == bench.LampRow:
			add("each press of key %s of %s lights %s", h.Keys[0], h.Name, x.name)
		case h.Unit == turns && x.kind == bench.LampRow:
			add("turning %s takes %s from dark to full", h.Name, x.name)
		case h.Kind == bench.Levels && len(h.At) > 1:
			add("while %s is above %.0f %s, %s %s", h.Name, (h.At[0]+h.At[len(h.At)-1])/2, h.Unit, x.name, does)
		case h.Kind == bench.Spins:
			add("while %s spins, %s %s", h.Name, x.name, does)
		}
	}
	if lamps > 1 {
		add("the lamps light one at a time")
	}
	for _, x := range r.things {
		if x.kind == bench.LampRow && len(r.hands) == 0 {
			add("%s blinks at 1 Hz", x.name)
		}
	}
	return out
}
