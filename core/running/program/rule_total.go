package program

import (
	"fmt"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/values/quantity"
)

// pinsTotal finds programs with which all pins together carry more than they may.
var pinsTotal = rule{"total", func(f *facts) []check.Finding {
	var worst float64
	var in *run
	for _, r := range f.o.all() {
		if r.rig.Most > worst {
			worst, in = r.rig.Most, r
		}
	}
	if in == nil || worst <= f.board.Logic.Total.Recommended {
		return nil
	}
	q := check.Against("all pins together", quantity.Ampere, wiring.Range{Low: worst, Typ: worst, High: worst}, f.board.Logic.Total)
	x := check.Finding{Level: q.Level, Found: q, State: in.name}
	x.Title = fmt.Sprintf("With this program all pins together carry %s, after %s.", q.TypText, seconds(in.rig.MostAt))
	x.Why = fmt.Sprintf("%s is recommended, %s is the limit, at the typical values.", q.Limit.RecommendedText, q.Limit.AbsoluteText)
	return []check.Finding{x}
}}
