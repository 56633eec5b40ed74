package wiring

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/values/spec"
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
	e.control, e.on, e.Name = i.setting(), bits(Closed), "contact of "+i.part.Name
	i.add(circuit.Element{Kind: circuit.Switch}, a, b, e)
}

// setting adds the control of what a hand or the world changes about the part: a
// level, where the model makes something of it, or else a choice of settings.
func (i instance) setting() int {
	c := Control{Kind: Contact, Of: i.part.ID, Name: i.part.Name}
	for k, s := range i.kind.Settings {
		c.Settings = append(c.Settings, s.Name)
		c.Planned = append(c.Planned, float64(k))
	}
	return i.network.control(c)
}

func (i instance) level() int {
	c := Control{Kind: Level, Of: i.part.ID, Name: i.part.Name, Least: math.Inf(1), Most: math.Inf(-1)}
	for _, s := range i.kind.Settings {
		c.Settings = append(c.Settings, s.Name)
		c.Levels = append(c.Levels, s.Level)
		c.Least, c.Most = min(c.Least, s.Level), max(c.Most, s.Level)
	}
	if q := i.kind.Quantity; q != nil {
		c.Unit = q.Unit
		if q.Most > q.Least {
			c.Least, c.Most = q.Least, q.Most
		}
	}
	c.Planned = i.plannedLevels(c.Levels)
	return i.network.control(c)
}

// plannedLevels are the levels that a sensor is looked at in: the ends of the range that
// the builder wants it for, and what the catalogue names between them, in the catalogue's
// order.
func (i instance) plannedLevels(named []float64) []float64 {
	if _, ok := i.kind.Value(part.RangeFrom); !ok {
		return named
	}
	low, high := i.value(part.RangeFrom).Typ, i.value(part.RangeTo).Typ
	low, high = min(low, high), max(low, high)
	if low == high {
		return named // no range: what the catalogue has says more
	}
	out := []float64{low}
	for _, level := range named {
		if level > low && level < high {
			out = append(out, level)
		}
	}
	if len(out) == 1 {
		middle := (low + high) / 2
		if low > 0 && high > 20*low { // what spans decades is even in its logarithm
			middle = math.Sqrt(low * high)
		}
		out = append(out, middle)
	}
	out = append(out, high)
	slices.Sort(out)
	if named[0] > named[len(named)-1] {
		slices.Reverse(out)
	}
	return out
}

// scaled adds a resistance between two legs: the part's body, multiplied by what
// a response makes of the level of its control.
func (i instance) scaled(a, b string, e Element, r response) {
	e.scale = r
	i.add(circuit.Element{Kind: circuit.Resistor}, a, b, e)
}

// potentiometer is a track divided by the position of its wiper. At the ends a
// little of the track is left.
func potentiometer(i instance) {
	track, left := i.value("track"), i.value("endResistance")
	least := left.Typ / track.Typ
	// Both sides are the same track: one tolerance moves them together.
	e := i.element(track, "track")
	e.control = i.level()
	i.scaled("1", "wiper", e, response{kind: position, a: least})
	i.scaled("wiper", "2", e, response{kind: opposite, a: least})
}

// lightResistor is the power law R = R10 · (E ÷ 10 lx)^−gamma, which makers of
// these sensors give (common practice).
func lightResistor(i instance) {
	gamma := i.value("gamma").Typ
	e := i.element(i.value("r10"), "resistance at 10 lx")
	e.control = i.level()
	i.scaled("1", "2", e, response{kind: power, a: gamma})
}

// thermistor is the B equation of IEC 60539-1: R = R25 · exp(B·(1/T − 1/298.15 K)).
func thermistor(i instance) {
	b := i.value("b").Typ
	e := i.element(i.value("r25"), "resistance at 25 °C")
	e.control = i.level()
	i.scaled("1", "2", e, response{kind: byB, a: b})
}

// keypad is a contact at each crossing of a row with a column. Any of its keys
// may be down; the plan looks at no key, each key, each two keys in a column or a
// row, and three keys at the corners of a rectangle, which read like four.
func keypad(i instance) {
	var rows, columns []string
	for _, t := range i.kind.Terminals {
		if strings.HasPrefix(t.ID, "r") {
			rows = append(rows, t.ID)
		} else {
			columns = append(columns, t.ID)
		}
	}
	control := Control{Kind: Keys, Of: i.part.ID, Name: i.part.Name, Planned: []float64{0}}
	press := func(keys ...int) { control.Planned = append(control.Planned, float64(bits(keys...))) }
	key := func(r, c int) int { return r*len(columns) + c }
	for r := range rows {
		for c := range columns {
			control.Keys = append(control.Keys, fmt.Sprintf("row %d column %d", r+1, c+1))
			press(key(r, c))
		}
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
			e.Name = "key at " + control.Keys[key(r, c)] + " of " + i.part.Name
			e.control, e.on, e.key = index, bits(key(r, c)), true
			i.add(circuit.Element{Kind: circuit.Switch}, row, column, e)
		}
	}
}

// phototransistor is an NPN transistor whose base gets its current from the
// light, in proportion.
func phototransistor(i instance) {
	const gain, at = 200, 100 // of the transistor inside (from memory); lux of the stated current
	base := i.network.places.place("", -1)
	amps := i.value("photocurrent")
	e := i.element(spec.Value{Low: amps.Low / gain, Typ: amps.Typ / gain, High: amps.High / gain, Source: amps.Source}, "photocurrent")
	e.Role, e.Name, e.control, e.scale = Inner, "light on "+i.part.Name, i.level(), response{kind: linear, a: at}
	i.network.add(e,
		circuit.Element{Kind: circuit.CurrentSource, A: i.at("collector"), B: base})
	i.transistor(i.at("collector"), base, i.at("emitter"), spec.Exactly(gain, "from memory"), i.limit("maximumCurrent", 0.5))
}

// voltageSensor is a sensor whose output is a voltage above its ground leg: an
// offset, and a slope for each unit of what it measures, behind its output
// resistance (as the currents that give those voltages in it: Norton). It ends at
// its supply, and without one it is dead.
func voltageSensor(i instance) {
	ohms := i.value("outputResistance").Typ
	e := i.element(spec.Exactly(ohms, i.value("outputResistance").Source), "output resistance")
	e.Name = "output of " + i.part.Name
	i.add(circuit.Element{Kind: circuit.Resistor}, "gnd", "out", e)
	current := func(v spec.Value, what string) Element {
		e := i.element(v, what)
		e.Role = Inner
		e.law = law{kind: overOhms, a: ohms}
		return e
	}
	i.addFed(circuit.Element{Kind: circuit.CurrentSource}, "gnd", "out", current(i.value("offset"), "offset"))
	slope := current(i.value("slope"), "slope")
	slope.control = i.level()
	slope.scale = response{kind: between, a: i.value("offset").Typ, b: i.value("slope").Typ, most: i.network.feedVolts(i.part)}
	i.addFed(circuit.Element{Kind: circuit.CurrentSource}, "gnd", "out", slope)
	i.appetite()
}

// pushPull is a sensor that drives its output to one of its supply legs, and
// draws a current of its own from them.
func pushPull(i instance) {
	control := i.setting()
	if _, ok := i.kind.Value("outputHigh"); ok {
		i.regulated(control)
		i.appetite()
		return
	}
	for when, leg := range []string{"gnd", "vcc"} {
		e := i.element(i.value("outputResistance"), "output resistance to "+leg)
		e.control, e.on, e.Name, e.Limit = control, bits(when), "output of "+i.part.Name, i.limit("outputLimit", 0.5)
		i.add(circuit.Element{Kind: circuit.Switch}, leg, "out", e)
	}
	i.appetite()
}

// regulated is an output that is high at a voltage of its own, whatever the part is fed with,
// but never above that, behind its output resistance (as the current that gives that voltage in
// it: Norton). Without its supply it is dead.
func (i instance) regulated(control int) {
	ohms := i.value("outputResistance")
	e := i.element(spec.Exactly(ohms.Typ, ohms.Source), "output resistance")
	e.Name = "output of " + i.part.Name
	i.add(circuit.Element{Kind: circuit.Resistor}, "out", "gnd", e)
	high := i.element(i.value("outputHigh"), "high output")
	high.Role, high.law = Inner, law{kind: overOhms, a: ohms.Typ}
	high.control = control                                                                // 0 quiet, 1 triggered
	high.scale = response{kind: between, b: i.value("outputHigh").Typ, most: math.Inf(1)} // as what is fed is worked out, up to that
	i.addFed(circuit.Element{Kind: circuit.CurrentSource}, "gnd", "out", high)
}

// openCollector is a sensor that ties its output to ground or lets it go.
func openCollector(i instance) {
	e := i.element(i.value("contactResistance"), "output resistance")
	e.control, e.on, e.Name, e.Limit = i.setting(), bits(Closed), "output of "+i.part.Name, i.limit("outputLimit", 0.5)
	i.add(circuit.Element{Kind: circuit.Switch}, "out", "gnd", e)
	i.appetite()
}

// appetite is what a part draws between its supply legs: the resistance that
// takes its supply current in the middle of its supply's range.
func (i instance) appetite() {
	volts := (i.value("supplyMinimum").Typ + i.value("supplyMaximum").Typ) / 2
	e := i.element(i.value("supplyCurrent"), "supply current")
	e.Role, e.Name = Appetite, "supply of "+i.part.Name
	e.law = law{kind: underVolts, a: volts}
	i.add(circuit.Element{Kind: circuit.Resistor}, "vcc", "gnd", e)
}
