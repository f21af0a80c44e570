package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"time"
)

// A Row is a light as the shelf shows it: without its document.
type Row struct {
	ID        string
	Revision  int
	Name      string
	Progress  string
	UpdatedAt time.Time
	Summary   []byte // as it was written last, of this revision or an older one; nil: none yet
	Current   bool   // the summary is of this revision, by this state of the solver
}

// Shelf reads so many lights on the shelf, or in the bin, last changed first, and how
// many there are in all.
func (s *Store) Shelf(ctx context.Context, bin bool, solver, offset, limit int) (rows []Row, total int, err error) {
	if err := s.db.QueryRowContext(ctx, `SELECT COUNT(*) FROM lights WHERE (deleted_at IS NOT NULL) = ?`, bin).Scan(&total); err != nil {
		return nil, 0, fmt.Errorf("counting lights: %w", err)
	}
	found, err := s.db.QueryContext(ctx, `SELECT l.id, l.head, l.name, l.progress, l.updated_at, m.body, m.revision <=> l.head AND m.solver <=> ?
		FROM lights l LEFT JOIN summaries m ON m.light_id = l.id WHERE (l.deleted_at IS NOT NULL) = ? ORDER BY l.updated_at DESC, l.id LIMIT ? OFFSET ?`, solver, bin, limit, offset)
	if err != nil {
		return nil, 0, fmt.Errorf("listing lights: %w", err)
	}
	defer found.Close()
	for found.Next() {
		var r Row
		if err := found.Scan(&r.ID, &r.Revision, &r.Name, &r.Progress, &r.UpdatedAt, &r.Summary, &r.Current); err != nil {
			return nil, 0, fmt.Errorf("listing lights: %w", err)
		}
		rows = append(rows, r)
	}
	if err := found.Err(); err != nil {
		return nil, 0, fmt.Errorf("listing lights: %w", err)
	}
	return rows, total, nil
}

// Stale lists lights whose summary is missing, or of an older revision or state of the
// solver, last changed first.
func (s *Store) Stale(ctx context.Context, solver, limit int) (ids []string, err error) {
	rows, err := s.db.QueryContext(ctx, `SELECT l.id FROM lights l LEFT JOIN summaries m ON m.light_id = l.id
		WHERE NOT (m.revision <=> l.head AND m.solver <=> ?) ORDER BY l.deleted_at IS NOT NULL, l.updated_at DESC LIMIT ?`, solver, limit)
	if err != nil {
		return nil, fmt.Errorf("looking for lights without a summary: %w", err)
	}
	defer rows.Close()
	for rows.Next() {
		var id string
		if err := rows.Scan(&id); err != nil {
			return nil, fmt.Errorf("looking for lights without a summary: %w", err)
		}
		ids = append(ids, id)
	}
	if err := rows.Err(); err != nil {
		return nil, fmt.Errorf("looking for lights without a summary: %w", err)
	}
	return ids, nil
}

// Raw reads the document of a light as it is stored, whatever it holds, and its revision.
func (s *Store) Raw(ctx context.Context, id string) (document []byte, revision int, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT r.document, l.head FROM lights l JOIN revisions r ON r.light_id = l.id AND r.seq = l.head WHERE l.id = ?`, id).Scan(&document, &revision)
	if err != nil {
		if errors.Is(err, sql.ErrNoRows) {
			return nil, 0, ErrNotFound
		}
		return nil, 0, fmt.Errorf("reading light %s: %w", id, err)
	}
	return document, revision, nil
}

// Summarise keeps what the shelf shows of a light.
func (s *Store) Summarise(ctx context.Context, id string, revision, solver int, body []byte) error {
	_, err := s.db.ExecContext(ctx, `INSERT INTO summaries (light_id, revision, solver, body) VALUES (?, ?, ?, ?)
		ON DUPLICATE KEY UPDATE revision = VALUES(revision), solver = VALUES(solver), body = VALUES(body)`, id, revision, solver, body)
	if err != nil {
		return fmt.Errorf("storing the summary of light %s: %w", id, err)
	}
	return nil
}
