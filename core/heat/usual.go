package heat

import "photherm/core/design"

// A UsualLayer is what people put between a board, or a strip, and what it sits on.
type UsualLayer struct {
	Key   string       `json:"key"`
	Word  string       `json:"word" doc:"What it is called"`
	Holds string       `json:"holds" doc:"What holds the board then, and whether it comes off again"`
	Joint design.Joint `json:"joint" doc:"Its thickness, what it conducts, how much of the area it wets, and the highest temperature it bears"`
}

// UsualLayers is a short list of them, the schools of fastening side by side. Thicknesses and
// wetted shares are common practice; conductivities and highest temperatures are those of
// ordinary goods, from memory: a data sheet is better.
func UsualLayers() []UsualLayer {
	// Aluminium on aluminium of 10 µm roughness in air, at 1 bar, is 2.75e-4 m²K/W (Incropera &
	// DeWitt, thermal contact resistances, from memory): so much air of 300 K.
	dryM, dryK := 7.2e-6, airK[1]
	layer := func(key, word, holds string, thicknessM, conductivity, coverage, maxC float64) UsualLayer {
		l := UsualLayer{Key: key, Word: word, Holds: holds, Joint: design.Joint{ThicknessM: &thicknessM, Conductivity: &conductivity, MaxC: &maxC}}
		if coverage < 1 {
			l.Joint.Coverage = &coverage
		}
		return l
	}
	return []UsualLayer{
		layer("paste", "paste, pressed flat by screws", "screws hold it, paste does not; it comes off again", 5e-5, 1.5, 1, 150),
		layer("pad", "soft pad under screws", "screws hold it; it bridges what is not flat and comes off again", 5e-4, 1.5, 1, 150),
		layer("adhesive", "thermal adhesive of two parts", "holds by itself, for good: what it holds is destroyed when it is taken off", 1e-4, 1.2, 1, 150),
		layer("epoxy", "thermal epoxy", "holds by itself, for good", 1e-4, 1, 1, 120),
		layer("epoxy-paste", "epoxy mixed half with paste", "holds weakly and comes off with a twist; it conducts less than either said alone", 1e-4, 0.8, 1, 100),
		layer("edge-glue", "paste in the middle, glue at the edges", "the glue holds, so its temperature counts; it can be cut off", 8e-5, 1.5, 0.75, 100),
		layer("tape", "thermal tape", "holds light boards on clean flat metal; it creeps where something pulls", 2e-4, 0.8, 1, 100),
		layer("foam", "foam tape of strip", "holds strip on what is smooth; heat and dust let it go", 3e-4, 0.15, 1, 70),
		layer("transfer", "thin adhesive of strip", "holds strip on clean metal or paint", 1e-4, 0.18, 1, 80),
		layer("hot-melt", "hot-melt glue", "lets go when it is warm: for wires, not for emitters", 5e-4, 0.2, 1, 60),
		layer("solder", "solder", "holds for good and best; the whole body must be heated to solder it", 1e-4, 50, 1, 180),
		{"dry", "nothing: pressed on dry", "screws hold it, and air is left between; worse where it is not flat", design.Joint{ThicknessM: &dryM, Conductivity: &dryK}},
	}
}

// Paste is the layer that is usual under a board.
func Paste() design.Joint { return UsualLayers()[0].Joint }

// airConducts is what a layer conducts at most that is held to be air, W/(m·K) (chosen: air has
// 0.026, and no layer that people use less than 0.1).
const airConducts = 0.05

// Dry tells whether there is nothing but air in a joint.
func Dry(j *design.Joint) bool {
	return j != nil && j.KPerW == nil && j.Conductivity != nil && *j.Conductivity < airConducts
}
