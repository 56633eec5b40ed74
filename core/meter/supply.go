package meter

import (
	"math"
	"slices"

	"cablaggio/core/build"
	"cablaggio/core/quantity"
	"cablaggio/core/wiring"
)

// A Taken is a reading of a voltage as it was taken.
type Taken struct {
	Question Question `json:"question"`
	Value    float64  `json:"value"` // in volts
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
// all other tolerances do to it and the meter is off. A regulator holds its rail, and cells run
// down: nothing is concluded of them.
func (m *Instrument) Feed(lib *build.Library, doc *build.Document, taken []Taken) *Feed {
	n := wiring.Build(lib, doc)
	s, ok := n.Board.Supply(doc.Supply)
	if !ok || s.Regulator != nil || doc.Cells != nil || doc.Also != "" {
		return nil
	}
	reckoned := n.RailVolts(s.Rail)
	if reckoned.High <= reckoned.Low {
		return nil
	}
	out := Feed{Supply: s.ID, Low: math.Inf(-1), High: math.Inf(1), Reckoned: quantity.Short(reckoned.Typ, quantity.Volt)}
	for _, t := range taken {
		low, high, ok := m.feeds(n, s.Rail, t)
		if !ok || slices.Contains(out.By, t.Question.Red) {
			continue
		}
		out.Low, out.High = math.Max(out.Low, low), math.Min(out.High, high)
		out.By = append(out.By, t.Question.Red)
	}
	if len(out.By) < fewestPlaces || out.High < out.Low || out.High-out.Low > mostWidth*(reckoned.High-reckoned.Low) {
		return nil
	}
	if out.Low <= reckoned.Typ && reckoned.Typ <= out.High {
		return nil
	}
	out.Volts = (out.Low + out.High) / 2
	out.Text = quantity.Short(out.Volts, quantity.Volt)
	return &out
}

// feeds returns between which voltages of a rail a reading is possible.
func (m *Instrument) feeds(n *wiring.Network, rail string, t Taken) (low, high float64, ok bool) {
	if t.Question.Way != Volts || t.Question.Pulse {
		return 0, 0, false
	}
	settings, err := n.Resolve(t.Question.Set)
	if err != nil {
		return 0, 0, false
	}
	typ, err := m.Typical(n, t.Question)
	if err != nil {
		return 0, 0, false
	}
	leans, err := n.Leans(settings, t.Question.Red, t.Question.Black)
	if err != nil {
		return 0, 0, false
	}
	volts := n.RailVolts(rail)
	slope, slack := 0.0, m.error(t.Value, quantity.Volt)
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
	at, off := volts.Typ+(t.Value-typ)/slope, slack/math.Abs(slope)
	return at - off, at + off, true
}
