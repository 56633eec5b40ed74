package server

import (
	"github.com/gofiber/fiber/v3"

	"cablaggio/core/assembly"
	"cablaggio/core/breadboard"
	"cablaggio/core/build"
	"cablaggio/core/holemap"
)

// assemble sends everything about a build on the breadboard.
func (s *server) assemble(c fiber.Ctx) error {
	v, err := s.get(c)
	if err != nil {
		return err
	}
	lib := s.lib(c)
	r := s.assembled.Make(lib, v.Document)
	out := AssemblyView{Report: r, Breadboards: breadboard.Sizes()}
	if r.Placement != nil {
		out.Map.Marks, out.Map.ViewBox = planned(lib, v.Document, r).Inner()
		// Any hole may be the one that something is in.
		b, wires := r.Placement.Built(), r.Placement.Wires
		if r.Built != nil {
			b, wires = v.Document.Assembly.Built, nil
			for _, w := range r.Built.Wires {
				wires = append(wires, w.Jumper)
			}
		}
		out.BuiltMap.Marks, out.BuiltMap.ViewBox = holemap.Draw(lib, v.Document, r.Placement.Table(lib, v.Document), b, wires).Inner()
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(out)
}

// planned draws a placement as it is planned.
func planned(lib *build.Library, doc *build.Document, r *assembly.Report) *holemap.Map {
	return holemap.DrawUsed(lib, doc, r.Placement.Table(lib, doc), r.Placement.Built(), r.Placement.Wires)
}
