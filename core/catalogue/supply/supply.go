// Package supply computes what feeds a board: the voltage of cells in series
// or of a wall adapter, the heat in the board's regulator, and how long a
// battery lasts.
package supply

import (
	_ "embed"
	"encoding/json"
	"slices"
	"sync"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/values/spec"
)

// A Cell is a sort of battery cell.
type Cell struct {
	ID       string     `json:"id"`
	Name     string     `json:"name"`
	Volts    spec.Value `json:"volts"`    // empty, in use, and fresh
	AmpHours spec.Value `json:"ampHours"` // of a bad, a usual and a good one
	Amps     float64    `json:"amps"`     // that it gives without sagging much
	Ohms     float64    `json:"ohms"`     // by which its voltage falls for each ampere that it gives
}

// Open returns the voltage in volts of a cell from which hardly anything is drawn, at a charge in per
// cents: from fresh to in use over the first half, to empty over the second (common practice; of
// lithium cells the middle is flatter).
func (c Cell) Open(charge float64) float64 {
	const half = 50
	if charge >= half {
		return c.Volts.Typ + (c.Volts.High-c.Volts.Typ)*(charge-half)/half
	}
	return c.Volts.Low + (c.Volts.Typ-c.Volts.Low)*charge/half
}

// MaxCells is how many cells are put in series at most.
const MaxCells = 12

//go:embed cells.json
var file []byte

// Cells returns the sorts of cells, in the order in which they are offered. The
// list is shared: it must not be changed.
func Cells() []Cell { return cells() }

var cells = sync.OnceValue(func() []Cell {
	var data struct {
		Cells []Cell `json:"cells"`
	}
	if err := json.Unmarshal(file, &data); err != nil {
		panic("supply: cells: " + err.Error())
	}
	for i := range data.Cells {
		data.Cells[i].Volts.Source = source
		data.Cells[i].AmpHours.Source = source
	}
	return data.Cells
})

const source = "from memory of manufacturers' data sheets for this class; check your own"

// CellOf returns the sort of cell of that id.
func CellOf(id string) (Cell, bool) {
	i := slices.IndexFunc(Cells(), func(c Cell) bool { return c.ID == id })
	if i < 0 {
		return Cell{}, false
	}
	return Cells()[i], true
}

// Fed returns the voltage that the supply has: of count cells in series, of the
// volts that the builder says (within 5 %, common practice), or else what it
// usually is.
func Fed(s board.Supply, volts float64, cell string, count int) spec.Value {
	if c, ok := CellOf(cell); ok {
		n := float64(count)
		return spec.Value{Low: c.Volts.Low * n, Typ: c.Volts.Typ * n, High: c.Volts.High * n, Source: c.Volts.Source}
	}
	if volts > 0 {
		return spec.Within(volts, 0.05, "your own value, within 5 % (common practice)")
	}
	if s.Regulator != nil {
		return spec.Within(s.Input.Typ, 0.05, s.Input.Source)
	}
	return s.Input
}

// Heat returns the watts that the regulator turns into heat at the current that
// it gives, in amperes: of a linear one the volts that it drops times the
// current, of a switching one what its efficiency leaves over.
func Heat(r *board.Regulator, fed, rail, amps spec.Value) spec.Value {
	if r.Linear() {
		return spec.Value{
			Low: max(fed.Low-rail.High, 0) * amps.Low, Typ: max(fed.Typ-rail.Typ, 0) * amps.Typ, High: max(fed.High-rail.Low, 0) * amps.High,
		}
	}
	lost := func(efficiency float64) float64 { return 1/efficiency - 1 }
	return spec.Value{
		Low: rail.Low * amps.Low * lost(r.Efficiency.High), Typ: rail.Typ * amps.Typ * lost(r.Efficiency.Typ), High: rail.High * amps.High * lost(r.Efficiency.Low),
	}
}

// Drawn returns the current that a regulator takes from the supply to give
// amps: the same through a linear one, less through a switching one that steps
// down.
func Drawn(r *board.Regulator, fed, rail, amps spec.Value) spec.Value {
	if r == nil || r.Linear() {
		return amps
	}
	return spec.Value{
		Low:  amps.Low * rail.Low / (fed.High * r.Efficiency.High),
		Typ:  amps.Typ * rail.Typ / (fed.Typ * r.Efficiency.Typ),
		High: amps.High * rail.High / (fed.Low * r.Efficiency.Low),
	}
}

// Hours returns how long cells in series last at a current: their charge over
// the current. The current is that of the whole build, which draws it all the
// time; a program that sleeps makes it longer.
func Hours(c Cell, amps spec.Value) spec.Value {
	return spec.Value{Low: c.AmpHours.Low / amps.High, Typ: c.AmpHours.Typ / amps.Typ, High: c.AmpHours.High / amps.Low}
}
