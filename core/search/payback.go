package search

import (
	"context"
	"fmt"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/source"
)

// A Payback sets what a light costs against another variant of it: the lamp it replaces.
type Payback struct {
	Cost   float64  `json:"cost" doc:"Parts of this one, as far as they are priced"`
	Other  float64  `json:"otherCost" doc:"Parts of the other"`
	HourC  *float64 `json:"costPerH" doc:"What an hour of light of this one costs; null: not known"`
	OtherC *float64 `json:"otherCostPerH" doc:"And of the other"`
	Hours  *float64 `json:"hours" doc:"Hours of light after which it has paid itself; null: never, or it cannot be told"`
	Why    string   `json:"why" doc:"Why it cannot be told, or never does, or does at once; empty: hours say it"`
}

// PaybackOf asks after how many hours of light a variant has paid itself against another. The
// error may be a PlaceError.
func PaybackOf(ctx context.Context, light *design.Light, variant, against int, pricePerKWh float64) (*Payback, error) {
	if against < 0 || against >= len(light.Variants) || against == variant {
		return nil, about("against", fmt.Errorf("there is no other variant %d", against))
	}
	a, b := design.CostOf(light, variant), design.CostOf(light, against)
	out := &Payback{Cost: a.Sum, Other: b.Sum}
	for _, of := range []struct {
		variant int
		to      **float64
	}{{variant, &out.HourC}, {against, &out.OtherC}} {
		light, err := unplugged(light, of.variant)
		if err != nil {
			return nil, err
		}
		m, err := chain.Compile(light, chain.Options{Variant: of.variant})
		if err != nil {
			return nil, err
		}
		run, err := m.Solver().Run(ctx)
		if err != nil {
			return nil, fmt.Errorf("asking what an hour costs: %w", err)
		}
		*of.to = hourCost(light, m, run, pricePerKWh)
	}
	name := light.Variants[against].Name
	switch more := out.Cost - out.Other; {
	case out.HourC == nil || out.OtherC == nil:
		out.Why = "what an hour costs is not known of both: give the price of their cells, and that of energy"
	case more <= 0 && *out.HourC <= *out.OtherC:
		out.Why = fmt.Sprintf("it costs no more than %s, to make and to run", name)
	case more > 0 && *out.HourC >= *out.OtherC:
		out.Why = fmt.Sprintf("it costs more than %s to make, and no less an hour: it never does", name)
	case more <= 0:
		out.Why = fmt.Sprintf("it is cheaper to make than %s, and dearer an hour", name)
		out.Hours = new(more / (*out.OtherC - *out.HourC)) // until then it is ahead
	default:
		out.Hours = new(more / (*out.OtherC - *out.HourC))
	}
	return out, nil
}

// hourCost is what an hour of light costs: cells that are changed, or energy; nil: not known.
func hourCost(light *design.Light, m *chain.Model, run *chain.Run, pricePerKWh float64) *float64 {
	v := m.Variant()
	if feed, part := firstPack(light, v); feed != nil {
		a := run.Answers()
		if a.EndS == nil || *a.EndS <= 0 {
			return nil
		}
		hours := *a.EndS / 3600
		switch {
		case source.Primary(part.Cell) && part.Price != nil:
			return new(*part.Price * float64(feed.Sources[0].Pack.CellsIn()) / hours)
		case !source.Primary(part.Cell) && pricePerKWh > 0:
			charge := 1.0
			if c := light.Conditions.Charge; c != nil {
				charge = *c
			}
			_, wh := m.Holds(feed.ID, charge)
			return new(wh / 1000 / chargingShare * pricePerKWh / hours)
		}
		return nil
	}
	if pricePerKWh <= 0 {
		return nil
	}
	a := run.Answers()
	return new(a.InputW / 1000 * pricePerKWh)
}
