package check

import (
	"cmp"
	"slices"
	"strings"
	"sync"

	"cablaggio/core/build"
	"cablaggio/core/plan"
	"cablaggio/core/quantity"
)

// Check analyses a document that is valid in the library. Its error is a
// circuit that has no answer.
func Check(lib *build.Library, doc *build.Document) (*Analysis, error) {
	return NewMemory().Check(lib, doc)
}

// A Memory checks builds and remembers pieces of circuits that it has solved,
// so that after an edit only what it touched is solved again. The answers are
// those of [Check]. It may be used from several goroutines at once.
type Memory struct{ known known }

// NewMemory returns a memory that has seen nothing.
func NewMemory() *Memory { return &Memory{known{pieces: map[string]solved{}}} }

// Check is [Check] with what is remembered.
func (m *Memory) Check(lib *build.Library, doc *build.Document) (*Analysis, error) {
	f, err := gather(lib, doc, &m.known)
	if err != nil {
		return nil, err
	}
	a := &Analysis{States: f.solved, Exhaustive: f.exhaustive, Findings: []Finding{}}
	for order, r := range rules {
		found := r.check(f)
		for i := range found {
			found[i].complete(r.id)
			found[i].order = order
			if found[i].Level != Note && !found[i].proven {
				f.prove(r, &found[i])
			}
		}
		a.Findings = append(a.Findings, found...)
	}
	slices.SortStableFunc(a.Findings, func(x, y Finding) int {
		return cmp.Or(cmp.Compare(x.Level.rank(), y.Level.rank()), cmp.Compare(x.order, y.order))
	})
	for _, x := range a.Findings {
		switch x.Level {
		case Stop:
			a.Counts.Stop++
		case Care:
			a.Counts.Care++
		case Note:
			a.Counts.Note++
		}
	}
	// The reports on parts only read what was solved, so they can be written
	// beside those on pins, which solve a little more.
	var parts sync.WaitGroup
	parts.Go(func() { a.Parts = f.partReports(a.Findings) })
	a.Pins = f.pinReports(a.Findings)
	parts.Wait()
	a.Loads = f.loads()
	a.Supply = f.supplyReport()
	return a, nil
}

// A rule looks at the facts and says what it finds. Each has a file of its own.
type rule struct {
	id    string
	check func(*facts) []Finding
}

// rules is every rule, in the order in which findings of one level are shown:
// what burns first, then what does not work, then what is unwise.
var rules = []rule{
	short,
	sensorSupply,
	supplyInput,
	twoSupplies,
	inputVoltage,
	coilKick,
	ledCurrent,
	pinCurrent,
	groupCurrent,
	pinsTotal,
	partCurrent,
	packageCurrent,
	supplyLoad,
	railLoad,
	cellCurrent,
	regulatorHeat,
	resistorPower,
	transistorHeat,
	capacitorVoltage,
	ledReverse,
	ledDark,
	loadVoltage,
	inputFloats,
	inputStuck,
	inputLevel,
	partInput,
	analogSource,
	analogRange,
	pinFunction,
	pinShared,
	pwmChannel,
	pinOwn,
	contactBounce,
	debounceSwallows,
	clockResolution,
	ledRobbed,
	previousProgram,
	unusedPins,
}

// prove keeps the fixes after which the finding is gone. Where none of them is
// one, the parts that it is about may be wired as their hookups say.
func (f *facts) prove(r rule, x *Finding) {
	proven := []Fix{}
	for _, fix := range x.Fixes {
		if f.removes(r, x.ID, fix) {
			proven = append(proven, fix)
		}
	}
	if len(proven) == 0 && len(x.Fixes) > 0 {
		for _, id := range x.Parts {
			p := f.doc.Part(id)
			for _, fix := range append(f.connect(p), f.usual(p)...) {
				if len(proven) == 0 && f.removes(r, x.ID, fix) {
					proven = append(proven, fix)
				}
			}
		}
	}
	x.Fixes = proven
}

// removes reports whether a rule does not find the same any more after a fix.
func (f *facts) removes(r rule, id string, fix Fix) bool {
	g := f.after(fix.Edits)
	if g == nil {
		return false
	}
	g.judging = true
	for _, y := range r.check(g) {
		if y.complete(r.id); y.ID == id {
			return false
		}
	}
	return true
}

// complete fills in what follows from the rest of a finding.
func (x *Finding) complete(rule string) {
	x.Rule = rule
	x.ID = strings.Join(slices.Concat([]string{rule}, x.Parts, x.Pins), ":")
	if x.which != "" {
		x.ID += ":" + x.which
	}
	for _, list := range []*[]string{&x.Parts, &x.Pins} {
		if *list == nil {
			*list = []string{}
		}
	}
	if x.Fixes == nil {
		x.Fixes = []Fix{}
	}
}

// value is the edit that types a value into a part.
func value(part, id string, v float64, unit quantity.Unit) plan.Edit {
	return plan.Edit{Op: plan.Value, Part: part, Value: id, Text: quantity.Short(v, unit)}
}

// Rules lists the names of the rules.
func Rules() []string {
	out := make([]string, len(rules))
	for i, r := range rules {
		out[i] = r.id
	}
	return out
}
