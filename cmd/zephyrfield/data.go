package main

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"strings"
	"time"

	"github.com/spf13/cobra"
	"golang.org/x/term"

	"zephyrfield/agronomy/allocate"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/exchange/dosejson"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/store"
	"zephyrfield/internal/web/site"
)

func doseCommand() *cobra.Command {
	return asking("dose", "Read a dose request as JSON, write the answer as JSON (docs/dose.md)", dosejson.Doses)
}

func rationCommand() *cobra.Command {
	steps := allocate.UsualSteps
	c := asking("ration", "Share what is on hand out over beds, as JSON (docs/ration.md)",
		func(b []byte) (any, error) { return dosejson.RationTo(b, steps) })
	c.Flags().IntVar(&steps, "budget", steps, "how many steps to search at the most, 0 for as many as it takes")
	return c
}

func forecastCommand() *cobra.Command {
	return asking("forecast", "Forecast a bed’s pH and potassium from its readings, as JSON (docs/forecast.md)", dosejson.Forecasts)
}

// asking returns a command that reads requests and writes answers.
func asking(name, short string, to dosejson.Answerer) *cobra.Command {
	var lines bool
	c := &cobra.Command{
		Use: name, Short: short, Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if lines {
				refused, err := to.Lines(c.InOrStdin(), c.OutOrStdout())
				if err == nil && refused > 0 {
					err = errAnswered
				}
				return err
			}
			if err := to.One(c.InOrStdin(), c.OutOrStdout()); err != nil {
				return errors.Join(errAnswered, err)
			}
			return nil
		},
	}
	c.Flags().BoolVar(&lines, "lines", false, "one request a line, one answer a line, as a stream")
	return c
}

func dataFlag(c *cobra.Command, data *string) {
	c.Flags().StringVar(data, "data", "", "the garden's file")
	_ = c.MarkFlagRequired("data")
}

// existing opens a garden's file, which must exist.
func existing(ctx context.Context, path string) (*store.Store, error) {
	if _, err := os.Stat(path); err != nil {
		return nil, err
	}
	return store.Open(ctx, path)
}

func exportCommand() *cobra.Command {
	var data string
	c := &cobra.Command{
		Use: "export --data FILE > ARCHIVE", Short: "Write the whole garden as one JSON archive", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) (err error) {
			st, err := existing(c.Context(), data)
			if err != nil {
				return err
			}
			defer func() { err = errors.Join(err, st.Close()) }()
			return st.Read(c.Context(), func(r garden.Reader) error { return exchange.WriteArchive(c.OutOrStdout(), r) })
		},
	}
	dataFlag(c, &data)
	return c
}

func importCommand() *cobra.Command {
	var data string
	c := &cobra.Command{
		Use: "import --data FILE < ARCHIVE", Short: "Bring a JSON archive into an empty garden", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) (err error) {
			st, err := store.Open(c.Context(), data)
			if err != nil {
				return err
			}
			defer func() { err = errors.Join(err, st.Close()) }()
			_, err = st.Restore(c.Context(), garden.Change{Who: "gardener", At: time.Now()},
				func(put func(garden.Record) error) error { return exchange.ReadArchive(c.InOrStdin(), put) })
			return err
		},
	}
	dataFlag(c, &data)
	return c
}

func restoreCommand() *cobra.Command {
	var data, from string
	c := &cobra.Command{
		Use: "restore --data FILE --from COPY", Short: "Put a copy of a garden in the place of its file", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			was, err := store.RestoreFile(c.Context(), data, from, time.Now())
			if err != nil {
				return err
			}
			says := data + " is now what " + from + " was.\n"
			switch {
			case was.NoAccess:
				says += "What was there before is kept as " + was.Kept + ".\nIts passphrase, diary address and sign-ins could not be read: " +
					"there are none now. Set a passphrase with: zephyrfield passphrase --data " + data + "\n"
			case was.Kept != "":
				says += "What was there before is kept as " + was.Kept + ".\nPassphrase, diary address and sign-ins stay as they were there.\n"
			}
			_, err = fmt.Fprint(c.OutOrStdout(), says)
			return err
		},
	}
	dataFlag(c, &data)
	c.Flags().StringVar(&from, "from", "", "the copy: one of FILE.copies, or any garden file")
	_ = c.MarkFlagRequired("from")
	return c
}

func passphraseCommand() *cobra.Command {
	var data string
	c := &cobra.Command{
		Use: "passphrase --data FILE", Short: "Set the passphrase that other machines must give", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) (err error) {
			pass, err := askPassphrase(c)
			if err != nil {
				return err
			}
			st, err := store.Open(c.Context(), data)
			if err != nil {
				return err
			}
			defer func() { err = errors.Join(err, st.Close()) }()
			if err := st.SetPassphraseHash(c.Context(), site.HashPassphrase(pass), ""); err != nil {
				return err
			}
			_, err = fmt.Fprintln(c.OutOrStdout(), "The passphrase is set. Whoever was signed in must sign in again.")
			return err
		},
	}
	dataFlag(c, &data)
	return c
}

// askPassphrase asks twice at a terminal, or reads one line from a pipe.
func askPassphrase(c *cobra.Command) (string, error) {
	in, isFile := c.InOrStdin().(*os.File)
	var pass string
	if isFile && term.IsTerminal(int(in.Fd())) {
		for i, ask := range []string{"Passphrase: ", "Once more: "} {
			_, _ = fmt.Fprint(c.ErrOrStderr(), ask)
			b, err := term.ReadPassword(int(in.Fd()))
			_, _ = fmt.Fprintln(c.ErrOrStderr())
			if err != nil {
				return "", err
			}
			if i == 1 && string(b) != pass {
				return "", errors.New("the two are not the same")
			}
			pass = string(b)
		}
	} else {
		line, err := bufio.NewReader(c.InOrStdin()).ReadString('\n')
		if err != nil && !errors.Is(err, io.EOF) {
			return "", err
		}
		pass = strings.TrimRight(line, "\r\n")
	}
	if why := site.PassphraseFault(pass); why != "" {
		return "", errors.New(why)
	}
	return pass, nil
}
