package check

// supplyLoad holds what the board and its parts take against the supply.
var supplyLoad = rule{"supply-load", func(f *facts) []Finding {
	supply := f.supply()
	return f.total((*facts).fromSupply, supply.Limit, f.board.Appetite.High, called(supply.Name),
		"Board and parts take up to %[1]s from %[3]s; %[2]s is recommended.",
		"Board and parts take up to %[1]s from %[3]s; it gives %[2]s.",
		"The voltage sags and the board restarts, or the computer switches the socket off.")
}}
