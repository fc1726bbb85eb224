package store

import (
	"context"
	"database/sql"
	"errors"
	"time"
)

// passphraseSetting keeps the passphrase's argon2id hash.
const passphraseSetting = "passphrase"

// PassphraseHash gives the stored hash, "" when none is set.
func (s *Store) PassphraseHash(ctx context.Context) (string, error) {
	var h string
	err := s.read.GetContext(ctx, &h, "SELECT value FROM settings WHERE name=?", passphraseSetting)
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	return h, err
}

// SetPassphraseHash stores the hash and ends every session.
func (s *Store) SetPassphraseHash(ctx context.Context, hash string) error {
	tx, err := s.write.BeginTxx(ctx, nil)
	if err != nil {
		return err
	}
	if _, err = tx.ExecContext(ctx, "INSERT INTO settings (name, value) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET value=excluded.value", passphraseSetting, hash); err == nil {
		_, err = tx.ExecContext(ctx, "DELETE FROM sessions")
	}
	if err != nil {
		return errors.Join(err, rollback(tx))
	}
	return tx.Commit()
}

// AddSession keeps a session by its token's hash and drops those run out.
func (s *Store) AddSession(ctx context.Context, tokenHash string, now, expires time.Time) error {
	_, err := s.write.ExecContext(ctx, "DELETE FROM sessions WHERE expires < ?", stamp(now))
	if err == nil {
		_, err = s.write.ExecContext(ctx, "INSERT INTO sessions (token_hash, expires) VALUES (?, ?)", tokenHash, stamp(expires))
	}
	return err
}

// HasSession tells whether a session stands.
func (s *Store) HasSession(ctx context.Context, tokenHash string, now time.Time) (bool, error) {
	var n int
	err := s.read.GetContext(ctx, &n, "SELECT count(*) FROM sessions WHERE token_hash=? AND expires>=?", tokenHash, stamp(now))
	return n > 0, err
}

// EndSession ends one.
func (s *Store) EndSession(ctx context.Context, tokenHash string) error {
	_, err := s.write.ExecContext(ctx, "DELETE FROM sessions WHERE token_hash=?", tokenHash)
	return err
}

func stamp(t time.Time) string { return t.UTC().Format(time.RFC3339) }
