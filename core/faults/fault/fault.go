// Package fault lists what can be wrong with a build on the bench: each a single fault
// that can be put into the build's network, or into its document.
package fault

import (
	"cmp"
	"fmt"
	"slices"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/layout/placement"
)

// A Kind says what sort of fault it is.
type Kind string

// The kinds.
const (
	Open      Kind = "open"      // a leg makes no contact, or the part is broken inside
	Shorted   Kind = "shorted"   // the part conducts always
	OneRow    Kind = "one-row"   // both legs of a part are in one row
	Turned    Kind = "turned"    // the part is the other way round
	Quarter   Kind = "quarter"   // a button is turned by ninety degrees
	Value     Kind = "value"     // it has another value
	Swapped   Kind = "swapped"   // two resistors have changed places
	Colour    Kind = "colour"    // a lamp is of another colour
	Case      Kind = "case"      // common anode for common cathode, or the other way
	RowOff    Kind = "row-off"   // a leg is in another row
	NoWire    Kind = "no-wire"   // a wire is missing, or makes no contact
	WireOff   Kind = "wire-off"  // an end of a wire is beside where it belongs
	Crossed   Kind = "crossed"   // two wires to the rails have changed places
	Touch     Kind = "touch"     // two legs touch
	NoRail    Kind = "no-rail"   // a rail of the board gives nothing
	Unfed     Kind = "unfed"     // the board has no power
	Sagging   Kind = "sagging"   // the supply gives too little
	Dead      Kind = "dead"      // a pin of the board does nothing any more
	Unset     Kind = "unset"     // the program does not use a pin: another number, or no mode
	PinsMixed Kind = "mixed"     // the program has two pins exchanged
	NoPull    Kind = "no-pull"   // the program does not switch a pull on
	Inverted  Kind = "inverted"  // the program has a level the wrong way
	Unloaded  Kind = "unloaded"  // the board runs no program of this build
	Halved    Kind = "halved"    // the rails of the breadboard do not go through
	NowThen   Kind = "sometimes" // makes contact only now and then
)

// A nature is what is known of a kind. How common kinds are, beside each other, is
// common practice: what is plugged is wrong more often than what is made, and what is
// typed nearly as often as what is plugged.
type nature struct {
	common  float64
	seen    bool // who looks closely sees it
	program bool // it is in the program, not on the bench
	metered bool // the meter's list of checks looks for it
}

var natures = map[Kind]nature{
	NoWire:    {common: 10, seen: true, metered: true},
	RowOff:    {common: 10, seen: true, metered: true},
	WireOff:   {common: 8, seen: true},
	Turned:    {common: 8, seen: true, metered: true},
	Quarter:   {common: 8, seen: true},
	Open:      {common: 6, metered: true},
	Value:     {common: 4, seen: true, metered: true},
	Swapped:   {common: 3, seen: true},
	NoRail:    {common: 3, metered: true},
	Crossed:   {common: 3, seen: true},
	Unfed:     {common: 3, seen: true},
	Unloaded:  {common: 3, program: true},
	Unset:     {common: 3, program: true},
	PinsMixed: {common: 3, program: true},
	NoPull:    {common: 3, program: true},
	Inverted:  {common: 3, program: true},
	Touch:     {common: 2, seen: true, metered: true},
	Sagging:   {common: 2},
	Colour:    {common: 1, seen: true},
	Case:      {common: 2, seen: true},
	Shorted:   {common: 2, metered: true},
	OneRow:    {common: 6, seen: true},
	Halved:    {common: 4, seen: true},
	Dead:      {common: 1},
	NowThen:   {common: 5},
}

// A Fault is one thing that is wrong. The zero Fault is none.
type Fault struct {
	ID    string   `json:"id"`
	Kind  Kind     `json:"kind"`
	Words string   `json:"words"` // what is wrong, a sentence
	Sight string   `json:"sight"` // what is seen of it, a sentence; the same of those that the same puts right
	Look  string   `json:"look"`  // where to look, or what to try: what puts it right, a sentence
	Cure  string   `json:"cure"`  // faults that are put right by the same have the same
	Parts []string `json:"parts"` // ids
	// Ends are the holes and places that Look speaks of.
	Ends []breadboard.End `json:"ends,omitempty"`

	edits   []edit
	touches []build.Terminal
	other   *build.Document // the build with it, where edits cannot say it
	pins    []pin
	half    bool // it is there only now and then
	ways    int  // of how many ways in which the same can be wrong it is one; 0: of one
}

// In returns the network with the fault in it, and with further changes after it. What is
// wrong in the program does not change the network; see [Fault.Under].
func (f *Fault) In(n *wiring.Network, more ...wiring.Change) *wiring.Network {
	if f.other != nil {
		n = n.Of(f.other)
	}
	changes := make([]wiring.Change, 0, len(f.edits)+len(more))
	for _, e := range f.edits {
		changes = append(changes, e.change())
	}
	if changes = append(changes, more...); len(changes) == 0 {
		return n
	}
	return n.With(changes...)
}

// Common is how common the fault is, beside others. Of several ways in which one leg or one
// end of a wire can be in a wrong place, each has its part.
func (f *Fault) Common() float64 { return natures[f.Kind].common / float64(max(f.ways, 1)) }

// Seen reports whether who looks closely at it sees it.
func (f *Fault) Seen() bool { return natures[f.Kind].seen }

// InProgram reports whether it is in the program, so that another program has it not.
func (f *Fault) InProgram() bool { return natures[f.Kind].program }

// Metered reports whether the meter's list of checks looks for it: what changes the wiring
// at a place, and can be told without the builder's program.
func (f *Fault) Metered() bool { return natures[f.Kind].metered }

// Sometimes reports whether it is there only now and then.
func (f *Fault) Sometimes() bool { return f.half }

// Everywhere reports whether it changes what is read at places far from all that it touches.
func (f *Fault) Everywhere() bool { return f.Kind == Unfed || f.Kind == Sagging || f.Kind == Unloaded }

// Touches lists the terminals that are not as they should be.
func (f *Fault) Touches() []build.Terminal { return f.touches }

// Same says which faults make the same circuit: those that say the same, and have no other
// way to be told apart than by looking.
func (f *Fault) Same() string {
	return fmt.Sprint(f.edits, f.pins, f.half, f.other != nil && f.ID != "", f.otherID())
}

func (f *Fault) otherID() string {
	if f.other == nil {
		return ""
	}
	return f.ID
}

// NowAndThen returns a fault that is there only now and then, as a loose wire is: it can be
// made of one that takes something off its wires.
func (f *Fault) NowAndThen() (Fault, bool) {
	if f.Kind != NoWire && f.Kind != Open {
		return Fault{}, false
	}
	g := *f
	g.ID, g.Kind, g.half = "sometimes:"+f.ID, NowThen, true
	g.Words = "Now and then only: " + lower(f.Words)
	return g, true
}

// List returns the single faults of a build, laid out as p has it; nil: not laid out, and
// then wires go from leg to leg. The most common come first. Faults that make the same
// circuit are all listed; see [Distinct].
func List(lib *build.Library, doc *build.Document, p *placement.Placement) []Fault {
	l := &lister{lib: lib, doc: doc, net: wiring.Build(lib, doc), placed: p}
	if p != nil {
		l.onTable()
	}
	for i := range doc.Parts {
		l.part(&doc.Parts[i])
	}
	l.swapped()
	l.supply()
	l.program()
	slices.SortStableFunc(l.out, func(a, b Fault) int { return cmp.Compare(b.Common(), a.Common()) })
	return l.out
}

// Distinct returns the faults that the meter's list of checks looks for, those that make
// the same circuit once, by what is most common.
func Distinct(faults []Fault) (out []Fault) {
	seen := map[string]bool{}
	for _, f := range faults {
		if same := f.Same(); f.Metered() && !seen[same] {
			seen[same] = true
			out = append(out, f)
		}
	}
	return out
}

type lister struct {
	lib    *build.Library
	doc    *build.Document
	net    *wiring.Network
	placed *placement.Placement
	out    []Fault
}

// add lists a fault that changes something.
func (l *lister) add(f Fault) {
	if len(f.edits) == 0 && f.other == nil && len(f.pins) == 0 {
		return
	}
	if f.Parts == nil {
		f.Parts = []string{}
	}
	if f.Cure == "" {
		f.Cure = f.ID
	}
	if f.Sight == "" {
		f.Sight = f.Words
	}
	if f.Ends == nil {
		for _, t := range f.touches {
			if e, err := breadboard.ParseEnd(End(l.placed, t)); err == nil {
				f.Ends = append(f.Ends, e)
			}
		}
	}
	l.out = append(l.out, f)
}

func (l *lister) leg(t build.Terminal) string {
	id, leg := t.Split()
	p := l.doc.Part(id)
	kind, _ := l.lib.Catalogue.Kind(p.Kind)
	return placement.LegName(kind, leg)
}

func (l *lister) name(id string) string { return l.doc.Part(id).Name }

// End returns where a leg is, or "" when the build is not laid out.
func End(p *placement.Placement, t build.Terminal) string {
	if p == nil || t.OnBoard() {
		return ""
	}
	id, leg := t.Split()
	if h, ok := p.Seat(id).Hole(leg); ok {
		return breadboard.InHole(h).String()
	}
	return ""
}
