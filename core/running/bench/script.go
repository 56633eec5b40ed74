// Package bench lets a build run: the builder's program on the builder's wiring, in time, with
// hands at it, and records what everything did. The same build, program, actions and seed give
// the same recording, byte for byte.
package bench

import (
	"cmp"
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"

	"cablaggio/core/electric/wiring"
)

// A Verb says what an action does.
type Verb string

// The verbs.
const (
	Press   Verb = "press"   // a contact, or a key of a keypad, and hold it
	Release Verb = "release" // it
	Turn    Verb = "turn"    // a knob, to per cents of its way
	Set     Verb = "set"     // a sensor, to a level in the unit of what it measures
	Spin    Verb = "spin"    // a wheel, at closings a second; 0: it stands still
	Feed    Verb = "feed"    // from a test generator in place of a sensor or a contact; at 0 Hz: take it away
	Touch   Verb = "touch"   // a pin, with a hand near it
	Type    Verb = "type"    // text, into the serial link
	Unplug  Verb = "unplug"  // the board's supply
	Plug    Verb = "plug"    // it in again: the program begins anew
	Reset   Verb = "reset"   // the board, by its button
	Drain   Verb = "drain"   // cells, by letting so many hours pass for them in a second; 0: no more
)

// What is named beside the parts and pins.
const (
	Board = "board" // of Unplug, Plug and Reset
	Cells = "cells" // of Set, their charge in per cents, and Drain
)

// An Action is something that a hand, or the world, does at a time.
type Action struct {
	At   float64 `json:"at"`             // s
	Do   Verb    `json:"do"`             //
	Of   string  `json:"of,omitempty"`   // the part, by its id, or the pin
	Key  string  `json:"key,omitempty"`  // of a keypad
	To   float64 `json:"to,omitempty"`   // of Turn: 0 to 1; of Set: the level; of Spin and Feed: hertz; of Drain: hours a second
	Text string  `json:"text,omitempty"` // of Type

	// Of Feed: the part of a period that it is closed, or at its high level, 0: half of it; and the
	// two levels, both 0: from one end to the other.
	Share float64 `json:"share,omitempty"`
	Low   float64 `json:"low,omitempty"`
	High  float64 `json:"high,omitempty"`
}

// String writes an action as it is read.
func (a Action) String() string {
	at := strconv.FormatFloat(a.At, 'f', -1, 64) + "s "
	switch a.Do {
	case Type:
		return at + "type " + strconv.Quote(a.Text)
	case Unplug, Plug, Reset:
		return at + string(a.Do) + " " + Board
	case Drain:
		return fmt.Sprintf("%sdrain %s at %g h/s", at, a.Of, a.To)
	case Turn:
		return fmt.Sprintf("%sturn %s to %g %%", at, a.Of, a.To*100)
	case Set:
		return fmt.Sprintf("%sset %s to %g", at, a.Of, a.To)
	case Spin:
		return fmt.Sprintf("%sspin %s at %g Hz", at, a.Of, a.To)
	case Feed:
		s := fmt.Sprintf("%sfeed %s at %g Hz", at, a.Of, a.To)
		if a.Share > 0 {
			s += fmt.Sprintf(" %g %%", a.Share*100)
		}
		if a.Low != a.High {
			s += fmt.Sprintf(" from %g to %g", a.Low, a.High)
		}
		return s
	}
	if a.Key != "" {
		return fmt.Sprintf("%s%s %s at %s", at, a.Do, a.Of, a.Key)
	}
	return fmt.Sprintf("%s%s %s", at, a.Do, a.Of)
}

// MaxActions is how many actions a run takes.
const MaxActions = 10000

// MaxLasts is how long a run may last, in seconds.
const MaxLasts = 24 * 3600

// An ActionError says which action makes no sense, and what would.
type ActionError struct {
	Line  int // of the script, from 1; 0: it was no script
	Text  string
	Right string
}

func (e *ActionError) Error() string {
	where := ""
	if e.Line > 0 {
		where = fmt.Sprintf("line %d: ", e.Line)
	}
	return fmt.Sprintf("%s%q: %s", where, e.Text, e.Right)
}

// ParseScript reads a script for a build: an action a line, or several with semicolons between.
// Empty lines, and what stands behind a #, are passed over; in quotes both are themselves. Its error is an [*ActionError].
func ParseScript(net *wiring.Network, script string) ([]Action, error) {
	var out []Action
	for i, line := range strings.Split(script, "\n") {
		for _, part := range written(line) {
			a, right := parseAction(net, part)
			if right != "" {
				return nil, &ActionError{i + 1, part, right}
			}
			out = append(out, a)
		}
	}
	if len(out) > MaxActions {
		return nil, &ActionError{0, fmt.Sprint(len(out)), fmt.Sprintf("a run takes at most %d actions", MaxActions)}
	}
	slices.SortStableFunc(out, func(a, b Action) int { return cmp.Compare(a.At, b.At) })
	return out, Check(net, out)
}

// written are the actions of a line, each without the blanks around it.
func written(line string) (out []string) {
	quoted, from := false, 0
	add := func(to int) {
		if part := strings.TrimSpace(line[from:to]); part != "" {
			out = append(out, part)
		}
		from = to + 1
	}
	for i := 0; i < len(line); i++ {
		switch c := line[i]; {
		case quoted && c == '\\':
			i++
		case c == '"':
			quoted = !quoted
		case quoted:
		case c == ';':
			add(i)
		case c == '#':
			add(i)
			return out
		}
	}
	add(len(line))
	return out
}

const form = `write when, what and what of: "1.2s press button1", "2s turn knob1 to 50 %", "3s set light1 to 200", "4s spin wheel1 at 6 Hz", "5s touch D2", "6s type \"on\"", "7s feed wheel1 at 6 Hz 20 %", "8s reset board", "9s unplug board", "9.5s plug board"`

// fed is how a generator is set: its rate, its share, and its two levels.
var fed = regexp.MustCompile(`(?i)^at ([0-9.,]+) ?Hz(?: ([0-9.,]+) ?%)?(?: from (-?[0-9.,]+)[^0-9]* to (-?[0-9.,]+)[^0-9]*)?$`)

// drained is how cells run down: so many hours pass for them in a second.
var drained = regexp.MustCompile(`(?i)^at (\d+(?:[.,]\d+)?) ?h(?:ours?)?(?: ?/ ?s| (?:a|each|every|per) second)$`)

// generator reads how a generator is set.
func (a *Action) generator(text string) (right string) {
	m := fed.FindStringSubmatch(text)
	if m == nil {
		return "a generator has a rate, and may have a share of its period and two levels: at 6 Hz, at 6 Hz 20 %, at 6 Hz 20 % from 10 to 30"
	}
	for i, to := range []*float64{&a.To, &a.Share, &a.Low, &a.High} {
		if m[i+1] == "" {
			continue
		}
		v, err := strconv.ParseFloat(strings.ReplaceAll(m[i+1], ",", "."), 64)
		if err != nil {
			return fmt.Sprintf("%q is no number", m[i+1])
		}
		*to = v
	}
	a.Share /= 100
	return ""
}

// parseAction reads one action; right says what would be right where it is not.
func parseAction(net *wiring.Network, text string) (a Action, right string) {
	when, rest, _ := strings.Cut(text, " ")
	at, err := time.ParseDuration(when)
	if err != nil || at < 0 || at.Seconds() > MaxLasts {
		return a, form
	}
	a.At = at.Seconds()
	verb, rest, _ := strings.Cut(strings.TrimSpace(rest), " ")
	a.Do = Verb(strings.ToLower(verb))
	rest = strings.TrimSpace(rest)
	if a.Do == Type {
		if a.Text, err = strconv.Unquote(rest); err != nil {
			return a, `what is typed stands in quotes: 6s type "on"`
		}
		return a, ""
	}
	switch a.Do {
	case Unplug, Plug, Reset:
		if a.Of = Board; rest != "" && !slices.Contains([]string{"board", "the board", "in", "in board", "in the board", "board in"}, strings.ToLower(rest)) {
			return a, onlyBoard + string(a.Do) + " " + Board
		}
		return a, ""
	}
	of, rest := partIn(net, rest)
	if of == "" {
		return a, "it names no part of the build; the parts are " + strings.Join(hands(net), ", ")
	}
	a.Of = of
	rest = strings.TrimSpace(rest)
	switch a.Do {
	case Press, Release:
		if key, ok := strings.CutPrefix(rest, "at "); ok {
			a.Key = strings.TrimSpace(key)
		} else if rest != "" {
			a.Key = rest
		}
	case Feed:
		return a, a.generator(rest)
	case Drain:
		m := drained.FindStringSubmatch(rest)
		if m == nil {
			return a, drainForm
		}
		a.To, _ = strconv.ParseFloat(strings.ReplaceAll(m[1], ",", "."), 64)
		return a, ""
	case Turn, Set, Spin:
		for _, word := range []string{"to ", "at "} {
			rest = strings.TrimPrefix(rest, word)
		}
		number := strings.TrimSpace(strings.TrimRight(rest, " %HhzZluxLUXcmCM°"))
		v, err := strconv.ParseFloat(strings.ReplaceAll(number, ",", "."), 64)
		if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
			return a, "it needs a number: to 50 %, to 200, at 6 Hz"
		}
		a.To = v
		if a.Do == Turn {
			a.To = v / 100
		}
	}
	return a, ""
}

// partIn is the part, or the pin, that a text begins with, by its id or its name, and the rest.
func partIn(net *wiring.Network, text string) (of, rest string) {
	longest := 0
	try := func(name, id string) {
		if len(name) > longest && len(text) >= len(name) && strings.EqualFold(text[:len(name)], name) && (len(text) == len(name) || text[len(name)] == ' ') {
			longest, of = len(name), id
		}
	}
	for i := range net.Doc.Parts {
		p := &net.Doc.Parts[i]
		try(p.ID, p.ID)
		try(p.Name, p.ID)
	}
	for i := range net.Controls {
		if c := &net.Controls[i]; c.Kind == wiring.Contact || c.Kind == wiring.Level || c.Kind == wiring.Keys {
			try(c.Of, c.Of) // of several at one part
			try(c.Name, c.Of)
		}
	}
	for _, pin := range net.Board.Pins {
		try(pin.Name, pin.Name)
	}
	try(Cells, Cells)
	return of, text[longest:]
}

// hands lists the parts that hands can do something with.
func hands(net *wiring.Network) []string {
	var out []string
	for _, c := range net.Controls {
		if c.Kind == wiring.Contact || c.Kind == wiring.Level || c.Kind == wiring.Keys {
			out = append(out, c.Of)
		}
	}
	if len(out) == 0 {
		return []string{"none"}
	}
	return out
}

// control is the control of a part; -1 where it has none.
func control(net *wiring.Network, of string) int {
	return slices.IndexFunc(net.Controls, func(c wiring.Control) bool { return c.Of == of && c.Kind != wiring.Mode && c.Kind != wiring.Output })
}

// What is wrong with what is done to the supply.
const (
	onlyBoard = "it is the board that is plugged in, unplugged or reset: "
	drainForm = "what runs down is cells, by 0 to 1000 hours that pass for them in a second: drain cells at 2 h/s"
	noCells   = "the build is not fed by cells"
)

// Check reports the first action that makes no sense for a build. Its error is an [*ActionError].
func Check(net *wiring.Network, actions []Action) error {
	for _, a := range actions {
		if right := a.wrong(net); right != "" {
			return &ActionError{0, a.String(), right}
		}
	}
	return nil
}

// powers reports whether an action is one on the supply or the reset, for which the program may
// begin anew.
func (a Action) powers() bool {
	return a.Do == Plug || a.Do == Reset || a.Do == Unplug || a.Do == Drain || a.Do == Set && a.Of == Cells
}

// wrong says what would be right of an action; empty: it is.
func (a Action) wrong(net *wiring.Network) string {
	if a.At < 0 || a.At > MaxLasts || math.IsNaN(a.At) || math.IsNaN(a.To) {
		return "a time is from 0 to a day"
	}
	i := control(net, a.Of)
	kind := wiring.ControlKind(255)
	if i >= 0 {
		kind = net.Controls[i].Kind
	}
	switch a.Do {
	case Type:
		return ""
	case Unplug, Plug, Reset:
		if a.Of != Board {
			return onlyBoard + string(a.Do) + " " + Board
		}
		return ""
	case Drain:
		if a.Of != Cells {
			return drainForm
		}
		if net.Doc.Cells == nil {
			return noCells
		}
		if !(a.To >= 0 && a.To <= 1000) {
			return drainForm
		}
		return ""
	case Touch:
		if _, ok := net.Board.Pin(a.Of); !ok {
			return "what is touched is a pin: touch D2"
		}
		return ""
	case Press, Release:
		switch {
		case kind == wiring.Keys && slices.Contains(net.Controls[i].Keys, a.Key):
			return ""
		case kind == wiring.Keys:
			return "its keys are " + strings.Join(net.Controls[i].Keys, ", ") + ": press " + a.Of + " at " + net.Controls[i].Keys[0]
		case kind == wiring.Contact && a.Key == "":
			return ""
		}
		return "that cannot be pressed; what can be touched is " + strings.Join(hands(net), ", ")
	case Turn, Set:
		if a.Do == Set && a.Of == Cells {
			if net.Doc.Cells == nil {
				return noCells
			}
			if a.To < 0 || a.To > 100 {
				return "the cells' charge goes from 0 to 100 %: set cells to 20 %"
			}
			return ""
		}
		if kind != wiring.Level {
			return "that cannot be turned; what can be touched is " + strings.Join(hands(net), ", ")
		}
		if c := &net.Controls[i]; a.Do == Set && (a.To < c.Least || a.To > c.Most) {
			return fmt.Sprintf("it goes from %g to %g %s", c.Least, c.Most, c.Unit)
		}
		if a.Do == Turn && (a.To < 0 || a.To > 1) {
			return "it turns from 0 to 100 %"
		}
		return ""
	case Feed:
		switch {
		case kind != wiring.Contact && kind != wiring.Level:
			return "a generator stands in for a sensor or a contact; there are " + strings.Join(hands(net), ", ")
		case !(a.To >= 0 && a.To <= 10000):
			return "a generator goes at 0 to 10000 Hz"
		case !(a.Share >= 0 && a.Share < 1):
			return "its share of a period is from 0 to 100 %"
		case a.Low == a.High && a.Low == 0:
			return ""
		case kind == wiring.Contact:
			return "a contact is open or closed, and has no levels between"
		default:
			c := &net.Controls[i]
			if !(c.Least <= a.Low && a.Low < a.High && a.High <= c.Most) {
				return fmt.Sprintf("its levels are two from %g to %g %s, the lower one first", c.Least, c.Most, c.Unit)
			}
			return ""
		}
	case Spin:
		if kind != wiring.Contact || a.To < 0 || a.To > 10000 {
			return "what spins is a contact that pulses, at 0 to 10000 Hz"
		}
		return ""
	}
	return form
}
