package meter

import (
	"fmt"
	"math"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
)

// leastSwing is how far the voltage must go up and down for a handheld to count it, in volts
// (common practice: half a volt to a volt).
const leastSwing = 0.7

// rhythm is the frequency or the duty at a place to which the program gives a duty.
func (m *Instrument) rhythm(n *wiring.Network, q Question) (Expectation, error) {
	pin, low, high, err := m.pulsed(n, q)
	if err != nil {
		return Expectation{}, err
	}
	if swing := math.Abs(high.Typ - low.Typ); swing < leastSwing {
		return Expectation{}, fmt.Errorf("between these places it goes up and down by %s only, and a meter counts from about %s on", quantity.Short(swing, quantity.Volt), quantity.Short(leastSwing, quantity.Volt))
	}
	if q.Way == Duty {
		duty := q.At
		if high.Typ < low.Typ { // the tips are the other way round
			duty = 1 - duty
		}
		x := m.expect(quantity.Percent, wiring.Range{Low: 100 * duty, Typ: 100 * duty, High: 100 * duty}, 100.1)
		x.Range = "duty"
		return x, nil
	}
	if q.At == 0 || q.At == 1 {
		return Expectation{}, fmt.Errorf("at a duty of %.0f %% the pin stands still: there is no frequency", 100*q.At)
	}
	clock := n.Board.Programs().Clock
	x := m.expect(quantity.Hertz, wiring.Range{Low: pin.PWM.Hertz * clock.Low, Typ: pin.PWM.Hertz, High: pin.PWM.Hertz * clock.High}, math.Inf(1))
	x.Range = "frequency"
	return x, nil
}

// mean is what a meter on volts shows of a pin with a duty: the average (common practice: it does
// so from some tens of hertz on).
func (m *Instrument) mean(n *wiring.Network, q Question) (Expectation, error) {
	_, low, high, err := m.pulsed(n, q)
	if err != nil {
		return Expectation{}, err
	}
	part := func(a, b float64) float64 { return a + q.At*(b-a) }
	x := m.expect(quantity.Volt, wiring.Range{Low: part(low.Low, high.Low), Typ: part(low.Typ, high.Typ), High: part(low.High, high.High)}, math.Inf(1))
	x.Working = append([]string{fmt.Sprintf("the average of %s and %s, %.3g %% of the time the second", volts(low.Typ), volts(high.Typ), 100*q.At)}, x.Working...)
	return x, nil
}

// volts writes a voltage as a meter shows it: what is less than its last digit is none.
func volts(v float64) string { return quantity.Format(math.Round(v*1e4)/1e4, quantity.Volt) }

// pulsed finds the pin with a duty whose net a question is about, and solves the build with the
// meter in it while the pin is low and while it is high.
func (m *Instrument) pulsed(n *wiring.Network, q Question) (pin board.Pin, low, high wiring.Range, err error) {
	if !(q.At >= 0 && q.At <= 1) {
		return pin, low, high, fmt.Errorf("a duty is from 0 to 1, or 0 %% to 100 %%")
	}
	for _, t := range []build.Terminal{q.Red, q.Black} {
		for _, c := range n.Controls {
			p, ok := n.Board.Pin(c.Of)
			if !ok || c.Kind != wiring.Mode || p.PWM == nil || n.Node(build.Pin(p.Name)) != n.Node(t) && n.PieceOf(n.Node(build.Pin(p.Name))) != n.PieceOf(n.Node(t)) {
				continue
			}
			set := wiring.Settings{}
			for of, to := range q.Set {
				set[of] = to
			}
			for level, into := range map[string]*wiring.Range{"low": &low, "high": &high} {
				set[c.Of] = level
				if *into, err = m.loaded(n, Question{Way: Volts, Red: q.Red, Black: q.Black, Set: set}); err != nil {
					return pin, low, high, err
				}
			}
			return p, low, high, nil
		}
	}
	return pin, low, high, fmt.Errorf("at neither place is a pin that can have a duty")
}
