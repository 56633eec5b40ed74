package main

import (
	"github.com/spf13/cobra"

	"cablaggio/server"
)

func openAPICommand() *cobra.Command {
	return printing("openapi", "Print the OpenAPI description of the server's interface", server.OpenAPI)
}

func schemaCommand() *cobra.Command {
	return printing("schema", "Print the JSON Schema of an analysis", server.AnalysisSchema)
}

func printing(use, short string, what func() ([]byte, error)) *cobra.Command {
	return &cobra.Command{
		Use: use, Short: short, Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			data, err := what()
			if err != nil {
				return err
			}
			_, err = cmd.OutOrStdout().Write(data)
			return err
		},
	}
}
