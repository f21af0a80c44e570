package heat

import "photherm/core/design"

// What a hand bears, °C, by how long it stays, after the burn thresholds of EN ISO 13732-1
// (2006, from memory; the lower end of each range): bare metal, glass and stone, plastics,
// wood. Held for eight hours it is 43 °C whatever the material; 48 °C for ten minutes is
// what is taken for a light that is held. The standard itself decides.
var touchC = map[string]map[string]float64{
	"second":      {"metal": 65, "glass": 80, "plastic": 85, "wood": 110},
	"ten-seconds": {"metal": 55, "glass": 66, "plastic": 71, "wood": 89},
	"minute":      {"metal": 51, "glass": 56, "plastic": 60, "wood": 60},
	"long":        {"metal": 48, "glass": 48, "plastic": 48, "wood": 48},
}

// TouchLimitC is what a hand bears on a body, °C: the brief's figure where it names one, else
// by how long it stays and what the body is made of. A body whose material is not said is
// taken as bare metal.
func TouchLimitC(brief *design.Brief, handheld bool, b *design.Body) float64 {
	if brief.TouchC != nil {
		return *brief.TouchC
	}
	stays := "second"
	if handheld {
		stays = "long"
	}
	material := "metal"
	if b != nil {
		if b.TouchedFor != "" {
			stays = b.TouchedFor
		}
		if b.Shape != nil {
			material = touchedAs(MaterialOf(b.Shape))
		}
	}
	return touchC[stays][material]
}

func touchedAs(m *Material) string {
	switch {
	case m.Metal:
		return "metal"
	case m.Key == "glass" || m.Key == "wood":
		return m.Key
	}
	return "plastic"
}

// TouchedFor is how long a hand is taken to stay on a body, in words.
func TouchedFor(handheld bool, b *design.Body) string {
	stays := b.TouchedFor
	switch {
	case stays == "" && handheld:
		return "for as long as it is held"
	case stays == "":
		stays = "second"
	}
	return map[string]string{"second": "for a second", "ten-seconds": "for ten seconds", "minute": "for a minute", "long": "for as long as it is held"}[stays]
}
