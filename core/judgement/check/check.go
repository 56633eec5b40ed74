package check

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"strings"

	lru "github.com/hashicorp/golang-lru/v2"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/general/parallel"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
)

// Check analyses a document that is valid in the library. Its error is a
// circuit that has no answer.
func Check(lib *build.Library, doc *build.Document) (*Analysis, error) {
	return analyse(lib, doc, wiring.NewCache(), false)
}

// A Memory checks builds and remembers pieces of circuits that it has solved,
// so that after an edit only what it touched is solved again, and the last
// analyses, by all that they depend on: where the parts stand on the breadboard and
// what the build is called are not of it. The answers are those of [Check]; they
// are shared, and must not be changed. It may be used from several goroutines at
// once.
type Memory struct {
	known *wiring.Cache
	last  *lru.Cache[build.Key, *Analysis]
}

// maxRemembered is how many analyses are remembered: of the builds that are open.
const maxRemembered = 16

// NewMemory returns a memory that has seen nothing.
func NewMemory() *Memory {
	last, _ := lru.New[build.Key, *Analysis](maxRemembered) // it fails for no room alone
	return &Memory{wiring.NewCache(), last}
}

// Check is [Check] with what is remembered.
func (m *Memory) Check(lib *build.Library, doc *build.Document) (*Analysis, error) {
	return m.CheckWithin(context.Background(), lib, doc)
}

// CheckWithin is [Memory.Check] within a context, whose error it returns when that is done
// before. What was solved until then is remembered.
func (m *Memory) CheckWithin(ctx context.Context, lib *build.Library, doc *build.Document) (*Analysis, error) {
	key := DependsOn(lib, doc)
	if a, ok := m.last.Get(key); ok {
		return a, nil
	}
	a, err := analyse(lib, doc, m.known.Within(ctx), false)
	if err != nil {
		return nil, err
	}
	m.last.Add(key, a)
	return a, nil
}

// Hurry is a first answer for a build whose analysis takes too long to wait for: from
// the extremes alone, without fixes, and it says what is missing. It is not remembered.
// When even that takes too long, its error is the context's.
func (m *Memory) Hurry(ctx context.Context, lib *build.Library, doc *build.Document) (*Analysis, error) {
	a, err := analyse(lib, doc, m.known.Within(ctx).Hurried(), true)
	if err != nil {
		return nil, err
	}
	a.Missing = append(a.Missing,
		"This is a first answer: of what has many states only the extremes were looked at.",
		"What would help against each finding is not worked out yet.",
	)
	return a, nil
}

// TooLarge is the answer for a build of which nothing can be said in time.
func TooLarge() *Analysis {
	return &Analysis{Parts: []PartReport{}, Pins: []PinReport{}, Loads: []Load{}, Findings: []Finding{}, Missing: []string{
		"This circuit is so large in one piece that nothing of it has been worked out yet. It is kept all the same.",
	}}
}

// Forget lets go of the pieces that are remembered, not of the last analyses.
func (m *Memory) Forget() { m.known.Forget() }

// Knows reports whether the analysis of a document is remembered.
func (m *Memory) Knows(lib *build.Library, doc *build.Document) bool {
	return m.last.Contains(DependsOn(lib, doc))
}

// DependsOn is the key of all that an analysis depends on: documents with equal ones have
// equal analyses.
func DependsOn(lib *build.Library, doc *build.Document) build.Key { return lib.Key(doc, build.Wiring) }

// analyse says everything about a build, in a hurry without what would help. When the
// context of what is known is done, that is its error: what rules were told from then on
// means nothing.
func analyse(lib *build.Library, doc *build.Document, known *wiring.Cache, hurried bool) (*Analysis, error) {
	// What is tried for fixes need not be laid out again on the breadboard.
	bare := *doc
	bare.Assembly, bare.Program, bare.Should = nil, nil, nil
	doc = &bare
	f, err := gather(lib, doc, known)
	if err != nil {
		return nil, err
	}
	f.judging = hurried
	a := &Analysis{Findings: []Finding{}}
	// Reports and rules only read what was solved, or ask a piece for a little
	// more, which it answers one after another, so they are written side by side.
	a.Pins, a.Parts, a.Loads = []PinReport{}, []PartReport{}, []Load{}
	parts := []struct {
		of   string
		make func()
	}{
		{"the findings", func() { a.Findings = append(a.Findings, f.told()...) }},
		{"the pins", func() { a.Pins = f.pinReports() }},
		{"the parts", func() { a.Parts = f.partReports() }},
		{"the loads", func() { a.Loads, a.Supply = f.loads(), f.supplyReport() }},
	}
	parallel.Do(len(parts), func(i int) { f.attempt(parts[i].of, parts[i].make) })
	if err := known.Err(); err != nil {
		return nil, err
	}
	a.Missing, a.breaks = f.unjudged(), f.breaks.list
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
	a.mark()
	a.States, a.Exhaustive = f.states()
	return a, nil
}

// Find returns what [Memory.Check] finds, the worst first, without fixes: it does
// not look for what would help, which takes most of the time.
func (m *Memory) Find(lib *build.Library, doc *build.Document) ([]Finding, error) {
	f, err := gather(lib, doc, m.known)
	if err != nil {
		return nil, err
	}
	f.judging = true
	found := written(f.without())
	return found, errors.Join(f.breaks.errors()...)
}

// told is what is found, the worst first, like ones together, in words; when only the findings
// matter, without fixes.
func (f *facts) told() []Finding {
	if !f.judging {
		return written(f.find())
	}
	found := f.without()
	return written(f.together(found, found))
}

// written makes words of what findings say.
func written(found []Finding) []Finding {
	for i := range found {
		x := &found[i]
		x.Title, x.Why = x.title.String(), x.why.String()
	}
	return found
}

// without is what is found, the worst first, without fixes.
func (f *facts) without() []Finding {
	found := once(f.find())
	sortFindings(found)
	for i := range found {
		found[i].Fixes = []Fix{}
	}
	return found
}

// stuck is said where all that was tried against a finding is no help.
const stuck = "No single change that was tried puts this right without making something else as bad."

// find asks every rule and proves the fixes, the worst finding first. When only the
// findings matter they are all of them, as they come.
func (f *facts) find() []Finding {
	found := make([][]Finding, len(rules))
	left := map[string]*int{} // by rule
	for _, r := range rules {
		trials := maxTrials
		left[r.id] = &trials
	}
	parallel.Do(len(rules), func(i int) {
		r, own := rules[i], *f
		own.left = left[r.id]
		f.attempt(r.id, func() { found[i] = own.by(r) })
	})
	raw := slices.Concat(found...)
	if f.judging {
		return raw
	}
	all := once(raw)
	proven := make([][]Fix, len(all)) // rules look at each other's findings meanwhile
	parallel.Do(len(rules), func(k int) {
		own := *f
		own.left = left[rules[k].id]
		for i := range all {
			if x := &all[i]; x.Rule == rules[k].id {
				proven[i] = []Fix{}
				f.attempt("what would help against "+x.Rule, func() { proven[i] = own.prove(all, raw, x) })
			}
		}
	})
	for i := range all {
		x := &all[i]
		if x.Fixes = proven[i]; len(x.Fixes) == 0 && x.Level != Note && *left[x.Rule] > 0 {
			x.Stuck = cmp.Or(x.Stuck, stuck)
		}
	}
	sortFindings(all)
	return f.together(all, raw)
}

// sortFindings puts the worst first, and of one level those of the rule that comes first.
func sortFindings(all []Finding) {
	slices.SortStableFunc(all, func(x, y Finding) int {
		return cmp.Or(cmp.Compare(x.Level.rank(), y.Level.rank()), cmp.Compare(rank[x.Rule], rank[y.Rule]))
	})
}

// follows lists, by rule, the rules whose findings about the same part, or the same
// pin, follow from it: the same cause is told once.
var follows = map[string][]string{
	"supply-short": {"supply-load", "rail-load", "regulator-heat", "cell-current", "resistor-power"},
	"part-supply":  {"analog-range", "analog-source", "input-stuck", "input-floats", "input-level"},
	"pin-function": {"input-floats", "input-stuck", "input-level", "analog-range", "led-dark"},
}

// once leaves out what follows from a stop that is told.
func once(all []Finding) []Finding {
	told := func(x Finding) bool {
		return slices.ContainsFunc(all, func(y Finding) bool {
			return y.Level == Stop && slices.Contains(follows[y.Rule], x.Rule) && (len(x.Parts) == 0 || slices.Contains(y.Parts, x.Parts[0]))
		})
	}
	return slices.DeleteFunc(slices.Clone(all), told)
}

// by asks one rule about the build; with two supplies, about each of them alone,
// for either may be the one that feeds.
func (f *facts) by(r rule) []Finding {
	found := r.check(f)
	for i := range found {
		found[i].complete(r.id)
	}
	g := f.second()
	if g == nil {
		return found
	}
	other := *g
	other.left = f.left
	g = &other
	for _, x := range r.check(g) {
		x.complete(r.id)
		x.title = x.title.under(g.supply().Name + " alone")
		if x.Level != Note {
			// How else to feed it is said from where the second is the only one.
			x.Fixes = slices.DeleteFunc(x.Fixes, func(fix Fix) bool {
				return slices.ContainsFunc(fix.Edits, func(e plan.Edit) bool { _, feeds := e.(plan.Supply); return feeds })
			})
			x.Fixes = append(x.Fixes, f.unplug())
		}
		switch i := slices.IndexFunc(found, func(y Finding) bool { return y.ID == x.ID }); {
		case i < 0:
			found = append(found, x)
		case x.Level.Worse(found[i].Level):
			found[i] = x
		}
	}
	return found
}

// mark gives the reports on parts and pins the level of the worst finding that
// is about them.
func (a *Analysis) mark() {
	worst := func(level *Level, x *Finding, about bool) {
		if about && x.Level.Worse(*level) {
			*level = x.Level
		}
	}
	for i := range a.Findings {
		x := &a.Findings[i]
		for k := range a.Parts {
			worst(&a.Parts[k].Level, x, slices.Contains(x.Parts, a.Parts[k].ID))
		}
		for k := range a.Pins {
			worst(&a.Pins[k].Level, x, slices.Contains(x.Pins, a.Pins[k].Pin))
		}
	}
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
	railPushed,
	partSupply,
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
	capacitorReversed,
	capacitorSurge,
	contactSurge,
	ledReverse,
	ledDark,
	ledAlways,
	ledUneven,
	loadVoltage,
	inputFloats,
	inputStuck,
	inputCrossed,
	inputLevel,
	levelBetween,
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
	turnsLoose,
	previousProgram,
	unusedPins,
}

// rank is where a rule stands among them, by its name.
var rank = map[string]int{}

func init() {
	for i, r := range rules {
		rank[r.id] = i
	}
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
	return plan.Value{Part: part, Value: id, Text: quantity.Short(v, unit)}
}

// Rules lists the names of the rules.
func Rules() []string {
	out := make([]string, len(rules))
	for i, r := range rules {
		out[i] = r.id
	}
	return out
}
