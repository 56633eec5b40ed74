package wiring

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"cablaggio/core/circuit"
	"cablaggio/core/spec"
)

// contact is one contact between the first two terminals that are not linked
// inside the part.
func contact(i instance) {
	a, b := i.kind.Terminals[0].ID, i.kind.Terminals[1].ID
	for _, link := range i.kind.Links {
		if slices.Contains(link, a) && slices.Contains(link, b) {
			b = i.kind.Terminals[2].ID
		}
	}
	e := i.element(i.value("contactResistance"), "contact resistance")
	e.control, e.on, e.Name = i.setting(), two(Closed), "contact of "+i.part.Name
	i.add(circuit.Element{Kind: circuit.Switch}, a, b, e)
}

// setting adds the control of what a hand or the world changes about the part.
func (i instance) setting() int {
	c := Control{Kind: Contact, Of: i.part.ID, Name: i.part.Name}
	for _, s := range i.kind.Settings {
		c.Settings = append(c.Settings, s.Name)
		c.Levels = append(c.Levels, s.Level)
	}
	return i.network.control(c)
}

// scaled adds a resistance between two legs: the part's body, multiplied by a
// factor for each setting of its control.
func (i instance) scaled(a, b string, e Element, law func(level float64) float64) {
	i.add(circuit.Element{Kind: circuit.Resistor}, a, b, i.under(e, law))
}

// under puts an element under a law: its value is multiplied by what the law
// makes of the level of each setting.
func (i instance) under(e Element, law func(level float64) float64) Element {
	e.scale, e.law = nil, law
	for _, s := range i.kind.Settings {
		e.scale = append(e.scale, law(s.Level))
	}
	return e
}

// potentiometer is a track divided by the position of its wiper. At the ends a
// little of the track is left.
func potentiometer(i instance) {
	track, left := i.value("track"), i.value("endResistance")
	least := left.Typ / track.Typ
	part := func(x float64) float64 { return max(least, min(1-least, x)) }
	// Both sides are the same track: one tolerance moves them together.
	e := i.element(track, "track")
	e.control = i.setting()
	i.scaled("1", "wiper", e, part)
	i.scaled("wiper", "2", e, func(x float64) float64 { return part(1 - x) })
}

// lightResistor is the power law R = R10 · (E ÷ 10 lx)^−gamma, which makers of
// these sensors give (common practice).
func lightResistor(i instance) {
	gamma := i.value("gamma").Typ
	e := i.element(i.value("r10"), "resistance at 10 lx")
	e.control = i.setting()
	i.scaled("1", "2", e, func(lux float64) float64 { return math.Pow(lux/10, -gamma) })
}

// thermistor is the B equation of IEC 60539-1: R = R25 · exp(B·(1/T − 1/298.15 K)).
func thermistor(i instance) {
	b := i.value("b").Typ
	e := i.element(i.value("r25"), "resistance at 25 °C")
	e.control = i.setting()
	i.scaled("1", "2", e, func(celsius float64) float64 {
		return math.Exp(b * (1/(celsius+273.15) - 1/298.15))
	})
}

// keypad is a contact at each crossing of a row with a column. Its settings are
// no key, each key, each two keys in a column or a row, and three keys at the
// corners of a rectangle, which read like four.
func keypad(i instance) {
	var rows, columns []string
	for _, t := range i.kind.Terminals {
		if strings.HasPrefix(t.ID, "r") {
			rows = append(rows, t.ID)
		} else {
			columns = append(columns, t.ID)
		}
	}
	keys := len(rows) * len(columns)
	key := func(r, c int) int { return r*len(columns) + c }
	name := func(k int) string { return fmt.Sprintf("row %d column %d", k/len(columns)+1, k%len(columns)+1) }
	control := Control{Kind: Contact, Of: i.part.ID, Name: i.part.Name, Settings: []string{"untouched"}}
	pressed := [][]int{{}}
	press := func(ks ...int) {
		names := make([]string, len(ks))
		for j, k := range ks {
			names[j] = name(k)
		}
		control.Settings = append(control.Settings, "pressed at "+strings.Join(names, " and "))
		pressed = append(pressed, ks)
	}
	for k := range keys {
		press(k)
	}
	for r := range rows {
		for c := range columns {
			for below := r + 1; below < len(rows); below++ {
				press(key(r, c), key(below, c))
			}
			for right := c + 1; right < len(columns); right++ {
				press(key(r, c), key(r, right))
			}
		}
	}
	press(key(0, 0), key(0, 1), key(1, 0))
	index := i.network.control(control)
	ohms := i.value("contactResistance")
	for r, row := range rows {
		for c, column := range columns {
			e := i.element(ohms, "contact resistance")
			e.Name = "key at " + name(key(r, c)) + " of " + i.part.Name
			e.control = index
			for _, ks := range pressed {
				e.on = append(e.on, slices.Contains(ks, key(r, c)))
			}
			i.add(circuit.Element{Kind: circuit.Switch}, row, column, e)
		}
	}
}

// phototransistor is an NPN transistor whose base gets its current from the
// light, in proportion.
func phototransistor(i instance) {
	const gain, at = 200, 100 // of the transistor inside (from memory); lux of the stated current
	base := i.network.circuit.Node()
	amps := i.value("photocurrent")
	e := i.element(spec.Value{Low: amps.Low / gain, Typ: amps.Typ / gain, High: amps.High / gain, Source: amps.Source}, "photocurrent")
	e.Role, e.Name, e.control = Inner, "light on "+i.part.Name, i.setting()
	i.network.add(i.under(e, func(lux float64) float64 { return lux / at }),
		circuit.Element{Kind: circuit.CurrentSource, A: i.node("collector"), B: base})
	i.transistor(i.node("collector"), base, i.node("emitter"), spec.Exactly(gain, "from memory"), i.limit("maximumCurrent", 0.5))
}

// voltageSensor is a sensor whose output is a voltage above its ground leg: an
// offset, and a slope for each unit of what it measures, behind its output
// resistance (as the currents that give those voltages in it: Norton).
func voltageSensor(i instance) {
	ohms := i.value("outputResistance").Typ
	e := i.element(spec.Exactly(ohms, i.value("outputResistance").Source), "output resistance")
	e.Name = "output of " + i.part.Name
	i.add(circuit.Element{Kind: circuit.Resistor}, "gnd", "out", e)
	current := func(v spec.Value, what string) Element {
		e := i.element(v, what)
		e.Role = Inner
		e.apply = func(ce *circuit.Element, volts float64) { ce.Value = volts / ohms }
		return e
	}
	i.add(circuit.Element{Kind: circuit.CurrentSource}, "gnd", "out", current(i.value("offset"), "offset"))
	slope := current(i.value("slope"), "slope")
	slope.control = i.setting()
	i.add(circuit.Element{Kind: circuit.CurrentSource}, "gnd", "out", i.under(slope, func(level float64) float64 { return level }))
	i.appetite()
}

// pushPull is a sensor that drives its output to one of its supply legs, and
// draws a current of its own from them.
func pushPull(i instance) {
	control := i.setting()
	for when, leg := range []string{"gnd", "vcc"} {
		e := i.element(i.value("outputResistance"), "output resistance to "+leg)
		e.control, e.on, e.Name, e.Limit = control, two(when), "output of "+i.part.Name, i.limit("outputLimit", 0.5)
		i.add(circuit.Element{Kind: circuit.Switch}, leg, "out", e)
	}
	i.appetite()
}

// openCollector is a sensor that ties its output to ground or lets it go.
func openCollector(i instance) {
	e := i.element(i.value("contactResistance"), "output resistance")
	e.control, e.on, e.Name, e.Limit = i.setting(), two(Closed), "output of "+i.part.Name, i.limit("outputLimit", 0.5)
	i.add(circuit.Element{Kind: circuit.Switch}, "out", "gnd", e)
	i.appetite()
}

// appetite is what a part draws between its supply legs: the resistance that
// takes its supply current in the middle of its supply's range.
func (i instance) appetite() {
	volts := (i.value("supplyMinimum").Typ + i.value("supplyMaximum").Typ) / 2
	e := i.element(i.value("supplyCurrent"), "supply current")
	e.Role, e.Name = Appetite, "supply of "+i.part.Name
	e.apply = func(ce *circuit.Element, amps float64) { ce.Value = volts / math.Max(amps, 1e-9) }
	i.add(circuit.Element{Kind: circuit.Resistor}, "vcc", "gnd", e)
}
