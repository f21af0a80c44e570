package heat

import "photherm/core/design"

// A Material is what a body is made of.
type Material struct {
	Key          string  `json:"key"`
	Word         string  `json:"word" doc:"What it is called"`
	Conductivity float64 `json:"conductivityWPerMK"`
	KgPerM3      float64 `json:"densityKgPerM3"`
	JPerKgK      float64 `json:"specificHeatJPerKgK"`
	Emissivity   float64 `json:"emissivity" doc:"Of its bare surface"`
	MaxC         float64 `json:"maxC" doc:"Highest temperature it bears for long, °C; of metals that of its use here, not of its melting"`
	Metal        bool    `json:"metal"`
}

// Materials is a short table (CRC Handbook of Chemistry and Physics, Incropera & DeWitt
// table A.1 to A.3 and A.11, from memory and rounded; what plastics and wood bear for long
// is common practice).
func Materials() []Material { return materials }

var materials = []Material{
	{"aluminium", "aluminium, extruded or sheet", 200, 2700, 900, 0.1, 150, true},
	{"cast-aluminium", "cast aluminium", 110, 2680, 900, 0.2, 150, true},
	{"copper", "copper", 390, 8940, 385, 0.1, 150, true},
	{"brass", "brass", 115, 8500, 380, 0.1, 150, true},
	{"steel", "steel, galvanised or mill finish", 50, 7850, 470, 0.28, 150, true},
	{"stainless", "stainless steel", 15, 7900, 500, 0.2, 150, true},
	{"wood", "wood", 0.12, 550, 1700, 0.9, 80, false},
	{"printed-plastic", "printed plastic", 0.17, 1240, 1500, 0.9, 55, false},
	{"glass-fibre-board", "glass-fibre board", 0.3, 1850, 1100, 0.9, 110, false},
	{"acrylic", "acrylic", 0.19, 1180, 1470, 0.9, 75, false},
	{"glass", "glass", 1.0, 2500, 840, 0.9, 200, false},
}

// MaterialOf is the material of a shape; one that is not said is aluminium.
func MaterialOf(s *design.Shape) *Material {
	for i := range materials {
		if materials[i].Key == s.Material {
			return &materials[i]
		}
	}
	return &materials[0]
}

// Emissivities of treated surfaces (Incropera & DeWitt table A.11, from memory, rounded).
const (
	polishedEmits = 0.05
	paintedEmits  = 0.9
	anodisedEmits = 0.8
)

// EmissivityOf is that of a shape: its own, or that of such surfaces.
func EmissivityOf(s *design.Shape) float64 {
	if s.Emissivity != nil {
		return *s.Emissivity
	}
	m := MaterialOf(s)
	switch s.Surface {
	case "polished":
		if m.Metal {
			return polishedEmits
		}
	case "painted":
		return paintedEmits
	case "anodised":
		if m.Metal {
			return anodisedEmits
		}
	}
	return m.Emissivity
}

// Absorbs is the share of sunlight that a surface takes up: paint and non-metals are taken
// as dark (Incropera & DeWitt table A.12, from memory and rounded; white paint takes 0.2).
func Absorbs(s *design.Shape) float64 {
	const dark, anodised, bareMetal, polished = 0.9, 0.7, 0.4, 0.15
	switch {
	case s == nil || s.Surface == "painted" || !MaterialOf(s).Metal:
		return dark
	case s.Surface == "anodised":
		return anodised
	case s.Surface == "polished":
		return polished
	}
	return bareMetal
}

// SunOn is what the sun brings to a body, W, of so much a square metre; nought where nothing
// of it is in the sun.
func SunOn(b *design.Body, s *design.Shape, perM2W *float64) Sun {
	if perM2W == nil || b.SunM2 == nil {
		return 0
	}
	return Sun(*perM2W * *b.SunM2 * Absorbs(s))
}
