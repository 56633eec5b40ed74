// Package toolchain makes builders' programs run: it calls the compilers and interpreters of
// the system, shut in a sandbox. It stands outside the core, behind the interfaces of
// core/running/program and core/running/machine.
package toolchain

import (
	"context"
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"sync"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/running/program"
)

//go:embed cpp python
var own embed.FS

// A Toolchain compiles programs. Make one with [New]; it may be used from several goroutines.
type Toolchain struct {
	mu   sync.Mutex
	home string // where our own files and what was made of them lie; empty: not looked for yet
}

// New returns a toolchain that has not looked yet for what it needs.
func New() *Toolchain { return &Toolchain{} }

// Missing is the error of a system on which something is not installed.
type Missing struct {
	Language build.Language
	Packages []string // of Debian
}

func (m Missing) Error() string {
	return fmt.Sprintf("to run programs in %s this computer needs %s; type: sudo apt-get install --no-install-recommends %s",
		m.Language.Name(), strings.Join(m.Packages, ", "), strings.Join(m.Packages, " "))
}

// Compile implements [program.Compiler].
func (t *Toolchain) Compile(ctx context.Context, p *build.Program, b *board.Profile) (*program.Compiled, error) {
	home, err := t.prepare()
	if err != nil {
		return nil, err
	}
	switch {
	case p.Language == build.CPP:
		return compileCPP(ctx, home, p, b)
	case !b.Programs().Python:
		return &program.Compiled{Messages: []program.Message{{
			Wrong: true, Text: fmt.Sprintf("The %s runs C++ only: it has no room for Python.", b.Name), Said: "no Python on this board",
		}}}, nil
	}
	return compilePython(ctx, home, p, b)
}

// prepare lays our own files where the jobs may read them: in the user's cache, by what they
// contain, so that what was compiled of them once is found again.
func (t *Toolchain) prepare() (string, error) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.home != "" {
		return t.home, nil
	}
	sum := sha256.New()
	err := fs.WalkDir(own, ".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		data, err := own.ReadFile(path)
		fmt.Fprintf(sum, "%s %d\n%s", path, len(data), data)
		return err
	})
	if err != nil {
		return "", err
	}
	// A compiler that was renewed makes other objects.
	if info, err := os.Stat(clang); err == nil {
		fmt.Fprint(sum, info.Size(), info.ModTime().UnixNano())
	}
	cache, err := os.UserCacheDir()
	if err != nil {
		cache = os.TempDir()
	}
	home := filepath.Join(cache, "cablaggio", "toolchain-"+hex.EncodeToString(sum.Sum(nil))[:16])
	if _, err := os.Stat(home); err != nil {
		err = lay(home)
		if err != nil { // a home that cannot be written
			home = filepath.Join(os.TempDir(), fmt.Sprintf("cablaggio-%d", os.Getuid()), filepath.Base(home))
			err = lay(home)
		}
		if err != nil {
			return "", err
		}
	}
	t.home = home
	return home, nil
}

// lay makes the folder whole or not at all: another process may do the same.
func lay(home string) error {
	if info, err := os.Stat(home); err == nil && info.IsDir() {
		return nil
	}
	if err := os.MkdirAll(filepath.Dir(home), 0o700); err != nil {
		return err
	}
	fresh, err := os.MkdirTemp(filepath.Dir(home), "new-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(fresh)
	if err := os.CopyFS(fresh, own); err != nil {
		return err
	}
	if _, err := os.Stat(clang); err == nil {
		if err := makeRuntime(fresh); err != nil {
			return err
		}
	}
	if err := os.Rename(fresh, home); err != nil && !errors.Is(err, fs.ErrExist) {
		if _, there := os.Stat(home); there != nil {
			return err
		}
	}
	return nil
}
