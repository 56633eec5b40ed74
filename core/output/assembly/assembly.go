// Package assembly leads through a build on the breadboard: the steps in the
// order of good practice, what to watch for and what to look over, and what is
// different in what was really built.
package assembly

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"time"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/layout/placement"
)

// A Report is everything about a build on the breadboard. The same build gives
// the same report.
type Report struct {
	Problem   string               `json:"problem,omitempty"` // why there is no placement, and what would help
	Placement *placement.Placement `json:"placement,omitempty"`
	Order     string               `json:"order,omitempty"` // what it costs that parts that are alike lie alike
	Steps     []Step               `json:"steps"`
	Rows      []Row                `json:"rows"`            // the placement, row by row
	Built     *BuiltReport         `json:"built,omitempty"` // nil: nobody has looked
	Links     []Link               `json:"links"`           // for a build without a breadboard
}

// A BuiltReport is what was found about what was really built.
type BuiltReport struct {
	Differences []placement.Difference `json:"differences"`
	Findings    []check.Finding        `json:"findings"` // stops and cares of what was built that the plan does not have
	Legs        []BuiltLeg             `json:"legs"`     // but for those that are still to come
	Wires       []BuiltWire            `json:"wires"`    // that are there
	Missing     []BuiltWire            `json:"missing"`  // that are planned and not there
	ToCome      int                    `json:"toCome"`   // legs and wires of steps that are not done
	Rows        []Row                  `json:"rows"`
}

// A BuiltWire is a wire that is there, or should be.
type BuiltWire struct {
	placement.Jumper
	Name string `json:"name"` // "the board's GND to L-4"
}

func builtWire(w placement.Jumper) BuiltWire {
	return BuiltWire{w, w.From.Words() + " to " + w.To.Words()}
}

// A BuiltLeg is a leg and where it really is.
type BuiltLeg struct {
	Terminal build.Terminal `json:"terminal"`
	Name     string         `json:"name"` // "sign lamp, long leg"
	End      string         `json:"end"`  // empty: not plugged in
	Planned  string         `json:"planned"`
	Resistor bool           `json:"resistor,omitempty"`
	Value    string         `json:"value,omitempty"` // of a resistor that is another one
}

// A Memory remembers what was placed and solved before. It may be used from
// several goroutines at once.
type Memory struct {
	solved *check.Memory
	placed *placement.Memory
}

// NewMemory returns a memory of placements beside one of what was solved.
func NewMemory(solved *check.Memory) *Memory { return &Memory{solved, placement.NewMemory()} }

// Make makes the report of a document that is valid in the library.
func Make(lib *build.Library, doc *build.Document) *Report {
	return NewMemory(check.NewMemory()).Make(lib, doc)
}

// Make is [Make] with what is remembered.
func (m *Memory) Make(lib *build.Library, doc *build.Document) *Report {
	r := &Report{Steps: []Step{}, Rows: []Row{}, Links: Links(lib, doc)}
	p, err := m.placed.Place(lib, doc)
	if err != nil {
		r.Problem = err.Error()
		return r
	}
	r.Placement = p
	if p.ForOrder > 0 {
		r.Order = fmt.Sprintf("Laid alike what is alike, with %d wires more than the fewest.", p.ForOrder)
	}
	r.Steps = Steps(lib, doc, p)
	r.Rows = Rows(lib, doc, p.Table(lib, doc), p.Built(), p.Wires)
	if doc.Assembly != nil && doc.Assembly.Built != nil {
		r.Built = built(m.solved, lib, doc, p)
	}
	return r
}

// built compares what was built with the plan and puts its nets before the same
// check.
func built(memory *check.Memory, lib *build.Library, doc *build.Document, p *placement.Placement) *BuiltReport {
	b := doc.Assembly.Built
	out := &BuiltReport{Differences: []placement.Difference{}, Findings: []check.Finding{}, Legs: []BuiltLeg{}, Wires: []BuiltWire{}, Missing: []BuiltWire{}, Rows: []Row{}}
	table := p.Table(lib, doc)
	for _, e := range ends(b) {
		if err := table.CheckEnd(e); err != nil {
			// It was noted on a bigger breadboard than the one that is chosen now.
			out.Differences = append(out.Differences, placement.Difference{Fault: placement.Missing, Parts: []string{}, Ends: []breadboard.End{}, What: err.Error() + ".", Do: "Choose the breadboard that lies on your bench, or begin to look again."})
			return out
		}
	}
	whole := b
	if b.Partial {
		whole = completed(doc, p)
	}
	out.Differences = placement.Compare(lib, doc, p, whole)
	for _, q := range doc.Parts {
		kind, _ := lib.Catalogue.Kind(q.Kind)
		for _, leg := range kind.LegOrder() {
			t := build.Of(q.ID, leg)
			if _, there := b.Legs[t]; !there && whole.Legs[t] != (breadboard.End{}) {
				out.ToCome++
				continue
			}
			l := BuiltLeg{Terminal: t, Name: q.Name + ", " + placement.LegName(kind, leg), Resistor: kind.Is(part.Resistor)}
			if e, ok := b.Legs[t]; ok {
				l.End = e.String()
			}
			if h, ok := p.Seat(q.ID).Hole(leg); ok {
				l.Planned = h.String()
			}
			if v, ok := b.Values[q.ID]; ok && l.Resistor {
				l.Value = ohms(v)
			}
			out.Legs = append(out.Legs, l)
		}
	}
	var wires []placement.Jumper
	for _, w := range b.Wires {
		x := placement.Jumper{Wire: w, Millimetres: placement.Length(table, w)}
		if i := slices.IndexFunc(p.Wires, func(o placement.Jumper) bool { return o.Wire == w }); i >= 0 {
			x = p.Wires[i]
		}
		wires = append(wires, x)
		out.Wires = append(out.Wires, builtWire(x))
	}
	out.Rows = Rows(lib, doc, table, b, wires)
	for _, w := range p.Wires {
		switch {
		case slices.Contains(b.Wires, w.Wire):
		case slices.Contains(whole.Wires, w.Wire):
			out.ToCome++
		default:
			out.Missing = append(out.Missing, builtWire(w))
		}
	}
	if len(out.Differences) == 0 {
		return out
	}
	planned, err := memory.Find(lib, doc)
	if err != nil {
		return out
	}
	found, err := memory.Find(lib, AsDocument(lib, doc, p, whole))
	if err != nil {
		return out
	}
	for _, f := range found {
		known := slices.ContainsFunc(planned, func(o check.Finding) bool { return o.ID == f.ID })
		if f.Level != check.Note && !known {
			out.Findings = append(out.Findings, f)
		}
	}
	return out
}

// completed is what will be there when the steps that are not done have been
// done as well.
func completed(doc *build.Document, p *placement.Placement) *build.Built {
	b := doc.Assembly.Built.Clone()
	done, all := p.Done(doc.Assembly.Done), p.Built()
	for t, e := range all.Legs {
		if _, put := done.Legs[t]; put {
			continue
		}
		if _, there := b.Legs[t]; !there {
			b.Legs[t] = e
		}
	}
	for _, w := range all.Wires {
		if !slices.Contains(done.Wires, w) && !slices.Contains(b.Wires, w) {
			b.Wires = append(b.Wires, w)
		}
	}
	return b
}

// AsDocument is the build with the nets and the resistors that are really there.
func AsDocument(lib *build.Library, doc *build.Document, p *placement.Placement, b *build.Built) *build.Document {
	out := doc.Clone()
	out.Assembly = nil
	out.Nets = []build.Net{}
	for _, n := range placement.Trace(p.Table(lib, doc), b) {
		// Places that no wire of a plan can name carry nothing that is computed.
		n = slices.DeleteFunc(n, func(t build.Terminal) bool { return lib.CheckTerminal(doc, t) != nil })
		if len(n) > 1 {
			out.Nets = append(out.Nets, n)
		}
	}
	for id, v := range b.Values {
		q := out.Part(id)
		if q.Values == nil {
			q.Values = map[string]float64{}
		}
		q.Values["resistance"] = v
	}
	return out
}

// ErrNotBuilt is the error of a build of which nobody has noted what is really there.
var ErrNotBuilt = errors.New("nobody has noted what was really built: see As built in Assemble")

// AsBuilt is the build as it was really built.
func AsBuilt(lib *build.Library, doc *build.Document) (*build.Document, error) {
	if doc.Assembly == nil || doc.Assembly.Built == nil {
		return nil, ErrNotBuilt
	}
	r := Make(lib, doc)
	if r.Placement == nil {
		return nil, errors.New(r.Problem)
	}
	return AsDocument(lib, doc, r.Placement, doc.Assembly.Built), nil
}

func ends(b *build.Built) []breadboard.End {
	var out []breadboard.End
	for _, e := range b.Legs {
		out = append(out, e)
	}
	for _, w := range b.Wires {
		out = append(out, w.From, w.To)
	}
	slices.SortFunc(out, func(x, y breadboard.End) int { return cmp.Compare(x.String(), y.String()) })
	return out
}

// doneAt reports whether a step is done, and when, if that was noted.
func doneAt(doc *build.Document, step string) (at time.Time, done bool) {
	if doc.Assembly == nil {
		return at, false
	}
	i := slices.IndexFunc(doc.Assembly.Done, func(d build.Done) bool { return d.Step == step })
	if i < 0 {
		return at, false
	}
	return doc.Assembly.Done[i].At, true
}
