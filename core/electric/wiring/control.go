package wiring

import (
	"cablaggio/core/document/build"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
)

// A ControlKind says what changes a control.
type ControlKind uint8

// The kinds of controls.
const (
	Mode    ControlKind = iota // the program sets a pin of the board; the settings are [LetGo] and what follows
	Output                     // the program drives an output of a part; its settings are [Low] and [High]
	Contact                    // a hand or the world sets a part; of a contact the settings are [Open] and [Closed]
	Level                      // a hand or the world moves a part to any level
	Keys                       // any keys of a part are down; the setting has a bit for each
)

// Settings of controls, other than those of a [Level] and of [Keys].
const (
	Low, High    = 0, 1
	Open, Closed = 0, 1
)

// Modes of a pin. Those that the pin has not are not among its settings.
const (
	LetGo = iota
	PulledUp
	PulledDown
	DrivenLow
	DrivenHigh
)

var modes = []string{LetGo: "let go", PulledUp: "pulled up", PulledDown: "pulled down", DrivenLow: "low", DrivenHigh: "high"}

// A Control is something in the circuit that can be set. A setting is a number:
// of a Level the level itself, in the unit of what the part measures; of Keys a
// bit for each key that is down; of all others the index of its name.
type Control struct {
	Kind     ControlKind
	Of       string    // the pin, the part or its leg; no two controls have the same
	Name     string    // "D4 (lamp 1)", "button 1"
	Settings []string  // what each setting is called; of a Level, those that have names; of Keys: nothing
	Levels   []float64 // of a Level: what the names stand for
	Least    float64   // of a Level: what it may be, ends included
	Most     float64
	Unit     string    // of a Level
	Keys     []string  // of Keys: the name of each
	Planned  []float64 // the settings that the build as planned is looked at in
	Reads    bool      // of a Mode: the plan reads the pin, so what is as planned goes without saying
}

// Whose returns the part of which a control is an output, or a hand moves something; nil of a
// pin of the board.
func (n *Network) Whose(c *Control) *build.Part {
	if c.Kind == Mode {
		return nil
	}
	id, _ := build.Terminal(c.Of).Split()
	return n.Doc.Part(id)
}

// HandsOf returns the indices of the controls that hands or the world move at a part.
func (n *Network) HandsOf(id string) (out []int) {
	for i := range n.Controls {
		c := &n.Controls[i]
		if c.Kind != Mode && c.Kind != Output && (c.Of == id || strings.HasPrefix(c.Of, id+".")) {
			out = append(out, i)
		}
	}
	return out
}

// HandOf returns the index of the control that a signal of a part reads: the hand of that name,
// or the only one that the part has; -1: none.
func (n *Network) HandOf(id, signal string) int {
	hands := n.HandsOf(id)
	named := func(hand string) int {
		k := slices.IndexFunc(hands, func(i int) bool { c := &n.Controls[i]; return c.Of == id || c.Of == id+"."+hand })
		if k < 0 {
			return -1
		}
		return hands[k]
	}
	if i := named(signal); i >= 0 || len(hands) == 0 {
		return i
	}
	// Several signals of one hand are called as the legs that they read.
	kind, _ := n.Library.Catalogue.Kind(n.Doc.Part(id).Kind)
	for _, e := range kind.Inside {
		if e.Hand != "" && slices.Contains(e.Legs, signal) {
			return named(e.Hand)
		}
	}
	return -1
}

// Text writes a setting as it is addressed: "high", "pressed", "0.5".
func (c *Control) Text(setting float64) string {
	switch c.Kind {
	case Level:
		if i := slices.Index(c.Levels, setting); i >= 0 {
			return c.Settings[i]
		}
		return strconv.FormatFloat(setting, 'g', -1, 64)
	case Keys:
		var down []string
		for k, name := range c.Keys {
			if uint64(setting)&(1<<k) != 0 {
				down = append(down, name)
			}
		}
		if len(down) == 0 {
			return untouched
		}
		return strings.Join(down, " + ")
	}
	if i := int(setting); i >= 0 && i < len(c.Settings) && c.Settings[i] != "" {
		return c.Settings[i]
	}
	return strconv.FormatFloat(setting, 'g', -1, 64)
}

const untouched = "untouched"

// Parse reads what Text writes; of a Level any number within its bounds; of Keys
// any of their names, joined by plus signs.
func (c *Control) Parse(text string) (float64, error) {
	text = strings.TrimSpace(text)
	switch c.Kind {
	case Keys:
		set := 0.0
		if text == untouched {
			return set, nil
		}
		for name := range strings.SplitSeq(text, "+") {
			k := slices.Index(c.Keys, strings.TrimSpace(name))
			if k < 0 {
				return 0, fmt.Errorf("%q is not a key of %s; they are %s", strings.TrimSpace(name), c.Of, strings.Join(c.Keys, ", "))
			}
			set = float64(uint64(set) | 1<<k)
		}
		return set, nil
	case Level:
		if i := slices.Index(c.Settings, text); i >= 0 {
			return c.Levels[i], nil
		}
		v, err := strconv.ParseFloat(text, 64)
		if err != nil || math.IsNaN(v) || v < c.Least || v > c.Most {
			return 0, fmt.Errorf("%q is not a level of %s; it is %s, or a number from %g to %g%s", text, c.Of, strings.Join(c.Settings, ", "), c.Least, c.Most, unit(c.Unit))
		}
		return v, nil
	}
	if i := slices.Index(c.Settings, text); i >= 0 && text != "" {
		return float64(i), nil
	}
	names := slices.DeleteFunc(slices.Clone(c.Settings), func(s string) bool { return s == "" })
	return 0, fmt.Errorf("%q is not a setting of %s; it is %s, as in %s=%s", text, c.Of, strings.Join(names, " or "), c.Of, names[len(names)-1])
}

func unit(u string) string {
	if u == "" {
		return ""
	}
	return " " + u
}

// ByAnOldProgram is how [Control.Words] says that a plan has no such level of a pin.
const ByAnOldProgram = " by an old program"

// Words says a setting in words: "D4 (lamp 1) is high".
func (c *Control) Words(setting float64) string {
	switch {
	case c.Kind == Mode && (setting == DrivenLow || setting == DrivenHigh) && !slices.Contains(c.Planned, setting):
		return c.Name + " is driven " + c.Text(setting) + ByAnOldProgram
	case c.Kind == Level && !slices.Contains(c.Levels, setting):
		return fmt.Sprintf("%s is at %.4g%s", c.Name, setting, unit(c.Unit))
	case c.Kind == Keys && setting != 0:
		return c.Name + " is pressed at " + strings.ReplaceAll(c.Text(setting), " + ", " and ")
	}
	if c.Kind == Mode && setting == LetGo {
		return c.Name + " is an input"
	}
	return c.Name + " is " + c.Text(setting)
}

// Names lists settings by their addresses, the first one as the plan begins: all
// that have names, and of keys each one alone.
func (c *Control) Names() []string {
	var out []string
	add := func(name string) {
		if name != "" && !slices.Contains(out, name) {
			out = append(out, name)
		}
	}
	if c.Kind == Keys {
		return append([]string{untouched}, c.Keys...)
	}
	for _, s := range c.Planned {
		add(c.Text(s))
	}
	for _, name := range c.Settings {
		add(name)
	}
	return out
}
