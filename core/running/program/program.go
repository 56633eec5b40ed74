// Package program understands a builder's program by running it on the build's wiring, and
// says what fits and what does not. It also writes the programs that a build begins with.
package program

import (
	"context"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/running/machine"
)

// A Compiler makes what can be run of what was written.
type Compiler interface {
	// Compile compiles a program for a board. A program that is wrong is no error: it is
	// Compiled without a Program, and its messages say why. An error is a compiler that is
	// not there or does not work.
	Compile(ctx context.Context, p *build.Program, b *board.Profile) (*Compiled, error)
}

// Compiled is what a compiler makes of a program.
type Compiled struct {
	Program  machine.Program // nil: it does not compile
	Calls    int             // how many calls of the board it may make in one run, so that a run has an end
	Messages []Message       // the compiler's, the first cause first
	Tree     Tree
}

// A Message is one of the compiler's, in its own words and in a builder's.
type Message struct {
	Line    int      `json:"line"`            // 0: of the whole program; of a further file, build.LineStep more for each
	Where   string   `json:"where,omitempty"` // the line in words; empty: of the whole program
	Column  int      `json:"column,omitempty"`
	Wrong   bool     `json:"wrong"` // it keeps the program from running
	Text    string   `json:"text"`  // in plain words
	Said    string   `json:"said"`  // what the compiler says
	Option  string   `json:"option,omitempty"`
	Replace *Replace `json:"replace,omitempty"`
}

// String says it in a builder's words, with its line where it has one.
func (m Message) String() string {
	if m.Where == "" {
		return m.Text
	}
	return m.Where + ": " + m.Text
}

// A Replace is a change of the text that mends something: what stands from one place up to
// another becomes With. Columns count bytes, from 1.
type Replace struct {
	Line     int    `json:"line"`
	Column   int    `json:"column"`
	ToLine   int    `json:"toLine"`
	ToColumn int    `json:"toColumn"`
	With     string `json:"with"`
}

// A Tree is what is read of a program without running it.
type Tree struct {
	Calls  []Call     // of the board, in the order of the text
	Shared []Variable // that a handler of an interrupt shares with the rest, and are not volatile

	Receives bool  // it takes what comes in by the serial link
	Clock    int64 // it asks for the time, in milliseconds that begin again after so many; 0: it does not
}

// A Call is one call of the board in the text.
type Call struct {
	Name    string
	Line    int
	Handler bool // in a function that handles an interrupt
}

// A Variable is one of the program's.
type Variable struct {
	Name string
	Line int
}
