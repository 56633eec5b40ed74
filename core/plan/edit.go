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
	"cablaggio/core/part"
	"cablaggio/core/wiring"
)

// An Op says what an edit does.
type Op string

// The edits; [Shapes] says what each does and takes.
const (
	Add     Op = "add"
	Remove  Op = "remove"
	Hookup  Op = "hookup"
	MovePin Op = "pin"
	Value   Op = "value"
	Size    Op = "size"
	SetType Op = "type"
	Name    Op = "name"
	SetPull Op = "pull"
	Flip    Op = "flip"
	Insert  Op = "insert"
	Join    Op = "join"
	Free    Op = "free"
	Title   Op = "title"
	Board   Op = "board"
	Measure Op = "measure"
	Turns   Op = "turns"
	Supply  Op = "supply"
	Unused  Op = "unused"
	Assign  Op = "assign"
	Lock    Op = "lock"
	Swap    Op = "swap"
	White   Op = "white"
	Match   Op = "match"
	Bright  Op = "bright"
	Pair    Op = "pair" // Value is [InSeries] or [InParallel]
	Replace Op = "replace"
	Program Op = "program"
	Rewrite Op = "rewrite"
	Should  Op = "should"

	Breadboards Op = "breadboards" // With is [Beside] or empty
	Fix         Op = "fix"
	Stock       Op = "stock"
	Reach       Op = "reach"
	StepDone    Op = "step-done"
	StepUndone  Op = "step-undone"
	StepsUndone Op = "all-undone"
	AsBuilt     Op = "as-built" // Text is empty, [FromSteps] or [Forget]
	BuiltLeg    Op = "built-leg"
	WireIn      Op = "wire-in"
	WireOut     Op = "wire-out"
	BuiltValue  Op = "built-value"
)

// An Edit is one change of a build. Which fields it takes follows from its Op, see
// [Shapes]; all others are empty.
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
	Program  *build.Program  `json:"program,omitempty"`
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
	return Planner{lib, wiring.NewKnown()}.Apply(doc, edits)
}

// A Planner makes edits, and knows what was solved of circuits before: what it
// chooses does not depend on it.
type Planner struct {
	lib   *build.Library
	known *wiring.Known
}

// NewPlanner returns a planner with a library, beside somebody who solves the same
// circuits.
func NewPlanner(lib *build.Library, known *wiring.Known) Planner { return Planner{lib, known} }

// Apply is [Apply] with what the planner knows.
func (own Planner) Apply(doc *build.Document, edits []Edit) (*build.Document, string, error) {
	if len(edits) == 0 || len(edits) > MaxEdits {
		return nil, "", &EditError{Err: fmt.Errorf("there are %d edits; one step has 1 to %d", len(edits), MaxEdits)}
	}
	p := planner{Planner: own, doc: doc.Clone()}
	var words []string
	for i, e := range edits {
		done, bench, err := p.apply(e)
		if !bench {
			p.keep("")
		}
		p.doc.Assembly.Forget(p.doc)
		if err == nil {
			err = p.lib.Validate(p.doc)
		}
		if err != nil {
			return nil, "", &EditError{i, e, err}
		}
		words = append(words, done)
	}
	return p.doc, strings.Join(words, "; "), nil
}

type planner struct {
	Planner
	doc *build.Document
}

// apply makes one edit, and says whether it leaves the plan as it is.
func (p *planner) apply(e Edit) (done string, bench bool, err error) {
	s, ok := shapeOf(e.Op)
	if !ok {
		return "", false, errNoEdit(e.Op)
	}
	if err := s.check(e); err != nil {
		return "", s.Bench, err
	}
	var q *build.Part
	var kind *part.Kind
	if slices.Contains(s.Needs, "part") && !s.Bench {
		if q = p.doc.Part(e.Part); q == nil {
			return "", s.Bench, fmt.Errorf("there is no part %q any more", e.Part)
		}
		kind, _ = p.lib.Catalogue.Kind(q.Kind)
	}
	done, err = s.apply(p, e, q, kind)
	return done, s.Bench, err
}

func (p *planner) remove(_ Edit, q *build.Part, _ *part.Kind) (string, error) {
	name := q.Name
	p.doc.RemovePart(q.ID)
	return "removed " + name, nil
}

// resize chooses the value of a lamp's resistor again.
func (p *planner) resize(_ Edit, q *build.Part, _ *part.Kind) (string, error) {
	if q.Of == "" {
		return "", fmt.Errorf("%s belongs to no lamp, so there is nothing to choose it for", q.Name)
	}
	q.Chosen = true
	id := q.ID
	p.single(q)
	q = p.doc.Part(id)
	err := p.size(q)
	return "chose " + q.Name + " again", err
}

func (p *planner) setType(e Edit, q *build.Part, kind *part.Kind) (string, error) {
	q.Type = e.Type
	if _, ok := kind.Type(e.Type); !ok {
		return "", fmt.Errorf("there is no %s of type %q", kind.Name, e.Type)
	}
	p.follow(q.ID)
	return fmt.Sprintf("made %s %s", q.Name, e.Type), nil
}

func (p *planner) rename(e Edit, q *build.Part, _ *part.Kind) (string, error) {
	was := q.Name
	q.Name = strings.TrimSpace(e.Name)
	for _, h := range p.doc.Helpers(q.ID) {
		h.Name = helperName(h.Role, q.Name)
	}
	return fmt.Sprintf("renamed %s to %s", was, q.Name), nil
}

func (p *planner) title(e Edit, _ *build.Part, _ *part.Kind) (string, error) {
	p.doc.Title = strings.TrimSpace(e.Name)
	return "renamed the build to " + p.doc.Title, nil
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
