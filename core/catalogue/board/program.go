package board

import (
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"cablaggio/core/values/spec"
)

// Code is what a program finds on a board.
type Code struct {
	Int        int  `json:"int"`                  // bits of an int in C++: 16 or 32
	ReadBits   int  `json:"readBits"`             // of a reading in C++, unless the program asks for others
	AnalogFrom int  `json:"analogFrom,omitempty"` // the number of A0, where the analog pins are called so
	WritePulls bool `json:"writePulls,omitempty"` // writing high to an input switches its pull-up on

	// The pins of the ports that programs may reach by the chip's registers, by the port's letter
	// and by bit; "" where a bit has no pin.
	Ports map[string][]string `json:"ports,omitempty"`

	Paced      bool       `json:"paced,omitempty"`      // printing takes the time that the rate asks for; otherwise it goes by USB
	Python     bool       `json:"python,omitempty"`     // it runs Python too
	Interrupts []string   `json:"interrupts,omitempty"` // pins by the numbers of their interrupts; none: the number is the pin's
	ToneTimer  string     `json:"toneTimer,omitempty"`  // the PWM channels that begin with it have no duty while there is a tone
	Clock      spec.Value `json:"clock"`                // how fast its clock goes, as a part of what it should
	Costs      Costs      `json:"costs"`
}

// Costs is how long what a program does takes, in nanoseconds.
type Costs struct {
	Step      int64  `json:"step"` // a few instructions between two jumps
	Mode      int64  `json:"mode"`
	Write     int64  `json:"write"`
	Read      int64  `json:"read"`
	Convert   int64  `json:"convert"` // a reading
	Duty      int64  `json:"duty"`
	Clock     int64  `json:"clock"`     // asking for the time
	Print     int64  `json:"print"`     // a character, while there is room for it
	Statement int64  `json:"statement"` // of Python
	Call      int64  `json:"call"`      // of the board by Python, beside what the call itself costs
	Source    string `json:"source"`
}

const fromMemory = "from memory of boards of this class; check your own"

// usual are the programs of boards that say nothing of theirs: of 8 bits where the logic is
// of 5 V, of 32 where it is less.
var usual = map[bool]Code{
	true: {
		Int: 16, ReadBits: 10, WritePulls: true, Paced: true,
		Clock: spec.Value{Low: 0.995, Typ: 1, High: 1.005, Source: "common practice: a ceramic resonator of 0.5 %"},
		Costs: Costs{Step: 250, Mode: 4000, Write: 4000, Read: 4000, Convert: 112000, Duty: 5000, Clock: 2000, Print: 3000, Source: fromMemory},
	},
	false: {
		Int: 32, ReadBits: 10, Python: true,
		Clock: spec.Value{Low: 0.99995, Typ: 1, High: 1.00005, Source: "common practice: a crystal of 50 parts in a million"},
		Costs: Costs{Step: 40, Mode: 1000, Write: 500, Read: 500, Convert: 20000, Duty: 2000, Clock: 300, Print: 500, Statement: 4000, Call: 6000, Source: fromMemory},
	},
}

// Programs returns what a program finds on the board.
func (p *Profile) Programs() Code {
	if p.Program != nil {
		return *p.Program
	}
	return usual[p.LogicVolts() > 4]
}

// Number returns the number by which C++ programs know a pin: its own, or the digits of its name, but of
// analog pins that are called A0 and on those behind the last digital one. It is -1 of a pin
// without one.
func (p *Profile) Number(pin string) int {
	if i := slices.IndexFunc(p.Pins, func(q Pin) bool { return q.Number != nil && q.Name == pin }); i >= 0 {
		return *p.Pins[i].Number
	}
	digits := strings.TrimLeft(pin, "ABCDEFGHIJKLMNOPQRSTUVWXYZ")
	n, err := strconv.Atoi(digits)
	if err != nil || n < 0 {
		return -1
	}
	if p.namedAnalog(pin) {
		return p.analogFrom() + n
	}
	return n
}

// MaxNumber is the largest number of a pin.
const MaxNumber = 79

// Unnumbered says in words which pins programs cannot tell apart by their numbers, or have none;
// nothing where each has its own.
func (p *Profile) Unnumbered() Problems {
	var out Problems
	seen := map[int]string{}
	for _, pin := range p.Pins {
		n := p.Number(pin.Name)
		switch {
		case n < 0 || n > MaxNumber:
			out = append(out, Problem{"pin " + pin.Name, fmt.Sprintf("a program knows pins by numbers from 0 to %d, and its name has none: write it behind the name, as %s = 14", MaxNumber, pin.Name)})
		case seen[n] != "":
			out = append(out, Problem{"pin " + pin.Name, fmt.Sprintf("to a program it is number %d, as %s: write its own behind the name, as %s = 14", n, seen[n], pin.Name)})
		default:
			seen[n] = pin.Name
		}
	}
	return out
}

// Numbered returns the pin with a number.
func (p *Profile) Numbered(number int) (Pin, bool) {
	for _, pin := range p.Pins {
		if p.Number(pin.Name) == number {
			return pin, true
		}
	}
	return Pin{}, false
}

// InCode returns how a C++ program writes a pin: "13", "A0".
func (p *Profile) InCode(pin string) string {
	if p.namedAnalog(pin) {
		return pin
	}
	return strconv.Itoa(p.Number(pin))
}

func (p *Profile) namedAnalog(pin string) bool {
	if slices.ContainsFunc(p.Pins, func(q Pin) bool { return q.Number != nil && q.Name == pin }) {
		return false
	}
	return len(pin) > 1 && pin[0] == 'A' && pin[1] >= '0' && pin[1] <= '9'
}

// analogFrom is the number of A0: what the profile says, or the first after the digital pins.
func (p *Profile) analogFrom() int {
	if n := p.Programs().AnalogFrom; n > 0 {
		return n
	}
	next := 0
	for _, pin := range p.Pins {
		if !p.namedAnalog(pin.Name) {
			if n, err := strconv.Atoi(strings.TrimLeft(pin.Name, "ABCDEFGHIJKLMNOPQRSTUVWXYZ")); err == nil {
				next = max(next, n+1)
			}
		}
	}
	return next
}

// OwnLED returns the pin that the board's own LED is on.
func (p *Profile) OwnLED() (Pin, bool) {
	for _, pin := range p.Pins {
		if pin.Own != nil && pin.Own.LED != nil {
			return pin, true
		}
	}
	return Pin{}, false
}

// validate reports what is wrong with it.
func (r *Code) validate() error {
	switch c := r.Costs; {
	case r.Int != 16 && r.Int != 32:
		return fmt.Errorf("an int has 16 or 32 bits, not %d", r.Int)
	case r.ReadBits < 8 || r.ReadBits > 16:
		return fmt.Errorf("a reading has 8 to 16 bits, not %d", r.ReadBits)
	case min(c.Step, c.Mode, c.Write, c.Read, c.Convert, c.Duty, c.Clock, c.Print) <= 0 || c.Source == "":
		return errors.New("each of its costs is more than 0 ns, and they have a source")
	case r.Python && min(c.Statement, c.Call) <= 0:
		return errors.New("what runs Python says what a statement and a call cost")
	}
	return nil
}
