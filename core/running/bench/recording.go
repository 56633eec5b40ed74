package bench

import (
	"context"
	"math/rand/v2"
	"slices"
	"time"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/machine"
	"cablaggio/core/running/program"
	"cablaggio/core/running/rig"
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
	PinRow   RowKind = "pin"   // a pin: level, duty, or what it is as an input
	LampRow  RowKind = "lamp"  // how bright it looks, 0 to 100
	SoundRow RowKind = "sound" // in hertz
	LoadRow  RowKind = "load"  // in amperes
	TurnRow  RowKind = "angle" // where the arm of a servo stands, in degrees
	VoltRow  RowKind = "volts" // of a probe, in volts
)

// A Row is one thing over time.
type Row struct {
	Kind    RowKind  `json:"kind"`
	Of      string   `json:"of"` // the part, the pin, or the probe's places
	Name    string   `json:"name"`
	Lamp    string   `json:"lamp,omitempty"`  // of a lamp in a case with several: which
	Ink     string   `json:"ink,omitempty"`   // of a lamp, the colour that it is of
	Looks   string   `json:"looks,omitempty"` // of a lamp, what one sees: "blinks at 2 Hz"
	Changes []Change `json:"changes"`
}

// A Change is what a row is from a time on.
type Change struct {
	At    float64 `json:"at"` // s
	Value float64 `json:"value"`
	Text  string  `json:"text"`
	Line  int     `json:"line,omitempty"` // of the program that did it
	Open  bool    `json:"open,omitempty"` // of a pin: it drives and pulls nothing; of a place: nothing holds it
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
	maxLives   = 200        // how often it may begin
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
	for _, a := range o.Actions {
		s.hands.do(a)
	}
	s.hands.turn(int64(o.Lasts))
	s.hands.tell()
	s.most = maxCalls
	s.comeUp(0)
	ending, err := s.play(ctx, made)
	if err != nil {
		return nil, err
	}
	return s.writer.end(ending), nil
}

// A staged run has everything in its place, and nothing has happened yet.
type staged struct {
	lasts  int64
	script []Action // what hands are to do
	rig    *rig.Rig
	power  *power
	hands  *handler
	writer *writer
	seen   func(machine.Event)

	world machine.World  // that boards stand in, one after the other
	board *machine.Board // the one that runs, or stands still
	begun int64          // when it came up
	sent  int            // characters that it was told of
	store machine.Store  // what they keep without power
	most  int            // calls that its programs may make; zero: however many
	until time.Time      // and the processor's time; zero: whenever
	ended bool           // it is to run no more
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
	s := &staged{lasts: int64(o.Lasts), script: o.Actions, rig: r, hands: newHandler(net, r, o.Seed), world: r, store: machine.Store{}}
	s.power = newPower(net, r.Supplied(s.fed))
	s.writer = newWriter(net, r, s.power, o)
	if within != nil {
		s.world = within(r)
	}
	s.seen, r.Moved = s.writer.see, s.moved
	s.comeUp(0)
	if net.Doc.Cells != nil || !s.power.asPlanned {
		s.writer.powered(0)
	}
	r.Settle()
	return s, nil
}

// moved takes in a move that was made.
func (s *staged) moved(m rig.Move) {
	switch {
	case m.Control >= 0:
		s.writer.moved(m)
		return
	case m.Control != rig.Held:
	case m.To > 0:
		s.power.reset(m.At)
	default:
		s.power.note(m.At)
	}
	s.powered(m.At)
}

// fed takes in what the supply gives from a time on.
func (s *staged) fed(at int64, f rig.Feed) {
	if begins := s.power.fed(at, f); begins > 0 {
		s.rig.Plan([]rig.Move{{At: begins, Control: rig.Held}})
	}
	s.powered(at)
}

// powered tells the board, and who writes, what has become of its supply.
func (s *staged) powered(at int64) {
	s.writer.powered(at)
	s.told()
}

// comeUp puts a board in its place that comes up at a time.
func (s *staged) comeUp(at int64) {
	s.begun, s.sent = at, 0
	s.board = machine.NewBoard(s.rig.Board(), life{s.world, at})
	s.board.Most, s.board.Until, s.board.Store = s.most, s.until, s.store
	s.board.Seen = func(e machine.Event) {
		e.At += s.begun
		s.seen(e)
	}
	s.told()
}

// told lets the board know what hands have done to it: when it ends, and what it is sent.
func (s *staged) told() {
	if s.ended {
		return
	}
	s.board.Limit = min(s.lasts, s.power.next(s.begun)) - s.begun
	for ; s.sent < len(s.hands.come); s.sent++ {
		if c := s.hands.come[s.sent]; c.At >= s.begun {
			s.board.Receive = append(s.board.Receive, machine.Received{At: c.At - s.begun, C: c.C})
		}
	}
}

// now is the time that the run has come to.
func (s *staged) now() int64 { return s.begun + s.board.Now() }

// play runs the program to its end, as often as the board comes up; without one all pins are inputs.
func (s *staged) play(ctx context.Context, made *program.Compiled) (machine.Ending, error) {
	for lives := 1; ; lives++ {
		ending := machine.Ending{How: machine.Over}
		var err error
		if runs := s.power.at(s.begun).runs; runs && made != nil && made.Program != nil {
			ending, err = made.Program.Run(ctx, s.board)
		} else {
			err = s.rest(ctx)
		}
		if err != nil {
			return machine.Ending{}, err
		}
		if s.most > 0 {
			s.most = max(1, s.most-s.board.Calls())
		}
		ending.At += s.begun
		if ending.How == machine.Over {
			ending.At = s.now()
		}
		if ended := ending.How == machine.Done || ending.How == machine.Crashed; ended && !s.ended && s.restarts(ending.At) {
			// It stands still until it begins anew.
			s.comeUp(ending.At)
			if err := s.rest(ctx); err != nil {
				return machine.Ending{}, err
			}
		}
		next := s.power.next(s.begun)
		if s.ended || next >= s.lasts || ending.How == machine.Slow {
			return ending, nil
		}
		if lives >= 2*maxLives { // each of them and the standstill before the next
			return machine.Ending{How: machine.Slow, At: s.now()}, nil
		}
		s.rig.LetGo(next)
		s.writer.letGo(next)
		s.comeUp(next)
	}
}

// restarts reports whether hands are to do something after a time for which the board may begin anew.
func (s *staged) restarts(after int64) bool {
	return slices.ContainsFunc(s.script, func(a Action) bool { return a.powers() && nanoseconds(a.At) >= after && nanoseconds(a.At) < s.lasts })
}

// rest lets time go by while no program runs.
func (s *staged) rest(ctx context.Context) error {
	s.board.Begin(nil)
	for err := error(nil); err == nil && ctx.Err() == nil; {
		err = s.board.Pause(int64(time.Second), 0)
	}
	return ctx.Err()
}
