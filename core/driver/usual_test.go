package driver

import "testing"

// Every family is there with figures that such a one can have: a regulator needs headroom,
// a converter loses something, and on the mains watts are no more than volt-amperes.
func TestUsual(t *testing.T) {
	for _, family := range UsualFamilies {
		d := Usual(family)
		mains := family == "window" || family == "supply"
		if d.Family != family && family != "supply" || (d.PowerFactor != nil) != mains || mains && (*d.PowerFactor <= 0.5 || *d.PowerFactor > 1) {
			t.Errorf("%s: %+v", family, d)
		}
		converts := family != "linear" && family != "resistor"
		if (d.Efficiency != nil) != converts || converts && (*d.Efficiency < 0.7 || *d.Efficiency >= 1) {
			t.Errorf("%s: efficiency %v", family, d.Efficiency)
		}
		if headroom := family == "linear" || family == "buck" || family == "voltage"; (d.HeadroomV != nil) != headroom || headroom && *d.HeadroomV <= 0 {
			t.Errorf("%s: headroom %v", family, d.HeadroomV)
		}
		if d.SetCurrentA != nil || d.SetVoltageV != nil {
			t.Errorf("%s is set to something", family)
		}
	}
}
