package main

import (
	"encoding/json"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/program"
	"cablaggio/toolchain"
)

func programCommand() *cobra.Command {
	var asJSON bool
	var language string
	cmd := &cobra.Command{
		Use:   "program FILE [SOURCE]",
		Short: "Run a program on a build's wiring and say what does not fit",
		Long: "Run the program of a build, or the one in SOURCE, on the build's wiring, and say what does not fit.\n" +
			"Exits 0 when nothing is worse than care, 1 with a stop, 2 when it does not compile or the file is not a build.",
		Args: cobra.RangeArgs(1, 2),
		RunE: func(cmd *cobra.Command, args []string) error {
			lib, doc, err := readWithProgram(args, build.Language(language))
			if err != nil {
				return err
			}
			if doc.Program == nil {
				return exit{exitUsage, fmt.Errorf("%s has no program; name the file of one", args[0])}
			}
			return runProgram(cmd, lib, doc, asJSON)
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print the whole analysis of the program as JSON")
	cmd.Flags().StringVar(&language, "language", "", "cpp, python-board or python-machine; otherwise it is found out")
	return cmd
}

// readWithProgram reads a build, with the program in a second file instead of its own where
// there is one.
func readWithProgram(args []string, language build.Language) (*build.Library, *build.Document, error) {
	lib, doc, err := readBuild(args[0])
	if err != nil {
		return nil, nil, err
	}
	if len(args) < 2 {
		beside := programBeside(args[0])
		if doc.Program != nil || beside == "" {
			return lib, doc, nil
		}
		args = append(slices.Clip(args), beside)
	}
	if doc.Program, err = readProgram(args[1], language); err != nil {
		return nil, nil, err
	}
	if err := lib.Validate(doc); err != nil {
		return nil, nil, exit{exitUsage, err}
	}
	return lib, doc, nil
}

// programBeside is the program of a build that stands beside its file: in the folder
// programs, with its name. It is empty where there is none.
func programBeside(file string) string {
	name := strings.TrimSuffix(filepath.Base(file), ".json")
	for _, end := range []string{".cpp", ".py", ".machine.py", ".board.py"} {
		beside := filepath.Join(filepath.Dir(file), "programs", name+end)
		if _, err := os.Stat(beside); err == nil && file != "-" {
			return beside
		}
	}
	return ""
}

// readProgram reads a program from a file, and finds out its language unless it is given.
func readProgram(file string, language build.Language) (*build.Program, error) {
	text, err := readFile(file)
	if err != nil {
		return nil, exit{exitUsage, err}
	}
	if len(text) > build.MaxProgram {
		return nil, exit{exitUsage, fmt.Errorf("%s has %d kB; a program has at most %d", file, len(text)/1024, build.MaxProgram/1024)}
	}
	if language == "" {
		language = build.Recognise(filepath.Base(file), string(text))
	}
	return &build.Program{Language: language, Text: string(text)}, nil
}

func runProgram(cmd *cobra.Command, lib *build.Library, doc *build.Document, asJSON bool) error {
	a, err := program.Check(cmd.Context(), toolchain.New(), lib, doc, wiring.NewCache())
	if err != nil {
		return exit{exitUsage, err}
	}
	out := cmd.OutOrStdout()
	if asJSON {
		e := json.NewEncoder(out)
		e.SetIndent("", "  ")
		err = e.Encode(a)
	} else {
		err = printProgram(out, doc, a)
	}
	switch {
	case err != nil:
		return err
	case !a.Compiles:
		return exit{exitUsage, nil}
	case a.Counts.Stop > 0:
		return exit{exitStop, nil}
	}
	return nil
}

func printProgram(out io.Writer, doc *build.Document, a *program.Analysis) error {
	p := printer{out: out}
	if !a.Compiles {
		p.line("%s: the program does not compile.", doc.Title)
		for _, m := range a.Messages {
			p.line("%-9s %s\n          (%s)", m.Where, m.Text, m.Said)
		}
		return p.err
	}
	p.line("%s: %d stop, %d care, %d note", doc.Title, a.Counts.Stop, a.Counts.Care, a.Counts.Note)
	for _, u := range a.Pins {
		p.line("  %-5s %-28s %s", u.Pin, u.Wired, u.Does)
	}
	for _, x := range a.Findings {
		p.line("\n%-5s %s%s\n      %s", x.Level, lineMark(doc, x), x.Title, x.Why)
		if x.State != "" {
			p.line("      when: %s", x.State)
		}
		for _, f := range x.Fixes {
			p.line("      fix: %s", f.Label)
		}
	}
	for _, m := range a.Missing {
		p.line("\n%s", m)
	}
	return p.err
}

func lineMark(doc *build.Document, x check.Finding) string {
	if x.Line == 0 {
		return ""
	}
	return doc.Program.Line(x.Line) + ": "
}

func starterCommand() *cobra.Command {
	var language string
	var test bool
	cmd := &cobra.Command{
		Use:   "starter FILE",
		Short: "Write a program that a build can begin with",
		Long:  "Write a program that fits the wiring of a build: constants, modes, levels and what each part is for.",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			lib, doc, err := readBuild(args[0])
			if err != nil {
				return err
			}
			write := program.Starter
			if test {
				write = program.Test
			}
			p, err := write(lib, doc, build.Language(language))
			if err != nil {
				return exit{exitUsage, err}
			}
			_, err = io.WriteString(cmd.OutOrStdout(), p.Text)
			return err
		},
	}
	cmd.Flags().StringVar(&language, "language", string(build.CPP), "cpp, python-board or python-machine")
	cmd.Flags().BoolVar(&test, "test", false, "instead, a program that tries each part by itself")
	return cmd
}
