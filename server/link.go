package server

import (
	"context"
	"errors"
	"io"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/document/build"
	"cablaggio/core/faults/diagnose"
	"cablaggio/core/output/assembly"
	"cablaggio/link"
	"cablaggio/link/probe"
	"cablaggio/link/standin"
)

const (
	benchPort = "bench"          // is no port: the open build on the simulated bench
	mostPort  = 200              // letters of a port's name
	askingFor = 30 * time.Second // how long a board is asked at most
)

// PortList is where a board may be.
type PortList struct {
	Ports []link.Port `json:"ports"`
	Bench string      `json:"bench"` // what stands for the simulated bench among them
}

// BoardAsked asks the board of a build.
type BoardAsked struct {
	Port string `json:"port" required:"true"` // its name, or that of the bench
	// Hand is what somebody holds now, of those that an answer lists: only that is asked about, and put
	// to what was answered before.
	Hand         string                 `json:"hand,omitempty"`
	Observations []diagnose.Observation `json:"observations,omitempty"`
}

// BoardAnswers is what a board answered, and what that tells.
type BoardAnswers struct {
	*diagnose.Answered
	Observations []diagnose.Observation `json:"observations"` // to go on with in a diagnosis
	Built        bool                   `json:"built"`        // the simulated bench is as it was noted as built
	Hands        []BoardHand            `json:"hands"`        // that somebody can hold meanwhile
}

// BoardHand is something that somebody can hold while a board is asked.
type BoardHand struct {
	Hand    string `json:"hand"`
	Of      string `json:"of"` // the part
	Setting string `json:"setting"`
	Done    bool   `json:"done"` // it was asked about
}

// ports lists the ports of this computer.
func (s *server) ports(c fiber.Ctx) error {
	list, err := link.Ports()
	if err != nil {
		return problem(http.StatusInternalServerError, sentence(err.Error()), "name the port yourself")
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(PortList{list, benchPort})
}

// probing sends the program that a board answers with.
func (s *server) probing(c fiber.Ctx) error {
	_, lib, doc, err := s.opened(c)
	if err != nil {
		return err
	}
	profile, _ := lib.Board(doc.Board)
	p, err := probe.Program(profile, build.Language(c.Query("language", string(build.CPP))))
	if err != nil {
		return problem(http.StatusUnprocessableEntity, sentence(err.Error()), "")
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(p)
}

// askBoard asks the board of a build what it reads at its pins. Only the port that is named is
// opened, and it is closed again.
func (s *server) askBoard(c fiber.Ctx) error {
	var req BoardAsked
	if _, err := s.body(c, &req); err != nil {
		return err
	}
	if req.Port == "" || len(req.Port) > mostPort || strings.ContainsAny(req.Port, "\x00\n") {
		return problem(http.StatusUnprocessableEntity, "That is no name of a port.", "one of the list, as /dev/ttyACM0, or the bench")
	}
	if len(req.Observations) > mostObserved {
		return problem(http.StatusUnprocessableEntity, "There are too many observations.", "at most 400")
	}
	_, lib, doc, err := s.opened(c)
	if err != nil {
		return err
	}
	_, o, err := s.caseOf(c, false)
	if err != nil {
		return err
	}
	if !s.asking.TryLock() {
		return problem(http.StatusConflict, "A board is being asked already.", "wait until it has answered")
	}
	defer s.asking.Unlock()
	ctx, cancel := context.WithTimeout(c.Context(), askingFor)
	defer cancel()
	out := BoardAnswers{}
	var line io.ReadWriteCloser
	if req.Port == benchPort {
		line, out.Built, err = s.onVirtual(ctx, lib, doc)
	} else if line, err = link.Open(req.Port, link.Rate); err != nil {
		err = problem(http.StatusUnprocessableEntity, sentence(err.Error()), "")
	}
	if err != nil {
		return err
	}
	defer line.Close()
	profile, _ := lib.Board(doc.Board)
	asks := o.diagnosis.PinAsks()
	if req.Hand != "" {
		k := slices.IndexFunc(asks, func(a diagnose.PinAsk) bool { return a.Hand() == req.Hand })
		if k < 0 {
			return problem(http.StatusUnprocessableEntity, "Nothing of this build is held like that.", "one of the hands that an answer lists")
		}
		if bench, ok := line.(*standin.Virtual); ok {
			if err := bench.Hold(asks[k].Of, asks[k].Setting); err != nil {
				return problem(http.StatusUnprocessableEntity, sentence(err.Error()), "")
			}
		}
	}
	b, err := probe.Begin(ctx, line, probe.ComesUp)
	if err == nil {
		out.Observations, err = b.Interview(ctx, profile, asks, req.Hand, func(int, int) {})
	}
	if err != nil {
		return unanswered(err)
	}
	out.Observations = with(req.Observations, out.Observations)
	out.Hands = handsOf(asks, out.Observations)
	var wrong error
	if err := s.cases.within(o, func() { out.Answered, wrong = o.diagnosis.Answered(out.Observations) }); err != nil {
		return err
	}
	if wrong != nil {
		return problem(http.StatusUnprocessableEntity, sentence(wrong.Error()), "ask the board anew")
	}
	if err := s.logAsked(c, out.Answered); err != nil {
		return err
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(out)
}

// logAsked keeps what a board answered in the log of its build.
func (s *server) logAsked(c fiber.Ctx, said *diagnose.Answered) error {
	text := "The board was asked. " + said.Words
	for _, odd := range said.Odd {
		text += "\n" + build.Capital(odd)
	}
	e, err := note(NewEntry{Kind: "note", Text: text})
	if err != nil {
		return err
	}
	ctx, cancel := ask(c)
	defer cancel()
	_, err = s.Store.Log(ctx, c.Params("id"), "", e)
	return err
}

// with is what was answered, with later answers in place of earlier ones to the same question.
func with(before, now []diagnose.Observation) []diagnose.Observation {
	return append(slices.DeleteFunc(slices.Clone(before), func(o diagnose.Observation) bool {
		return slices.ContainsFunc(now, func(n diagnose.Observation) bool { return n.Ask == o.Ask })
	}), now...)
}

// handsOf lists what somebody can hold, and which of it was asked about.
func handsOf(asks []diagnose.PinAsk, seen []diagnose.Observation) []BoardHand {
	out := []BoardHand{}
	for _, a := range asks {
		if a.Of == "" || slices.ContainsFunc(out, func(h BoardHand) bool { return h.Hand == a.Hand() }) {
			continue
		}
		done := slices.ContainsFunc(seen, func(o diagnose.Observation) bool { return o.Ask == a.ID })
		out = append(out, BoardHand{a.Hand(), a.Of, a.Setting, done})
	}
	return out
}

// unanswered is a board that does not answer, in words.
func unanswered(err error) error {
	if errors.Is(err, context.DeadlineExceeded) || errors.Is(err, context.Canceled) {
		return problem(http.StatusUnprocessableEntity, "The board takes too long to answer.", "reset it, and ask again")
	}
	return problem(http.StatusUnprocessableEntity, sentence(err.Error()), "")
}

// onVirtual is the simulated bench with the probing program: as it was built, where somebody noted
// that, or else as planned.
func (s *server) onVirtual(ctx context.Context, lib *build.Library, doc *build.Document) (line io.ReadWriteCloser, built bool, err error) {
	profile, _ := lib.Board(doc.Board)
	doc = doc.Clone()
	if doc.Program, err = probe.Program(profile, build.CPP); err != nil {
		return nil, false, err
	}
	built = doc.Assembly != nil && doc.Assembly.Built != nil
	made, err := s.programs.compile(ctx, lib, doc)
	if err != nil {
		return nil, false, err
	}
	if built {
		if doc, err = assembly.AsBuilt(lib, doc); err != nil {
			return nil, false, problem(http.StatusUnprocessableEntity, sentence(err.Error()), "")
		}
	}
	v, err := standin.NewVirtual(ctx, s.programs.known.Build(lib, bareOf(doc)), made, 1)
	return v, built, err
}
