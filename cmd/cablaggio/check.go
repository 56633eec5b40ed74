package main

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"os"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/program"
	"cablaggio/toolchain"
)

func checkCommand() *cobra.Command {
	var asJSON bool
	cmd := &cobra.Command{
		Use:   "check FILE",
		Short: "Check a build and print its findings (- reads standard input)",
		Long:  "Check a build and print its findings.\nExits 0 when nothing is worse than care, 1 with a stop, 2 when the file is not a build.",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return runCheck(cmd.Context(), cmd.OutOrStdout(), args[0], asJSON)
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print the whole analysis as JSON")
	return cmd
}

func runCheck(ctx context.Context, out io.Writer, file string, asJSON bool) error {
	lib, doc, err := readBuild(file)
	if err != nil {
		return err
	}
	a, err := check.Check(lib, doc)
	if err != nil {
		return exit{exitUsage, fmt.Errorf("%s: %w", file, err)}
	}
	if doc.Program != nil {
		p, err := program.Check(ctx, toolchain.New(), lib, doc, wiring.NewCache())
		if err != nil {
			p = &program.Analysis{Missing: []string{"The program was not looked at: " + err.Error()}}
		}
		a = program.Join(a, p)
	}
	if asJSON {
		e := json.NewEncoder(out)
		e.SetIndent("", "  ")
		err = e.Encode(a)
	} else {
		err = printFindings(out, doc, a)
	}
	if err != nil {
		return err
	}
	if a.Counts.Stop > 0 {
		return exit{exitStop, nil}
	}
	return nil
}

// readBuild reads a build from a file, or standard input. Its error is an exit.
func readBuild(file string) (*build.Library, *build.Document, error) {
	data, err := readFile(file)
	if err != nil {
		return nil, nil, exit{exitUsage, err}
	}
	lib := build.Shipped()
	doc, err := lib.Parse(data)
	if err != nil {
		return nil, nil, exit{exitUsage, fmt.Errorf("%s: %w", file, err)}
	}
	return lib.For(doc), doc, nil
}

// readFile reads a file, or standard input, no further than a build can be.
func readFile(file string) ([]byte, error) {
	in := io.Reader(os.Stdin)
	if file != "-" {
		f, err := os.Open(file)
		if err != nil {
			return nil, err
		}
		defer f.Close()
		in = f
	}
	return io.ReadAll(io.LimitReader(in, build.MaxBytes+1))
}

func printFindings(out io.Writer, doc *build.Document, a *check.Analysis) error {
	p := printer{out: out}
	p.line("%s: %d stop, %d care, %d note (%d states solved)", doc.Title, a.Counts.Stop, a.Counts.Care, a.Counts.Note, a.States)
	for _, x := range a.Findings {
		p.line("\n%-5s %s%s\n      %s", x.Level, lineMark(doc, x), x.Title, x.Why)
		if x.State != "" {
			p.line("      when: %s", x.State)
		}
		if x.Found != nil {
			p.line("      found: %s", x.Found.Text)
			if w := x.Found.Working; w != nil && w.Formula != "" {
				said := slices.DeleteFunc([]string{w.Formula, w.Numbers, w.Result}, func(s string) bool { return s == "" })
				p.line("      working: %s", strings.Join(said, "; "))
			}
		}
		for _, f := range x.Fixes {
			p.line("      fix: %s", f.Label)
		}
		if x.Stuck != "" {
			p.line("      %s", x.Stuck)
		}
	}
	for _, m := range a.Missing {
		p.line("\n%s", m)
	}
	return p.err
}

// A printer keeps the first error of many lines.
type printer struct {
	out io.Writer
	err error
}

func (p *printer) line(format string, args ...any) {
	if p.err == nil {
		_, p.err = fmt.Fprintf(p.out, format+"\n", args...)
	}
}
