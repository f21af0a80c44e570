package serve

import (
	"context"
	"errors"
	"fmt"

	"photherm/app/mariadb"
	"photherm/app/store"
)

// Database opens the store a Config names, for a command that works on it and ends: an
// own database, the private one, or that of a program that runs on the folder just now.
// end closes it.
func Database(ctx context.Context, c Config) (s *store.Store, end func(), err error) {
	dsn, stop := c.DSN, func() {}
	if dsn == "" {
		db, err := mariadb.Start(ctx, mariadb.Options{Dir: c.Dir})
		switch {
		case errors.Is(err, mariadb.ErrInUse):
			if dsn, err = mariadb.Running(c.Dir); err != nil {
				return nil, nil, err
			}
		case err != nil:
			return nil, nil, err
		default:
			dsn, stop = db.DSN(""), db.Stop
		}
	}
	if s, err = store.Open(ctx, dsn); err != nil {
		stop()
		return nil, nil, fmt.Errorf("opening the database: %w", err)
	}
	return s, func() { _ = s.Close(); stop() }, nil
}
