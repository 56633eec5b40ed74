package paper

import "time"

// epoch stands in a file for when it was made, so that the same plan is the same
// file.
var epoch = time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC)
