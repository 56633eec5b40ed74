package build

import (
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strings"
	"time"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/breadboard"
)

// An Assembly is what the builder decides about the breadboard and has done
// there. Where nothing is decided, package placement chooses.
type Assembly struct {
	Breadboards []string                     `json:"breadboards,omitempty"` // ids of sizes, side by side; empty: the smallest that does
	Beside      bool                         `json:"beside,omitempty"`      // the board lies beside, though it could be plugged in
	Fixed       map[Terminal]breadboard.Hole `json:"fixed,omitempty"`       // where the builder wants legs
	Stock       *WireStock                   `json:"stock,omitempty"`       // the wires that the builder has; nil: any
	Reach       int                          `json:"reach,omitempty"`       // millimetres of wire from place to place of a build that is soldered; 0: as usual
	Done        []Done                       `json:"done,omitempty"`        // the steps that are done, in the order of doing
	Kept        *Built                       `json:"kept,omitempty"`        // what was plugged in when the plan last changed: it stays where it can
	Built       *Built                       `json:"built,omitempty"`       // what is really there; nil: not looked at
}

// A WireStock is the wires that the builder has. An empty list is any.
type WireStock struct {
	Colours []string `json:"colours,omitempty"` // of [WireColours]
	Lengths []int    `json:"lengths,omitempty"` // in millimetres, from the shortest
}

// WireColours are the colours of wires, in the order of IEC 60757.
var WireColours = []string{"black", "brown", "red", "orange", "yellow", "green", "blue", "violet", "grey", "white", "pink"}

// MaxLength is how long a wire on a bench is at most, in millimetres.
const MaxLength = 2000

// A Done is a step that is done.
type Done struct {
	Step string    `json:"step"` // its id; a step with other holes is another step
	At   time.Time `json:"at"`
}

// Built is what is really on the breadboard.
type Built struct {
	Legs    map[Terminal]breadboard.End `json:"legs"` // what is missing is not plugged in
	Wires   []Wire                      `json:"wires"`
	Values  map[string]float64          `json:"values,omitempty"`  // ohms of resistors that are not those of the plan, by part
	Partial bool                        `json:"partial,omitempty"` // what belongs to steps that are not done is still to come
}

// A Wire goes from one end to another.
type Wire struct {
	From breadboard.End `json:"from"`
	To   breadboard.End `json:"to"`
}

const maxStep = 480 // bytes of a step's id

// MaxSteps is how many steps can be noted as done.
const MaxSteps = 2000

// MaxWires is how many wires there can be on the breadboards.
const MaxWires = 400

// Clone returns a deep copy.
func (a *Assembly) Clone() *Assembly {
	if a == nil {
		return nil
	}
	c := *a
	c.Breadboards, c.Fixed, c.Done = slices.Clone(a.Breadboards), maps.Clone(a.Fixed), slices.Clone(a.Done)
	if a.Stock != nil {
		c.Stock = &WireStock{slices.Clone(a.Stock.Colours), slices.Clone(a.Stock.Lengths)}
	}
	c.Kept, c.Built = a.Kept.Clone(), a.Built.Clone()
	return &c
}

// Clone returns a deep copy, with room for legs where a file has none.
func (b *Built) Clone() *Built {
	if b == nil {
		return nil
	}
	c := &Built{maps.Clone(b.Legs), slices.Clone(b.Wires), maps.Clone(b.Values), b.Partial}
	if c.Legs == nil {
		c.Legs = map[Terminal]breadboard.End{}
	}
	return c
}

// equal reports whether two say the same. None is not the same as an empty one.
func (b *Built) equal(o *Built) bool {
	if b == nil || o == nil {
		return b == o
	}
	return maps.Equal(b.Legs, o.Legs) && slices.Equal(b.Wires, o.Wires) && maps.Equal(b.Values, o.Values) && b.Partial == o.Partial
}

// diff says in words what is different in b from a. Either may be nil.
func (a *Assembly) diff(b *Assembly) []string {
	if a == nil {
		a = &Assembly{}
	}
	if b == nil {
		b = &Assembly{}
	}
	var out []string
	if !slices.Equal(a.Breadboards, b.Breadboards) || a.Beside != b.Beside {
		out = append(out, "other breadboards are taken")
	}
	if !maps.Equal(a.Fixed, b.Fixed) {
		out = append(out, "parts are put elsewhere")
	}
	if !reflect.DeepEqual(a.Stock, b.Stock) {
		out = append(out, "other wires are at hand")
	}
	if a.Reach != b.Reach {
		out = append(out, "soldered wires have another length")
	}
	for words, pair := range map[string][2]*Assembly{"done": {a, b}, "taken back": {b, a}} {
		n := 0
		for _, d := range pair[1].Done {
			if !slices.ContainsFunc(pair[0].Done, func(o Done) bool { return o.Step == d.Step }) {
				n++
			}
		}
		switch {
		case n == 1:
			out = append(out, "one step is "+words)
		case n > 1:
			out = append(out, fmt.Sprintf("%d steps are %s", n, words))
		}
	}
	if !a.Kept.equal(b.Kept) {
		out = append(out, "what was plugged in before the plan changed is another")
	}
	if !a.Built.equal(b.Built) {
		out = append(out, "what is really on the breadboard is noted otherwise")
	}
	slices.Sort(out)
	return out
}

// Forget drops what is noted of parts that the document has no more. A nil
// Assembly has nothing to forget.
func (a *Assembly) Forget(d *Document) {
	if a == nil {
		return
	}
	gone := func(t Terminal) bool { id, _ := t.Split(); return d.Part(id) == nil }
	maps.DeleteFunc(a.Fixed, func(t Terminal, _ breadboard.Hole) bool { return gone(t) })
	for _, b := range []*Built{a.Kept, a.Built} {
		if b != nil {
			maps.DeleteFunc(b.Legs, func(t Terminal, _ breadboard.End) bool { return gone(t) })
			maps.DeleteFunc(b.Values, func(id string, _ float64) bool { return d.Part(id) == nil })
		}
	}
}

// Tables are the tables that a build may lie on.
type Tables []*breadboard.Table

// Tables returns the table with the breadboards that are chosen, or, while none
// are, the biggest of each size. The error says why there is none.
func (a *Assembly) Tables(b *board.Profile) (Tables, error) {
	choices := [][]string{a.Breadboards}
	if len(a.Breadboards) == 0 {
		choices = nil
		for _, s := range breadboard.Sizes() {
			choices = append(choices, slices.Repeat([]string{s.ID}, breadboard.MaxBoards))
		}
	}
	var out Tables
	var err error
	for _, ids := range choices {
		var t *breadboard.Table
		if t, err = breadboard.NewTable(ids, b, a.Beside); err == nil {
			out = append(out, t)
		}
	}
	if len(out) == 0 {
		return nil, err
	}
	return out, nil
}

// CheckEnd reports why an end is on none of the tables, in words.
func (ts Tables) CheckEnd(e breadboard.End) (err error) {
	for _, t := range ts {
		if err = t.CheckEnd(e); err == nil {
			return nil
		}
	}
	return err
}

// assembly checks that everything is on the table.
func (v *validator) assembly() {
	a := v.doc.Assembly
	if a == nil {
		return
	}
	tables, err := a.Tables(v.board)
	if err != nil {
		v.bad("assembly.breadboards", err.Error(), "")
		return
	}
	leg := func(where string, t Terminal) {
		if err := v.lib.CheckTerminal(v.doc, t); err != nil {
			v.bad(where, err.Error(), "")
		} else if t.OnBoard() {
			v.bad(where, fmt.Sprintf("%q is not a leg of a part", t), "led1.anode is one")
		}
	}
	end := func(where string, e breadboard.End) {
		if err := tables.CheckEnd(e); err != nil {
			v.bad(where, err.Error(), "")
		}
	}
	for _, t := range slices.Sorted(maps.Keys(a.Fixed)) {
		leg("assembly.fixed", t)
		end("assembly.fixed."+clip(string(t)), breadboard.InHole(a.Fixed[t]))
	}
	if s := a.Stock; s != nil {
		for i, c := range s.Colours {
			if !slices.Contains(WireColours, c) {
				v.bad(fmt.Sprintf("assembly.stock.colours[%d]", i), fmt.Sprintf("%q is not a colour of wires", clip(c)), "they are "+strings.Join(WireColours, ", "))
			}
		}
		for i, mm := range s.Lengths {
			if mm < 1 || mm > MaxLength || i > 0 && mm <= s.Lengths[i-1] {
				v.bad(fmt.Sprintf("assembly.stock.lengths[%d]", i), fmt.Sprintf("%d mm", mm), fmt.Sprintf("1 to %d mm each, from the shortest", MaxLength))
			}
		}
		if len(s.Lengths) > 100 || len(s.Colours) > len(WireColours) {
			v.bad("assembly.stock", "there are too many sorts of wires", "")
		}
	}
	if a.Reach < 0 || a.Reach > MaxLength {
		v.bad("assembly.reach", fmt.Sprintf("%d mm", a.Reach), fmt.Sprintf("1 to %d mm, or 0 for the usual length", MaxLength))
	}
	if len(a.Done) > MaxSteps {
		v.bad("assembly.done", fmt.Sprintf("there are %d steps", len(a.Done)), fmt.Sprintf("at most %d are done", MaxSteps))
		return
	}
	for i, d := range a.Done {
		if strings.TrimSpace(d.Step) == "" || len(d.Step) > maxStep {
			v.bad(fmt.Sprintf("assembly.done[%d]", i), "it names no step", "")
		}
	}
	for _, x := range []struct {
		where string
		built *Built
	}{{"assembly.kept", a.Kept}, {"assembly.built", a.Built}} {
		if x.built != nil {
			v.built(x.where, x.built, leg, end)
		}
	}
}

// built checks what is on the table, with checks of its legs and ends.
func (v *validator) built(where string, b *Built, leg func(string, Terminal), end func(string, breadboard.End)) {
	for _, t := range slices.Sorted(maps.Keys(b.Legs)) {
		leg(where+".legs", t)
		end(where+".legs."+clip(string(t)), b.Legs[t])
	}
	if len(b.Wires) > MaxWires {
		v.bad(where+".wires", fmt.Sprintf("there are %d wires", len(b.Wires)), fmt.Sprintf("at most %d", MaxWires))
		return
	}
	for i, w := range b.Wires {
		end(fmt.Sprintf("%s.wires[%d].from", where, i), w.From)
		end(fmt.Sprintf("%s.wires[%d].to", where, i), w.To)
	}
	for _, id := range sortedKeys(b.Values) {
		p := v.doc.Part(id)
		if p == nil {
			v.bad(where+".values", fmt.Sprintf("there is no part %q", clip(id)), "")
			continue
		}
		kind, ok := v.lib.Catalogue.Kind(p.Kind)
		if !ok {
			continue
		}
		if err := CheckValue(kind, "resistance", b.Values[id]); err != nil {
			v.bad(where+".values."+clip(id), err.Error(), "")
		}
	}
}
