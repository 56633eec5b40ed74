// Package drill hides a fault in a build, for somebody to find: lessons in an order, and
// draws by a seed. A code names a drill, and gives the same one elsewhere.
package drill

import (
	"fmt"
	"hash/fnv"
	"math/rand/v2"
	"slices"
	"strings"

	"cablaggio/core/faults/diagnose"
	"cablaggio/core/faults/fault"
)

// A Lesson is a drill with a sentence that it teaches.
type Lesson struct {
	ID      string `json:"id"`
	Title   string `json:"title"`
	Build   string `json:"build"`   // the ready build that it is on
	Teaches string `json:"teaches"` // told when it is found

	kind fault.Kind
	part string // in the fault's parts or its id; "": any
}

// Lessons lists the lessons in their order, from the dark lamp to two legs that touch.
func Lessons() []Lesson { return slices.Clone(lessons) }

var lessons = []Lesson{
	{ID: "turned", Title: "A firefly that stays dark", Build: "blink", kind: fault.Turned, part: "led1",
		Teaches: "An LED lights one way round only: its long leg is where the current comes from."},
	{ID: "ring", Title: "A firefly without a way back", Build: "blink", kind: fault.NoWire, part: "board.GND",
		Teaches: "A circuit is a ring: without the way back to ground nothing flows, wherever it is broken."},
	{ID: "floating", Title: "A bell that rings by itself", Build: "button", kind: fault.NoPull,
		Teaches: "An input that nothing holds reads whatever is near: it wants a pull-up, in the program or as a resistor."},
	{ID: "quarter", Title: "A spotlight that brightens by itself", Build: "hold", kind: fault.Quarter,
		Teaches: "Two and two legs of a button are joined inside: turned by ninety degrees it joins what it should switch."},
	{ID: "row", Title: "A knob that does too little", Build: "dimmer", kind: fault.RowOff, part: "potentiometer1",
		Teaches: "The five holes of a row are one place, and the next row is another: count them."},
	{ID: "bands", Title: "A lamp that only glimmers", Build: "dusk", kind: fault.Value, part: "led1-resistor",
		Teaches: "One band read wrongly is ten times the resistance: measure a resistor before it goes in."},
	{ID: "numbers", Title: "Two lamps that have changed places", Build: "four", kind: fault.PinsMixed,
		Teaches: "The number in the program is the pin on the board: when the wrong thing happens, compare the two."},
	{ID: "halves", Title: "One dark lamp of six, and nothing to see", Build: "row", kind: fault.Open, part: "led3-resistor",
		Teaches: "What cannot be seen can be measured: begin in the middle of the way, and each reading halves what is left."},
	{ID: "clock", Title: "A score board with an undefined content", Build: "register", kind: fault.NoWire, part: "clock",
		Teaches: "A register only shifts when its clock arrives: when many lamps are wrong together, look at what they share."},
	{ID: "touch", Title: "A keypad with one key too many", Build: "keypad", kind: fault.Touch, part: "keypad",
		Teaches: "Two legs that touch are one: whoever presses one key, two lines hear it."},
}

// A Drill is a fault in a build.
type Drill struct {
	Code  string
	Build string
	Fault fault.Fault
}

// OfLesson returns the drill of a lesson on its build.
func OfLesson(l Lesson, c *diagnose.Case) (*Drill, error) {
	for _, f := range c.Faults() {
		if f.Kind != l.kind || f.Sometimes() || l.part != "" && !strings.Contains(f.ID+" "+strings.Join(f.Parts, " ")+" "+terminals(&f), l.part) {
			continue
		}
		if shows(c, &f) {
			return &Drill{code(l.Build, f.ID), l.Build, f}, nil
		}
	}
	return nil, fmt.Errorf("the lesson %q has no fault in its build", l.ID)
}

func terminals(f *fault.Fault) string {
	out := ""
	for _, t := range f.Touches() {
		out += " " + string(t)
	}
	return out
}

// shows reports whether a fault is noticed at all.
func shows(c *diagnose.Case, f *fault.Fault) bool {
	b, ok := c.Bench(f.ID)
	if !ok {
		return false
	}
	wrong, _ := b.Start()
	return len(wrong) > 0
}

// Draw draws a fault of a build that is noticed, of a kind or of any, by a seed.
func Draw(build string, c *diagnose.Case, kind fault.Kind, seed uint64) (*Drill, error) {
	var from []fault.Fault
	codes := map[string]int{}
	for _, f := range c.Faults() {
		if f.Sometimes() {
			continue
		}
		codes[code(build, f.ID)]++
		if kind == "" || f.Kind == kind {
			from = append(from, f)
		}
	}
	draw := rand.New(rand.NewPCG(seed, 0x6472696c6c))
	for range 50 {
		if len(from) == 0 {
			break
		}
		// A kind first, then one of it: otherwise wires and legs would be nearly all there is.
		kinds := kindsOf(from)
		k := kinds[draw.IntN(len(kinds))]
		of := slices.DeleteFunc(slices.Clone(from), func(f fault.Fault) bool { return f.Kind != k })
		f := of[draw.IntN(len(of))]
		if codes[code(build, f.ID)] == 1 && shows(c, &f) {
			return &Drill{code(build, f.ID), build, f}, nil
		}
	}
	return nil, fmt.Errorf("there is no such fault in this build that would be noticed")
}

func kindsOf(faults []fault.Fault) (out []fault.Kind) {
	for _, f := range faults {
		if !slices.Contains(out, f.Kind) {
			out = append(out, f.Kind)
		}
	}
	return out
}

// letters are those of codes: none that is taken for another.
const letters = "23456789ABCDEFGHJKLMNPQRSTUVWXYZ"

// code names a fault of a build, without saying which it is.
func code(build, id string) string {
	h := fnv.New64a()
	h.Write([]byte(id))
	n := h.Sum64()
	out := make([]byte, 6)
	for i := range out {
		out[i] = letters[n%uint64(len(letters))]
		n /= uint64(len(letters))
	}
	return strings.ToUpper(build) + "-" + string(out)
}

// BuildOf returns the name of the build that a code is of.
func BuildOf(text string) (string, bool) {
	build, rest, ok := strings.Cut(strings.ToUpper(strings.TrimSpace(text)), "-")
	if !ok || len(rest) != 6 {
		return "", false
	}
	return strings.ToLower(build), true
}

// Find returns the drill of a code on its build.
func Find(text string, c *diagnose.Case) (*Drill, error) {
	build, ok := BuildOf(text)
	if ok {
		for _, f := range c.Faults() {
			if got := code(build, f.ID); !f.Sometimes() && got == strings.ToUpper(strings.TrimSpace(text)) {
				return &Drill{got, build, f}, nil
			}
		}
	}
	return nil, fmt.Errorf("%q is not the code of a drill; it looks like BLINK-7K2QMA", strings.TrimSpace(text))
}
