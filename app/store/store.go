// Package store keeps lights and their revisions in MariaDB. Every change is a
// new revision made on a known base; a change on an old base is refused and the
// caller is given what stands there now.
package store

import (
	"context"
	"crypto/rand"
	"database/sql"
	"embed"
	"encoding/base32"
	"errors"
	"fmt"
	"io/fs"
	"strings"
	"time"

	"github.com/go-sql-driver/mysql"
	"github.com/pressly/goose/v3"
)

//go:embed migrations/*.sql
var files embed.FS

// A Store is an open database.
type Store struct{ db *sql.DB }

// Open connects, checks the connection and brings the tables up to date.
func Open(ctx context.Context, dsn string) (*Store, error) {
	c, err := mysql.ParseDSN(dsn)
	if err != nil {
		return nil, fmt.Errorf("reading the database address: %w", err)
	}
	c.ParseTime, c.Loc, c.Collation, c.ClientFoundRows = true, time.UTC, "utf8mb4_unicode_520_ci", true
	if c.Params == nil {
		c.Params = map[string]string{}
	}
	c.Params["time_zone"] = "'+00:00'"
	c.Params["sql_mode"] = "'STRICT_ALL_TABLES,NO_ZERO_DATE,ERROR_FOR_DIVISION_BY_ZERO'"
	c.Timeout, c.ReadTimeout, c.WriteTimeout = 10*time.Second, 30*time.Second, 30*time.Second
	connector, err := mysql.NewConnector(c)
	if err != nil {
		return nil, fmt.Errorf("reading the database address: %w", err)
	}
	db := sql.OpenDB(connector)
	db.SetMaxOpenConns(20)
	db.SetConnMaxIdleTime(5 * time.Minute)
	s := &Store{db}
	if err := s.migrate(ctx); err != nil {
		db.Close()
		return nil, err
	}
	return s, nil
}

func (s *Store) migrate(ctx context.Context) error {
	if err := s.db.PingContext(ctx); err != nil {
		return fmt.Errorf("reaching the database: %w", err)
	}
	migrations, err := fs.Sub(files, "migrations")
	if err != nil {
		return fmt.Errorf("reading the migrations: %w", err)
	}
	p, err := goose.NewProvider(goose.DialectMySQL, s.db, migrations)
	if err != nil {
		return fmt.Errorf("reading the migrations: %w", err)
	}
	if _, err := p.Up(ctx); err != nil {
		return fmt.Errorf("bringing the tables up to date: %w", err)
	}
	return nil
}

// Close ends the connections.
func (s *Store) Close() error { return s.db.Close() }

// Ping tells whether the database answers.
func (s *Store) Ping(ctx context.Context) error { return s.db.PingContext(ctx) }

const (
	deadlock    = 1213
	lockTimeout = 1205
	tries       = 3
)

// atomically runs f in a transaction, and again if it lost a race for locks.
func (s *Store) atomically(ctx context.Context, f func(*sql.Tx) error) error {
	for try := 1; ; try++ {
		err := s.once(ctx, f)
		var refused *mysql.MySQLError
		if errors.As(err, &refused) && (refused.Number == deadlock || refused.Number == lockTimeout) && try < tries {
			time.Sleep(time.Duration(try) * 20 * time.Millisecond)
			continue
		}
		return err
	}
}

func (s *Store) once(ctx context.Context, f func(*sql.Tx) error) error {
	tx, err := s.db.BeginTx(ctx, nil)
	if err != nil {
		return fmt.Errorf("beginning a transaction: %w", err)
	}
	defer func() { _ = tx.Rollback() }() // after a commit this does nothing
	if err := f(tx); err != nil {
		return err
	}
	if err := tx.Commit(); err != nil {
		return fmt.Errorf("committing: %w", err)
	}
	return nil
}

func newID() (string, error) {
	b := make([]byte, 10)
	if _, err := rand.Read(b); err != nil {
		return "", fmt.Errorf("making an id: %w", err)
	}
	return strings.ToLower(base32.StdEncoding.EncodeToString(b)), nil
}
