package server

import (
	"cmp"
	"errors"
	"math"
	"math/rand/v2"
	"net/http"
	"slices"
	"time"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/document/build"
	"cablaggio/core/faults/diagnose"
	"cablaggio/core/faults/drill"
	"cablaggio/core/faults/fault"
	"cablaggio/core/faults/meter"
	"cablaggio/starts"
	"cablaggio/store"
)

// DrillList is what can be drilled.
type DrillList struct {
	Lessons []drill.Lesson `json:"lessons"`
	Builds  []DrillBuild   `json:"builds"`
}

// DrillBuild is a ready build that faults can be drawn in.
type DrillBuild struct {
	ID    string `json:"id"`
	Title string `json:"title"`
}

// NewDrill asks for a drill: that of a lesson, of a code, or one that is drawn.
type NewDrill struct {
	Lesson string     `json:"lesson,omitempty"`
	Code   string     `json:"code,omitempty"`
	Build  string     `json:"build,omitempty"` // to draw in: a ready one, or the id of one's own; "" is any ready one
	Kind   fault.Kind `json:"kind,omitempty"`  // to draw; "" is any
}

// DrillView is a drill as a learner sees it: all but what is wrong.
type DrillView struct {
	Code   string       `json:"code"`
	Title  string       `json:"title"`
	Map    HoleMap      `json:"map"`
	Does   []DrillDoing `json:"does"`   // what everything does
	Parts  []DrillPart  `json:"parts"`  // at which one can ask
	Causes []DrillCause `json:"causes"` // that can be named
}

// DrillDoing is what one thing does, beside what it should.
type DrillDoing struct {
	Name   string `json:"name"`
	When   string `json:"when"`
	Should string `json:"should"`
	Does   string `json:"does"`
	Wrong  bool   `json:"wrong"`

	ask string
}

// DrillPart is a part, or with an empty id the board.
type DrillPart struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// DrillCause is something that may be the matter.
type DrillCause struct {
	Cure  string   `json:"cure"`
	Words string   `json:"words"`
	Parts []string `json:"parts"`
}

// DrillChoices is what can be asked at a part.
type DrillChoices struct {
	Choices []diagnose.Choice `json:"choices"`
}

// DrillAsk asks something of the bench of a drill.
type DrillAsk struct {
	Ask string `json:"ask" required:"true"`
}

// DrillAnswer is what the bench answers.
type DrillAnswer struct {
	diagnose.Observation
	Words string `json:"words"`
}

// DrillHint is what the diagnosis would ask next, for what is known already.
type DrillHint struct {
	Ask   string `json:"ask"` // "": nothing more
	Words string `json:"words"`
	Part  string `json:"part"`
}

// DrillGuess names what is wrong: a cure of the list.
type DrillGuess struct {
	Cure   string  `json:"cure" required:"true"`
	Spent  float64 `json:"spent"`            // the trouble until then
	Lesson string  `json:"lesson,omitempty"` // that it is; none of a drawn one
}

// DrillFound is a drill that was ended.
type DrillFound struct {
	Code   string     `json:"code"`
	Lesson string     `json:"lesson,omitempty"`
	Kind   fault.Kind `json:"kind"`
	Spent  float64    `json:"spent"`
	Par    float64    `json:"par"` // what the diagnosis would have spent
	Made   time.Time  `json:"made"`
}

// DrillRecord is how drills went, the first one first.
type DrillRecord struct {
	Found []DrillFound `json:"found"`
}

// DrillEnd says whether it was that, and then what it was.
type DrillEnd struct {
	Right   bool       `json:"right"`
	Words   string     `json:"words,omitempty"`
	Cure    string     `json:"cure,omitempty"`
	Kind    fault.Kind `json:"kind,omitempty"`
	Teaches string     `json:"teaches,omitempty"`
	Par     float64    `json:"par,omitempty"` // what the diagnosis would have spent
}

func (s *server) listDrills(c fiber.Ctx) error {
	out := DrillList{Lessons: drill.Lessons(), Builds: []DrillBuild{}}
	for _, st := range starts.All() {
		doc, err := s.lib(c).Parse(st.Data)
		if err != nil {
			return err
		}
		out.Builds = append(out.Builds, DrillBuild{st.ID, doc.Title})
	}
	return c.JSON(out)
}

// drilled is a drill with its build and its bench.
type drilled struct {
	*drill.Drill
	lib   *build.Library
	doc   *build.Document
	about *diagnose.Case
	bench *diagnose.Bench
}

// drillCase is the diagnosis of a ready build, by its name, or of one of the builder's, by its
// id.
func (s *server) drillCase(c fiber.Ctx, name string) (d drilled, err error) {
	d.lib = s.lib(c)
	i := slices.IndexFunc(starts.All(), func(st starts.Start) bool { return st.ID == name })
	if i >= 0 {
		d.doc, err = d.lib.Parse(starts.All()[i].Data)
	} else {
		ctx, cancel := ask(c)
		defer cancel()
		b, missing := s.Store.Get(ctx, name)
		if errors.Is(missing, store.ErrNotFound) {
			return d, problem(http.StatusNotFound, "There is no such build to drill on.", "the list of drills names the ready ones; others are where they were made")
		} else if missing != nil {
			return d, missing
		}
		d.lib, d.doc, err = s.documentOf(c, b)
	}
	if err != nil {
		return d, err
	}
	o, err := s.cases.open(meter.Handheld(), d.lib, d.doc) // so that a code is the same drill everywhere
	d.about = o.diagnosis
	return d, err
}

// drillOf finds the drill of a code.
func (s *server) drillOf(c fiber.Ctx, code string) (*drilled, error) {
	name, ok := drill.BuildOf(code)
	if !ok {
		return nil, problem(http.StatusNotFound, "This is not the code of a drill.", "it looks like BLINK-7K2QMA")
	}
	d, err := s.drillCase(c, name)
	if err != nil {
		return nil, err
	}
	found, err := drill.Find(code, d.about)
	if err != nil {
		return nil, problem(http.StatusNotFound, sentence(err.Error()), "")
	}
	return d.on(found)
}

// on puts the fault of a drill on its bench.
func (d drilled) on(found *drill.Drill) (*drilled, error) {
	b, ok := d.about.Bench(found.Fault.ID)
	if !ok {
		return nil, problem(http.StatusNotFound, "There is no such drill.", "")
	}
	d.Drill, d.bench = found, b
	return &d, nil
}

// beginDrill draws a drill, or begins one by its lesson or its code.
func (s *server) beginDrill(c fiber.Ctx) error {
	var req NewDrill
	if _, err := s.body(c, &req); err != nil {
		return err
	}
	if req.Code != "" {
		d, err := s.drillOf(c, req.Code)
		if err != nil {
			return err
		}
		return s.sendDrill(c, d)
	}
	name := req.Build
	var lesson *drill.Lesson
	if req.Lesson != "" {
		all := drill.Lessons()
		i := slices.IndexFunc(all, func(l drill.Lesson) bool { return l.ID == req.Lesson })
		if i < 0 {
			return problem(http.StatusNotFound, "There is no such lesson.", "the list of drills names them")
		}
		lesson, name = &all[i], all[i].Build
	}
	if name == "" {
		all := starts.All()
		name = all[rand.IntN(len(all))].ID
	}
	d, err := s.drillCase(c, name)
	if err != nil {
		return err
	}
	var found *drill.Drill
	if lesson != nil {
		found, err = drill.OfLesson(*lesson, d.about)
	} else {
		found, err = drill.Draw(name, d.about, req.Kind, rand.Uint64())
	}
	if err != nil {
		return problem(http.StatusUnprocessableEntity, sentence(err.Error()), "another build, or any kind")
	}
	on, err := d.on(found)
	if err != nil {
		return err
	}
	return s.sendDrill(c, on)
}

func (s *server) sendDrill(c fiber.Ctx, d *drilled) error {
	out := DrillView{Code: d.Code, Title: d.doc.Title, Does: d.does(), Parts: []DrillPart{}, Causes: []DrillCause{}}
	if r := s.assembled.Make(d.lib, d.doc); r.Placement != nil {
		out.Map = drawn(planned(d.lib, d.doc, r))
	}
	for _, p := range d.doc.Parts {
		if p.Of == "" {
			out.Parts = append(out.Parts, DrillPart{p.ID, p.Name})
		}
	}
	out.Parts = append(out.Parts, DrillPart{"", "the board"})
	seen := map[string]bool{}
	for _, f := range d.about.Faults() {
		if f.Sometimes() || seen[f.Cure] {
			continue
		}
		seen[f.Cure] = true
		out.Causes = append(out.Causes, DrillCause{f.Cure, f.Sight, f.Parts})
	}
	slices.SortStableFunc(out.Causes, func(a, b DrillCause) int { return cmp.Compare(a.Words, b.Words) })
	c.Set("Cache-Control", "no-store")
	return c.JSON(out)
}

// does is what everything does on the bench.
func (d *drilled) does() []DrillDoing {
	out := []DrillDoing{}
	wrong, _ := d.bench.Start()
	for _, t := range d.about.Things() {
		for _, x := range t.States {
			o, _, err := d.bench.Answer(x.Ask)
			if err != nil {
				continue
			}
			out = append(out, DrillDoing{
				Name: t.Name, When: cmp.Or(x.Short, x.When), Should: x.Should, Does: o.Answer, ask: x.Ask,
				Wrong: slices.ContainsFunc(wrong, func(w diagnose.Observation) bool { return w.Ask == x.Ask }),
			})
		}
	}
	return out
}

func (s *server) drillChoices(c fiber.Ctx) error {
	d, err := s.drillOf(c, c.Params("code"))
	if err != nil {
		return err
	}
	out := DrillChoices{Choices: d.about.Choices(c.Query("part"))}
	known := d.does() // what is known from the beginning is not asked
	out.Choices = slices.DeleteFunc(out.Choices, func(x diagnose.Choice) bool {
		return slices.ContainsFunc(known, func(k DrillDoing) bool { return k.ask == x.Ask })
	})
	return c.JSON(out)
}

func (s *server) askDrill(c fiber.Ctx) error {
	var req DrillAsk
	if _, err := s.body(c, &req); err != nil {
		return err
	}
	d, err := s.drillOf(c, c.Params("code"))
	if err != nil {
		return err
	}
	o, words, err := d.bench.Answer(req.Ask)
	if err != nil {
		return problem(http.StatusUnprocessableEntity, sentence(err.Error()), "")
	}
	return c.JSON(DrillAnswer{o, words})
}

// hintDrill says what the diagnosis would ask next.
func (s *server) hintDrill(c fiber.Ctx) error {
	var req Observed
	if _, err := s.body(c, &req); err != nil {
		return err
	}
	if len(req.Observations) > mostObserved {
		return problem(http.StatusUnprocessableEntity, "There are too many observations.", "at most 400")
	}
	d, err := s.drillOf(c, c.Params("code"))
	if err != nil {
		return err
	}
	_, seen := d.bench.Start()
	r, err := d.about.Ask(append(seen, req.Observations...))
	if err != nil {
		return problem(http.StatusUnprocessableEntity, sentence(err.Error()), "")
	}
	if r.Next == nil || r.Next.Sort == diagnose.Try {
		return c.JSON(DrillHint{Words: "You know enough: name it."})
	}
	return c.JSON(DrillHint{r.Next.Ask, r.Next.Words, r.Next.Part})
}

// drillRecord tells how drills went.
func (s *server) drillRecord(c fiber.Ctx) error {
	ctx, cancel := ask(c)
	defer cancel()
	list, err := s.Store.Drills(ctx)
	if err != nil {
		return err
	}
	out := DrillRecord{Found: make([]DrillFound, len(list))}
	for i, d := range list {
		out.Found[i] = DrillFound{d.Code, d.Lesson, fault.Kind(d.Kind), d.Spent, d.Par, d.Made}
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(out)
}

// mostTrouble is what a drill may have taken, to be kept.
const mostTrouble = 1e6

// nameDrill says whether it was that; when it was, the drill is kept in the record.
func (s *server) nameDrill(c fiber.Ctx) error {
	name, err := key(c)
	if err != nil {
		return err
	}
	var req DrillGuess
	if _, err := s.body(c, &req); err != nil {
		return err
	}
	if !(req.Spent >= 0 && req.Spent <= mostTrouble) {
		return problem(http.StatusUnprocessableEntity, "The trouble that was spent is not a number of it.", "0 or more")
	}
	d, err := s.drillOf(c, c.Params("code"))
	if err != nil {
		return err
	}
	out := DrillEnd{Right: d.bench.Right(req.Cure)}
	if !out.Right {
		return c.JSON(out)
	}
	par, _, err := d.bench.Par()
	if err != nil {
		return err
	}
	out.Words, out.Cure, out.Kind, out.Par = d.Fault.Words, d.Fault.Look, d.Fault.Kind, math.Round(par*10)/10
	for _, l := range drill.Lessons() {
		if l.Build != d.Build {
			continue
		}
		if of, err := drill.OfLesson(l, d.about); err == nil && of.Code == d.Code {
			out.Teaches = l.Teaches
		}
	}
	ctx, cancel := ask(c)
	defer cancel()
	found := store.Drill{Code: d.Code, Kind: string(out.Kind), Spent: req.Spent, Par: out.Par}
	if slices.ContainsFunc(drill.Lessons(), func(l drill.Lesson) bool { return l.ID == req.Lesson }) {
		found.Lesson = req.Lesson
	}
	if err := s.Store.KeepDrill(ctx, name, found); err != nil {
		return err
	}
	return c.JSON(out)
}
