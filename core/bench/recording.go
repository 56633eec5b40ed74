package bench

import (
	"context"
	"math/rand/v2"
	"time"

	"cablaggio/core/machine"
	"cablaggio/core/program"
	"cablaggio/core/rig"
	"cablaggio/core/wiring"
)

// Format is the name and version of the file format of recordings.
const Format = "cablaggio.recording/1"

// A Recording is what everything did in a run.
type Recording struct {
	Format  string   `json:"format"`
	Seed    uint64   `json:"seed"`
	Lasts   float64  `json:"lasts"` // s that were asked for
	Ended   float64  `json:"ended"` // s after which it ended
	How     string   `json:"how"`   // "over"; "done": the program came to its end; "broke off"; "too much"
	Why     string   `json:"why,omitempty"`
	Line    int      `json:"line,omitempty"` // of the program, where it broke off
	Actions []Action `json:"actions"`
	Rows    []Row    `json:"rows"`
	Serial  []Said   `json:"serial"`
	Stress  []Stress `json:"stress"` // what passed an absolute limit, when first
	Cut     bool     `json:"cut"`    // more happened than is kept
}

// A RowKind says what a row is of.
type RowKind string

// The kinds of rows.
const (
	HandRow  RowKind = "hand"  // a contact, a knob, a keypad, a sensor
	PinRow   RowKind = "pin"   // a pin: level, duty, or let go
	LampRow  RowKind = "lamp"  // how bright it looks, 0 to 100
	SoundRow RowKind = "sound" // in hertz
	LoadRow  RowKind = "load"  // in amperes
	VoltRow  RowKind = "volts" // of a probe, in volts
)

// A Row is one thing over time.
type Row struct {
	Kind    RowKind  `json:"kind"`
	Of      string   `json:"of"` // the part, the pin, or the probe's places
	Name    string   `json:"name"`
	Looks   string   `json:"looks,omitempty"` // of a lamp, what one sees: "blinks at 2 Hz"
	Changes []Change `json:"changes"`
}

// A Change is what a row is from a time on.
type Change struct {
	At    float64 `json:"at"` // s
	Value float64 `json:"value"`
	Text  string  `json:"text"`
	Line  int     `json:"line,omitempty"` // of the program that did it
}

// Said is text that the program printed.
type Said struct {
	At   float64 `json:"at"`
	Text string  `json:"text"`
	Line int     `json:"line"`
}

// Stress is something that passed an absolute limit.
type Stress struct {
	At    float64 `json:"at"`
	Of    string  `json:"of"`
	Words string  `json:"words"`
}

// NewRecording returns the recording of a run in which nothing has happened yet.
func NewRecording(o Options) *Recording {
	return &Recording{Format: Format, Seed: o.Seed, Lasts: o.Lasts.Seconds(), Actions: []Action{}, Rows: []Row{}, Serial: []Said{}, Stress: []Stress{}}
}

const (
	maxChanges = 5000 // of a row
	maxSaid    = 5000
	maxCalls   = 20_000_000 // that a program may make in a run
)

// Options say how a run goes.
type Options struct {
	Actions []Action
	Lasts   time.Duration
	Seed    uint64 // of bounce and noise
	Probes  []Probe
}

// Run runs a program on a build's wiring; a nil program leaves all pins let go. Its error is an
// [*ActionError], a [*ProbeError], that of the context, or of a machine that does not work.
func Run(ctx context.Context, net *wiring.Network, made *program.Compiled, o Options) (*Recording, error) {
	if err := Check(net, o.Actions); err != nil {
		return nil, err
	}
	s, err := stage(net, o, nil)
	if err != nil {
		return nil, err
	}
	s.board.Most = maxCalls
	for _, a := range o.Actions {
		s.hands.do(a)
	}
	s.hands.turn(int64(o.Lasts))
	s.hands.tell()
	ending, err := s.play(ctx, made)
	if err != nil {
		return nil, err
	}
	return s.writer.end(ending), nil
}

// A staged run has everything in its place, and nothing has happened yet.
type staged struct {
	rig    *rig.Rig
	board  *machine.Board
	hands  *handler
	writer *writer
}

// stage puts everything in its place. What the board stands in is the rig, or what within makes
// of it.
func stage(net *wiring.Network, o Options, within func(*rig.Rig) machine.World) (*staged, error) {
	r := rig.New(net)
	r.Timed()
	r.Noise(rand.New(rand.NewPCG(o.Seed, 1)))
	if err := watch(r, net, o.Probes); err != nil {
		return nil, &ProbeError{err}
	}
	var world machine.World = r
	if within != nil {
		world = within(r)
	}
	b := machine.NewBoard(net.Board, world)
	w := newWriter(net, r, o)
	b.Limit, b.Seen, r.Moved = int64(o.Lasts), w.see, w.moved
	r.Settle()
	return &staged{r, b, newHandler(net, r, b, o.Seed), w}, nil
}

// play runs the program to its end; without one all pins are let go.
func (s *staged) play(ctx context.Context, made *program.Compiled) (machine.Ending, error) {
	if made != nil && made.Program != nil {
		return made.Program.Run(ctx, s.board)
	}
	s.board.Begin(nil)
	for err := error(nil); err == nil && ctx.Err() == nil; {
		err = s.board.Pause(int64(time.Second), 0)
	}
	return machine.Ending{How: machine.Over, At: s.board.Now()}, ctx.Err()
}
