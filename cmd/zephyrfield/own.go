package main

import (
	"context"
	"fmt"
	"io"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"strings"
	"time"

	"github.com/spf13/cobra"
)

// version is set when the program is built for distribution.
var version = "from its source"

// ownGarden returns the default location of the gardener's garden: the system's folder for user
// data.
func ownGarden(system string, env func(string) string) (string, error) {
	var dir string
	switch home := env("HOME"); {
	case system == "windows":
		if dir = env("LOCALAPPDATA"); dir != "" {
			dir = filepath.Join(dir, "Zephyr Field")
		}
	case home == "":
	case system == "darwin":
		dir = filepath.Join(home, "Library", "Application Support", "Zephyr Field")
	case filepath.IsAbs(env("XDG_DATA_HOME")):
		dir = filepath.Join(env("XDG_DATA_HOME"), "zephyrfield")
	default:
		dir = filepath.Join(home, ".local", "share", "zephyrfield")
	}
	if dir == "" {
		return "", fmt.Errorf("there is no folder for your data on this system: say where with serve --data FILE")
	}
	return filepath.Join(dir, "garden.db"), nil
}

// openOwn opens the gardener's garden and the browser on it; a running one is shown.
func openOwn(c *cobra.Command, browser bool) error {
	file, err := ownGarden(runtime.GOOS, os.Getenv)
	if err != nil {
		return err
	}
	if err := os.MkdirAll(filepath.Dir(file), 0o700); err != nil {
		return err
	}
	s := serving{data: file, listen: usualAddress, log: "quiet"}
	if browser {
		s.opened = func(url string) { show(c, url) }
	}
	if url := "http://" + usualAddress; browser && running(c.Context(), url) {
		_, _ = fmt.Fprintln(c.OutOrStdout(), "Zephyr Field is open already at", url)
		show(c, url)
		return nil
	}
	_, _ = fmt.Fprintln(c.OutOrStdout(), "Your garden is kept in", file)
	return s.run(c)
}

// running reports whether this program answers at an address.
func running(ctx context.Context, url string) bool {
	ctx, cancel := context.WithTimeout(ctx, 2*time.Second)
	defer cancel()
	r, err := http.NewRequestWithContext(ctx, http.MethodGet, url, nil)
	if err != nil {
		return false
	}
	resp, err := http.DefaultClient.Do(r)
	if err != nil {
		return false
	}
	defer func() { _ = resp.Body.Close() }()
	page, err := io.ReadAll(io.LimitReader(resp.Body, 1<<16))
	return err == nil && strings.Contains(string(page), "· Zephyr Field</title>")
}

// browsers are the commands that open an address, by system.
var browsers = map[string][]string{
	"linux": {"xdg-open"}, "darwin": {"open"}, "windows": {"rundll32", "url.dll,FileProtocolHandler"},
}

// show opens the browser; if that fails, the address was already printed.
func show(c *cobra.Command, url string) {
	with, ok := browsers[runtime.GOOS]
	if !ok {
		return
	}
	if err := exec.CommandContext(context.WithoutCancel(c.Context()), with[0], append(with[1:], url)...).Start(); err != nil {
		_, _ = fmt.Fprintln(c.ErrOrStderr(), "The browser did not open; go to", url)
	}
}
