package machine_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/running/machine"
)

// A bench is a world in which pins read what they are driven to, and one pin goes to and fro.
type bench struct {
	drives [machine.Pins]machine.Drive
	beat   int64 // ns; 0: it does not
	at     int64
	beats  bool
}

func (w *bench) Next() int64 {
	if w.beat == 0 {
		return machine.Never
	}
	return w.at + w.beat
}
func (w *bench) Happen(at int64) bool                  { w.at, w.beats = at, !w.beats; return true }
func (w *bench) Set(pin int, d machine.Drive, _ int64) { w.drives[pin] = d }
func (w *bench) Level(pin int, _ int64) bool {
	return pin == 2 && w.beats || w.drives[pin].Level || w.drives[pin].Mode == machine.PulledUp
}
func (w *bench) Reading(int, int64) float64 { return 0.5 }

func newBoard(t *testing.T, id string, w *bench) (*machine.Board, *[]machine.Event) {
	t.Helper()
	for _, p := range board.Shipped() {
		if p.ID == id {
			b := machine.NewBoard(p, w)
			var events []machine.Event
			b.Seen = func(e machine.Event) { events = append(events, e) }
			b.Begin(func(int) error { return nil })
			return b, &events
		}
	}
	t.Fatal("no such board")
	return nil, nil
}

func TestDuties(t *testing.T) {
	for _, c := range []struct {
		pin, duty int
		want      machine.Drive
	}{
		{5, 0, machine.Drive{Mode: machine.Driven}},
		{5, 255, machine.Drive{Mode: machine.Driven, Level: true}},
		{5, 51, machine.Drive{Mode: machine.Driven, Duty: 0.2, Hertz: 980}},
		{9, 51, machine.Drive{Mode: machine.Driven, Duty: 0.2, Hertz: 490}},
		{5, 256 + 51, machine.Drive{Mode: machine.Driven, Duty: 0.2, Hertz: 980}}, // the lower bits count
		{4, 127, machine.Drive{Mode: machine.Driven}},                             // no PWM there: off below a half
		{4, 128, machine.Drive{Mode: machine.Driven, Level: true}},
	} {
		w := &bench{}
		b, events := newBoard(t, "classic-5v", w)
		require.NoError(t, b.SetDuty(c.pin, c.duty, 0, 0, 1))
		assert.Equal(t, c.want, w.drives[c.pin], "%+v", c)
		assert.Equal(t, float64(c.duty), (*events)[0].Value)
	}
}

// Writing to an input switches its pull-up on 8-bit boards, and does nothing on others; made an
// output later, it drives what was written.
func TestWritingToAnInput(t *testing.T) {
	for id, want := range map[string]machine.Mode{"classic-5v": machine.PulledUp, "slim-3v3": machine.LetGo} {
		w := &bench{}
		b, _ := newBoard(t, id, w)
		require.NoError(t, b.SetLevel(4, true, 1))
		assert.Equal(t, want, w.drives[4].Mode, id)
		require.NoError(t, b.SetMode(4, machine.Driven, 2))
		assert.Equal(t, machine.Drive{Mode: machine.Driven, Level: true}, w.drives[4], id)
	}
}

// Printing waits for the link once its buffer is full: ten bits a character.
func TestPrintingTakesItsTime(t *testing.T) {
	b, _ := newBoard(t, "classic-5v", &bench{})
	require.NoError(t, b.Open(9600, 1))
	for range 100 {
		require.NoError(t, b.Print("0123456789", 2))
	}
	assert.InDelta(t, (1000-64)*10/9600.0, float64(b.Now())/1e9, 0.01)
	fast, _ := newBoard(t, "slim-3v3", &bench{})
	for range 100 {
		require.NoError(t, fast.Print("0123456789", 2))
	}
	assert.Less(t, fast.Now(), int64(10*time.Millisecond), "by USB it does not wait")
}

// An edge calls the handler, unless interrupts are held back; of several, one is kept.
func TestInterruptsWait(t *testing.T) {
	w := &bench{beat: int64(time.Millisecond)}
	b, events := newBoard(t, "classic-5v", w)
	var handled []int64
	b.Begin(func(int) error { handled = append(handled, b.Now()); return nil })
	require.NoError(t, b.Attach(2, machine.Rising, 1))
	require.NoError(t, b.Pause(int64(4500*time.Microsecond), 2))
	assert.Len(t, handled, 2)
	require.NoError(t, b.Quiet(true))
	require.NoError(t, b.Pause(int64(6*time.Millisecond), 3))
	assert.Len(t, handled, 2)
	require.NoError(t, b.Quiet(false))
	assert.Len(t, handled, 3, "one of three is kept")
	lost := 0
	for _, e := range *events {
		if e.Kind == machine.Lost {
			lost++
		}
	}
	assert.Equal(t, 2, lost)
	// A pin without an interrupt gets none.
	require.NoError(t, b.Attach(4, machine.Change, 4))
}

// A run ends when its time is up, and after the calls that it may make.
func TestRunsEnd(t *testing.T) {
	b, _ := newBoard(t, "classic-5v", &bench{})
	b.Limit = int64(time.Second)
	err := b.Pause(int64(time.Hour), 1)
	e, crashed := b.Ended(err)
	assert.False(t, crashed)
	assert.Equal(t, machine.Ending{How: machine.Over, At: int64(time.Second)}, e)

	b, _ = newBoard(t, "classic-5v", &bench{})
	b.Most = 100
	for err = nil; err == nil; {
		err = b.SetLevel(4, true, 1)
	}
	e, _ = b.Ended(err)
	assert.Equal(t, machine.Slow, e.How)
}

// What is not WebAssembly is an error, not a crash.
func TestNoModule(t *testing.T) {
	b, _ := newBoard(t, "classic-5v", &bench{})
	_, err := machine.NewWasm([]byte("not a module")).Run(context.Background(), b)
	assert.ErrorContains(t, err, "not a program for the machine")
}
