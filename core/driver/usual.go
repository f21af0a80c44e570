package driver

import "photherm/core/design"

// What a family usually needs and loses where nobody says (common practice).
const (
	UsualBuckHeadroomV   = 1.0
	UsualLinearHeadroomV = 0.3
	usualPowerFactor     = 0.9
	mainsEfficiency      = 0.87
)

var usualEfficiency = map[string]float64{"buck": 0.88, "boost": 0.85, "buck-boost": 0.82, "window": 0.85, "voltage": 0.88}

// Usual is a driver of a family with what such a one usually needs and loses, and with no
// setting. The family supply is a mains supply of a constant voltage.
func Usual(family string) design.Driver {
	if family == "supply" {
		return design.Driver{Family: "voltage", Efficiency: new(mainsEfficiency), PowerFactor: new(usualPowerFactor)}
	}
	d := design.Driver{Family: family}
	if e, converts := usualEfficiency[family]; converts {
		d.Efficiency = &e
	}
	switch family {
	case "linear":
		d.HeadroomV = new(UsualLinearHeadroomV)
	case "buck", "voltage":
		d.HeadroomV = new(UsualBuckHeadroomV)
	case "window":
		d.PowerFactor = new(usualPowerFactor)
	}
	return d
}

// UsualFamilies are the families Usual knows something of.
var UsualFamilies = []string{"linear", "buck", "boost", "buck-boost", "voltage", "resistor", "window", "supply"}
