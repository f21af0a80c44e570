package heat

import "photherm/core/design"

// A UsualLayer is what people put between a board, or a strip, and what it sits on.
type UsualLayer struct {
	Key   string       `json:"key"`
	Word  string       `json:"word" doc:"What it is called"`
	Joint design.Joint `json:"joint" doc:"Its thickness, what it conducts and the highest temperature it bears"`
}

// UsualLayers is a short list of them. Thicknesses are common practice; conductivities and
// highest temperatures are those of ordinary goods, from memory: a data sheet is better.
func UsualLayers() []UsualLayer {
	layer := func(key, word string, thicknessM, conductivity, maxC float64) UsualLayer {
		return UsualLayer{key, word, design.Joint{ThicknessM: &thicknessM, Conductivity: &conductivity, MaxC: &maxC}}
	}
	return []UsualLayer{
		layer("paste", "paste, pressed flat", 5e-5, 1.5, 150),
		layer("pad", "soft pad", 5e-4, 1.5, 150),
		layer("epoxy", "thermal epoxy", 1e-4, 1, 120),
		layer("tape", "thermal tape", 2e-4, 0.8, 100),
		layer("foam", "foam tape of strip", 3e-4, 0.15, 70),
		layer("transfer", "thin adhesive of strip", 1e-4, 0.18, 80),
		layer("hot-melt", "hot-melt glue", 5e-4, 0.2, 60),
		layer("solder", "solder", 1e-4, 50, 180),
	}
}
