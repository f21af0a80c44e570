package driver

// KnobTravel is the share of a current knob's travel over which it dims: above it
// the load does not take what the knob allows. The knob runs from minA to maxA in
// proportion; the load takes loadA when nothing limits it.
func KnobTravel(loadA, minA, maxA float64) float64 {
	if maxA <= minA {
		return 0
	}
	return max(0, (min(loadA, maxA)-minA)/(maxA-minA))
}
