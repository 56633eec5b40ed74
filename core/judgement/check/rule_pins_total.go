package check

// pinsTotal holds what all pins carry together against the chip's limit.
var pinsTotal = rule{"pins-total", func(f *facts) []Finding {
	return f.total((*facts).pinsTogether, f.board.Logic.Total, 0, "",
		"The pins carry up to %s together; %s is recommended.",
		"The pins carry up to %s together; the chip survives %s.",
		"All of it passes through the chip's own supply legs, however well each pin does alone.")
}}
