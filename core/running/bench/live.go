package bench

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/general/parallel"
	"cablaggio/core/running/machine"
	"cablaggio/core/running/program"
	"cablaggio/core/running/rig"
)

// A Live is a run that somebody watches: time goes as far as it is let, and a hand acts at the
// moment that it has come to. What it tells, put together, is what [Run] records with the same
// actions. Its methods are called by one goroutine.
type Live struct {
	net    *wiring.Network
	staged *staged
	done   []Action // in the order of time
	coming []Action // not done yet, in the order of time
	let    int64    // until when time may go

	cancel  context.CancelFunc
	grant   chan int64    // lets the program go on, until a time; closed: it ends
	reached chan struct{} // the program waits, or has ended
	over    *machine.Ending
	err     error
	closed  bool // the program's goroutine knows that it is to end
	step    bool // it waits at the next thing that it does
	amid    bool // it waits in the middle of what happens at this moment

	told told // what the last news had
}

// What was told.
type told struct {
	rows, actions int
	looked        int64             // when it was looked what lamps look like
	looks         map[string]string // of each lamp
	stress        []Stress
	line          int // of the program, where it waits at a step
}

// NewLive puts a run in its place; nothing has happened yet. [Live.Close] must be called to end it.
// The context is the program's. Errors are those of [Run].
func NewLive(ctx context.Context, net *wiring.Network, made *program.Compiled, o Options) (*Live, error) {
	if err := Check(net, o.Actions); err != nil {
		return nil, err
	}
	ctx, cancel := context.WithCancel(ctx)
	l := &Live{net: net, cancel: cancel, grant: make(chan int64), reached: make(chan struct{}), told: told{looks: map[string]string{}}, coming: slices.Clone(o.Actions)}
	var err error
	if l.staged, err = stage(net, o, func(r *rig.Rig) machine.World { return &gate{Rig: r, live: l} }); err != nil {
		cancel()
		return nil, err
	}
	see := l.staged.seen
	l.staged.seen = func(e machine.Event) {
		see(e)
		if l.step && e.Line > 0 {
			l.step, l.amid = false, true
			l.told.line = e.Line
			l.wait()
		}
	}
	l.staged.until = time.Now().Add(MaxLasts * time.Second)
	l.staged.comeUp(0)
	go func() {
		defer close(l.reached)
		p := parallel.Try(func() { // its end is nobody else's
			if until, ok := <-l.grant; ok {
				l.let = until
				ending, err := l.staged.play(ctx, made)
				if l.err = err; err == nil && !l.closed {
					l.over = &ending
				}
			}
		})
		if p != nil {
			l.err = fmt.Errorf("the run cannot go on: %w", p)
		}
	}()
	return l, nil
}

// A gate is a rig in which nothing happens, and no time passes, beyond what is let.
type gate struct {
	*rig.Rig
	live *Live
}

// Next implements [machine.World].
func (g *gate) Next() int64 { return min(g.Rig.Next(), g.live.let) }

// Happen implements [machine.World].
func (g *gate) Happen(at int64) bool {
	if at >= g.live.let {
		g.live.wait()
	}
	if s := g.live.staged; at >= s.begun+s.board.Limit { // it is to end
		return false
	}
	if g.Rig.Next() > at {
		return false
	}
	return g.Rig.Happen(at)
}

// wait holds the program until it may go on.
func (l *Live) wait() {
	if l.closed {
		return
	}
	l.reached <- struct{}{}
	until, ok := <-l.grant
	if !ok { // it comes to its end at the next look at the time
		l.closed, until = true, machine.Never
		l.staged.ended, l.staged.board.Limit = true, 0
	}
	l.let = until
}

// Now is the time that the run has come to, in nanoseconds.
func (l *Live) Now() int64 {
	if l.over != nil {
		return l.over.At
	}
	return l.staged.now()
}

// To lets time go on to a time, and returns when it has come to it, or the run to its end. Its
// error is that of a machine that does not work.
func (l *Live) To(at int64) error {
	for l.goes() && l.Now() < at {
		l.leg(at)
	}
	return l.err
}

// goes reports whether the run can go on.
func (l *Live) goes() bool { return l.over == nil && l.err == nil }

// leg goes on to a time, or to the next action that stands in the way, and does it.
func (l *Live) leg(until int64) {
	if len(l.coming) > 0 {
		until = min(until, nanoseconds(l.coming[0].At))
	}
	if until > l.Now() {
		l.amid = false
		l.staged.hands.turn(until)
		l.staged.hands.tell()
		l.grant <- until
		l.reach()
	}
	for len(l.coming) > 0 && nanoseconds(l.coming[0].At) <= l.Now() {
		l.act(l.coming[0])
		l.coming = l.coming[1:]
	}
}

// legPatience is how long a leg may take, of which an honest one takes milliseconds: a program
// can write over what counts its time.
const legPatience = 20 * time.Second

var errNeverBack = errors.New("the program does not come back to the board: it writes where it should not, or does more than can be followed")

// reach waits until the program has come to where it may go, or has ended.
func (l *Live) reach() {
	patience := time.NewTimer(legPatience)
	defer patience.Stop()
	select {
	case <-l.reached:
	case <-patience.C:
		l.cancel()
		for range l.reached { // until it is closed
		}
		l.err = errNeverBack
	}
}

// Step lets the program go on to the next thing that it does, however long it waits until then;
// at most to a time.
func (l *Live) Step(most int64) error {
	const stride = int64(20 * time.Millisecond) // so that no wheel turns far ahead of its hand
	for l.step = true; l.step && l.goes() && l.Now() < most; {
		l.leg(l.Now() + stride)
	}
	l.step = false
	return l.err
}

func (l *Live) act(a Action) {
	l.staged.hands.do(a)
	l.staged.hands.tell()
	l.staged.told()
	l.done = append(l.done, a)
}

// Do does an action now; what it says of when is not heeded. What is let go is so no sooner
// than a finger can. Its error is an [*ActionError].
func (l *Live) Do(a Action) error {
	now := l.Now()
	if l.amid {
		now++ // this moment has begun without it
	}
	a.At = seconds(now)
	if len(l.done) >= MaxActions {
		return &ActionError{0, a.String(), fmt.Sprintf("a run takes at most %d actions", MaxActions)}
	}
	if right := a.wrong(l.net); right != "" {
		return &ActionError{0, a.String(), right}
	}
	if a.Do == Release {
		if soonest := l.pressed(a) + shortest; soonest > a.At {
			a.At = soonest
			l.later(a)
			return nil
		}
	}
	l.act(a)
	return nil
}

// Receive puts text on the board's serial link now, as [Type] does, for whoever talks without end:
// it is no action of the run.
func (l *Live) Receive(text string) {
	a := Action{At: seconds(l.Now()), Do: Type, Text: text}
	if l.amid {
		a.At = seconds(l.Now() + 1)
	}
	l.staged.hands.do(a)
	l.staged.hands.tell()
	l.staged.told()
}

// shortest is how long a press lasts at least, in seconds: no finger is faster (common practice).
const shortest = 0.08

// pressed is when what an action lets go was pressed last.
func (l *Live) pressed(a Action) float64 {
	for _, b := range slices.Backward(l.done) {
		if b.Do == Press && b.Of == a.Of && b.Key == a.Key {
			return b.At
		}
	}
	return -shortest
}

// Actions are what hands did, and will do, in the order of time.
func (l *Live) Actions() []Action { return slices.Concat(l.done, l.coming) }

// later does an action when its time comes.
func (l *Live) later(a Action) {
	i := len(l.coming)
	for i > 0 && l.coming[i-1].At > a.At {
		i--
	}
	l.coming = slices.Insert(l.coming, i, a)
}

// Close ends the run.
func (l *Live) Close() {
	close(l.grant)
	// What has not come to its end by then is ended.
	last := time.AfterFunc(closePatience, l.cancel)
	defer last.Stop()
	for range l.reached { // until it is closed
	}
	l.cancel()
}

// closePatience is how long a program may take to notice that it is to end.
const closePatience = 2 * time.Second

// News is what has come since the news before.
type News struct {
	At      float64  `json:"at"`             // s, that the run has come to
	How     string   `json:"how,omitempty"`  // how it ended, as of a [Recording]; empty: it goes on
	Why     string   `json:"why,omitempty"`  // it broke off
	Line    int      `json:"line,omitempty"` // of the program, where it waits at a step, or broke off
	All     bool     `json:"all,omitempty"`  // there is a new row: these are all, in their order
	Rows    []Row    `json:"rows,omitempty"` // with the changes that are new
	Serial  []Said   `json:"serial,omitempty"`
	Actions []Action `json:"actions,omitempty"`
	Stress  []Stress `json:"stress,omitempty"` // all, when there is more
	Cut     bool     `json:"cut,omitempty"`
}

// Of how long, and how often, it is looked at lamps to say what they look like.
const (
	lookAt    = int64(4 * time.Second)
	lookEvery = int64(time.Second / 4)
)

// News tells what has come since it was asked last.
func (l *Live) News() News {
	w := l.staged.writer
	w.catchUp()
	n := News{At: seconds(l.Now()), Line: l.told.line, All: len(w.rows) != l.told.rows, Serial: w.rec.Serial, Actions: slices.Clone(l.done[l.told.actions:])}
	l.look(w, n.At)
	for _, row := range w.ordered() {
		if len(row.Changes) > 0 || row.Looks != "" || n.All {
			n.Rows = append(n.Rows, row)
		}
	}
	for _, row := range w.rows {
		row.Changes, row.Looks = []Change{}, ""
	}
	if !slices.Equal(w.rec.Stress, l.told.stress) {
		l.told.stress = slices.Clone(w.rec.Stress)
		n.Stress = l.told.stress
	}
	if l.over != nil {
		w.rec.ended(*l.over)
		n.How, n.Why, n.Line = w.rec.How, w.rec.Why, w.rec.Line
	}
	n.Cut = w.rec.Cut
	w.rec.Serial, w.rec.Cut, w.said = []Said{}, false, 0
	l.told.rows, l.told.actions, l.told.line = len(w.rows), len(l.done), 0
	w.forget(l.Now() - lookAt)
	return n
}

// look writes what lamps look like of late, where that is another than was told.
func (l *Live) look(w *writer, at float64) {
	now := l.Now()
	if now-l.told.looked < lookEvery && l.over == nil {
		return
	}
	l.told.looked = now
	for i := range w.rig.Actors {
		a := &w.rig.Actors[i]
		key := string(LampRow) + a.Part.ID + a.Name
		row := w.rows[key]
		if row == nil {
			continue
		}
		if looks := w.looks(a, max(now/2, now-lookAt), now); looks != l.told.looks[key] {
			l.told.looks[key], row.Looks = looks, looks
		}
	}
}

// Add puts news to a recording. Where a row, or what was printed, grows too long, the oldest of
// it is dropped.
func (r *Recording) Add(n News) {
	r.Ended, r.How, r.Why, r.Line = n.At, n.How, n.Why, n.Line
	r.Cut = r.Cut || n.Cut
	same := func(a Row) func(Row) bool {
		return func(b Row) bool { return a.Kind == b.Kind && a.Of == b.Of && a.Name == b.Name }
	}
	if n.All {
		rows := make([]Row, len(n.Rows))
		for i, row := range n.Rows {
			rows[i] = Row{Kind: row.Kind, Of: row.Of, Name: row.Name, Lamp: row.Lamp, Ink: row.Ink, Changes: []Change{}}
			if k := slices.IndexFunc(r.Rows, same(row)); k >= 0 {
				rows[i] = r.Rows[k]
			}
		}
		r.Rows = rows
	}
	for _, row := range n.Rows {
		if k := slices.IndexFunc(r.Rows, same(row)); k >= 0 {
			r.Rows[k].Changes = latest(append(r.Rows[k].Changes, row.Changes...), maxChanges)
			if row.Looks != "" {
				r.Rows[k].Looks = row.Looks
			}
		}
	}
	r.Serial = latest(append(r.Serial, n.Serial...), maxSaid)
	for by, i := 0, len(r.Serial)-1; i >= 0; i-- {
		if by += len(r.Serial[i].Text); by > machine.MaxPrinted {
			r.Serial = slices.Clone(r.Serial[i+1:])
			break
		}
	}
	r.Actions = append(r.Actions, n.Actions...)
	if n.Stress != nil {
		r.Stress = n.Stress
	}
}

// latest drops the oldest of a list that has grown well beyond what is kept.
func latest[T any](list []T, most int) []T {
	if len(list) > most+most/4 {
		return slices.Delete(list, 0, len(list)-most)
	}
	return list
}
