package photometry

// An Appearance is what a spectrum looks like, for each radiated watt.
type Appearance struct {
	LmPerRadiatedW float64  `json:"lmPerRadiatedW"`
	PhotonsPerJ    float64  `json:"photonsPerJ" doc:"400 to 700 nm, µmol for each radiated joule"`
	FarRedPerJ     float64  `json:"farRedPerJ" doc:"700 to 750 nm, µmol for each radiated joule"`
	BlueShare      float64  `json:"blueShare" doc:"Of the photons from 400 to 700 nm"`
	TemperatureK   *float64 `json:"temperatureK" doc:"Correlated colour temperature; null: too far from white"`
	Duv            *float64 `json:"duv"`
	Ra             *float64 `json:"ra" doc:"General colour rendering index, CIE 13.3; null: not white"`
}

// Appearance tells what a spectrum looks like.
func (s *Spectrum) Appearance() *Appearance {
	c := &Appearance{LmPerRadiatedW: s.EfficacyLmPerW(), PhotonsPerJ: s.Photons(400, 700), FarRedPerJ: s.Photons(700, 750), BlueShare: s.BlueShare()}
	if k, duv, ok := s.Colour(); ok {
		c.TemperatureK, c.Duv = &k, &duv
	}
	if ra, ok := s.Rendering(); ok {
		c.Ra = &ra
	}
	return c
}
