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

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
)

// An Edit is one change of a build: an [Add], a [Flip], or another of those that [Shapes] lists.
type Edit interface {
	// apply makes it, and says in words what was done.
	apply(p *planner) (done string, err error)
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
	return Planner{lib, wiring.NewCache()}.Apply(doc, edits)
}

// A Planner makes edits, and knows what was solved of circuits before: what it
// chooses does not depend on it.
type Planner struct {
	lib   *build.Library
	known *wiring.Cache
}

// NewPlanner returns a planner with a library, beside somebody who solves the same
// circuits.
func NewPlanner(lib *build.Library, known *wiring.Cache) Planner { return Planner{lib, known} }

// Apply is [Apply] with what the planner knows.
func (own Planner) Apply(doc *build.Document, edits []Edit) (*build.Document, string, error) {
	if len(edits) == 0 || len(edits) > MaxEdits {
		return nil, "", &EditError{Err: fmt.Errorf("there are %d edits; one step has 1 to %d", len(edits), MaxEdits)}
	}
	own.lib = own.lib.For(doc)
	p := planner{Planner: own, doc: doc.Clone()}
	var words []string
	for i, e := range edits {
		done, bench, err := p.make(e)
		if !bench {
			p.keep("")
		}
		p.doc.Assembly.Forget(p.doc)
		p.doc.Kinds = slices.DeleteFunc(p.doc.Kinds, func(k part.Kind) bool {
			return !slices.ContainsFunc(p.doc.Parts, func(q build.Part) bool { return q.Kind == k.ID })
		})
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

// make makes one edit, and says whether it leaves the plan as it is.
func (p *planner) make(e Edit) (done string, bench bool, err error) {
	if s, ok := shapeOf(e); ok {
		bench, err = s.Bench, s.check(e)
	}
	if err == nil {
		done, err = e.apply(p)
	}
	return done, bench, err
}

// of does something with the part of an id.
func (p *planner) of(id string, do func(q *build.Part, kind *part.Kind) (string, error)) (string, error) {
	q := p.doc.Part(id)
	if q == nil {
		return "", fmt.Errorf("there is no part %q any more", id)
	}
	kind, _ := p.lib.Catalogue.Kind(q.Kind)
	return do(q, kind)
}

func (p *planner) remove(q *build.Part, _ *part.Kind) (string, error) {
	name := q.Name
	p.doc.RemovePart(q.ID)
	return "removed " + name, nil
}

// resize chooses the value of a lamp's resistor again.
func (p *planner) resize(q *build.Part, _ *part.Kind) (string, error) {
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

func (p *planner) setType(q *build.Part, kind *part.Kind, typ string) (string, error) {
	q.Type = typ
	if _, ok := kind.Type(typ); !ok {
		return "", fmt.Errorf("there is no %s of type %q", kind.Name, typ)
	}
	p.follow(q.ID)
	return fmt.Sprintf("made %s %s", q.Name, typ), nil
}

func (p *planner) rename(q *build.Part, name string) (string, error) {
	was := q.Name
	q.Name = strings.TrimSpace(name)
	for _, h := range p.doc.Helpers(q.ID) {
		h.Name = helperName(h.Role, q.Name)
	}
	return fmt.Sprintf("renamed %s to %s", was, q.Name), nil
}

func (p *planner) title(name string) (string, error) {
	p.doc.Title = strings.TrimSpace(name)
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
