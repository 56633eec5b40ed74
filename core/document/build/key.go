package build

import (
	"crypto/sha256"
	"encoding/json"
	"reflect"

	"cablaggio/core/catalogue/board"
)

// An Aspect is a part of a document that answers may depend on. Aspects are added.
type Aspect uint8

// The aspects. Each field of a document belongs to one; a board's profile, as it is in the
// library, belongs to all.
const (
	Wiring    Aspect = 1 << iota // what the circuit is made of, with the names in it, and what values are chosen from
	Layout                       // what is decided about the breadboard, and stays there
	Progress                     // what is done and noted on the breadboard
	Code                         // the program
	Sentences                    // what it should do
	Heading                      // what it is called
)

// A Key names all that an answer about a document depends on: answers with equal keys are
// equal.
type Key [sha256.Size]byte

// Key is the key of answers that depend on some aspects of a document that is valid in the
// library, and on more, all of which can be written as JSON. There is one such function, so
// that whoever remembers an answer forgets nothing that it depends on.
func (l *Library) Key(d *Document, of Aspect, more ...any) Key {
	x := Document{Board: d.Board}
	var resistors []float64
	if of&Wiring != 0 {
		x = *d
		resistors = l.Resistors
	}
	x.Title, x.Assembly, x.Program, x.Should = "", nil, nil, nil
	if of&Heading != 0 {
		x.Title = d.Title
	}
	if d.Assembly != nil { // an empty one is as good as none
		var a Assembly
		if of&Layout != 0 {
			a = *d.Assembly
			a.Done, a.Built = nil, nil
		}
		if of&Progress != 0 {
			a.Done, a.Built = d.Assembly.Done, d.Assembly.Built
		}
		if !reflect.ValueOf(a).IsZero() {
			x.Assembly = &a
		}
	}
	if of&Code != 0 {
		x.Program = d.Program
	}
	if of&Sentences != 0 {
		x.Should = d.Should
	}
	b, _ := l.Board(d.Board)
	text, err := json.Marshal(struct {
		Of        Aspect
		Document  *Document
		Board     *board.Profile // which a builder may have changed since
		Resistors []float64
		More      []any
	}{of, &x, b, resistors, more})
	if err != nil {
		panic("a valid document can be written: " + err.Error())
	}
	return sha256.Sum256(text)
}
