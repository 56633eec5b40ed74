package meter

import (
	"fmt"
	"math"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
)

// countedTurns is how often something is turned by hand to count what the program prints.
const countedTurns = 10

// counts is what the test program counts while a pulse sensor is turned ten times: all of its
// closings where the pin sees one level with the contact open and the other with it closed, none
// where it always sees the same.
func (m *Instrument) counts(n *wiring.Network, q Question) (Expectation, error) {
	v, err := counted(n, q)
	if err != nil {
		return Expectation{}, err
	}
	text := fmt.Sprintf("%g", v)
	return Expectation{
		Unit: quantity.None, Low: v, Typ: v, High: v, Text: text, TypText: text, Range: "the console",
		Working: []string{fmt.Sprintf("%d turns, each closes it as often as its part says", countedTurns)},
	}, nil
}

// counted is the number alone.
func counted(n *wiring.Network, q Question) (float64, error) {
	id, _ := q.Black.Split()
	p := n.Doc.Part(id)
	if p == nil {
		return 0, fmt.Errorf("%s is of no part whose turns could be counted", q.Black)
	}
	kind, _ := n.Library.Catalogue.Kind(p.Kind)
	if _, ok := kind.Value("closures"); !ok {
		return 0, fmt.Errorf("%s closes no contact as it turns", p.Name)
	}
	rail := n.RailVolts(n.Board.Logic.Rail).Typ
	low, high := n.Board.Logic.VIL.At(rail), n.Board.Logic.VIH.At(rail)
	var level [2]float64
	for setting, to := range []string{"open", "closed"} {
		set := wiring.Settings{id: to}
		for of, v := range q.Set {
			set[of] = v
		}
		settings, err := n.Resolve(set)
		if err != nil {
			return 0, err
		}
		if level[setting], err = n.Typical(settings, q.Red); err != nil {
			return 0, err
		}
	}
	switch lo, hi := math.Min(level[0], level[1]), math.Max(level[0], level[1]); {
	case lo <= low && hi >= high:
		return math.Round(countedTurns * wiring.ValueOf(kind, p, "closures").Typ), nil
	case lo > low && lo < high || hi > low && hi < high:
		return 0, fmt.Errorf("what %s sees is between the levels", q.Red)
	}
	return 0, nil
}

// countable proposes to count the closings of a pulse sensor.
func (s *surveyor) countable(p *build.Part) {
	kind, _ := s.lib.Catalogue.Kind(p.Kind)
	if _, ok := kind.Value("closures"); !ok {
		return
	}
	for _, x := range p.Signals {
		pin := build.Pin(x.Pin)
		set := wiring.Settings{}
		if x.Pull != "" {
			set[x.Pin] = "pulled " + string(x.Pull)
		}
		for _, t := range kind.Terminals {
			if leg := build.Of(p.ID, t.ID); s.wired(leg) && s.wired(pin) {
				s.add(Question{Way: Counts, Red: pin, Black: leg, Set: set}, true, p.ID, "")
				return
			}
		}
	}
}
