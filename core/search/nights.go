package search

import (
	"context"
	"fmt"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/source"
)

// Nights is how the first pack of a light lasts over nights of the same use.
type Nights struct {
	Whole   int       `json:"whole" doc:"Nights that one charge, or set of cells, lights through, of at most a year"`
	OutH    *float64  `json:"outH" doc:"Into the night after, the light goes out after so many hours; null: it lasts a year"`
	PerWeek *float64  `json:"perWeek" doc:"Charges, or sets of cells, a week, each before the night it would not last; null: it lasts a year"`
	PerYear *float64  `json:"perYear" doc:"The same a year"`
	Dusk    []float64 `json:"dusk" nullable:"false" doc:"Charge at each dusk from the first, of 1"`
	Primary bool      `json:"primary"`
	Cost    *float64  `json:"costPerYear" doc:"What they cost, or the energy to charge them; null: not known"`
}

// A Spell is a part of a night: a mode of the drivers that have it, and how long.
type Spell struct {
	Mode  string  `json:"mode" maxLength:"60" doc:"Name of the mode; empty: as it is set"`
	Hours float64 `json:"hours" minimum:"0.01" maximum:"24" doc:"For so long, h"`
}

// A year of nights, and at how many charges one night is solved (chosen: between them the
// charge that is left is taken straight; a test holds it against every night solved).
const (
	yearNights = 365
	nightGrid  = 17
)

// NightsOf asks for how many nights of some spells a pack lasts. Each night begins at the
// temperature of the air; between nights it loses what is drawn while it is off and what its
// cells lose by themselves. The error may be a PlaceError.
func NightsOf(ctx context.Context, light *design.Light, variant int, spells []Spell, pricePerKWh float64) (*Nights, error) {
	light, err := unplugged(light, variant)
	if err != nil {
		return nil, err
	}
	feed, part := firstPack(light, &light.Variants[variant])
	if feed == nil {
		return nil, about("variant", fmt.Errorf("this light has no pack of cells that are chosen: there is nothing to last"))
	}
	n := night{ctx: ctx, feed: feed.ID}
	lit := 0.0
	for _, s := range spells {
		other, err := design.Clone(light)
		if err != nil {
			return nil, err
		}
		if lit += s.Hours; !setMode(&other.Variants[variant], s.Mode) {
			return nil, about("spells", fmt.Errorf("no driver has a mode %q", s.Mode))
		}
		n.spells, n.lights = append(n.spells, s.Hours*3600), append(n.lights, other)
	}
	if lit <= 0 || lit > 24 {
		return nil, about("spells", fmt.Errorf("the hours of a night lie between none and 24, and these are %.3g", lit))
	}
	n.variant = variant
	m, err := chain.Compile(light, chain.Options{Variant: variant})
	if err != nil {
		return nil, err
	}
	full, wh := m.Holds(feed.ID, 1)
	q := runtimeQuestion{ctx, light, variant, m, nil, feed, part}
	off, err := q.offA()
	if err != nil {
		return nil, err
	}
	byDay := (off*(24-lit) + source.MonthlyLoss(part.Cell)*full/30.4) / full
	if err := n.tabulate(); err != nil {
		return nil, err
	}
	out := &Nights{Dusk: []float64{}, Primary: source.Primary(part.Cell)}
	charge := 1.0
	for len(out.Dusk) < yearNights {
		out.Dusk = append(out.Dusk, charge)
		left, outH := n.after(charge)
		if outH != nil {
			out.OutH = outH
			break
		}
		out.Whole++
		charge = max(left-byDay, 0)
	}
	if out.OutH != nil {
		out.PerYear = new(yearNights / max(float64(out.Whole), 1))
		out.PerWeek = new(7 / max(float64(out.Whole), 1))
		switch {
		case out.Primary && part.Price != nil:
			out.Cost = new(*out.PerYear * *part.Price * float64(feed.Sources[0].Pack.CellsIn()))
		case !out.Primary && pricePerKWh > 0:
			// What is put back is what was taken; of a night it does not last, all.
			taken := 1 - charge
			if out.Whole == 0 {
				taken = 1
			}
			out.Cost = new(*out.PerYear * taken * wh / 1000 / chargingShare * pricePerKWh)
		}
	}
	return out, nil
}

// setMode puts every driver that has a mode into it; it tells whether any has. Empty: nothing
// is changed.
func setMode(v *design.Variant, mode string) bool {
	any := mode == ""
	for n := range design.Nodes(v) {
		if d := n.Driver; d != nil && mode != "" {
			for _, m := range d.Modes {
				if m.Name == mode {
					d.Mode, any = mode, true
				}
			}
		}
	}
	return any
}

// night is one night of use, as a map from the charge at dusk to that at dawn.
type night struct {
	ctx     context.Context
	feed    string
	variant int
	spells  []float64 // s
	lights  []*design.Light
	left    [nightGrid]float64
	litS    [nightGrid]float64 // until it went out; whole nights are all of it
	allS    float64
}

// solve goes through one night from a charge: what is left, and until when it was lit.
func (n *night) solve(charge float64) (left, litS float64, err error) {
	left = charge
	for i, s := range n.spells {
		n.lights[i].Conditions.Charge = &left
		m, err := chain.Compile(n.lights[i], chain.Options{Variant: n.variant})
		if err != nil {
			return 0, 0, err
		}
		run, err := m.Solver().RunFor(n.ctx, s)
		if err != nil {
			return 0, 0, fmt.Errorf("going through a night: %w", err)
		}
		end := run.T[len(run.T)-1]
		left = max(run.Records[len(run.Records)-1][figureOf(m, n.feed, "charge")], 0)
		if litS += min(end, s); run.End.Kind != "time-limit" && end < s*(1-1e-6) && run.End.Kind != "settled" {
			return left, litS, nil
		}
	}
	return left, litS, nil
}

func (n *night) tabulate() error {
	for _, s := range n.spells {
		n.allS += s
	}
	for i := range nightGrid {
		var err error
		if n.left[i], n.litS[i], err = n.solve(float64(i) / (nightGrid - 1)); err != nil {
			return err
		}
	}
	return nil
}

// after is what a night leaves of a charge, straight between those solved; outH is when it
// went out.
func (n *night) after(charge float64) (left float64, outH *float64) {
	x := min(max(charge, 0), 1) * (nightGrid - 1)
	i := min(int(x), nightGrid-2)
	f := x - float64(i)
	if n.litS[i+1] < n.allS*(1-1e-6) || f == 0 && n.litS[i] < n.allS*(1-1e-6) {
		return 0, new((n.litS[i] + f*(n.litS[i+1]-n.litS[i])) / 3600)
	}
	if n.litS[i] < n.allS*(1-1e-6) {
		// Between one that does not last and one that does: what it takes is that of the one
		// that does.
		took := float64(i+1)/(nightGrid-1) - n.left[i+1]
		if left = charge - took; left < n.left[i] {
			return 0, new(n.allS / 3600 * max(charge-n.left[i], 0) / max(took, 1e-9))
		}
		return left, nil
	}
	return n.left[i] + f*(n.left[i+1]-n.left[i]), nil
}
