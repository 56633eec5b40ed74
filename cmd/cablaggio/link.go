package main

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"os/signal"
	"strings"
	"syscall"

	"github.com/creack/pty"
	"github.com/spf13/cobra"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/diagnose"
	"cablaggio/core/output/assembly"
	"cablaggio/core/running/bench"
	"cablaggio/link"
	"cablaggio/link/probe"
	"cablaggio/link/standin"
)

func portsCommand() *cobra.Command {
	var asJSON bool
	cmd := &cobra.Command{
		Use:   "ports",
		Short: "List the serial ports that a board may be at; none is opened",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			list, err := link.Ports()
			if err != nil {
				return err
			}
			if asJSON {
				return printJSON(cmd.OutOrStdout(), list)
			}
			p := printer{out: cmd.OutOrStdout()}
			for _, port := range list {
				p.line("%s  %s", port.Name, port.What)
			}
			if len(list) == 0 {
				p.line("There are none. Plug a board in, or let one be simulated: cablaggio board FILE")
			}
			return p.err
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print it as JSON")
	return cmd
}

func boardCommand() *cobra.Command {
	var o struct {
		asBuilt   bool
		fault, do string
		seed      uint64
	}
	cmd := &cobra.Command{
		Use:   "board FILE [SOURCE]",
		Short: "Simulate a build's board at a pseudo terminal, in real time, until it is ended",
		Long: "Simulate a build's board at a pseudo terminal, in real time, until it is ended. Its name is printed first.\n" +
			"The program in SOURCE is on it; without one, the probing program, which cablaggio ask talks to.\n" +
			"Each line of the input is what a hand does now: press button1; release button1; turn knob1 to 50 %.",
		Args: cobra.RangeArgs(1, 2),
		RunE: func(cmd *cobra.Command, args []string) error {
			lib, doc, err := readBuild(args[0])
			if err != nil {
				return err
			}
			if o.asBuilt {
				if doc, err = assembly.AsBuilt(lib, doc); err != nil {
					return exit{exitUsage, err}
				}
			}
			if len(args) > 1 {
				doc.Program, err = readProgram(args[1], "")
			} else {
				profile, _ := lib.Board(doc.Board)
				doc.Program, err = probe.Program(profile, build.CPP)
			}
			if err != nil {
				return exit{exitUsage, err}
			}
			net, made, err := ready(cmd, lib, doc)
			if err != nil {
				return exit{exitUsage, err}
			}
			if o.fault != "" {
				if net, err = withFault(args[0], net, o.fault); err != nil {
					return err
				}
			}
			first, err := bench.ParseScript(net, now(o.do))
			if err != nil {
				return exit{exitUsage, err}
			}
			far, near, err := pty.Open()
			if err != nil {
				return fmt.Errorf("there is no pseudo terminal: %w", err)
			}
			defer far.Close()
			defer near.Close() // held open, so that the line stays when nobody is there
			ctx, stop := signal.NotifyContext(cmd.Context(), os.Interrupt, syscall.SIGTERM)
			defer stop()
			if _, err := fmt.Fprintln(cmd.OutOrStdout(), near.Name()); err != nil {
				return err
			}
			do := make(chan bench.Action, len(first))
			for _, a := range first {
				do <- a
			}
			go hands(ctx, cmd.InOrStdin(), cmd.ErrOrStderr(), net, do)
			return standin.Serve(ctx, far, net, made, o.seed, do)
		},
	}
	f := cmd.Flags()
	f.BoolVar(&o.asBuilt, "as-built", false, "on what was really built, not on the plan")
	f.StringVar(&o.fault, "fault", "", "with a fault in it, by its id: cablaggio faults lists them")
	f.StringVar(&o.do, "do", "", "what hands do at the beginning")
	f.Uint64Var(&o.seed, "seed", 1, "of bounce and noise")
	return cmd
}

// withFault is a network with a fault of the build in a file in it.
func withFault(file string, net *wiring.Network, id string) (*wiring.Network, error) {
	_, list, err := faultsOf(file)
	if err != nil {
		return nil, err
	}
	for i := range list {
		if list[i].ID == id && !list[i].InProgram() {
			return list[i].In(net), nil
		}
	}
	return nil, exit{exitUsage, fmt.Errorf("there is no fault %q in the wiring of this build; cablaggio faults lists them", id)}
}

// now makes a script of what is done at once.
func now(lines string) string {
	var out []string
	for _, line := range strings.FieldsFunc(lines, func(r rune) bool { return r == ';' || r == '\n' }) {
		if line = strings.TrimSpace(line); line != "" {
			out = append(out, "0s "+line)
		}
	}
	return strings.Join(out, "\n")
}

// hands passes on what the lines of an input say that hands do, until there are no more; what makes
// no sense is told.
func hands(ctx context.Context, in io.Reader, wrong io.Writer, net *wiring.Network, do chan<- bench.Action) {
	for lines := bufio.NewScanner(in); lines.Scan(); {
		actions, err := bench.ParseScript(net, now(lines.Text()))
		if err != nil {
			fmt.Fprintln(wrong, "cablaggio: "+err.Error())
			continue
		}
		for _, a := range actions {
			select {
			case do <- a:
			case <-ctx.Done():
				return
			}
		}
	}
}

// exitSilent is the exit status of a board that does not answer.
const exitSilent = exitUsage

func askCommand() *cobra.Command {
	var f meterFlags
	var port string
	cmd := &cobra.Command{
		Use:   "ask FILE --port PORT",
		Short: "Ask the board of a build what it reads at its pins, and say what that tells of the wiring",
		Long: "Ask the board of a build, on which the probing program is, what it reads at its pins, and say what that tells of the wiring.\n" +
			"Pins are pulled and let go; nothing is driven. Exits 0 when the board reads what it should, 1 when something is wrong, 2 without an answer.",
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
			c := diagnose.New(wiring.NewCache(), m, lib, doc)
			line, err := link.Open(port, link.Rate)
			if err != nil {
				return exit{exitSilent, err}
			}
			defer line.Close()
			b, err := probe.Begin(cmd.Context(), line, probe.ComesUp)
			if err != nil {
				return exit{exitSilent, err}
			}
			profile, _ := lib.Board(doc.Board)
			seen, err := b.Interview(cmd.Context(), profile, c.PinAsks(), "", func(int, int) {})
			if err != nil {
				return exit{exitSilent, err}
			}
			told, err := c.Answered(seen)
			if err != nil {
				return err
			}
			if f.asJSON {
				err = printJSON(cmd.OutOrStdout(), told)
			} else {
				err = printAnswered(cmd.OutOrStdout(), told)
			}
			if err == nil && !told.AsPlanned {
				return exit{exitStop, nil}
			}
			return err
		},
	}
	f.on(cmd)
	cmd.Flags().StringVar(&port, "port", "", "the port that the board is at: cablaggio ports lists them")
	_ = cmd.MarkFlagRequired("port")
	return cmd
}

func printAnswered(out io.Writer, told *diagnose.Answered) error {
	p := printer{out: out}
	p.line("%s", told.Words)
	if told.AsPlanned {
		p.line("Of %d single faults of the wiring that are considered, %d would have shown.", told.Considered, told.Shows)
		if len(told.Unsaid) > 0 {
			p.line("A break in these would not: %s.", strings.Join(told.Unsaid, ", "))
		}
	}
	for _, r := range told.Odd {
		p.line("  %s", r)
	}
	for _, cause := range told.Causes {
		p.line("%3.0f %%  %s %s", 100*cause.Weight, cause.Words, cause.Cure)
	}
	return p.err
}

func consoleCommand() *cobra.Command {
	var port string
	var rate int
	cmd := &cobra.Command{
		Use:   "console --port PORT",
		Short: "Show what a board prints, and send it what is typed, until it is ended",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			line, err := link.Open(port, rate)
			if err != nil {
				return exit{exitSilent, err}
			}
			ctx, stop := signal.NotifyContext(cmd.Context(), os.Interrupt, syscall.SIGTERM)
			defer stop()
			ended := make(chan error, 2)
			go func() { _, err := io.Copy(cmd.OutOrStdout(), line); ended <- err }()
			go func() {
				if _, err := io.Copy(line, cmd.InOrStdin()); err != nil {
					ended <- err
				}
			}()
			select {
			case <-ctx.Done():
				return line.Close()
			case err := <-ended:
				return exit{exitSilent, errors.Join(err, errors.New("the board is gone: its cable was pulled, or it was reset"), line.Close())}
			}
		},
	}
	cmd.Flags().StringVar(&port, "port", "", "the port that the board is at: cablaggio ports lists them")
	cmd.Flags().IntVar(&rate, "rate", 9600, "bits a second, as the program says")
	_ = cmd.MarkFlagRequired("port")
	return cmd
}
