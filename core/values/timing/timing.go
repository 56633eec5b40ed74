// Package timing does the sums with time: bounce, debounce, capacitors that
// charge, and what a clock that ticks makes of pulses. Times are in seconds,
// rates in hertz.
package timing

import "math"

// Tick is the millisecond that boards' clocks count in.
const Tick = 1e-3

// Reach returns how long a capacitor takes from a voltage on its way to another
// to pass a third: RC·ln((to − from)/(to − at)), the exact exponential. It is
// infinite when the voltage never gets there, and zero when it is there.
func Reach(rc, from, to, at float64) float64 {
	if (at-from)*(to-from) <= 0 {
		return 0
	}
	if math.Abs(at-from) >= math.Abs(to-from) {
		return math.Inf(1)
	}
	return rc * math.Log((to-from)/(to-at))
}

// Fastest returns the highest rate of pulses, closed for a part of each, of
// which none is swallowed: each side must last as long as a level has to be
// stable before it counts.
func Fastest(stable, duty float64) float64 {
	return math.Min(duty, 1-duty) / stable
}

// Clock returns what a rate can read as when the time of n closings is counted
// in ticks: the count is cut to one side or the other. 6 closings a second read
// 5.99 or 6.02 from one closing to the next. High is infinite when no tick
// falls between.
func Clock(rate, tick float64, n int) (low, high float64) {
	ticks := float64(n) / rate / tick
	whole := math.Round(ticks)
	if math.Abs(ticks-whole) < 1e-9*ticks { // an exact number of ticks can still be seen as one less or more
		return rate, rate
	}
	return float64(n) / (math.Ceil(ticks) * tick), float64(n) / (math.Floor(ticks) * tick)
}

// Closings returns over how many closings must be averaged so that one tick
// more or less is at most the wished part of the reading, and how long that
// takes.
func Closings(rate, tick, resolution float64) (n int, seconds float64) {
	n = max(1, int(math.Ceil(tick*rate/resolution-1e-9)))
	return n, float64(n) / rate
}
