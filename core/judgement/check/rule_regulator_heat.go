package check

import (
	"cablaggio/core/values/quantity"
)

// regulatorHeat holds the heat in the board's regulator against what its
// package sheds.
var regulatorHeat = rule{"regulator-heat", func(f *facts) []Finding {
	q, ok := f.heat()
	if !ok || q.Level == Fine {
		return nil
	}
	x := Finding{
		Level: q.Level, Found: &q, Fixes: f.feedRight(),
		title: say("The board's regulator turns up to %s into heat; %s is recommended.", quantity.Format(q.High, quantity.Watt), q.Limit.RecommendedText),
		why:   say("All the volts above the rail's become heat in it: it is too hot to touch."),
	}
	if q.Level == Stop {
		x.title = say("The board's regulator turns up to %s into heat; its package sheds %s.", quantity.Format(q.High, quantity.Watt), q.Limit.AbsoluteText)
		x.why = say("It switches itself off when it is too hot, and the board goes on and off.")
	}
	return []Finding{x}
}}
