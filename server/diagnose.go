package server

import (
	"context"
	"net/http"
	"slices"
	"sync/atomic"
	"time"

	"github.com/gofiber/fiber/v3"
	lru "github.com/hashicorp/golang-lru/v2"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/diagnose"
	"cablaggio/core/faults/meter"
	"cablaggio/core/output/assembly"
	"cablaggio/store"
)

// cases remembers diagnoses that go on, by the builds that they are of.
type cases struct {
	last *lru.Cache[build.Key, openCase]
}

func newCases() cases {
	last, _ := lru.New[build.Key, openCase](rememberedCases) // it fails for no room alone
	return cases{last}
}

type openCase struct {
	key       build.Key
	diagnosis *diagnose.Case
	patience  *patience
}

// A patience is a context that is done when nobody waits any more, and until then can be
// made to last longer.
type patience struct {
	context.Context
	until atomic.Int64 // in nanoseconds; 0: it is done for good
}

func newPatience(lasts time.Duration) *patience {
	p := &patience{Context: context.Background()}
	p.until.Store(time.Now().Add(lasts).UnixNano())
	return p
}

// Err implements [context.Context]. Once it is an error it stays one.
func (p *patience) Err() error {
	for {
		until := p.until.Load()
		if until != 0 && time.Now().UnixNano() < until {
			return nil
		}
		if p.until.CompareAndSwap(until, 0) {
			return context.DeadlineExceeded
		}
	}
}

// more makes it last so long from now on, if it is not done.
func (p *patience) more(lasts time.Duration) bool {
	for {
		until := p.until.Load()
		if until == 0 || p.until.CompareAndSwap(until, time.Now().Add(lasts).UnixNano()) {
			return until != 0
		}
	}
}

const (
	rememberedCases = 4
	diagnosing      = 20 * time.Second // how long one answer may take
	mostObserved    = 400              // observations
)

// Observed is what was seen and read of a build that does not work.
type Observed struct {
	Observations []diagnose.Observation `json:"observations"`
	Built        bool                   `json:"built,omitempty"` // begin from what was really built, not from the plan
}

// Diagnosis is what a builder can point at, and what is left to think.
type Diagnosis struct {
	Things   []diagnose.Thing       `json:"things"`
	Readings []diagnose.Observation `json:"readings"` // of the log, since a fault was found last, as far as they still apply
	diagnose.Result
}

// Told is what somebody says of a build, or what its console printed, a line each.
type Told struct {
	Text  string `json:"text" required:"true"`
	Built bool   `json:"built,omitempty"` // of what was really built, not of the plan
}

// Heard is what of it was understood.
type Heard struct {
	Observations []diagnose.Said `json:"observations"`
	Unknown      []string        `json:"unknown"` // lines that were not understood
	Why          string          `json:"why"`     // what would be right instead of the first of them
}

// mostTold bounds what is said at once, in bytes.
const mostTold = 20_000

// hear says what was understood; nothing is concluded from it.
func (s *server) hear(c fiber.Ctx) error {
	var req Told
	if _, err := s.body(c, &req); err != nil {
		return err
	}
	if len(req.Text) > mostTold {
		return problem(http.StatusUnprocessableEntity, "That is too much at once.", "the first lines that the console prints are enough")
	}
	_, o, err := s.caseOf(c, req.Built)
	if err != nil {
		return err
	}
	out := Heard{Observations: []diagnose.Said{}, Unknown: []string{}}
	if err := s.cases.within(o, func() {
		seen, unknown := o.diagnosis.Told(req.Text)
		for _, x := range seen {
			out.Observations = append(out.Observations, o.diagnosis.Said(x))
		}
		out.Unknown = append(out.Unknown, unknown...)
		if len(unknown) > 0 {
			if _, err := o.diagnosis.SayAll(unknown[0]); err != nil {
				out.Why = sentence(err.Error())
			}
		}
	}); err != nil {
		return err
	}
	return c.JSON(out)
}

// caseOf is the diagnosis of the build that a request names, as planned or as built.
func (s *server) caseOf(c fiber.Ctx, built bool) (*store.Build, openCase, error) {
	b, lib, doc, err := s.opened(c)
	if err != nil {
		return nil, openCase{}, err
	}
	if built {
		if doc, err = assembly.AsBuilt(lib, doc); err != nil {
			return nil, openCase{}, problem(http.StatusUnprocessableEntity, sentence(err.Error()), "note what is really there, in Assemble")
		}
	}
	ctx, cancel := ask(c)
	defer cancel()
	with, err := s.instrument(ctx)
	if err != nil {
		return nil, openCase{}, err
	}
	o, err := s.cases.open(with.Meter, lib, doc)
	return b, o, err
}

func (s *server) diagnose(c fiber.Ctx) error {
	var req Observed
	if _, err := s.body(c, &req); err != nil {
		return err
	}
	if len(req.Observations) > mostObserved {
		return problem(http.StatusUnprocessableEntity, "There are too many observations.", "at most 400")
	}
	b, o, err := s.caseOf(c, req.Built)
	if err != nil {
		return err
	}
	answer, about, err := s.cases.ask(o, req.Observations)
	if err != nil {
		return err
	}
	if answer.Readings, err = s.readings(c, b.ID, about); err != nil {
		return err
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(answer)
}

// readings are those of a build's log that say something in a diagnosis.
func (s *server) readings(c fiber.Ctx, id string, about *diagnose.Case) ([]diagnose.Observation, error) {
	const most = 1000 // entries that are looked through
	ctx, cancel := ask(c)
	defer cancel()
	list, _, err := s.Store.Entries(ctx, id, store.EntryQuery{Most: most})
	if err != nil {
		return nil, err
	}
	out := []diagnose.Observation{}
	for i := range list {
		if list[i].Kind == "fault" {
			break // what was read before, was read with that in it
		}
		v, err := entryView(&list[i])
		if err != nil || v.Reading == nil {
			continue
		}
		o, ok := about.Taken(v.Reading.Check, v.Reading.Expect.Text, v.Reading.Verdict.Text)
		if ok && !slices.ContainsFunc(out, func(x diagnose.Observation) bool { return x.Ask == o.Ask }) {
			out = append(out, o)
		}
	}
	return out, nil
}

// ask goes on with a diagnosis.
func (k *cases) ask(o openCase, seen []diagnose.Observation) (*Diagnosis, *diagnose.Case, error) {
	var r *diagnose.Result
	var err error
	if err := k.within(o, func() { r, err = o.diagnosis.Ask(seen) }); err != nil {
		return nil, nil, err
	}
	if err != nil {
		return nil, nil, problem(http.StatusUnprocessableEntity, sentence(err.Error()), "")
	}
	return &Diagnosis{Things: o.diagnosis.Things(), Result: *r}, o.diagnosis, nil
}

// open is the diagnosis of a build, which begins unless it is remembered. Who opens it has a
// while to ask it.
func (k *cases) open(m *meter.Instrument, lib *build.Library, doc *build.Document) (openCase, error) {
	key := lib.Key(doc, build.Wiring|build.Layout, m)
	if o, ok := k.last.Get(key); ok && o.patience.more(diagnosing) {
		return o, nil
	}
	o := openCase{key: key, patience: newPatience(diagnosing)}
	if err := k.within(o, func() { o.diagnosis = diagnose.New(wiring.NewCache().Within(o.patience), m, lib, doc) }); err != nil {
		return openCase{}, err
	}
	k.last.Add(key, o)
	return o, nil
}

// within does something with a diagnosis, and lets go of that when it came to no end.
func (k *cases) within(o openCase, do func()) error {
	do()
	if o.patience.Err() == nil {
		return nil
	}
	k.last.Remove(o.key) // what it knows may be half done
	return problem(http.StatusUnprocessableEntity, "There is too much in this build to find a fault in it in time.", "take a copy, and take out what works")
}
