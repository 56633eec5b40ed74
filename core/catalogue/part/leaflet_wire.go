package part

import (
	"fmt"
	"math"
	"strings"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/spec"
)

// standsFive is the logic's voltage, in volts, from which on pins stand what a module of 5 V gives.
const standsFive = 4.5

// hookups are the usual ways to wire a module: on the logic's supply where that is enough for it, or
// else on the power rail, with what is too high for a pin divided.
func (m *maker) hookups(from, to float64) {
	supply := m.wired("on-supply", "board.supply", false)
	supply.Name = "Supply – module – ground, its outputs at pins"
	supply.Why = "On the supply of the logic no output can be too high for its pin."
	divided := m.wired("divided", "board.power", true)
	divided.Name = "Power rail – module – ground, its outputs divided to the pins"
	divided.Why = "For a board whose pins stand less than the module gives: 10 kΩ over 15 kΩ leave three fifths for the pin."
	power := m.wired("on-power", "board.power", false)
	power.Name = "Power rail – module – ground, its outputs at pins"
	power.Why = "For a module that needs the power rail. Its outputs may be as high as that; look what the pins tolerate."
	list := []Hookup{supply, power}
	if len(divided.Helpers) > 0 {
		list = append(list, divided)
	}
	if from > 3.3 || to < 3 { // the logic of some boards has 3.3 V
		list = append(list[1:], list[0])
		if len(divided.Helpers) > 0 {
			list[0].LogicFrom = standsFive
		}
	}
	m.kind.Hookups = list
}

// wired is one way to wire a module.
func (m *maker) wired(id, rail string, divided bool) Hookup {
	f := m.kind.Feed
	h := Hookup{ID: id, Signals: []Signal{}, Helpers: []Helper{}, Joins: [][]string{{rail, "self." + f.Plus}}, Row: []string{rail, "self", "board.ground"}}
	ground := []string{"self." + f.Minus}
	several := m.kind.Gives() > 1
	for i, leg := range m.leaflet.Legs {
		if leg.Is != OutputLeg {
			continue
		}
		s := Signal{Name: "read", Needs: board.DigitalIn}
		if several {
			s.Name = m.ids[i]
		}
		switch leg.Gives {
		case GivesVolts:
			s.Needs = board.AnalogIn
		case GivesPull:
			s.Pull = board.PullUp
		}
		if h.Tap == "" {
			h.Tap = "pin." + s.Name
		}
		h.Signals = append(h.Signals, s)
		if !divided || leg.Gives == GivesPull {
			h.Joins = append(h.Joins, []string{"pin." + s.Name, "self." + m.ids[i]})
			continue
		}
		upper, lower := "upper", "lower"
		if several {
			upper, lower = fmt.Sprintf("upper-%d", i+1), fmt.Sprintf("lower-%d", i+1)
		}
		h.Helpers = append(h.Helpers, Helper{upper, "resistor", 10e3}, Helper{lower, "resistor", 15e3})
		h.Joins = append(h.Joins, []string{"self." + m.ids[i], upper + ".1"}, []string{"pin." + s.Name, upper + ".2", lower + ".1"})
		ground = append(ground, lower+".2")
		if len(h.Row) == 3 {
			h.Row = []string{rail, "self", upper, lower, "board.ground"}
		}
	}
	h.Joins = append(h.Joins, append(ground, "board.ground"))
	return h
}

func (m *maker) ends() (a, b string) {
	for i, leg := range m.leaflet.Legs {
		if leg.Is != EndLeg && leg.Is != FreeLeg {
			m.bad(fmt.Sprintf("legs[%d].is", i), "a leg of it is one of its two ends, or left free")
		}
		if leg.Is != EndLeg || i >= len(m.ids) {
			continue
		}
		switch {
		case a == "":
			a = m.ids[i]
		case b == "":
			b = m.ids[i]
		default:
			m.bad(fmt.Sprintf("legs[%d].is", i), "it has two ends; the others are left free")
		}
	}
	if b == "" {
		m.bad("legs", "say which two legs are its ends")
	}
	return a, b
}

func (m *maker) contact(c *Catalogue) {
	k := m.kind
	k.Family, k.Symbol, k.Body.Alike = "contacts", "switch", len(m.leaflet.Legs) == 2
	a, b := m.ends()
	open, closed := strings.TrimSpace(m.leaflet.Ways[0]), strings.TrimSpace(m.leaflet.Ways[1])
	if open == "" {
		open = "open"
	}
	if closed == "" {
		closed = "closed"
	}
	if open == closed {
		m.bad("ways", "open and closed have two names")
	}
	k.Inside = []Element{{Is: Contact, Legs: []string{a, b}}}
	k.Hands = []Hand{{Settings: []Setting{{open, 0}, {closed, 1}}}}
	k.Summary = fmt.Sprintf("%s, from its leaflet: a contact, closed when it is %s.", k.Name, closed)
	like, _ := c.Kind("switch")
	for _, v := range like.Values {
		v.Default.Source = unknownSource
		k.Values = append(k.Values, v)
	}
	m.take(like, map[string]string{like.Terminals[0].ID: a, like.Terminals[1].ID: b})
}

func (m *maker) load(c *Catalogue) {
	k, l := m.kind, m.leaflet
	k.Family, k.Symbol, k.Acts = "loads", map[string]string{Sounds: "buzzer", Turns: "motor", Pulls: "relay", Glows: "bulb"}[l.Acts], l.Acts
	if k.Symbol == "" {
		m.bad("acts", "say whether it sounds, turns, pulls or glows")
		return
	}
	a, b := m.ends()
	if l.Volt < 0.5 || l.Volt > 24 {
		m.bad("volt", "say for which voltage it is made, from 0.5 to 24 V; never mains here")
	}
	if l.Amps <= 0 || l.Amps > 5 {
		m.bad("amps", "say what it takes at that voltage, up to 5 A")
	}
	if len(m.problems) > 0 {
		return
	}
	like, _ := c.Kind(map[string]string{Sounds: "buzzer-active", Turns: "motor", Pulls: "relay", Glows: "motor"}[l.Acts])
	for _, v := range like.Values {
		switch v.ID {
		case "resistance":
			v.Default = spec.Within(l.Volt/l.Amps, statedWithin, leafletSource)
			v.Min, v.Max = math.Min(v.Min, v.Default.Low/10), math.Max(v.Max, v.Default.High*10)
		case "ratedVoltage":
			v.Default = spec.Exactly(l.Volt, leafletSource)
		default:
			v.Default.Source = unknownSource
		}
		k.Values = append(k.Values, v)
	}
	e := Element{Is: Coil, Legs: []string{a, b}}
	if l.Acts == Sounds || l.Acts == Glows {
		e.Is = Resistance
	}
	k.Inside = []Element{e}
	k.Summary = fmt.Sprintf("%s, from its leaflet: takes %s at %s.", k.Name, quantity.Short(l.Amps, quantity.Ampere), quantity.Short(l.Volt, quantity.Volt))
	m.take(like, map[string]string{like.Terminals[0].ID: a, like.Terminals[1].ID: b})
}

// take takes over the hookups of a kind that is like it, with its own legs.
func (m *maker) take(like *Kind, legs map[string]string) {
	for _, h := range like.Hookups {
		if h.Host != nil {
			continue
		}
		joins := make([][]string, len(h.Joins))
		for i, join := range h.Joins {
			for _, t := range join {
				if leg, ok := strings.CutPrefix(t, "self."); ok {
					t = "self." + legs[leg]
				}
				joins[i] = append(joins[i], t)
			}
		}
		h.Joins = joins
		h.Name = strings.ReplaceAll(h.Name, like.Name, m.kind.Name)
		m.kind.Hookups = append(m.kind.Hookups, h)
	}
}
