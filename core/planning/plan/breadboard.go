package plan

import (
	"time"

	"cablaggio/core/document/build"
)

// The edits of what is decided and done on the breadboard.

// Breadboards chooses the breadboards by their sizes, side by side; without, they are chosen.
type Breadboards struct {
	Text string `json:"text,omitempty"`
	With string `json:"with,omitempty"` // [Beside]: the board lies beside them
}

func (e Breadboards) apply(p *planner) (string, error) { return p.breadboards(p.assembly(), e) }

// Fix keeps a leg in a hole; without one its part goes where it goes best.
type Fix struct {
	Terminal build.Terminal `json:"terminal"`
	Text     string         `json:"text,omitempty"`
}

func (e Fix) apply(p *planner) (string, error) { return p.fix(p.assembly(), e) }

// Stock notes the wires at hand.
type Stock struct {
	Text string `json:"text,omitempty"` // their colours; without, any
	With string `json:"with,omitempty"` // and lengths in millimetres
}

func (e Stock) apply(p *planner) (string, error) { return p.stock(p.assembly(), e) }

// Reach notes how many millimetres of wire go from place to place of a build that is soldered.
type Reach struct {
	Text string `json:"text,omitempty"` // without: as usual
}

func (e Reach) apply(p *planner) (string, error) { return p.reach(p.assembly(), e.Text) }

// StepDone notes that a step is done.
type StepDone struct {
	Text string    `json:"text"`           // its id
	Name string    `json:"name,omitempty"` // its words
	At   time.Time `json:"at,omitzero"`
}

func (e StepDone) apply(p *planner) (string, error) { return p.stepDone(p.assembly(), e) }

// StepUndone takes a step back.
type StepUndone struct {
	Text string `json:"text"`
	Name string `json:"name,omitempty"`
}

func (e StepUndone) apply(p *planner) (string, error) {
	p.undone(p.assembly(), e.Text)
	return "took a step back: " + e.Name, nil
}

// StepsUndone notes that nothing is plugged in any more.
type StepsUndone struct{}

func (StepsUndone) apply(p *planner) (string, error) {
	a := p.assembly()
	a.Done, a.Kept, a.Built = nil, nil, nil
	return "began again with an empty breadboard", nil
}

// AsBuilt begins to note what is really there.
type AsBuilt struct {
	Text string `json:"text,omitempty"` // without: as planned; [FromSteps] or [Forget]
}

func (e AsBuilt) apply(p *planner) (string, error) { return p.asBuilt(p.assembly(), e.Text) }

// BuiltLeg notes where a leg really is; without a terminal the text says both.
type BuiltLeg struct {
	Terminal build.Terminal `json:"terminal,omitempty"`
	Text     string         `json:"text,omitempty"`
}

func (e BuiltLeg) apply(p *planner) (string, error) {
	return p.builtLeg(p.assembly(), e.Terminal, e.Text)
}

// WireIn notes a wire between two ends.
type WireIn struct {
	With string `json:"with"`
	Text string `json:"text"`
}

func (e WireIn) apply(p *planner) (string, error) { return p.wireIn(p.assembly(), e.With, e.Text) }

// WireOut notes that there is none.
type WireOut struct {
	With string `json:"with"`
	Text string `json:"text"`
}

func (e WireOut) apply(p *planner) (string, error) { return p.wireOut(p.assembly(), e.With, e.Text) }

// BuiltValue notes the resistor that is really there, by its value or its bands; without, it is the
// planned one.
type BuiltValue struct {
	Part string `json:"part"`
	Text string `json:"text,omitempty"`
}

func (e BuiltValue) apply(p *planner) (string, error) { return p.builtValue(p.assembly(), e) }

// assembly is what is decided of the breadboard, new if need be.
func (p *planner) assembly() *build.Assembly {
	if p.doc.Assembly == nil {
		p.doc.Assembly = &build.Assembly{}
	}
	return p.doc.Assembly
}
