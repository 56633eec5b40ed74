package should

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"cablaggio/core/running/bench"
	"cablaggio/core/values/quantity"
)

// story tells what hands do in a run up to a time, in words: "press walk, wait 8.5 s".
func story(hands []bench.Hand, actions []bench.Action, until float64) string {
	var out []string
	at := 0.0
	wait := func(to float64) {
		const worth = 0.25 // s from which on a pause is told
		if to-at >= worth {
			out = append(out, "wait "+seconds(to-at))
		}
		at = math.Max(at, to)
	}
	for i, a := range actions {
		if a.At > until || a.Do == bench.Release {
			continue
		}
		wait(a.At)
		name, unit := a.Of, ""
		if k := slices.IndexFunc(hands, func(h bench.Hand) bool { return h.Of == a.Of }); k >= 0 {
			name, unit = hands[k].Name, hands[k].Unit
			if hands[k].Kind == bench.PadOf {
				name = keyOf(hands[k], a.Key)
			}
			if hands[k].Kind == bench.Switches && a.Do == bench.Press {
				out = append(out, fmt.Sprintf("%s goes to %q", name, hands[k].On))
				continue
			}
		}
		switch a.Do {
		case bench.Press:
			const tap = 0.5 // s up to which a press is told as one
			end := until
			if k := slices.IndexFunc(actions[i:], func(b bench.Action) bool {
				return b.Do == bench.Release && b.Of == a.Of && b.Key == a.Key
			}); k >= 0 {
				end = math.Min(until, actions[i+k].At)
			}
			if end-a.At > tap {
				out = append(out, fmt.Sprintf("hold %s for %s", name, seconds(end-a.At)))
				if !slices.ContainsFunc(actions, func(b bench.Action) bool { return b.At > a.At && b.At < end && b.Do != bench.Release }) {
					at = end
				}
			} else {
				out = append(out, "press "+name)
			}
		case bench.Turn:
			out = append(out, fmt.Sprintf("turn %s to %.0f %%", name, 100*a.To))
		case bench.Set:
			out = append(out, strings.TrimSpace(fmt.Sprintf("set %s to %s %s", name, quantity.Rough(a.To, 3), unit)))
		case bench.Spin:
			out = append(out, fmt.Sprintf("spin %s at %s a second", name, quantity.Rough(a.To, 2)))
		case bench.Type:
			out = append(out, fmt.Sprintf("type %q", strings.TrimSpace(a.Text)))
		default:
			out = append(out, a.String())
		}
	}
	wait(until)
	if len(out) == 0 {
		return "do nothing"
	}
	return strings.Join(out, ", ")
}

// seconds is a time with as many digits as one counts with.
func seconds(s float64) string {
	if s < 0.95 {
		return quantity.Rough(1000*s, 2) + " ms"
	}
	return quantity.Rough(s, 2) + " s"
}

// extent says how far something was tried: in how many runs, with how many moves of hands, over how
// many seconds.
func extent(runs, deeds int, lasted float64) string {
	count := func(n int, one string) string {
		if n == 1 {
			return "1 " + one
		}
		return fmt.Sprintf("%d %ss", n, one)
	}
	with := "no hand"
	if deeds > 0 {
		with = count(deeds, "move") + " of hands"
	}
	return fmt.Sprintf("tried in %s, %s, %.0f s", count(runs, "run"), with, lasted)
}

// slowest is the longest that it took in a recording until what a press should do was to be seen; 0
// where nothing of that kind is said.
func (s *Sentence) slowest(rec *bench.Recording) (most float64) {
	if s.form != each || s.printed != nil || s.claim == leaves || s.after > 0 {
		return 0
	}
	for _, x := range s.times(rec) {
		if x.at+s.needs() > x.next {
			continue
		}
		for _, y := range s.things {
			r := row(rec, y)
			was := isOn(r, y, x.at)
			for _, t := range changesIn(r, span{x.at, x.at + s.within.Seconds() + eye}) {
				if isOn(r, y, t+eye) != was {
					most = math.Max(most, t-x.at)
					break
				}
			}
		}
	}
	return most
}

// barely says that it held only just, where it did: what took nine tenths of its time may take all
// of it by chance.
func (s *Sentence) barely(slowest float64) string {
	if within := s.within.Seconds(); slowest > 0.9*within {
		return fmt.Sprintf("only just: it took up to %s of %s", seconds(slowest), howLong(s.within))
	}
	return ""
}
