package server

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"path"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/document/drawer"
	"cablaggio/core/general/version"
	"cablaggio/core/judgement/shopping"
	"cablaggio/core/planning/plan"
	"cablaggio/store"
)

// An archive takes a build elsewhere in one file, a ZIP:
//
//	archive.json     which format it is in, and what wrote it; archives before 0.9 have none
//	build.json       the document
//	log.json         its log, in the open format of logs
//	pictures/12.jpg  the pictures of the log, by their entries
//	board.json       its board, when that is one of the builder's own
//	drawer.json      what the drawer has of its parts
const (
	maxArchive  = 64 << 20 // bytes that come in
	maxUnpacked = 96 << 20 // and what they may unpack to, together
	maxFiles    = 2_000
)

// archiveFormat is the name and version of the format of archives.
const archiveFormat = "cablaggio.archive/1"

// About says of an archive which format it is in.
type About struct {
	Format string `json:"format"`
	By     string `json:"by"` // the program that wrote it
}

func (s *server) exportArchive(c fiber.Ctx) error {
	ctx, cancel := ask(c)
	defer cancel()
	b, err := s.Store.Get(ctx, c.Params("id"))
	if err != nil {
		return err
	}
	log, err := s.wholeLog(ctx, b.ID)
	if err != nil {
		return err
	}
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	add := func(name string, write func(io.Writer) error) {
		if err == nil {
			var w io.Writer
			if w, err = z.Create(name); err == nil {
				err = write(w)
			}
		}
	}
	lib, doc, err := s.documentOf(c, b)
	if err != nil {
		return err
	}
	add("archive.json", func(w io.Writer) error { return writeJSON(w, About{archiveFormat, version.Name}) })
	add("build.json", func(w io.Writer) error { return writeJSON(w, doc) })
	add("log.json", func(w io.Writer) error { return writeJSON(w, LogFile{Format: logFormat, Title: b.Title, Entries: log}) })
	if p, ok := lib.Board(doc.Board); ok && !s.shipped(p.ID) {
		add("board.json", func(w io.Writer) error { return writeJSON(w, p) })
	}
	items, err := s.Store.Drawer(ctx)
	if err != nil {
		return err
	}
	if used := shopping.Used(lib, doc, fromStore(items)); len(used) > 0 {
		add("drawer.json", func(w io.Writer) error { return writeJSON(w, DrawerView{Items: used}) })
	}
	for _, e := range log {
		if e.Picture == nil {
			continue
		}
		add(pictureName(e.ID), func(w io.Writer) error {
			data, err := s.Store.Picture(ctx, b.ID, e.ID, false)
			if err == nil {
				_, err = w.Write(data)
			}
			return err
		})
		if out.Len() > maxArchive {
			return problem(http.StatusUnprocessableEntity, "There are too many pictures for one archive.", "cablaggio backup takes them all")
		}
	}
	if err = errors.Join(err, z.Close()); err != nil {
		return err
	}
	return sendFile(c, b.Title, ".zip", zipType, out.Bytes())
}

func pictureName(entry int64) string { return fmt.Sprintf("pictures/%d.jpg", entry) }

// importArchive takes an archive in as a new build.
func (s *server) importArchive(c fiber.Ctx) error {
	name, err := key(c)
	if err != nil {
		return err
	}
	data, err := s.bodyOf(c, maxArchive)
	if err != nil {
		return err
	}
	a, err := readArchive(data)
	if err != nil {
		return problem(http.StatusUnprocessableEntity, "This is not an archive that can be taken.", err.Error())
	}
	if err := s.takeBoard(c, a.board); err != nil {
		return err
	}
	doc, draft, analysis, err := s.draft(c, a.doc, "imported with its log")
	if err != nil {
		return err
	}
	if err := s.takeItems(c, a.items); err != nil {
		return err
	}
	draft.Key, draft.Asked, draft.BoardN = name, data, s.newest(c, doc.Board)
	ctx, cancel := ask(c)
	defer cancel()
	b, err := s.Store.Create(ctx, draft)
	if err != nil {
		return err
	}
	now := map[int64]int64{} // the numbers that lines have here
	for i, e := range a.entries {
		if e.about != 0 {
			if e.Data, err = json.Marshal(noteData{now[e.about]}); err != nil {
				return err
			}
		}
		// A request that is repeated makes each line once.
		kept, err := s.Store.Log(ctx, b.ID, fmt.Sprintf("archive-%d", i), e.Entry)
		if err != nil {
			return err
		}
		now[e.id] = kept.ID
	}
	c.Status(http.StatusCreated)
	return s.sendKept(c, b, draft, doc, analysis)
}

// takeBoard keeps the board that came with an archive, unless it is there as it is.
func (s *server) takeBoard(c fiber.Ctx, p *board.Profile) error {
	if p == nil || s.shipped(p.ID) {
		return nil
	}
	data, err := json.Marshal(p)
	if err != nil {
		return err
	}
	if have, ok := s.lib(c).Board(p.ID); ok {
		if there, err := json.Marshal(have); err != nil || bytes.Equal(there, data) {
			return err
		}
	}
	ctx, cancel := ask(c)
	defer cancel()
	if _, err := s.Store.KeepBoard(ctx, p.ID, s.newest(c, p.ID), data); err != nil {
		return err
	}
	own, err := s.ownThings(ctx)
	c.Locals(libraryKey, own)
	return err
}

// takeItems puts what came with an archive into the drawer, but for what is there.
func (s *server) takeItems(c fiber.Ctx, items []drawer.Item) error {
	if err := drawer.Check(s.lib(c).Catalogue, items); err != nil || len(items) == 0 {
		return err
	}
	ctx, cancel := ask(c)
	defer cancel()
	for {
		tags, err := s.Store.Tags(ctx)
		if err != nil {
			return err
		}
		have, err := s.Store.Drawer(ctx)
		if err != nil {
			return err
		}
		missing := drawer.Missing(items, fromStore(have))
		if len(missing) == 0 || len(have)+len(missing) > drawer.MaxItems {
			return nil // a drawer that is full takes nothing more; the build comes in all the same
		}
		var stale *store.StaleError
		if err := s.Store.FillDrawer(ctx, tags.Drawer, append(have, toStore(missing)...)); !errors.As(err, &stale) {
			return err
		}
	}
}

var errTooMuch = fmt.Errorf("it unpacks to more than %d MB", maxUnpacked>>20)

// archived is what an archive holds.
type archived struct {
	doc     *build.Document
	board   *board.Profile
	items   []drawer.Item
	entries []archivedEntry
}

// archivedEntry is a line of an archived log; id and about are numbers of the log that it was in.
type archivedEntry struct {
	store.Entry
	id, about int64
}

// readArchive reads an archive. Only names that an archive has are looked at, and no more
// is unpacked than an archive may hold.
func readArchive(data []byte) (*archived, error) {
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return nil, errors.New("it is not a ZIP file, or it was cut off")
	}
	if len(z.File) > maxFiles {
		return nil, fmt.Errorf("it has %d files; at most %d", len(z.File), maxFiles)
	}
	left := int64(maxUnpacked)
	var says uint64
	for _, f := range z.File {
		says += f.UncompressedSize64
	}
	if says > maxUnpacked {
		return nil, errTooMuch
	}
	files := map[string][]byte{}
	for _, f := range z.File {
		if dir, base := path.Split(f.Name); !slices.Contains([]string{"archive.json", "build.json", "log.json", "board.json", "drawer.json"}, f.Name) &&
			(dir != "pictures/" || !strings.HasSuffix(base, ".jpg")) {
			return nil, fmt.Errorf("there is a file in it that does not belong there: %.60q", f.Name)
		}
		r, err := f.Open()
		if err != nil {
			return nil, err
		}
		text, err := io.ReadAll(io.LimitReader(r, left+1))
		if err = errors.Join(err, r.Close()); err != nil {
			return nil, fmt.Errorf("%s: %w", f.Name, err)
		}
		if left -= int64(len(text)); left < 0 {
			return nil, errTooMuch // whatever it said
		}
		files[f.Name] = text
	}
	if text := files["archive.json"]; text != nil {
		var about About
		if err := json.Unmarshal(text, &about); err != nil {
			return nil, fmt.Errorf("archive.json: %w", err)
		}
		if about.Format != archiveFormat {
			return nil, fmt.Errorf("archive.json: %.60q, written by %.60q, is not a format that this program reads; it reads %q", about.Format, about.By, archiveFormat)
		}
	}
	out := &archived{doc: &build.Document{}}
	if files["build.json"] == nil {
		return nil, errors.New("there is no build.json in it")
	}
	if err := build.Decode(files["build.json"], out.doc); err != nil {
		return nil, fmt.Errorf("build.json: %w", err)
	}
	if text := files["board.json"]; text != nil {
		if out.board, err = board.Parse(bytes.NewReader(text)); err != nil {
			return nil, fmt.Errorf("board.json: %w", err)
		}
		if !build.ValidID(out.board.ID) {
			return nil, errors.New("board.json: its id is not one")
		}
	}
	if text := files["drawer.json"]; text != nil {
		var d DrawerView
		if err := build.Decode(text, &d); err != nil {
			return nil, fmt.Errorf("drawer.json: %w", err)
		}
		out.items = d.Items
	}
	out.entries, err = entriesOf(files)
	return out, err
}

// plainLines are the kinds of lines of a log that have words alone.
var plainLines = []string{"note", "fault", plan.LineChange, plan.LineProgram, plan.LineStep, plan.LineBuilt}

// entriesOf reads the log of an archive, with its pictures.
func entriesOf(files map[string][]byte) (out []archivedEntry, err error) {
	if files["log.json"] == nil {
		return nil, nil
	}
	var log LogFile
	if err := json.Unmarshal(files["log.json"], &log); err != nil {
		return nil, fmt.Errorf("log.json: %w", err)
	}
	if log.Format != logFormat {
		return nil, fmt.Errorf("log.json: %.60q is not a format that this program reads; it reads %q", log.Format, logFormat)
	}
	for i, x := range log.Entries {
		where := "log.json, line " + strconv.Itoa(i+1)
		e, err := note(NewEntry{Text: x.Text, Part: x.Part})
		if err != nil && !(x.Kind == "picture" && x.Text == "") {
			return nil, fmt.Errorf("%s: %w", where, err)
		}
		switch {
		case slices.Contains(plainLines, x.Kind):
		case x.Kind == "reading" && x.Reading != nil:
			if e.Data, err = json.Marshal(x.Reading); err != nil {
				return nil, fmt.Errorf("%s: %w", where, err)
			}
		case x.Kind == "picture":
			if e, err = PictureOf(files[pictureName(x.ID)], x.Text, e.Part); err != nil {
				return nil, fmt.Errorf("%s: %s: %w", where, pictureName(x.ID), err)
			}
		default:
			return nil, fmt.Errorf("%s: %.20q is not a kind of entry", where, x.Kind)
		}
		e.Kind, e.Made = x.Kind, x.Made
		line := archivedEntry{Entry: e, id: x.ID}
		if x.Kind == "note" {
			line.about = x.About
		}
		out = append(out, line)
	}
	return out, nil
}
