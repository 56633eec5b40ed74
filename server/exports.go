package server

import (
	"bytes"
	"encoding/json"
	"io"
	"maps"
	"net/http"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/spice"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/output/assembly"
	"cablaggio/core/output/paper"
	"cablaggio/core/output/table"
)

// An exporter writes a build in some open format.
type exporter struct {
	ending string // of the file's name
	mime   string
	write  func(*build.Library, io.Writer, *BuildView) error
	judges bool // it lists what is found, of the program too
}

// laid writes something of a build on the breadboard, or says why it is not.
func laid(write func(*build.Library, io.Writer, *BuildView, *assembly.Report) error) func(*build.Library, io.Writer, *BuildView) error {
	return func(lib *build.Library, w io.Writer, v *BuildView) error {
		r := assembly.Make(lib, v.Document)
		if r.Placement == nil {
			return problem(http.StatusUnprocessableEntity, sentence(r.Problem), "")
		}
		return write(lib, w, v, r)
	}
}

// exporters are the formats that a build goes out in, by the last part of their
// address.
var exporters = map[string]exporter{
	"document": {".json", jsonType, func(_ *build.Library, w io.Writer, v *BuildView) error { return writeJSON(w, v.Document) }, false},
	"analysis": {"-analysis.json", jsonType, func(_ *build.Library, w io.Writer, v *BuildView) error { return writeJSON(w, v.Analysis) }, true},
	"parts.csv": {"-parts.csv", csvType + "; charset=utf-8", func(lib *build.Library, w io.Writer, v *BuildView) error {
		return table.Parts(w, lib, v.Document, v.Analysis)
	}, false},
	"pins.csv": {"-pins.csv", csvType + "; charset=utf-8", func(_ *build.Library, w io.Writer, v *BuildView) error {
		return table.Pins(w, v.Document, v.Analysis)
	}, false},
	"plan.pdf": {".pdf", pdfType, func(lib *build.Library, w io.Writer, v *BuildView) error {
		return paper.Plan(w, lib, v.Document, v.Analysis)
	}, true},
	"holemap.svg": {"-holes.svg", svgType, laid(func(lib *build.Library, w io.Writer, v *BuildView, r *assembly.Report) error {
		return planned(lib, v.Document, r).SVG(w)
	}), false},
	"steps.pdf": {"-steps.pdf", pdfType, laid(func(lib *build.Library, w io.Writer, v *BuildView, r *assembly.Report) error {
		return paper.Steps(w, lib, v.Document, r, planned(lib, v.Document, r))
	}), false},
	"wires.csv": {"-wires.csv", csvType + "; charset=utf-8", laid(func(_ *build.Library, w io.Writer, _ *BuildView, r *assembly.Report) error {
		return table.Wires(w, r.Placement)
	}), false},
	"links.csv": {"-links.csv", csvType + "; charset=utf-8", func(lib *build.Library, w io.Writer, v *BuildView) error {
		return table.Links(w, assembly.Links(lib, v.Document))
	}, false},
}

func writeJSON(w io.Writer, v any) error {
	e := json.NewEncoder(w)
	e.SetIndent("", "  ")
	return e.Encode(v)
}

// exportBuild sends a build as a file.
func (s *server) exportBuild(c fiber.Ctx) error {
	x, ok := exporters[c.Params("format")]
	if !ok {
		return problem(http.StatusNotFound, "There is no such format.", "a build goes out as netlist, "+strings.Join(slices.Sorted(maps.Keys(exporters)), ", "))
	}
	v, err := s.get(c)
	if err != nil {
		return err
	}
	if x.judges && v.Document.Program != nil {
		v.Analysis = s.programs.join(c.Context(), v.lib, v.Document, v.Analysis)
	}
	var b bytes.Buffer
	if err := x.write(v.lib, &b, v); err != nil {
		return err
	}
	return sendFile(c, v.Title, x.ending, x.mime, b.Bytes())
}

func sendFile(c fiber.Ctx, title, ending, mime string, data []byte) error {
	c.Attachment(fileName(title) + ending)
	c.Set("Content-Type", mime)
	c.Set("Cache-Control", "no-store")
	return c.Send(data)
}

// controls sends what can be set in the circuit of a build.
func (s *server) controls(c fiber.Ctx) error {
	v, err := s.get(c)
	if err != nil {
		return err
	}
	out := ControlList{Controls: []Control{}}
	for _, x := range wiring.Build(v.lib, v.Document).Controls {
		out.Controls = append(out.Controls, Control{x.Of, x.Name, x.Names()})
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(out)
}

// exportNetlist sends the circuit of a build in the state and at the corner that
// the query names: ?set=D4=high&set=button1=pressed&corner=low.
func (s *server) exportNetlist(c fiber.Ctx) error {
	v, err := s.get(c)
	if err != nil {
		return err
	}
	n := wiring.Build(v.lib, v.Document)
	var named []string
	for _, name := range c.Request().URI().QueryArgs().PeekMulti("set") {
		named = append(named, string(name))
	}
	given, err := wiring.ParseSettings(named)
	if err != nil {
		return problem(http.StatusUnprocessableEntity, sentence(err.Error()), "")
	}
	settings, err := n.Resolve(given)
	if err != nil {
		return problem(http.StatusUnprocessableEntity, sentence(err.Error()), "")
	}
	corner, err := wiring.ParseCorner(c.Query("corner"))
	if err != nil {
		return problem(http.StatusUnprocessableEntity, sentence(err.Error()), "")
	}
	var b bytes.Buffer
	if err := spice.Write(&b, n, settings, corner); err != nil {
		return err
	}
	return sendFile(c, v.Title, ".cir", plainType+"; charset=utf-8", b.Bytes())
}
