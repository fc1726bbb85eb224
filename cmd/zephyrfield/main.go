// Command zephyrfield serves a garden and computes doses, forecasts and shares on the command line.
package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/signal"
	"syscall"

	"github.com/spf13/cobra"
)

// errAnswered is returned when the error has already been written.
var errAnswered = errors.New("refused")

func main() {
	keepSmall()
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	err := root().ExecuteContext(ctx)
	stop()
	switch {
	case errors.Is(err, errAnswered):
		os.Exit(2)
	case err != nil:
		fmt.Fprintln(os.Stderr, "zephyrfield:", err)
		os.Exit(1)
	}
}

func root() *cobra.Command {
	var quiet bool
	c := &cobra.Command{
		Use: "zephyrfield", Short: "Soil readings, doses of ash, lime or sulfur, and the record of every bed",
		Long:         "Alone, it opens your own garden, kept in your data folder, and the browser on it.",
		SilenceUsage: true, SilenceErrors: true, Version: version, Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error { return openOwn(c, !quiet) },
	}
	c.Flags().BoolVar(&quiet, "no-browser", false, "leave the browser closed")
	c.CompletionOptions.DisableDefaultCmd = true
	c.AddCommand(demoCommand(), serveCommand(), doseCommand(), rationCommand(), forecastCommand(),
		exportCommand(), importCommand(), restoreCommand(),
		passphraseCommand())
	return c
}
