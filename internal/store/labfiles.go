package store

import (
	"context"
	"encoding/json"
	"time"

	"zephyrfield/internal/garden"
)

// labFileDays is how long a lab's file waits to be taken.
const labFileDays = 2

// KeepLabFile puts a lab's file by until it is taken; older ones go.
func (s *Store) KeepLabFile(ctx context.Context, name string, cells [][]string, now time.Time) (int64, error) {
	raw, err := json.Marshal(cells)
	if err != nil {
		return 0, err
	}
	if _, err := s.write.ExecContext(ctx, "DELETE FROM lab_files WHERE made < ?",
		now.AddDate(0, 0, -labFileDays).UTC().Format(time.RFC3339)); err != nil {
		return 0, err
	}
	res, err := s.write.ExecContext(ctx, "INSERT INTO lab_files (name, made, cells) VALUES (?, ?, ?)", name,
		now.UTC().Format(time.RFC3339), string(raw))
	if err != nil {
		return 0, err
	}
	return res.LastInsertId()
}

// LabFile gives a file that was put by.
func (s *Store) LabFile(ctx context.Context, id int64) (name string, cells [][]string, err error) {
	var row struct {
		Name  string `db:"name"`
		Cells string `db:"cells"`
	}
	err = s.Read(ctx, func(r garden.Reader) error {
		return r.(reader).one(&row, "SELECT name, cells FROM lab_files WHERE id=?", id)
	})
	if err != nil {
		return "", nil, err
	}
	return row.Name, cells, json.Unmarshal([]byte(row.Cells), &cells)
}

// DropLabFile lets a file go.
func (s *Store) DropLabFile(ctx context.Context, id int64) error {
	_, err := s.write.ExecContext(ctx, "DELETE FROM lab_files WHERE id=?", id)
	return err
}

// KeepLayout remembers how a lab's columns were matched, by its head.
func (s *Store) KeepLayout(ctx context.Context, head string, layout []byte) error {
	_, err := s.write.ExecContext(ctx, "INSERT INTO lab_layouts (head, layout) VALUES (?, ?) ON CONFLICT (head) DO UPDATE SET "+
		"layout=excluded.layout", head, string(layout))
	return err
}

// Layout gives what was remembered for a head; nil when nothing was.
func (s *Store) Layout(ctx context.Context, head string) ([]byte, error) {
	var out []string
	err := s.look(ctx, func(r reader) error { return r.all(&out, "SELECT layout FROM lab_layouts WHERE head=?", head) })
	if err != nil || len(out) == 0 {
		return nil, err
	}
	return []byte(out[0]), nil
}
