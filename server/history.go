package server

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/output/table"
	"cablaggio/core/planning/plan"
	"cablaggio/starts"
)

// pageOfRevisions is how much of the history comes at once.
const pageOfRevisions = 200

// listRevisions sends a page of the history, the newest or those before a number:
// ?before=801.
func (s *server) listRevisions(c fiber.Ctx) error {
	before, err := count(c, "before")
	if err != nil {
		return err
	}
	ctx, cancel := ask(c)
	defer cancel()
	b, err := s.Store.Get(ctx, c.Params("id"))
	if err != nil {
		return err
	}
	list, err := s.Store.Revisions(ctx, b.ID, before, pageOfRevisions)
	if err != nil {
		return err
	}
	out := RevisionList{Revisions: []RevisionView{}, More: len(list) > 0 && list[len(list)-1].N > 1}
	for _, r := range list {
		out.Revisions = append(out.Revisions, RevisionView{
			N: r.N, Summary: r.Summary, Created: r.Created, Shown: r.N == b.Tag.Revision,
			Counts: check.Counts{Stop: r.Counts.Stops, Care: r.Counts.Cares, Note: r.Counts.Notes},
		})
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(out)
}

// getRevision returns an earlier state with what is different in it. To go back
// to it, send its document as an edit that replaces the whole build.
func (s *server) getRevision(c fiber.Ctx) error {
	n, err := strconv.Atoi(c.Params("n"))
	if err != nil {
		return problem(http.StatusNotFound, "There is no such revision.", "revisions are numbered from 1")
	}
	v, err := s.get(c)
	if err != nil {
		return err
	}
	ctx, cancel := ask(c)
	defer cancel()
	data, err := s.Store.Document(ctx, v.ID, n)
	if err != nil {
		return err
	}
	doc, err := v.lib.Parse(data)
	if err != nil {
		return err
	}
	return c.JSON(RevisionDetail{doc, build.Diff(v.Document, doc)})
}

// comparing is how long all the boards together may take.
const comparing = 2 * time.Second

// compareBoards says what would be different if the build moved to each of the
// boards.
func (s *server) compareBoards(c fiber.Ctx) error {
	v, err := s.get(c)
	if err != nil {
		return err
	}
	out := []Comparison{}
	ctx, cancel := context.WithTimeout(c, comparing)
	defer cancel()
	for _, b := range s.lib(c).Boards {
		x := Comparison{Board: b.ID, Changes: []string{}}
		lib := s.lib(c).For(v.Document)
		doc, _, err := plan.Apply(lib, v.Document, []plan.Edit{plan.Board{Board: b.ID}})
		if err == nil {
			var a *check.Analysis
			a, err = s.computer.memory.CheckWithin(ctx, lib, doc)
			if ended(err) {
				err = errors.New("this takes too long to work out for each board; move the build to see")
			}
			if err == nil {
				x.Fits, x.Counts = true, a.Counts
				x.Changes = differences(v, doc, a)
			}
		}
		if err != nil {
			x.Reason = sentence(err.Error())
		}
		out = append(out, x)
	}
	return c.JSON(out)
}

// differences says what is new about a build on another board: what it is
// wired like, and which findings come and go.
func differences(v *BuildView, doc *build.Document, a *check.Analysis) []string {
	out := []string{}
	pins, values := 0, 0
	var rest []string
	for _, line := range build.Diff(v.Document, doc) {
		switch {
		case strings.HasPrefix(line, "the board is"), strings.HasPrefix(line, "the supply"):
		case strings.Contains(line, " is on "):
			pins++
		case strings.HasSuffix(line, " has other values"):
			values++
		default:
			rest = append(rest, line)
		}
	}
	titles := func(a *check.Analysis) map[string]check.Finding {
		m := map[string]check.Finding{}
		for _, x := range a.Findings {
			if x.Level != check.Note {
				m[x.ID] = x
			}
		}
		return m
	}
	before, after := titles(v.Analysis), titles(a)
	for _, x := range a.Findings {
		if _, known := before[x.ID]; !known && x.Level != check.Note {
			out = append(out, "new "+string(x.Level)+": "+x.Title)
		}
	}
	for _, x := range v.Analysis.Findings {
		if _, still := after[x.ID]; !still && x.Level != check.Note {
			out = append(out, "gone: "+x.Title)
		}
	}
	if pins > 0 {
		out = append(out, fmt.Sprintf("%d parts are on other pins", pins))
	}
	if values > 0 {
		out = append(out, fmt.Sprintf("%d resistors have other values", values))
	}
	return append(out, rest...)
}

// readPins says what a pin table would move, without taking it.
func (s *server) readPins(c fiber.Ctx) error {
	var req Text
	if _, err := s.body(c, &req); err != nil {
		return err
	}
	v, err := s.get(c)
	if err != nil {
		return err
	}
	edits, words, err := table.ReadPins(v.lib, v.Document, strings.NewReader(req.Text))
	if err != nil {
		return err
	}
	if edits == nil {
		edits, words = []plan.Edit{}, []string{}
	}
	return c.JSON(PinTable{edits, words})
}

func (s *server) listStarts(c fiber.Ctx) error {
	out := StartList{Starts: []StartView{}}
	for _, st := range starts.All() {
		doc, err := s.lib(c).Parse(st.Data)
		if err != nil {
			return err
		}
		out.Starts = append(out.Starts, StartView{st.ID, st.Job, doc, st.Programs})
	}
	return c.JSON(out)
}
