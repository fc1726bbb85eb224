package main

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/pressly/goose/v3"

	"zephyrfield/internal/store/migrations"
)

func mkdir(data string) error { return os.MkdirAll(filepath.Dir(data), 0o700) }

// oldStep is a step of the file from which updates are tried, oldLines how long its
// journal is, so that an update takes a while.
const (
	oldStep  = 3
	oldLines = 20_000
)

// older makes a garden file of an older step.
func older(ctx context.Context, path string) error {
	db, err := sql.Open("sqlite", path)
	if err != nil {
		return err
	}
	p, err := goose.NewProvider(goose.DialectSQLite3, db, migrations.FS, migrations.Steps())
	if err == nil {
		_, err = p.UpTo(ctx, oldStep)
	}
	if err != nil {
		return errors.Join(err, db.Close())
	}
	const beds = `INSERT INTO beds (version, name, kind, shape, x_m, y_m, w_m, h_m, rings,
			turn_deg, corners_m, texture, depth_m, worked, free_lime, note)
		WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i+1 FROM n WHERE i<400)
		SELECT 1, 'Strip ' || i, 'bed', 'rect', 0, 2*i, 4, 1, 0, 0, '', 'loam', 0.15, 'dug', 'unknown', '' FROM n`
	const lines = `INSERT INTO journal (version, at, who, what, changes)
		WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i+1 FROM n WHERE i<?)
		SELECT 1, '2026-01-01T00:00:00Z', 'gardener', 'Line ' || i, '[]' FROM n`
	if _, err = db.ExecContext(ctx, beds); err == nil {
		_, err = db.ExecContext(ctx, lines, oldLines)
	}
	return errors.Join(err, db.Close())
}

// whole reports whether an archive holds what older put in.
func whole(archive string) error {
	if n := strings.Count(archive, `"kind":"bed"`); n != 400 {
		return fmt.Errorf("%w: %d beds", errLost, n)
	}
	if n := strings.Count(archive, `"what":"Line `); n != oldLines {
		return fmt.Errorf("%w: %d lines of the journal", errLost, n)
	}
	return nil
}

// updates kills the program while it brings an older file up to date. Every file
// must open afterwards and be whole, and its copy of before must be too.
func updates(ctx context.Context, g *rig) (string, error) {
	dir := filepath.Join(g.dir, "update")
	from := filepath.Join(dir, "old.db")
	if err := mkdir(from); err != nil {
		return "", err
	}
	if err := older(ctx, from); err != nil {
		return "", err
	}
	raw, err := os.ReadFile(from)
	if err != nil {
		return "", err
	}
	cuts := 0
	for i := range g.cuts {
		data := filepath.Join(dir, fmt.Sprintf("%d", i), "garden.db")
		if err := errors.Join(mkdir(data), os.WriteFile(data, raw, 0o600)); err != nil {
			return "", err
		}
		for range 1 + g.r.IntN(3) { // it may be killed more than once
			done, err := g.cut(ctx, time.Duration(5+g.r.IntN(250))*time.Millisecond, "", "export", "--data", data)
			if err != nil {
				return "", err
			}
			if !done {
				cuts++
			}
		}
		out, err := g.run(ctx, nil, "export", "--data", data)
		if err == nil {
			err = whole(out)
		}
		if err != nil {
			return "", fmt.Errorf("file %d: %w", i, err)
		}
		kept, err := filepath.Glob(data + ".before-step-*")
		if err != nil || len(kept) != 1 {
			return "", fmt.Errorf("file %d keeps %v", i, kept)
		}
		if _, err := g.run(ctx, nil, "restore", "--data", data, "--from", kept[0]); err != nil {
			return "", fmt.Errorf("going back from file %d: %w", i, err)
		}
		if out, err = g.run(ctx, nil, "export", "--data", data); err == nil {
			err = whole(out)
		}
		if err != nil {
			return "", fmt.Errorf("file %d after going back: %w", i, err)
		}
	}
	return fmt.Sprintf("%d files, %d kills; all opened, whole, and went back to their copy and up again", g.cuts, cuts), nil
}

// copies kills the program while it writes the day's copy. A copy that is there
// must be whole.
func copies(ctx context.Context, g *rig) (string, error) {
	data := filepath.Join(g.dir, "copy", "garden.db")
	if err := mkdir(data); err != nil {
		return "", err
	}
	if err := older(ctx, data); err != nil {
		return "", err
	}
	if _, err := g.run(ctx, nil, "export", "--data", data); err != nil {
		return "", err
	}
	cuts, found := 0, 0
	for i := range g.cuts {
		done, err := g.cut(ctx, time.Duration(5+g.r.IntN(200))*time.Millisecond, "", "serve", "--data", data, "--listen", "127.0.0.1:0")
		if err != nil || done {
			return "", fmt.Errorf("it stopped by itself: %w", err)
		}
		cuts++
		all, err := filepath.Glob(filepath.Join(data+".copies", "*.db"))
		if err != nil {
			return "", err
		}
		for _, c := range all {
			out, err := g.run(ctx, nil, "restore", "--data", filepath.Join(g.dir, "copy", fmt.Sprintf("of-%d.db", i)), "--from", c)
			if err == nil {
				out, err = g.run(ctx, nil, "export", "--data", filepath.Join(g.dir, "copy", fmt.Sprintf("of-%d.db", i)))
			}
			if err == nil {
				err = whole(out)
			}
			if err != nil {
				return "", fmt.Errorf("copy %d: %w", i, err)
			}
			found++
			if err := os.Remove(c); err != nil { // the next is written again
				return "", err
			}
		}
	}
	return fmt.Sprintf("%d kills; %d copies were there, all whole", cuts, found), nil
}

// imports kills the program while it brings an archive in: all of it must be there,
// or nothing.
func imports(ctx context.Context, g *rig) (string, error) {
	from := filepath.Join(g.dir, "copy", "garden.db")
	archive, err := g.run(ctx, nil, "export", "--data", from)
	if err != nil {
		return "", err
	}
	cuts, in := 0, 0
	for i := range g.cuts {
		data := filepath.Join(g.dir, "import", fmt.Sprintf("%d.db", i))
		if err := mkdir(data); err != nil {
			return "", err
		}
		done, err := g.cut(ctx, time.Duration(20+g.r.IntN(2600))*time.Millisecond, archive, "import", "--data", data)
		if err != nil {
			return "", err
		}
		if !done {
			cuts++
		}
		out := ""
		if _, err := os.Stat(data); err == nil {
			if out, err = g.run(ctx, nil, "export", "--data", data); err != nil {
				return "", fmt.Errorf("file %d: %w", i, err)
			}
		}
		if n := strings.Count(out, `"kind":"bed"`); n != 0 {
			in++
		} else if _, err := g.run(ctx, strings.NewReader(archive), "import", "--data", data); err != nil {
			return "", fmt.Errorf("once more into file %d: %w", i, err)
		}
		if out, err = g.run(ctx, nil, "export", "--data", data); err == nil {
			err = whole(out)
		}
		if err != nil {
			return "", fmt.Errorf("file %d: %w", i, err)
		}
	}
	return fmt.Sprintf("%d imports, %d killed; %d were in whole, the others not at all and then brought in", g.cuts, cuts, in), nil
}

// restores kills the program while it puts a copy in a garden's place: the file must
// be what it was or what the copy is.
func restores(ctx context.Context, g *rig) (string, error) {
	data, copied := filepath.Join(g.dir, "restore", "garden.db"), filepath.Join(g.dir, "copy", "garden.db")
	if err := mkdir(data); err != nil {
		return "", err
	}
	cuts, after := 0, 0
	for i := range g.cuts {
		for _, end := range []string{"", "-wal", "-shm", "-lock"} {
			_ = os.Remove(data + end)
		}
		if err := g.planted(ctx, data); err != nil {
			return "", err
		}
		s, err := g.serve(ctx, data)
		if err != nil {
			return "", err
		}
		if _, _, err := s.post("/readings", reading(1, "last")); err != nil {
			s.kill()
			return "", err
		}
		s.kill() // its last change lies beside the file
		done, err := g.cut(ctx, time.Duration(5+g.r.IntN(150))*time.Millisecond, "", "restore", "--data", data, "--from", copied)
		if err != nil {
			return "", err
		}
		if !done {
			cuts++
		}
		out, err := g.run(ctx, nil, "export", "--data", data)
		if err != nil {
			return "", fmt.Errorf("restore %d: %w", i, err)
		}
		switch {
		case whole(out) == nil:
			after++
		case strings.Count(out, `"kind":"bed"`) == 2*mostBeds && strings.Contains(out, `"note":"last"`): // in the list and in the journal
		default:
			return "", fmt.Errorf("restore %d: %w: neither the garden nor the copy: %d beds, last %v", i, errLost,
				strings.Count(out, `"kind":"bed"`), strings.Contains(out, `"note":"last"`))
		}
	}
	return fmt.Sprintf("%d restores, %d killed; %d had become the copy, the others were as before, with their last change", g.cuts,
		cuts, after), nil
}
