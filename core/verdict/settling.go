package verdict

import (
	"photherm/core/units"
)

func amps(x float64) string   { return units.Format(x, "current", 3) }
func volts(x float64) string  { return units.Format(x, "voltage", 3) }
func kelvin(x float64) string { return units.Format(x, "temperature", 2) }

func (j *judge) settling() {
	if !j.steady.Converged && j.steady.Reason != "" {
		code := "no-steady-state"
		if j.run.End.Kind == "cycling" {
			code = "cycling"
		}
		node := j.run.End.Node
		j.add(Finding{Code: code, Severity: Stop, Stage: j.stage(node), Node: node, Title: "It does not settle", Why: sentence(j.steady.Reason)})
	}
}
