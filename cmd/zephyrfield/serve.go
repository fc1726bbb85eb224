package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/demo"
	"zephyrfield/internal/instrument"
	"zephyrfield/internal/job"
	"zephyrfield/internal/layout"
	"zephyrfield/internal/store"
	"zephyrfield/internal/web/server"
	"zephyrfield/internal/web/site"
)

// usualAddress is the default listening address.
const usualAddress = "127.0.0.1:8017"

// serving is the settings of both serve and demo.
type serving struct {
	listen          string
	hosts           []string
	tlsCert, tlsKey string
	data, today     string
	probe           string
	weather         string
	log             string
	// rehearse is the first day of a new rehearsal's calendar; "" for the gardener's own garden.
	rehearse string
	demo     bool
	// opened is called with the address once it answers; may be nil.
	opened  func(url string)
	demoDay quantity.Day
}

func demoCommand() *cobra.Command {
	s := serving{demo: true}
	c := &cobra.Command{
		Use: "demo", Short: "Open Hollin Terrace, a made-up garden with four seasons of records", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			d, err := quantity.ParseDay(s.today)
			if err != nil {
				return fmt.Errorf("--today: %w", err)
			}
			dir, err := os.MkdirTemp("", "zephyrfield-demo-")
			if err != nil {
				return err
			}
			defer func() { _ = os.RemoveAll(dir) }()
			s.demoDay, s.data = d, filepath.Join(dir, "hollin-terrace.db")
			return s.run(c)
		},
	}
	c.Flags().StringVar(&s.today, "today", demo.Today, "the day on which the demo's calendar starts")
	c.Flags().StringVar(&s.listen, "listen", usualAddress, "address to listen on")
	return c
}

func serveCommand() *cobra.Command {
	s := serving{}
	c := &cobra.Command{
		Use: "serve --data FILE", Short: "Keep your own garden in FILE", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if s.rehearse != "" {
				if _, err := quantity.ParseDay(s.rehearse); err != nil {
					return fmt.Errorf("--rehearse: %w", err)
				}
			}
			return s.run(c)
		},
	}
	f := c.Flags()
	f.StringVar(&s.data, "data", "", "the garden's file; it is made if there is none")
	f.StringVar(&s.listen, "listen", usualAddress, "address to listen on; anything but this machine's own needs a passphrase")
	f.StringSliceVar(&s.hosts, "host", nil, "a further name that the garden is asked for by (may be repeated)")
	f.StringVar(&s.tlsCert, "tls-cert", "", "certificate file, to serve HTTPS")
	f.StringVar(&s.log, "log", "quiet", "quiet: what went wrong; text or json: one line a request too, without what was asked or sent")
	f.StringVar(&s.probe, "probe", "", "a pH probe that writes lines of text: a device file or a pipe (docs/instruments.md)")
	f.StringVar(&s.weather, "weather", "", "measured and forecast weather: a CSV file, or a folder of them (docs/weather.md)")
	f.StringVar(&s.tlsKey, "tls-key", "", "key file of the certificate")
	f.StringVar(&s.rehearse, "rehearse", "", "make the new file a rehearsal for good, on a calendar of its own that starts on this day")
	_ = c.MarkFlagRequired("data")
	return c
}

// demoSeed makes the demo's stand-ins deterministic.
const demoSeed = 20261124

// loopback reports whether a host is this machine's own.
func loopback(host string) bool {
	if host == "localhost" {
		return true
	}
	ip := net.ParseIP(host)
	return ip != nil && ip.IsLoopback()
}

// at returns the listening host; own is set if that is this machine only.
func (s serving) at() (host string, own bool, err error) {
	if host, _, err = net.SplitHostPort(s.listen); err != nil {
		return "", false, fmt.Errorf("--listen: %w", err)
	}
	if (s.tlsCert == "") != (s.tlsKey == "") {
		return "", false, errors.New("--tls-cert and --tls-key go together")
	}
	own = loopback(host)
	if s.demo && !own {
		return "", false, fmt.Errorf("the demo listens on this machine only, not on %s", s.listen)
	}
	return host, own, nil
}

func (s serving) run(c *cobra.Command) error {
	ctx := c.Context()
	host, own, err := s.at()
	if err != nil {
		return err
	}
	log, requests, err := s.logs(c.ErrOrStderr())
	if err != nil {
		return err
	}
	st, err := store.OpenServing(ctx, s.data, s.listen)
	if err != nil {
		return err
	}
	defer closed(c, st)
	done, err := ownTemp(st.Path())
	if err != nil {
		return err
	}
	defer done()
	for _, note := range st.Notes() {
		_, _ = fmt.Fprintln(c.ErrOrStderr(), note)
	}
	if !own {
		if err := wantPassphrase(ctx, st, s.listen); err != nil {
			return err
		}
	}
	jobs, err := job.NewRunner(ctx, st, time.Now)
	if err != nil {
		return err
	}
	defer jobs.Stop() // before the file is closed
	cfg := site.Config{Store: st, Gate: st, Labs: st, Jobs: jobs, Clock: site.RealClock{}, SignIn: !own, TLS: s.tlsCert != "",
		Hosts: s.names(host), Log: log, Requests: requests}
	if err := s.stock(c, st, &cfg); err != nil {
		return err
	}
	parted, err := s.outside(&cfg)
	if err != nil {
		return err
	}
	defer parted()
	h, err := server.New(cfg)
	if err != nil {
		return err
	}
	l, err := (&net.ListenConfig{}).Listen(ctx, "tcp", s.listen)
	if err != nil {
		return err
	}
	s.say(c, shown(l.Addr().String(), cfg.Hosts), own)
	s.reportAddress(l.Addr())
	if !s.demo {
		go keepCopies(ctx, st, cfg)
		go takeSoil(ctx, layout.Service{Store: st}, cfg, soilEvery)
	}
	return server.Serve(ctx, l, resting(ctx, h, restAfter, giveBack(st)), s.tlsCert, s.tlsKey)
}

// reportAddress reports the listening address.
func (s serving) reportAddress(at net.Addr) {
	if s.opened != nil {
		s.opened("http://" + at.String())
	}
}

// outside connects the configured probes and stations; done closes them.
func (s serving) outside(cfg *site.Config) (done func(), err error) {
	done = func() {}
	if s.weather != "" {
		if _, err := os.Stat(s.weather); err != nil {
			return done, fmt.Errorf("--weather: %w", err)
		}
		cfg.Weather = &instrument.FileWeather{Path: s.weather}
	}
	if s.probe != "" {
		f, err := os.Open(s.probe)
		if err != nil {
			return done, fmt.Errorf("--probe: %w", err)
		}
		cfg.Probe = instrument.NewLineProbe("Probe on "+s.probe, f, time.Now)
		return func() { _ = f.Close() }, nil
	}
	return done, nil
}

// stock fills the demo's garden and connects its stand-ins, or writes the day's backup of the
// gardener's own.
func (s serving) stock(c *cobra.Command, st *store.Store, cfg *site.Config) error {
	ctx := c.Context()
	if s.demo {
		return s.stockDemo(ctx, st, cfg)
	}
	if err := s.rehearsal(ctx, st, cfg); err != nil {
		return err
	}
	if _, err := st.DailyCopy(ctx, cfg.Clock.Today()); err != nil {
		// The garden is served anyway; the page Backup and files shows the failure too.
		_, _ = fmt.Fprintf(c.ErrOrStderr(), "Today's copy could not be written: %v. The garden is open all the same.\n", err)
	}
	return nil
}

// rehearsal marks a new file as a rehearsal if asked for, and sets a rehearsal's calendar.
func (s serving) rehearsal(ctx context.Context, st *store.Store, cfg *site.Config) error {
	day, err := st.Rehearsal(ctx)
	if err != nil {
		return err
	}
	if s.rehearse != "" && day == 0 {
		if day, err = quantity.ParseDay(s.rehearse); err != nil {
			return err
		}
		if err := st.BeginRehearsal(ctx, day); err != nil {
			return fmt.Errorf("--rehearse: %w", err)
		}
	}
	if day != 0 {
		cfg.Rehearsal = site.NewRehearsalClock(day, func(d quantity.Day) error { return st.SetRehearsal(context.WithoutCancel(ctx), d) })
		cfg.Clock = cfg.Rehearsal
	}
	return nil
}

// stockDemo fills the demo's garden and connects its stand-ins.
func (s serving) stockDemo(ctx context.Context, st *store.Store, cfg *site.Config) error {
	if err := demo.Build(ctx, st); err != nil {
		return err
	}
	cfg.Demo = site.NewDemoClock(s.demoDay)
	cfg.Clock = cfg.Demo
	cfg.Probe, cfg.Lab = instrument.NewFakeProbe(demoSeed), instrument.FakeLab{Seed: demoSeed}
	cfg.Weather = instrument.FakeWeather{Seed: demoSeed}
	return nil
}

// logs returns the writers of errors and requests; nil for none.
func (s serving) logs(w io.Writer) (faults, requests *slog.Logger, err error) {
	switch s.log {
	case "", "quiet":
		return slog.New(slog.NewTextHandler(w, nil)), nil, nil
	case "text":
		l := slog.New(slog.NewTextHandler(w, nil))
		return l, l, nil
	case "json":
		l := slog.New(slog.NewJSONHandler(w, nil))
		return l, l, nil
	}
	return nil, nil, fmt.Errorf("--log: quiet, text or json is meant, not %q", s.log)
}

// tempEnd is the suffix of the folder of running uploads.
const tempEnd = ".uploads"

// tempFiles are the names of what a process puts there: uploads, and files on their way to a reader.
var tempFiles = []string{"multipart-*", "zephyrfield-*"}

// ownTemp puts running uploads in a private folder beside the garden, and clears what a killed
// process left there. A folder of that name that somebody else made, and what else lies in it, stays.
func ownTemp(data string) (done func(), err error) {
	dir := data + tempEnd
	if err := clearTemp(dir); err != nil {
		return nil, err
	}
	if err := os.Mkdir(dir, 0o700); err != nil && !errors.Is(err, os.ErrExist) {
		// A disk that cannot be written to is reported when something is saved.
		return func() {}, nil
	}
	was := os.Getenv("TMPDIR")
	if err := os.Setenv("TMPDIR", dir); err != nil {
		return nil, err
	}
	return func() { _, _ = clearTemp(dir), os.Setenv("TMPDIR", was) }, nil
}

// clearTemp removes the program's own files from a folder, and the folder if nothing else is in it.
func clearTemp(dir string) error {
	entries, err := os.ReadDir(dir)
	if errors.Is(err, os.ErrNotExist) {
		return nil
	}
	if err != nil {
		return err
	}
	left := len(entries)
	for _, e := range entries {
		own := slices.ContainsFunc(tempFiles, func(pattern string) bool { ok, _ := filepath.Match(pattern, e.Name()); return ok })
		if !own || !e.Type().IsRegular() {
			continue
		}
		if err := os.Remove(filepath.Join(dir, e.Name())); err != nil {
			return err
		}
		left--
	}
	if left > 0 {
		return nil
	}
	return os.Remove(dir)
}

// closed checkpoints the garden's file; if that fails, it says which two files belong together.
func closed(c *cobra.Command, st *store.Store) {
	if err := st.Close(); err != nil {
		_, _ = fmt.Fprintln(c.ErrOrStderr(), "zephyrfield: closing:", err)
	}
	if wal := st.Together(); wal != "" {
		_, _ = fmt.Fprintf(c.ErrOrStderr(), "%s and %s belong together: copy or move both, or neither. Nothing is lost.\n", st.Path(), wal)
	}
}

// names returns the allowed Host headers.
func (s serving) names(host string) []string {
	names := []string{"localhost", "127.0.0.1", "::1"}
	for _, h := range append([]string{host}, s.hosts...) {
		if h != "" {
			names = append(names, strings.ToLower(h))
		}
	}
	if ip := net.ParseIP(host); host == "" || ip != nil && ip.IsUnspecified() {
		// Listening on every address, each of them is allowed.
		if all, err := net.InterfaceAddrs(); err == nil {
			for _, a := range all {
				if n, ok := a.(*net.IPNet); ok {
					names = append(names, n.IP.String())
				}
			}
		}
	}
	return names
}

// shown returns the address to open: for a listener on every address, one that others can reach.
func shown(at string, names []string) string {
	host, port, err := net.SplitHostPort(at)
	if ip := net.ParseIP(host); err != nil || ip == nil || !ip.IsUnspecified() {
		return at
	}
	for _, n := range names {
		if ip := net.ParseIP(n); ip != nil && !ip.IsLoopback() && !ip.IsUnspecified() && ip.To4() != nil {
			return net.JoinHostPort(n, port)
		}
	}
	return net.JoinHostPort("localhost", port)
}

func wantPassphrase(ctx context.Context, st *store.Store, listen string) error {
	hash, err := st.PassphraseHash(ctx)
	if err != nil {
		return err
	}
	if hash == "" {
		return fmt.Errorf("listening on %s lets others in: set a passphrase first with\n  zephyrfield passphrase --data %s", listen,
			st.Path())
	}
	return nil
}

func (s serving) say(c *cobra.Command, at string, own bool) {
	scheme := "http"
	if s.tlsCert != "" {
		scheme = "https"
	}
	what := s.data
	if s.demo {
		what = "Hollin Terrace (made up; nothing is kept after you stop it)"
	}
	_, _ = fmt.Fprintf(c.OutOrStdout(), "Zephyr Field: %s\nOpen %s://%s/   (Ctrl+C stops it)\n", what, scheme, at)
	if !own && s.tlsCert == "" {
		_, _ = fmt.Fprintln(c.OutOrStdout(), "Warning: without --tls-cert and --tls-key the passphrase crosses the network in the clear.")
	}
}

// keepCopies writes the day's backup when a new day has begun.
func keepCopies(ctx context.Context, st *store.Store, cfg site.Config) {
	tick := time.NewTicker(time.Hour)
	defer tick.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
			if _, err := st.DailyCopy(ctx, cfg.Clock.Today()); err != nil {
				cfg.Log.Error("daily copy", "error", err)
			}
		}
	}
}
