package server

import (
	"cmp"
	"math"
	"math/rand/v2"
	"net/http"
	"slices"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/build"
	"cablaggio/core/diagnose"
	"cablaggio/core/drill"
	"cablaggio/core/fault"
	"cablaggio/starts"
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
	Build  string     `json:"build,omitempty"` // to draw in; "" is any
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
	Cure string `json:"cure" required:"true"`
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
	doc   *build.Document
	about *diagnose.Case
	bench *diagnose.Bench
}

// drillCase is the diagnosis of a ready build.
func (s *server) drillCase(lib *build.Library, name string) (*build.Document, *diagnose.Case, error) {
	for _, st := range starts.All() {
		if st.ID != name {
			continue
		}
		doc, err := lib.Parse(st.Data)
		if err != nil {
			return nil, nil, err
		}
		o, err := s.cases.open(lib, doc)
		return doc, o.diagnosis, err
	}
	return nil, nil, problem(http.StatusNotFound, "There is no such ready build.", "the list of drills names them")
}

// drillOf finds the drill of a code.
func (s *server) drillOf(lib *build.Library, code string) (*drilled, error) {
	name, ok := drill.BuildOf(code)
	if !ok {
		return nil, problem(http.StatusNotFound, "This is not the code of a drill.", "it looks like BLINK-7K2QMA")
	}
	doc, about, err := s.drillCase(lib, name)
	if err != nil {
		return nil, err
	}
	d, err := drill.Find(code, about)
	if err != nil {
		return nil, problem(http.StatusNotFound, sentence(err.Error()), "")
	}
	return drillOn(d, doc, about)
}

func drillOn(d *drill.Drill, doc *build.Document, about *diagnose.Case) (*drilled, error) {
	b, ok := about.Bench(d.Fault.ID)
	if !ok {
		return nil, problem(http.StatusNotFound, "There is no such drill.", "")
	}
	return &drilled{d, doc, about, b}, nil
}

// beginDrill draws a drill, or begins one by its lesson or its code.
func (s *server) beginDrill(c fiber.Ctx) error {
	var req NewDrill
	if _, err := s.body(c, &req); err != nil {
		return err
	}
	lib := s.lib(c)
	if req.Code != "" {
		d, err := s.drillOf(lib, req.Code)
		if err != nil {
			return err
		}
		return s.sendDrill(c, lib, d)
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
	doc, about, err := s.drillCase(lib, name)
	if err != nil {
		return err
	}
	var d *drill.Drill
	if lesson != nil {
		d, err = drill.OfLesson(*lesson, about)
	} else {
		d, err = drill.Draw(name, about, req.Kind, rand.Uint64())
	}
	if err != nil {
		return problem(http.StatusUnprocessableEntity, sentence(err.Error()), "another build, or any kind")
	}
	on, err := drillOn(d, doc, about)
	if err != nil {
		return err
	}
	return s.sendDrill(c, lib, on)
}

func (s *server) sendDrill(c fiber.Ctx, lib *build.Library, d *drilled) error {
	out := DrillView{Code: d.Code, Title: d.doc.Title, Does: d.does(), Parts: []DrillPart{}, Causes: []DrillCause{}}
	if r := s.assembled.Make(lib, d.doc); r.Placement != nil {
		out.Map = drawn(planned(lib, d.doc, r))
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
	d, err := s.drillOf(s.lib(c), c.Params("code"))
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
	d, err := s.drillOf(s.lib(c), c.Params("code"))
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
	d, err := s.drillOf(s.lib(c), c.Params("code"))
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

func (s *server) nameDrill(c fiber.Ctx) error {
	var req DrillGuess
	if _, err := s.body(c, &req); err != nil {
		return err
	}
	d, err := s.drillOf(s.lib(c), c.Params("code"))
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
	return c.JSON(out)
}
