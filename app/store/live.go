package store

import (
	"context"
	"database/sql"
	"encoding/binary"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"strings"
	"time"
)

// A LogState says whether a log is being written.
type LogState string

// States of a log.
const (
	LogKept    LogState = "kept"    // brought in as it is
	LogRunning LogState = "running" // readings are coming
	LogStopped LogState = "stopped" // they came, and may again
)

// A Mark is something that happened while a log was written.
type Mark struct {
	S    float64 `json:"s"`
	Text string  `json:"text"`
}

// A LiveReading is a row of a log that fills no chunk yet: Seq counts all that the log ever had,
// from 1; a channel without a figure has NaN.
type LiveReading struct {
	Seq    int
	S      float64
	Values []float64
}

// Errors of writing a log.
var (
	ErrNotOurs     = errors.New("the log is written by another server, or by none")
	ErrNotWritable = errors.New("the log was brought in, not written here")
	ErrTooManyLive = errors.New("as many logs are written as may be at once")
)

// How many logs may be written at once, and how many marks one has (chosen).
const (
	mostRunning = 16
	mostMarks   = 200
)

// until is when a lease ends, by the database's clock: servers that share it may have others.
const until = `UTC_TIMESTAMP(6) + INTERVAL ? MICROSECOND`

// BeginLog begins a log that is to be written: whoever claims it writes it.
func (s *Store) BeginLog(ctx context.Context, l KeptLog) (*KeptLog, error) {
	id, err := newID()
	if err != nil {
		return nil, err
	}
	l.ID, l.CreatedAt, l.State, l.Readings, l.Seconds = id, now(), LogRunning, 0, 0
	err = s.atomically(ctx, func(tx *sql.Tx) error {
		var running int
		if err := tx.QueryRowContext(ctx, `SELECT COUNT(*) FROM logs WHERE state = ?`, LogRunning).Scan(&running); err != nil {
			return fmt.Errorf("counting the logs that are written: %w", err)
		}
		if running >= mostRunning {
			return ErrTooManyLive
		}
		return addLog(ctx, tx, &l)
	})
	if err != nil {
		return nil, err
	}
	return &l, nil
}

// RunningLogs are the logs that are being written, or are to be.
func (s *Store) RunningLogs(ctx context.Context) ([]KeptLog, error) {
	rows, err := s.db.QueryContext(ctx, selectLog+` WHERE state = ? ORDER BY created_at`, LogRunning)
	if err != nil {
		return nil, fmt.Errorf("looking for logs that are written: %w", err)
	}
	return listed(rows, "the logs that are written", scanLog)
}

// ClaimLogs gives those logs to an owner that are to be written and that nobody holds.
func (s *Store) ClaimLogs(ctx context.Context, owner string, lease time.Duration) ([]KeptLog, error) {
	rows, err := s.db.QueryContext(ctx, selectLog+` WHERE state = ? AND (lease_until IS NULL OR lease_until < UTC_TIMESTAMP(6)) ORDER BY created_at LIMIT 64`, LogRunning)
	if err != nil {
		return nil, fmt.Errorf("looking for logs to write: %w", err)
	}
	free, err := listed(rows, "the logs to write", scanLog)
	if err != nil {
		return nil, err
	}
	var out []KeptLog
	for _, l := range free {
		claimed, err := s.db.ExecContext(ctx, `UPDATE logs SET owner = ?, lease_until = `+until+` WHERE id = ? AND state = ? AND (lease_until IS NULL OR lease_until < UTC_TIMESTAMP(6))`, owner, lease.Microseconds(), l.ID, LogRunning)
		if err != nil {
			return nil, fmt.Errorf("claiming log %s: %w", l.ID, err)
		}
		if n, err := claimed.RowsAffected(); err != nil {
			return nil, fmt.Errorf("claiming log %s: %w", l.ID, err)
		} else if n == 1 {
			out = append(out, l)
		}
	}
	return out, nil
}

// HoldLog keeps the lease of a log that has nothing to write just now. The error is ErrNotOurs if
// it is no longer to be written, or another's.
func (s *Store) HoldLog(ctx context.Context, id, owner string, lease time.Duration) error {
	return held(s.db.ExecContext(ctx, `UPDATE logs SET lease_until = `+until+` WHERE id = ? AND owner = ? AND state = ?`, lease.Microseconds(), id, owner, LogRunning))
}

// held tells ErrNotOurs from a row that was changed.
func held(result sql.Result, err error) error {
	if err != nil {
		return fmt.Errorf("holding a log: %w", err)
	}
	if n, err := result.RowsAffected(); err != nil {
		return fmt.Errorf("holding a log: %w", err)
	} else if n == 0 {
		return ErrNotOurs
	}
	return nil
}

// LeaveLog gives a log back that is still to be written, so that another takes it at once.
func (s *Store) LeaveLog(ctx context.Context, id, owner string) error {
	if _, err := s.db.ExecContext(ctx, `UPDATE logs SET owner = NULL, lease_until = NULL WHERE id = ? AND owner = ?`, id, owner); err != nil {
		return fmt.Errorf("leaving log %s: %w", id, err)
	}
	return nil
}

// AppendReadings writes rows of a log, in their order, by its owner, and holds its lease; what it
// gives back, the number of the last, was kept. The rows' own numbers are not looked at. Rows that
// fill a chunk are packed on the way. The error is ErrNotOurs as HoldLog's is.
func (s *Store) AppendReadings(ctx context.Context, id, owner string, lease time.Duration, rows []LiveReading) (seq int, err error) {
	if len(rows) == 0 {
		return 0, fmt.Errorf("storing readings of log %s: there are none", id)
	}
	err = s.atomically(ctx, func(tx *sql.Tx) error {
		if err := held(tx.ExecContext(ctx, `UPDATE logs SET readings = readings + ?, seconds = GREATEST(seconds, ?), lease_until = `+until+` WHERE id = ? AND owner = ? AND state = ?`, len(rows), rows[len(rows)-1].S, lease.Microseconds(), id, owner, LogRunning)); err != nil {
			return err
		}
		if err := tx.QueryRowContext(ctx, `SELECT readings FROM logs WHERE id = ?`, id).Scan(&seq); err != nil {
			return fmt.Errorf("numbering readings of log %s: %w", id, err)
		}
		for i := range rows {
			data := make([]byte, 0, 8*len(rows[i].Values))
			for _, x := range rows[i].Values {
				data = binary.LittleEndian.AppendUint64(data, math.Float64bits(x))
			}
			if _, err := tx.ExecContext(ctx, `INSERT INTO log_readings (log_id, seq, s, data) VALUES (?, ?, ?, ?)`, id, seq-len(rows)+1+i, rows[i].S, data); err != nil {
				return fmt.Errorf("storing a reading of log %s: %w", id, err)
			}
		}
		if seq/chunkRows > (seq-len(rows))/chunkRows {
			return packLive(ctx, tx, id, len(rows[0].Values))
		}
		return nil
	})
	return seq, err
}

// packLive makes a chunk of the readings that fill none yet.
func packLive(ctx context.Context, tx *sql.Tx, id string, channels int) error {
	rows, err := tx.QueryContext(ctx, `SELECT seq, s, data FROM log_readings WHERE log_id = ? ORDER BY seq`, id)
	if err != nil {
		return fmt.Errorf("packing log %s: %w", id, err)
	}
	fresh, err := listed(rows, "the newest readings", scanReading)
	if err != nil || len(fresh) == 0 {
		return err
	}
	times, values := columnsOf(fresh, channels)
	var number int
	if err := tx.QueryRowContext(ctx, `SELECT COALESCE(MAX(number) + 1, 0) FROM log_chunks WHERE log_id = ?`, id).Scan(&number); err != nil {
		return fmt.Errorf("packing log %s: %w", id, err)
	}
	if err := addChunk(ctx, tx, id, number, times, values, 0, len(times)); err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, `DELETE FROM log_readings WHERE log_id = ?`, id); err != nil {
		return fmt.Errorf("packing log %s: %w", id, err)
	}
	return nil
}

func columnsOf(rows []LiveReading, channels int) (times []float64, values [][]float64) {
	values = make([][]float64, channels)
	for i := range rows {
		times = append(times, rows[i].S)
		for c := range values {
			values[c] = append(values[c], rows[i].Values[c])
		}
	}
	return times, values
}

func scanReading(row scanner) (*LiveReading, error) {
	r := new(LiveReading)
	var data []byte
	if err := row.Scan(&r.Seq, &r.S, &data); err != nil {
		return nil, fmt.Errorf("reading a row of a log: %w", err)
	}
	for ; len(data) >= 8; data = data[8:] {
		r.Values = append(r.Values, math.Float64frombits(binary.LittleEndian.Uint64(data)))
	}
	return r, nil
}

// LogSince are the readings after a sequence number that fill no chunk yet.
func (s *Store) LogSince(ctx context.Context, id string, seq int) ([]LiveReading, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT seq, s, data FROM log_readings WHERE log_id = ? AND seq > ? ORDER BY seq LIMIT ?`, id, seq, chunkRows)
	if err != nil {
		return nil, fmt.Errorf("reading log %s: %w", id, err)
	}
	return listed(rows, "the newest readings", scanReading)
}

// StopLog ends the writing of a log; its readings are packed. One that is not written stays as it is.
func (s *Store) StopLog(ctx context.Context, id string) (*KeptLog, error) {
	err := s.atomically(ctx, func(tx *sql.Tx) error {
		var channels []json.RawMessage
		var list []byte
		if err := tx.QueryRowContext(ctx, `SELECT channels FROM logs WHERE id = ? FOR UPDATE`, id).Scan(&list); errors.Is(err, sql.ErrNoRows) {
			return ErrNotFound
		} else if err != nil {
			return fmt.Errorf("stopping log %s: %w", id, err)
		}
		if err := json.Unmarshal(list, &channels); err != nil {
			return fmt.Errorf("stopping log %s: %w", id, err)
		}
		if _, err := tx.ExecContext(ctx, `UPDATE logs SET state = ?, owner = NULL, lease_until = NULL WHERE id = ? AND state = ?`, LogStopped, id, LogRunning); err != nil {
			return fmt.Errorf("stopping log %s: %w", id, err)
		}
		return packLive(ctx, tx, id, len(channels))
	})
	if err != nil {
		return nil, err
	}
	return s.Log(ctx, id)
}

// ResumeLog has a log written on. The error is ErrNotWritable if it never was.
func (s *Store) ResumeLog(ctx context.Context, id string) (*KeptLog, error) {
	if _, err := s.db.ExecContext(ctx, `UPDATE logs SET state = ? WHERE id = ? AND state = ?`, LogRunning, id, LogStopped); err != nil {
		return nil, fmt.Errorf("writing log %s on: %w", id, err)
	}
	l, err := s.Log(ctx, id)
	if err == nil && l.State != LogRunning {
		err = ErrNotWritable
	}
	return l, err
}

// MarkLog notes that something happened, s after the log's beginning. The last of very many stay.
func (s *Store) MarkLog(ctx context.Context, id string, m Mark) error {
	return s.atomically(ctx, func(tx *sql.Tx) error {
		var data []byte
		if err := tx.QueryRowContext(ctx, `SELECT marks FROM logs WHERE id = ? FOR UPDATE`, id).Scan(&data); errors.Is(err, sql.ErrNoRows) {
			return ErrNotFound
		} else if err != nil {
			return fmt.Errorf("marking log %s: %w", id, err)
		}
		var marks []Mark
		if err := json.Unmarshal(data, &marks); err != nil {
			return fmt.Errorf("marking log %s: %w", id, err)
		}
		m.Text = strings.TrimSpace(m.Text)
		marks = append(marks, m)
		data, err := json.Marshal(marks[max(0, len(marks)-mostMarks):])
		if err != nil {
			return fmt.Errorf("marking log %s: %w", id, err)
		}
		if _, err := tx.ExecContext(ctx, `UPDATE logs SET marks = ? WHERE id = ?`, data, id); err != nil {
			return fmt.Errorf("marking log %s: %w", id, err)
		}
		return nil
	})
}
