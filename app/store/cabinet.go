package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"photherm/core/design"
)

// A CabinetPart is a part on hand.
type CabinetPart struct {
	ID        string
	Revision  int
	Stock     int
	Part      design.Part
	UpdatedAt time.Time
	Deleted   bool

	Unreadable string // why its document cannot be read; Part has its name alone then
}

// A PartConflict is the error of a change to a part made on an old state.
type PartConflict struct{ Theirs *CabinetPart }

func (c *PartConflict) Error() string {
	return fmt.Sprintf("the part has changed since: it is at revision %d", c.Theirs.Revision)
}

// MostStock bounds how many of a part can be on hand.
const MostStock = 1e6

// AddParts puts parts into the cabinet, all or none, and returns them as stored.
func (s *Store) AddParts(ctx context.Context, parts []CabinetPart) ([]CabinetPart, error) {
	out := make([]CabinetPart, len(parts))
	err := s.atomically(ctx, func(tx *sql.Tx) error {
		for i, p := range parts {
			id, err := newID()
			if err != nil {
				return err
			}
			document, err := json.Marshal(p.Part)
			if err != nil {
				return fmt.Errorf("writing part %q: %w", p.Part.Name, err)
			}
			at := now()
			if _, err := tx.ExecContext(ctx, `INSERT INTO cabinet (id, revision, kind, name, stock, document, created_at, updated_at) VALUES (?, 1, ?, ?, ?, ?, ?, ?)`,
				id, p.Part.Kind(), p.Part.Name, p.Stock, document, at, at); err != nil {
				return fmt.Errorf("storing part %q: %w", p.Part.Name, err)
			}
			out[i] = CabinetPart{ID: id, Revision: 1, Stock: p.Stock, Part: p.Part, UpdatedAt: at}
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	return out, nil
}

const selectPart = `SELECT id, revision, stock, name, document, updated_at, deleted_at IS NOT NULL FROM cabinet`

// scanPart reads a row. A document that cannot be read is told in the part.
func scanPart(row scanner) (*CabinetPart, error) {
	p, document := new(CabinetPart), []byte(nil)
	err := row.Scan(&p.ID, &p.Revision, &p.Stock, &p.Part.Name, &document, &p.UpdatedAt, &p.Deleted)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, ErrNotFound
	}
	if err != nil {
		return nil, fmt.Errorf("reading a part: %w", err)
	}
	name := p.Part.Name
	if document, err = design.PartUpToDate(document); err == nil {
		err = json.Unmarshal(document, &p.Part)
	}
	if err == nil && p.Part.Kind() == "" {
		err = errors.New("it is of no kind")
	}
	if err != nil {
		p.Part, p.Unreadable = design.Part{Name: name}, err.Error()
	}
	return p, nil
}

// RawPart reads the document of a part as it is stored, whatever it holds.
func (s *Store) RawPart(ctx context.Context, id string) ([]byte, error) {
	var document []byte
	err := s.db.QueryRowContext(ctx, `SELECT document FROM cabinet WHERE id = ?`, id).Scan(&document)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, ErrNotFound
	}
	if err != nil {
		return nil, fmt.Errorf("reading part %s: %w", id, err)
	}
	return document, nil
}

// Part reads a part of the cabinet, in the bin or not.
func (s *Store) Part(ctx context.Context, id string) (*CabinetPart, error) {
	p, err := scanPart(s.db.QueryRowContext(ctx, selectPart+` WHERE id = ?`, id))
	if err == nil && p.Unreadable != "" {
		return nil, fmt.Errorf("%w: part %s: %s", ErrUnreadable, id, p.Unreadable)
	}
	return p, err
}

// Parts lists the cabinet, or its bin, by kind and name, what cannot be read too. kind may
// be empty: all.
func (s *Store) Parts(ctx context.Context, kind string, bin bool) ([]CabinetPart, error) {
	rows, err := s.db.QueryContext(ctx, selectPart+` WHERE (deleted_at IS NOT NULL) = ? AND kind <> '`+lotKind+`' AND (? = '' OR kind = ?) ORDER BY kind, name, id LIMIT 10000`, bin, kind, kind)
	if err != nil {
		return nil, fmt.Errorf("listing the cabinet: %w", err)
	}
	return listed(rows, "the cabinet", scanPart)
}

type scanner interface{ Scan(...any) error }

// listed reads all rows of a list.
func listed[T any](rows *sql.Rows, what string, scan func(row scanner) (*T, error)) ([]T, error) {
	defer rows.Close()
	list := []T{}
	for rows.Next() {
		one, err := scan(rows)
		if err != nil {
			return nil, err
		}
		list = append(list, *one)
	}
	if err := rows.Err(); err != nil {
		return nil, fmt.Errorf("listing %s: %w", what, err)
	}
	return list, nil
}

// ChangePart stores a part on its base revision, or answers a *PartConflict.
func (s *Store) ChangePart(ctx context.Context, id string, base int, p CabinetPart) (*CabinetPart, error) {
	document, err := json.Marshal(p.Part)
	if err != nil {
		return nil, fmt.Errorf("writing part %q: %w", p.Part.Name, err)
	}
	err = s.atomically(ctx, func(tx *sql.Tx) error {
		there, err := scanPart(tx.QueryRowContext(ctx, selectPart+` WHERE id = ? FOR UPDATE`, id))
		if err != nil {
			return err
		}
		if there.Revision != base {
			return &PartConflict{there}
		}
		if _, err := tx.ExecContext(ctx, `UPDATE cabinet SET revision = ?, kind = ?, name = ?, stock = ?, document = ?, updated_at = ? WHERE id = ?`,
			base+1, p.Part.Kind(), p.Part.Name, p.Stock, document, now(), id); err != nil {
			return fmt.Errorf("changing part %s: %w", id, err)
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	return s.Part(ctx, id)
}

// BinPart puts a part into the cabinet's bin or takes it out.
func (s *Store) BinPart(ctx context.Context, id string, in bool) error {
	var at *time.Time
	if in {
		at = new(now())
	}
	result, err := s.db.ExecContext(ctx, `UPDATE cabinet SET deleted_at = ? WHERE id = ?`, at, id)
	if err != nil {
		return fmt.Errorf("moving part %s to or from the bin: %w", id, err)
	}
	if n, err := result.RowsAffected(); err == nil && n == 0 {
		return ErrNotFound
	}
	return nil
}
