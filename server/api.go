package server

import (
	"time"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/catalogue/supply"
	"cablaggio/core/document/build"
	"cablaggio/core/document/drawer"
	"cablaggio/core/faults/meter"
	"cablaggio/core/judgement/check"
	"cablaggio/core/layout/holemap"
	"cablaggio/core/output/assembly"
	"cablaggio/core/planning/choose"
	"cablaggio/core/planning/plan"
)

// The types that travel to the browser. The OpenAPI description in schema/ and
// the TypeScript types are generated from them.

// Library is the boards and kinds of parts that a build may name.
type Library struct {
	build.Library
	Functions []FunctionName `json:"functions"`
	Cells     []supply.Cell  `json:"cells"`
	Kit       []drawer.Item  `json:"kit"` // the usual resistors
	Own       []OwnBoard     `json:"own"` // the boards that the builder described
	OwnKinds  []OwnKind      `json:"ownKinds"`
}

// OwnBoard is a board that the builder described.
type OwnBoard struct {
	ID  string `json:"id"`
	Tag string `json:"tag"` // names this state of it; send it back as If-Match to change it
}

// OwnKind is a kind of part that the builder described.
type OwnKind struct {
	ID  string `json:"id"`
	Tag string `json:"tag"` // names this state of it; send it back as If-Match to change it
}

// FunctionName is a pin function in words.
type FunctionName struct {
	ID   board.Function `json:"id"`
	Name string         `json:"name"`
}

// BuildList is a page of the builds, the last changed first.
type BuildList struct {
	Builds []BuildSummary `json:"builds"`
	More   bool           `json:"more"` // there are others behind them
}

// BuildSummary is one build in the list.
type BuildSummary struct {
	ID      string       `json:"id"`
	Title   string       `json:"title"`
	Board   string       `json:"board"`
	Changed time.Time    `json:"changed"`
	Counts  check.Counts `json:"counts"`
}

// BuildView is one build with everything that is computed about it.
type BuildView struct {
	BuildSummary
	Tag      string          `json:"tag"` // names this state of the build; send it back as If-Match
	Created  time.Time       `json:"created"`
	Document *build.Document `json:"document"`
	Analysis *check.Analysis `json:"analysis"`
	Board    *board.Profile  `json:"profile,omitempty"` // of its board, when that was described anew since the build was put on it
	Undo     string          `json:"undo,omitempty"`    // what undo would take back, in words
	Redo     string          `json:"redo,omitempty"`    // what redo would do again, in words

	lib *build.Library // that it is of
}

// NewBuild asks for a build: an empty one on a board, or a whole document.
type NewBuild struct {
	Title    string          `json:"title,omitempty"`
	Board    string          `json:"board,omitempty"`
	Document *build.Document `json:"document,omitempty"`
}

// Preview is what a file holds before it is taken in.
type Preview struct {
	Document *build.Document `json:"document"`
	Analysis *check.Analysis `json:"analysis"`
}

// Edits asks for edits, all or none.
type Edits struct {
	Edits plan.Edits `json:"edits" required:"true"`
}

// ResistorChoice is the values for a resistor side by side.
type ResistorChoice struct {
	Candidates []Candidate `json:"candidates"`
	Spans      []SpanView  `json:"spans"` // of a resistor that divides with a sensor, instead
}

// SpanView is a value for a divider with what the pin would see.
type SpanView struct {
	choose.Span
	OhmsText  string `json:"ohmsText"`
	VoltsText string `json:"voltsText"`
	Counts    string `json:"counts"` // readings, from the lowest to the highest
}

// Candidate is a value with what it would do, ready to be shown.
type Candidate struct {
	choose.Candidate
	Lightness float64 `json:"lightness"` // CIE 1976 L*, 0 to 100
	Bright    string  `json:"bright"`    // that in a word
	PairText  string  `json:"pairText,omitempty"`
	OhmsText  string  `json:"ohmsText"`
	AmpsText  string  `json:"ampsText"`
	WattsText string  `json:"wattsText"`
}

// StartList is the ready builds to begin from.
type StartList struct {
	Starts []StartView `json:"starts"`
}

// StartView is a ready build: what job it does, and the build.
type StartView struct {
	ID       string          `json:"id"`
	Job      string          `json:"job"`
	Document *build.Document `json:"document"`
	Programs []build.Program `json:"programs"` // that do the job, in each language that the board runs
}

// RevisionList is a page of the history of a build, the newest first.
type RevisionList struct {
	Revisions []RevisionView `json:"revisions"`
	More      bool           `json:"more"` // there are older ones
}

// RevisionView is one state of a build in its history.
type RevisionView struct {
	N       int          `json:"n"`
	Summary string       `json:"summary"`
	Counts  check.Counts `json:"counts"`
	Created time.Time    `json:"created"`
	Shown   bool         `json:"shown"` // the build is in this state
}

// RevisionDetail is one state of a build, and how it differs from the shown one.
type RevisionDetail struct {
	Document *build.Document `json:"document"`
	Changes  []string        `json:"changes"`
}

// DrawerView is what the builder owns.
type DrawerView struct {
	Items []drawer.Item `json:"items" required:"true"`
	Tag   string        `json:"tag,omitempty"` // names this state of the drawer; send it back as If-Match to change it
}

// Comparison is what would be different on another board.
type Comparison struct {
	Board   string       `json:"board"`
	Fits    bool         `json:"fits"`
	Reason  string       `json:"reason,omitempty"` // why it does not
	Counts  check.Counts `json:"counts"`
	Changes []string     `json:"changes"`
}

// PinTable is what taking a pin table would do.
type PinTable struct {
	Edits   plan.Edits `json:"edits"`
	Changes []string   `json:"changes"`
}

// AssemblyView is a build on the breadboard, with its hole maps.
type AssemblyView struct {
	*assembly.Report
	Breadboards []breadboard.Size `json:"breadboards"`
	Map         HoleMap           `json:"map"`                // as planned
	UsedMap     HoleMap           `json:"usedMap"`            // without the rows that stay empty
	BuiltMap    *HoleMap          `json:"builtMap,omitempty"` // as built, when somebody has looked
}

// HoleMap is a drawing: what is inside an SVG element, and its view box.
type HoleMap struct {
	Marks   string         `json:"marks"`
	ViewBox string         `json:"viewBox"`
	NearBox string         `json:"nearBox"` // of what is in use
	Spots   []holemap.Spot `json:"spots"`   // where parts shine and are touched
	Carries []string       `json:"carries"` // of each wire: the place of the board that it is joined to; "" of none, or several
}

// NewEntry asks for an entry in the log.
type NewEntry struct {
	Kind    string `json:"kind" required:"true"` // reading, note, or fault: what was wrong
	Check   string `json:"check,omitempty"`      // of a reading: the id of its check
	Reading string `json:"reading,omitempty"`    // as the meter shows it
	Part    string `json:"part,omitempty"`       // of a note or a fault: the part that it is about
	Text    string `json:"text,omitempty"`       // of a note or a fault
	About   int64  `json:"about,omitempty"`      // of a note: the line of the log that it is on
}

// LogPage is a page of the log, the newest first.
type LogPage struct {
	Entries []LogEntry `json:"entries"`
	More    bool       `json:"more"` // there are older ones
}

// LogEntry is a line in the log.
type LogEntry struct {
	ID       int64         `json:"id"`
	Revision int           `json:"revision"` // of the build, when it was made
	Made     time.Time     `json:"made"`
	Kind     string        `json:"kind"`
	Part     string        `json:"part,omitempty"`
	Text     string        `json:"text"`              // of a reading: what was measured, in words
	Reading  *ReadingEntry `json:"reading,omitempty"` // of a reading
	Picture  *PictureEntry `json:"picture,omitempty"` // of a picture
	About    int64         `json:"about,omitempty"`   // of a note on another line: its id
}

// LogFile is a log in the open format of logs, as it was made. Pictures are in the archive
// of a backup.
type LogFile struct {
	Format  string     `json:"format"`
	Title   string     `json:"title"`
	Entries []LogEntry `json:"entries"`
}

// PictureEntry is a picture in the log; see the route of it.
type PictureEntry struct {
	Width  int `json:"width"`
	Height int `json:"height"`
}

// ReadingEntry is a reading with what was expected when it was taken.
type ReadingEntry struct {
	Of      string            `json:"of"` // what was measured, in words
	Check   string            `json:"check"`
	Expect  meter.Expectation `json:"expect"`
	Verdict meter.Verdict     `json:"verdict"`
}

// SupplyRead is what readings say together about the supply, where that is something new.
type SupplyRead struct {
	Feed *meter.Feed `json:"feed,omitempty"`
}

// ControlList is what can be set in the circuit of a build.
type ControlList struct {
	Controls []Control `json:"controls"`
}

// Control is a pin, a part or an old program on a pin, and how it can be set.
type Control struct {
	Of       string   `json:"of"`
	Name     string   `json:"name"`
	Settings []string `json:"settings"` // the first is meant where nothing is said
}

// Health says whether the server and its database are up.
type Health struct {
	OK      bool   `json:"ok"`
	Version string `json:"version"`
}

// Problem is an error (RFC 9457): what was wrong, where, and what would be
// right.
type Problem struct {
	Type     string          `json:"type"`
	Title    string          `json:"title"`
	Status   int             `json:"status"`
	Detail   string          `json:"detail,omitempty"`
	Problems []build.Problem `json:"problems,omitempty"`
	Current  *BuildView      `json:"current,omitempty"` // when another was first: the build as it is now
	Changes  []string        `json:"changes,omitempty"` // and what has changed, in words
}
