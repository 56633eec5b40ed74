package wiring

import (
	"fmt"
	"math"
	"slices"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/values/spec"
)

// contact conducts in some settings of its hand: in those that the catalogue names, or in all
// but the first.
func contact(i instance, in part.Element) {
	e := i.of(in, "contactResistance", i.value(in.Value("contactResistance")))
	e.Name = "contact of " + e.Name
	i.switched(in, &e, true)
	i.add(circuit.Element{Kind: circuit.Switch}, in.Legs[0], in.Legs[1], e)
}

// encoder is two contacts to a common leg, a quarter of a click apart: which of them is first to
// close says which way it is turned (common practice).
func encoder(i instance, in part.Element) {
	for k, leg := range in.Legs[:2] {
		e := i.of(in, "contactResistance", i.value(in.Value("contactResistance")))
		e.Name = "contact " + leg + " of " + i.part.Name
		e.control, e.turns, e.from = i.level(in.Hand), true, 0.25*float64(k+1)
		i.add(circuit.Element{Kind: circuit.Switch}, leg, in.Legs[2], e)
	}
}

// control adds the control of a hand of the part's, or returns the one that another of its
// elements has already.
func (i instance) control(hand string, c Control) int {
	if made, ok := i.hands[hand]; ok {
		return made
	}
	c.Of, c.Name = i.part.ID, i.part.Name
	if h, ok := i.kind.Hand(hand); ok && h.ID != "" {
		c.Of, c.Name = c.Of+"."+h.ID, h.Name+" of "+c.Name
	}
	i.hands[hand] = i.network.control(c)
	return i.hands[hand]
}

// switched has an element conduct where its hand is as the catalogue says, or where it is not.
func (i instance) switched(in part.Element, e *Element, so bool) {
	if in.Trips != "" {
		e.control = i.level(in.Hand)
		e.trips, e.from, e.below = true, i.value(in.Trips).Typ, in.Falls == so
		return
	}
	hand, _ := i.kind.Hand(in.Hand)
	e.control = i.setting(in.Hand)
	for k, s := range hand.Settings {
		if (len(in.When) == 0 && k > 0 || slices.Contains(in.When, s.Name)) == so {
			e.on |= bits(k)
		}
	}
}

// setting is the control of what a hand or the world puts to one of some settings.
func (i instance) setting(hand string) int {
	c := Control{Kind: Contact}
	h, _ := i.kind.Hand(hand)
	for k, s := range h.Settings {
		c.Settings = append(c.Settings, s.Name)
		c.Planned = append(c.Planned, float64(k))
	}
	return i.control(hand, c)
}

// level is the control of what a hand or the world moves to any level.
func (i instance) level(hand string) int {
	h, _ := i.kind.Hand(hand)
	c := Control{Kind: Level, Least: math.Inf(1), Most: math.Inf(-1)}
	for _, s := range h.Settings {
		c.Settings = append(c.Settings, s.Name)
		c.Levels = append(c.Levels, s.Level)
		c.Least, c.Most = min(c.Least, s.Level), max(c.Most, s.Level)
	}
	if q := h.Quantity; q != nil {
		c.Unit = q.Unit
		if q.Most > q.Least {
			c.Least, c.Most = q.Least, q.Most
		}
	}
	c.Planned = i.plannedLevels(c.Levels)
	return i.control(hand, c)
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

// track is divided by the position of its wiper. At the ends a little of it is left.
func track(i instance, in part.Element) {
	ohms, left := i.value(in.Value("track")), i.value(in.Value("endResistance"))
	least := left.Typ / ohms.Typ
	// Both sides are the same track: one tolerance moves them together.
	e := i.of(in, "track", ohms)
	e.control = i.level(in.Hand)
	i.scaled(in.Legs[0], in.Legs[1], e, response{kind: position, a: least})
	i.scaled(in.Legs[1], in.Legs[2], e, response{kind: opposite, a: least})
}

// resistance is one that may follow a level by a law.
func resistance(i instance, in part.Element) {
	e := i.of(in, "resistance", i.value(in.Value("resistance")))
	e.control = -1
	var r response
	switch in.Law {
	case part.Steady:
		i.add(circuit.Element{Kind: circuit.Resistor}, in.Legs[0], in.Legs[1], e)
		return
	case part.Share:
		r = response{kind: linear, a: 1}
	case part.Power:
		r = response{kind: power, a: i.value(in.Value("gamma")).Typ}
	case part.ByB:
		r = response{kind: byB, a: i.value(in.Value("b")).Typ}
	}
	e.control = i.level(in.Hand)
	i.scaled(in.Legs[0], in.Legs[1], e, r)
}

// keys are a contact at each crossing of a row with a column. Any of its keys
// may be down; the plan looks at no key, each key, each two keys in a column or a
// row, and three keys at the corners of a rectangle, which read like four.
func keys(i instance, in part.Element) {
	rows, columns := in.Legs[:in.Rows], in.Legs[in.Rows:]
	control := Control{Kind: Keys, Planned: []float64{0}}
	press := func(keys ...int) { control.Planned = append(control.Planned, float64(bits(keys...))) }
	key := func(r, c int) int { return r*len(columns) + c }
	for r := range rows {
		for c := range columns {
			name := fmt.Sprintf("row %d column %d", r+1, c+1)
			if len(columns) == 1 {
				name = fmt.Sprintf("button %d", r+1)
			}
			control.Keys = append(control.Keys, name)
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
	if len(rows) > 1 && len(columns) > 1 {
		press(key(0, 0), key(0, 1), key(1, 0))
	}
	index := i.control(in.Hand, control)
	ohms := i.value(in.Value("contactResistance"))
	for r, row := range rows {
		for c, column := range columns {
			e := i.of(in, "contactResistance", ohms)
			e.Name = "key at " + control.Keys[key(r, c)] + " of " + i.part.Name
			e.control, e.on, e.key = index, bits(key(r, c)), true
			i.add(circuit.Element{Kind: circuit.Switch}, row, column, e)
		}
	}
}

// phototransistor is an NPN transistor whose base gets its current from the
// light, in proportion.
func phototransistor(i instance, in part.Element) {
	collector, emitter := i.at(in.Legs[0]), i.at(in.Legs[1])
	const gain, at = 200, 100 // of the transistor inside (from memory); lux of the stated current
	base := i.network.places.place("", -1)
	amps := i.value(in.Value("photocurrent"))
	e := i.element(spec.Value{Low: amps.Low / gain, Typ: amps.Typ / gain, High: amps.High / gain, Source: amps.Source}, "photocurrent")
	e.Role, e.Name, e.control, e.scale = Inner, "light on "+i.part.Name, i.level(in.Hand), response{kind: linear, a: at}
	i.network.add(e,
		circuit.Element{Kind: circuit.CurrentSource, A: collector, B: base})
	i.transistor(collector, base, emitter, spec.Exactly(gain, "from memory"), i.limit(in.Value("maximumCurrent"), 0.5))
}

// voltage is an output whose voltage above the part's ground leg follows a level: an
// offset, and a slope for each unit of what it measures, behind its output
// resistance (as the currents that give those voltages in it: Norton). It ends at
// the part's supply, and without one it is dead.
func voltage(i instance, in part.Element) {
	ground, out := i.kind.Feed.Minus, in.Legs[0]
	stated := i.value(in.Value("outputResistance"))
	ohms := stated.Typ
	e := i.of(in, "outputResistance", spec.Exactly(ohms, stated.Source))
	e.Name = i.output(in)
	i.add(circuit.Element{Kind: circuit.Resistor}, ground, out, e)
	current := func(value string) Element {
		e := i.of(in, value, i.value(in.Value(value)))
		e.Role = Inner
		e.law = law{kind: overOhms, a: ohms}
		return e
	}
	i.addFed(circuit.Element{Kind: circuit.CurrentSource}, ground, out, current("offset"))
	slope := current("slope")
	slope.control = i.level(in.Hand)
	slope.scale = response{kind: between, a: i.value(in.Value("offset")).Typ, b: i.value(in.Value("slope")).Typ, most: i.network.feedVolts(i.part)}
	i.addFed(circuit.Element{Kind: circuit.CurrentSource}, ground, out, slope)
}

// output is what an output is called: by its leg, where the part has several.
func (i instance) output(in part.Element) string {
	if i.kind.Gives() > 1 {
		return in.Legs[0] + " output of " + i.part.Name
	}
	return "output of " + i.part.Name
}

// pushPull is an output that is driven to one of the part's supply legs.
func pushPull(i instance, in part.Element) {
	for _, leg := range []string{i.kind.Feed.Minus, i.kind.Feed.Plus} {
		e := i.element(i.value(in.Value("outputResistance")), "output resistance to "+leg)
		e.Name, e.Limit = i.output(in), i.limit(in.Value("outputLimit"), 0.5)
		i.switched(in, &e, leg == i.kind.Feed.Plus)
		i.add(circuit.Element{Kind: circuit.Switch}, leg, in.Legs[0], e)
	}
}

// regulated is an output that is high at a voltage of its own, whatever the part is fed with,
// but never above that, behind its output resistance (as the current that gives that voltage in
// it: Norton). Without its supply it is dead.
func regulated(i instance, in part.Element) {
	ground, out := i.kind.Feed.Minus, in.Legs[0]
	ohms, volts := i.value(in.Value("outputResistance")), i.value(in.Value("outputHigh"))
	e := i.of(in, "outputResistance", spec.Exactly(ohms.Typ, ohms.Source))
	e.Name = i.output(in)
	i.add(circuit.Element{Kind: circuit.Resistor}, out, ground, e)
	high := i.of(in, "outputHigh", volts)
	high.Role, high.law = Inner, law{kind: overOhms, a: ohms.Typ}
	i.switched(in, &high, true)
	high.scale = response{kind: between, b: volts.Typ, most: math.Inf(1)} // as what is fed is worked out, up to that
	i.addFed(circuit.Element{Kind: circuit.CurrentSource}, ground, out, high)
}

// openCollector is an output that is tied to the part's ground or let go.
func openCollector(i instance, in part.Element) {
	e := i.of(in, "contactResistance", i.value(in.Value("contactResistance")))
	e.Name, e.Limit = i.output(in), i.limit(in.Value("outputLimit"), 0.5)
	i.switched(in, &e, true)
	i.add(circuit.Element{Kind: circuit.Switch}, in.Legs[0], i.kind.Feed.Minus, e)
}

// appetite is what a part draws between its supply legs: the resistance that
// takes its supply current in the middle of its supply's range.
func appetite(i instance, in part.Element) {
	volts := (i.value(in.Value("supplyMinimum")).Typ + i.value(in.Value("supplyMaximum")).Typ) / 2
	e := i.of(in, "supplyCurrent", i.value(in.Value("supplyCurrent")))
	e.Role, e.Name = Appetite, "supply of "+i.part.Name
	e.law = law{kind: underVolts, a: volts}
	i.add(circuit.Element{Kind: circuit.Resistor}, in.Legs[0], in.Legs[1], e)
}
