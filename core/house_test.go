// Package core_test keeps the house in order: the job knows nothing of HTTP,
// SQL or the interface, and its packages lean on each other one way.
package core_test

import (
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// order is the packages from the bottom up. A package may import those before
// it.
var order = []string{"parallel", "union", "picture", "quantity", "preferred", "spec", "circuit", "board", "supply", "light", "timing", "part", "breadboard", "build", "wiring", "placement", "spice", "choose", "plan", "phrase", "drawer", "check", "shopping", "fault", "meter", "machine", "rig", "program", "bench", "should", "diagnose", "drill", "assembly", "holemap", "table", "paper"}

var forbidden = []string{"net", "net/http", "database/sql", "cablaggio/store", "cablaggio/server", "cablaggio/web", "github.com/gofiber"}

func TestTheHouse(t *testing.T) {
	seen := map[string]bool{}
	require.NoError(t, filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") || strings.HasPrefix(path, "testkit") {
			return err
		}
		pkg := filepath.Dir(path)
		place := slices.Index(order, pkg)
		if !assert.GreaterOrEqual(t, place, 0, "%s has no place in the order", pkg) {
			return nil
		}
		seen[pkg] = true
		f, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ImportsOnly)
		if err != nil {
			return err
		}
		for _, i := range f.Imports {
			name, err := strconv.Unquote(i.Path.Value)
			if err != nil {
				return err
			}
			for _, bad := range forbidden {
				assert.False(t, name == bad || strings.HasPrefix(name, bad+"/"), "%s imports %s", path, name)
			}
			if lower, ok := strings.CutPrefix(name, "cablaggio/core/"); ok {
				assert.Less(t, slices.Index(order, lower), place, "%s imports %s, which stands above it", path, lower)
			}
		}
		return nil
	}))
	assert.Len(t, seen, len(order))
}
