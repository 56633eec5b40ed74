// Command mutants changes the code of packages in one place at a time, and sees whether their
// own tests notice: of what is changed and nobody notices nobody tests what it does.
//
//	go run ./scripts/mutants [-n 20] [-seed 1] PACKAGE…
//
// The working tree is not touched: each change is an overlay of the build. What does not
// compile is passed over. A change that makes no difference at all counts like the others, so
// that 100 of 100 is not to be had.
package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"go/ast"
	"go/format"
	"go/parser"
	"go/token"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"time"
)

// A mutant is one change of a file.
type mutant struct {
	file string
	line int
	what string
	make func() // changes the tree
	undo func()
	tree *ast.File
	set  *token.FileSet
}

// patience is how long the tests of a mutant may take: one that never ends is noticed.
const patience = 4 * time.Minute

func main() {
	n := flag.Int("n", 20, "mutants for each package")
	seed := flag.Uint64("seed", 0, "what is drawn; 0: another one each time")
	flag.Parse()
	if *seed == 0 {
		*seed = rand.Uint64()
	}
	fmt.Printf("drawn with the seed %d\n", *seed)
	draw := rand.New(rand.NewPCG(*seed, 0))
	killed, all := 0, 0
	for _, pkg := range flag.Args() {
		list, err := mutants(pkg)
		if err != nil {
			fmt.Fprintln(os.Stderr, "mutants:", err)
			os.Exit(1)
		}
		draw.Shuffle(len(list), func(i, j int) { list[i], list[j] = list[j], list[i] })
		own, of := 0, 0
		for _, m := range list {
			if of == *n {
				break
			}
			noticed, err := m.try(pkg)
			if errors.Is(err, errNotGo) {
				continue
			}
			if err != nil {
				fmt.Fprintln(os.Stderr, "mutants:", err)
				os.Exit(1)
			}
			of++
			if noticed {
				own++
				continue
			}
			fmt.Printf("  not noticed: %s:%d: %s\n", m.file, m.line, m.what)
		}
		fmt.Printf("%s: %d of %d noticed\n", pkg, own, of)
		killed, all = killed+own, all+of
	}
	fmt.Printf("together: %d of %d, %.0f of 100\n", killed, all, 100*float64(killed)/float64(max(1, all)))
}

var errNotGo = errors.New("it does not compile")

// try runs the tests of the package with the mutant in it.
func (m *mutant) try(pkg string) (noticed bool, err error) {
	m.make()
	var text bytes.Buffer
	err = format.Node(&text, m.set, m.tree)
	m.undo()
	if err != nil {
		return false, err
	}
	dir, err := os.MkdirTemp("", "mutant-")
	if err != nil {
		return false, err
	}
	defer os.RemoveAll(dir)
	changed := filepath.Join(dir, "mutant.go")
	whole, err := filepath.Abs(m.file)
	if err != nil {
		return false, err
	}
	overlay, err := json.Marshal(map[string]any{"Replace": map[string]string{whole: changed}})
	if err != nil {
		return false, err
	}
	if err := errors.Join(os.WriteFile(changed, text.Bytes(), 0o600), os.WriteFile(filepath.Join(dir, "overlay.json"), overlay, 0o600)); err != nil {
		return false, err
	}
	with := "-overlay=" + filepath.Join(dir, "overlay.json")
	if exec.Command("go", "build", with, pkg).Run() != nil {
		return false, errNotGo
	}
	cmd := exec.Command("go", "test", "-vet=off", "-failfast", "-timeout", patience.String(), with, pkg)
	return cmd.Run() != nil, nil
}

// swaps are the operators that are put for others.
var swaps = map[token.Token]token.Token{
	token.LSS: token.LEQ, token.LEQ: token.LSS, token.GTR: token.GEQ, token.GEQ: token.GTR,
	token.EQL: token.NEQ, token.NEQ: token.EQL, token.LAND: token.LOR, token.LOR: token.LAND,
	token.ADD: token.SUB, token.SUB: token.ADD, token.MUL: token.QUO, token.QUO: token.MUL,
}

// mutants lists all changes of the files of a package.
func mutants(pkg string) (out []*mutant, err error) {
	files, err := filepath.Glob(filepath.Join(pkg, "*.go"))
	if err != nil {
		return nil, err
	}
	slices.Sort(files)
	for _, file := range files {
		if strings.HasSuffix(file, "_test.go") || filepath.Base(file) == "doc.go" {
			continue
		}
		set := token.NewFileSet()
		tree, err := parser.ParseFile(set, file, nil, parser.ParseComments)
		if err != nil {
			return nil, err
		}
		add := func(at token.Pos, what string, make, undo func()) {
			out = append(out, &mutant{file, set.Position(at).Line, what, make, undo, tree, set})
		}
		ast.Inspect(tree, func(n ast.Node) bool {
			switch x := n.(type) {
			case *ast.BinaryExpr:
				was := x.Op
				if to, ok := swaps[was]; ok {
					add(x.OpPos, fmt.Sprintf("%s for %s", to, was), func() { x.Op = to }, func() { x.Op = was })
				}
			case *ast.BasicLit:
				was := x.Value
				if v, err := strconv.ParseFloat(was, 64); err == nil && v > 1 {
					to := strconv.FormatFloat(v*1.2, 'g', 6, 64)
					if x.Kind == token.INT {
						to = strconv.Itoa(int(v) + max(1, int(v)/5))
					}
					add(x.Pos(), to+" for "+was, func() { x.Value = to }, func() { x.Value = was })
				}
			case *ast.UnaryExpr:
				if x.Op == token.NOT {
					was := x.X
					add(x.Pos(), "no negation", func() { x.X = &ast.UnaryExpr{Op: token.NOT, X: was} }, func() { x.X = was })
				}
			case *ast.Ident:
				if x.Name == "true" || x.Name == "false" {
					was := x.Name
					to := strconv.FormatBool(was == "false")
					add(x.Pos(), to+" for "+was, func() { x.Name = to }, func() { x.Name = was })
				}
			case *ast.BlockStmt:
				for i, s := range x.List {
					switch s.(type) {
					case *ast.ExprStmt, *ast.IncDecStmt, *ast.BranchStmt:
						was := x.List[i]
						add(s.Pos(), "left out", func() { x.List[i] = &ast.EmptyStmt{Semicolon: was.Pos()} }, func() { x.List[i] = was })
					}
				}
			}
			return true
		})
	}
	return out, nil
}
