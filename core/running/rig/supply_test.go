package rig_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/catalogue/supply"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/machine"
	"cablaggio/core/running/rig"
)

// onCells is a lamp at a pin of a board that cells feed.
func onCells(t require.TestingT, board, pin, at, sort string, count int) *wiring.Network {
	doc, _, err := plan.Apply(lib, build.New("t", board), []plan.Edit{
		plan.Supply{Supply: at, Cells: sort, Count: count}, plan.Add{Kind: "led", Type: "red", Pin: pin}, plan.Add{Kind: "resistor"},
	})
	require.NoError(t, err)
	return wiring.Build(lib, doc)
}

// until lets a rig go on by itself until a time.
func until(h *hand, end int64) {
	for next := h.Next(); next <= end; next = h.Next() {
		h.Happen(next)
	}
}

// What goes out of cells is what the board and its parts take, through a regulator that drops and one
// that switches (conservation of charge, and of energy): the current from a bench's own sum, the
// voltage by Ohm's law, the charge by the hour.
func TestTheBooksOfCells(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := rapid.SampledFrom([]struct {
			board, pin, at, sort string
			count                int
		}{
			{"classic-5v", "D4", "vin", "alkaline-aa", 6}, {"classic-5v", "D4", "vin", "block-9v", 1},
			{"slim-3v3", "GP4", "vsys", "lithium-18650", 1}, {"slim-3v3", "GP4", "vsys", "alkaline-aaa", 3},
		}).Draw(t, "cells")
		net := onCells(t, c.board, c.pin, c.at, c.sort, c.count)
		h := at(t, net)
		var last rig.Feed
		h.Supplied(func(_ int64, f rig.Feed) { last = f })
		h.Settle()
		lit := rapid.Bool().Draw(t, "lit")
		h.drive(c.pin, lit)
		hours := rapid.Float64Range(0, 3).Draw(t, "hours a second")
		charge := rapid.Float64Range(40, 90).Draw(t, "charge")
		begin := int64(100 * time.Millisecond)
		h.Plan([]rig.Move{{At: begin, Control: rig.Charge, To: charge}, {At: begin, Control: rig.Age, To: hours}})
		end := int64(time.Second)
		until(h, end)
		amps := net.Board.Appetite.Typ
		if lit {
			lamp := h.Actors[0]
			amps += lamp.Acts[len(lamp.Acts)-1].Amps
		}
		s, _ := net.Board.Supply(net.Doc.Supply)
		if g := s.Regulator; !g.Linear() {
			amps *= net.RailVolts(g.Rail).Typ / (last.Volts * g.Efficiency.Typ)
		}
		cell, _ := supply.CellOf(c.sort)
		span := float64(end-begin) / 1e9
		lost := 100 * amps * (span*hours + span/3600) / cell.AmpHours.Typ
		assert.InDelta(t, charge-lost, last.Charge, 0.12+0.06*lost, "it is looked at each tenth of a per cent")
		assert.InDelta(t, float64(c.count)*(cell.Open(last.Charge)-amps*cell.Ohms), last.Volts, 0.03)
	})
}

// A supply that is no cell gives what it gives, in or out; and a rig of which nobody asks what feeds it
// has the rails of the plan.
func TestAStiffSupply(t *testing.T) {
	net := ready(t, "button")
	h := at(t, net)
	told := 0
	h.Supplied(func(int64, rig.Feed) { told++ })
	h.Plan([]rig.Move{{At: 1000, Control: rig.Plug}, {At: 2000, Control: rig.Held, To: 1}, {At: 3000, Control: rig.Plug, To: 1}})
	h.Happen(1000)
	assert.Zero(t, h.Network().RailVolts("5V").Typ)
	h.Happen(3000)
	assert.Same(t, net, h.Network())
	assert.Equal(t, 2, told)
	assert.EqualValues(t, machine.Never, h.Next())
	cells := at(t, onCells(t, "classic-5v", "D4", "vin", "alkaline-aa", 4))
	assert.EqualValues(t, machine.Never, cells.Next(), "nobody asked")
}

// Cells that nobody looks at for ten hours have lost what was drawn all the same.
func TestHoursOnCells(t *testing.T) {
	net := onCells(t, "classic-5v", "D4", "vin", "alkaline-aa", 6)
	h := at(t, net)
	var last rig.Feed
	h.Supplied(func(_ int64, f rig.Feed) { last = f })
	h.Settle()
	looks := 0
	for next := h.Next(); next <= 10*int64(time.Hour); next = h.Next() {
		h.Happen(next)
		looks++
	}
	cell, _ := supply.CellOf("alkaline-aa")
	lost := 100 * net.Board.Appetite.Typ * 10 / cell.AmpHours.Typ
	assert.InDelta(t, 50-lost, last.Charge, 0.2)
	assert.Less(t, looks, 500)
}
