package should

import (
	"fmt"
	"slices"

	"cablaggio/core/running/bench"
	"cablaggio/core/values/quantity"
)

// mostSuggested is how many sentences are suggested.
const mostSuggested = 12

// doesUsually is what things do first of all.
var doesUsually = map[bench.RowKind]string{bench.LampRow: "is lit", bench.SoundRow: "sounds", bench.LoadRow: "runs", bench.TurnRow: "is at 90°"}

// Suggest lists sentences that could be said of the build, as a beginning: whether they hold
// is another question.
func (r *Reader) Suggest() []string {
	all := r.suggestions()
	return all[:min(len(all), mostSuggested)]
}

func (r *Reader) suggestions() []string {
	out := []string{}
	add := func(format string, args ...any) { out = append(out, fmt.Sprintf(format, args...)) }
	things := slices.DeleteFunc(slices.Clone(r.things), func(x thing) bool { return x.digit })
	lamps := 0
	for _, x := range things {
		if x.kind == bench.LampRow {
			lamps++
		}
	}
	for _, of := range r.cases() {
		if x := of[0]; x.digit {
			add("before anything is touched, %s shows 0", x.cased)
			if k := slices.IndexFunc(r.hands, func(h bench.Hand) bool { return h.Kind == bench.Presses }); k >= 0 {
				add("the first press of %s makes %s show 1", r.hands[k].Name, x.cased)
				add("each press of %s counts %s up by one", r.hands[k].Name, x.cased)
			}
		}
	}
	for i, h := range r.hands {
		if len(things) == 0 {
			break
		}
		x := things[min(i, len(things)-1)]
		does := doesUsually[x.kind]
		switch {
		case h.Kind == bench.Presses || h.Kind == bench.Switches:
			add("while %s is %s, %s %s", h.Name, h.On, x.name, does)
			if h.Kind == bench.Presses && x.kind == bench.LampRow {
				add("each press of %s changes %s, within 100 ms", h.Name, x.name)
			}
		case h.Kind == bench.PadOf && x.kind == bench.LampRow:
			add("each press of %s lights %s", keyOf(h, h.Keys[0]), x.name)
		case h.Unit == turns && x.kind == bench.LampRow:
			add("turning %s takes %s from dark to full", h.Name, x.name)
		case h.Unit == turns:
			add("while %s is above 50 %%, %s %s", h.Name, x.name, does)
		case h.Kind == bench.Levels && len(h.At) > 1:
			add("while %s is above %s %s, %s %s", h.Name, quantity.Rough((h.At[0]+h.At[len(h.At)-1])/2, 2), h.Unit, x.name, does)
		case h.Kind == bench.Spins:
			add("while %s spins, %s %s", h.Name, x.name, does)
		}
	}
	if lamps > 1 {
		add("the lamps light one at a time")
	}
	for _, x := range things {
		if x.kind == bench.LampRow && len(r.hands) == 0 {
			add("%s blinks at 1 Hz", x.name)
		}
	}
	return out
}
