package server

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"log/slog"
	"net/http"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/bench"
	"cablaggio/core/running/program"
)

// A LiveWish is what somebody who watches a run wants of it.
type LiveWish struct {
	Do      string         `json:"do"`                // play, hold, step, speed, back, again, act, probe, await or leave
	Action  *bench.Action  `json:"action,omitempty"`  // of act; it is done now, whatever its time
	Speed   float64        `json:"speed,omitempty"`   // of speed: 1 is as it is
	Seconds float64        `json:"seconds,omitempty"` // of back; of again: up to where at once
	Actions []bench.Action `json:"actions,omitempty"` // of again: what hands do in it
	Script  string         `json:"script,omitempty"`  // of again: the actions, as lines
	Seed    uint64         `json:"seed,omitempty"`    // of again
	Probes  []bench.Probe  `json:"probes,omitempty"`  // of probe: all that there are from now on
	Row     *LiveRow       `json:"row,omitempty"`     // of await: it plays until this row changes, or crosses its level; without one, on
}

// A LiveRow names a row of a recording.
type LiveRow struct {
	Kind bench.RowKind `json:"kind"`
	Of   string        `json:"of"`
	Name string        `json:"name"`
	// Level is a value that is waited for to be crossed, either way; without one, any change is.
	Level *float64 `json:"level,omitempty"`
}

// A LiveUpdate is what is told to those who watch a run.
type LiveUpdate struct {
	Session string           `json:"session,omitempty"` // the name to come back to it by; told first
	Whole   *bench.Recording `json:"whole,omitempty"`   // all so far; what was told before does not count any more
	News    *bench.News      `json:"news,omitempty"`    // what has come since
	Playing bool             `json:"playing"`
	Speed   float64          `json:"speed"`
	Awaits  *LiveRow         `json:"awaits,omitempty"`  // it holds when this row changes
	Lags    bool             `json:"lags,omitempty"`    // the program takes longer than it would on its board
	Busy    bool             `json:"busy,omitempty"`    // it is run again, to where it was
	Problem string           `json:"problem,omitempty"` // why a wish was not fulfilled, and what would be right
	Refused bool             `json:"refused,omitempty"` // there will be no run, for the problem
}

// A LiveTalk is what goes to and fro on a connection: updates from the server, wishes to it.
type LiveTalk struct {
	Update LiveUpdate `json:"update"`
	Wish   LiveWish   `json:"wish"`
}

const (
	maxSessions  = 24
	liveLasts    = time.Hour              // of the board's time
	beat         = 16 * time.Millisecond  // between two looks at a run that plays
	longestLeg   = 60 * time.Millisecond  // that it catches up at once
	mostLag      = 150 * time.Millisecond // before it is said that it lags
	mostPatience = 20 * time.Second       // for running again to where it was
	maxStep      = 10 * time.Second       // that one step waits for the program, by the board's time
	mostSpeed    = 100
	lonely       = 2 * time.Minute // that a run waits for somebody to come back
	backlog      = 256             // updates that one who watches may be behind
	mostChanges  = 50              // of a row that are told at once; more are no more to be seen
)

// sessions are the runs that somebody watches, or did a moment ago.
type sessions struct {
	log *slog.Logger
	mu  sync.Mutex
	all map[string]*session
}

// A session is one run, and those who watch it. What stands after the blank line belongs to its loop.
type session struct {
	id, build string
	do        chan func()
	ended     chan struct{}
	alone     atomic.Int64 // since when nobody watches, in nanoseconds; 0: somebody does

	net      *wiring.Network
	made     *program.Compiled
	options  bench.Options  // of the run as it goes now
	script   []bench.Action // what is to be done by itself, and not by a hand
	live     *bench.Live
	whole    *bench.Recording
	watchers map[*watcher]bool
	left     <-chan time.Time // when it is given up, since nobody watches
	over     bool
	leaving  bool

	playing bool
	awaits  *LiveRow
	armed   float64 // s, since when
	speed   float64
	from    time.Time // since when it plays, and the board's time then
	since   int64
}

// A watcher is told updates, as JSON.
type watcher struct{ updates chan []byte }

// join finds a session of a build by its name.
func (l *sessions) join(id, build string) *session {
	l.mu.Lock()
	defer l.mu.Unlock()
	if s := l.all[id]; s != nil && s.build == build {
		return s
	}
	return nil
}

// begin starts a session, which holds until somebody lets it play. Its error is a problem, or
// that of [bench.NewLive].
func (l *sessions) begin(build string, net *wiring.Network, made *program.Compiled, o bench.Options) (*session, error) {
	s := &session{id: rand.Text(), build: build, do: make(chan func(), 16), ended: make(chan struct{}), net: net, made: made, options: o, watchers: map[*watcher]bool{}, speed: 1, left: time.After(lonely)}
	s.alone.Store(time.Now().UnixNano())
	l.mu.Lock()
	defer l.mu.Unlock()
	if len(l.all) >= maxSessions && !l.makeRoom() {
		return nil, problem(http.StatusServiceUnavailable, "As many benches run as there can be.", "close one in another window")
	}
	if err := s.again(0); err != nil {
		return nil, err
	}
	l.all[s.id] = s
	behind(l.log, "a run on the bench", func() {
		defer func() {
			l.mu.Lock()
			delete(l.all, s.id)
			l.mu.Unlock()
			close(s.ended)
		}()
		s.loop()
	})
	return s, nil
}

// makeRoom ends the session that nobody has watched for longest; it reports whether there is one.
func (l *sessions) makeRoom() bool {
	var longest *session
	for _, s := range l.all {
		if since := s.alone.Load(); since != 0 && (longest == nil || since < longest.alone.Load()) {
			longest = s
		}
	}
	if longest == nil {
		return false
	}
	delete(l.all, longest.id)
	go longest.ask(func() { longest.leaving = true })
	return true
}

// close ends all sessions.
func (l *sessions) close() {
	l.mu.Lock()
	all := make([]*session, 0, len(l.all))
	for _, s := range l.all {
		all = append(all, s)
	}
	l.mu.Unlock()
	for _, s := range all {
		s.ask(func() { s.leaving = true })
	}
}

// ask has the session's loop do something; it reports whether there still is one.
func (s *session) ask(what func()) bool {
	select {
	case s.do <- what:
		return true
	case <-s.ended:
		return false
	}
}

func (s *session) loop() {
	ticker := time.NewTicker(beat)
	defer ticker.Stop()
	for !s.leaving {
		var tick <-chan time.Time
		if s.playing && !s.over && len(s.watchers) > 0 {
			tick = ticker.C
		}
		select {
		case what := <-s.do:
			what()
		case <-tick:
			s.advance()
		case <-s.left:
			s.leaving = true
		}
	}
	s.live.Close()
	for w := range s.watchers {
		close(w.updates)
	}
}

// watch lets somebody watch, and tells all so far.
func (s *session) watch(w *watcher) {
	s.watchers[w] = true
	s.left = nil
	s.alone.Store(0)
	s.anchor()
	s.sendTo(w, LiveUpdate{Session: s.id, Whole: s.whole})
}

// unwatch lets somebody go; a run that nobody watches holds.
func (s *session) unwatch(w *watcher) {
	if !s.watchers[w] {
		return
	}
	delete(s.watchers, w)
	close(w.updates)
	if len(s.watchers) == 0 {
		s.left = time.After(lonely)
		s.alone.Store(time.Now().UnixNano())
	}
}

// anchor has time go on from here and now.
func (s *session) anchor() { s.from, s.since = time.Now(), s.live.Now() }

// advance goes on to where the run should be by the clock on the wall.
func (s *session) advance() {
	target := s.since + int64(float64(time.Since(s.from))*s.speed)
	err := s.live.To(min(target, s.live.Now()+int64(float64(longestLeg)*s.speed)))
	behind := s.since + int64(float64(time.Since(s.from))*s.speed) - s.live.Now()
	lags := !s.over && behind > int64(float64(mostLag)*max(1, s.speed))
	if lags {
		s.anchor()
	}
	s.tell(err, lags)
}

// tell tells what has come.
func (s *session) tell(err error, lags bool) {
	n := s.live.News()
	s.whole.Add(n)
	if n.How != "" || err != nil {
		s.over, s.playing = true, false
	}
	if at, changed := s.awaited(&n); changed {
		s.awaits, s.playing = nil, false
		options := s.options
		options.Actions = s.live.Actions()
		if err = s.with(options, at+1); err == nil { // to that very moment
			return
		}
	}
	thin(&n)
	u := LiveUpdate{News: &n, Lags: lags}
	if err != nil {
		u.Problem = sentence(err.Error())
	}
	s.send(u)
}

// thin leaves out of what a row did too fast to be seen: the last of it stays.
func thin(n *bench.News) {
	for i := range n.Rows {
		row := &n.Rows[i]
		if len(row.Changes) <= mostChanges {
			continue
		}
		kept := make([]bench.Change, 0, mostChanges+1)
		for k := range mostChanges {
			kept = append(kept, row.Changes[k*len(row.Changes)/mostChanges])
		}
		row.Changes = append(kept, row.Changes[len(row.Changes)-1])
	}
}

// again runs it from the start to a time, with the options that it has. Where that takes too
// long, it goes on from where it has come to.
func (s *session) again(until int64) error {
	live, err := bench.NewLive(context.Background(), s.net, s.made, s.options)
	if err != nil {
		return err
	}
	if s.live != nil {
		s.live.Close()
	}
	s.live, s.over = live, false
	s.whole = bench.NewRecording(s.options)
	began, shown := time.Now(), time.Now()
	for live.Now() < until && time.Since(began) < mostPatience {
		if err = live.To(min(until, live.Now()+int64(time.Second))); err != nil {
			break
		}
		n := live.News()
		s.whole.Add(n)
		if n.How != "" {
			s.over, s.playing = true, false
			break
		}
		if time.Since(shown) > time.Second/4 {
			shown = time.Now()
			s.send(LiveUpdate{Busy: true})
		}
	}
	s.whole.Add(live.News())
	s.anchor()
	s.send(LiveUpdate{Whole: s.whole})
	return err
}

func (s *session) send(u LiveUpdate) {
	for w := range s.watchers {
		s.sendTo(w, u)
	}
}

// sendTo tells one who watches; who does not listen is let go, and may come back.
func (s *session) sendTo(w *watcher, u LiveUpdate) {
	u.Playing, u.Speed, u.Awaits = s.playing && !s.over, s.speed, s.awaits
	data, err := json.Marshal(u)
	if err != nil {
		return // what a run records can be written
	}
	select {
	case w.updates <- data:
	default:
		s.unwatch(w)
	}
}

// fulfil does what one who watches wants.
func (s *session) fulfil(w *watcher, wish LiveWish) {
	err := s.wish(wish)
	if err == nil {
		return
	}
	words := sentence(err.Error())
	var refused *Problem
	if errors.As(err, &refused) {
		words = refused.words()
	}
	s.sendTo(w, LiveUpdate{Problem: words})
}

func (s *session) wish(wish LiveWish) error {
	switch wish.Do {
	case "play":
		s.playing = !s.over
		s.anchor()
		s.send(LiveUpdate{})
	case "hold":
		s.playing, s.awaits = false, nil
		s.send(LiveUpdate{})
	case "speed":
		if !(wish.Speed > 0 && wish.Speed <= mostSpeed) {
			return problem(http.StatusUnprocessableEntity, "That is no speed.", "more than 0, and at most 100")
		}
		s.speed = wish.Speed
		s.anchor()
		s.send(LiveUpdate{})
	case "await":
		s.awaits, s.armed = wish.Row, float64(s.live.Now())/1e9
		s.playing = !s.over
		s.anchor()
		s.send(LiveUpdate{})
	case "step":
		s.playing = false
		s.tell(s.live.Step(s.live.Now()+int64(maxStep)), false)
	case "act":
		if wish.Action == nil {
			return problem(http.StatusUnprocessableEntity, "There is no action.", `as {"do":"press","of":"button1"}`)
		}
		if s.over {
			return problem(http.StatusConflict, "The run is over.", "start over")
		}
		if err := s.live.Do(*wish.Action); err != nil {
			return err
		}
		s.tell(nil, false)
	case "back":
		if !(wish.Seconds > 0) {
			return problem(http.StatusUnprocessableEntity, "Back by how much?", "more than 0 seconds")
		}
		until := max(0, s.live.Now()-int64(min(wish.Seconds, liveLasts.Seconds())*1e9))
		return s.with(bench.Options{Actions: s.until(until), Lasts: liveLasts, Seed: s.options.Seed, Probes: s.options.Probes}, until)
	case "probe":
		return s.with(bench.Options{Actions: s.live.Actions(), Lasts: liveLasts, Seed: s.options.Seed, Probes: wish.Probes}, s.live.Now())
	case "again":
		if wish.Script != "" {
			var err error
			if wish.Actions, err = bench.ParseScript(s.net, wish.Script); err != nil {
				return err
			}
		}
		seconds := min(max(0, wish.Seconds), liveLasts.Seconds())
		s.script = slices.DeleteFunc(slices.Clone(wish.Actions), func(a bench.Action) bool { return a.At < seconds })
		return s.with(bench.Options{Actions: wish.Actions, Lasts: liveLasts, Seed: max(1, wish.Seed), Probes: s.options.Probes}, int64(seconds*1e9))
	default:
		return problem(http.StatusUnprocessableEntity, "That is not understood.", "play, hold, step, speed, back, again, act, probe and leave are")
	}
	return nil
}

// with runs it again with other options, to a time; where they make no sense nothing changes.
func (s *session) with(o bench.Options, until int64) error {
	before := s.options
	s.options = o
	err := s.again(until)
	var action *bench.ActionError
	var probe *bench.ProbeError
	if errors.As(err, &action) || errors.As(err, &probe) {
		s.options = before
	}
	return err
}

// until is what hands did until a time, and what the script says of what comes after it.
func (s *session) until(at int64) []bench.Action {
	before := func(a bench.Action) bool { return a.At*1e9 < float64(at) }
	out := slices.DeleteFunc(s.live.Actions(), func(a bench.Action) bool { return !before(a) })
	for _, a := range s.script {
		if !before(a) {
			out = append(out, a)
		}
	}
	return out
}
