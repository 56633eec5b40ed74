package program

import (
	"fmt"
	"slices"
	"strings"

	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
)

// A PinUse is one pin as the program and as the wiring have it.
type PinUse struct {
	Pin   string      `json:"pin"`
	Parts []string    `json:"parts"` // ids
	Wired string      `json:"wired"` // what is there, in words; empty: nothing
	Does  string      `json:"does"`  // what the program does with it, in words; empty: nothing
	Line  int         `json:"line,omitempty"`
	Sets  []string    `json:"sets"`            // the modes that it was seen in, by their addresses: "low", "pulled up"
	Level check.Level `json:"level,omitempty"` // the worst finding about it
}

// pinUses lists the pins that the program or the wiring use.
func (f *facts) pinUses(found []check.Finding) []PinUse {
	out := []PinUse{}
	for _, pin := range f.board.Pins {
		n := f.board.Number(pin.Name)
		p, u := f.o.pins[n], f.uses[pin.Name]
		if p == nil && len(u.Signals) == 0 {
			continue
		}
		use := PinUse{Pin: pin.Name, Parts: []string{}, Sets: []string{}}
		var wired []string
		for _, c := range u.Signals {
			use.Parts = append(use.Parts, c.Part.ID)
			words := c.Part.Name
			if len(c.Part.Signals) > 1 {
				words += " · " + strings.ReplaceAll(c.Signal.Name, "-", " ")
			}
			wired = append(wired, words)
		}
		use.Wired = strings.Join(wired, ", ")
		if p != nil {
			use.Does, use.Line, use.Sets = p.does(), p.firstLine, p.sets()
		}
		for _, x := range found {
			if slices.Contains(x.Pins, pin.Name) && x.Level.Worse(use.Level) {
				use.Level = x.Level
			}
		}
		out = append(out, use)
	}
	return out
}

// sets lists the modes that a pin was seen in, as the network addresses them.
func (p *pinFacts) sets() []string {
	out := []string{}
	_, driven := p.modes[machine.Driven]
	_, up := p.modes[machine.PulledUp]
	_, down := p.modes[machine.PulledDown]
	_, free := p.modes[machine.LetGo]
	pulsed := p.duty.line+p.toneLine > 0
	for _, m := range []struct {
		seen bool
		name string
	}{
		{free || !driven && !up && !down && !pulsed, "let go"}, {up || p.highLine > 0 && !driven && !pulsed, "pulled up"}, {down, "pulled down"},
		{driven && (p.lowLine > 0 || !p.high) || pulsed, "low"}, {p.high || pulsed, "high"},
	} {
		if m.seen {
			out = append(out, m.name)
		}
	}
	return out
}

// does says what the program does with a pin.
func (p *pinFacts) does() string {
	var said []string
	say := func(ok bool, words string) {
		if ok {
			said = append(said, words)
		}
	}
	_, up := p.modes[machine.PulledUp]
	_, down := p.modes[machine.PulledDown]
	say(p.lowLine > 0 && p.highLine > 0, "writes high and low")
	say(p.lowLine > 0 && p.highLine == 0, "writes low")
	say(p.lowLine == 0 && p.highLine > 0, "writes high")
	if p.duty.line > 0 && p.duty.full > 0 {
		said = append(said, fmt.Sprintf("duty %g to %g of %g", p.duty.least, p.duty.most, p.duty.full))
	}
	say(p.toneLine > 0, fmt.Sprintf("tone of %g Hz", p.hertz))
	say(p.reading.line > 0 && !p.reading.seen, "has the converter")
	if p.reading.seen {
		said = append(said, fmt.Sprintf("measures %g to %g of %g", p.reading.least, p.reading.most, p.reading.full))
	}
	say(p.readLine > 0, "reads")
	say(p.attachLine > 0, "interrupt")
	say(up, "pull-up on")
	say(down, "pull-down on")
	if len(said) == 0 {
		if line := p.modes[machine.Driven]; line > 0 {
			return "makes it an output"
		}
		return "makes it an input"
	}
	return strings.Join(said, ", ")
}
