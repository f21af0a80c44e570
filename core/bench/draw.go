package bench

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"photherm/core/chain"
	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/reading"
)

// A DrawnLife is how long a lamp that is known by its draw lasts on the pack of its light.
type DrawnLife struct {
	Points       []design.LoadPoint      `json:"points" nullable:"false" doc:"The readings as a load, voltage rising"`
	Scatter      float64                 `json:"scatter" doc:"How far they scatter, ± of 1"`
	Contradicts  []reading.Contradiction `json:"contradicts" nullable:"false"`
	Repeat       []reading.Draw          `json:"repeat" nullable:"false" doc:"Those to read again"`
	EndS         *float64                `json:"endS" doc:"Until it is cut off or empty, s; null: no pack, or no end"`
	LowS         *float64                `json:"lowS" doc:"With the draw as much above as it scatters, s"`
	HighS        *float64                `json:"highS" doc:"And below, s"`
	MeanA        *float64                `json:"meanA" doc:"Mean draw over that time, A"`
	FromA        float64                 `json:"fromA" doc:"Draw half a minute after switch-on, A"`
	ToA          float64                 `json:"toA" doc:"Draw at the end, A"`
	LightAtEnd   *float64                `json:"lightAtEnd" doc:"Light at the end over that at the start; null: no light was read"`
	CutOff       string                  `json:"cutOff" doc:"What ends it"`
	Extrapolated bool                    `json:"extrapolated" doc:"Whether the pack goes outside the voltages that were read"`
}

// DrawOf lays readings of draw over the pack of a light: its measured load takes them. The error
// says that there is no such load.
func DrawOf(ctx context.Context, light *design.Light, variant int, node string, list []reading.Draw) (out *DrawnLife, err error) {
	defer circuit.Caught(&err)
	if len(list) < 2 {
		return nil, fmt.Errorf("two readings at least are needed, at two voltages of the pack; there are %d", len(list))
	}
	out = &DrawnLife{Contradicts: reading.Contradictions(list), Repeat: []reading.Draw{}}
	for _, c := range out.Contradicts {
		out.Repeat = append(out.Repeat, list[c.Repeat])
	}
	out.Points, out.Scatter = reading.LoadOf(list)
	full, err := benched(light, variant)
	if err != nil {
		return nil, err
	}
	v := &full.Variants[variant]
	n := design.FindIn(v, node)
	if n == nil || n.Load == nil {
		return nil, fmt.Errorf("there is no measured load %q", node)
	}
	n.Load.PartID, n.Load.Points, n.Load.Draws = "", out.Points, nil
	// What earlier readings corrected of its draw is in these.
	v.Corrected = slices.DeleteFunc(v.Corrected, func(c design.Correction) bool { return strings.HasSuffix(c.At, "/loads/"+node+"/scale") })
	if n.Load.FluxLm == nil && out.Points[len(out.Points)-1].RelativeLight != nil {
		n.Load.FluxLm = new(1.0) // of itself: only its trend is told
	}
	var feed *design.Feed
	path := ""
	for i := range v.Feeds {
		if design.FindNode(v.Feeds[i].Loads, node) != nil {
			feed = &v.Feeds[i]
			path = "/variants/" + v.ID + "/feeds/" + feed.ID + "/loads/" + node
		}
	}
	if err := design.Check(full); err != nil {
		return nil, fmt.Errorf("taking the readings as a load: %w", err)
	}
	m, err := chain.Compile(full, chain.Options{Variant: variant})
	if err != nil {
		return nil, err
	}
	run, err := m.Solver().Run(ctx)
	if err != nil {
		return nil, fmt.Errorf("running the pack down: %w", err)
	}
	end := run.T[len(run.T)-1]
	a, volts, flux := column(m, node, "inA"), column(m, node, "inV"), column(m, node, "fluxLm")
	start, last := run.At(min(30, end)), lastLit(run, a)
	out.FromA, out.ToA, out.CutOff = start[a], last[a], run.End.Kind
	low, high := out.Points[0].VoltageV, out.Points[len(out.Points)-1].VoltageV
	out.Extrapolated = start[volts] > high*(1+beyondV) || last[volts] < low*(1-beyondV)
	if flux >= 0 && start[flux] > 0 {
		out.LightAtEnd = new(last[flux] / start[flux])
	}
	answers := run.Answers()
	if feed == nil || answers.EndS == nil || len(feed.Sources) == 0 || feed.Sources[0].Pack == nil {
		return out, nil
	}
	out.EndS = answers.EndS
	out.MeanA = new(meanOf(run, column(m, feed.ID, "busA"), *answers.EndS))
	for _, x := range []struct {
		share float64
		to    **float64
	}{{1 + out.Scatter, &out.LowS}, {1 - out.Scatter, &out.HighS}} {
		s := m.Solver()
		if s.Vary(chain.Variation{Pointer: path + "/scale", Op: chain.Set, Value: max(x.share, 0.05)}) != nil {
			continue
		}
		run, err := s.Run(ctx)
		if err != nil {
			return nil, fmt.Errorf("running the pack down: %w", err)
		}
		*x.to = run.Answers().EndS
	}
	return out, nil
}

// beyondV is how far outside what was read a voltage counts as not read (chosen).
const beyondV = 0.02

// lastLit is the last record with a current.
func lastLit(run *chain.Run, a int) []float64 {
	for i := len(run.T) - 1; i > 0; i-- {
		if run.Records[i][a] > 0 {
			return run.Records[i]
		}
	}
	return run.Records[0]
}

// meanOf is the mean of a column until a time, by trapezes between records.
func meanOf(run *chain.Run, c int, endS float64) float64 {
	sum := 0.0
	for i := 1; i < len(run.T) && run.T[i] <= endS*(1+1e-9); i++ {
		sum += (run.T[i] - run.T[i-1]) * (run.Records[i][c] + run.Records[i-1][c]) / 2
	}
	return sum / math.Max(endS, 1e-9)
}
