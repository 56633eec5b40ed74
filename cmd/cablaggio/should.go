package main

import (
	"fmt"
	"io"

	"github.com/spf13/cobra"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/output/assembly"
	"cablaggio/core/running/program"
	"cablaggio/core/running/should"
	"cablaggio/toolchain"
)

func shouldCommand() *cobra.Command {
	var o struct {
		say     []string
		tries   int
		seed    uint64
		asJSON  bool
		asBuilt bool
		explain bool
	}
	cmd := &cobra.Command{
		Use:   "should FILE [SOURCE]",
		Short: "Try what a build should do, with its program and hundreds of hands",
		Long: "Try what a build should do, with its program, or the one in SOURCE (or else that of its name in programs/\n" +
			"beside it), and hundreds of hands.\n" +
			"The sentences are those of the build, and those that --say adds:\n" +
			"  while the door contact is open, the red lamp blinks at 2 Hz\n" +
			"  each press of the bell button changes the porch lamp, within 100 ms\n" +
			"  turning the dimmer takes the moon from dark to full\n" +
			"  above 30 °C the alarm lamp is lit\n" +
			"  lamp 1, lamp 2 and lamp 3 light one at a time\n" +
			"  each odd press of the button lights the lamp; typing 2580 on the keypad lights open\n" +
			"  the buzzer never sounds longer than 200 ms at a time; what the thermometer measures is printed\n" +
			"They may be said in other words; --explain says how each is understood, and tries nothing.\n" +
			"Exits 0 when all hold, 1 when one is broken, 2 when one is not understood, or no hand came to what it is about.",
		Args: cobra.RangeArgs(1, 2),
		RunE: func(cmd *cobra.Command, args []string) error {
			lib, doc, err := readWithProgram(args, "")
			if err != nil {
				return err
			}
			if o.asBuilt {
				if doc, err = assembly.AsBuilt(lib, doc); err != nil {
					return exit{exitUsage, err}
				}
			}
			net, made, err := ready(cmd, lib, doc)
			if err != nil {
				return exit{exitUsage, err}
			}
			if o.explain {
				verdicts := should.NewReader(net).ReadAll(append(doc.Should, o.say...))
				if o.asJSON {
					return printJSON(cmd.OutOrStdout(), verdicts)
				}
				return printReadings(cmd.OutOrStdout(), verdicts)
			}
			verdicts, err := should.Try(cmd.Context(), net, made, append(doc.Should, o.say...), should.Options{Tries: o.tries, Seed: o.seed})
			if err != nil {
				return exit{exitUsage, err}
			}
			if o.asJSON {
				err = printJSON(cmd.OutOrStdout(), verdicts)
			} else {
				err = printVerdicts(cmd.OutOrStdout(), doc, verdicts)
			}
			if err != nil {
				return err
			}
			return shouldCode(verdicts)
		},
	}
	f := cmd.Flags()
	f.StringArrayVar(&o.say, "say", nil, "one more sentence")
	f.IntVar(&o.tries, "tries", should.Usual, "how many random hands")
	f.Uint64Var(&o.seed, "seed", 1, "of the hands: the same seed, the same hands")
	f.BoolVar(&o.asJSON, "json", false, "print it as JSON")
	f.BoolVar(&o.explain, "explain", false, "only say how each sentence is understood")
	f.BoolVar(&o.asBuilt, "as-built", false, "on what was really built, not on the plan")
	return cmd
}

// ready compiles the program of a build and makes its network.
func ready(cmd *cobra.Command, lib *build.Library, doc *build.Document) (*wiring.Network, *program.Compiled, error) {
	var made *program.Compiled
	if doc.Program != nil {
		b, _ := lib.Board(doc.Board)
		var err error
		if made, err = toolchain.New().Compile(cmd.Context(), doc.Program, b); err != nil {
			return nil, nil, err
		}
		if made.Program == nil {
			return nil, nil, fmt.Errorf("the program does not compile: %s", made.Messages[0])
		}
	}
	bare := doc.Clone()
	bare.Assembly, bare.Program = nil, nil
	return wiring.Build(lib, bare), made, nil
}

// printReadings says how sentences are understood.
func printReadings(out io.Writer, verdicts []should.Verdict) error {
	p := printer{out: out}
	misread := false
	for _, v := range verdicts {
		if v.Wrong != "" {
			misread = true
			notUnderstood(&p, v)
		} else {
			p.line("       %s\n    =  %s", v.Text, v.Says)
		}
	}
	if p.err == nil && misread {
		return exit{exitUsage, nil}
	}
	return p.err
}

// notUnderstood says what is not understood, and what may be meant.
func notUnderstood(p *printer, v should.Verdict) {
	p.line("?      %s", v.Wrong)
	for _, s := range v.Instead {
		p.line("       say it as: %s", s)
	}
}

func printVerdicts(out io.Writer, doc *build.Document, verdicts []should.Verdict) error {
	p := printer{out: out}
	for _, v := range verdicts {
		switch {
		case v.Never:
			p.line("?      %s: %s", v.Says, v.Wrong)
		case v.Wrong != "":
			notUnderstood(&p, v)
		case v.Holds:
			p.line("holds  %s  (%s)", v.Says, v.Extent)
			if v.Barely != "" {
				p.line("       %s", v.Barely)
			}
		default:
			b := v.Broken
			p.line("BROKEN %s", v.Says)
			p.line("       %s", b.Words)
			p.line("       %s", b.Story)
			for _, a := range b.Actions {
				p.line("         %s", a)
			}
			if b.Line > 0 {
				p.line("       %s of the program did something there last", doc.Program.Line(b.Line))
			}
			if b.Blame != "" {
				p.line("       %s", b.Blame)
			}
			p.line("       seed %d, %.3g s", b.Seed, b.Lasts)
		}
	}
	return p.err
}

// shouldCode is what the command exits with.
func shouldCode(verdicts []should.Verdict) error {
	broken := false
	for _, v := range verdicts {
		if v.Wrong != "" {
			return exit{exitUsage, nil}
		}
		broken = broken || !v.Holds
	}
	if broken {
		return exit{exitStop, nil}
	}
	return nil
}
