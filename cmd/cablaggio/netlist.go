package main

import (
	"fmt"
	"io"

	"github.com/spf13/cobra"

	"cablaggio/core/electric/spice"
	"cablaggio/core/electric/wiring"
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
	cmd.Flags().StringArrayVar(&set, "set", nil, "a setting, such as D4=high, button1=pressed or potentiometer1=0.3; as the plan begins when it is left out")
	cmd.Flags().StringVar(&corner, "corner", "typical", "low, typical or high of everything that has a tolerance")
	return cmd
}

func runNetlist(out io.Writer, file string, set []string, corner string) error {
	at, err := wiring.ParseCorner(corner)
	if err != nil {
		return exit{exitUsage, fmt.Errorf("--corner: %w", err)}
	}
	lib, doc, err := readBuild(file)
	if err != nil {
		return err
	}
	n := wiring.Build(lib, doc)
	given, err := wiring.ParseSettings(set)
	if err != nil {
		return exit{exitUsage, fmt.Errorf("--set: %w", err)}
	}
	settings, err := n.Resolve(given)
	if err != nil {
		return exit{exitUsage, fmt.Errorf("--set: %w", err)}
	}
	return spice.Write(out, n, settings, at)
}
