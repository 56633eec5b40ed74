package main

import (
	"fmt"
	"io"
	"strings"
	"text/tabwriter"

	"github.com/spf13/cobra"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/planning/choose"
	"cablaggio/core/values/preferred"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/spec"
)

func sizeCommand() *cobra.Command {
	var supply, led, ma, series, have string
	cmd := &cobra.Command{
		Use:     "size --supply 5 --led red --ma 10",
		Short:   "Size the resistor before one LED",
		Long:    "Size the resistor before one LED.\nExits 0 with a value that suits, 2 when there is none or a flag makes no sense.",
		Example: "  cablaggio size --supply 5 --led red --ma 10\n  cablaggio size --supply 3V3 --led white --ma 5 --have 100R,220R,1k",
		Args:    cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			return runSize(cmd.OutOrStdout(), supply, led, ma, series, have)
		},
	}
	f := cmd.Flags()
	f.StringVar(&supply, "supply", "5", "supply voltage, such as 5 or 3V3")
	f.StringVar(&led, "led", "red", "type of the LED, or its forward voltage, such as 2.1 V")
	f.StringVar(&ma, "ma", "10", "wanted current in milliamperes")
	f.StringVar(&series, "series", "E12", "preferred values to choose from")
	f.StringVar(&have, "have", "", "values at hand instead, separated by commas")
	return cmd
}

func runSize(out io.Writer, supply, led, ma, series, have string) error {
	volts, err := positive("--supply", supply, quantity.Volt)
	if err != nil {
		return err
	}
	wanted, err := positive("--ma", ma, quantity.None)
	if err != nil {
		return err
	}
	wish := choose.Wish{Amps: wanted / 1000}
	if wish.Series, err = preferred.ParseSeries(series); err != nil {
		return exit{exitUsage, err}
	}
	for text := range strings.SplitSeq(have, ",") {
		if strings.TrimSpace(text) == "" {
			continue
		}
		v, err := positive("--have", text, quantity.Ohm)
		if err != nil {
			return err
		}
		wish.Have = append(wish.Have, v)
	}
	kind, _ := build.Shipped().Catalogue.Kind("led")
	forward, source, err := forwardOf(kind, led)
	if err != nil {
		return err
	}
	if forward.High >= volts {
		return exit{exitUsage, fmt.Errorf("a supply of %s is not enough for an LED that needs up to %s", quantity.Short(volts, quantity.Volt), quantity.Format(forward.High, quantity.Volt))}
	}
	value := func(id string) float64 { return kind.Stated(source, id).Typ }
	wish.Limit = value("maximumCurrent")
	if wish.Amps > wish.Limit {
		return exit{exitUsage, fmt.Errorf("%s is more than an LED survives, which is about %s", quantity.Short(wish.Amps, quantity.Ampere), quantity.Short(wish.Limit, quantity.Ampere))}
	}
	trial := choose.Loop{
		Volts: spec.Exactly(volts, "--supply"), Forward: forward,
		Amps: value("testCurrent"), N: value("ideality"), Rs: value("seriesResistance"), Tolerance: 0.05,
	}
	ideal, err := choose.Ideal(trial, wish.Amps)
	if err != nil {
		return exit{exitUsage, err}
	}
	candidates, err := choose.Resistor(trial, wish)
	if err != nil {
		return exit{exitUsage, err}
	}
	p := printer{out: out}
	p.line("%s from %s through a %s LED: %s exactly, %s best", quantity.Short(wish.Amps, quantity.Ampere), quantity.Short(volts, quantity.Volt), led,
		quantity.Format(ideal, quantity.Ohm), quantity.Short(choose.Best(candidates).Ohms, quantity.Ohm))
	p.line("working: R = (U − VF) ÷ I = (%s − %s) ÷ %s = %s\n", quantity.Short(volts, quantity.Volt),
		quantity.Format(volts-wish.Amps*ideal, quantity.Volt), quantity.Short(wish.Amps, quantity.Ampere), quantity.Format(ideal, quantity.Ohm))
	if p.err != nil {
		return p.err
	}
	w := tabwriter.NewWriter(out, 0, 0, 2, ' ', tabwriter.AlignRight)
	fmt.Fprintln(w, "\tresistor\tlow\ttypical\thigh\theat\t")
	for _, c := range candidates {
		mark := ""
		switch {
		case c.Best:
			mark = "best"
		case !c.Within:
			mark = "too much"
		case c.Usual:
			mark = "usual"
		}
		fmt.Fprintf(w, "%s\t%s\t%s\t%s\t%s\t%s\t\n", mark, quantity.Short(c.Ohms, quantity.Ohm), quantity.Format(c.Amps.Low, quantity.Ampere),
			quantity.Format(c.Amps.Typ, quantity.Ampere), quantity.Format(c.Amps.High, quantity.Ampere), quantity.Format(c.Watts, quantity.Watt))
	}
	if err := w.Flush(); err != nil {
		return err
	}
	p.line("\nlow and high: resistor ±5 %%, forward voltage %s (%s)", quantity.FormatRange(forward.Low, forward.Typ, forward.High, quantity.Volt), forward.Source)
	return p.err
}

// forwardOf reads a type of LED or a forward voltage, and says whose other
// values to use.
func forwardOf(kind *part.Kind, led string) (spec.Value, string, error) {
	if t, ok := kind.Type(strings.ToLower(led)); ok {
		return t.Values["forwardVoltage"], t.ID, nil
	}
	v, err := quantity.Parse(led, quantity.Volt)
	if err == nil {
		err = build.CheckValue(kind, "forwardVoltage", v)
	}
	if err != nil {
		var ids []string
		for _, t := range kind.Types {
			ids = append(ids, t.ID)
		}
		return spec.Value{}, "", exit{exitUsage, fmt.Errorf("--led: %w; or one of %s", err, strings.Join(ids, ", "))}
	}
	return kind.Stated("red", "forwardVoltage").Rescaled(v, "your own value"), "red", nil
}

// positive reads a flag that must be above zero.
func positive(flag, text string, unit quantity.Unit) (float64, error) {
	v, err := quantity.Parse(text, unit)
	if err == nil && v <= 0 {
		err = fmt.Errorf("%q must be above zero", text)
	}
	if err != nil {
		return 0, exit{exitUsage, fmt.Errorf("%s: %w", flag, err)}
	}
	return v, nil
}
