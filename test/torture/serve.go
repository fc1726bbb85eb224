package main

import (
	"bufio"
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"strings"
	"time"
)

// served is the program serving a file.
type served struct {
	cmd  *exec.Cmd
	at   string
	says *bytes.Buffer
	// over is closed when it has ended; err is how.
	over chan struct{}
	err  error
}

// freePort returns one that nobody listens on.
func freePort() (string, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return "", err
	}
	return l.Addr().String(), l.Close()
}

// serve starts the program on a file and waits for its first page.
func (g *rig) serve(ctx context.Context, data string) (*served, error) {
	at, err := freePort()
	if err != nil {
		return nil, err
	}
	s := &served{cmd: exec.CommandContext(ctx, g.bin, "serve", "--data", data, "--listen", at), at: at,
		says: &bytes.Buffer{}, over: make(chan struct{})}
	s.cmd.Stdout, s.cmd.Stderr = s.says, s.says
	if err := s.cmd.Start(); err != nil {
		return nil, err
	}
	go func() {
		s.err = s.cmd.Wait()
		close(s.over)
	}()
	for range 2000 {
		if r, err := http.Get("http://" + at + "/static/x/favicon.svg"); err == nil {
			_ = r.Body.Close()
			return s, nil
		}
		select {
		case <-s.over:
			return nil, fmt.Errorf("it did not start: %s", s.says)
		case <-time.After(5 * time.Millisecond):
		}
	}
	s.kill()
	return nil, fmt.Errorf("it did not start: %s", s.says)
}

// kill ends it at once.
func (s *served) kill() {
	_ = s.cmd.Process.Kill()
	<-s.over
}

// stop ends it as a gardener does.
func (s *served) stop() error {
	if err := s.cmd.Process.Signal(os.Interrupt); err != nil {
		return err
	}
	<-s.over
	return s.err
}

// client follows nothing: where a post leads tells that it landed.
var client = &http.Client{Timeout: 10 * time.Second,
	CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}

// post sends a form and gives the status.
func (s *served) post(path string, form url.Values) (int, string, error) {
	r, err := client.PostForm("http://"+s.at+path, form)
	if err != nil {
		return 0, "", err
	}
	defer func() { _ = r.Body.Close() }()
	body, err := io.ReadAll(r.Body)
	return r.StatusCode, string(body), err
}

func (s *served) get(path string) (int, string, error) {
	r, err := client.Get("http://" + s.at + path)
	if err != nil {
		return 0, "", err
	}
	defer func() { _ = r.Body.Close() }()
	body, err := io.ReadAll(r.Body)
	return r.StatusCode, string(body), err
}

// newBed returns the form of a bed.
func newBed(name string, y int) url.Values {
	return url.Values{"name": {name}, "kind": {"bed"}, "shape": {"rect"}, "w": {"4"}, "h": {"1"}, "x": {"1"}, "y": {fmt.Sprint(2 * y)},
		"texture": {"loam"}, "depth": {"15"},
		"worked": {"dug"}, "crop": {"carrot"}, "sown": {"2027-04-20"}, "key": {"bed-" + name}}
}

// reading returns the form of a reading whose note distinguishes it from every other.
func reading(bed int, note string) url.Values {
	return url.Values{"bed": {fmt.Sprint(bed)}, "date": {time.Now().Format(time.DateOnly)}, "method": {"lab"}, "basis": {"water"},
		"ph": {"6.1"}, "cores": {"12"}, "depth": {"15"},
		"note": {note}, "key": {"key-" + note}}
}

const mostBeds = 8

// planted makes a garden with its beds.
func (g *rig) planted(ctx context.Context, data string) error {
	s, err := g.serve(ctx, data)
	if err != nil {
		return err
	}
	defer s.kill()
	for i := 1; i <= mostBeds; i++ {
		if code, body, err := s.post("/beds", newBed(fmt.Sprint("Strip ", i), i)); err != nil || code != http.StatusSeeOther {
			return errors.Join(err, fmt.Errorf("a bed: %d %.300s", code, body))
		}
	}
	return s.stop()
}

// run runs one of the program's commands to its end.
func (g *rig) run(ctx context.Context, in io.Reader, args ...string) (string, error) {
	c := exec.CommandContext(ctx, g.bin, args...)
	var out, errs bytes.Buffer
	c.Stdin, c.Stdout, c.Stderr = in, &out, &errs
	if err := c.Run(); err != nil {
		return out.String(), fmt.Errorf("%s: %w: %s", args[0], err, errs.String())
	}
	return out.String(), nil
}

// cut runs a command and kills it after a while; done tells that it ended by
// itself before.
func (g *rig) cut(ctx context.Context, after time.Duration, in string, args ...string) (done bool, err error) {
	c := exec.CommandContext(ctx, g.bin, args...)
	c.Stdin, c.Stdout, c.Stderr = strings.NewReader(in), io.Discard, io.Discard
	if err := c.Start(); err != nil {
		return false, err
	}
	timer := time.AfterFunc(after, func() { _ = c.Process.Kill() })
	defer timer.Stop()
	return c.Wait() == nil, nil
}

// The counts of photographs, and of the observations that have one, among the notes.
const (
	photographs = "photographs"
	pictured    = "observations with a photograph"
)

// notes counts those of a garden's readings and observations, and its photographs, by its archive.
func (g *rig) notes(ctx context.Context, data string) (map[string]int, error) {
	out, err := g.run(ctx, nil, "export", "--data", data)
	if err != nil {
		return nil, err
	}
	found, list := map[string]int{}, ""
	lines := bufio.NewScanner(strings.NewReader(out))
	lines.Buffer(nil, 64<<20)
	for lines.Scan() {
		l := lines.Text()
		if strings.HasPrefix(l, `"`) {
			list, _, _ = strings.Cut(l[1:], `"`)
			continue
		}
		_, rest, ok := strings.Cut(l, `"note":"`)
		switch {
		case list == "photos" && strings.Contains(l, `"sight_id":`):
			found[photographs]++
		case ok && (list == "readings" || list == "sights"):
			note, _, _ := strings.Cut(rest, `"`)
			found[note]++
			if strings.Contains(l, `"pictured":true`) {
				found[pictured]++
			}
		}
	}
	return found, lines.Err()
}
