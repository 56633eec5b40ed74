package plan

import (
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strings"

	"cablaggio/core/board"
	"cablaggio/core/build"
	"cablaggio/core/part"
)

// A Shape says what an edit does and which fields of [Edit] it takes, by the
// names that they have in a file.
type Shape struct {
	Op    Op
	Does  string   // as a sentence
	Needs []string // fields that must be there
	May   []string // fields that may be there
	Bench bool     // it is about the breadboard, and leaves the plan as it is

	noted bool // it notes what is really on the breadboard

	// apply makes the edit. The part is the one that the edit names, with its kind,
	// if it takes one.
	apply func(p *planner, e Edit, q *build.Part, kind *part.Kind) (string, error)
}

// shape describes an edit: its fields in the order in which they are explained,
// those that may be left out in brackets.
func shape(op Op, fields, does string, apply func(p *planner, e Edit, q *build.Part, kind *part.Kind) (string, error)) Shape {
	s := Shape{Op: op, Does: does, apply: apply}
	for _, f := range strings.Fields(fields) {
		if name, ok := strings.CutPrefix(f, "["); ok {
			s.May = append(s.May, strings.TrimSuffix(name, "]"))
		} else {
			s.Needs = append(s.Needs, f)
		}
	}
	return s
}

// bench is shape for an edit of what is decided and done on the breadboard.
func bench(op Op, fields, does string, apply func(p *planner, a *build.Assembly, e Edit) (string, error)) Shape {
	s := shape(op, fields, does, func(p *planner, e Edit, _ *build.Part, _ *part.Kind) (string, error) {
		if p.doc.Assembly == nil {
			p.doc.Assembly = &build.Assembly{}
		}
		return apply(p, p.doc.Assembly, e)
	})
	s.Bench = true
	return s
}

// noted is bench for an edit that notes what is really there.
func noted(op Op, fields, does string, apply func(p *planner, a *build.Assembly, e Edit) (string, error)) Shape {
	s := bench(op, fields, does, apply)
	s.noted = true
	return s
}

// shapes is every edit there is. What takes which fields, what is listed, what is
// refused and what the server's interface says all come from here.
var shapes []Shape

func init() {
	shapes = []Shape{
		shape(Add, "kind [type] [name] [hookup] [pin] [value] [text]", "A part, wired by a hookup, with a value if one is given.",
			func(p *planner, e Edit, _ *build.Part, _ *part.Kind) (string, error) { return p.add(e) }),
		shape(Remove, "part", "The part goes, with what its hookup brought.", (*planner).remove),
		shape(Hookup, "part hookup", "Wire the part this way.",
			func(p *planner, e Edit, q *build.Part, kind *part.Kind) (string, error) {
				return p.hookup(q, kind, e.Hookup)
			}),
		shape(MovePin, "part signal [pin]", "The signal takes this pin; without one it is chosen.",
			func(p *planner, e Edit, q *build.Part, _ *part.Kind) (string, error) {
				return p.movePin(q, e.Signal, e.Pin)
			}),
		shape(Value, "part value [text]", "A value as typed; without a text it is the catalogue's.",
			func(p *planner, e Edit, q *build.Part, kind *part.Kind) (string, error) {
				return p.value(q, kind, e.Value, e.Text)
			}),
		shape(Measure, "part value text", "A value as it was measured: it is the part's own, within what a meter may be off.",
			func(p *planner, e Edit, q *build.Part, kind *part.Kind) (string, error) {
				return p.measure(q, kind, e.Value, e.Text)
			}),
		shape(Size, "part", "Choose the resistor's value again.", (*planner).resize),
		shape(SetType, "part type", "Another type of the same kind.", (*planner).setType),
		shape(Name, "part name", "Another name.", (*planner).rename),
		shape(SetPull, "part signal [pull]", "The pull that the program switches on.",
			func(p *planner, e Edit, q *build.Part, _ *part.Kind) (string, error) {
				return p.pull(q, e.Signal, e.Pull)
			}),
		shape(Flip, "part", "Swap the two legs.",
			func(p *planner, _ Edit, q *build.Part, kind *part.Kind) (string, error) { return p.flip(q, kind) }),
		shape(Insert, "terminal text", "A resistor between the terminal and its net.",
			func(p *planner, e Edit, _ *build.Part, _ *part.Kind) (string, error) {
				return p.insert(e.Terminal, e.Text)
			}),
		shape(Join, "terminal to", "A wire.",
			func(p *planner, e Edit, _ *build.Part, _ *part.Kind) (string, error) { return p.join(e.Terminal, e.To) }),
		shape(Free, "terminal", "The terminal is taken out of its net.",
			func(p *planner, e Edit, _ *build.Part, _ *part.Kind) (string, error) { return p.free(e.Terminal) }),
		shape(Title, "name", "Another name for the build.", (*planner).title),
		shape(Board, "board", "Move to another board.",
			func(p *planner, e Edit, _ *build.Part, _ *part.Kind) (string, error) { return p.move(e.Board) }),
		shape(Turns, "part [with]", "The part is on only when the other is off; without another, whenever it likes.",
			func(p *planner, e Edit, q *build.Part, _ *part.Kind) (string, error) { return p.turns(q, e.With) }),
		shape(Supply, "[supply] [with] [text] [cells] [count]", "What feeds the board, with how many volts or from which cells; and a second supply.",
			func(p *planner, e Edit, _ *build.Part, _ *part.Kind) (string, error) { return p.feed(e) }),
		shape(Unused, "[pull]", "The pull that the program switches on at the pins that are not used.",
			func(p *planner, e Edit, _ *build.Part, _ *part.Kind) (string, error) {
				p.doc.UnusedPulled = e.Pull == board.PullUp
				return "changed what the program does with unused pins", nil
			}),
		shape(Assign, "", "Choose the pins of all signals again that are not locked.",
			func(p *planner, _ Edit, _ *build.Part, _ *part.Kind) (string, error) { return p.assign() }),
		shape(Lock, "part signal [pin]", "With a pin the signal's pin stays as it is; without, it may be chosen again.",
			func(p *planner, e Edit, q *build.Part, _ *part.Kind) (string, error) {
				return p.lock(q, e.Signal, e.Pin != "")
			}),
		shape(Swap, "part signal pin", "Exchange pins with what is on that one.",
			func(p *planner, e Edit, q *build.Part, _ *part.Kind) (string, error) {
				return p.swap(q, e.Signal, e.Pin)
			}),
		shape(White, "part", "The currents of an RGB LED that give white at equal duty.",
			func(p *planner, _ Edit, q *build.Part, kind *part.Kind) (string, error) { return p.white(q, kind) }),
		shape(Match, "part with", "A wanted current with which the lamp is as bright as the other one.",
			func(p *planner, e Edit, q *build.Part, kind *part.Kind) (string, error) {
				return p.match(q, kind, e.With)
			}),
		shape(Bright, "part [text]", "A wanted current with which the lamp looks this bright, in per cent of the lightness at its test current.",
			func(p *planner, e Edit, q *build.Part, kind *part.Kind) (string, error) {
				return p.bright(q, kind, e.Text)
			}),
		shape(Pair, "part text with value", "Two resistors, in series or parallel, instead of one.",
			func(p *planner, e Edit, q *build.Part, _ *part.Kind) (string, error) { return p.pair(q, e) }),
		shape(Replace, "document", "A whole build.",
			func(p *planner, e Edit, _ *build.Part, _ *part.Kind) (string, error) { return p.replace(e.Document) }),
		shape(Program, "[program]", "The program that the builder wrote; without one there is none.",
			func(p *planner, e Edit, _ *build.Part, _ *part.Kind) (string, error) { return p.program(e.Program) }),
		shape(Rewrite, "count with [text]", "The line of the program with that number, which reads so now, becomes the text; without one it goes.",
			func(p *planner, e Edit, _ *build.Part, _ *part.Kind) (string, error) {
				return p.rewrite(e.Count, e.With, e.Text)
			}),
		shape(Should, "[text]", "What the build should do, a sentence a line; without, nothing is said.",
			func(p *planner, e Edit, _ *build.Part, _ *part.Kind) (string, error) { return p.should(e.Text) }),

		bench(Breadboards, "[text] [with]", "The sizes of breadboard, side by side; without, they are chosen. With says whether the board lies beside them.", (*planner).breadboards),
		bench(Fix, "terminal [text]", "Keep the leg in this hole; without one the part goes where it goes best.", (*planner).fix),
		bench(Stock, "[text] [with]", "The colours of wires at hand, and their lengths in millimetres; without, any.", (*planner).stock),
		bench(Reach, "[text]", "Millimetres of wire from place to place of a build that is soldered; without, as usual.",
			func(p *planner, a *build.Assembly, e Edit) (string, error) { return p.reach(a, e.Text) }),
		bench(StepDone, "text [name] [at]", "A step is done: its id, its words, and when.", (*planner).stepDone),
		bench(StepUndone, "text [name]", "A step is taken back.", (*planner).stepUndone),
		bench(StepsUndone, "", "Nothing is plugged in any more.", (*planner).stepsUndone),
		noted(AsBuilt, "[text]", "Note what is really there: from the plan, from the steps, or not any more.",
			func(p *planner, a *build.Assembly, e Edit) (string, error) { return p.asBuilt(a, e.Text) }),
		noted(BuiltLeg, "[terminal] [text]", "Where the leg really is; without a terminal the text says both.",
			func(p *planner, a *build.Assembly, e Edit) (string, error) { return p.builtLeg(a, e.Terminal, e.Text) }),
		noted(WireIn, "with text", "There is a wire between these ends.", (*planner).builtWire),
		noted(WireOut, "with text", "There is none.", (*planner).builtWire),
		noted(BuiltValue, "part [text]", "The resistor that is really there, by its value or its bands; without, the planned one.", (*planner).builtValue),
	}
}

// Shapes lists every edit there is.
func Shapes() []Shape { return slices.Clone(shapes) }

func shapeOf(op Op) (Shape, bool) {
	i := slices.IndexFunc(shapes, func(s Shape) bool { return s.Op == op })
	if i < 0 {
		return Shape{}, false
	}
	return shapes[i], true
}

// Lines of a build's log that come from edits.
const (
	LineChange  = "change"  // of the plan
	LineProgram = "program" // another program
	LineStep    = "step"    // done at the bench, or taken back
	LineBuilt   = "built"   // what is really there
)

// LineOf says which kind of line edits are in a build's log, and the id of the part that they
// are about; "" when that is the build, or several.
func LineOf(edits []Edit) (kind, part string) {
	kind = LineChange
	for i, e := range edits {
		switch s, _ := shapeOf(e.Op); {
		case e.Op == Program || e.Op == Rewrite:
			kind = LineProgram
		case e.Op == StepDone || e.Op == StepUndone || e.Op == StepsUndone:
			kind = LineStep
		case s.Bench && s.noted:
			kind = LineBuilt
		default:
			kind = LineChange
		}
		if about := e.about(); i == 0 {
			part = about
		} else if about != part {
			part = ""
		}
	}
	return kind, part
}

// about is the id of the part that an edit names.
func (e Edit) about() string {
	if e.Part != "" || e.Terminal == "" || e.Terminal.OnBoard() {
		return e.Part
	}
	id, _ := e.Terminal.Split()
	return id
}

// check reports what is missing in an edit, or what it does not take.
func (s Shape) check(e Edit) error {
	v := reflect.ValueOf(e)
	for i := range v.NumField() {
		name, _, _ := strings.Cut(v.Type().Field(i).Tag.Get("json"), ",")
		switch given := !v.Field(i).IsZero(); {
		case name == "op":
		case given && !slices.Contains(s.Needs, name) && !slices.Contains(s.May, name):
			return fmt.Errorf("the edit %q takes no %q; it takes %s", s.Op, name, s.takes())
		case !given && slices.Contains(s.Needs, name) && name != "part":
			return fmt.Errorf("the edit %q needs %q; it takes %s", s.Op, name, s.takes())
		}
	}
	return nil
}

func (s Shape) takes() string {
	all := slices.Concat(s.Needs, s.May)
	if len(all) == 0 {
		return "nothing"
	}
	return strings.Join(all, ", ")
}

// errNoEdit is what is wrong with an edit that there is not.
func errNoEdit(op Op) error {
	if op == "" {
		return errors.New("an edit says what it does, in its op")
	}
	return fmt.Errorf("there is no edit %q", op)
}
