package main

import (
	"encoding/json"
	"fmt"
	"io"
	"os"
	"strings"

	"github.com/spf13/cobra"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/diagnose"
	"cablaggio/core/faults/fault"
	"cablaggio/core/faults/meter"
	"cablaggio/core/layout/placement"
	"cablaggio/core/output/assembly"
)

func diagnoseCommand() *cobra.Command {
	var f meterFlags
	var seen, readings, answers []string
	var asBuilt bool
	cmd := &cobra.Command{
		Use:   "diagnose FILE",
		Short: "Say which fault explains what was seen and read, and what to look at or measure next",
		Long: "Say which fault explains what was seen and read, and what to look at or measure next.\n" +
			"Exits 0 when one cause is above 90 %, 1 when there is more to ask, 2 when something is not understood.",
		Example: "  cablaggio diagnose build.json --seen \"red LED 1 is dark\"\n" +
			"  cablaggio diagnose build.json --seen \"led1 is dark when D4=high\" --reading \"led1.anode,GND when D4=high = 4.9 V\"\n" +
			"  cablaggio diagnose build.json --seen \"led1 is dark\" --answer \"look:led1 -> as drawn\"",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			m, err := f.instrument()
			if err != nil {
				return err
			}
			lib, doc, err := readBuild(args[0])
			if err != nil {
				return err
			}
			if asBuilt {
				if doc, err = assembly.AsBuilt(lib, doc); err != nil {
					return exit{exitUsage, fmt.Errorf("%s: %w", args[0], err)}
				}
			}
			var also []meter.Question
			var observed []diagnose.Observation
			for _, text := range readings {
				q, o, err := diagnose.ParseReading(lib, doc, text)
				if err != nil {
					return exit{exitUsage, fmt.Errorf("--reading: %w", err)}
				}
				also, observed = append(also, q), append(observed, o)
			}
			c := diagnose.New(wiring.NewCache(), m, lib, doc, also...)
			for _, text := range seen {
				o, unknown := c.Told(text)
				if len(unknown) > 0 {
					_, err := c.SayAll(unknown[0])
					return exit{exitUsage, fmt.Errorf("--seen: %w", err)}
				}
				observed = append(observed, o...)
			}
			for _, text := range answers {
				ask, answer, ok := strings.Cut(text, "->")
				if !ok {
					return exit{exitUsage, fmt.Errorf("--answer: %q has no \"->\"; write the question's id and the answer, as in \"look:led1 -> as drawn\"", text)}
				}
				observed = append(observed, diagnose.Observation{Ask: strings.TrimSpace(ask), Answer: strings.TrimSpace(answer)})
			}
			r, err := c.Ask(observed)
			if err != nil {
				return exit{exitUsage, err}
			}
			if f.asJSON {
				err = printJSON(cmd.OutOrStdout(), r)
			} else {
				err = printDiagnosis(cmd.OutOrStdout(), c, r, len(observed) == 0)
			}
			if err == nil && !r.Sure {
				return exit{exitStop, nil}
			}
			return err
		},
	}
	f.on(cmd)
	cmd.Flags().StringArrayVar(&seen, "seen", nil, "what was seen, such as \"red LED 1 is dark\", \"button1 reads low\" or \"the console prints button 1: closed\"")
	cmd.Flags().StringArrayVar(&readings, "reading", nil, "what the meter showed, such as \"led1.anode,GND when D4=high = 4.9 V\"")
	cmd.Flags().StringArrayVar(&answers, "answer", nil, "the answer to a question that was asked, by its id: \"look:led1 -> as drawn\"")
	cmd.Flags().BoolVar(&asBuilt, "as-built", false, "begin from what was noted as really built")
	return cmd
}

func printDiagnosis(out io.Writer, c *diagnose.Case, r *diagnose.Result, nothing bool) error {
	p := printer{out: out}
	if nothing {
		p.line("Say what it does, with --seen. All is well when")
		for _, t := range c.Things() {
			for _, s := range t.States {
				when := ""
				if s.When != "" {
					when = " when " + s.When
				}
				p.line("  %s: %s%s", t.Name, s.Should, when)
			}
		}
		return p.err
	}
	for i, x := range r.Causes[:min(len(r.Causes), 5)] {
		p.line("%3.0f %%  %s", 100*x.Weight, x.Words)
		p.line("       %s", x.Cure)
		if i == 0 && x.Proof != "" {
			p.line("       It was this if then: %s", x.Proof)
		}
		for _, w := range x.Against {
			p.line("       against it: %s", w)
		}
	}
	p.line("%3.0f %%  Something that is on no list here.", 100*r.Unknown)
	if len(r.Unexplained) > 0 {
		p.line("%s", r.Assumed)
	}
	if n := r.Next; n != nil {
		p.line("Next: %s", strings.Join(append([]string{n.Words}, n.How...), " "))
		if n.Check != nil {
			p.line("      range %s; %s when that is well", n.Check.Expect.Range, n.Check.Expect.Text)
		}
		for _, o := range n.Options {
			if o.Weight > 0.005 {
				p.line("      %3.0f %%  %s: leaves %d", 100*o.Weight, o.Answer, o.Leaves)
			}
		}
		p.line("      --answer %q", n.Ask+" -> "+exampleAnswer(n))
	}
	return p.err
}

func exampleAnswer(n *diagnose.Next) string {
	if len(n.Options) > 0 {
		return n.Options[0].Answer
	}
	return "…"
}

// faultsOf lists the faults of a build in a file.
func faultsOf(file string) (*build.Document, []fault.Fault, error) {
	lib, doc, err := readBuild(file)
	if err != nil {
		return nil, nil, err
	}
	p, err := placement.Place(lib, doc)
	if err != nil {
		p = nil // it is not laid out, so nothing is one row off
	}
	return doc, fault.List(lib, doc, p), nil
}

func faultsCommand() *cobra.Command {
	var asJSON bool
	cmd := &cobra.Command{
		Use:   "faults FILE",
		Short: "List the single faults that are considered in a build, the most common first",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			_, list, err := faultsOf(args[0])
			if err != nil {
				return err
			}
			if asJSON {
				return printJSON(cmd.OutOrStdout(), list)
			}
			p := printer{out: cmd.OutOrStdout()}
			for _, f := range list {
				p.line("%s\n    %s %s", f.ID, f.Words, f.Look)
			}
			return p.err
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print it as JSON")
	return cmd
}

func faultCommand() *cobra.Command {
	var to string
	cmd := &cobra.Command{
		Use:   "fault FILE ID",
		Short: "Write a build with one fault in it, for trying the meter, the bench and the check on",
		Args:  cobra.ExactArgs(2),
		RunE: func(cmd *cobra.Command, args []string) error {
			doc, list, err := faultsOf(args[0])
			if err != nil {
				return err
			}
			for i := range list {
				if list[i].ID != args[1] {
					continue
				}
				with, ok := list[i].Apply(doc)
				if !ok {
					return exit{exitUsage, fmt.Errorf("%q is not of the wiring: %s A build cannot have it; try it with another program, or unplugged", args[1], list[i].Words)}
				}
				data, err := json.MarshalIndent(with, "", "  ")
				if err != nil {
					return err
				}
				if to == "" {
					_, err = fmt.Fprintf(cmd.OutOrStdout(), "%s\n", data)
					return err
				}
				return os.WriteFile(to, append(data, '\n'), 0o644)
			}
			return exit{exitUsage, fmt.Errorf("there is no fault %q in this build; cablaggio faults lists them", args[1])}
		},
	}
	cmd.Flags().StringVar(&to, "to", "", "the file to write; printed when it is left out")
	return cmd
}
