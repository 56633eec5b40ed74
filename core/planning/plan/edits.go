package plan

import (
	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
)

// The edits of a plan. Fields that JSON may leave out may be left out here too.

// Add adds a part, wired by a hookup, and sets one of its values, or of those that come with it.
type Add struct {
	Kind   string `json:"kind"`
	Type   string `json:"type,omitempty"`   // the kind's first, unless one is named
	Name   string `json:"name,omitempty"`   // one that is free
	Hookup string `json:"hookup,omitempty"` // the kind's first
	Pin    string `json:"pin,omitempty"`    // one that suits
	Value  string `json:"value,omitempty"`
	Text   string `json:"text,omitempty"` // of the value
}

func (e Add) apply(p *planner) (string, error) { return p.add(e) }

// Remove takes a part out, with what its hookup brought.
type Remove struct {
	Part string `json:"part"`
}

func (e Remove) apply(p *planner) (string, error) { return p.of(e.Part, p.remove) }

// Hookup wires a part in another way.
type Hookup struct {
	Part   string `json:"part"`
	Hookup string `json:"hookup"`
}

func (e Hookup) apply(p *planner) (string, error) {
	return p.of(e.Part, func(q *build.Part, kind *part.Kind) (string, error) { return p.hookup(q, kind, e.Hookup) })
}

// MovePin gives a signal a pin, and locks it there; without one it is chosen.
type MovePin struct {
	Part   string `json:"part"`
	Signal string `json:"signal"`
	Pin    string `json:"pin,omitempty"`
}

func (e MovePin) apply(p *planner) (string, error) {
	return p.of(e.Part, func(q *build.Part, _ *part.Kind) (string, error) { return p.movePin(q, e.Signal, e.Pin) })
}

// Value sets a value as it is typed; without a text it is the catalogue's again.
type Value struct {
	Part  string `json:"part"`
	Value string `json:"value"`
	Text  string `json:"text,omitempty"`
}

func (e Value) apply(p *planner) (string, error) {
	return p.of(e.Part, func(q *build.Part, kind *part.Kind) (string, error) { return p.value(q, kind, e.Value, e.Text) })
}

// Measure sets a value to what a meter showed of the part.
type Measure struct {
	Part  string `json:"part"`
	Value string `json:"value"`
	Text  string `json:"text"`
}

func (e Measure) apply(p *planner) (string, error) {
	return p.of(e.Part, func(q *build.Part, kind *part.Kind) (string, error) { return p.measure(q, kind, e.Value, e.Text) })
}

// Size chooses the value of a lamp's resistor again.
type Size struct {
	Part string `json:"part"`
}

func (e Size) apply(p *planner) (string, error) { return p.of(e.Part, p.resize) }

// SetType makes a part one of another type of its kind.
type SetType struct {
	Part string `json:"part"`
	Type string `json:"type"`
}

func (e SetType) apply(p *planner) (string, error) {
	return p.of(e.Part, func(q *build.Part, kind *part.Kind) (string, error) { return p.setType(q, kind, e.Type) })
}

// Name gives a part another name.
type Name struct {
	Part string `json:"part"`
	Name string `json:"name"`
}

func (e Name) apply(p *planner) (string, error) {
	return p.of(e.Part, func(q *build.Part, _ *part.Kind) (string, error) { return p.rename(q, e.Name) })
}

// SetPull says which pull the program switches on at a signal's pin.
type SetPull struct {
	Part   string     `json:"part"`
	Signal string     `json:"signal"`
	Pull   board.Pull `json:"pull,omitempty"`
}

func (e SetPull) apply(p *planner) (string, error) {
	return p.of(e.Part, func(q *build.Part, _ *part.Kind) (string, error) { return p.pull(q, e.Signal, e.Pull) })
}

// Flip swaps the two legs of a part.
type Flip struct {
	Part string `json:"part"`
}

func (e Flip) apply(p *planner) (string, error) { return p.of(e.Part, p.flip) }

// Insert puts a resistor between a terminal and its net.
type Insert struct {
	Terminal build.Terminal `json:"terminal"`
	Text     string         `json:"text"`
}

func (e Insert) apply(p *planner) (string, error) { return p.insert(e.Terminal, e.Text) }

// Join wires a terminal to another.
type Join struct {
	Terminal build.Terminal `json:"terminal"`
	To       build.Terminal `json:"to"`
}

func (e Join) apply(p *planner) (string, error) { return p.join(e.Terminal, e.To) }

// Free takes a terminal out of its net.
type Free struct {
	Terminal build.Terminal `json:"terminal"`
}

func (e Free) apply(p *planner) (string, error) { return p.free(e.Terminal) }

// Title gives the build another name.
type Title struct {
	Name string `json:"name"`
}

func (e Title) apply(p *planner) (string, error) { return p.title(e.Name) }

// Board moves the build to another board.
type Board struct {
	Board string `json:"board"`
}

func (e Board) apply(p *planner) (string, error) { return p.move(e.Board) }

// Turns has a part be on only while another is off; without another it is on whenever it likes.
type Turns struct {
	Part string `json:"part"`
	With string `json:"with,omitempty"`
}

func (e Turns) apply(p *planner) (string, error) {
	return p.of(e.Part, func(q *build.Part, _ *part.Kind) (string, error) { return p.turns(q, e.With) })
}

// Supply says what feeds the board.
type Supply struct {
	Supply string `json:"supply,omitempty"`
	With   string `json:"with,omitempty"`  // a second supply
	Text   string `json:"text,omitempty"`  // its volts
	Cells  string `json:"cells,omitempty"` // or their sort
	Count  int    `json:"count,omitempty"` // of cells in series
}

func (e Supply) apply(p *planner) (string, error) { return p.feed(e) }

// Unused says which pull the program switches on at pins that are not used.
type Unused struct {
	Pull board.Pull `json:"pull,omitempty"`
}

func (e Unused) apply(p *planner) (string, error) {
	p.doc.UnusedPulled = e.Pull == board.PullUp
	return "changed what the program does with unused pins", nil
}

// Assign chooses the pins of all signals again that are not locked.
type Assign struct{}

func (Assign) apply(p *planner) (string, error) { return p.assign() }

// Lock keeps a signal's pin as it is; without a pin it may be chosen again.
type Lock struct {
	Part   string `json:"part"`
	Signal string `json:"signal"`
	Pin    string `json:"pin,omitempty"`
}

func (e Lock) apply(p *planner) (string, error) {
	return p.of(e.Part, func(q *build.Part, _ *part.Kind) (string, error) { return p.lock(q, e.Signal, e.Pin != "") })
}

// Swap exchanges pins with what is on another one.
type Swap struct {
	Part   string `json:"part"`
	Signal string `json:"signal"`
	Pin    string `json:"pin"`
}

func (e Swap) apply(p *planner) (string, error) {
	return p.of(e.Part, func(q *build.Part, _ *part.Kind) (string, error) { return p.swap(q, e.Signal, e.Pin) })
}

// White gives an RGB LED the currents that make white at equal duty.
type White struct {
	Part string `json:"part"`
}

func (e White) apply(p *planner) (string, error) { return p.of(e.Part, p.white) }

// Match gives a lamp the current with which it is as bright as another.
type Match struct {
	Part string `json:"part"`
	With string `json:"with"`
}

func (e Match) apply(p *planner) (string, error) {
	return p.of(e.Part, func(q *build.Part, kind *part.Kind) (string, error) { return p.match(q, kind, e.With) })
}

// Bright gives a lamp the current with which it looks so bright, in per cent of the lightness at its
// test current.
type Bright struct {
	Part string `json:"part"`
	Text string `json:"text,omitempty"`
}

func (e Bright) apply(p *planner) (string, error) {
	return p.of(e.Part, func(q *build.Part, kind *part.Kind) (string, error) { return p.bright(q, kind, e.Text) })
}

// Pair makes one resistor two.
type Pair struct {
	Part  string `json:"part"`
	Text  string `json:"text"`  // the value of the first
	With  string `json:"with"`  // and of the second
	Value string `json:"value"` // [InSeries] or [InParallel]
}

func (e Pair) apply(p *planner) (string, error) {
	return p.of(e.Part, func(q *build.Part, _ *part.Kind) (string, error) { return p.pair(q, e) })
}

// Replace takes over a whole build.
type Replace struct {
	Document *build.Document `json:"document"`
}

func (e Replace) apply(p *planner) (string, error) { return p.replace(e.Document) }

// Program notes the program that the builder wrote; without one there is none.
type Program struct {
	Program *build.Program `json:"program,omitempty"`
}

func (e Program) apply(p *planner) (string, error) { return p.program(e.Program) }

// Rewrite has the line of the program with a number, which reads as With now, become Text; without
// one it goes.
type Rewrite struct {
	Count int    `json:"count"`
	With  string `json:"with"`
	Text  string `json:"text,omitempty"`
}

func (e Rewrite) apply(p *planner) (string, error) { return p.rewrite(e.Count, e.With, e.Text) }

// Should notes what the build should do, a sentence a line; without, nothing is said.
type Should struct {
	Text string `json:"text,omitempty"`
}

func (e Should) apply(p *planner) (string, error) { return p.should(e.Text) }
