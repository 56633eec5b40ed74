package server

import (
	"bytes"
	"context"
	"time"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/meter"
	"cablaggio/core/paper"
	"cablaggio/store"
)

// fullPictures is how many pictures go on paper as they are; of more, all are small ones.
const fullPictures = 40

// printLog sends the log as pages to keep, with its pictures, by this computer's clock.
func (s *server) printLog(ctx context.Context, c fiber.Ctx, b *store.Build, all []LogEntry) error {
	lib := s.libOf(c, b)
	doc, err := lib.Parse(b.Document)
	if err != nil {
		return err
	}
	pictures := 0
	for i := range all {
		if all[i].Picture != nil {
			pictures++
		}
	}
	entries := make([]paper.Entry, len(all))
	for i, e := range all {
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
		entries[i] = out
	}
	var out bytes.Buffer
	if err := paper.Log(&out, lib, doc, entries); err != nil {
		return err
	}
	return sendFile(c, b.Title, "-log.pdf", "application/pdf", out.Bytes())
}
