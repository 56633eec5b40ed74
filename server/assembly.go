package server

import (
	"github.com/gofiber/fiber/v3"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
	"cablaggio/core/layout/holemap"
	"cablaggio/core/layout/placement"
	"cablaggio/core/output/assembly"
)

// assemble sends everything about a build on the breadboard.
func (s *server) assemble(c fiber.Ctx) error {
	v, err := s.get(c)
	if err != nil {
		return err
	}
	lib := v.lib
	var r *assembly.Report
	s.computer.inTurn(v.Document, func() { r = s.assembled.Make(lib, v.Document) })
	out := AssemblyView{Report: r, Breadboards: breadboard.Sizes()}
	if r.Placement != nil {
		table := r.Placement.Table(lib, v.Document)
		out.Map = drawn(holemap.Draw(lib, v.Document, table, r.Placement.Built(), r.Placement.Wires))
		out.UsedMap = drawn(planned(lib, v.Document, r))
		if r.Built != nil {
			var wires []placement.Jumper
			for _, w := range r.Built.Wires {
				wires = append(wires, w.Jumper)
			}
			m := drawn(holemap.Draw(lib, v.Document, table, v.Document.Assembly.Built, wires))
			out.BuiltMap = &m
		}
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(out)
}

func drawn(m *holemap.Map) (out HoleMap) {
	out.Marks, out.ViewBox = m.Inner()
	out.NearBox, out.Spots, out.Carries = m.Near(), m.Spots, m.Carries
	return out
}

// planned draws a placement as it is planned, without the rows that stay empty.
func planned(lib *build.Library, doc *build.Document, r *assembly.Report) *holemap.Map {
	return holemap.DrawUsed(lib, doc, r.Placement.Table(lib, doc), r.Placement.Built(), r.Placement.Wires)
}
