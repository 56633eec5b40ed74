package program

import (
	"cablaggio/core/build"
)

func Starter(lib *build.Library, doc *build.Document, l build.Language) (*build.Program, error) { return nil, nil }
func Test(lib *build.Library, doc *build.Document, l build.Language) (*build.Program, error) { return nil, nil }
