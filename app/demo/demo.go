// Package demo puts the demo workshop, a tidal research station's, on an empty
// shelf.
package demo

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"slices"

	"photherm/app/store"
	"photherm/core/design"
	"photherm/examples"
)

// Load stores every example light if the shelf and the bin are both empty. What
// a person has since changed or thrown away is left as it is.
func Load(ctx context.Context, s *store.Store) error {
	for _, bin := range []bool{false, true} {
		there, err := s.List(ctx, bin)
		if err != nil {
			return err
		}
		if len(there) > 0 {
			return nil
		}
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
		if _, err := s.Create(ctx, light, store.Edit{Label: "Demo"}); err != nil {
			return err
		}
	}
	return errors.Join(problems...)
}
