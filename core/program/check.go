package program

import (
	"cmp"
	"context"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"cablaggio/core/board"
	"cablaggio/core/build"
	"cablaggio/core/check"
	"cablaggio/core/machine"
	"cablaggio/core/plan"
	"cablaggio/core/wiring"
)

// An Analysis is everything that is said about a program on a build. The same program on the
// same build gives the same analysis.
type Analysis struct {
	Language build.Language  `json:"language"`
	Compiles bool            `json:"compiles"`
	Messages []Message       `json:"messages"` // what the compiler says, the first cause first
	Pins     []PinUse        `json:"pins"`     // what the program does with each pin, and what is wired there
	Findings []check.Finding `json:"findings"` // the worst first
	Counts   check.Counts    `json:"counts"`
	Prints   string          `json:"prints,omitempty"` // what it prints while nobody touches anything, the beginning
	Missing  []string        `json:"missing,omitempty"`
}

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

// Check compiles and runs the program of a document that is valid in the library, and holds
// it against the wiring. Its error is a compiler that does not work, or that of the context.
func Check(ctx context.Context, c Compiler, lib *build.Library, doc *build.Document, known *wiring.Known) (*Analysis, error) {
	b, _ := lib.Board(doc.Board)
	a := &Analysis{Messages: []Message{}, Findings: []check.Finding{}, Pins: []PinUse{}}
	if doc.Program == nil {
		return a, nil
	}
	a.Language = doc.Program.Language
	made, err := c.Compile(ctx, doc.Program, b)
	if err != nil {
		return nil, err
	}
	a.Messages = append(a.Messages, made.Messages...)
	if made.Program == nil {
		a.Counts.Stop = 1
		return a, nil
	}
	a.Compiles = true
	bare := doc.Clone()
	bare.Assembly, bare.Program = nil, nil
	net := known.Build(lib, bare)
	o, err := observe(ctx, net, made)
	if err != nil {
		return nil, err
	}
	f := newFacts(lib, doc, net, o, made)
	a.Findings = append(a.Findings, f.find()...)
	for _, x := range a.Findings {
		switch x.Level {
		case check.Stop:
			a.Counts.Stop++
		case check.Care:
			a.Counts.Care++
		case check.Note:
			a.Counts.Note++
		}
	}
	a.Pins = f.pinUses(a.Findings)
	for _, p := range o.alone.prints {
		if len(a.Prints) < 2000 {
			a.Prints += strings.ReplaceAll(p.text, "\r\n", "\n")
		}
	}
	if o.slow {
		a.Missing = append(a.Missing, "The program does so much that not all of what hands can do was tried.")
	}
	return a, nil
}

// facts is what the rules look at.
type facts struct {
	lib      *build.Library
	doc      *build.Document
	net      *wiring.Network
	board    *board.Profile
	o        *observation
	tree     Tree
	messages []Message
	lines    []string              // of the main file
	uses     map[string]wiring.Use // of pins that signals use
	used     []*pinFacts           // the pins that the program uses, in the board's order
	moved    map[int]string        // pins that are probably meant to be others, and which
}

func newFacts(lib *build.Library, doc *build.Document, net *wiring.Network, o *observation, made *Compiled) *facts {
	f := &facts{lib: lib, doc: doc, net: net, board: net.Board, o: o, tree: made.Tree, messages: made.Messages, uses: map[string]wiring.Use{}, moved: map[int]string{}}
	f.lines = strings.Split(doc.Program.Text, "\n")
	for _, u := range net.Uses {
		f.uses[u.Pin.Name] = u
	}
	for _, p := range o.pins {
		f.used = append(f.used, p)
	}
	slices.SortFunc(f.used, func(a, b *pinFacts) int { return cmp.Compare(a.pin, b.pin) })
	return f
}

// A rule looks at the facts and says what it finds. Each has a file of its own.
type rule struct {
	id    string
	check func(*facts) []check.Finding
}

// rules is every rule, in the order in which findings of one level are shown.
var rules = []rule{
	pinElsewhere,
	crash,
	fights,
	pinNamed,
	pinFunction,
	pinMode,
	pinPull,
	partUnused,
	sharedTimer,
	dutyRange,
	arithmetic,
	inverted,
	together,
	pinsTotal,
	bounces,
	held,
	slowAnswer,
	blink,
	clockOver,
	pulsesLost,
	handlers,
	serial,
	ended,
	unreached,
}

// Rules lists the names of the rules.
func Rules() []string {
	out := make([]string, len(rules))
	for i, r := range rules {
		out[i] = r.id
	}
	return out
}

// find asks every rule. What follows from a pin that is another one is told once.
func (f *facts) find() []check.Finding {
	var all []check.Finding
	for _, r := range rules {
		for _, x := range r.check(f) {
			x.Title, x.Why = minus(x.Title), minus(x.Why)
			x.Rule = "program-" + r.id
			x.ID = strings.Join(slices.Concat([]string{x.Rule}, x.Parts, x.Pins, lineOf(x.Line)), ":")
			for _, list := range []*[]string{&x.Parts, &x.Pins} {
				if *list == nil {
					*list = []string{}
				}
			}
			if x.Fixes == nil {
				x.Fixes = []check.Fix{}
			}
			if !slices.ContainsFunc(all, func(y check.Finding) bool { return y.ID == x.ID }) {
				all = append(all, x)
			}
		}
	}
	slices.SortStableFunc(all, byLevel)
	return all
}

var hyphen = regexp.MustCompile(`(^|[\s(])-(\d)`)

// minus writes the sign of negative numbers as it is printed.
func minus(s string) string { return hyphen.ReplaceAllString(s, "${1}−${2}") }

func lineOf(line int) []string {
	if line == 0 {
		return nil
	}
	return []string{fmt.Sprint("line ", line)}
}

// wired reports whether anything is wired to a pin.
func (f *facts) wired(pin int) bool {
	if f.o.alone.rig.ControlOf(pin) < 0 {
		return false
	}
	name := f.o.words(pin)
	if _, ok := f.uses[name]; ok {
		return true
	}
	return f.doc.NetOf(build.Pin(name)) >= 0 || slices.ContainsFunc(f.board.Places, func(p board.Place) bool {
		return p.Of == name && f.doc.NetOf(build.Pin(p.Name)) >= 0
	})
}

// place is the control of a pin, and the piece that it is in; nil where it is in none.
func (f *facts) place(pin int) (control int, piece *wiring.Piece) {
	if p := f.o.alone.rig.Piece(pin); p != nil {
		return f.o.alone.rig.ControlOf(pin), p
	}
	return -1, nil
}

// named is the name of a pin, and what is on it.
func (f *facts) named(pin int) string {
	name := f.o.words(pin)
	if u, ok := f.uses[name]; ok {
		return name + " (" + u.Signals[0].Part.Name + ")"
	}
	return name
}

// about fills a finding with a pin, and the parts on it.
func (f *facts) about(x check.Finding, pins ...int) check.Finding {
	for _, pin := range pins {
		name := f.o.words(pin)
		if !slices.Contains(x.Pins, name) {
			x.Pins = append(x.Pins, name)
		}
		for _, c := range f.uses[name].Signals {
			if !slices.Contains(x.Parts, c.Part.ID) {
				x.Parts = append(x.Parts, c.Part.ID)
			}
		}
	}
	return x
}

// line is a line of the main file.
func (f *facts) line(n int) string {
	if n < 1 || n > len(f.lines) {
		return ""
	}
	return f.lines[n-1]
}

// rewrite is a fix that makes a line read otherwise; nil when it would not change.
func (f *facts) rewrite(label string, line int, becomes string) []check.Fix {
	was := f.line(line)
	if was == "" || was == becomes {
		return nil
	}
	return []check.Fix{{Label: label, Edits: []plan.Edit{{Op: plan.Rewrite, Count: line, With: was, Text: becomes}}}}
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
			wired = append(wired, c.Part.Name)
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

// Join returns an analysis of the wiring with what is found of the program among its findings,
// as those who read one list want it. The analysis stays as it is.
func Join(wiring *check.Analysis, p *Analysis) *check.Analysis {
	out := *wiring
	out.Findings = nil
	for _, x := range wiring.Findings {
		if p.Compiles {
			x.Why += p.never(x)
		}
		out.Findings = append(out.Findings, x)
	}
	out.Findings = append(out.Findings, p.Findings...)
	if !p.Compiles && p.Language != "" {
		x := check.Finding{ID: "program-compile", Rule: "program-compile", Level: check.Stop, Title: "The program does not compile.", Parts: []string{}, Pins: []string{}, Fixes: []check.Fix{}}
		if len(p.Messages) > 0 {
			x.Line, x.Why = p.Messages[0].Line, p.Messages[0].Text
		}
		out.Findings = append(out.Findings, x)
	}
	slices.SortStableFunc(out.Findings, byLevel)
	out.Counts.Stop += p.Counts.Stop
	out.Counts.Care += p.Counts.Care
	out.Counts.Note += p.Counts.Note
	out.Missing = slices.Concat(wiring.Missing, p.Missing)
	return &out
}

// never says what of the state of a finding about the wiring this program never brings about.
func (p *Analysis) never(x check.Finding) string {
	if x.Rule == "previous-program" {
		drives := []string{}
		for _, u := range p.Pins {
			if slices.Contains(x.Pins, u.Pin) && (slices.Contains(u.Sets, "low") || slices.Contains(u.Sets, "high")) {
				drives = append(drives, u.Pin)
			}
		}
		if len(drives) == 0 {
			return " The program of this build drives none of them."
		}
		return " The program of this build drives " + strings.Join(drives, ", ") + " itself."
	}
	var pins []string
	for _, u := range p.Pins {
		if set, ok := x.At[u.Pin]; ok && !slices.Contains(u.Sets, set) && (set == "low" || set == "high") {
			pins = append(pins, u.Pin+" "+set)
		}
	}
	if len(pins) == 0 {
		return ""
	}
	return " The program of this build never drives " + strings.Join(pins, " or ") + "."
}

// byLevel puts the worst first.
func byLevel(x, y check.Finding) int {
	switch {
	case x.Level.Worse(y.Level):
		return -1
	case y.Level.Worse(x.Level):
		return 1
	}
	return 0
}
