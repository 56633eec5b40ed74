package check

import (
	"cablaggio/core/catalogue/board"
	"cablaggio/core/planning/plan"
)

// unusedPins advises to switch on the pull-ups of what is left when every
// microampere counts.
var unusedPins = rule{"unused-pins", func(f *facts) []Finding {
	if f.doc.Cells == nil || f.doc.UnusedPulled || !f.hasPull(board.PullUp) {
		return nil
	}
	var left []string
	for _, p := range plan.FreePins(f.lib, f.doc, board.DigitalIn) {
		if pin, _ := f.board.Pin(p.Pin); pin.Has(board.DigitalOut) {
			left = append(left, p.Pin)
		}
	}
	if len(left) == 0 {
		return nil
	}
	return []Finding{{
		Level: Note, Pins: left[:1], which: "all",
		title: say("%d unused pins float: %s.", len(left), shorten(left, 6)),
		why:   say("A loose input wanders between low and high, and draws current each time it passes the middle; with the pull-up on it draws none."),
		Fixes: []Fix{{"Let the program switch their pull-ups on", editsOf(plan.Unused{Pull: board.PullUp})}},
	}}
}}
