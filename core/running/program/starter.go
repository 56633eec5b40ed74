package program

import (
	"fmt"

	"cablaggio/core/document/build"
)

// Starter writes a program that fits the wiring of a build: every part is used, with its mode,
// its level and its range. It is something to begin with. Its error is a language that the
// board does not run.
func Starter(lib *build.Library, doc *build.Document, l build.Language) (*build.Program, error) {
	return write(lib, doc, l, (*outline).cpp, (*outline).python)
}

// Test writes a program that tries each part of a build by itself: it lights each lamp in turn
// and prints its name, and prints what each input reads.
func Test(lib *build.Library, doc *build.Document, l build.Language) (*build.Program, error) {
	return write(lib, doc, l, func(o *outline) string { return o.apart().cppTest() }, func(o *outline, l build.Language) string { return o.apart().pythonTest(l) })
}

// apart has each bar of a digit as a lamp of its own.
func (o *outline) apart() *outline {
	o.digits = nil
	for i := range o.outs {
		o.outs[i].bar = false
	}
	return o
}

func write(lib *build.Library, doc *build.Document, l build.Language, cpp func(*outline) string, python func(*outline, build.Language) string) (*build.Program, error) {
	o := newOutline(lib, doc)
	p := &build.Program{Language: l}
	switch {
	case l == build.CPP:
		p.Text = cpp(o)
	case !l.Python():
		return nil, fmt.Errorf("there is no language %q; the languages are %s, %s and %s", l, build.CPP, build.PythonBoard, build.PythonMachine)
	case !o.board.Programs().Python:
		return nil, fmt.Errorf("the %s runs C++ only", o.board.Name)
	default:
		p.Text = python(o, l)
	}
	return p, nil
}

// A role says what an out does in a starter: follow a contact, a knob or a keypad; none of
// them: beat.
type role struct{ in, knob, pad int }

type roles struct {
	outs  []role
	beats bool
	bound map[int]bool // ins that an out follows
}

// printsIn reports whether a contact has nothing but its name to show.
func (r roles) printsIn(i int) bool { return !r.bound[i] }

// roles shares the inputs out among the outputs, each in its order.
func (o *outline) roles() roles {
	r := roles{bound: map[int]bool{}, beats: len(o.chains) > 0}
	nextIn, nextKnob := 0, 0
	// A group follows contacts only if there is one for each of its members.
	follow := make([]bool, len(o.groups))
	left := len(o.ins)
	for k, g := range o.groups {
		if left >= len(g) {
			follow[k] = true
			left -= len(g)
		}
	}
	for _, x := range o.outs {
		p := role{-1, -1, -1}
		switch {
		case x.bar:
			r.beats = true
		case x.group >= 0 && !x.dims && !follow[x.group]:
			r.beats = true
		case (x.dims || x.steers) && len(o.knobs) > 0:
			p.knob = nextKnob % len(o.knobs)
			nextKnob++
		case nextIn < len(o.ins):
			p.in = nextIn
			nextIn++
		case !x.dims && len(o.pads) > 0:
			p.pad = 0
		case !x.dims && nextKnob < len(o.knobs):
			p.knob = nextKnob
			nextKnob++
		case !x.dims && !x.tone:
			r.beats = true
		}
		if p.in >= 0 {
			r.bound[p.in] = true
		}
		r.outs = append(r.outs, p)
	}
	return r
}
