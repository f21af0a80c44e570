// Package demo puts the demo workshop, a tidal research station's, on an empty
// shelf.
package demo

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"slices"
	"strings"

	"photherm/app/exchange"
	"photherm/app/store"
	"photherm/core/design"
	"photherm/core/lot"
	"photherm/examples"
)

// Load stores every example light and the workshop's cabinet if the shelf and the
// bin are both empty. What a person has since changed or thrown away is left as it
// is.
func Load(ctx context.Context, s *store.Store) error {
	for _, bin := range []bool{false, true} {
		_, there, err := s.Shelf(ctx, bin, 0, 0, 1)
		if err != nil {
			return err
		}
		if there > 0 {
			return nil
		}
	}
	origins, err := cabinet(ctx, s)
	if err != nil {
		return err
	}
	if err := lots(ctx, s); err != nil {
		return err
	}
	names, err := fs.Glob(examples.Files, "*.json")
	if err != nil {
		return fmt.Errorf("listing the demo lights: %w", err)
	}
	slices.Reverse(names) // the shelf shows the last one stored first
	var problems []error
	for _, name := range names {
		data, err := examples.Files.ReadFile(name)
		if err != nil {
			return fmt.Errorf("reading demo light %s: %w", name, err)
		}
		light, err := design.Decode(data)
		if err != nil {
			problems = append(problems, fmt.Errorf("demo light %s: %w", name, err))
			continue
		}
		for i := range light.Parts {
			if o, ok := origins[light.Parts[i].Hash()]; ok {
				light.Parts[i].Origin = &o
			}
		}
		kept, err := s.Create(ctx, light, store.Edit{Label: "Demo"})
		if err != nil {
			return err
		}
		if err := logOf(ctx, s, kept.ID, name); err != nil {
			return err
		}
	}
	return errors.Join(problems...)
}

// logOf keeps what was logged of a light, if anything was.
func logOf(ctx context.Context, s *store.Store, id, file string) error {
	data, err := examples.Logs.ReadFile("logs/" + strings.TrimSuffix(file, ".json") + ".csv")
	if errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	if err != nil {
		return fmt.Errorf("reading the log of demo light %s: %w", file, err)
	}
	log, err := exchange.ReadLog(bytes.NewReader(data))
	if err != nil {
		return fmt.Errorf("reading the log of demo light %s: %w", file, err)
	}
	channels, err := json.Marshal(log.Channels)
	if err != nil {
		return fmt.Errorf("keeping the log of demo light %s: %w", file, err)
	}
	_, err = s.AddLog(ctx, store.KeptLog{LightID: id, Name: "Warm-up", Channels: channels, Aside: []byte("{}")}, log.S, log.Values)
	return err
}

// cabinet fills the cabinet and tells by hash which part of it a copy is of.
func cabinet(ctx context.Context, s *store.Store) (map[string]design.Origin, error) {
	parts, err := exchange.ReadPartsJSON(examples.Cabinet)
	if err != nil {
		return nil, fmt.Errorf("reading the demo cabinet: %w", err)
	}
	rows := make([]store.CabinetPart, len(parts))
	for i, p := range parts {
		rows[i] = store.CabinetPart{Stock: p.Stock, Part: p.Part}
	}
	added, err := s.AddParts(ctx, rows)
	if err != nil {
		return nil, err
	}
	origins := map[string]design.Origin{}
	for i := range added {
		hash := added[i].Part.Hash()
		origins[hash] = design.Origin{ID: added[i].ID, Hash: hash}
	}
	return origins, nil
}

// lots puts the lots of cells into the cabinet.
func lots(ctx context.Context, s *store.Store) error {
	names, err := fs.Glob(examples.Lots, "lots/*.json")
	if err != nil {
		return fmt.Errorf("listing the demo lots: %w", err)
	}
	for _, name := range names {
		data, err := examples.Lots.ReadFile(name)
		if err != nil {
			return fmt.Errorf("reading demo lot %s: %w", name, err)
		}
		l := new(lot.Lot)
		if err := json.Unmarshal(data, l); err != nil {
			return fmt.Errorf("reading demo lot %s: %w", name, err)
		}
		if _, err := s.AddLot(ctx, l); err != nil {
			return err
		}
	}
	return nil
}
