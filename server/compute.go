package server

import (
	"context"
	"errors"
	"log/slog"
	"runtime"
	"runtime/metrics"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"cablaggio/core/document/build"
	"cablaggio/core/general/parallel"
	"cablaggio/core/judgement/check"
)

// A budget is how long things may take.
type budget struct {
	slow     time.Duration // from here on a build is a heavy one
	whole    time.Duration // how long a request waits for the whole analysis
	hurry    time.Duration // and then for one from the extremes
	patience time.Duration // how long is worked on it afterwards
	gone     time.Duration // who has not asked for so long has gone: nothing is worked out for nobody
}

var usual = budget{300 * time.Millisecond, 900 * time.Millisecond, 500 * time.Millisecond, time.Minute, 30 * time.Second}

const (
	breath = 50 * time.Millisecond // between turns, for those who wait

	// manyParts is from how many parts on a build is taken for a heavy one before it is
	// known how long it takes.
	manyParts = 40

	mostNoted = 256 // builds that are known to be heavy, or wait
	mostEnded = 16  // analyses that came to no end
)

// What is said last of what is missing.
const (
	working = "The rest is being worked out."
	endless = "The rest takes longer than a minute, or more room than there is, and is not worked out. Fewer parts that hang together help."
)

// A computer analyses builds. What takes long is done a few at a time, so that small
// builds are answered meanwhile; a request is answered in about two seconds at most, with
// what there is by then, and the rest is worked out afterwards.
type computer struct {
	budget
	log    *slog.Logger
	memory *check.Memory
	turns  chan struct{} // has room for the heavy ones that are worked on at once
	waits  atomic.Int32  // how many requests wait for a turn

	mu    sync.Mutex
	heavy map[string]bool               // builds, by id, that took long
	first map[build.Key]*check.Analysis // by job: what was answered while it is worked on, or came to no end
	asked map[build.Key]time.Time       // by job: when it was asked for last
	jobs  []job                         // to be worked on, the next one first
	ended []build.Key                   // the keys of those that came to no end
}

// A job is an analysis that is worked out when nobody waits.
type job struct {
	key  build.Key // all that its answer depends on
	bare bool      // nothing of it is known yet: something first
	lib  *build.Library
	doc  *build.Document
}

func newComputer(log *slog.Logger, b budget) *computer {
	return &computer{
		budget: b, log: log,
		memory: check.NewMemory(), turns: make(chan struct{}, max(1, runtime.GOMAXPROCS(0)-1)),
		heavy: map[string]bool{}, first: map[build.Key]*check.Analysis{}, asked: map[build.Key]time.Time{},
	}
}

// ended reports whether what was asked came to no end within its context.
func ended(err error) bool {
	return errors.Is(err, context.DeadlineExceeded) || errors.Is(err, context.Canceled)
}

// check analyses a build, whose id is "" before it has one. What is missing in the answer,
// it says.
func (c *computer) check(id string, lib *build.Library, doc *build.Document) (*check.Analysis, error) {
	a, err := c.answer(id, lib, doc)
	if err == nil {
		for _, p := range a.Breaks() {
			c.log.Error("a check broke off", "build", id, "error", p, "stack", string(p.Stack))
		}
	}
	return a, err
}

func (c *computer) answer(id string, lib *build.Library, doc *build.Document) (*check.Analysis, error) {
	if c.memory.Knows(lib, doc) {
		return c.memory.Check(lib, doc)
	}
	key := check.DependsOn(lib, doc)
	whole := func(ctx context.Context) (*check.Analysis, error) { return c.memory.CheckWithin(ctx, lib, doc) }
	c.mu.Lock()
	first, heavy := c.first[key], c.heavy[id]
	if _, worked := c.asked[key]; worked {
		c.asked[key] = time.Now()
	}
	c.mu.Unlock()
	if first != nil {
		return first, nil
	}
	began := time.Now()
	if len(doc.Parts) < manyParts && !heavy {
		a, err := within(began, c.slow, whole)
		if !ended(err) {
			return a, err
		}
	}
	if !c.turn(began) {
		a := check.TooLarge()
		a.Missing = []string{"Other builds are being worked out first. This one is kept, and its turn comes."}
		c.later(job{key, true, lib, doc}, a)
		return a, nil
	}
	defer func() { <-c.turns }()
	a, err := within(began, c.whole, whole)
	c.note(id, time.Since(began) > c.slow)
	if !ended(err) {
		return a, err
	}
	a, err = within(time.Now(), c.hurry, func(ctx context.Context) (*check.Analysis, error) { return c.memory.Hurry(ctx, lib, doc) })
	bare := ended(err)
	switch {
	case bare:
		a = check.TooLarge()
	case err != nil:
		return nil, err
	}
	a.Missing = append(a.Missing, working)
	c.later(job{key, bare, lib, doc}, a)
	return a, nil
}

// within analyses something until so long after it began.
func within(began time.Time, most time.Duration, do func(context.Context) (*check.Analysis, error)) (*check.Analysis, error) {
	ctx, cancel := context.WithDeadline(context.Background(), began.Add(most))
	defer cancel()
	return do(ctx)
}

// inTurn does what takes long where a build has many parts, one turn at a time, so that other builds are
// answered meanwhile.
func (c *computer) inTurn(doc *build.Document, do func()) {
	if len(doc.Parts) >= manyParts {
		c.waits.Add(1)
		c.turns <- struct{}{}
		c.waits.Add(-1)
		defer func() { <-c.turns }()
	}
	do()
}

// turn waits for a turn among the heavy ones, not longer than for a first answer.
func (c *computer) turn(began time.Time) bool {
	c.waits.Add(1)
	defer c.waits.Add(-1)
	select {
	case c.turns <- struct{}{}:
		return true // also for who has waited too long already: it is free
	default:
	}
	select {
	case c.turns <- struct{}{}:
		return true
	case <-time.After(c.whole - time.Since(began)):
		return false
	}
}

// note remembers whether a build is a heavy one.
func (c *computer) note(id string, heavy bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if len(c.heavy) >= mostNoted {
		clear(c.heavy)
	}
	if heavy && id != "" {
		c.heavy[id] = true
	} else {
		delete(c.heavy, id)
	}
}

// later has an analysis worked out when nobody waits; until then the first answer is given
// to who asks again.
func (c *computer) later(j job, first *check.Analysis) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.first[j.key] != nil || len(c.jobs) >= mostNoted {
		return
	}
	c.first[j.key], c.asked[j.key] = first, time.Now()
	if c.jobs = append(c.jobs, j); len(c.jobs) == 1 {
		behind(c.log, "analyses", c.work)
	}
}

// work does the jobs there are, one after another.
func (c *computer) work() {
	for {
		c.mu.Lock()
		next := c.jobs[0]
		c.mu.Unlock()
		done := false
		if p := parallel.Try(func() { done = c.finish(next) }); p != nil {
			c.log.Error("an analysis broke off", "error", p, "stack", string(p.Stack))
		}
		c.mu.Lock()
		c.jobs = c.jobs[1:]
		if done || c.abandoned(next.key) {
			delete(c.first, next.key) // who asks again begins it again
		} else {
			c.giveUp(next.key)
		}
		delete(c.asked, next.key)
		left := len(c.jobs)
		c.mu.Unlock()
		if left == 0 {
			return
		}
	}
}

// abandoned reports whether nobody has asked for a job for long. The lock is held.
func (c *computer) abandoned(key build.Key) bool { return time.Since(c.asked[key]) > c.gone }

// finish works a job out, and reports whether it came to an end. A request that waits goes
// first: what has been solved until then is remembered.
func (c *computer) finish(j job) bool {
	if inUse() > mostHeap/2 && live() > mostHeap/2 {
		c.memory.Forget() // near its bounds, collecting garbage would take all the time
	}
	if j.bare {
		c.patiently(j.key, func(ctx context.Context) error {
			a, err := c.memory.Hurry(ctx, j.lib, j.doc)
			if err == nil {
				a.Missing = append(a.Missing, working)
				c.mu.Lock()
				c.first[j.key] = a
				c.mu.Unlock()
			}
			return err
		})
	}
	return c.patiently(j.key, func(ctx context.Context) error {
		_, err := c.memory.CheckWithin(ctx, j.lib, j.doc)
		return err
	})
}

// patiently does something in turns, which it is to end with its context, until it is
// done, or for as long as there is patience and somebody who waits for it.
func (c *computer) patiently(key build.Key, do func(context.Context) error) bool {
	forgot := false
	gone := lately(c.gone/10, func() bool {
		c.mu.Lock()
		defer c.mu.Unlock()
		return c.abandoned(key)
	})
	for spent := time.Duration(0); spent < c.patience && !gone(); {
		c.turns <- struct{}{}
		began := time.Now()
		full, left := fullness(), c.patience-spent
		ctx, cancel := until(func() bool {
			return c.waits.Load() > 0 || time.Since(began) > left || full() || gone()
		})
		err := do(ctx)
		cancel()
		spent += time.Since(began)
		<-c.turns
		if !ended(err) {
			return true
		}
		if full() {
			if forgot {
				return false
			}
			forgot = true
			c.memory.Forget() // what others needed may go
		}
		time.Sleep(breath)
		spent += breath
	}
	return false
}

// until returns a context that is done soon after over says so, which is asked by one
// goroutine. It is to be cancelled.
func until(over func() bool) (context.Context, context.CancelFunc) {
	ctx, cancel := context.WithCancel(context.Background())
	go func() {
		tick := time.NewTicker(5 * time.Millisecond)
		defer tick.Stop()
		for {
			select {
			case <-ctx.Done():
				return
			case <-tick.C:
				if over() {
					cancel()
				}
			}
		}
	}()
	return ctx, cancel
}

// lately looks at something every so often, and says what it saw last; it may be asked often, from
// several goroutines.
func lately(every time.Duration, look func() bool) func() bool {
	var next atomic.Int64
	var seen atomic.Bool
	return func() bool {
		now := time.Now().UnixNano()
		if at := next.Load(); now >= at && next.CompareAndSwap(at, now+every.Nanoseconds()) {
			seen.Store(look())
		}
		return seen.Load()
	}
}

// mostHeap is how many bytes there may be in use while something is worked out that nobody
// waits for: what needs more comes to no end.
const mostHeap = 200 << 20

// fullness reports whether more than that is in use, once it was; it may be asked often, from
// several goroutines.
func fullness() func() bool {
	var next atomic.Int64
	var full atomic.Bool
	var mu sync.Mutex
	return func() bool {
		now := time.Now().UnixMilli()
		if at := next.Load(); now < at || !next.CompareAndSwap(at, now+50) {
			return full.Load()
		}
		mu.Lock()
		defer mu.Unlock()
		if inUse() > mostHeap {
			full.Store(live() > mostHeap)
			next.Store(now + 500)
		}
		return full.Load()
	}
}

// inUse is how many bytes of the heap there are, garbage included; live is what is left of
// them without.
func inUse() uint64 {
	sample := []metrics.Sample{{Name: "/memory/classes/heap/objects:bytes"}}
	metrics.Read(sample)
	return sample[0].Value.Uint64()
}

func live() uint64 {
	runtime.GC()
	return inUse()
}

// giveUp says of what came to no end that it is not worked out. The lock is held.
func (c *computer) giveUp(key build.Key) {
	last := *c.first[key]
	last.Missing = append(slices.Clone(last.Missing[:len(last.Missing)-1]), endless)
	c.first[key] = &last
	if c.ended = append(c.ended, key); len(c.ended) > mostEnded {
		delete(c.first, c.ended[0])
		c.ended = c.ended[1:]
	}
}
