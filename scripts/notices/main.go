// Command notices writes the licence texts of all that is in the program and its pages, from
// the module cache and from node_modules, to standard output. It is run by make notices; make
// check fails when the file that is shipped is another.
package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
)

// licence finds the files that licences are in.
var licence = regexp.MustCompile(`(?i)^(licen[cs]e|copying|notice|ofl)([.\-].*)?$`)

func main() {
	texts := map[string][]string{} // who asks for it, by the text
	for _, collect := range []func(add func(name, folder string) error) error{modules, packages} {
		err := collect(func(name, folder string) error {
			text, err := textOf(folder)
			if err == nil {
				texts[text] = append(texts[text], name)
			}
			return err
		})
		if err != nil {
			fmt.Fprintln(os.Stderr, "notices:", err)
			os.Exit(1)
		}
	}
	fmt.Print("This program has in it what others made and allow to be used. Their licences:\n")
	order := slices.SortedFunc(maps.Keys(texts), func(a, b string) int { return strings.Compare(texts[a][0], texts[b][0]) })
	for _, text := range order {
		fmt.Printf("\n%s\n\n%s\n\n%s\n", strings.Repeat("=", 72), strings.Join(texts[text], "\n"), text)
	}
}

// modules are those of Go that the program is made of.
func modules(add func(name, folder string) error) error {
	out, err := exec.Command("go", "list", "-deps", "-f", "{{with .Module}}{{if not .Main}}{{.Path}} {{.Version}}\t{{.Dir}}{{end}}{{end}}", "./cmd/cablaggio").Output()
	if err != nil {
		return fmt.Errorf("go list: %w", err)
	}
	root, err := exec.Command("go", "env", "GOROOT").Output()
	if err != nil {
		return fmt.Errorf("go env: %w", err)
	}
	if err := add("Go, its libraries and its fonts", strings.TrimSpace(string(root))); err != nil {
		return err
	}
	lines := strings.Split(strings.TrimSpace(string(out)), "\n")
	slices.Sort(lines)
	for _, line := range slices.Compact(lines) {
		if name, folder, ok := strings.Cut(line, "\t"); ok {
			if err := add(name, folder); err != nil {
				return err
			}
		}
	}
	return nil
}

// packages are those that the pages are made of: what the front end depends on, and what that
// depends on.
func packages(add func(name, folder string) error) error {
	data, err := os.ReadFile("web/package-lock.json")
	if err != nil {
		return err
	}
	var lock struct {
		Packages map[string]struct {
			Version       string
			Dev, Optional bool
		}
	}
	if err := json.Unmarshal(data, &lock); err != nil {
		return err
	}
	for _, at := range slices.Sorted(maps.Keys(lock.Packages)) {
		p := lock.Packages[at]
		if at == "" || p.Dev || p.Optional {
			continue
		}
		_, name, _ := strings.Cut(at, "node_modules/")
		if strings.HasPrefix(name, "@types/") || name == "csstype" {
			continue // types alone, of which nothing is in the pages
		}
		if err := add(name+" "+p.Version, filepath.Join("web", at)); err != nil {
			return err
		}
	}
	return nil
}

// textOf is the licence that lies in a folder, or that its package names where it has none.
func textOf(folder string) (string, error) {
	entries, err := os.ReadDir(folder)
	if err != nil {
		return "", err
	}
	var texts []string
	for _, e := range entries {
		if e.IsDir() || !licence.MatchString(e.Name()) {
			continue
		}
		data, err := os.ReadFile(filepath.Join(folder, e.Name()))
		if err != nil {
			return "", err
		}
		data = bytes.ReplaceAll(data, []byte("\r\n"), []byte("\n"))
		texts = append(texts, strings.TrimSpace(string(data)))
	}
	if texts != nil {
		return strings.Join(texts, "\n\n"), nil
	}
	data, err := os.ReadFile(filepath.Join(folder, "package.json"))
	if errors.Is(err, fs.ErrNotExist) {
		return "", fmt.Errorf("%s has no licence", folder)
	}
	var p struct{ License string }
	if err := errors.Join(err, json.Unmarshal(data, &p)); err != nil {
		return "", err
	}
	if p.License == "" {
		return "", fmt.Errorf("%s has no licence", folder)
	}
	return "Licence: " + p.License, nil
}
