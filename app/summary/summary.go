// Package summary answers what the shelf shows of each light, written once a revision
// and not each time the shelf is looked at.
package summary

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"time"

	"photherm/app/compute"
	"photherm/app/solution"
	"photherm/app/store"
	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/verdict"
)

// Solver is the state of the laws and judgements: raised whenever they change, so that
// summaries are written anew.
const Solver = 26

// A Summary is a light at a glance: its first variant.
type Summary struct {
	Answers    *chain.Answers `json:"answers" doc:"null: it could not be solved"`
	InputW     float64        `json:"inputW" doc:"From its sources, 30 s after switch-on, W"`
	LightW     float64        `json:"lightW" doc:"Radiated then, W"`
	DarkWhy    string         `json:"darkWhy,omitempty" doc:"Why no power flows, or why it could not be solved"`
	Worst      *Worst         `json:"worst" doc:"The gravest finding; null: none"`
	Assumed    int            `json:"assumed" doc:"How many figures of it are assumed: the answers are then no surer than those"`
	Parts      []Copy         `json:"parts" nullable:"false" doc:"Parts that are copies of the cabinet's"`
	Unreadable string         `json:"unreadable,omitempty" doc:"Why the stored document cannot be read; it is kept as it is"`
}

// Worst is the gravest finding.
type Worst struct {
	Severity verdict.Severity `json:"severity" enum:"stop,caution,note"`
	Title    string           `json:"title"`
}

// A Copy is a part of a light that came from the cabinet.
type Copy struct {
	Origin string `json:"origin" doc:"Id of the part in the cabinet"`
	Hash   string `json:"hash" doc:"State of the copy's data"`
}

// Of summarises a stored document.
func Of(ctx context.Context, document []byte) (*Summary, error) {
	s := &Summary{Parts: []Copy{}}
	light, err := design.Decode(document)
	if err != nil {
		s.Unreadable = err.Error()
		return s, nil
	}
	s.Parts = copies(light)
	answer, _, err := solution.Solve(ctx, light, solution.Query{AtS: 30})
	if err != nil {
		if ctx.Err() != nil {
			return nil, fmt.Errorf("summarising %q: %w", light.Name, err)
		}
		s.DarkWhy = err.Error()
		return s, nil
	}
	s.Answers, s.Assumed = &answer.Answers, len(answer.Assumed)
	s.InputW, s.LightW = answer.Figures[solution.Total]["inputW"], answer.Figures[solution.Total]["lightW"]
	if s.InputW <= 0 {
		s.DarkWhy = "no power flows"
		if len(answer.Missing) > 0 {
			s.DarkWhy = answer.Missing[0].Why
		}
	}
	if len(answer.Findings) > 0 {
		s.Worst = &Worst{answer.Findings[0].Severity, answer.Findings[0].Title}
	}
	return s, nil
}

// Copies lists the parts of a stored document that came from the cabinet; none of one
// that cannot be read.
func Copies(document []byte) []Copy {
	light, err := design.Decode(document)
	if err != nil {
		return nil
	}
	return copies(light)
}

func copies(light *design.Light) []Copy {
	out := []Copy{}
	for i := range light.Parts {
		if p := &light.Parts[i]; p.Origin != nil {
			out = append(out, Copy{p.Origin.ID, p.Hash()})
		}
	}
	return out
}

// A Writer writes summaries in the background.
type Writer struct {
	store *store.Store
	gate  *compute.Gate
	wake  chan struct{}
}

// NewWriter makes a writer that computes behind a gate.
func NewWriter(s *store.Store, g *compute.Gate) *Writer {
	return &Writer{s, g, make(chan struct{}, 1)}
}

// Wake tells that a light has changed.
func (w *Writer) Wake() {
	select {
	case w.wake <- struct{}{}:
	default:
	}
}

// batch is how many lights are looked for at once; lookAgain how often without being
// woken, for what other servers on the same database leave undone.
const (
	batch     = 20
	lookAgain = 30 * time.Second
)

// Run writes what is missing until the context is done.
func (w *Writer) Run(ctx context.Context) {
	for ctx.Err() == nil {
		ids, err := w.store.Stale(ctx, Solver, batch)
		if err == nil {
			for _, id := range ids {
				if err = w.write(ctx, id); err != nil {
					break
				}
			}
		}
		if err != nil && ctx.Err() == nil {
			slog.WarnContext(ctx, "writing summaries", "error", err)
		}
		if err == nil && len(ids) > 0 {
			continue
		}
		select {
		case <-ctx.Done():
		case <-w.wake:
		case <-time.After(lookAgain):
		}
	}
}

// write summarises one light; one that is gone meanwhile is passed over.
func (w *Writer) write(ctx context.Context, id string) error {
	document, revision, err := w.store.Raw(ctx, id)
	if errors.Is(err, store.ErrNotFound) {
		return nil
	}
	if err != nil {
		return err
	}
	inside, leave, err := w.gate.Enter(ctx, "")
	if err != nil {
		return err
	}
	s, err := Of(inside, document)
	leave()
	if err != nil {
		return err
	}
	body, err := json.Marshal(s)
	if err != nil {
		return fmt.Errorf("writing the summary of light %s: %w", id, err)
	}
	return w.store.Summarise(ctx, id, revision, Solver, body)
}
