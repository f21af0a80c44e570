package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
)

// Passphrase is the hash that a passphrase is checked against; empty: none is set.
func (s *Store) Passphrase(ctx context.Context) (hash string, err error) {
	err = s.db.QueryRowContext(ctx, "SELECT hash FROM passphrase WHERE id = 1").Scan(&hash)
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	if err != nil {
		return "", fmt.Errorf("reading the passphrase's hash: %w", err)
	}
	return hash, nil
}

// SetPassphrase keeps the hash of a passphrase in place of the one before.
func (s *Store) SetPassphrase(ctx context.Context, hash string) error {
	if _, err := s.db.ExecContext(ctx, "REPLACE INTO passphrase (id, hash) VALUES (1, ?)", hash); err != nil {
		return fmt.Errorf("keeping the passphrase's hash: %w", err)
	}
	return nil
}
