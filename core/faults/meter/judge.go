package meter

import (
	"cmp"
	_ "embed"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"
	"sync"

	"cablaggio/core/values/quantity"
)

// A Verdict says what a reading means.
type Verdict struct {
	Means  Meaning `json:"means"`
	Value  float64 `json:"value"` // in SI base units; 0 when Over
	Over   bool    `json:"over,omitempty"`
	Text   string  `json:"text"`   // the reading as it was understood
	Words  string  `json:"words"`  // the verdict in a sentence
	Causes []Sign  `json:"causes"` // when it is not as expected: what would read so, the likeliest first
}

// A Meaning is how a reading stands to what is expected.
type Meaning string

// The meanings.
const (
	AsExpected Meaning = "expected"
	AtTheEdge  Meaning = "edge" // as expected, but only just
	NotSo      Meaning = "unexpected"
)

//go:embed meanings.json
var meaningsFile []byte

// meanings are how they are said, here and on the screen.
var meanings = sync.OnceValue(func() (words map[Meaning]string) {
	var said map[string]string // as a map of meanings it would be read by what reads old ones
	if err := json.Unmarshal(meaningsFile, &said); err != nil {
		panic("the words of meanings: " + err.Error())
	}
	words = map[Meaning]string{}
	for id, text := range said {
		words[Meaning(id)] = text
	}
	return words
})

// older are the words that were written in place of meanings before 0.9, whatever is said today.
var older = map[string]Meaning{"as expected": AsExpected, "at the edge": AtTheEdge, "not as expected": NotSo}

// Words says a meaning.
func (m Meaning) Words() string { return meanings()[m] }

// UnmarshalText implements [encoding.TextUnmarshaler]. What was written before 0.9 has the words
// in it.
func (m *Meaning) UnmarshalText(text []byte) error {
	*m = Meaning(text)
	if known, ok := older[string(text)]; ok {
		*m = known
	}
	return nil
}

// edge is the part of the way from the typical value to an end from which on a reading is
// at the edge (common practice: what is so far off is looked at again).
const edge = 0.85

// mostCauses is how many causes a verdict names.
const mostCauses = 3

// Read understands a reading as it is typed: "2.13 V", "2,13", "0.129 mA", "OL", "1.2k",
// for a test of continuity also "beep" and "no beep". A number without a unit is in the
// unit of the check. Its error says what would be right.
func (c *Check) Read(text string) (value float64, over bool, err error) {
	t := strings.ToLower(strings.TrimSpace(text))
	switch {
	case t == "":
		return 0, false, fmt.Errorf("there is no reading; write what the meter shows, as %s", c.example())
	case c.Question.Way == Counts:
		v, err := quantity.Parse(text, c.Expect.Unit)
		if err != nil || v < 0 || v != math.Trunc(v) {
			return 0, false, fmt.Errorf("%q is not a number of times; write %s", strings.TrimSpace(text), c.example())
		}
		return v, false, nil
	}
	switch t {
	case "ol", "o.l", "o.l.", "0l", "over", "overload", "1", "inf", "open", "no beep", "silent", "no":
		if t != "1" && (c.Question.Way == Continuity || t != "no" && t != "no beep" && t != "silent") {
			return 0, true, nil
		}
	case "beep", "beeps", "it beeps", "yes":
		if c.Question.Way == Continuity {
			return 0, false, nil
		}
	}
	v, err := quantity.Parse(text, c.Expect.Unit)
	if err != nil {
		return 0, false, fmt.Errorf("%q is not a reading in %s; write what the meter shows, as %s", strings.TrimSpace(text), c.Expect.Unit, c.example())
	}
	if v < 0 && c.Expect.Unit == quantity.Ohm {
		return 0, false, fmt.Errorf("a resistance is not negative: %s; is the meter on ohms, and the board unplugged?", strings.TrimSpace(text))
	}
	return v, false, nil
}

func (c *Check) example() string {
	switch c.Question.Way {
	case Continuity:
		return "beep, or OL"
	case Counts:
		return "the number that it comes to, " + c.Expect.TypText
	}
	return c.Expect.TypText
}

// Judge says what a reading means.
func (m *Instrument) Judge(c *Check, text string) (Verdict, error) {
	value, over, err := c.Read(text)
	if err != nil {
		return Verdict{}, err
	}
	v := Verdict{Value: value, Over: over, Text: "OL", Causes: []Sign{}}
	if !over {
		v.Text = quantity.Short(value, c.Expect.Unit)
	}
	if c.Expect.Allows(value, over) {
		v.Means, v.Words = AsExpected, fmt.Sprintf("As expected: %s.", c.Expect.Text)
		if which := c.Expect.near(value); !over && which != "" {
			v.Means = AtTheEdge
			v.Words = fmt.Sprintf("Just within what is expected, %s. %s", c.Expect.Text, c.Expect.edgeWords(value, which))
		}
		return v, nil
	}
	v.Means = NotSo
	v.Words = fmt.Sprintf("Not as expected: it should be %s.", c.Expect.Text)
	type likely struct {
		sign Sign
		off  float64
	}
	var all []likely
	// The meter is on the range of what was expected: its last digit is that of this range.
	d, _ := m.digit(math.Max(math.Abs(c.Expect.Low), math.Abs(c.Expect.High)), c.Expect.Unit)
	slack := float64(m.Digits) * d
	for i, s := range c.Shows { // the most common first
		if s.Reads.Allows(value, over) || !over && (s.Reads.Allows(value-slack, false) || s.Reads.Allows(value+slack, false)) {
			all = append(all, likely{s, float64(i)})
		}
	}
	slices.SortStableFunc(all, func(a, b likely) int { return cmp.Compare(a.off, b.off) })
	for _, x := range all[:min(len(all), mostCauses)] {
		v.Causes = append(v.Causes, x.sign)
	}
	if len(v.Causes) == 0 {
		v.Words += " No single thing that could be wrong reads so: " + again(c.Question.Way)
	}
	return v, nil
}

// again says how to take a reading that nothing explains once more.
func again(w Way) string {
	if w == Counts {
		return "turn it slowly, that many whole turns, and count again."
	}
	return "look whether the tips are where they should be and the meter on the right range, then measure again."
}

// edgeWords says which tolerance explains a reading that is near an end, or most of it.
func (x *Expectation) edgeWords(value float64, which string) string {
	of, reads := x.toward(which == "high")
	if of == "" {
		return fmt.Sprintf("Everything that has a tolerance would have to be at its %s end.", which)
	}
	alone := quantity.Short(reads, x.Unit)
	if math.Abs(reads-x.Typ) >= math.Abs(value-x.Typ) {
		return fmt.Sprintf("The %s may be what does it: at the end of its tolerance the meter reads %s.", of, alone)
	}
	return fmt.Sprintf("The %s does most of it: at the end of its tolerance the meter reads %s. The rest is the meter, and what else has a tolerance.", of, alone)
}

// near says to which end of what is expected a reading is close; "" to none.
func (x *Expectation) near(v float64) string {
	if x.Over || x.Surely || x.Unit == quantity.Ohm && x.High < 1 {
		return ""
	}
	part := func(end float64) float64 { return (v - x.Typ) / (end - x.Typ) }
	switch {
	case x.High > x.Typ && part(x.High) > edge && !math.IsInf(x.High, 0):
		return "high"
	case x.Low < x.Typ && part(x.Low) > edge:
		return "low"
	}
	return ""
}
