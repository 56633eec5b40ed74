package main

import (
	"encoding/json"
	"errors"
	"io"
	"os"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"cablaggio/core/document/build"
	"cablaggio/core/output/assembly"
	"cablaggio/core/running/bench"
)

func runCommand() *cobra.Command {
	var o struct {
		lasts     time.Duration
		do, file  string
		seed      uint64
		vcd, csv  string
		svg       string
		asJSON    bool
		noProgram bool
		probes    []string
		asBuilt   bool
	}
	cmd := &cobra.Command{
		Use:   "run FILE [SOURCE]",
		Short: "Let a build run with its program, with hands at it, and say what it did",
		Long: "Let a build run with its program, or the one in SOURCE (or else that of its name in programs/ beside it), with hands at it, and say what it did.\n" +
			"A script has a line for each action, or semicolons between: 1.2s press button1; 1.3s release button1;\n" +
			"2s turn knob1 to 50 %; 3s set light1 to 200; 4s spin wheel1 at 6 Hz; 5s touch D2; 6s type \"on\"; 7s feed wheel1 at 6 Hz 20 %; 8s reset board; 9s unplug board; 10s plug board; 11s set cells to 20 %; 12s drain cells at 2 h/s (hours pass for them).\n" +
			"Exits 0, 1 when something passed an absolute limit or the program broke off, 2 when something makes no sense.",
		Args: cobra.RangeArgs(1, 2),
		RunE: func(cmd *cobra.Command, args []string) error {
			lib, doc, err := readWithProgram(args, "")
			if err != nil {
				return err
			}
			if o.noProgram {
				doc.Program = nil
			}
			if o.asBuilt {
				if doc, err = assembly.AsBuilt(lib, doc); err != nil {
					return exit{exitUsage, err}
				}
			}
			script := o.do
			if o.file != "" {
				text, err := readFile(o.file)
				if err != nil {
					return exit{exitUsage, err}
				}
				script += "\n" + string(text)
			}
			if o.lasts <= 0 || o.lasts > bench.MaxLasts*time.Second {
				return exit{exitUsage, errors.New("a run lasts more than nothing, and at most a day: --for 10s")}
			}
			r, err := runBench(cmd, lib, doc, script, o.probes, bench.Options{Lasts: o.lasts, Seed: o.seed})
			if err != nil {
				return exit{exitUsage, err}
			}
			for file, write := range map[string]func(io.Writer) error{o.vcd: r.VCD, o.csv: r.CSV, o.svg: r.SVG} {
				if err := toFile(file, write); err != nil {
					return exit{exitUsage, err}
				}
			}
			if o.asJSON {
				e := json.NewEncoder(cmd.OutOrStdout())
				e.SetIndent("", "  ")
				err = e.Encode(r)
			} else {
				err = printRun(cmd.OutOrStdout(), doc, r)
			}
			if err == nil && (len(r.Stress) > 0 || r.How == "broke off") {
				err = exit{exitStop, nil}
			}
			return err
		},
	}
	f := cmd.Flags()
	f.DurationVar(&o.lasts, "for", 10*time.Second, "how long")
	f.StringVar(&o.do, "do", "", "what hands do")
	f.StringVar(&o.file, "script", "", "a file with what hands do (- reads standard input)")
	f.StringArrayVar(&o.probes, "probe", nil, "record the voltage at a place, as D4 or led1.anode, or between two, as led1.anode,led1.cathode; as often as wished")
	f.Uint64Var(&o.seed, "seed", 1, "of bounce and noise: the same seed, the same run")
	f.StringVar(&o.vcd, "vcd", "", "write the recording as a value change dump (IEEE 1364)")
	f.StringVar(&o.csv, "csv", "", "write it as CSV")
	f.StringVar(&o.svg, "svg", "", "write it as a drawing")
	f.BoolVar(&o.asJSON, "json", false, "print the recording as JSON")
	f.BoolVar(&o.asBuilt, "as-built", false, "on what was really built, not on the plan")
	f.BoolVar(&o.noProgram, "no-program", false, "leave all pins as inputs")
	return cmd
}

func runBench(cmd *cobra.Command, lib *build.Library, doc *build.Document, script string, probes []string, o bench.Options) (*bench.Recording, error) {
	net, made, err := ready(cmd, lib, doc)
	if err != nil {
		return nil, err
	}
	if o.Actions, err = bench.ParseScript(net, script); err != nil {
		return nil, err
	}
	for _, text := range probes {
		p, err := bench.ParseProbe(net, text)
		if err != nil {
			return nil, err
		}
		o.Probes = append(o.Probes, p)
	}
	return bench.Run(cmd.Context(), net, made, o)
}

// toFile writes a file; an empty name is none.
func toFile(name string, write func(io.Writer) error) error {
	if name == "" {
		return nil
	}
	f, err := os.Create(name)
	if err != nil {
		return err
	}
	return errors.Join(write(f), f.Close())
}

func printRun(out io.Writer, doc *build.Document, r *bench.Recording) error {
	p := printer{out: out}
	p.line("%s: %.3g s, seed %d", doc.Title, r.Ended, r.Seed)
	if r.How != "over" {
		p.line("%s %s", r.How, r.Why)
	}
	for _, row := range r.Rows {
		looks := row.Looks
		if looks != "" {
			looks = "  " + looks
		}
		p.line("\n%s%s", row.Name, looks)
		for i, c := range row.Changes {
			if i == 12 {
				p.line("  … %d more", len(row.Changes)-i)
				break
			}
			line := ""
			if c.Line > 0 {
				line = "  (" + doc.Program.Line(c.Line) + ")"
			}
			p.line("  %10.6f s  %s%s", c.At, c.Text, line)
		}
	}
	if len(r.Serial) > 0 {
		p.line("\nit prints")
		text := ""
		for _, s := range r.Serial {
			text += strings.ReplaceAll(s.Text, "\r", "")
		}
		lines := strings.Split(strings.TrimSuffix(text, "\n"), "\n")
		for i, l := range lines {
			if i == 20 {
				p.line("  … %d more lines", len(lines)-i)
				break
			}
			p.line("  %s", l)
		}
	}
	for _, s := range r.Stress {
		p.line("\nstop  %.6f s: %s", s.At, s.Words)
	}
	return p.err
}
