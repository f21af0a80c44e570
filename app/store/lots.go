package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"photherm/core/lot"
)

// lotKind is the kind of a lot in the cabinet's table: lots are kept, binned and archived as
// parts are, and are no parts.
const lotKind = "lot"

// A StoredLot is a lot of cells in the cabinet.
type StoredLot struct {
	ID        string
	Revision  int
	Lot       lot.Lot
	UpdatedAt time.Time

	Unreadable string // why its document cannot be read; Lot has its name alone then
}

// ErrLotMoved is the error of a change to a lot made on an old state.
var ErrLotMoved = errors.New("the lot has another revision")

const selectLot = `SELECT id, revision, name, document, updated_at FROM cabinet WHERE kind = '` + lotKind + `'`

func scanLot(row scanner) (*StoredLot, error) {
	l, document := new(StoredLot), []byte(nil)
	err := row.Scan(&l.ID, &l.Revision, &l.Lot.Name, &document, &l.UpdatedAt)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, ErrNotFound
	}
	if err != nil {
		return nil, fmt.Errorf("reading a lot: %w", err)
	}
	name := l.Lot.Name
	if err := json.Unmarshal(document, &l.Lot); err != nil {
		l.Lot, l.Unreadable = lot.Lot{Name: name}, err.Error()
	} else if l.Lot.Version > lot.Version {
		l.Unreadable = "it was made by a newer Photherm"
	}
	return l, nil
}

// Lots lists the lots, or those in the bin, by name.
func (s *Store) Lots(ctx context.Context, bin bool) ([]StoredLot, error) {
	rows, err := s.db.QueryContext(ctx, selectLot+` AND (deleted_at IS NOT NULL) = ? ORDER BY name, id LIMIT 1000`, bin)
	if err != nil {
		return nil, fmt.Errorf("listing the lots: %w", err)
	}
	return listed(rows, "the lots", scanLot)
}

// Lot reads a lot, in the bin or not.
func (s *Store) Lot(ctx context.Context, id string) (*StoredLot, error) {
	l, err := scanLot(s.db.QueryRowContext(ctx, selectLot+` AND id = ?`, id))
	if err == nil && l.Unreadable != "" {
		return nil, fmt.Errorf("%w: lot %s: %s", ErrUnreadable, id, l.Unreadable)
	}
	return l, err
}

// AddLot puts a lot into the cabinet.
func (s *Store) AddLot(ctx context.Context, l *lot.Lot) (*StoredLot, error) {
	id, err := newID()
	if err != nil {
		return nil, err
	}
	document, err := json.Marshal(l)
	if err != nil {
		return nil, fmt.Errorf("writing lot %q: %w", l.Name, err)
	}
	at := now()
	if _, err := s.db.ExecContext(ctx, `INSERT INTO cabinet (id, revision, kind, name, stock, document, created_at, updated_at) VALUES (?, 1, ?, ?, ?, ?, ?, ?)`, id, lotKind, l.Name, len(l.Cells), document, at, at); err != nil {
		return nil, fmt.Errorf("storing lot %q: %w", l.Name, err)
	}
	return &StoredLot{ID: id, Revision: 1, Lot: *l, UpdatedAt: at}, nil
}

// ChangeLot stores a lot on its base revision, or answers ErrLotMoved.
func (s *Store) ChangeLot(ctx context.Context, id string, base int, l *lot.Lot) (*StoredLot, error) {
	document, err := json.Marshal(l)
	if err != nil {
		return nil, fmt.Errorf("writing lot %q: %w", l.Name, err)
	}
	err = s.atomically(ctx, func(tx *sql.Tx) error {
		there, err := scanLot(tx.QueryRowContext(ctx, selectLot+` AND id = ? FOR UPDATE`, id))
		if err != nil {
			return err
		}
		if there.Revision != base {
			return ErrLotMoved
		}
		if _, err := tx.ExecContext(ctx, `UPDATE cabinet SET revision = ?, name = ?, stock = ?, document = ?, updated_at = ? WHERE id = ?`, base+1, l.Name, len(l.Cells), document, now(), id); err != nil {
			return fmt.Errorf("changing lot %s: %w", id, err)
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	return s.Lot(ctx, id)
}
