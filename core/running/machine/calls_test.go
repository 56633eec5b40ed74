package machine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/running/machine"
)

// scale is a world whose converter reads what it is set to.
type scale struct {
	bench
	part float64
}

func (s *scale) Reading(int, int64) float64 { return s.part }

// A reading has as many bits as it is asked for: the converter's own, and stretched beyond them. The
// ends of the scale are its ends.
func TestReadings(t *testing.T) {
	for _, c := range []struct {
		board string
		part  float64
		bits  int
		want  int
	}{
		{"classic-5v", 0, 0, 0},
		{"classic-5v", 0.5, 0, 512},
		{"classic-5v", 1, 0, 1023},
		{"classic-5v", 1.2, 0, 1023}, // above the reference
		{"classic-5v", -0.1, 0, 0},
		{"classic-5v", 1, 12, 4095},
		{"classic-5v", 0.5, 8, 127},
		{"slim-3v3", 0.5, 16, 32775}, // of 12 bits, stretched
		{"slim-3v3", 1, 16, 65535},
	} {
		w := &scale{part: c.part}
		b, events := newBoard(t, c.board, &w.bench)
		b.World = w
		pin := b.Profile.Number(map[string]string{"classic-5v": "A0", "slim-3v3": "GP26"}[c.board])
		got, err := b.Reading(pin, c.bits, 7)
		require.NoError(t, err)
		assert.Equal(t, c.want, got, "%+v", c)
		last := (*events)[len(*events)-1]
		assert.Equal(t, machine.Converted, last.Kind)
		assert.Equal(t, 7, last.Line)
	}
}

// The bits of readings and duties are set each by itself; nonsense leaves them as they are.
func TestBits(t *testing.T) {
	w := &scale{part: 1}
	b, _ := newBoard(t, "slim-3v3", &w.bench)
	b.World = w
	full := func() int {
		v, err := b.Reading(b.Profile.Number("GP26"), 0, 1)
		require.NoError(t, err)
		return v
	}
	b.SetBits(12, 10)
	assert.Equal(t, 4095, full())
	b.SetBits(0, -3)
	assert.Equal(t, 4095, full())
	b.SetBits(99, 99)
	assert.Equal(t, 4095, full())
	require.NoError(t, b.SetDuty(4, 512, 0, 0, 1))
	assert.InDelta(t, 512.0/1023, w.drives[4].Duty, 1e-9, "of ten bits")
}

// A tone is a square wave; one with an end ends by itself, another one takes its place, and a level
// written to the pin ends it too.
func TestTones(t *testing.T) {
	w := &bench{}
	b, events := newBoard(t, "classic-5v", w)
	require.NoError(t, b.Tone(8, 440, 0, 1))
	assert.Equal(t, machine.Drive{Mode: machine.Driven, Duty: 0.5, Hertz: 440}, w.drives[8])
	require.NoError(t, b.Tone(8, 880, 100*time.Millisecond, 2))
	began := b.Now()
	require.NoError(t, b.Pause(int64(90*time.Millisecond), 3))
	assert.Equal(t, 880.0, w.drives[8].Hertz, "not over yet")
	require.NoError(t, b.Pause(int64(20*time.Millisecond), 4))
	assert.Equal(t, machine.Drive{Mode: machine.Driven}, w.drives[8])
	ended := (*events)[len(*events)-1]
	assert.Equal(t, machine.Event{At: ended.At, Kind: machine.Toned, Pin: 8}, ended)
	assert.InDelta(t, began+int64(100*time.Millisecond), ended.At, 1e5)
	require.NoError(t, b.Tone(8, 440, time.Second, 5))
	require.NoError(t, b.SetLevel(8, true, 6))
	require.NoError(t, b.Pause(int64(2*time.Second), 7))
	assert.Equal(t, machine.Drive{Mode: machine.Driven, Level: true}, w.drives[8], "its end was forgotten with it")
	require.NoError(t, b.Tone(8, 0, 0, 8))
	assert.False(t, w.drives[8].Pulsed())
}

// A pulse is measured from edge to edge; one that is not there in time is none, and the time is gone.
func TestPulses(t *testing.T) {
	w := &bench{beat: int64(3 * time.Millisecond)}
	b, events := newBoard(t, "classic-5v", w)
	us, err := b.Pulse(2, true, time.Second, 1)
	require.NoError(t, err)
	assert.InDelta(t, 3000, us, 1)
	last := (*events)[len(*events)-1]
	assert.Equal(t, machine.Measured, last.Kind)
	assert.InDelta(t, 3000, last.Value, 1)
	still := &bench{}
	b, _ = newBoard(t, "classic-5v", still)
	us, err = b.Pulse(2, true, 50*time.Millisecond, 1)
	require.NoError(t, err)
	assert.Zero(t, us)
	assert.GreaterOrEqual(t, b.Now(), int64(50*time.Millisecond))
}

// Characters come in at their times, are looked at without being taken, and taken in order.
func TestListening(t *testing.T) {
	b, _ := newBoard(t, "classic-5v", &bench{})
	b.Receive = []machine.Received{{At: int64(time.Millisecond), C: 'a'}, {At: int64(2 * time.Millisecond), C: 'b'}}
	n, err := b.Waiting()
	require.NoError(t, err)
	assert.Zero(t, n)
	c, err := b.Take(true)
	require.NoError(t, err)
	assert.Equal(t, -1, c, "none yet")
	require.NoError(t, b.Pause(int64(5*time.Millisecond), 1))
	for _, x := range []struct {
		take bool
		want int
	}{{false, 'a'}, {true, 'a'}, {true, 'b'}, {true, -1}} {
		c, err = b.Take(x.take)
		require.NoError(t, err)
		assert.Equal(t, x.want, c)
	}
}

// What an output drives once it is one was latched before; the pin is told nothing until then.
func TestLatches(t *testing.T) {
	w := &bench{}
	b, _ := newBoard(t, "slim-3v3", w)
	b.Latch(5, true)
	assert.True(t, b.Latched(5))
	assert.Equal(t, machine.Drive{}, w.drives[5])
	require.NoError(t, b.SetMode(5, machine.Driven, 1))
	assert.Equal(t, machine.Drive{Mode: machine.Driven, Level: true}, w.drives[5])
	b.Latch(machine.Pins+4, true)
	assert.False(t, b.Latched(machine.Pins+4), "there is no such pin")
}

// The frequency of a duty can be changed while it runs; of a pin without one it is nothing.
func TestHertz(t *testing.T) {
	w := &bench{}
	b, _ := newBoard(t, "slim-3v3", w)
	require.NoError(t, b.SetHertz(4, 50))
	assert.False(t, w.drives[4].Pulsed())
	require.NoError(t, b.SetDuty(4, 100, 255, 1000, 1))
	require.NoError(t, b.SetHertz(4, 50))
	assert.Equal(t, 50.0, w.drives[4].Hertz)
	require.NoError(t, b.SetHertz(4, 0))
	assert.Equal(t, 50.0, w.drives[4].Hertz, "none is no frequency")
}

// Pins that no board has are asked for nothing, whatever a program calls them.
func TestNoSuchPin(t *testing.T) {
	for _, pin := range []int{-1, 77, machine.Pins, 1 << 30} {
		w := &bench{}
		b, _ := newBoard(t, "classic-5v", w)
		require.NoError(t, b.SetMode(pin, machine.Driven, 1))
		require.NoError(t, b.SetLevel(pin, true, 1))
		require.NoError(t, b.SetDuty(pin, 10, 0, 0, 1))
		require.NoError(t, b.Tone(pin, 440, time.Second, 1))
		require.NoError(t, b.Attach(pin, machine.Rising, 1))
		level, err := b.Level(pin, 1)
		require.NoError(t, err)
		assert.False(t, level)
		v, err := b.Reading(pin, 0, 1)
		require.NoError(t, err)
		assert.Zero(t, v)
		assert.Equal(t, [machine.Pins]machine.Drive{}, w.drives, "pin %d", pin)
	}
}
