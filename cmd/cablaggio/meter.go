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
	"cablaggio/core/faults/meter"
	"cablaggio/core/values/quantity"
)

// meterFlags are what the commands of the meter share.
type meterFlags struct {
	meter  string
	asJSON bool
}

func (f *meterFlags) on(cmd *cobra.Command) {
	cmd.Flags().StringVar(&f.meter, "meter", "", "a file that describes your meter; a usual handheld one when it is left out")
	cmd.Flags().BoolVar(&f.asJSON, "json", false, "print it as JSON")
}

// instrument reads the meter that the flags name.
func (f *meterFlags) instrument() (*meter.Instrument, error) {
	if f.meter == "" {
		return meter.Handheld(), nil
	}
	file, err := os.Open(f.meter)
	if err != nil {
		return nil, exit{exitUsage, err}
	}
	defer file.Close()
	m, err := meter.Parse(file)
	if err != nil {
		return nil, exit{exitUsage, fmt.Errorf("%s: %w", f.meter, err)}
	}
	return m, nil
}

func printJSON(out io.Writer, v any) error {
	e := json.NewEncoder(out)
	e.SetIndent("", "  ")
	return e.Encode(v)
}

func checksCommand() *cobra.Command {
	var f meterFlags
	cmd := &cobra.Command{
		Use:   "checks FILE",
		Short: "Print what to measure in a build, in the order of the work, and what to expect",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			list, _, err := checksOf(&f, args[0])
			if err != nil {
				return err
			}
			if f.asJSON {
				return printJSON(cmd.OutOrStdout(), list)
			}
			return printChecks(cmd.OutOrStdout(), list)
		},
	}
	f.on(cmd)
	return cmd
}

func checksOf(f *meterFlags, file string) (*meter.List, *meter.Instrument, error) {
	m, err := f.instrument()
	if err != nil {
		return nil, nil, err
	}
	lib, doc, err := readBuild(file)
	if err != nil {
		return nil, nil, err
	}
	list, err := m.Checks(lib, doc)
	if err != nil {
		return nil, nil, exit{exitUsage, fmt.Errorf("%s: %w", file, err)}
	}
	return list, m, nil
}

func printChecks(out io.Writer, list *meter.List) error {
	p := printer{out: out}
	group := ""
	for i, c := range list.Checks {
		if c.Group != group {
			group = c.Group
			p.line("%s", group)
		}
		p.line("%3d. %s", i+1, strings.Join(append([]string{c.Do}, c.State...), " "))
		p.line("     range %s, expect %s", c.Expect.Range, c.Expect.Text)
		for _, s := range c.Shows[:min(2, len(c.Shows))] {
			p.line("     %s: %s", s.Reads.TypText, s.Words)
		}
		p.line("     check %s", c.ID)
	}
	unshown := ""
	if n := len(list.Unshown); n > 0 {
		unshown = fmt.Sprintf("; %d of them show in no reading", n)
	}
	p.line("%d checks for %d things that can be wrong%s", len(list.Checks), list.Faults, unshown)
	return p.err
}

func readsCommand() *cobra.Command {
	var f meterFlags
	var between, in string
	var set []string
	var unpowered, ohms, volts, diode, hertz, duty bool
	var at string
	cmd := &cobra.Command{
		Use:   "reads FILE",
		Short: "Print what a meter must read between two places of a build, or in a leg",
		Example: "  cablaggio reads build.json --between A0,GND --set light-resistor1=\"a room at night\"\n" +
			"  cablaggio reads build.json --between led1.anode,led1.cathode --diode\n" +
			"  cablaggio reads build.json --in led1.anode --set D4=high\n" +
			"  cablaggio reads build.json --between D5,GND --at \"30 %\" [--hertz|--duty]",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			q := meter.Question{Way: meter.Volts}
			switch {
			case diode:
				q.Way = meter.Diode
			case ohms || unpowered && !volts:
				q.Way = meter.Ohms
			case hertz:
				q.Way = meter.Hertz
			case duty:
				q.Way = meter.Duty
			case unpowered:
				return exit{exitUsage, fmt.Errorf("without power there are no volts to read; leave --volts or --unpowered out")}
			}
			m, err := f.instrument()
			if err != nil {
				return err
			}
			lib, doc, err := readBuild(args[0])
			if err != nil {
				return err
			}
			if in != "" {
				q.Way = meter.Amps
				between = in + "," + in
			}
			if q.Red, q.Black, err = places(lib, doc, between); err != nil {
				return exit{exitUsage, err}
			}
			if q.Set, err = wiring.ParseSettings(set); err != nil {
				return exit{exitUsage, fmt.Errorf("--set: %w", err)}
			}
			if at != "" || hertz || duty {
				percent := 50.0
				if at != "" {
					if percent, err = quantity.Parse(at, quantity.Percent); err != nil {
						return exit{exitUsage, fmt.Errorf("--at: %w", err)}
					}
				}
				q.At, q.Pulse = percent/100, q.Way == meter.Volts
			}
			x, err := m.Expected(lib, doc, q)
			if err != nil {
				return exit{exitUsage, err}
			}
			if f.asJSON {
				return printJSON(cmd.OutOrStdout(), x)
			}
			p := printer{out: cmd.OutOrStdout()}
			p.line("%s (range %s)", x.Text, x.Range)
			for _, w := range x.Working {
				p.line("  %s", w)
			}
			return p.err
		},
	}
	f.on(cmd)
	cmd.Flags().StringVar(&between, "between", "", "where red and black go: two legs or places of the board, as in led1.anode,GND")
	cmd.Flags().StringVar(&in, "in", "", "a leg whose current is read: it is lifted out, and the meter put in its way")
	cmd.Flags().StringArrayVar(&set, "set", nil, "a setting, such as D4=high, button1=pressed or potentiometer1=0.3; as the plan begins when it is left out")
	cmd.Flags().BoolVar(&unpowered, "unpowered", false, "the board is unplugged")
	cmd.Flags().BoolVar(&ohms, "ohms", false, "ohms, unplugged")
	cmd.Flags().BoolVar(&volts, "volts", false, "volts (as when nothing is said)")
	cmd.Flags().BoolVar(&diode, "diode", false, "the diode range, unplugged")
	cmd.Flags().BoolVar(&hertz, "hertz", false, "the frequency of a pin that has a duty")
	cmd.Flags().BoolVar(&duty, "duty", false, "its duty")
	cmd.Flags().StringVar(&at, "at", "", "the duty that the program gives the pin there, such as \"30 %\"; of volts: what they are on average")
	cmd.MarkFlagsMutuallyExclusive("ohms", "volts", "diode", "in", "hertz", "duty")
	return cmd
}

// places reads two places; one without a point is of the board.
func places(lib *build.Library, doc *build.Document, text string) (red, black build.Terminal, err error) {
	a, b, ok := strings.Cut(text, ",")
	if !ok {
		return "", "", fmt.Errorf("%q is not two places; write --between with a comma between them, as in led1.anode,GND", text)
	}
	for _, x := range []struct {
		text string
		into *build.Terminal
	}{{a, &red}, {b, &black}} {
		t := build.Terminal(strings.TrimSpace(x.text))
		if !strings.Contains(string(t), ".") {
			t = build.Pin(string(t))
		}
		if err := lib.CheckTerminal(doc, t); err != nil {
			return "", "", err
		}
		*x.into = t
	}
	return red, black, nil
}

func judgeCommand() *cobra.Command {
	var f meterFlags
	var id, reading string
	cmd := &cobra.Command{
		Use:   "judge FILE",
		Short: "Say what a reading of a check means",
		Long:  "Say what a reading of a check means.\nExits 0 when it is as expected, 1 when it is not, 2 when it is not understood.",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			list, m, err := checksOf(&f, args[0])
			if err != nil {
				return err
			}
			var ids []string
			for i := range list.Checks {
				c := &list.Checks[i]
				ids = append(ids, c.ID)
				if c.ID != id {
					continue
				}
				v, err := m.Judge(c, reading)
				if err != nil {
					return exit{exitUsage, err}
				}
				if f.asJSON {
					err = printJSON(cmd.OutOrStdout(), v)
				} else {
					p := printer{out: cmd.OutOrStdout()}
					p.line("%s: %s", v.Text, v.Words)
					for _, s := range v.Causes {
						p.line("  %s %s", s.Words, s.Look)
					}
					err = p.err
				}
				if err == nil && v.Means == meter.NotSo {
					return exit{exitStop, nil}
				}
				return err
			}
			return exit{exitUsage, fmt.Errorf("there is no check %q in this build; there are\n  %s", id, strings.Join(ids, "\n  "))}
		},
	}
	f.on(cmd)
	cmd.Flags().StringVar(&id, "check", "", "the check, by its id (cablaggio checks prints them)")
	cmd.Flags().StringVar(&reading, "reading", "", "what the meter shows, such as \"2.13 V\" or OL")
	return cmd
}
