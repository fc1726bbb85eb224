package store

import (
	"context"
	"encoding/json"
	"time"

	"zephyrfield/internal/garden"
)

// labFileDays is how many days an uploaded lab file waits to be imported.
const labFileDays = 2

// KeepLabFile stores an uploaded lab file until it is imported; expired ones are deleted.
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

// LabFile returns a stored lab file.
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

// DropLabFile deletes a stored lab file.
func (s *Store) DropLabFile(ctx context.Context, id int64) error {
	_, err := s.write.ExecContext(ctx, "DELETE FROM lab_files WHERE id=?", id)
	return err
}

// KeepLayout stores how the columns of a lab's files were matched, keyed by their header line.
func (s *Store) KeepLayout(ctx context.Context, head string, layout []byte) error {
	_, err := s.write.ExecContext(ctx, "INSERT INTO lab_layouts (head, layout) VALUES (?, ?) ON CONFLICT (head) DO UPDATE SET "+
		"layout=excluded.layout", head, string(layout))
	return err
}

// Layout returns the column matching stored for a header line; nil when there is none.
func (s *Store) Layout(ctx context.Context, head string) ([]byte, error) {
	var out []string
	err := s.look(ctx, func(r reader) error { return r.all(&out, "SELECT layout FROM lab_layouts WHERE head=?", head) })
	if err != nil || len(out) == 0 {
		return nil, err
	}
	return []byte(out[0]), nil
}
