package meter

import (
	"math"
	"slices"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
)

// A Taken is a reading that was taken for a check.
type Taken struct {
	Check string // its id
	Value float64
	Over  bool // it showed OL
}

// A Feed is what readings say together that a build is fed with, in volts.
type Feed struct {
	Supply string  `json:"supply"` // id of the board's supply
	Low    float64 `json:"low"`
	Volts  float64 `json:"volts"`
	High   float64 `json:"high"`
	Text   string  `json:"text"` // "4.87 V"
	// Reckoned is what the build is reckoned with now.
	Reckoned string           `json:"reckoned"`
	By       []build.Terminal `json:"by"` // where it was read
}

// What makes readings tell of the supply.
const (
	fewestPlaces = 2   // one may be wrong
	leastShare   = 0.2 // of a change of the supply that must show in a reading
	mostWidth    = 0.5 // of what is reckoned with that may be left open
)

// Feed returns what the supply has by several readings that agree on it, where that is surely
// something else than the build is reckoned with; nil where they say nothing new, or contradict
// each other. Each says how much it is by its slope over the voltage of the rail, give or take what
// all other tolerances do to it and the meter is off; the mean is weighed by one over the square
// of that, and is not thought to be nearer than the nearest of them. A regulator holds its rail, and cells run
// down: nothing is concluded of them. Of each check of the build the newest reading counts, which
// is the first in the list, where it is as expected: what a fault explains tells nothing of the
// supply.
func (m *Instrument) Feed(lib *build.Library, doc *build.Document, checks *List, taken []Taken) *Feed {
	n := wiring.Build(lib, doc)
	s, ok := n.Board.Supply(doc.Supply)
	if !ok || s.Regulator != nil || doc.Cells != nil || doc.Also != "" {
		return nil
	}
	reckoned := n.RailVolts(s.Rail)
	if reckoned.High <= reckoned.Low {
		return nil
	}
	out := Feed{Supply: s.ID, Reckoned: quantity.Short(reckoned.Typ, quantity.Volt)}
	type says struct{ volts, off float64 }
	var all []says
	sum, weights, nearest := 0.0, 0.0, math.Inf(1)
	seen := map[string]bool{}
	for _, t := range taken {
		i := slices.IndexFunc(checks.Checks, func(c Check) bool { return c.ID == t.Check })
		if i < 0 || seen[t.Check] {
			continue
		}
		seen[t.Check] = true
		c := &checks.Checks[i]
		if !c.Expect.Allows(t.Value, t.Over) || t.Over || slices.Contains(out.By, c.Question.Red) {
			continue
		}
		volts, off, ok := m.feeds(n, s.Rail, c.Question, t.Value)
		if !ok {
			continue
		}
		all = append(all, says{volts, off})
		sum, weights, nearest = sum+volts/(off*off), weights+1/(off*off), math.Min(nearest, off)
		out.By = append(out.By, c.Question.Red)
	}
	if len(all) < fewestPlaces || 2*nearest > mostWidth*(reckoned.High-reckoned.Low) {
		return nil
	}
	out.Volts = sum / weights
	if math.Abs(out.Volts-reckoned.Typ) <= nearest {
		return nil
	}
	if slices.ContainsFunc(all, func(x says) bool { return math.Abs(x.volts-out.Volts) > x.off }) {
		return nil
	}
	out.Low, out.High = out.Volts-nearest, out.Volts+nearest
	out.Text = quantity.Short(out.Volts, quantity.Volt)
	return &out
}

// feeds returns what a reading says that a rail has, in volts, give or take how much.
func (m *Instrument) feeds(n *wiring.Network, rail string, q Question, reads float64) (at, off float64, ok bool) {
	if q.Way != Volts || q.Pulse {
		return 0, 0, false
	}
	settings, err := n.Resolve(q.Set)
	if err != nil {
		return 0, 0, false
	}
	typ, err := m.Typical(n, q)
	if err != nil {
		return 0, 0, false
	}
	leans, err := n.Leans(settings, q.Red, q.Black)
	if err != nil {
		return 0, 0, false
	}
	volts := n.RailVolts(rail)
	digit, _ := m.digit(reads, quantity.Volt) // no meter shows less
	slope, slack := 0.0, math.Max(m.error(reads, quantity.Volt), digit)
	for _, l := range leans {
		if l.Rail == rail {
			slope = (l.High - l.Low) / (volts.High - volts.Low)
		} else {
			slack += math.Max(math.Abs(l.Low), math.Abs(l.High))
		}
	}
	if math.Abs(slope) < leastShare {
		return 0, 0, false
	}
	return volts.Typ + (reads-typ)/slope, slack / math.Abs(slope), true
}
