// Command cablaggio serves the wiring book, and checks builds and sizes
// resistors at the command line.
package main

import (
	"errors"
	"fmt"
	"os"

	"github.com/spf13/cobra"
)

// Exit codes beside 0.
const (
	exitStop  = 1 // the build has a finding that is a stop
	exitUsage = 2 // the file is not a build, or the command makes no sense
)

// An exit ends the program with a code and, where there is one, a message.
type exit struct {
	code int
	err  error
}

func (e exit) Error() string {
	if e.err == nil {
		return ""
	}
	return e.err.Error()
}

func main() {
	root := &cobra.Command{
		Use:           "cablaggio",
		Short:         "A wiring book for the development-board bench",
		SilenceUsage:  true,
		SilenceErrors: true,
	}
	root.AddCommand(serveCommand(), backupCommand(), restoreCommand(), checkCommand(), sizeCommand(), netlistCommand(), checksCommand(), readsCommand(), judgeCommand(), diagnoseCommand(), faultsCommand(), faultCommand(), programCommand(), starterCommand(), runCommand(), shouldCommand(), portsCommand(), boardCommand(), askCommand(), consoleCommand(), openAPICommand(), schemaCommand(), versionCommand())
	err := root.Execute()
	if err == nil {
		return
	}
	code := exitUsage
	var e exit
	if errors.As(err, &e) {
		code = e.code
	}
	if text := err.Error(); text != "" {
		fmt.Fprintln(os.Stderr, "cablaggio: "+text)
	}
	os.Exit(code)
}
