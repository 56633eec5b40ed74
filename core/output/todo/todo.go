// Package todo says what is to be done next with a build, and how far each of its sections is. It
// decides from what is known already and works nothing out: what was not looked at is not said to be
// done.
package todo

import (
	"fmt"
	"slices"
)

// A Section is a place of the application where something is done with a build.
type Section string

// The sections, in the order of the work.
const (
	Plan     Section = "plan"
	Program  Section = "program"
	Assemble Section = "assemble"
	Test     Section = "test"
	Bench    Section = "bench"
	Log      Section = "log"
)

// A State says how far a section is.
type State string

// The states.
const (
	Nothing State = "nothing" // it has nothing to say yet
	Open    State = "open"    // something is to be done there
	Partly  State = "partly"  // nothing is to be done, and not all was looked at
	Done    State = "done"
)

// Known is what is known of a build. The zero value is an empty build.
type Known struct {
	Parts   int
	Stops   int  // found in the wiring
	Partly  bool // the wiring was not looked at to the end, yet or at all
	Wired   int  // pins that a program can use
	Program Code
	Steps   Steps
	Meter   Meter
	Should  Should
}

// Code is what is known of a program.
type Code struct {
	There bool
	Seen  bool // it was run as it is now
	Part  bool // not all of it was looked at
	Wrong int  // stops, and messages of a compiler
}

// Steps is how far the breadboard is.
type Steps struct {
	Begun  bool // somebody has done one, or noted what is there; until then no layout is worked out
	Placed bool // there is a layout
	Done   int
	All    int
	Loads  bool // the next one is to load the program
	Differ int  // differences between what was built and the plan
}

// Meter is what was measured.
type Meter struct {
	Known bool // what there is to measure was worked out
	All   int
	Read  int
	Wrong int // readings that are not as expected
}

// Should is what the build should do.
type Should struct {
	Said   int
	Tried  bool // as the build is now
	Holds  int
	Broken int
	Open   int // no run came to what they speak of
}

// A Task is something to do.
type Task struct {
	Section Section `json:"section"`
	Words   string  `json:"words"`
	Done    bool    `json:"done,omitempty"` // there is nothing to do
}

// A Mark is how far a section is.
type Mark struct {
	Section Section `json:"section"`
	State   State   `json:"state"`
	Count   int     `json:"count,omitempty"` // of what is open
	Words   string  `json:"words"`
}

// A List is what is to be done next, and how far all sections are.
type List struct {
	Next  Task   `json:"next"`
	Marks []Mark `json:"marks"`
}

// Of says what is to be done, and how far all is.
func Of(k Known) List {
	marks := []Mark{plan(k), program(k), assemble(k), test(k), bench(k)}
	return List{Next: next(k, marks), Marks: marks}
}

func plan(k Known) Mark {
	switch {
	case k.Parts == 0:
		return Mark{Plan, Open, 0, "Say what it should have"}
	case k.Stops > 0:
		return Mark{Plan, Open, k.Stops, count(k.Stops, "stop") + " to mend"}
	case k.Partly:
		return Mark{Plan, Partly, 0, "No stops in what was looked at of the wiring"}
	}
	return Mark{Plan, Done, 0, "No stops in the wiring"}
}

func program(k Known) Mark {
	switch p := k.Program; {
	case k.Wired == 0 && !p.There:
		return Mark{Program, Nothing, 0, "No pin is used yet"}
	case !p.There:
		return Mark{Program, Open, 0, "Write its program"}
	case !p.Seen:
		return Mark{Program, Open, 0, "Look its program over"}
	case p.Wrong > 0:
		return Mark{Program, Open, p.Wrong, count(p.Wrong, "stop") + " in the program"}
	case p.Part:
		return Mark{Program, Partly, 0, "No stops in what was looked at of the program"}
	}
	return Mark{Program, Done, 0, "No stops in the program"}
}

func assemble(k Known) Mark {
	switch s := k.Steps; {
	case k.Parts == 0:
		return Mark{Assemble, Nothing, 0, "No parts yet"}
	case !s.Begun:
		return Mark{Assemble, Open, 0, "Put it on the breadboard"}
	case !s.Placed:
		return Mark{Assemble, Open, 0, "Find room on the breadboard"}
	case s.Differ > 0:
		return Mark{Assemble, Open, s.Differ, count(s.Differ, "difference") + " from the plan"}
	case s.Done < s.All && s.Loads:
		return Mark{Assemble, Open, s.All - s.Done, "Load the program"}
	case s.Done < s.All:
		return Mark{Assemble, Open, s.All - s.Done, fmt.Sprintf("Step %d of %d", s.Done+1, s.All)}
	}
	return Mark{Assemble, Done, 0, "All steps are done"}
}

func test(k Known) Mark {
	left := k.Meter.All - k.Meter.Read
	switch {
	case !k.Steps.built():
		return Mark{Test, Nothing, 0, "Nothing is built yet"}
	case k.Meter.Wrong > 0:
		return Mark{Test, Open, k.Meter.Wrong, count(k.Meter.Wrong, "reading") + " not as expected"}
	case !k.Meter.Known:
		return Mark{Test, Open, 0, "Measure it"}
	case left > 0:
		return Mark{Test, Open, left, "Measure " + count(left, "thing")}
	}
	return Mark{Test, Done, 0, "All readings are as expected"}
}

func bench(k Known) Mark {
	switch s := k.Should; {
	case k.Parts == 0:
		return Mark{Bench, Nothing, 0, "No parts yet"}
	case s.Said == 0:
		return Mark{Bench, Open, 0, "Run it, and say what it should do"}
	case !s.Tried && s.Said == 1:
		return Mark{Bench, Open, 1, "Try its sentence"}
	case !s.Tried:
		return Mark{Bench, Open, s.Said, fmt.Sprintf("Try its %d sentences", s.Said)}
	case s.Broken > 0:
		return Mark{Bench, Open, s.Broken, count(s.Broken, "sentence") + " broken"}
	case s.Open > 0:
		return Mark{Bench, Open, s.Open, count(s.Open, "sentence") + " that no run came to"}
	case s.Holds < s.Said:
		return Mark{Bench, Open, s.Said - s.Holds, count(s.Said-s.Holds, "sentence") + " not understood"}
	}
	return Mark{Bench, Done, 0, "All its sentences hold"}
}

// built reports whether all of it is on the breadboard.
func (s Steps) built() bool { return s.Begun && s.Placed && s.All > 0 && s.Done == s.All }

// next is what is open in the first section that has something open, in the order of the work: nothing
// is put on the breadboard before the wiring and the program are sound, and nothing is measured or
// tried there before it is built. Sentences are tried without a breadboard, too, so a build that
// nobody has begun to assemble is tried first.
func next(k Known, marks []Mark) Task {
	order := marks
	if k.Steps.Done == 0 {
		order = []Mark{marks[0], marks[1], marks[4], marks[2], marks[3]}
	}
	for _, m := range order {
		if m.State == Open {
			return Task{Section: m.Section, Words: m.Words}
		}
	}
	partly := slices.ContainsFunc(marks, func(m Mark) bool { return m.State == Partly })
	switch {
	case k.Parts > 0 && k.Should.Said > 0 && k.Steps.built() && !partly:
		return Task{Section: Bench, Words: "It does what it should", Done: true}
	default:
		return Task{Section: Log, Words: "Write down how it went", Done: true}
	}
}

// count says how many there are of something.
func count(n int, of string) string {
	if n == 1 {
		return "1 " + of
	}
	return fmt.Sprintf("%d %ss", n, of)
}
