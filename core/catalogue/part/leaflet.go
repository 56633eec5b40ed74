package part

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode"

	"cablaggio/core/values/quantity"
	"cablaggio/core/values/spec"
)

// A Leaflet is what the ten lines that come with a part say of it. Zero is an answer everywhere: it
// is not known, and what comes of it is wide.
type Leaflet struct {
	Name string       `json:"name"`
	Sort LeafletSort  `json:"sort"`
	Legs []LeafletLeg `json:"legs"` // as they stand, from the left
	From float64      `json:"from"` // of a module: its least supply voltage
	To   float64      `json:"to"`   // and its largest
	Amps float64      `json:"amps"` // what it takes: of a module its supply current, of a load while it works
	Ways [2]string    `json:"ways"` // of a contact: what it is called open, and closed
	Volt float64      `json:"volt"` // of a load: the voltage that it is made for
	Acts string       `json:"acts"` // of a load: what one notices of it
}

// A LeafletSort says what sort of part it is.
type LeafletSort string

// The sorts.
const (
	Module  LeafletSort = "module"  // it is fed, and its outputs tell something
	Closer  LeafletSort = "contact" // two legs that are joined, or not
	Consume LeafletSort = "load"    // two legs through which a current does something
)

// A LeafletLeg is one leg of a part.
type LeafletLeg struct {
	Name string  `json:"name"` // as it is printed beside it
	Is   LegRole `json:"is"`
	// Of an output:
	Gives     Giving  `json:"gives,omitempty"`
	About     string  `json:"about,omitempty"` // what it tells of: "humidity", "movement"
	Unit      string  `json:"unit,omitempty"`
	Least     float64 `json:"least,omitempty"` // of a voltage: from what to what
	Most      float64 `json:"most,omitempty"`
	LeastGive float64 `json:"leastGives,omitempty"` // and its volts there
	MostGive  float64 `json:"mostGives,omitempty"`
	Quiet     string  `json:"quiet,omitempty"` // of a level: what it is called while it tells nothing
	Told      string  `json:"told,omitempty"`  // and while it tells something
	Low       bool    `json:"low,omitempty"`   // it is low then
	High      float64 `json:"high,omitempty"`  // the volts of its high level; 0: as high as its supply
}

// A LegRole says what a leg is for.
type LegRole string

// The roles.
const (
	PlusLeg   LegRole = "supply"
	GroundLeg LegRole = "ground"
	OutputLeg LegRole = "output"
	FreeLeg   LegRole = "free" // it is left unconnected
	EndLeg    LegRole = "end"  // of a contact or a load
)

// A Giving says what an output gives.
type Giving string

// What outputs give.
const (
	GivesVolts Giving = "voltage"
	GivesLevel Giving = "level"
	GivesPull  Giving = "pull" // it ties to ground, or lets go
)

// What is taken where a leaflet says nothing (from memory of modules of this class): wide.
var (
	unknownAmps = spec.Value{Low: 0.0005, Typ: 0.005, High: 0.03, Source: unknownSource}
	unknownOut  = spec.Value{Low: 50, Typ: 300, High: 1500, Source: unknownSource}
)

const (
	unknownSource = "not known: a wide range for this class, from memory"
	leafletSource = "its leaflet"
	statedWithin  = 0.3 // of a current that a leaflet states
	// A leaflet's "3.3 to 5 V" names supplies, which are 5 % less and up to 10 % more (common practice).
	nominalLeast, nominalMost = 0.95, 1.1
)

// Kind makes the kind of part that a leaflet describes, under an id. Its error is a [Problems], and
// names fields of the leaflet.
func (l *Leaflet) Kind(id string, c *Catalogue) (*Kind, error) {
	k := &Kind{
		ID: id, Name: strings.TrimSpace(l.Name), Words: []string{strings.ToLower(strings.TrimSpace(l.Name))},
		Body: Body{Package: "leads"}, Types: []Type{}, Values: []Value{}, Hookups: []Hookup{},
	}
	m := &maker{leaflet: l, kind: k}
	if k.Name == "" {
		m.bad("name", "give it the name that you look for it by")
	}
	m.legs()
	switch l.Sort {
	case Module:
		m.module()
	case Closer:
		m.contact(c)
	case Consume:
		m.load(c)
	default:
		m.bad("sort", "say whether it is a module, a contact or a load")
	}
	if len(m.problems) > 0 {
		return nil, m.problems
	}
	if err := k.ValidateOwn(c); err != nil {
		return nil, err
	}
	return k, nil
}

type maker struct {
	leaflet  *Leaflet
	kind     *Kind
	ids      []string // of the legs
	problems Problems
}

func (m *maker) bad(where, format string, args ...any) {
	m.problems = append(m.problems, Problem{Where: where, Right: fmt.Sprintf(format, args...)})
}

// legs names the legs, and takes a package in which so many stand in a row.
func (m *maker) legs() {
	n := len(m.leaflet.Legs)
	if n < 2 || n > 8 {
		m.bad("legs", "a part of two to eight legs can be described here; a larger one as a file")
		return
	}
	for i, leg := range m.leaflet.Legs {
		id := PlainID(leg.Name)
		if id == "" {
			id = fmt.Sprintf("leg%d", i+1)
		}
		for slices.Contains(m.ids, id) {
			id += "b"
		}
		m.ids = append(m.ids, id)
		name := strings.TrimSpace(leg.Name)
		if name == "" {
			name = fmt.Sprintf("leg %d", i+1)
		}
		m.kind.Terminals = append(m.kind.Terminals, Terminal{ID: id, Name: name})
	}
	if n == 2 {
		m.kind.Body.Package = "radial-1"
	} else {
		m.kind.Body.Package = fmt.Sprintf("inline-%d", n)
	}
}

// PlainID makes an id of a name: its letters and digits, at most 13.
func PlainID(name string) string {
	var b strings.Builder
	for _, r := range strings.ToLower(name) {
		if r < 128 && (unicode.IsLetter(r) || unicode.IsDigit(r)) && b.Len() < 13 {
			b.WriteRune(r)
		}
	}
	return b.String()
}

// only is the leg with a role, of which there is one.
func (m *maker) only(role LegRole, words string) string {
	found := ""
	for i, leg := range m.leaflet.Legs {
		if leg.Is != role || i >= len(m.ids) {
			continue
		}
		if found != "" {
			m.bad(fmt.Sprintf("legs[%d].is", i), "only one leg is its %s", words)
		}
		found = m.ids[i]
	}
	if found == "" {
		m.bad("legs", "say which leg is its %s", words)
	}
	return found
}

func (m *maker) value(id, name string, unit quantity.Unit, least, most float64, v spec.Value, shown bool) {
	m.kind.Values = append(m.kind.Values, Value{ID: id, Name: name, Unit: unit, Min: least, Max: most, Default: v, Shown: shown})
}

// stated is a value with its tolerance, or a wide one where nothing is stated.
func stated(v float64, unknown spec.Value) spec.Value {
	if v == 0 {
		return unknown
	}
	return spec.Within(v, statedWithin, leafletSource)
}

func (m *maker) module() {
	l, k := m.leaflet, m.kind
	k.Family, k.Symbol = "sensors", "sensor"
	plus, ground := m.only(PlusLeg, "supply"), m.only(GroundLeg, "ground")
	k.Feed = &Feed{plus, ground}
	from, to := l.From, l.To
	if from == 0 {
		from = 3
	}
	if to == 0 {
		to = max(from, 5.5)
	}
	if from < 0.5 || to > 30 || from > to {
		m.bad("from", "from 0.5 V up to at most 30 V, the smaller number first")
		return
	}
	source := leafletSource + ", as nominal voltages"
	if l.From == 0 || l.To == 0 {
		source = unknownSource
	}
	m.value("supplyMinimum", "least supply voltage", quantity.Volt, 0, 100, spec.Exactly(from*nominalLeast, source), true)
	m.value("supplyMaximum", "largest supply voltage", quantity.Volt, 0.5, 100, spec.Exactly(to*nominalMost, source), true)
	if l.Amps < 0 || l.Amps > 2 {
		m.bad("amps", "it takes up to 2 A")
		return
	}
	m.value("supplyCurrent", "supply current", quantity.Ampere, 0, 4, stated(l.Amps, unknownAmps), false)
	var tells []string
	outputs := 0
	for i, leg := range l.Legs {
		switch leg.Is {
		case OutputLeg:
			outputs++
		case PlusLeg, GroundLeg, FreeLeg:
		default:
			m.bad(fmt.Sprintf("legs[%d].is", i), "a leg of a module is its supply, its ground, an output, or left free")
		}
	}
	if outputs == 0 {
		m.bad("legs", "say which leg is an output")
	}
	for i := range l.Legs {
		if l.Legs[i].Is == OutputLeg && i < len(m.ids) {
			tells = append(tells, m.output(i, outputs > 1, to))
		}
	}
	k.Inside = append(k.Inside, Element{Is: Supply, Legs: []string{plus, ground}})
	k.Summary = fmt.Sprintf("%s, from its leaflet: %s. Runs on %s to %s.", k.Name, strings.Join(tells, ", "), quantity.Short(from, quantity.Volt), quantity.Short(to, quantity.Volt))
	if len(m.problems) == 0 {
		m.hookups(from, to)
	}
}

// output adds what an output of a module is, with the hand that changes it.
func (m *maker) output(i int, several bool, supply float64) (tells string) {
	leg, id, k := &m.leaflet.Legs[i], m.ids[i], m.kind
	where := fmt.Sprintf("legs[%d]", i)
	about := strings.TrimSpace(leg.About)
	if about == "" && leg.Gives != GivesVolts {
		about = strings.TrimSpace(leg.Told)
	}
	if about == "" {
		about = "output " + m.kind.Terminals[i].Name
	}
	e, h, own := Element{Legs: []string{id}, Values: map[string]string{}}, Hand{}, ""
	if several {
		h.ID, h.Name, e.Hand, own = id, about, id, id+"."
	}
	value := func(name, words string, unit quantity.Unit, least, most float64, v spec.Value, shown bool) {
		if several {
			e.Values[name] = own + name
			words += " of " + leg.Name
		}
		m.value(own+name, words, unit, least, most, v, shown)
	}
	value("outputResistance", "output resistance", quantity.Ohm, 1, 1e6, unknownOut, false)
	switch leg.Gives {
	case GivesVolts:
		e.Is = Voltage
		least, most := leg.Least, leg.Most
		switch {
		case least == 0 && most == 0:
			least, most = 0, 100
		case least == most:
			m.bad(where+".most", "from one number to another: these are one")
			return ""
		}
		low, high := leg.LeastGive, leg.MostGive
		source := spec.Value{Source: leafletSource}
		switch {
		case low == 0 && high == 0:
			low, high, source.Source = 0, supply, unknownSource
		case low == high:
			m.bad(where+".mostGives", "at its two ends it gives the same: then it tells nothing")
			return ""
		}
		if low < 0 || high < 0 || low > 30 || high > 30 {
			m.bad(where+".leastGives", "its output is between 0 and 30 V")
			return ""
		}
		unit := strings.TrimSpace(leg.Unit)
		if unit == "" {
			unit = "%"
		}
		slope := (high - low) / (most - least)
		tolerated := func(v, off float64) spec.Value {
			return spec.Value{Low: v - off, Typ: v, High: v + off, Source: source.Source}
		}
		value("offset", "output at 0 "+unit, quantity.Volt, -1e6, 1e6, tolerated(low-slope*least, 0.02*math.Abs(high-low)), true)
		value("slope", "output per "+unit, quantity.Volt, -1e6, 1e6, tolerated(slope, 0.05*math.Abs(slope)), true)
		first, last := min(least, most), max(least, most)
		for _, at := range []float64{first, (first + last) / 2, last} {
			h.Settings = append(h.Settings, Setting{Name: fmt.Sprintf("at %g %s", at, unit), Level: at})
		}
		h.Quantity = &Quantity{Name: about, Unit: unit, Least: first, Most: last}
	case GivesLevel, GivesPull:
		quiet, told := strings.TrimSpace(leg.Quiet), strings.TrimSpace(leg.Told)
		if quiet == "" {
			quiet = "quiet"
		}
		if told == "" {
			told = "triggered"
		}
		if quiet == told {
			m.bad(where+".told", "the two states have two names")
			return ""
		}
		h.Settings = []Setting{{quiet, 0}, {told, 1}}
		value("outputLimit", "largest output current", quantity.Ampere, 1e-5, 1, spec.Exactly(0.01, unknownSource), false)
		triggered := !leg.Low // what the element does in the second setting
		switch {
		case leg.Gives == GivesPull:
			e.Is, triggered = OpenCollector, leg.Low // what pulls is low
			value("contactResistance", "resistance when it conducts", quantity.Ohm, 0.1, 1e4, spec.Value{Low: 5, Typ: 30, High: 150, Source: unknownSource}, false)
		case leg.High > 30 || leg.High < 0:
			m.bad(where+".high", "its high level is up to 30 V")
			return ""
		case leg.High > 0:
			e.Is = Regulated
			value("outputHigh", "high output", quantity.Volt, 0.5, 30, spec.Within(leg.High, 0.05, leafletSource), true)
		default:
			e.Is = PushPull
		}
		if !triggered {
			e.When = []string{quiet}
		}
	default:
		m.bad(where+".gives", "say whether it gives a voltage, a level, or pulls to ground")
		return ""
	}
	k.Inside, k.Hands = append(k.Inside, e), append(k.Hands, h)
	return about
}
