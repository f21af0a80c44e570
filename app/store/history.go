package store

import (
	"bytes"
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/base32"
	"errors"
	"fmt"
	"strings"
	"time"

	"photherm/core/design"
)

// A History is a light with all that was ever saved of it, as it is stored.
type History struct {
	ID        string     `json:"id"`
	Name      string     `json:"name"`
	Progress  string     `json:"progress"`
	CreatedAt time.Time  `json:"createdAt"`
	UpdatedAt time.Time  `json:"updatedAt"`
	DeletedAt *time.Time `json:"deletedAt,omitempty"`
	Revisions []Revision `json:"revisions"` // numbered from 1 without a gap; the last one stands
}

// A Revision is one state of a light. Its document may be of an older version, or
// unreadable.
type Revision struct {
	Document  []byte    `json:"-"`
	Label     string    `json:"label"`
	Tab       string    `json:"tab"`
	UndoTo    *int      `json:"undoTo,omitempty"`
	RedoTo    *int      `json:"redoTo,omitempty"`
	CreatedAt time.Time `json:"createdAt"`
}

// A KeptPart is a part of the cabinet as it is stored.
type KeptPart struct {
	ID        string     `json:"id"`
	Revision  int        `json:"revision"`
	Kind      string     `json:"kind"`
	Name      string     `json:"name"`
	Stock     int        `json:"stock"`
	CreatedAt time.Time  `json:"createdAt"`
	UpdatedAt time.Time  `json:"updatedAt"`
	DeletedAt *time.Time `json:"deletedAt,omitempty"`
	Document  []byte     `json:"-"`
}

// Everything hands out all lights with their revisions and all parts, the bins too, as
// they stand at one moment. begin is told how many there are.
func (s *Store) Everything(ctx context.Context, begin func(lights, parts int), light func(*History) error, part func(*KeptPart) error) error {
	tx, err := s.db.BeginTx(ctx, &sql.TxOptions{Isolation: sql.LevelRepeatableRead, ReadOnly: true})
	if err != nil {
		return fmt.Errorf("beginning to read everything: %w", err)
	}
	defer func() { _ = tx.Rollback() }() // nothing was written
	lights, err := column(ctx, tx, `SELECT id FROM lights ORDER BY created_at, id`)
	if err != nil {
		return err
	}
	parts, err := column(ctx, tx, `SELECT id FROM cabinet ORDER BY created_at, id`)
	if err != nil {
		return err
	}
	begin(len(lights), len(parts))
	for _, id := range lights {
		h, err := history(ctx, tx, id)
		if err != nil {
			return err
		}
		if err := light(h); err != nil {
			return err
		}
	}
	for _, id := range parts {
		p, err := keptPart(ctx, tx, id, "")
		if err != nil {
			return err
		}
		if err := part(p); err != nil {
			return err
		}
	}
	return nil
}

func column(ctx context.Context, tx *sql.Tx, query string) (out []string, err error) {
	rows, err := tx.QueryContext(ctx, query)
	if err != nil {
		return nil, fmt.Errorf("listing everything: %w", err)
	}
	defer rows.Close()
	for rows.Next() {
		var id string
		if err := rows.Scan(&id); err != nil {
			return nil, fmt.Errorf("listing everything: %w", err)
		}
		out = append(out, id)
	}
	if err := rows.Err(); err != nil {
		return nil, fmt.Errorf("listing everything: %w", err)
	}
	return out, nil
}

// history reads a light whole; without one the error is ErrNotFound.
func history(ctx context.Context, tx *sql.Tx, id string) (*History, error) {
	h := &History{ID: id}
	err := tx.QueryRowContext(ctx, `SELECT name, progress, created_at, updated_at, deleted_at FROM lights WHERE id = ?`, id).
		Scan(&h.Name, &h.Progress, &h.CreatedAt, &h.UpdatedAt, &h.DeletedAt)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, ErrNotFound
	}
	if err != nil {
		return nil, fmt.Errorf("reading light %s: %w", id, err)
	}
	rows, err := tx.QueryContext(ctx, `SELECT document, label, tab, undo_to, redo_to, created_at FROM revisions WHERE light_id = ? ORDER BY seq`, id)
	if err != nil {
		return nil, fmt.Errorf("reading the revisions of light %s: %w", id, err)
	}
	defer rows.Close()
	for rows.Next() {
		var r Revision
		if err := rows.Scan(&r.Document, &r.Label, &r.Tab, &r.UndoTo, &r.RedoTo, &r.CreatedAt); err != nil {
			return nil, fmt.Errorf("reading the revisions of light %s: %w", id, err)
		}
		h.Revisions = append(h.Revisions, r)
	}
	if err := rows.Err(); err != nil {
		return nil, fmt.Errorf("reading the revisions of light %s: %w", id, err)
	}
	return h, nil
}

func keptPart(ctx context.Context, tx *sql.Tx, id, lock string) (*KeptPart, error) {
	p := &KeptPart{ID: id}
	// lock is one of two constants, never text from outside
	err := tx.QueryRowContext(ctx, `SELECT revision, kind, name, stock, created_at, updated_at, deleted_at, document FROM cabinet WHERE id = ?`+lock, id).
		Scan(&p.Revision, &p.Kind, &p.Name, &p.Stock, &p.CreatedAt, &p.UpdatedAt, &p.DeletedAt, &p.Document)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, ErrNotFound
	}
	if err != nil {
		return nil, fmt.Errorf("reading part %s: %w", id, err)
	}
	return p, nil
}

// An Outcome is what came of taking a light or a part in.
type Outcome int

// Outcomes of taking in.
const (
	Added     Outcome = iota // it was not here
	Continued                // it was here at an earlier state, and has come on
	There                    // it was here, in this state or a later one
	Differs                  // it is here with another history: nothing was changed
	Copied                   // as Differs, and was put beside it
)

// TakeIn stores a light with its history. One that is here already is left alone, or
// brought on where what is here is its beginning. Where they differ it is put beside
// under another id if beside is true, the same one each time.
func (s *Store) TakeIn(ctx context.Context, h *History, beside bool) (Outcome, error) {
	var outcome Outcome
	err := s.atomically(ctx, func(tx *sql.Tx) error {
		var err error
		outcome, err = takeIn(ctx, tx, h)
		if err != nil || outcome != Differs || !beside {
			return err
		}
		other := *h
		other.ID = otherID(h)
		outcome, err = takeIn(ctx, tx, &other)
		switch {
		case err != nil:
			return err
		case outcome == Added:
			outcome = Copied
			return tell(ctx, tx, &other)
		}
		outcome = There
		return nil
	})
	return outcome, err
}

func takeIn(ctx context.Context, tx *sql.Tx, h *History) (Outcome, error) {
	head := 0
	switch err := tx.QueryRowContext(ctx, `SELECT head FROM lights WHERE id = ? FOR UPDATE`, h.ID).Scan(&head); {
	case errors.Is(err, sql.ErrNoRows):
		if _, err := tx.ExecContext(ctx, `INSERT INTO lights (id, head, name, progress, created_at, updated_at, deleted_at) VALUES (?, ?, ?, ?, ?, ?, ?)`,
			h.ID, len(h.Revisions), h.Name, h.Progress, h.CreatedAt, h.UpdatedAt, h.DeletedAt); err != nil {
			return 0, fmt.Errorf("storing light %s: %w", h.ID, err)
		}
		return Added, putRevisions(ctx, tx, h, 0)
	case err != nil:
		return 0, fmt.Errorf("looking for light %s: %w", h.ID, err)
	}
	here, err := history(ctx, tx, h.ID)
	if err != nil {
		return 0, err
	}
	for i := range min(len(here.Revisions), len(h.Revisions)) {
		if !bytes.Equal(here.Revisions[i].Document, h.Revisions[i].Document) {
			return Differs, nil
		}
	}
	if len(h.Revisions) <= len(here.Revisions) {
		return There, nil
	}
	if _, err := tx.ExecContext(ctx, `UPDATE lights SET head = ?, name = ?, progress = ?, updated_at = ? WHERE id = ?`, len(h.Revisions), h.Name, h.Progress, h.UpdatedAt, h.ID); err != nil {
		return 0, fmt.Errorf("bringing light %s on: %w", h.ID, err)
	}
	return Continued, putRevisions(ctx, tx, h, len(here.Revisions))
}

func putRevisions(ctx context.Context, tx *sql.Tx, h *History, from int) error {
	for i := from; i < len(h.Revisions); i++ {
		r := &h.Revisions[i]
		if _, err := tx.ExecContext(ctx, `INSERT INTO revisions (light_id, seq, document, label, tab, undo_to, redo_to, created_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
			h.ID, i+1, r.Document, r.Label, r.Tab, r.UndoTo, r.RedoTo, r.CreatedAt); err != nil {
			return fmt.Errorf("storing revision %d of light %s: %w", i+1, h.ID, err)
		}
	}
	return nil
}

const besideName = " (brought in)"

// tell gives a light put beside another version of it a name that says so, as a further
// revision. One that cannot be read keeps its name.
func tell(ctx context.Context, tx *sql.Tx, h *History) error {
	last := len(h.Revisions)
	light, err := design.Decode(h.Revisions[last-1].Document)
	if err != nil {
		return nil
	}
	light.Name += besideName
	document, err := design.Encode(light)
	if err != nil {
		return err
	}
	if _, err := design.Decode(document); err != nil {
		return nil // the name would be too long
	}
	if err := insertRevision(ctx, tx, h.ID, last+1, document, Edit{Label: "brought in beside another version"}, &last, nil); err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, `UPDATE lights SET head = ?, name = ? WHERE id = ?`, last+1, light.Name, h.ID); err != nil {
		return fmt.Errorf("naming light %s: %w", h.ID, err)
	}
	return nil
}

// TakeInPart stores a part of the cabinet as TakeIn does a light; parts have no history
// that could be brought on.
func (s *Store) TakeInPart(ctx context.Context, p *KeptPart, beside bool) (Outcome, error) {
	var outcome Outcome
	err := s.atomically(ctx, func(tx *sql.Tx) error {
		var err error
		outcome, err = takeInPart(ctx, tx, p)
		if err != nil || outcome != Differs || !beside {
			return err
		}
		other := *p
		other.ID = idOf([]byte(p.ID), p.Document, fmt.Append(nil, p.Stock))
		if outcome, err = takeInPart(ctx, tx, &other); outcome == Added {
			outcome = Copied
		} else {
			outcome = There
		}
		return err
	})
	return outcome, err
}

func takeInPart(ctx context.Context, tx *sql.Tx, p *KeptPart) (Outcome, error) {
	here, err := keptPart(ctx, tx, p.ID, ` FOR UPDATE`)
	switch {
	case errors.Is(err, ErrNotFound):
		if _, err := tx.ExecContext(ctx, `INSERT INTO cabinet (id, revision, kind, name, stock, document, created_at, updated_at, deleted_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)`,
			p.ID, p.Revision, p.Kind, p.Name, p.Stock, p.Document, p.CreatedAt, p.UpdatedAt, p.DeletedAt); err != nil {
			return 0, fmt.Errorf("storing part %s: %w", p.ID, err)
		}
		return Added, nil
	case err != nil:
		return 0, err
	case here.Stock == p.Stock && bytes.Equal(here.Document, p.Document):
		return There, nil
	}
	return Differs, nil
}

// otherID is the id of a light that differs from the one of its id here.
func otherID(h *History) string {
	of := [][]byte{[]byte(h.ID)}
	for i := range h.Revisions {
		of = append(of, h.Revisions[i].Document)
	}
	return idOf(of...)
}

// idOf makes an id of what it is given: of the same always the same.
func idOf(of ...[]byte) string {
	sum := sha256.New()
	for _, b := range of {
		fmt.Fprintf(sum, "%d ", len(b))
		sum.Write(b)
	}
	return strings.ToLower(base32.StdEncoding.EncodeToString(sum.Sum(nil)[:10]))
}
