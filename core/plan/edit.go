// Package plan changes builds in the terms in which a builder thinks: a part
// with its hookup, a pin, a value. Pins and resistors that nobody named are
// chosen.
package plan

import (
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"cablaggio/core/board"
	"cablaggio/core/build"
)

// An Op says what an edit does.
type Op string

// The edits. Each names the fields of [Edit] it reads; those in brackets may
// be empty.
const (
	Add     Op = "add"     // Kind, [Type], [Name], [Hookup], [Pin], [Value, Text]: a part, wired
	Remove  Op = "remove"  // Part: with what its hookup brought
	Hookup  Op = "hookup"  // Part, Hookup: wire it this way
	MovePin Op = "pin"     // Part, Signal, Pin: use this pin; an empty Pin is chosen
	Value   Op = "value"   // Part, Value, [Text]: as typed; an empty Text is the catalogue's
	Size    Op = "size"    // Part: choose the resistor's value again
	SetType Op = "type"    // Part, Type
	Name    Op = "name"    // Part, Name
	SetPull Op = "pull"    // Part, Signal, [Pull]: the pull that the program switches on
	Flip    Op = "flip"    // Part: swap its two legs
	Insert  Op = "insert"  // Terminal, Text: a resistor between the terminal and its net
	Join    Op = "join"    // Terminal, To: a wire
	Free    Op = "free"    // Terminal: take it out of its net
	Title   Op = "title"   // Name
	Board   Op = "board"   // Board: move to another board
	Turns   Op = "turns"   // Part, [With]: on only when the other is off; an empty With: on whenever it likes
	Supply  Op = "supply"  // Supply, [With]: a second one, [Text]: volts, [Cells, Count]: what feeds the board
	Unused  Op = "unused"  // [Pull]: the pull that the program switches on at the pins that are not used
	Assign  Op = "assign"  // choose the pins of all signals again that are not locked
	Lock    Op = "lock"    // Part, Signal, [Pin]: with a Pin its pin stays as it is, without it may be chosen again
	Swap    Op = "swap"    // Part, Signal, Pin: exchange pins with what is on that one
	White   Op = "white"   // Part: the currents of an RGB LED that give white at equal duty
	Match   Op = "match"   // Part, With: a wanted current with which the lamp is as bright as the other one
	Bright  Op = "bright"  // Part, Text: a wanted current with which the lamp looks this bright, in per cent of the lightness at its test current
	Pair    Op = "pair"    // Part, Text, With, Value: two resistors instead of one, [InSeries] or [InParallel]
	Replace Op = "replace" // Document: a whole build

	Breadboards Op = "breadboards" // [Text]: ids of sizes, side by side; empty: chosen. [With]: [Beside]
	Fix         Op = "fix"         // Terminal, [Text]: keep the leg in this hole; empty: let the part go where it goes best
	Stock       Op = "stock"       // [Text]: colours of wires at hand, [With]: their lengths in millimetres; empty: any
	Reach       Op = "reach"       // [Text]: millimetres of wire from place to place of a build that is soldered; empty: as usual
	StepDone    Op = "step-done"   // Text: the step's id, Name: its words, At
	StepUndone  Op = "step-undone" // Text, Name
	StepsUndone Op = "all-undone"  // nothing is plugged in any more
	AsBuilt     Op = "as-built"    // [Text]: note what is really there, from the plan on; [FromSteps] or [Forget]
	BuiltLeg    Op = "built-leg"   // [Terminal], [Text]: where the leg really is; without a Terminal, Text says both
	WireIn      Op = "wire-in"     // With, Text: there is a wire between these ends
	WireOut     Op = "wire-out"    // With, Text: there is none
	BuiltValue  Op = "built-value" // Part, [Text]: the resistor that is really there, by its value or its bands; empty: the planned one
)

// An Edit is one change of a build.
type Edit struct {
	Op       Op              `json:"op"`
	Part     string          `json:"part,omitempty"`
	Kind     string          `json:"kind,omitempty"`
	Type     string          `json:"type,omitempty"`
	Name     string          `json:"name,omitempty"`
	Hookup   string          `json:"hookup,omitempty"`
	Signal   string          `json:"signal,omitempty"`
	Pin      string          `json:"pin,omitempty"`
	Pull     board.Pull      `json:"pull,omitempty"`
	Value    string          `json:"value,omitempty"`
	Text     string          `json:"text,omitempty"`
	Terminal build.Terminal  `json:"terminal,omitempty"`
	To       build.Terminal  `json:"to,omitempty"`
	Board    string          `json:"board,omitempty"`
	With     string          `json:"with,omitempty"`
	Supply   string          `json:"supply,omitempty"`
	Cells    string          `json:"cells,omitempty"`
	Count    int             `json:"count,omitempty"`
	At       time.Time       `json:"at,omitzero"`
	Document *build.Document `json:"document,omitempty"`
}

// An EditError says which edit cannot be made, and why.
type EditError struct {
	Index int
	Edit  Edit
	Err   error
}

func (e *EditError) Error() string { return e.Err.Error() }

// Unwrap returns the reason.
func (e *EditError) Unwrap() error { return e.Err }

// MaxEdits bounds how many edits go in one step.
const MaxEdits = 100

// Apply makes the edits on a copy of the document, all or none, and returns it
// with what was done in words. The document must be valid in the library; the
// result is. An error is an [*EditError].
func Apply(lib *build.Library, doc *build.Document, edits []Edit) (*build.Document, string, error) {
	if len(edits) == 0 || len(edits) > MaxEdits {
		return nil, "", &EditError{Err: fmt.Errorf("there are %d edits; one step has 1 to %d", len(edits), MaxEdits)}
	}
	p := planner{lib: lib, doc: doc.Clone()}
	var words []string
	for i, e := range edits {
		done, err := p.apply(e)
		if !e.Op.onBreadboard() {
			p.keep("")
		}
		p.doc.Assembly.Forget(p.doc)
		if err == nil {
			err = lib.Validate(p.doc)
		}
		if err != nil {
			return nil, "", &EditError{i, e, err}
		}
		words = append(words, done)
	}
	return p.doc, strings.Join(words, "; "), nil
}

type planner struct {
	lib *build.Library
	doc *build.Document
}

// onBreadboard reports whether an edit leaves the plan as it is.
func (o Op) onBreadboard() bool {
	return slices.Contains([]Op{Breadboards, Fix, Stock, Reach, StepDone, StepUndone, StepsUndone, AsBuilt, BuiltLeg, WireIn, WireOut, BuiltValue}, o)
}

func (p *planner) apply(e Edit) (done string, err error) {
	if e.Op.onBreadboard() {
		return p.assemble(e)
	}
	switch e.Op {
	case Add:
		return p.add(e)
	case Title:
		p.doc.Title = strings.TrimSpace(e.Name)
		return "renamed the build to " + p.doc.Title, nil
	case Board:
		return p.move(e.Board)
	case Join:
		return p.join(e.Terminal, e.To)
	case Free:
		return p.free(e.Terminal)
	case Insert:
		return p.insert(e.Terminal, e.Text)
	case Replace:
		return p.replace(e.Document)
	case Supply:
		return p.feed(e)
	case Assign:
		return p.assign()
	case Unused:
		p.doc.UnusedPulled = e.Pull == board.PullUp
		return "changed what the program does with unused pins", nil
	}
	part := p.doc.Part(e.Part)
	if part == nil {
		return "", fmt.Errorf("there is no part %q any more", e.Part)
	}
	kind, _ := p.lib.Catalogue.Kind(part.Kind)
	switch e.Op {
	case Remove:
		name := part.Name
		p.doc.RemovePart(part.ID)
		return "removed " + name, nil
	case Hookup:
		return p.hookup(part, kind, e.Hookup)
	case MovePin:
		return p.movePin(part, e.Signal, e.Pin)
	case Value:
		return p.value(part, kind, e.Value, e.Text)
	case Size:
		if part.Of == "" {
			return "", fmt.Errorf("%s belongs to no lamp, so there is nothing to choose it for", part.Name)
		}
		part.Chosen = true
		id := part.ID
		p.single(part)
		part = p.doc.Part(id)
		err := p.size(part)
		return "chose " + part.Name + " again", err
	case SetType:
		part.Type = e.Type
		if _, ok := kind.Type(e.Type); !ok {
			return "", fmt.Errorf("there is no %s of type %q", kind.Name, e.Type)
		}
		p.follow(part.ID)
		return fmt.Sprintf("made %s %s", part.Name, e.Type), nil
	case Name:
		was := part.Name
		part.Name = strings.TrimSpace(e.Name)
		for _, h := range p.doc.Helpers(part.ID) {
			h.Name = helperName(h.Role, part.Name)
		}
		return fmt.Sprintf("renamed %s to %s", was, part.Name), nil
	case SetPull:
		return p.pull(part, e.Signal, e.Pull)
	case Flip:
		return p.flip(part, kind)
	case Turns:
		return p.turns(part, e.With)
	case Lock:
		return p.lock(part, e.Signal, e.Pin != "")
	case Swap:
		return p.swap(part, e.Signal, e.Pin)
	case White:
		return p.white(part, kind)
	case Match:
		return p.match(part, kind, e.With)
	case Pair:
		return p.pair(part, e)
	case Bright:
		return p.bright(part, kind, e.Text)
	}
	return "", fmt.Errorf("there is no edit %q", e.Op)
}

func (p *planner) board() *board.Profile {
	b, _ := p.lib.Board(p.doc.Board)
	return b
}

func (p *planner) replace(doc *build.Document) (string, error) {
	if doc == nil {
		return "", errors.New("there is no build to take")
	}
	// Through the file format, so that it meets the same checks as a file.
	data, err := json.Marshal(doc)
	if err != nil {
		return "", err
	}
	if doc, err = p.lib.Parse(data); err != nil {
		return "", err
	}
	p.doc = doc.Clone()
	return "took over a whole build", nil
}

// Ops lists every edit there is.
func Ops() []any {
	return []any{Add, Remove, Hookup, MovePin, Value, Size, SetType, Name, SetPull, Flip, Insert, Join, Free, Title, Board, Turns, Supply, Unused, Assign, Lock, Swap, White, Match, Bright, Pair, Replace, Breadboards, Fix, Stock, Reach, StepDone, StepUndone, StepsUndone, AsBuilt, BuiltLeg, WireIn, WireOut, BuiltValue}
}
