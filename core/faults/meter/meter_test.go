package meter_test

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/meter"
	"cablaggio/core/planning/plan"
	"cablaggio/core/testkit"
	"cablaggio/core/values/quantity"
	"cablaggio/demo"
	"cablaggio/starts"
)

var lib = build.Shipped()

// A surveyed build is one that ships with the program, with its checks.
type surveyed struct {
	doc  *build.Document
	list *meter.List
}

// ready are the builds that ship with the program, by name.
var ready = sync.OnceValue(func() map[string]surveyed {
	out := map[string]surveyed{}
	add := func(name string, data []byte) {
		doc, err := lib.Parse(data)
		if err != nil {
			panic(name + ": " + err.Error())
		}
		list, err := meter.Handheld().Checks(lib, doc)
		if err != nil {
			panic(name + ": " + err.Error())
		}
		out[name] = surveyed{doc, list}
	}
	for _, d := range demo.Builds() {
		if testkit.Wide() || !strings.HasPrefix(d.Name, "quiz") { // the largest
			add(d.Name, d.Data)
		}
	}
	for i, s := range starts.All() {
		if testkit.Wide() || i%2 == 0 {
			add(s.ID, s.Data)
		}
	}
	return out
})

func checks(t testing.TB, doc *build.Document) *meter.List {
	t.Helper()
	list, err := meter.Handheld().Checks(lib, doc)
	require.NoError(t, err)
	return list
}

func built(t testing.TB, board string, edits ...plan.Edit) *build.Document {
	t.Helper()
	doc, _, err := plan.Apply(lib, build.New("t", board), edits)
	require.NoError(t, err)
	return doc
}

func named(t testing.TB, list *meter.List, id string) *meter.Check {
	t.Helper()
	i := slices.IndexFunc(list.Checks, func(c meter.Check) bool { return c.ID == id })
	require.GreaterOrEqual(t, i, 0, "%s", id)
	return &list.Checks[i]
}

// What every check expects, against ngspice with the meter in the netlist: at the typical
// values it is the same, and at the ends of all tolerances it is within what is expected.
func TestChecksAgainstSpice(t *testing.T) {
	m := meter.Handheld()
	var circuits []*circuit.Circuit
	var judge []func(volts func(circuit.Node) float64)
	compared := 0
	for name, b := range ready() {
		on := wiring.Build(lib, b.doc)
		for _, c := range b.list.Checks {
			q := c.Question
			var with []wiring.Change
			switch q.Way {
			case meter.Volts:
				with = []wiring.Change{wiring.Between(q.Red, q.Black, circuit.Element{Kind: circuit.Resistor, Value: m.InputResistance})}
			case meter.Diode:
				with = []wiring.Change{wiring.Unpowered(),
					wiring.Between(q.Black, q.Red, circuit.Element{Kind: circuit.CurrentSource, Value: m.Diode.Volts / m.Diode.Ohms}),
					wiring.Between(q.Red, q.Black, circuit.Element{Kind: circuit.Resistor, Value: m.Diode.Ohms})}
			default:
				continue
			}
			n := on.With(with...)
			if n.Node(q.Red) == n.Node(q.Black) {
				continue
			}
			settings, err := n.Resolve(q.Set)
			require.NoError(t, err)
			for _, corner := range []wiring.Corner{wiring.AtTypical, wiring.AtLow, wiring.AtHigh} {
				circ, _, nodes := n.Circuit(settings, corner)
				circuits = append(circuits, circ)
				judge = append(judge, func(volts func(circuit.Node) float64) {
					at := func(g circuit.Node) float64 {
						if g == circuit.Ground {
							return 0
						}
						return volts(nodes[g])
					}
					got := at(n.Node(q.Red)) - at(n.Node(q.Black))
					where := fmt.Sprintf("%s %s at %d: %s", name, c.ID, corner, c.Expect.Text)
					compared++
					if q.Way == meter.Diode && got >= m.DiodeFull {
						assert.True(t, c.Expect.Over, where)
						return
					}
					if corner == wiring.AtTypical && !c.Expect.Over {
						assert.InDelta(t, got, c.Expect.Typ, 2e-3+2e-3*c.Expect.Typ, where)
					}
					assert.True(t, c.Expect.Allows(got, false), "%s: ngspice has %g", where, got)
				})
			}
		}
	}
	testkit.SpiceVolts(t, circuits, func(k int, volts func(circuit.Node) float64) { judge[k](volts) })
	assert.Greater(t, compared, 100)
}

// Every single fault is shown by a check of the list, or said not to be shown by any; and
// what a sign says the meter reads then, it reads in a document with that fault.
func TestTheListShowsEveryFault(t *testing.T) {
	m := meter.Handheld()
	asked := 0
	for name, b := range ready() {
		doc, list := b.doc, b.list
		shown := map[string]bool{}
		for _, c := range list.Checks {
			assert.NotEmpty(t, c.Do, c.ID)
			for i, s := range c.Shows {
				shown[s.Fault] = true
				assert.True(t, s.Reads.Apart(&c.Expect), "%s %s: %s is no other reading than %s", name, c.ID, s.Reads.Text, c.Expect.Text)
				if with := faulty(doc, s.Fault); with != nil && i%3 == 0 && c.Question.Way != meter.Lifted {
					got, err := m.Expected(lib, with, c.Question)
					if err != nil {
						continue // what the fault has torn off cannot be set any more
					}
					asked++
					assert.InDelta(t, s.Reads.Typ, got.Typ, 1e-3+0.02*s.Reads.Typ, "%s %s with %s", name, c.ID, s.Fault)
				}
			}
		}
		assert.Equal(t, list.Faults, len(shown)+len(list.Unshown), name)
		assert.LessOrEqual(t, len(list.Unshown), 1+list.Faults/50, "%s: %v", name, list.Unshown)
	}
	assert.Greater(t, asked, 40)
}

// faulty makes the document that a fault of the simplest kinds leaves, by hand.
func faulty(doc *build.Document, id string) *build.Document {
	kind, of, _ := strings.Cut(id, ":")
	out := doc.Clone()
	switch kind {
	case "open":
		out.Free(build.Terminal(of))
	case "value":
		part, v, _ := strings.Cut(of, ":")
		p := out.Part(part)
		p.Values, p.Chosen = map[string]float64{}, false
		for k, x := range doc.Part(part).Values {
			p.Values[k] = x
		}
		if _, err := fmt.Sscan(v, new(float64)); err != nil {
			return nil
		}
		var ohms float64
		_, _ = fmt.Sscan(v, &ohms)
		p.Values["resistance"] = ohms
	default:
		return nil
	}
	return out
}

// Facts of the trade (common practice, no published source): what people measure, and
// what they read.
func TestFactsOfTheTrade(t *testing.T) {
	m := meter.Handheld()
	doc := built(t, "classic-5v", plan.Add{Kind: "button"}, plan.Add{Kind: "led", Type: "red"})
	pull, err := m.Expected(lib, doc, meter.Question{Way: meter.Amps, Red: "button1.1a", Set: wiring.Settings{"button1": "pressed"}})
	require.NoError(t, err)
	assert.True(t, pull.Allows(129e-6, false), "a pulled-up pin gives 100 to 250 µA to ground: %s", pull.Text)
	assert.InDelta(t, 140e-6, pull.Typ, 15e-6)
	assert.Less(t, pull.High, 275e-6)

	pin := doc.Part("led1").Signals[0].Pin
	lamp, err := m.Expected(lib, doc, meter.Question{Way: meter.Volts, Red: "led1.anode", Black: "led1.cathode", Set: wiring.Settings{pin: "high"}})
	require.NoError(t, err)
	assert.GreaterOrEqual(t, lamp.Low, 1.5)
	assert.LessOrEqual(t, lamp.High, 2.4)
	assert.InDelta(t, 1.9, lamp.Typ, 0.3, "1.6 to 2.2 V over a red lamp")

	// 100 Ω of 5 % that reads 101.
	doc = built(t, "classic-5v", plan.Add{Kind: "led", Type: "red"}, plan.Value{Part: "led1-resistor", Value: "resistance", Text: "100"})
	list := checks(t, doc)
	c := named(t, list, "lifted:led1-resistor.1:led1-resistor.2")
	v, err := m.Judge(c, "101")
	require.NoError(t, err)
	assert.Equal(t, meter.AsExpected, v.Means)
	v, err = m.Judge(c, "1.01k")
	require.NoError(t, err)
	assert.Equal(t, meter.NotSo, v.Means)
	require.NotEmpty(t, v.Causes)
	assert.Contains(t, v.Causes[0].Words, "another one, of 1 kΩ")
}

// A divider of two equal resistors is loaded by a meter of the same resistance to a third
// of the supply: R ∥ R is half of R (worked from the divider rule, as in OpenStax,
// University Physics 2, section 10.2).
func TestTheMeterLoadsADivider(t *testing.T) {
	doc := built(t, "classic-5v",
		plan.Add{Kind: "resistor", Value: "resistance", Text: "10M"}, plan.Add{Kind: "resistor", Value: "resistance", Text: "10M"},
		plan.Join{Terminal: "resistor1.1", To: "board.5V"}, plan.Join{Terminal: "resistor1.2", To: "resistor2.1"}, plan.Join{Terminal: "resistor2.2", To: "board.GND"})
	x, err := meter.Handheld().Expected(lib, doc, meter.Question{Way: meter.Volts, Red: "resistor2.1", Black: "board.GND"})
	require.NoError(t, err)
	assert.InDelta(t, 5.0/3, x.Typ, 0.01)
	assert.Contains(t, strings.Join(x.Working, "; "), "without the meter's 10 MΩ it is 2.50 V")

	// And a resistor reads what it is, within its tolerance and the meter's (Ohm's law).
	x, err = meter.Handheld().Expected(lib, built(t, "classic-5v", plan.Add{Kind: "resistor", Value: "resistance", Text: "10k"}), meter.Question{Way: meter.Ohms, Red: "resistor1.1", Black: "resistor1.2"})
	require.NoError(t, err)
	assert.InDelta(t, 10e3, x.Typ, 1)
	assert.Greater(t, x.High, 10.5e3)
}

func TestReadingsAreUnderstood(t *testing.T) {
	volts := &meter.Check{Question: meter.Question{Way: meter.Volts}, Expect: meter.Expectation{Unit: quantity.Volt, Low: 2, Typ: 2.13, High: 2.3, TypText: "2.13 V"}}
	ohms := &meter.Check{Question: meter.Question{Way: meter.Ohms}, Expect: meter.Expectation{Unit: quantity.Ohm, TypText: "1.2 kΩ"}}
	beep := &meter.Check{Question: meter.Question{Way: meter.Continuity}, Expect: meter.Expectation{Unit: quantity.Ohm}}
	for _, x := range []struct {
		check *meter.Check
		text  string
		value float64
		over  bool
	}{
		{volts, "2.13 V", 2.13, false}, {volts, "2,13", 2.13, false}, {volts, " 129 mV ", 0.129, false}, {volts, "-0.2", -0.2, false},
		{ohms, "OL", 0, true}, {ohms, "o.l", 0, true}, {ohms, "1.2k", 1200, false}, {ohms, "1", 1, false},
		{beep, "beep", 0, false}, {beep, "no", 0, true}, {beep, "0.3", 0.3, false},
	} {
		v, over, err := x.check.Read(x.text)
		require.NoError(t, err, x.text)
		assert.InDelta(t, x.value, v, 1e-9, x.text)
		assert.Equal(t, x.over, over, x.text)
	}
	for text, right := range map[string]string{"": "write what the meter shows", "2.13 A": "not a reading in V", "soup": "as 2.13 V", "beep": "not a reading"} {
		_, _, err := volts.Read(text)
		assert.ErrorContains(t, err, right, text)
	}
	_, _, err := ohms.Read("-3")
	assert.ErrorContains(t, err, "not negative")
	v, err := meter.Handheld().Judge(volts, "2.29")
	require.NoError(t, err)
	assert.Equal(t, meter.AtTheEdge, v.Means)
}

// A meter on its 20 V range shows 0.02 where there is nothing.
func TestTheLastDigitIsThatOfTheRange(t *testing.T) {
	b := ready()["tram-stop"]
	v, err := meter.Handheld().Judge(named(t, b.list, "volts:led3-resistor.2:led3-resistor.1:D5=high"), "0.02")
	require.NoError(t, err)
	assert.Equal(t, meter.NotSo, v.Means)
	require.NotEmpty(t, v.Causes)
	assert.True(t, slices.ContainsFunc(v.Causes, func(s meter.Sign) bool { return strings.Contains(s.Words, "D5") }), "a wire that is missing")
}

func TestMetersOfOnesOwn(t *testing.T) {
	_, err := meter.Parse(strings.NewReader(`{"name":"x","counts":1}`))
	assert.ErrorContains(t, err, "counts is 1; it is between")
	_, err = meter.Parse(strings.NewReader(`{"nome":"x"}`))
	assert.ErrorContains(t, err, "not a meter")
	_, err = meter.Parse(strings.NewReader(``))
	assert.Error(t, err)
}

func FuzzRead(f *testing.F) {
	for _, s := range []string{"2.13 V", "OL", "1.2k", "-1", "beep", "9e999", "\x00"} {
		f.Add(s)
	}
	c := &meter.Check{Question: meter.Question{Way: meter.Volts}, Expect: meter.Expectation{Unit: quantity.Volt, Low: 1, Typ: 2, High: 3}}
	f.Fuzz(func(t *testing.T, text string) {
		if v, err := meter.Handheld().Judge(c, text); err == nil && v.Means == meter.AsExpected && (v.Value < 1 || v.Value > 3) {
			t.Errorf("%q is taken for %g V", text, v.Value)
		}
	})
}

// A pin with a duty: what a meter on volts, on frequency and on duty shows of it. The average of a
// square wave is its duty's part of its height.
func TestDuties(t *testing.T) {
	doc := ready()["tram-stop"].doc
	m := meter.Handheld()
	ask := func(q meter.Question) (meter.Expectation, error) { return m.Expected(lib, doc, q) }
	d5, gnd := build.Pin("D5"), build.Pin("GND")
	high, err := ask(meter.Question{Way: meter.Volts, Red: d5, Black: gnd, Set: wiring.Settings{"D5": "high"}})
	require.NoError(t, err)
	low, err := ask(meter.Question{Way: meter.Volts, Red: d5, Black: gnd, Set: wiring.Settings{"D5": "low"}})
	require.NoError(t, err)
	for _, duty := range []float64{0, 0.25, 0.5, 1} {
		x, err := ask(meter.Question{Way: meter.Volts, Red: d5, Black: gnd, At: duty, Pulse: true})
		require.NoError(t, err)
		assert.InDelta(t, low.Typ+duty*(high.Typ-low.Typ), x.Typ, 0.01)
		assert.True(t, x.Low <= x.Typ && x.Typ <= x.High, "%+v", x)
	}
	hertz, err := ask(meter.Question{Way: meter.Hertz, Red: d5, Black: gnd, At: 0.5})
	require.NoError(t, err)
	b, _ := lib.Board(doc.Board)
	pin, _ := b.Pin("D5")
	assert.True(t, hertz.Allows(pin.PWM.Hertz, false), "%+v", hertz)
	assert.False(t, hertz.Allows(pin.PWM.Hertz/2, false))
	for want, tips := range map[float64][2]build.Terminal{20: {d5, gnd}, 80: {gnd, d5}} { // the tips the other way round
		x, err := ask(meter.Question{Way: meter.Duty, Red: tips[0], Black: tips[1], At: 0.2})
		require.NoError(t, err)
		assert.InDelta(t, want, x.Typ, 0.1)
	}
	for says, q := range map[string]meter.Question{
		"stands still":     {Way: meter.Hertz, Red: d5, Black: gnd, At: 1},
		"from 0 to 1":      {Way: meter.Duty, Red: d5, Black: gnd, At: 3},
		"can have a duty":  {Way: meter.Hertz, Red: build.Pin("D4"), Black: gnd, At: 0.5},
		"goes up and down": {Way: meter.Hertz, Red: d5, Black: build.Of("led3-resistor", "1"), At: 0.5},
	} {
		_, err := ask(q)
		assert.ErrorContains(t, err, says, "%+v", q)
	}
}

// A pulse sensor that is turned ten times is counted ten times as often as it closes in a turn,
// and not at all where a wire is missing (by hand).
func TestTurnsAreCounted(t *testing.T) {
	i := slices.IndexFunc(starts.All(), func(s starts.Start) bool { return s.ID == "wheel" })
	doc, err := lib.Parse(starts.All()[i].Data)
	require.NoError(t, err)
	list := checks(t, doc)
	c := named(t, list, "counts:board.D2:pulse-sensor1.1:D2=pulled up")
	assert.Equal(t, 10.0, c.Expect.Typ)
	assert.True(t, c.Question.Way.Powered())
	for text, want := range map[string]meter.Meaning{
		"10": meter.AsExpected, "9": meter.NotSo, "11": meter.NotSo, "0": meter.NotSo,
	} {
		v, err := meter.Handheld().Judge(c, text)
		require.NoError(t, err)
		assert.Equal(t, want, v.Means, text)
	}
	for _, text := range []string{"2.5", "-1", "10 V", "many", "OL"} {
		_, _, err := c.Read(text)
		assert.ErrorContains(t, err, "not a number of times", text)
	}
	apart := doc.Clone()
	apart.Free("pulse-sensor1.2")
	still, err := meter.Handheld().Expected(lib, apart, c.Question)
	require.NoError(t, err)
	assert.Zero(t, still.Typ)
}

// Meanings have words, one for each, and a log of before 0.9, which had the words in place of
// them, is read as what it was (as written by 0.8).
func TestMeaningsAreReadAsTheyWere(t *testing.T) {
	said := map[string]bool{}
	for old, want := range map[string]meter.Meaning{"as expected": meter.AsExpected, "at the edge": meter.AtTheEdge, "not as expected": meter.NotSo} {
		var v meter.Verdict
		require.NoError(t, json.Unmarshal([]byte(`{"means":"`+old+`"}`), &v))
		assert.Equal(t, want, v.Means)
		data, err := json.Marshal(v)
		require.NoError(t, err)
		var again meter.Verdict
		require.NoError(t, json.Unmarshal(data, &again))
		assert.Equal(t, want, again.Means)
		assert.NotEmpty(t, want.Words())
		said[want.Words()] = true
	}
	assert.Len(t, said, 3)
}
