package check

// supplyLoad holds what the board and its parts take against the supply.
var supplyLoad = rule{"supply-load", func(f *facts) []Finding {
	supply := f.supply()
	return f.total((*facts).fromSupply, supply.Limit, f.board.Appetite.High,
		"Board and parts take up to %s from "+supply.Name+"; %s is recommended.",
		"Board and parts take up to %s from "+supply.Name+"; it gives %s.",
		"The voltage sags and the board restarts, or the computer switches the socket off.")
}}
