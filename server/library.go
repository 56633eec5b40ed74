package server

import (
	"fmt"
	"net/http"
	"slices"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/supply"
	"cablaggio/core/document/build"
	"cablaggio/core/document/drawer"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/choose"
	"cablaggio/core/planning/phrase"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/light"
	"cablaggio/core/values/quantity"
)

func (s *server) library(c fiber.Ctx) error {
	out := Library{Library: *s.lib(c), Cells: supply.Cells(), Kit: drawer.Kit(kitPieces)}
	out.Own = []OwnBoard{}
	for _, b := range out.Boards {
		if !s.shipped(b.ID) {
			out.Own = append(out.Own, OwnBoard{b.ID, strconv.Itoa(s.newest(c, b.ID))})
		}
	}
	out.OwnKinds = []OwnKind{}
	if own, ok := c.Locals(libraryKey).(*ownThings); ok {
		for _, k := range out.Catalogue.Kinds {
			if k.Own() {
				out.OwnKinds = append(out.OwnKinds, OwnKind{k.ID, strconv.Itoa(own.kinds[k.ID])})
			}
		}
	}
	for _, f := range board.Functions {
		out.Functions = append(out.Functions, FunctionName{f, f.Name()})
	}
	return c.JSON(out)
}

// phrase says what is understood of parts as people say them.
func (s *server) phrase(c fiber.Ctx) error {
	return c.JSON(phrase.Parse(s.lib(c).Catalogue, c.Query("text")))
}

// resistorChoice puts the values for a resistor that belongs to a lamp side by
// side.
func (s *server) resistorChoice(c fiber.Ctx) error {
	v, err := s.get(c)
	if err != nil {
		return err
	}
	part := v.Document.Part(c.Params("part"))
	if part == nil || part.Of == "" {
		return problem(http.StatusNotFound, "There is no such resistor before a lamp.", "")
	}
	if found, err := choose.Spans(wiring.NewCache(), v.lib, v.Document, part.ID, part.Of, v.lib.Resistors); err == nil && part.Role == plan.SenseRole {
		return c.JSON(ResistorChoice{Candidates: []Candidate{}, Spans: spans(v, found)})
	}
	candidates, err := plan.Candidates(v.lib, v.Document, part.ID, part.Of)
	if candidates == nil && err != nil {
		return problem(http.StatusUnprocessableEntity, sentence(err.Error()), "")
	}
	out := ResistorChoice{Candidates: []Candidate{}, Spans: []SpanView{}}
	for _, x := range candidates {
		full := lampCurrent(v.lib, v.Document.Part(part.Of))
		l := light.Lightness(max(x.Amps.Typ, 0) / full)
		out.Candidates = append(out.Candidates, Candidate{
			Candidate: x, Lightness: l, Bright: light.Word(l), PairText: pairText(x.Pair),
			OhmsText:  quantity.Short(x.Ohms, quantity.Ohm),
			AmpsText:  quantity.FormatRange(x.Amps.Low, x.Amps.Typ, x.Amps.High, quantity.Ampere),
			WattsText: quantity.Format(x.Watts, quantity.Watt),
		})
	}
	return c.JSON(out)
}

// mostSpans is how many values for a divider are shown around the best.
const mostSpans = 9

// spans makes values for a divider ready to be shown: those around the best.
func spans(v *BuildView, all []choose.Span) []SpanView {
	b, _ := v.lib.Board(v.Document.Board)
	full := b.Logic.Analog.Full()
	best := slices.IndexFunc(all, func(x choose.Span) bool { return x.Best })
	from := max(0, min(best-mostSpans/2, len(all)-mostSpans))
	out := []SpanView{}
	for _, x := range all[from:min(from+mostSpans, len(all))] {
		perVolt := full * x.Part / (x.High - x.Low)
		out = append(out, SpanView{
			Span: x, OhmsText: quantity.Short(x.Ohms, quantity.Ohm),
			VoltsText: quantity.Format(x.Low, quantity.Volt) + " to " + quantity.Format(x.High, quantity.Volt),
			Counts:    fmt.Sprintf("%.0f to %.0f of %.0f", x.Low*perVolt, x.High*perVolt, full),
		})
	}
	return out
}

// kitPieces is how many of each value a kit of resistors has.
const kitPieces = 20

// lampCurrent is the current at which a lamp counts as fully bright.
func lampCurrent(lib *build.Library, lamp *build.Part) float64 {
	kind, _ := lib.Catalogue.Kind(lamp.Kind)
	if _, ok := kind.Value("testCurrent"); !ok {
		return 0.02
	}
	return wiring.ValueOf(kind, lamp, "testCurrent").Typ
}

func pairText(p *choose.Pair) string {
	if p == nil {
		return ""
	}
	way := "in series"
	if p.Parallel {
		way = "in parallel"
	}
	return fmt.Sprintf("%s and %s %s", quantity.Short(p.A, quantity.Ohm), quantity.Short(p.B, quantity.Ohm), way)
}

// pinChoices says why a part's signal is on its pin, and what others would cost.
func (s *server) pinChoices(c fiber.Ctx) error {
	v, err := s.get(c)
	if err != nil {
		return err
	}
	if part := v.Document.Part(c.Params("part")); part != nil {
		for _, signal := range part.Signals {
			if signal.Name == c.Params("signal") {
				return c.JSON(plan.WhyPin(v.lib, v.Document, part, signal))
			}
		}
	}
	return problem(http.StatusNotFound, "There is no such signal.", "")
}
