package plan

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strings"

	"cablaggio/core/document/build"
)

// A Shape says what an edit does and which fields it takes, by the names that they have in a file.
type Shape struct {
	Op    string
	Does  string       // as a sentence
	Needs []string     // fields that must be there
	May   []string     // fields that may be there
	Of    reflect.Type // the edit's
	Bench bool         // it is about the breadboard, and leaves the plan as it is

	noted bool // it notes what is really on the breadboard
}

// shape describes an edit; what it may leave out is tagged so.
func shape[E Edit](op, does string) Shape {
	s := Shape{Op: op, Does: does, Of: reflect.TypeFor[E]()}
	for i := range s.Of.NumField() {
		name, options, _ := strings.Cut(s.Of.Field(i).Tag.Get("json"), ",")
		if options == "" {
			s.Needs = append(s.Needs, name)
		} else {
			s.May = append(s.May, name)
		}
	}
	return s
}

// bench is shape for an edit of what is decided and done on the breadboard.
func bench[E Edit](op, does string) Shape {
	s := shape[E](op, does)
	s.Bench = true
	return s
}

// noted is bench for an edit that notes what is really there.
func noted[E Edit](op, does string) Shape {
	s := bench[E](op, does)
	s.noted = true
	return s
}

// shapes is every edit there is. What takes which fields, what is listed, what is
// refused and what the server's interface says all come from here and from the edits' types.
var shapes = []Shape{
	shape[Add]("add", "A part, wired by a hookup, with a value if one is given."),
	shape[Remove]("remove", "The part goes, with what its hookup brought."),
	shape[Hookup]("hookup", "Wire the part this way."),
	shape[MovePin]("pin", "The signal takes this pin; without one it is chosen."),
	shape[Value]("value", "A value as typed; without a text it is the catalogue's."),
	shape[Measure]("measure", "A value as it was measured: it is the part's own, within what a meter may be off."),
	shape[Size]("size", "Choose the resistor's value again."),
	shape[SetType]("type", "Another type of the same kind."),
	shape[Name]("name", "Another name."),
	shape[SetPull]("pull", "The pull that the program switches on."),
	shape[Flip]("flip", "Swap the two legs."),
	shape[Insert]("insert", "A resistor between the terminal and its net."),
	shape[Join]("join", "A wire."),
	shape[Free]("free", "The terminal is taken out of its net."),
	shape[Title]("title", "Another name for the build."),
	shape[Board]("board", "Move to another board."),
	shape[Turns]("turns", "The part is on only when the other is off; without another, whenever it likes."),
	shape[Supply]("supply", "What feeds the board, with how many volts or from which cells; and a second supply."),
	shape[Unused]("unused", "The pull that the program switches on at the pins that are not used."),
	shape[Assign]("assign", "Choose the pins of all signals again that are not locked."),
	shape[Lock]("lock", "With a pin the signal's pin stays as it is; without, it may be chosen again."),
	shape[Swap]("swap", "Exchange pins with what is on that one."),
	shape[White]("white", "The currents of an RGB LED that give white at equal duty."),
	shape[Match]("match", "A wanted current with which the lamp is as bright as the other one."),
	shape[Bright]("bright", "A wanted current with which the lamp looks this bright, in per cent of the lightness at its test current."),
	shape[Pair]("pair", "Two resistors, in series or parallel, instead of one."),
	shape[Replace]("replace", "A whole build."),
	shape[Program]("program", "The program that the builder wrote; without one there is none."),
	shape[Rewrite]("rewrite", "The line of the program with that number, which reads so now, becomes the text; without one it goes."),
	shape[Should]("should", "What the build should do, a sentence a line; without, nothing is said."),

	bench[Breadboards]("breadboards", "The sizes of breadboard, side by side; without, they are chosen. With says whether the board lies beside them."),
	bench[Fix]("fix", "Keep the leg in this hole; without one the part goes where it goes best."),
	bench[Stock]("stock", "The colours of wires at hand, and their lengths in millimetres; without, any."),
	bench[Reach]("reach", "Millimetres of wire from place to place of a build that is soldered; without, as usual."),
	bench[StepDone]("step-done", "A step is done: its id, its words, and when."),
	bench[StepUndone]("step-undone", "A step is taken back."),
	bench[StepsUndone]("all-undone", "Nothing is plugged in any more."),
	noted[AsBuilt]("as-built", "Note what is really there: from the plan, from the steps, or not any more."),
	noted[BuiltLeg]("built-leg", "Where the leg really is; without a terminal the text says both."),
	noted[WireIn]("wire-in", "There is a wire between these ends."),
	noted[WireOut]("wire-out", "There is none."),
	noted[BuiltValue]("built-value", "The resistor that is really there, by its value or its bands; without, the planned one."),
}

// Shapes lists every edit there is.
func Shapes() []Shape { return slices.Clone(shapes) }

func shapeOf(e Edit) (Shape, bool) {
	i := slices.IndexFunc(shapes, func(s Shape) bool { return s.Of == reflect.TypeOf(e) })
	if i < 0 {
		return Shape{}, false
	}
	return shapes[i], true
}

func (s Shape) fields() []string { return slices.Concat(s.Needs, s.May) }

// check reports what is missing in an edit. Of a part that is not named it is said that there is none.
func (s Shape) check(e Edit) error {
	v := reflect.ValueOf(e)
	for i := range v.NumField() {
		name, _, _ := strings.Cut(s.Of.Field(i).Tag.Get("json"), ",")
		if v.Field(i).IsZero() && slices.Contains(s.Needs, name) && name != "part" {
			return fmt.Errorf("the edit %q needs %q; it takes %s", s.Op, name, s.takes())
		}
	}
	return nil
}

func (s Shape) takes() string {
	if len(s.fields()) == 0 {
		return "nothing"
	}
	return strings.Join(s.fields(), ", ")
}

// Edits are several, made one after another. In JSON each is an object whose op says which it is.
type Edits []Edit

// EditsOf makes edits of several of one sort.
func EditsOf[E Edit](list []E) Edits {
	out := make(Edits, len(list))
	for i, e := range list {
		out[i] = e
	}
	return out
}

// MarshalJSON implements [json.Marshaler].
func (l Edits) MarshalJSON() ([]byte, error) {
	out := make([]json.RawMessage, len(l))
	for i, e := range l {
		var err error
		if out[i], err = written(e); err != nil {
			return nil, err
		}
	}
	return json.Marshal(out)
}

// written is an edit as an object with its op.
func written(e Edit) ([]byte, error) {
	if r, ok := e.(refused); ok {
		return r.came, nil
	}
	s, ok := shapeOf(e)
	if !ok {
		return nil, fmt.Errorf("no edit is a %T", e)
	}
	fields, err := json.Marshal(e)
	if err != nil {
		return nil, err
	}
	out := fmt.Appendf(nil, `{"op":%q`, s.Op)
	if len(fields) > len("{}") {
		out = append(out, ',')
	}
	return append(out, fields[1:]...), nil
}

// UnmarshalJSON implements [json.Unmarshaler]. What is an edit of no shape is taken in, and refused
// when it is made, so that what is said names it.
func (l *Edits) UnmarshalJSON(data []byte) error {
	var list []json.RawMessage
	if err := json.Unmarshal(data, &list); err != nil {
		return err
	}
	*l = nil
	for _, came := range list {
		e, err := read(came)
		if err != nil {
			return err
		}
		*l = append(*l, e)
	}
	return nil
}

// read makes an edit of an object.
func read(came json.RawMessage) (Edit, error) {
	var fields map[string]json.RawMessage
	if err := json.Unmarshal(came, &fields); err != nil {
		return nil, err
	}
	var op string
	if given(fields["op"]) {
		if err := json.Unmarshal(fields["op"], &op); err != nil {
			return nil, err
		}
	}
	i := slices.IndexFunc(shapes, func(s Shape) bool { return s.Op == op })
	if i < 0 {
		return refused{came, errNoEdit(op)}, nil
	}
	s := shapes[i]
	for name, value := range fields {
		if name != "op" && given(value) && !slices.Contains(s.fields(), name) {
			return refused{came, fmt.Errorf("the edit %q takes no %q; it takes %s", op, name, s.takes())}, nil
		}
	}
	e := reflect.New(s.Of)
	if err := json.Unmarshal(came, e.Interface()); err != nil {
		return nil, err
	}
	return e.Elem().Interface().(Edit), nil
}

// given reports whether a field says anything.
func given(value json.RawMessage) bool {
	switch string(bytes.TrimSpace(value)) {
	case "", "null", `""`, "0", "false":
		return false
	}
	return true
}

// A refused edit is one that came in and has no shape.
type refused struct {
	came json.RawMessage
	err  error
}

func (e refused) apply(*planner) (string, error) { return "", e.err }

// errNoEdit is what is wrong with an edit that there is not.
func errNoEdit(op string) error {
	if op == "" {
		return errors.New("an edit says what it does, in its op")
	}
	return fmt.Errorf("there is no edit %q", op)
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
		s, _ := shapeOf(e)
		switch e.(type) {
		case Program, Rewrite:
			kind = LineProgram
		case StepDone, StepUndone, StepsUndone:
			kind = LineStep
		default:
			if kind = LineChange; s.noted {
				kind = LineBuilt
			}
		}
		if about := PartOf(e); i == 0 {
			part = about
		} else if about != part {
			part = ""
		}
	}
	return kind, part
}

// PartOf is the id of the part that an edit names, itself or by a leg; empty where there is none.
func PartOf(e Edit) string {
	v := reflect.ValueOf(e)
	for i := range v.NumField() {
		switch v.Type().Field(i).Name {
		case "Part":
			return v.Field(i).String()
		case "Terminal":
			if t := build.Terminal(v.Field(i).String()); t != "" && !t.OnBoard() {
				id, _ := t.Split()
				return id
			}
		}
	}
	return ""
}
