package server

import (
	"encoding/json"
	"slices"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/document/build"
	"cablaggio/core/faults/meter"
	"cablaggio/core/output/assembly"
	"cablaggio/core/output/todo"
	"cablaggio/store"
)

// next says what is to be done next with a build, by what is known of it: nothing is run or measured
// for it.
func (s *server) next(c fiber.Ctx) error {
	v, err := s.get(c)
	if err != nil {
		return err
	}
	k := todo.Known{Parts: len(v.Document.Parts), Stops: v.Analysis.Counts.Stop, Partly: len(v.Analysis.Missing) > 0, Wired: len(v.Analysis.Pins)}
	k.Program = s.codeKnown(v.lib, v.Document)
	// A layout takes its time, and is worked out for who assembles.
	if a := v.Document.Assembly; a != nil && (len(a.Done) > 0 || a.Built != nil) {
		var r *assembly.Report
		s.computer.inTurn(v.Document, func() { r = s.assembled.Make(v.lib, v.Document) })
		k.Steps = stepsKnown(r)
	}
	k.Should = s.shouldKnown(v.lib, v.Document)
	if k.Steps.All > 0 && k.Steps.Done == k.Steps.All {
		if k.Meter, err = s.meterKnown(c, v); err != nil {
			return err
		}
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(todo.Of(k))
}

// codeKnown is what was found of a program when it was looked at last.
func (s *server) codeKnown(lib *build.Library, doc *build.Document) (code todo.Code) {
	if doc.Program == nil {
		return code
	}
	code.There = true
	a, ok := s.programs.last.Get(lib.Key(doc, build.Wiring|build.Code))
	if !ok {
		return code
	}
	code.Seen = true
	code.Part = len(a.Missing) > 0
	if code.Wrong = a.Counts.Stop; !a.Compiles {
		code.Wrong = max(1, len(a.Messages))
	}
	return code
}

func stepsKnown(r *assembly.Report) (steps todo.Steps) {
	steps.Begun = true
	steps.Placed, steps.All = r.Placement != nil, len(r.Steps)
	for _, x := range r.Steps {
		if x.Done {
			steps.Done++
		}
	}
	if i := slices.IndexFunc(r.Steps, func(x assembly.Step) bool { return !x.Done }); i >= 0 {
		steps.Loads = r.Steps[i].ID == assembly.LoadStep
	}
	if r.Built != nil {
		steps.Differ = len(r.Built.Differences)
	}
	return steps
}

// shouldKnown is how the sentences of a build were judged when they were tried last.
func (s *server) shouldKnown(lib *build.Library, doc *build.Document) todo.Should {
	out := todo.Should{Said: len(doc.Should)}
	verdicts, ok := s.programs.tried.Get(triedKey(lib, doc, doc.Should, false))
	if !ok {
		return out
	}
	out.Tried = true
	for _, v := range verdicts {
		switch {
		case v.Holds:
			out.Holds++
		case v.Broken != nil:
			out.Broken++
		case v.Never:
			out.Open++
		}
	}
	return out
}

// triedKey is what the verdict on sentences depends on.
func triedKey(lib *build.Library, doc *build.Document, sentences []string, built bool) build.Key {
	of := build.Wiring | build.Code
	if built {
		of |= build.Layout | build.Progress
	}
	return lib.Key(doc, of, sentences, built)
}

// meterKnown is what was measured of what there is to measure: the newest reading of each check counts.
func (s *server) meterKnown(c fiber.Ctx, v *BuildView) (out todo.Meter, err error) {
	ctx, cancel := ask(c)
	defer cancel()
	m, err := s.instrument(ctx)
	if err != nil {
		return out, err
	}
	list, ok := s.surveys.Get(surveyKey(m.Meter, v.lib, v.Document))
	if !ok {
		return out, nil
	}
	entries, _, err := s.Store.Entries(ctx, c.Params("id"), store.EntryQuery{Kind: "reading", Most: mostFeeds})
	if err != nil {
		return out, err
	}
	newest := map[string]ReadingEntry{}
	for i := range entries { // the newest first
		var e ReadingEntry
		if err := json.Unmarshal(entries[i].Data, &e); err != nil {
			return out, err
		}
		if _, ok := newest[e.Check]; !ok {
			newest[e.Check] = e
		}
	}
	out.Known, out.All = true, len(list.Checks)
	for _, check := range list.Checks {
		// One of what was expected otherwise then is none.
		if read, ok := newest[check.ID]; ok && read.Expect.Text == check.Expect.Text {
			out.Read++
			if read.Verdict.Means == meter.NotSo {
				out.Wrong++
			}
		}
	}
	return out, nil
}
