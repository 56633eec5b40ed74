package program

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
)

// An Analysis is everything that is said about a program on a build. The same program on the
// same build gives the same analysis.
type Analysis struct {
	Language build.Language  `json:"language"`
	Compiles bool            `json:"compiles"`
	Messages []Message       `json:"messages"` // what the compiler says, the first cause first
	Pins     []PinUse        `json:"pins"`     // what the program does with each pin, and what is wired there
	Names    []Name          `json:"names"`    // what the parts are called in a program
	Findings []check.Finding `json:"findings"` // the worst first
	Counts   check.Counts    `json:"counts"`
	Prints   string          `json:"prints,omitempty"` // what it prints while nobody touches anything, the beginning
	Missing  []string        `json:"missing,omitempty"`
}

// Check compiles and runs the program of a document that is valid in the library, and holds
// it against the wiring. Its error is a compiler that does not work, or that of the context.
func Check(ctx context.Context, c Compiler, lib *build.Library, doc *build.Document, known *wiring.Cache) (*Analysis, error) {
	b, _ := lib.Board(doc.Board)
	a := &Analysis{Messages: []Message{}, Findings: []check.Finding{}, Pins: []PinUse{}, Names: []Name{}}
	if doc.Program == nil {
		return a, nil
	}
	a.Language = doc.Program.Language
	a.Names = newOutline(lib, doc).names(a.Language)
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
	o, err := observe(ctx, net, made, doc.Program.Text)
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
	pause,
	pinNamed,
	pinFunction,
	pinMode,
	pinPull,
	arithmetic, // a cause comes before what comes of it
	partUnused,
	triggered,
	readOnce,
	effect,
	registers,
	keys,
	sharedTimer,
	dutyRange,
	inverted,
	exchanged,
	figuresOut,
	together,
	pinsTotal,
	bounces,
	held,
	slowAnswer,
	blink,
	flickers,
	dark,
	latched,
	sounds,
	readings,
	clockOver,
	pulsesLost,
	pulseBounce,
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

func lineOf(line int) []string {
	if line == 0 {
		return nil
	}
	return []string{fmt.Sprint("line ", line)}
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
