package program

import "cablaggio/core/build"

// AbsentLibrary is the Option of a message about a library that is not there.
const AbsentLibrary = "absent-library"

// Explain puts the compiler's messages into plain words.
func Explain(p *build.Program, said []Message) []Message { return said }
