package archive

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"math"

	"photherm/app/exchange"
	"photherm/app/store"
)

// mostLogBytes bounds the readings of a log, mostMarkBytes what a mark of it says.
const (
	mostLogBytes  = 256 << 20
	mostMarkBytes = 1000
)

func logFile(light, id, kind string) string {
	return fmt.Sprintf("lights/%s/logs/%s.%s", light, id, kind)
}

func putLogs(ctx context.Context, z *zip.Writer, s *store.Store, light string) error {
	logs, err := s.Logs(ctx, light)
	if err != nil {
		return err
	}
	for i := range logs {
		l := &logs[i]
		var channels []exchange.Channel
		if err := json.Unmarshal(l.Channels, &channels); err != nil {
			return fmt.Errorf("writing log %s: %w", l.ID, err)
		}
		times, values, err := s.LogRows(ctx, l.ID, len(channels), 0, math.MaxFloat64)
		if err != nil {
			return err
		}
		if err := put(z, logFile(light, l.ID, "json"), l); err != nil {
			return err
		}
		var b bytes.Buffer
		if err := exchange.WriteLog(&b, channels, times, values); err != nil {
			return err
		}
		if err := putRaw(z, logFile(light, l.ID, "csv"), b.Bytes()); err != nil {
			return err
		}
	}
	return nil
}

// A keptLog is one of an archive, with its readings.
type keptLog struct {
	store.KeptLog
	times  []float64
	values [][]float64
}

func (a *Archive) log(light, id string) (*keptLog, error) {
	name := logFile(light, id, "json")
	l := new(keptLog)
	var channels []exchange.Channel
	if err := a.read(name, &l.KeptLog); err != nil {
		return nil, err
	}
	if l.ID != id || l.LightID != light || !wellFormedID.MatchString(id) || !fits(l.Name, 120) || !dated(l.CreatedAt) || json.Unmarshal(l.Channels, &channels) != nil || !json.Valid(l.Aside) {
		return nil, unfit("%s is not understood", name)
	}
	for _, m := range l.Marks {
		if math.IsNaN(m.S) || !fits(m.Text, mostMarkBytes) {
			return nil, unfit("%s is not understood", name)
		}
	}
	data, err := a.rawUpTo(logFile(light, id, "csv"), mostLogBytes)
	if err != nil {
		return nil, err
	}
	log, err := exchange.ReadLogAs(bytes.NewReader(data), channels)
	if err != nil {
		return nil, unfit("%s is not understood", logFile(light, id, "csv"))
	}
	l.times, l.values = log.S, log.Values
	return l, nil
}

// takeInLogs brings the logs of a light in with it: those that are there stay. A light that was
// put beside another keeps none of them: they were logged of the other.
func (a *Archive) takeInLogs(ctx context.Context, s *store.Store, light string, o store.Outcome) error {
	if o == store.Copied || o == store.Differs {
		return nil
	}
	for _, id := range a.logs[light] {
		l, err := a.log(light, id)
		if err != nil {
			return err
		}
		if _, err := s.AddLog(ctx, l.KeptLog, l.times, l.values); err != nil {
			return err
		}
	}
	return nil
}
