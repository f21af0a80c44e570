// Package store keeps lights and their revisions in MariaDB. Every change is a
// new revision made on a known base; a change on an old base is refused and the
// caller is given what stands there now.
package store

import (
	"context"
	"crypto/rand"
	"database/sql"
	"database/sql/driver"
	"embed"
	"encoding/base32"
	"errors"
	"fmt"
	"io/fs"
	"net"
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
	c.Timeout, c.ReadTimeout, c.WriteTimeout = answersWithin, answersWithin, answersWithin
	c.Params["innodb_lock_wait_timeout"] = "2"
	if err := migrate(ctx, c.Clone()); err != nil {
		return nil, err
	}
	connector, err := mysql.NewConnector(c)
	if err != nil {
		return nil, fmt.Errorf("reading the database address: %w", err)
	}
	db := sql.OpenDB(connector)
	db.SetMaxOpenConns(20)
	db.SetConnMaxIdleTime(5 * time.Minute)
	return &Store{db}, nil
}

// migrate brings the tables up to date; that may take its time.
func migrate(ctx context.Context, c *mysql.Config) error {
	c.ReadTimeout, c.WriteTimeout = 0, 0
	connector, err := mysql.NewConnector(c)
	if err != nil {
		return fmt.Errorf("reading the database address: %w", err)
	}
	db := sql.OpenDB(connector)
	defer db.Close()
	if err := db.PingContext(ctx); err != nil {
		return fmt.Errorf("reaching the database: %w", err)
	}
	migrations, err := fs.Sub(files, "migrations")
	if err != nil {
		return fmt.Errorf("reading the migrations: %w", err)
	}
	p, err := goose.NewProvider(goose.DialectMySQL, db, migrations)
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

// answersWithin is how long a database may take for anything: chosen, so that one that
// hangs is told within 5 s; what the program asks takes hundredths.
const answersWithin = 4 * time.Second

// Unreachable tells whether an error is that the database does not answer.
func Unreachable(err error) bool {
	var timeout net.Error
	return errors.Is(err, mysql.ErrInvalidConn) || errors.Is(err, driver.ErrBadConn) || errors.As(err, &timeout)
}

// Ping tells whether the database answers, in a second at most.
func (s *Store) Ping(ctx context.Context) error {
	ctx, cancel := context.WithTimeout(ctx, time.Second)
	defer cancel()
	return s.db.PingContext(ctx)
}

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
