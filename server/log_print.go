package server

import (
	"bytes"
	"context"
	"fmt"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/faults/meter"
	"cablaggio/core/output/paper"
	"cablaggio/core/planning/plan"
	"cablaggio/store"
)

// fullPictures is how many pictures go on paper as they are; of more, all are small ones.
const fullPictures = 40

// printLog sends the log as pages to keep, with its pictures, by this computer's clock.
func (s *server) printLog(ctx context.Context, c fiber.Ctx, b *store.Build, all []LogEntry) error {
	lib, doc, err := s.documentOf(c, b)
	if err != nil {
		return err
	}
	pictures := 0
	for i := range all {
		if all[i].Picture != nil {
			pictures++
		}
	}
	var entries []paper.Entry
	for _, run := range runsOf(all) {
		e := run[0]
		out := paper.Entry{Made: e.Made.In(time.Local), Text: e.Text}
		if p := doc.Part(e.Part); p != nil {
			out.Part = p.Name
		}
		if e.Reading != nil {
			out.Expected = e.Reading.Expect.Text
			out.Differs = e.Reading.Verdict.Means != meter.AsExpected
		}
		if e.Picture != nil {
			if out.Picture, err = s.Store.Picture(ctx, b.ID, e.ID, pictures > fullPictures); err != nil {
				return err
			}
		}
		if len(run) > 1 {
			out.Part, out.Text = "", together(run)
		}
		entries = append(entries, out)
	}
	var out bytes.Buffer
	if err := paper.Log(&out, lib, doc, entries); err != nil {
		return err
	}
	return sendFile(c, b.Title, "-log.pdf", pdfType, out.Bytes())
}

// byItself says what a run of lines that came by themselves is of.
var byItself = map[string]string{plan.LineChange: "The plan", plan.LineProgram: "The program", plan.LineStep: "Steps", plan.LineBuilt: "As built"}

// runsOf puts lines of one kind that came by themselves, on one day and one after the other, together.
func runsOf(all []LogEntry) (runs [][]LogEntry) {
	for _, e := range all {
		if n := len(runs) - 1; n >= 0 && byItself[e.Kind] != "" {
			last := runs[n][len(runs[n])-1]
			if last.Kind == e.Kind && sameDay(last.Made, e.Made) {
				runs[n] = append(runs[n], e)
				continue
			}
		}
		runs = append(runs, []LogEntry{e})
	}
	return runs
}

func sameDay(a, b time.Time) bool {
	return a.In(time.Local).Format(time.DateOnly) == b.In(time.Local).Format(time.DateOnly)
}

// mostTogether is how many lines of a run are told.
const mostTogether = 20

func together(run []LogEntry) string {
	var said []string
	for _, e := range run[:min(len(run), mostTogether)] {
		said = append(said, e.Text)
	}
	words := byItself[run[0].Kind] + ": " + strings.Join(said, "; ")
	if more := len(run) - len(said); more > 0 {
		words += fmt.Sprintf("; and %d more", more)
	}
	return words + "."
}
