package choose

import (
	"errors"
	"fmt"
	"math"

	"cablaggio/core/board"
	"cablaggio/core/build"
	"cablaggio/core/preferred"
	"cablaggio/core/spec"
	"cablaggio/core/wiring"
)

// Divider returns the E12 value for the resistor that divides a voltage with a
// sensor, with which the sensor's settings move the voltage at its analog pin
// over the widest range; of nearly equal ones (1 %) the smallest, because the
// converter sees it as the resistance of its source.
func Divider(lib *build.Library, doc *build.Document, resistor, sensor string) (float64, error) {
	s := doc.Part(sensor)
	if s == nil {
		return 0, fmt.Errorf("there is no part %q", sensor)
	}
	n := wiring.Build(lib, doc)
	param := n.ParamOf(n.Find(wiring.Body, resistor, ""))
	for _, signal := range s.Signals {
		node := n.Node(build.Pin(signal.Pin))
		piece := n.PieceOf(node)
		if signal.Needs != board.AnalogIn || piece == nil || param < 0 {
			continue
		}
		best, widest := 0.0, 0.0
		for exp := 2; exp <= 5; exp++ {
			for _, d := range preferred.E12.Decade() {
				ohms := float64(d) * math.Pow10(exp-2)
				n.Params[param].Value = spec.Exactly(ohms, "trial")
				piece.Forget()
				low, high := math.Inf(1), math.Inf(-1)
				for state := range piece.States() {
					solved, err := piece.Typical(state)
					if err != nil {
						return 0, err
					}
					v := solved.Volts(node).Typ
					low, high = math.Min(low, v), math.Max(high, v)
				}
				if span := high - low; span > widest*1.01 {
					best, widest = ohms, span
				}
			}
		}
		if best > 0 {
			return best, nil
		}
	}
	return 0, errors.New("the resistor and the sensor divide nothing at an analog pin")
}
