package core_test

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var (
	groupLine   = regexp.MustCompile(`- \[cablaggio/core/(\w+)\]:`)
	packageLine = regexp.MustCompile(`- \[cablaggio/core/(\w+/\w+)\]:`)
)

// page returns the text of a folder's doc.go.
func page(t *testing.T, folder string) string {
	t.Helper()
	f, err := parser.ParseFile(token.NewFileSet(), filepath.Join(folder, "doc.go"), nil, parser.ParseComments)
	require.NoError(t, err)
	return f.Doc.Text()
}

// listed is what the lines of a page name.
func listed(text string, line *regexp.Regexp) (out []string) {
	for _, m := range line.FindAllStringSubmatch(text, -1) {
		out = append(out, m[1])
	}
	return out
}

// forbidden is what nobody in the core may know of.
var forbidden = []string{"net", "net/http", "database/sql", "os/exec", "cablaggio/store", "cablaggio/server", "cablaggio/web", "github.com/gofiber"}

// The order in which the pages list groups, and packages in them, is the order in which they
// may lean on each other: a package imports those before it. All packages are listed.
func TestTheHouse(t *testing.T) {
	groups := listed(page(t, "."), groupLine)
	require.Greater(t, len(groups), 5)
	var order []string
	for _, g := range groups {
		of := listed(page(t, g), packageLine)
		require.NotEmpty(t, of, g)
		for _, p := range of {
			assert.True(t, strings.HasPrefix(p, g+"/"), "the page of %s lists %s", g, p)
		}
		order = append(order, of...)
	}
	seen := map[string]bool{}
	require.NoError(t, filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		pkg := filepath.ToSlash(filepath.Dir(path))
		if err != nil || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") || filepath.Base(path) == "doc.go" && !strings.Contains(pkg, "/") || strings.HasPrefix(path, "testkit") {
			return err
		}
		place := slices.Index(order, pkg)
		if !assert.GreaterOrEqual(t, place, 0, "no page lists %s", pkg) {
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
				assert.Contains(t, order[:place], lower, "%s imports %s, which stands above it", path, lower)
			}
		}
		return nil
	}))
	assert.Len(t, seen, len(order), "a page lists what is not there")
}

// Whoever draws in a test draws the same at every run: one file of each package that uses
// rapid imports what sees to that.
func TestDrawsAreTheSame(t *testing.T) {
	draws, seen := map[string]bool{}, map[string]bool{}
	require.NoError(t, filepath.WalkDir("..", func(path string, d fs.DirEntry, err error) error {
		if d != nil && d.Name() == "node_modules" {
			return filepath.SkipDir
		}
		if err != nil || !strings.HasSuffix(path, "_test.go") {
			return err
		}
		f, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ImportsOnly)
		if err != nil {
			return err
		}
		for _, i := range f.Imports {
			switch i.Path.Value {
			case `"pgregory.net/rapid"`:
				draws[filepath.Dir(path)] = true
			case `"cablaggio/core/testkit/drawn"`:
				seen[filepath.Dir(path)] = true
			}
		}
		return nil
	}))
	require.Greater(t, len(draws), 5)
	assert.Equal(t, draws, seen)
}

// Each group's page asks its question, and its example runs.
func TestGroupsHavePages(t *testing.T) {
	for _, g := range listed(page(t, "."), groupLine) {
		assert.Contains(t, page(t, g), "The question: ", g)
		f, err := parser.ParseFile(token.NewFileSet(), filepath.Join(g, "example_test.go"), nil, parser.ParseComments)
		require.NoError(t, err)
		assert.True(t, slices.ContainsFunc(f.Decls, func(d ast.Decl) bool {
			fn, ok := d.(*ast.FuncDecl)
			return ok && fn.Name.Name == "Example"
		}), g)
	}
}
