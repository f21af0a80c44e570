package chain

import (
	"context"
	"fmt"

	"photherm/core/array"
	"photherm/core/circuit"
)

// StripRuns is the cut list of a strip, with voltage and light along each piece, as
// it stands at rest, or at switch-on where there is no rest. It fails if there is no
// such strip, or none is chosen.
func (s *Solver) StripRuns(ctx context.Context, id string) (runs []array.Run, err error) {
	defer circuit.Caught(&err)
	k := s.Net.Find(id, circuit.Strip)
	if k < 0 {
		return nil, fmt.Errorf("there is no strip %q", id)
	}
	if !s.Nodes[k].Chosen {
		return nil, fmt.Errorf("no strip is chosen yet")
	}
	if err := s.rest(ctx); err != nil {
		return nil, err
	}
	return s.Nodes[k].Strip.Runs(s.On[k].InnerV), nil
}
