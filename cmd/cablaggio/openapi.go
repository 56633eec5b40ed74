package main

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"cablaggio/server"
)

func openAPICommand() *cobra.Command {
	return printing("openapi", "Print the OpenAPI description of the server's interface", server.OpenAPI)
}

func schemaCommand() *cobra.Command {
	names := slices.Sorted(maps.Keys(server.Formats))
	return &cobra.Command{
		Use: "schema " + strings.Join(names, "|"), Short: "Print the JSON Schema of a format that goes out",
		Args: cobra.ExactArgs(1), ValidArgs: names,
		RunE: func(cmd *cobra.Command, args []string) error {
			f, ok := server.Formats[args[0]]
			if !ok {
				return exit{exitUsage, fmt.Errorf("there is no schema of %q; there are %s", args[0], strings.Join(names, ", "))}
			}
			return write(cmd, f.Schema)
		},
	}
}

func printing(use, short string, what func() ([]byte, error)) *cobra.Command {
	return &cobra.Command{
		Use: use, Short: short, Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error { return write(cmd, what) },
	}
}

func write(cmd *cobra.Command, what func() ([]byte, error)) error {
	data, err := what()
	if err != nil {
		return err
	}
	_, err = cmd.OutOrStdout().Write(data)
	return err
}
