package store

import (
	"context"
	"errors"
	"time"

	"zephyrfield/internal/garden"
)

// passphraseSetting keeps the passphrase's argon2id hash.
const passphraseSetting = "passphrase"

// PassphraseHash returns the stored hash, "" when none is set.
func (s *Store) PassphraseHash(ctx context.Context) (string, error) {
	var h string
	err := s.look(ctx, func(r reader) error { return r.one(&h, "SELECT value FROM settings WHERE name=?", passphraseSetting) })
	if errors.Is(err, garden.ErrMissing) {
		return "", nil
	}
	return h, err
}

// SetPassphraseHash stores the hash and ends all sessions except the one with the given token hash, "" for none.
func (s *Store) SetPassphraseHash(ctx context.Context, hash, kept string) error {
	tx, err := s.write.BeginTxx(ctx, nil)
	if err != nil {
		return asFault(err)
	}
	const set = "INSERT INTO settings (name, value) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET value=excluded.value"
	if _, err = tx.ExecContext(ctx, set, passphraseSetting, hash); err == nil {
		_, err = tx.ExecContext(ctx, "DELETE FROM sessions WHERE token_hash<>?", kept)
	}
	if err != nil {
		return errors.Join(asFault(err), rollback(tx))
	}
	return asFault(tx.Commit())
}

// diarySetting keeps the secret of the diary's address.
const diarySetting = "diary"

// DiarySecret returns the secret in the address of the calendar feed; "" when the feed is off.
func (s *Store) DiarySecret(ctx context.Context) (secret string, err error) {
	err = s.look(ctx, func(r reader) error { return r.one(&secret, "SELECT value FROM settings WHERE name=?", diarySetting) })
	if errors.Is(err, garden.ErrMissing) {
		return "", nil
	}
	return secret, err
}

// SetDiarySecret changes the address of the calendar feed; "" turns it off.
func (s *Store) SetDiarySecret(ctx context.Context, secret string) error {
	const set = "INSERT INTO settings (name, value) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET value=excluded.value"
	_, err := s.write.ExecContext(ctx, set, diarySetting, secret)
	return asFault(err)
}

// AddSession stores a session by its token's hash and deletes expired ones.
func (s *Store) AddSession(ctx context.Context, tokenHash, whence string, now, expires time.Time) error {
	_, err := s.write.ExecContext(ctx, "DELETE FROM sessions WHERE expires < ?", stamp(now))
	if err == nil {
		_, err = s.write.ExecContext(ctx, "INSERT INTO sessions (token_hash, expires, made, seen, whence) VALUES (?, ?, ?, ?, ?)",
			tokenHash, stamp(expires), stamp(now), stamp(now), whence)
	}
	return asFault(err)
}

// seenEvery is the resolution at which the last use of a session is stored.
const seenEvery = time.Hour

// HasSession reports whether a session is valid, and updates its last use now and then. It is called before the
// request has a snapshot.
func (s *Store) HasSession(ctx context.Context, tokenHash string, now time.Time) (bool, error) {
	var seen []string
	err := s.read.SelectContext(ctx, &seen, "SELECT seen FROM sessions WHERE token_hash=? AND expires>=?", tokenHash, stamp(now))
	if err != nil || len(seen) == 0 {
		return false, asFault(err)
	}
	if seen[0] < stamp(now.Add(-seenEvery)) {
		// A disk that is full keeps nobody out.
		_, _ = s.write.ExecContext(ctx, "UPDATE sessions SET seen=? WHERE token_hash=?", stamp(now), tokenHash)
	}
	return true, nil
}

// EndSession deletes a session by its token's hash.
func (s *Store) EndSession(ctx context.Context, tokenHash string) error {
	_, err := s.write.ExecContext(ctx, "DELETE FROM sessions WHERE token_hash=?", tokenHash)
	return asFault(err)
}

// Sessions lists the valid sessions, the most recently used first.
func (s *Store) Sessions(ctx context.Context, now time.Time) (out []garden.Session, err error) {
	err = s.look(ctx, func(r reader) error {
		return r.all(&out, "SELECT substr(token_hash, 1, 16) AS id, made, seen, whence FROM sessions WHERE expires>=? "+
			"ORDER BY seen DESC, id", stamp(now))
	})
	return out, err
}

// EndSessionID deletes the session that Sessions lists under an id.
func (s *Store) EndSessionID(ctx context.Context, id string) error {
	res, err := s.write.ExecContext(ctx, "DELETE FROM sessions WHERE substr(token_hash, 1, 16)=?", id)
	if err != nil {
		return asFault(err)
	}
	if n, err := res.RowsAffected(); err == nil && n == 0 {
		return garden.ErrMissing
	}
	return nil
}

func stamp(t time.Time) string { return t.UTC().Format(time.RFC3339) }
