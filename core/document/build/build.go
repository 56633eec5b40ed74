// Package build is the document of one build: a board, a supply, parts and how
// their terminals are joined. The nets are the wiring; everything else about a
// hookup only remembers how they came about.
package build

import (
	"maps"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/catalogue/supply"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/spec"
)

// Format is the name and version of the file format.
const Format = "cablaggio.build/1"

// Bounds of a document.
const (
	MaxBytes  = 1 << 20 // of a file
	MaxParts  = 200
	MaxNets   = 400
	MaxKinds  = 40  // of the builder's own
	MaxShould = 40  // sentences
	MaxName   = 120 // letters of a title or a name
	MaxVolts  = 30  // of a supply: what a bench with these boards has
	maxDepth  = 16  // of nesting in a file
)

// A Library is what a document may name: boards and kinds of parts.
type Library struct {
	Boards    []*board.Profile `json:"boards"`
	Catalogue *part.Catalogue  `json:"catalogue"`
	// Resistors is the resistances in the drawer, in ohms: values are chosen from
	// them where one serves. Without them the E12 series is taken.
	Resistors []float64 `json:"-"`
}

// Shipped returns the boards and kinds that come with Cablaggio.
func Shipped() *Library {
	return &Library{Boards: board.Shipped(), Catalogue: part.Shipped()}
}

// For returns the library with the kinds of parts that a document brings along. Whoever does
// anything with a document does it with such a library.
func (l *Library) For(d *Document) *Library {
	if len(d.Kinds) == 0 {
		return l
	}
	own := *l
	own.Catalogue = l.Catalogue.With(d.Kinds)
	return &own
}

// Board returns the board of that id.
func (l *Library) Board(id string) (*board.Profile, bool) {
	i := slices.IndexFunc(l.Boards, func(p *board.Profile) bool { return p.ID == id })
	if i < 0 {
		return nil, false
	}
	return l.Boards[i], true
}

// A Document is one build. The zero Document is not valid; begin with [New].
type Document struct {
	Format string  `json:"format"`
	Title  string  `json:"title"`
	Board  string  `json:"board"`            // id of a profile
	Supply string  `json:"supply,omitempty"` // id of one of the board's supplies; empty is the first
	Also   string  `json:"also,omitempty"`   // id of a second supply that is connected at the same time
	Volts  float64 `json:"volts,omitempty"`  // of the supply; zero: what it usually has
	Cells  *Cells  `json:"cells,omitempty"`  // the supply is a battery
	// Exclusive lists groups of parts of which the program switches on only one
	// at a time.
	Exclusive [][]string `json:"exclusive,omitempty"`
	// UnusedPulled: the program switches on the pull-ups of the pins that are not used.
	UnusedPulled bool `json:"unusedPulled,omitempty"`
	// Assembly is how far the build has come on the breadboard; nil: not begun.
	Assembly *Assembly `json:"assembly,omitempty"`
	// Program is what the builder wrote for the board; nil: nothing yet.
	Program *Program `json:"program,omitempty"`
	// Should is what the build should do, in sentences of package should.
	Should []string `json:"should,omitempty"`
	// Kinds are the kinds of parts of the builder's own that the build has, each as it was when its
	// first part was added.
	Kinds []part.Kind `json:"kinds,omitempty"`
	Parts []Part      `json:"parts"`
	Nets  []Net       `json:"nets"`
}

// Cells are cells of one sort in series.
type Cells struct {
	Type  string `json:"type"` // id of a sort of cell in package supply
	Count int    `json:"count"`
}

// New returns an empty build.
func New(title, boardID string) *Document {
	return &Document{Format: Format, Title: title, Board: boardID, Parts: []Part{}, Nets: []Net{}}
}

// A Part is one part of the build.
type Part struct {
	ID      string             `json:"id"`
	Kind    string             `json:"kind"`
	Type    string             `json:"type,omitempty"`
	Name    string             `json:"name"`
	Values  map[string]float64 `json:"values,omitempty"` // by value id, in SI base units, where they differ from the catalogue
	Hookup  string             `json:"hookup,omitempty"` // how it was wired; empty when by hand
	Signals []Signal           `json:"signals,omitempty"`
	Of      string             `json:"of,omitempty"`     // the part whose hookup brought this one
	Role    string             `json:"role,omitempty"`   // and as what
	Chosen  bool               `json:"chosen,omitempty"` // its value is chosen, and follows when something changes
	// Measured is, by value id, what was measured of this very part. It counts as long
	// as it is the part's value.
	Measured map[string]Measured `json:"measured,omitempty"`
}

// Measured is a value as it was measured.
type Measured struct {
	Value  float64 `json:"value"`  // in SI base units
	Within float64 `json:"within"` // what the meter may be off, as a part of the value
}

// IsMeasured reports whether a value of the part is one that was measured, and within
// which part of it.
func (p *Part) IsMeasured(id string) (within float64, ok bool) {
	m, ok := p.Measured[id]
	own, set := p.Values[id]
	return m.Within, ok && set && own == m.Value
}

// A Signal ties what a part needs of a pin to the pin that the program uses.
type Signal struct {
	Name   string         `json:"name"`
	Needs  board.Function `json:"needs"`
	Pin    string         `json:"pin"`
	Pull   board.Pull     `json:"pull,omitempty"`
	Locked bool           `json:"locked,omitempty"` // the builder chose the pin
	part.Drive
}

// A Terminal names a leg of a part ("lamp1.anode") or a place of the board
// ("board.D11", "board.GND").
type Terminal string

// BoardPart stands for the board in a Terminal.
const BoardPart = "board"

// Of returns the terminal of a part.
func Of(partID, leg string) Terminal { return Terminal(partID + "." + leg) }

// Pin returns the terminal of a place of the board.
func Pin(name string) Terminal { return Of(BoardPart, name) }

// Split returns the part and the leg.
func (t Terminal) Split() (partID, leg string) {
	partID, leg, _ = strings.Cut(string(t), ".")
	return partID, leg
}

// OnBoard reports whether t is a place of the board.
func (t Terminal) OnBoard() bool { return strings.HasPrefix(string(t), BoardPart+".") }

// A Net is a set of terminals that are joined.
type Net []Terminal

// Part returns the part of that id, or nil. The pointer is into the document.
func (d *Document) Part(id string) *Part {
	for i := range d.Parts {
		if d.Parts[i].ID == id {
			return &d.Parts[i]
		}
	}
	return nil
}

// Helpers returns the parts that the hookup of the part brought.
func (d *Document) Helpers(id string) []*Part {
	var out []*Part
	for i := range d.Parts {
		if d.Parts[i].Of == id {
			out = append(out, &d.Parts[i])
		}
	}
	return out
}

// NetOf returns the index of the net that t is in, or -1.
func (d *Document) NetOf(t Terminal) int {
	return slices.IndexFunc(d.Nets, func(n Net) bool { return slices.Contains(n, t) })
}

// Fed returns the voltage of the build's supply.
func (d *Document) Fed(s board.Supply) spec.Value {
	if d.Cells != nil {
		return supply.Fed(s, 0, d.Cells.Type, d.Cells.Count)
	}
	return supply.Fed(s, d.Volts, "", 0)
}

// Joined reports whether a and b are in one net.
func (d *Document) Joined(a, b Terminal) bool {
	i := d.NetOf(a)
	return a == b || i >= 0 && slices.Contains(d.Nets[i], b)
}

// Join joins two terminals and with them their nets.
func (d *Document) Join(a, b Terminal) {
	if a == b {
		return
	}
	i, j := d.NetOf(a), d.NetOf(b)
	switch {
	case i < 0 && j < 0:
		d.Nets = append(d.Nets, Net{a, b})
	case i < 0:
		d.Nets[j] = append(d.Nets[j], a)
	case j < 0:
		d.Nets[i] = append(d.Nets[i], b)
	case i != j:
		i, j = min(i, j), max(i, j)
		d.Nets[i] = append(d.Nets[i], d.Nets[j]...)
		d.Nets = slices.Delete(d.Nets, j, j+1)
	}
}

// Free takes a terminal out of its net. A net of one terminal is none.
func (d *Document) Free(t Terminal) {
	i := d.NetOf(t)
	if i < 0 {
		return
	}
	d.Nets[i] = slices.DeleteFunc(d.Nets[i], func(u Terminal) bool { return u == t })
	d.dropLoneNets()
}

// FreePart takes all terminals of a part out of their nets.
func (d *Document) FreePart(id string) {
	for i := range d.Nets {
		d.Nets[i] = slices.DeleteFunc(d.Nets[i], func(t Terminal) bool { p, _ := t.Split(); return p == id })
	}
	d.dropLoneNets()
}

// RemovePart removes a part, its helpers and their connections.
func (d *Document) RemovePart(id string) {
	for _, h := range d.Helpers(id) {
		d.FreePart(h.ID)
	}
	d.FreePart(id)
	d.Parts = slices.DeleteFunc(d.Parts, func(p Part) bool { return p.ID == id || p.Of == id })
	d.Ungroup(id)
}

// Ungroup takes a part out of its group of those that are on one at a time.
func (d *Document) Ungroup(id string) {
	for i := range d.Exclusive {
		d.Exclusive[i] = slices.DeleteFunc(d.Exclusive[i], func(p string) bool { return p == id })
	}
	d.Exclusive = slices.DeleteFunc(d.Exclusive, func(g []string) bool { return len(g) == 0 })
}

// Group puts two parts into one group of those that are on one at a time.
func (d *Document) Group(a, b string) {
	d.Ungroup(b)
	for i, g := range d.Exclusive {
		if slices.Contains(g, a) {
			d.Exclusive[i] = append(g, b)
			return
		}
	}
	d.Exclusive = append(d.Exclusive, []string{a, b})
}

// dropLoneNets removes the nets that join nothing.
func (d *Document) dropLoneNets() {
	d.Nets = slices.DeleteFunc(d.Nets, func(n Net) bool { return len(n) < 2 })
}

// Clone returns a deep copy.
func (d *Document) Clone() *Document {
	c := *d
	c.Parts = slices.Clone(d.Parts)
	for i := range c.Parts {
		p := &c.Parts[i]
		p.Signals = slices.Clone(p.Signals)
		if p.Values != nil {
			values := make(map[string]float64, len(p.Values))
			for k, v := range p.Values {
				values[k] = v
			}
			p.Values = values
		}
		p.Measured = maps.Clone(p.Measured)
	}
	if d.Cells != nil {
		cells := *d.Cells
		c.Cells = &cells
	}
	c.Assembly = d.Assembly.Clone()
	c.Program = d.Program.Clone()
	c.Should = slices.Clone(d.Should)
	c.Kinds = slices.Clone(d.Kinds)
	for i := range c.Kinds {
		c.Kinds[i] = c.Kinds[i].Clone()
	}
	c.Exclusive = slices.Clone(d.Exclusive)
	for i := range c.Exclusive {
		c.Exclusive[i] = slices.Clone(c.Exclusive[i])
	}
	c.Nets = slices.Clone(d.Nets)
	for i := range c.Nets {
		c.Nets[i] = slices.Clone(c.Nets[i])
	}
	return &c
}

// FirstValue writes the value by which builders know a part of the kind: the
// first, where it is one that is shown. It is empty for a kind that is known by
// its type.
func FirstValue(kind *part.Kind, p *Part) string {
	if len(kind.Types) > 0 || len(kind.Values) == 0 || !kind.Values[0].Shown {
		return ""
	}
	first := kind.Values[0]
	v, own := p.Values[first.ID]
	if !own {
		v = kind.Stated(p.Type, first.ID).Typ
	}
	return quantity.Short(v, first.Unit)
}

// Capital begins a text with a capital letter.
func Capital(s string) string {
	first, n := utf8.DecodeRuneInString(s)
	if n == 0 {
		return s
	}
	return string(unicode.ToUpper(first)) + s[n:]
}
