package wiring_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
)

// readings solves the piece at a part's analog pin in its settings, in order.
func readings(t *testing.T, board string, edits ...plan.Edit) (volts []wiring.Range) {
	t.Helper()
	n := network(t, board, edits...)
	for _, u := range n.Uses {
		node := n.Node(build.Pin(u.Pin.Name))
		p := n.PieceOf(node)
		for _, solved := range planned(t, p) {
			volts = append(volts, solved.Volts(node))
		}
	}
	return volts
}

// A voltage divider, the first worked example of every textbook:
// U · R2 ÷ (R1 + R2).
func TestThePotentiometerDivides(t *testing.T) {
	v := readings(t, "classic-5v", plan.Add{Kind: "potentiometer"})
	require.Len(t, v, 3)
	assert.InDelta(t, 0, v[0].Typ, 0.002)
	assert.InDelta(t, 2.5, v[1].Typ, 0.001)
	assert.InDelta(t, 5, v[2].Typ, 0.002)
	// The tolerance of the track is the same on both sides of the wiper, so the
	// middle moves with the rail (4.75 V to 5.25 V) and the leakage (1 µA through
	// 3 kΩ) alone.
	assert.InDelta(t, 4.75/2, v[1].Low, 0.004)
	assert.InDelta(t, 5.25/2, v[1].High, 0.004)
}

// IEC 60539-1: R = R25 · exp(B·(1/T − 1/T25)). With B = 3950 K a 10 kΩ part has
// 33.6 kΩ at 0 °C and 2.49 kΩ at 60 °C (common tables for such parts: 32 to
// 34 kΩ, and 2.4 to 2.5 kΩ).
func TestTheThermistorFollowsItsB(t *testing.T) {
	v := readings(t, "classic-5v", plan.Add{Kind: "thermistor"},
		plan.Value{Part: "thermistor1-sense", Value: "resistance", Text: "10k"})
	require.Len(t, v, 3)
	for i, celsius := range []float64{0, 25, 60} {
		ohms := 10e3 * math.Exp(3950*(1/(celsius+273.15)-1/298.15))
		assert.InDelta(t, 5*10e3/(10e3+ohms), v[i].Typ, 1e-4, "%g °C", celsius)
	}
	assert.InDelta(t, 33.6e3, 10e3*(5/v[0].Typ-1), 100)
	assert.InDelta(t, 2.49e3, 10e3*(5/v[2].Typ-1), 10)
}

// A tenfold illuminance divides the resistance by 10^gamma: the definition.
func TestTheLightResistorFollowsItsGamma(t *testing.T) {
	v := readings(t, "classic-5v", plan.Add{Kind: "light-resistor"},
		plan.Value{Part: "light-resistor1", Value: "gamma", Text: "0.5"},
		plan.Value{Part: "light-resistor1", Value: "r10", Text: "10k"},
		plan.Value{Part: "light-resistor1-sense", Value: "resistance", Text: "1k"})
	require.Len(t, v, 3)
	for i, lux := range []float64{1, 200, 10000} {
		ohms := 10e3 / math.Sqrt(lux/10)
		assert.InDelta(t, 5*1e3/(1e3+ohms), v[i].Typ, 1e-4, "%g lx", lux)
	}
	assert.Less(t, v[0].Typ, v[1].Typ, "brighter reads higher in this hookup")
}

func TestBothWaysOfADivider(t *testing.T) {
	up := readings(t, "slim-3v3", plan.Add{Kind: "thermistor", Hookup: "divider-up"})
	down := readings(t, "slim-3v3", plan.Add{Kind: "thermistor", Hookup: "divider-down"})
	for i := range up {
		assert.InDelta(t, 3.3, up[i].Typ+down[i].Typ, 1e-3, "what the one has, the other has not")
	}
}

// The resistance of a divider's source is its two resistors in parallel
// (Thévenin; every textbook).
func TestSourceResistance(t *testing.T) {
	n := network(t, "classic-5v", plan.Add{Kind: "thermistor"},
		plan.Value{Part: "thermistor1-sense", Value: "resistance", Text: "10k"})
	node := n.Node(build.Pin("A0"))
	p := n.PieceOf(node)
	i := 0
	for _, solved := range planned(t, p) {
		ohms := solved.SourceOhms(node, n.Leak(node))
		if i == 1 { // at 25 °C: 10 kΩ beside 10 kΩ
			assert.InDelta(t, 5000, ohms, 5)
		}
		i++
	}
	assert.Equal(t, 3, i)
}

// A ratiometric sensor gives a part of its supply, so the reading does not care
// what the supply is.
func TestASensorThatDividesItsSupply(t *testing.T) {
	for _, board := range []string{"classic-5v", "slim-3v3"} {
		v := readings(t, board, plan.Add{Kind: "soil-moisture"})
		require.Len(t, v, 3)
		supply := 5.0
		if board == "slim-3v3" {
			supply = 3.3
		}
		for i, part := range []float64{0.8, 0.55, 0.35} {
			assert.InDelta(t, part*supply, v[i].Typ, 0.002)
		}
	}
}

// A push-pull output drives both ways; an open collector only ties to ground,
// and the pin's own pull-up does the rest.
func TestDigitalSensors(t *testing.T) {
	push := readings(t, "slim-3v3", plan.Add{Kind: "digital-sensor"})
	require.Len(t, push, 2)
	assert.InDelta(t, 0, push[0].Peak(), 0.002)
	assert.InDelta(t, 3.3, push[1].Typ, 0.002)
	open := readings(t, "slim-3v3", plan.Add{Kind: "open-collector-sensor"})
	require.Len(t, open, 2)
	assert.InDelta(t, 3.3, open[0].Typ, 0.01)
	assert.InDelta(t, 0, open[1].Peak(), 0.01)
	// Without its ground leg it ties nothing to anything.
	loose := readings(t, "slim-3v3", plan.Add{Kind: "open-collector-sensor"},
		plan.Free{Terminal: "open-collector-sensor1.gnd"})
	assert.Greater(t, loose[1].Typ, 3.0)
}

// An LED's own values reach the model: at the stated current it drops the
// stated voltage.
func TestOwnValuesReachTheModel(t *testing.T) {
	n := network(t, "classic-5v", plan.Add{Kind: "led", Type: "red"},
		plan.Value{Part: "led1", Value: "forwardVoltage", Text: "1.7"},
		plan.Value{Part: "led1", Value: "testCurrent", Text: "10 mA"},
		// 5 V − 1.7 V over 10 mA, less the 25 Ω of the pin.
		plan.Value{Part: "led1-resistor", Value: "resistance", Text: "305"})
	element := n.Find(wiring.Body, "led1", "")
	p := n.PieceWith(element)
	solved, err := p.At(wiring.State{wiring.DrivenHigh})
	require.NoError(t, err)
	assert.InDelta(t, 10e-3, solved.Amps(element).Typ, 1e-6)
	assert.Equal(t, "your own value", n.ValueAt(element).Source)
}

// A button's legs are joined in pairs inside: a wire on either leg of a pair is
// the same wire.
func TestTheLegsOfAButton(t *testing.T) {
	n := network(t, "classic-5v", plan.Add{Kind: "button"})
	assert.Equal(t, n.Node("button1.1a"), n.Node("button1.1b"))
	assert.Equal(t, n.Node("button1.2a"), n.Node("button1.2b"))
	assert.NotEqual(t, n.Node("button1.1a"), n.Node("button1.2a"))
}

// A module with a regulator of its own is high at that voltage, whatever it is fed with, behind its
// output resistance; without its feed it gives nothing (leakage of 1 µA through 1 kΩ aside).
func TestAnOutputOfItsOwnVoltage(t *testing.T) {
	v := readings(t, "classic-5v", plan.Add{Kind: "motion-module"})
	require.Len(t, v, 2)
	assert.InDelta(t, 0, v[0].Typ, 0.002)
	assert.InDelta(t, 3.3, v[1].Typ, 0.002)
	assert.InDelta(t, 3.3*0.97, v[1].Low, 0.004)
	assert.InDelta(t, 3.3*1.03, v[1].High, 0.004)
	for _, x := range readings(t, "classic-5v", plan.Add{Kind: "motion-module"}, plan.Free{Terminal: build.Of("motion-module1", "vcc")}) {
		assert.InDelta(t, 0, x.Typ, 0.002)
	}
}

// Pins that several signals share may do what any of them asks for: high for one lamp, low for
// another, and let go between, as lamps between any two pins need.
func TestASharedPinDoesWhatAnySignalAsks(t *testing.T) {
	lamp := func(id, high, low string) build.Part {
		return build.Part{ID: id, Kind: "led", Type: "red", Name: id, Signals: []build.Signal{
			{Name: "high", Needs: board.DigitalOut, Pin: high, Drive: part.Drive{Open: true}},
			{Name: "low", Needs: board.DigitalOut, Pin: low, Drive: part.Drive{Open: true, Active: part.ActiveLow}},
		}}
	}
	doc := build.New("between", "classic-5v")
	doc.Parts = []build.Part{lamp("a", "D2", "D4"), lamp("b", "D4", "D2")}
	n := wiring.Build(build.Shipped(), doc)
	for _, c := range n.Controls {
		if c.Kind == wiring.Mode && (c.Of == "D2" || c.Of == "D4") {
			assert.Equal(t, []float64{wiring.DrivenLow, wiring.LetGo, wiring.DrivenHigh}, c.Planned, c.Of)
		}
	}
}
