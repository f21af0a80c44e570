package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"time"

	"photherm/core/design"
)

// Errors a caller acts on.
var (
	ErrNotFound    = errors.New("there is no such light")
	ErrInBin       = errors.New("the light lies in the bin")
	ErrNothingToDo = errors.New("there is nothing to take back")
	ErrUnreadable  = errors.New("the stored document cannot be read")
	ErrOtherTab    = errors.New("the last change was made in another tab")
)

// A Conflict is the error of a change made on an old base: Theirs is what stands
// there now.
type Conflict struct{ Theirs *Light }

func (c *Conflict) Error() string {
	return fmt.Sprintf("the light has changed since: it is at revision %d", c.Theirs.Revision)
}

// A Light is a stored light at its newest revision.
type Light struct {
	ID        string
	Revision  int
	Name      string
	Progress  string
	Document  []byte
	Label     string // what the last change was
	Tab       string // who made the change that an undo would take back
	CanUndo   bool
	CanRedo   bool
	UpdatedAt time.Time
	Deleted   bool
}

// An Edit is a change a tab makes on a base revision.
type Edit struct {
	Base  int
	Tab   string
	Label string
}

func now() time.Time { return time.Now().UTC().Truncate(time.Millisecond) }

// Create stores a new light as revision 1.
func (s *Store) Create(ctx context.Context, light *design.Light, e Edit) (*Light, error) {
	id, err := newID()
	if err != nil {
		return nil, err
	}
	document, err := design.Encode(light)
	if err != nil {
		return nil, err
	}
	err = s.atomically(ctx, func(tx *sql.Tx) error {
		if _, err := tx.ExecContext(ctx, `INSERT INTO lights (id, head, name, progress, created_at, updated_at) VALUES (?, 1, ?, ?, ?, ?)`,
			id, light.Name, light.Progress, now(), now()); err != nil {
			return fmt.Errorf("storing a light: %w", err)
		}
		return insertRevision(ctx, tx, id, 1, document, e, nil, nil)
	})
	if err != nil {
		return nil, err
	}
	return s.Get(ctx, id)
}

func insertRevision(ctx context.Context, tx *sql.Tx, id string, seq int, document []byte, e Edit, undo, redo *int) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO revisions (light_id, seq, document, label, tab, undo_to, redo_to, created_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
		id, seq, document, e.Label, e.Tab, undo, redo, now())
	if err != nil {
		return fmt.Errorf("storing revision %d of light %s: %w", seq, id, err)
	}
	return nil
}

const selectLight = `SELECT l.id, l.head, l.name, l.progress, r.document, r.label, r.tab, r.undo_to IS NOT NULL, r.redo_to IS NOT NULL, l.updated_at, l.deleted_at IS NOT NULL
	FROM lights l JOIN revisions r ON r.light_id = l.id AND r.seq = l.head`

func scan(row interface{ Scan(...any) error }) (*Light, error) {
	l := new(Light)
	err := row.Scan(&l.ID, &l.Revision, &l.Name, &l.Progress, &l.Document, &l.Label, &l.Tab, &l.CanUndo, &l.CanRedo, &l.UpdatedAt, &l.Deleted)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, ErrNotFound
	}
	if err != nil {
		return nil, fmt.Errorf("reading a light: %w", err)
	}
	// Revisions are never rewritten: an older document is brought up to date each time.
	if l.Document, err = design.UpToDate(l.Document); err != nil {
		return nil, fmt.Errorf("%w: light %s: %w", ErrUnreadable, l.ID, err)
	}
	return l, nil
}

// Get reads the newest revision of a light, in the bin or not.
func (s *Store) Get(ctx context.Context, id string) (*Light, error) {
	return scan(s.db.QueryRowContext(ctx, selectLight+` WHERE l.id = ?`, id))
}

// change locks a light, lets decide say what the next revision is, and stores it.
func (s *Store) change(ctx context.Context, id string, e Edit, decide func(tx *sql.Tx, head *Light) (next revision, err error)) (*Light, error) {
	err := s.atomically(ctx, func(tx *sql.Tx) error {
		head, err := scan(tx.QueryRowContext(ctx, selectLight+` WHERE l.id = ? FOR UPDATE`, id))
		if err != nil {
			return err
		}
		if head.Deleted {
			return ErrInBin
		}
		if head.Revision != e.Base {
			return &Conflict{head}
		}
		next, err := decide(tx, head)
		if err != nil {
			return err
		}
		if err := insertRevision(ctx, tx, id, head.Revision+1, next.document, Edit{Tab: next.tab, Label: next.label}, next.undo, next.redo); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `UPDATE lights SET head = ?, name = ?, progress = ?, updated_at = ? WHERE id = ?`,
			head.Revision+1, next.name, next.progress, now(), id)
		if err != nil {
			return fmt.Errorf("moving light %s to revision %d: %w", id, head.Revision+1, err)
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	return s.Get(ctx, id)
}

type revision struct {
	document       []byte
	name, progress string
	tab, label     string
	undo, redo     *int
}

// Save stores a new revision on e.Base, or answers a *Conflict.
func (s *Store) Save(ctx context.Context, id string, light *design.Light, e Edit) (*Light, error) {
	document, err := design.Encode(light)
	if err != nil {
		return nil, err
	}
	return s.change(ctx, id, e, func(_ *sql.Tx, head *Light) (revision, error) {
		base := head.Revision
		return revision{document: document, name: light.Name, progress: light.Progress, tab: e.Tab, label: e.Label, undo: &base}, nil
	})
}

// Undo writes a new revision equal to the one before the last change, if that
// change was made by the same tab. Redo takes an undo back.
func (s *Store) Undo(ctx context.Context, id string, e Edit) (*Light, error) {
	return s.step(ctx, id, e, "undo_to")
}

// Redo is described at Undo.
func (s *Store) Redo(ctx context.Context, id string, e Edit) (*Light, error) {
	return s.step(ctx, id, e, "redo_to")
}

func (s *Store) step(ctx context.Context, id string, e Edit, column string) (*Light, error) {
	return s.change(ctx, id, e, func(tx *sql.Tx, head *Light) (revision, error) {
		var to *int
		// column is one of two constants, never text from outside
		err := tx.QueryRowContext(ctx, `SELECT `+column+` FROM revisions WHERE light_id = ? AND seq = ?`, id, head.Revision).Scan(&to)
		if err != nil {
			return revision{}, fmt.Errorf("looking for what to take back: %w", err)
		}
		if to == nil {
			return revision{}, ErrNothingToDo
		}
		var r revision
		err = tx.QueryRowContext(ctx, `SELECT document, label, tab, undo_to, redo_to FROM revisions WHERE light_id = ? AND seq = ?`, id, *to).
			Scan(&r.document, &r.label, &r.tab, &r.undo, &r.redo)
		if err != nil {
			return revision{}, fmt.Errorf("reading revision %d: %w", *to, err)
		}
		owner := head.Tab
		if column == "redo_to" {
			owner = r.tab
		} else {
			here := head.Revision
			r.redo = &here
		}
		if owner != e.Tab {
			return revision{}, ErrOtherTab
		}
		light, err := design.Decode(r.document)
		if err != nil {
			return revision{}, fmt.Errorf("reading revision %d: %w", *to, err)
		}
		r.name, r.progress = light.Name, light.Progress
		return r, nil
	})
}

// Delete puts a light in the bin; Restore takes it out.
func (s *Store) Delete(ctx context.Context, id string) error { return s.bin(ctx, id, true) }

// Restore is described at Delete.
func (s *Store) Restore(ctx context.Context, id string) error { return s.bin(ctx, id, false) }

func (s *Store) bin(ctx context.Context, id string, in bool) error {
	var at *time.Time
	if in {
		t := now()
		at = &t
	}
	result, err := s.db.ExecContext(ctx, `UPDATE lights SET deleted_at = ? WHERE id = ?`, at, id)
	if err != nil {
		return fmt.Errorf("moving light %s to or from the bin: %w", id, err)
	}
	if n, err := result.RowsAffected(); err == nil && n == 0 {
		return ErrNotFound
	}
	return nil
}
