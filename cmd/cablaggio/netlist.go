package main

import (
	"fmt"
	"io"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"cablaggio/core/spice"
	"cablaggio/core/wiring"
)

func netlistCommand() *cobra.Command {
	var set []string
	var corner string
	cmd := &cobra.Command{
		Use:     "netlist FILE",
		Short:   "Print a build as a SPICE netlist, in one state and at one corner",
		Example: "  cablaggio netlist build.json --set D4=high --set button1=pressed --corner low",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return runNetlist(cmd.OutOrStdout(), args[0], set, corner)
		},
	}
	cmd.Flags().StringArrayVar(&set, "set", nil, "a setting, such as D4=high or button1=pressed; the first one when it is left out")
	cmd.Flags().StringVar(&corner, "corner", "typical", "low, typical or high of everything that has a tolerance")
	return cmd
}

var corners = map[string]wiring.Corner{"low": wiring.AtLow, "typical": wiring.AtTypical, "high": wiring.AtHigh}

func runNetlist(out io.Writer, file string, set []string, corner string) error {
	at, ok := corners[corner]
	if !ok {
		return exit{exitUsage, fmt.Errorf("--corner: %q is not low, typical or high", corner)}
	}
	lib, doc, err := readBuild(file)
	if err != nil {
		return err
	}
	n := wiring.Build(lib, doc)
	settings := make([]int, len(n.Controls))
	for _, s := range set {
		if err := apply(n, settings, s); err != nil {
			return exit{exitUsage, err}
		}
	}
	return spice.Write(out, n, settings, at)
}

// apply puts one control to the setting that "D4=high" names.
func apply(n *wiring.Network, settings []int, text string) error {
	of, setting, _ := strings.Cut(text, "=")
	var known []string
	for i, c := range n.Controls {
		for k, name := range c.Settings {
			if c.Of == of && name == setting {
				settings[i] = k
				return nil
			}
			known = append(known, c.Of+"="+name)
		}
	}
	slices.Sort(known)
	return fmt.Errorf("--set: %q is not a setting of this build; they are %s", text, strings.Join(known, ", "))
}
