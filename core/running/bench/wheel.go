package bench

import (
	"math"

	"cablaggio/core/electric/wiring"
)

// How a wheel slows that nothing turns any more.
const (
	// coast is the time in seconds in which it loses all but 1/e of what it is too fast (ours; a small
	// anemometer runs on for a few seconds, common practice).
	coast = 1.0
	// stalls is how fast it is, in hertz, when it stops: the friction that is left does not grow less
	// (ours).
	stalls = 0.1
)

// A Coast is how fast a wheel is that was brought to a rate and may be faster still.
type Coast struct {
	Rate   float64 // Hz, that it comes to
	Excess float64 // Hz, that it is faster at first
}

// At is how fast it is after some seconds, in hertz.
func (c Coast) At(seconds float64) float64 {
	if seconds > c.stops() {
		return 0
	}
	return c.Rate + c.Excess*math.Exp(-seconds/coast)
}

// Below is after how many seconds it is slower than so many hertz; infinite: it never is.
func (c Coast) Below(hertz float64) float64 {
	switch {
	case c.Rate+c.Excess < hertz:
		return 0
	case c.Rate <= 0 && hertz < stalls:
		return c.stops()
	case c.Rate >= hertz:
		return math.Inf(1)
	}
	return coast * math.Log(c.Excess/(hertz-c.Rate))
}

// stops is after how many seconds it stands; infinite: it never does.
func (c Coast) stops() float64 {
	if c.Rate > 0 {
		return math.Inf(1)
	}
	return coast * math.Log(max(1, c.Excess/stalls))
}

// turns is how many it has made after some seconds.
func (c Coast) turns(seconds float64) float64 {
	seconds = min(seconds, c.stops())
	return c.Rate*seconds + c.Excess*coast*(1-math.Exp(-seconds/coast))
}

// A wheel is a contact that pulses as something turns. A hand brings it up to a rate at once; to
// a lower one it coasts, as friction slows it.
type wheel struct {
	control int
	share   float64 // of a turn in which it is closed
	Coast           // since
	since   int64
	phase   float64 // in turns, at since
	next    float64 // the turn at which it opens or closes next
	closed  bool
}

// at is the turn that a wheel has come to, and how fast it is, some seconds after since.
func (w *wheel) at(seconds float64) (turn, hertz float64) {
	return w.phase + w.turns(seconds), w.At(seconds)
}

// when is how many seconds after since a wheel comes to a turn; infinite: never.
func (w *wheel) when(turn float64) float64 {
	if w.Rate <= 0 && turn > w.phase+w.turns(w.stops()) {
		return math.Inf(1)
	}
	// From below, Newton's steps on what only ever slows come ever nearer and never pass it.
	t := 0.0
	for range 100 {
		is, hertz := w.at(t)
		step := (turn - is) / hertz
		if !(step > 1e-10) {
			break
		}
		t += step
	}
	return t
}

// set brings a wheel to a rate at a time.
func (w *wheel) set(hertz float64, at int64) {
	turn, is := w.at(seconds(at - w.since))
	if is < 1e-3 { // what stands closes at once when it is turned
		turn, is, w.next = 0, 0, 0
		if w.closed { // it stood so
			w.next = w.share
		}
	}
	w.phase, w.since, w.Coast = turn, at, Coast{hertz, math.Max(0, is-hertz)}
}

// goesOver opens or closes it, and returns which.
func (w *wheel) goesOver() float64 {
	if w.closed = !w.closed; w.closed {
		w.next += w.share
		return wiring.Closed
	}
	w.next += 1 - w.share
	return wiring.Open
}
