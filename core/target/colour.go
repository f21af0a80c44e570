package target

import (
	"fmt"
	"math"

	"photherm/core/photometry"
)

// Colour is what the light of all channels together looks like.
type Colour struct {
	All      photometry.Appearance `json:"all"`
	RFR      *float64              `json:"redToFarRed" doc:"Photons at 660 over those at 730 nm; null: no far red"`
	Nm       []float64             `json:"nm" nullable:"false"`
	Power    []float64             `json:"power" nullable:"false" doc:"Radiated, over its highest"`
	Channels []ColourChannel       `json:"channels" nullable:"false"`
	Levels   *Levels               `json:"levels" doc:"Levels that come nearest to what is wanted; null: none was"`
}

// A ColourChannel is light of one spectrum.
type ColourChannel struct {
	Node   string    `json:"node"`
	Name   string    `json:"name"`
	Lumens float64   `json:"lumens"`
	UmolS  float64   `json:"umolPerS" doc:"Photons, 400 to 700 nm"`
	Power  []float64 `json:"power" nullable:"false" doc:"As that of all, on its scale"`
}

// Levels of channels.
type Levels struct {
	Level []float64 `json:"level" nullable:"false" doc:"Share of its light, of each channel"`
	Off   float64   `json:"off" doc:"By what share what is wanted of it is missed"`
	Apart float64   `json:"apart" doc:"How far its colour lies from the wanted, in the CIE 1960 diagram: 0.005 is just seen"`
	Words string    `json:"words"`
}

// spectrumStep is how many nm lie between two points of a drawn spectrum.
const spectrumStep = 4

// colour mixes the channels; nil: no spectrum is known.
func (l *Lit) colour() (*Colour, error) {
	var of []*photometry.Spectrum
	var watts []float64
	var glows []*Glow
	for i := range l.Glows {
		if g := &l.Glows[i]; g.spectrum != nil && g.Lumens > 0 {
			of, watts, glows = append(of, g.spectrum), append(watts, g.Lumens/g.spectrum.EfficacyLmPerW()), append(glows, g)
		}
	}
	if len(of) == 0 {
		return nil, nil
	}
	mixed, err := photometry.Mix(of, watts)
	if err != nil {
		return nil, fmt.Errorf("mixing the light: %w", err)
	}
	out := &Colour{All: *mixed.Appearance(), Nm: []float64{}, Power: []float64{}, Channels: []ColourChannel{}}
	if r, ok := mixed.RedToFarRed(); ok {
		out.RFR = &r
	}
	top := 0.0
	for _, x := range mixed {
		top = max(top, x)
	}
	for nm := 380; nm <= 780; nm += spectrumStep {
		out.Nm = append(out.Nm, float64(nm))
		out.Power = append(out.Power, rounded(mixed[nm-photometry.FirstNm]/top))
	}
	for k, g := range glows {
		c := ColourChannel{Node: g.Node, Name: g.Name, Lumens: g.Lumens, UmolS: g.Lumens * photonsOf(g), Power: []float64{}}
		whole := of[k].Watts(photometry.FirstNm, photometry.LastNm)
		for nm := 380; nm <= 780; nm += spectrumStep {
			c.Power = append(c.Power, rounded(watts[k]*of[k][nm-photometry.FirstNm]/whole/top))
		}
		out.Channels = append(out.Channels, c)
	}
	return out, nil
}

// wantLevels tells the levels that come nearest to a colour temperature, 0: any, and an amount,
// as a share of what there is now.
func (c *Colour) wantLevels(l *Lit, kelvin, share float64) error {
	var of []*photometry.Spectrum
	var watts, amounts []float64
	for i := range l.Glows {
		if g := &l.Glows[i]; g.spectrum != nil && g.Lumens > 0 {
			of, watts, amounts = append(of, g.spectrum), append(watts, g.Lumens/g.spectrum.EfficacyLmPerW()), append(amounts, g.Lumens*photonsOf(g))
		}
	}
	all := 0.0
	for _, x := range amounts {
		all += x
	}
	levels, off, apart, err := photometry.Levels(of, watts, amounts, photometry.Wanted{TemperatureK: kelvin, Amount: share * all})
	if err != nil {
		return fmt.Errorf("looking for levels: %w", err)
	}
	c.Levels = &Levels{Level: levels, Off: off, Apart: apart}
	switch {
	case math.Abs(off) > 0.02 && apart > 0.005:
		c.Levels.Words = "these channels come to neither: this is as near as they go"
	case math.Abs(off) > 0.02:
		c.Levels.Words = fmt.Sprintf("the colour is met, the light is %.0f %% of what is wanted", 100*(1+off))
	case kelvin > 0 && apart > 0.005:
		c.Levels.Words = "the light is met; the colour is not: these channels do not mix to it"
	default:
		c.Levels.Words = "met"
	}
	return nil
}
