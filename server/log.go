package server

import (
	"bytes"
	"context"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/meter"
	"cablaggio/core/general/picture"
	"cablaggio/store"
)

const (
	surveying   = 20 * time.Second // how long the checks of one build may take
	mostSurveys = 16               // builds whose checks are remembered
	mostNote    = 10_000           // letters
	pageOfLog   = 100
)

// surveyKey is what the checks of a build depend on.
func surveyKey(m *meter.Instrument, lib *build.Library, doc *build.Document) build.Key {
	return lib.Key(doc, build.Wiring|build.Layout, m)
}

// surveyOf returns the checks of a build with a meter.
func (s *server) surveyOf(m *meter.Instrument, lib *build.Library, doc *build.Document) (*meter.List, error) {
	key := surveyKey(m, lib, doc)
	if list, ok := s.surveys.Get(key); ok {
		return list, nil
	}
	list, err := survey(m, lib, doc)
	if err == nil {
		s.surveys.Add(key, list)
	}
	return list, err
}

// survey works the checks of a build out, unless that takes too long.
func survey(m *meter.Instrument, lib *build.Library, doc *build.Document) (*meter.List, error) {
	ctx, cancel := context.WithTimeout(context.Background(), surveying)
	defer cancel()
	list, err := m.ChecksWith(wiring.NewCache().Within(ctx), lib, doc)
	if ended(err) {
		err = problem(http.StatusUnprocessableEntity, "There is too much in this build to say what to measure.", "measure it part by part: take a copy, and take out what works")
	}
	return list, err
}

func (s *server) listChecks(c fiber.Ctx) error {
	x, err := s.checksOf(c)
	if err != nil {
		return err
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(x.list)
}

// mostFeeds is of how many readings, the newest, is concluded what feeds a build.
const mostFeeds = 200

// readSupply tells what the newest readings of the log say together about the supply.
func (s *server) readSupply(c fiber.Ctx) error {
	x, err := s.checksOf(c)
	if err != nil {
		return err
	}
	ctx, cancel := ask(c)
	defer cancel()
	entries, _, err := s.Store.Entries(ctx, c.Params("id"), store.EntryQuery{Kind: "reading", Most: mostFeeds})
	if err != nil {
		return err
	}
	taken := make([]meter.Taken, len(entries))
	for i := range entries {
		var e ReadingEntry
		if err := json.Unmarshal(entries[i].Data, &e); err != nil {
			return err
		}
		taken[i] = meter.Taken{Check: e.Check, Value: e.Verdict.Value, Over: e.Verdict.Over}
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(SupplyRead{x.meter.Feed(x.lib, x.doc, x.list, taken)})
}

// surveyed is a build with what a meter is to read in it.
type surveyed struct {
	meter *meter.Instrument
	lib   *build.Library
	doc   *build.Document
	list  *meter.List
}

// checksOf reads the meter, and the checks with it of the build that a request names.
func (s *server) checksOf(c fiber.Ctx) (x surveyed, err error) {
	if _, x.lib, x.doc, err = s.opened(c); err != nil {
		return x, err
	}
	ctx, cancel := ask(c)
	defer cancel()
	v, err := s.instrument(ctx)
	if err != nil {
		return x, err
	}
	x.meter = v.Meter
	x.list, err = s.surveyOf(x.meter, x.lib, x.doc)
	return x, err
}

// keepEntry judges a reading, or takes a note, and keeps it.
func (s *server) keepEntry(c fiber.Ctx) error {
	name, err := key(c)
	if err != nil {
		return err
	}
	var req NewEntry
	if _, err := s.body(c, &req); err != nil {
		return err
	}
	var e store.Entry
	switch req.Kind {
	case "reading":
		e, err = s.reading(c, req)
	case "note", "fault":
		if err = s.onALine(c, req.About); err == nil {
			e, err = note(req)
		}
	default:
		err = problem(http.StatusUnprocessableEntity, "There is no such entry.", "a reading, a note, or a fault that was found")
	}
	if err != nil {
		return err
	}
	return s.write(c, name, e)
}

// onALine reports whether the log of the build that a request names has a line; 0 is none.
func (s *server) onALine(c fiber.Ctx, id int64) error {
	if id == 0 {
		return nil
	}
	ctx, cancel := ask(c)
	defer cancel()
	list, _, err := s.Store.Entries(ctx, c.Params("id"), store.EntryQuery{Before: id + 1, Most: 1})
	if err != nil {
		return err
	}
	if len(list) == 0 || list[0].ID != id {
		return problem(http.StatusUnprocessableEntity, "There is no such line to write a note on.", "it may have been taken out meanwhile")
	}
	return nil
}

// write keeps an entry in the log of the build that a request names, and sends it.
func (s *server) write(c fiber.Ctx, name string, e store.Entry) error {
	ctx, cancel := ask(c)
	defer cancel()
	kept, err := s.Store.Log(ctx, c.Params("id"), name, e)
	if err != nil {
		return err
	}
	v, err := entryView(kept)
	if err != nil {
		return err
	}
	c.Status(http.StatusCreated)
	return c.JSON(v)
}

// reading judges what the meter shows.
func (s *server) reading(c fiber.Ctx, req NewEntry) (store.Entry, error) {
	x, err := s.checksOf(c)
	if err != nil {
		return store.Entry{}, err
	}
	i := slices.IndexFunc(x.list.Checks, func(k meter.Check) bool { return k.ID == req.Check })
	if i < 0 {
		return store.Entry{}, problem(http.StatusConflict, "This is not among what is to be measured any more.", "the build has changed; look at the list again")
	}
	e, err := Reading(x.meter, &x.list.Checks[i], req.Reading)
	if err != nil {
		return store.Entry{}, problem(http.StatusUnprocessableEntity, sentence(err.Error()), "")
	}
	return e, nil
}

// Reading makes the entry of a reading of a meter, judged.
func Reading(m *meter.Instrument, check *meter.Check, text string) (store.Entry, error) {
	v, err := m.Judge(check, text)
	if err != nil {
		return store.Entry{}, err
	}
	of := strings.TrimSuffix(strings.Join(append([]string{check.Do}, check.State...), " "), ".")
	data, err := json.Marshal(ReadingEntry{Of: of, Check: check.ID, Expect: check.Expect, Verdict: v})
	return store.Entry{Kind: "reading", Part: check.Part, Text: fmt.Sprintf("%s: %s", of, v.Text), Data: data}, err
}

// PictureOf makes the entry of a picture, with words beside it.
func PictureOf(data []byte, text, part string) (store.Entry, error) {
	p, err := picture.Take(data)
	if err != nil {
		return store.Entry{}, err
	}
	about, err := json.Marshal(PictureEntry{p.Width, p.Height})
	return store.Entry{
		Kind: "picture", Part: part, Text: text, Data: about,
		Picture: &store.Picture{Width: p.Width, Height: p.Height, Whole: p.Full, Small: p.Small},
	}, err
}

func note(req NewEntry) (store.Entry, error) {
	text := strings.TrimSpace(req.Text)
	switch n := utf8.RuneCountInString(text); {
	case text == "":
		return store.Entry{}, problem(http.StatusUnprocessableEntity, "There is nothing in the note.", "write what you want to remember")
	case n > mostNote:
		return store.Entry{}, problem(http.StatusUnprocessableEntity, fmt.Sprintf("The note has %d letters.", n), fmt.Sprintf("at most %d", mostNote))
	case req.Part != "" && !build.ValidID(req.Part):
		return store.Entry{}, problem(http.StatusUnprocessableEntity, "There is no such part.", "")
	}
	data, err := json.Marshal(noteData{req.About})
	return store.Entry{Kind: req.Kind, Part: req.Part, Text: text, Data: data}, err
}

// noteData is what is kept of a note beside its words.
type noteData struct {
	About int64 `json:"about,omitempty"`
}

func entryView(e *store.Entry) (LogEntry, error) {
	v := LogEntry{ID: e.ID, Revision: e.Revision, Made: e.Made, Kind: e.Kind, Part: e.Part, Text: e.Text}
	switch e.Kind {
	case "reading":
		v.Reading = &ReadingEntry{}
		err := json.Unmarshal(e.Data, v.Reading)
		if v.Reading.Of == "" { // it was written before 0.9
			v.Reading.Of, _, _ = strings.Cut(e.Text, ": "+v.Reading.Verdict.Text)
		}
		return v, err
	case "picture":
		v.Picture = &PictureEntry{}
		return v, json.Unmarshal(e.Data, v.Picture)
	case "note":
		var n noteData
		err := json.Unmarshal(e.Data, &n)
		v.About = n.About
		return v, err
	}
	return v, nil
}

// keepPicture takes a picture in, as the body, with words beside it: ?text=…&part=led1.
func (s *server) keepPicture(c fiber.Ctx) error {
	name, err := key(c)
	if err != nil {
		return err
	}
	text, part := strings.TrimSpace(c.Query("text")), c.Query("part")
	if utf8.RuneCountInString(text) > mostNote || !utf8.ValidString(text) {
		return problem(http.StatusUnprocessableEntity, "The words beside the picture cannot be kept.", fmt.Sprintf("at most %d letters", mostNote))
	}
	if part != "" && !build.ValidID(part) {
		return problem(http.StatusUnprocessableEntity, "There is no such part.", "")
	}
	data, err := s.bodyOf(c, picture.MaxBytes)
	if err != nil {
		return err
	}
	// A picture takes processor time and room: one at a time.
	s.developing.Lock()
	e, err := PictureOf(data, text, part)
	s.developing.Unlock()
	if err != nil {
		return problem(http.StatusUnprocessableEntity, sentence(err.Error()), "")
	}
	return s.write(c, name, e)
}

// picture sends the picture of an entry: whole, or ?small=true.
func (s *server) picture(c fiber.Ctx) error {
	id, err := strconv.ParseInt(c.Params("entry"), 10, 64)
	if err != nil {
		return problem(http.StatusNotFound, "There is no such entry.", "")
	}
	ctx, cancel := ask(c)
	defer cancel()
	data, err := s.Store.Picture(ctx, c.Params("id"), id, c.Query("small") == "true")
	if err != nil {
		return err
	}
	c.Set("Content-Type", jpegType)
	c.Set("Content-Security-Policy", "default-src 'none'")
	c.Set("Cache-Control", "private, max-age=31536000, immutable")
	return c.Send(data)
}

// listLog sends a page of the log: ?kind=reading&part=led1&search=dim&before=12.
func (s *server) listLog(c fiber.Ctx) error {
	before, err := count(c, "before")
	if err != nil {
		return err
	}
	ctx, cancel := ask(c)
	defer cancel()
	if _, err := s.Store.Get(ctx, c.Params("id")); err != nil && !errors.Is(err, store.ErrDeleted) {
		return err
	}
	list, more, err := s.Store.Entries(ctx, c.Params("id"), store.EntryQuery{
		Kind: c.Query("kind"), Part: c.Query("part"), Search: c.Query("search"), Before: int64(before), Most: pageOfLog,
	})
	if err != nil {
		return err
	}
	out := LogPage{Entries: []LogEntry{}, More: more}
	for i := range list {
		v, err := entryView(&list[i])
		if err != nil {
			return err
		}
		out.Entries = append(out.Entries, v)
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(out)
}

func (s *server) strikeEntry(c fiber.Ctx) error { return s.strike(c, true) }

func (s *server) restoreEntry(c fiber.Ctx) error { return s.strike(c, false) }

func (s *server) strike(c fiber.Ctx, gone bool) error {
	id, err := strconv.ParseInt(c.Params("entry"), 10, 64)
	if err != nil {
		return problem(http.StatusNotFound, "There is no such entry.", "")
	}
	ctx, cancel := ask(c)
	defer cancel()
	if err := s.Store.Strike(ctx, c.Params("id"), id, gone); err != nil {
		return err
	}
	return c.SendStatus(http.StatusNoContent)
}

// logFormat names the open format of logs.
const logFormat = "cablaggio.log/1"

// wholeLog reads the log of a build, as it was made.
func (s *server) wholeLog(ctx context.Context, id string) ([]LogEntry, error) {
	all := []LogEntry{}
	for before, more := int64(0), true; more; {
		var list []store.Entry
		var err error
		if list, more, err = s.Store.Entries(ctx, id, store.EntryQuery{Before: before, Most: 1000}); err != nil {
			return nil, err
		}
		for i := range list {
			v, err := entryView(&list[i])
			if err != nil {
				return nil, err
			}
			all = append(all, v)
			before = v.ID
		}
	}
	slices.Reverse(all)
	return all, nil
}

// exportLog sends the whole log as a file: the readings as a table, or all of it as JSON.
func (s *server) exportLog(c fiber.Ctx) error {
	format := c.Params("format")
	if format != "readings.csv" && format != "log.json" && format != "log.pdf" {
		return problem(http.StatusNotFound, "There is no such format.", "the log goes out as log.pdf, readings.csv or log.json")
	}
	ctx, cancel := ask(c)
	defer cancel()
	b, err := s.Store.Get(ctx, c.Params("id"))
	if err != nil {
		return err
	}
	all, err := s.wholeLog(ctx, b.ID)
	if err != nil {
		return err
	}
	var out bytes.Buffer
	if format == "log.json" {
		err = writeJSON(&out, LogFile{Format: logFormat, Title: b.Title, Entries: all})
		return errors.Join(err, sendFile(c, b.Title, "-log.json", jsonType, out.Bytes()))
	}
	if format == "log.pdf" {
		return s.printLog(ctx, c, b, all)
	}
	w := csv.NewWriter(&out)
	rows := [][]string{{"made", "part", "measured", "reading", "expected", "verdict", "state of the plan"}}
	for _, e := range all {
		if r := e.Reading; r != nil {
			rows = append(rows, []string{e.Made.Format(time.RFC3339), e.Part, r.Of, r.Verdict.Text, r.Expect.Text, r.Verdict.Means.Words(), strconv.Itoa(e.Revision)})
		}
	}
	for _, row := range rows {
		for i := range row {
			row[i] = build.Cell(row[i])
		}
		if err := w.Write(row); err != nil {
			return err
		}
	}
	w.Flush()
	return errors.Join(w.Error(), sendFile(c, b.Title, "-readings.csv", csvType+"; charset=utf-8", out.Bytes()))
}
