package store

import (
	"bytes"
	"compress/gzip"
	"context"
	"database/sql"
	"encoding/binary"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"time"
)

// chunkRows is how many rows of a log lie in a chunk.
const chunkRows = 4096

// A KeptLog is what is kept of a log beside its readings.
type KeptLog struct {
	ID        string          `json:"id"`
	LightID   string          `json:"lightId"`
	Name      string          `json:"name"`
	Channels  json.RawMessage `json:"channels"`
	Readings  int             `json:"readings"`
	Seconds   float64         `json:"seconds"`
	Aside     json.RawMessage `json:"aside"`
	Marks     []Mark          `json:"marks,omitempty"`
	CreatedAt time.Time       `json:"createdAt"`

	State LogState        `json:"-"` // an archive holds what was written, and it is written no more
	Live  json.RawMessage `json:"-"` // of one that is or was written here: where its readings come from
}

// A LogSummary is a chunk of a log, of each channel its least, greatest and mean; a channel
// without a figure there has NaN, which JSON writes as null.
type LogSummary struct {
	FromS float64    `json:"-"`
	ToS   float64    `json:"-"`
	Min   []*float64 `json:"min"`
	Max   []*float64 `json:"max"`
	Mean  []*float64 `json:"mean"`
}

const selectLog = `SELECT id, light_id, name, channels, readings, seconds, aside, marks, created_at, state, live FROM logs`

func scanLog(row scanner) (*KeptLog, error) {
	l := new(KeptLog)
	var marks, live []byte
	err := row.Scan(&l.ID, &l.LightID, &l.Name, &l.Channels, &l.Readings, &l.Seconds, &l.Aside, &marks, &l.CreatedAt, &l.State, &live)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, ErrNotFound
	}
	if err != nil {
		return nil, fmt.Errorf("reading a log: %w", err)
	}
	l.Live = live
	if err := json.Unmarshal(marks, &l.Marks); err != nil {
		return nil, fmt.Errorf("reading the marks of log %s: %w", l.ID, err)
	}
	return l, nil
}

// Logs are the logs of a light, the oldest first.
func (s *Store) Logs(ctx context.Context, light string) ([]KeptLog, error) {
	rows, err := s.db.QueryContext(ctx, selectLog+` WHERE light_id = ? ORDER BY created_at, id LIMIT 1000`, light)
	if err != nil {
		return nil, fmt.Errorf("listing the logs of %s: %w", light, err)
	}
	return listed(rows, "the logs", scanLog)
}

// Log is one log.
func (s *Store) Log(ctx context.Context, id string) (*KeptLog, error) {
	return scanLog(s.db.QueryRowContext(ctx, selectLog+` WHERE id = ?`, id))
}

// AddLog keeps a log of a light; of an id that is given, one that is there stays as it is. values
// has a row of each channel.
func (s *Store) AddLog(ctx context.Context, l KeptLog, times []float64, values [][]float64) (*KeptLog, error) {
	if l.ID == "" {
		id, err := newID()
		if err != nil {
			return nil, err
		}
		l.ID, l.CreatedAt = id, now()
	} else if there, err := s.Log(ctx, l.ID); err == nil {
		return there, nil
	} else if !errors.Is(err, ErrNotFound) {
		return nil, err
	}
	l.Readings = len(times)
	if n := len(times); n > 0 {
		// One that was written as it was read counts from its start, before its first reading.
		if long := times[n-1] - times[0]; l.Seconds < long || l.Seconds > times[n-1] {
			l.Seconds = long
		}
	}
	l.State = LogKept
	err := s.atomically(ctx, func(tx *sql.Tx) error {
		if err := addLog(ctx, tx, &l); err != nil {
			return err
		}
		for n, from := 0, 0; from < len(times); n, from = n+1, from+chunkRows {
			if err := addChunk(ctx, tx, l.ID, n, times, values, from, min(from+chunkRows, len(times))); err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	return &l, nil
}

func addLog(ctx context.Context, tx *sql.Tx, l *KeptLog) error {
	marks, err := json.Marshal(append([]Mark{}, l.Marks...))
	if err != nil {
		return fmt.Errorf("storing the marks of log %q: %w", l.Name, err)
	}
	if _, err := tx.ExecContext(ctx, `INSERT INTO logs (id, light_id, name, channels, readings, seconds, aside, marks, created_at, state, live) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, l.ID, l.LightID, l.Name, []byte(l.Channels), l.Readings, l.Seconds, []byte(l.Aside), marks, l.CreatedAt, l.State, nullable(l.Live)); err != nil {
		return fmt.Errorf("storing log %q: %w", l.Name, err)
	}
	return nil
}

func nullable(data json.RawMessage) any {
	if data == nil {
		return nil
	}
	return []byte(data)
}

// addChunk packs the rows from one to before another.
func addChunk(ctx context.Context, tx *sql.Tx, log string, number int, times []float64, values [][]float64, from, to int) error {
	summary, err := json.Marshal(summed(values, from, to))
	if err != nil {
		return fmt.Errorf("summing up log %s: %w", log, err)
	}
	data, err := packed(times, values, from, to)
	if err != nil {
		return fmt.Errorf("packing log %s: %w", log, err)
	}
	if _, err := tx.ExecContext(ctx, `INSERT INTO log_chunks (log_id, number, from_s, to_s, summary, data) VALUES (?, ?, ?, ?, ?, ?)`, log, number, times[from], times[to-1], summary, data); err != nil {
		return fmt.Errorf("storing log %s: %w", log, err)
	}
	return nil
}

// DropLog takes a log out for good.
func (s *Store) DropLog(ctx context.Context, id string) error {
	if _, err := s.Log(ctx, id); err != nil {
		return err
	}
	if _, err := s.db.ExecContext(ctx, `DELETE FROM logs WHERE id = ?`, id); err != nil {
		return fmt.Errorf("taking log %s out: %w", id, err)
	}
	return nil
}

// freshRows is how many readings that fill no chunk yet are summed up as one (chosen).
const freshRows = 256

// LogSummaries are the chunks of a log that lie between two times, in turn; of readings that fill
// none yet, so many at once.
func (s *Store) LogSummaries(ctx context.Context, id string, fromS, toS float64) ([]LogSummary, error) {
	fresh, err := s.LogSince(ctx, id, 0) // first: what is packed meanwhile is then met twice, not missed
	if err != nil {
		return nil, err
	}
	rows, err := s.db.QueryContext(ctx, `SELECT from_s, to_s, summary FROM log_chunks WHERE log_id = ? AND to_s >= ? AND from_s <= ? ORDER BY number`, id, fromS, toS)
	if err != nil {
		return nil, fmt.Errorf("reading log %s: %w", id, err)
	}
	out, err := listed(rows, "the chunks of a log", func(row scanner) (*LogSummary, error) {
		var c LogSummary
		var summary []byte
		if err := row.Scan(&c.FromS, &c.ToS, &summary); err != nil {
			return nil, err
		}
		return &c, json.Unmarshal(summary, &c)
	})
	if err != nil {
		return nil, err
	}
	for part := range slices.Chunk(fresh, freshRows) {
		from, to := part[0].S, part[len(part)-1].S
		if to < fromS || from > toS || len(out) > 0 && from <= out[len(out)-1].ToS {
			continue
		}
		_, values := columnsOf(part, len(part[0].Values))
		sum := summed(values, 0, len(part))
		sum.FromS, sum.ToS = from, to
		out = append(out, sum)
	}
	return out, nil
}

// LogRows are the readings of a log between two times.
func (s *Store) LogRows(ctx context.Context, id string, channels int, fromS, toS float64) (times []float64, values [][]float64, err error) {
	fresh, err := s.LogSince(ctx, id, 0) // first, as for summaries
	if err != nil {
		return nil, nil, err
	}
	rows, err := s.db.QueryContext(ctx, `SELECT data FROM log_chunks WHERE log_id = ? AND to_s >= ? AND from_s <= ? ORDER BY number`, id, fromS, toS)
	if err != nil {
		return nil, nil, fmt.Errorf("reading log %s: %w", id, err)
	}
	defer rows.Close()
	values = make([][]float64, channels)
	for rows.Next() {
		var data sql.RawBytes
		if err := rows.Scan(&data); err != nil {
			return nil, nil, fmt.Errorf("reading log %s: %w", id, err)
		}
		row, err := unpacked(data, 1+channels)
		if err != nil {
			return nil, nil, fmt.Errorf("unpacking log %s: %w", id, err)
		}
		n := len(row) / (1 + channels)
		for i := range n {
			if t := row[i]; t < fromS || t > toS {
				continue
			}
			times = append(times, row[i])
			for c := range channels {
				values[c] = append(values[c], row[(1+c)*n+i])
			}
		}
	}
	if err := rows.Err(); err != nil {
		return nil, nil, fmt.Errorf("reading log %s: %w", id, err)
	}
	for _, r := range fresh {
		if r.S < fromS || r.S > toS || len(times) > 0 && r.S <= times[len(times)-1] {
			continue
		}
		times = append(times, r.S)
		for c := range channels {
			values[c] = append(values[c], r.Values[c])
		}
	}
	return times, values, nil
}

func summed(values [][]float64, from, to int) LogSummary {
	var out LogSummary
	for _, v := range values {
		least, most, sum, n := math.Inf(1), math.Inf(-1), 0.0, 0.0
		for _, x := range v[from:to] {
			if !math.IsNaN(x) {
				least, most, sum, n = min(least, x), max(most, x), sum+x, n+1
			}
		}
		if n == 0 {
			out.Min, out.Max, out.Mean = append(out.Min, nil), append(out.Max, nil), append(out.Mean, nil)
			continue
		}
		out.Min, out.Max, out.Mean = append(out.Min, &least), append(out.Max, &most), append(out.Mean, new(sum/n))
	}
	return out
}

// packed is a chunk: its times and then each channel, as little-endian doubles, deflated.
func packed(times []float64, values [][]float64, from, to int) ([]byte, error) {
	var b bytes.Buffer
	z, err := gzip.NewWriterLevel(&b, gzip.BestSpeed)
	if err != nil {
		return nil, err
	}
	raw := make([]byte, 0, 8*(to-from)*(1+len(values)))
	for _, x := range times[from:to] {
		raw = binary.LittleEndian.AppendUint64(raw, math.Float64bits(x))
	}
	for _, v := range values {
		for _, x := range v[from:to] {
			raw = binary.LittleEndian.AppendUint64(raw, math.Float64bits(x))
		}
	}
	if _, err := z.Write(raw); err != nil {
		return nil, err
	}
	if err := z.Close(); err != nil {
		return nil, err
	}
	return b.Bytes(), nil
}

func unpacked(data []byte, columns int) ([]float64, error) {
	z, err := gzip.NewReader(bytes.NewReader(data))
	if err != nil {
		return nil, err
	}
	raw, err := io.ReadAll(z)
	if err != nil {
		return nil, err
	}
	if len(raw)%(8*columns) != 0 {
		return nil, fmt.Errorf("%d bytes are no rows of %d columns", len(raw), columns)
	}
	out := make([]float64, len(raw)/8)
	for i := range out {
		out[i] = math.Float64frombits(binary.LittleEndian.Uint64(raw[8*i:]))
	}
	return out, nil
}
