package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"time"
)

// A Photo is what is kept of a picture beside its bytes.
type Photo struct {
	ID        string    `json:"id"`
	LightID   string    `json:"lightId"`
	Sitting   string    `json:"sitting"` // id of the sitting; empty: the one that is open
	Caption   string    `json:"caption"`
	Kind      string    `json:"kind"` // jpeg, png, webp
	Bytes     int       `json:"bytes"`
	CreatedAt time.Time `json:"createdAt"`
}

// ErrTooManyPhotos is that a light has as many photos as it may.
var ErrTooManyPhotos = errors.New("a light has no more photos")

// mostPhotos is how many a light has (chosen).
const mostPhotos = 200

const selectPhoto = `SELECT id, light_id, sitting, caption, kind, LENGTH(data), created_at FROM photos`

func scanPhoto(row scanner) (*Photo, error) {
	p := new(Photo)
	err := row.Scan(&p.ID, &p.LightID, &p.Sitting, &p.Caption, &p.Kind, &p.Bytes, &p.CreatedAt)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, ErrNotFound
	}
	if err != nil {
		return nil, fmt.Errorf("reading a photo: %w", err)
	}
	return p, nil
}

// Photos are those of a light, the oldest first.
func (s *Store) Photos(ctx context.Context, light string) ([]Photo, error) {
	rows, err := s.db.QueryContext(ctx, selectPhoto+` WHERE light_id = ? ORDER BY created_at, id`, light)
	if err != nil {
		return nil, fmt.Errorf("listing the photos of %s: %w", light, err)
	}
	return listed(rows, "the photos", scanPhoto)
}

// Photo is one with its bytes.
func (s *Store) Photo(ctx context.Context, id string) (*Photo, []byte, error) {
	p, err := scanPhoto(s.db.QueryRowContext(ctx, selectPhoto+` WHERE id = ?`, id))
	if err != nil {
		return nil, nil, err
	}
	var data []byte
	if err := s.db.QueryRowContext(ctx, `SELECT data FROM photos WHERE id = ?`, id).Scan(&data); err != nil {
		return nil, nil, fmt.Errorf("reading photo %s: %w", id, err)
	}
	return p, data, nil
}

// AddPhoto keeps one; of an id that is given, one that is there stays as it is. The error is
// ErrTooManyPhotos where there are as many as may be.
func (s *Store) AddPhoto(ctx context.Context, p Photo, data []byte) (*Photo, error) {
	if p.ID == "" {
		id, err := newID()
		if err != nil {
			return nil, err
		}
		p.ID, p.CreatedAt = id, now()
	} else if there, _, err := s.Photo(ctx, p.ID); err == nil {
		return there, nil
	} else if !errors.Is(err, ErrNotFound) {
		return nil, err
	}
	p.Bytes = len(data)
	err := s.atomically(ctx, func(tx *sql.Tx) error {
		var there int
		if err := tx.QueryRowContext(ctx, `SELECT COUNT(*) FROM photos WHERE light_id = ?`, p.LightID).Scan(&there); err != nil {
			return fmt.Errorf("counting the photos of %s: %w", p.LightID, err)
		}
		if there >= mostPhotos {
			return ErrTooManyPhotos
		}
		if _, err := tx.ExecContext(ctx, `INSERT INTO photos (id, light_id, sitting, caption, kind, data, created_at) VALUES (?, ?, ?, ?, ?, ?, ?)`, p.ID, p.LightID, p.Sitting, p.Caption, p.Kind, data, p.CreatedAt); err != nil {
			return fmt.Errorf("storing a photo: %w", err)
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	return &p, nil
}

// ChangePhoto changes what a photo is of and what is said of it.
func (s *Store) ChangePhoto(ctx context.Context, id, sitting, caption string) error {
	if _, err := s.db.ExecContext(ctx, `UPDATE photos SET sitting = ?, caption = ? WHERE id = ?`, sitting, caption, id); err != nil {
		return fmt.Errorf("changing photo %s: %w", id, err)
	}
	return nil
}

// DropPhoto takes one out for good.
func (s *Store) DropPhoto(ctx context.Context, id string) error {
	if _, err := s.db.ExecContext(ctx, `DELETE FROM photos WHERE id = ?`, id); err != nil {
		return fmt.Errorf("taking photo %s out: %w", id, err)
	}
	return nil
}
