package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"cablaggio/core/general/version"
)

func versionCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "version",
		Short: "Say which version this is",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			_, err := fmt.Fprintln(cmd.OutOrStdout(), version.Whole())
			return err
		},
	}
}
