// Package sample makes lights for tests: of one kind, and at random.
package sample

import (
	"embed"
	"fmt"
	"math"
	"math/rand/v2"

	"photherm/core/design"
	"photherm/examples"
)

//go:embed cases/*.json
var cases embed.FS

// Case is a light that was hard once: jumps, depth, width, no state at rest.
func Case(name string) (*design.Light, error) {
	data, err := cases.ReadFile("cases/" + name + ".json")
	if err != nil {
		return nil, fmt.Errorf("reading a case: %w", err)
	}
	return design.Decode(data)
}

// Example is a light of the demo, by the name of its file.
func Example(name string) (*design.Light, error) {
	data, err := examples.Files.ReadFile(name)
	if err != nil {
		return nil, fmt.Errorf("reading an example: %w", err)
	}
	return design.Decode(data)
}

// OfKnownKPerW takes the handlamp's body for one whose K/W was measured, for checks that hold
// figures against that: 3.2 K/W and 310 g of aluminium.
func OfKnownKPerW(light *design.Light) *design.Light {
	for i := range light.Variants {
		for k := range light.Variants[i].Bodies {
			if b := &light.Variants[i].Bodies[k]; b.Shape != nil && b.Shape.Kind == "tube" {
				kPerW, kg := 3.2, 0.31
				b.KPerW, b.MassKg, b.Shape = &kPerW, &kg, nil
			}
		}
	}
	return light
}

// The same LED on both sides of a comparison: IS, N and RS of a diode at 25 °C.
const (
	LEDIS = 1e-24
	LEDN  = 2.1
	LEDRS = 0.12
	VT25  = 8.617333262e-5 * 298.15 // k/q·T, V (CODATA 2018)
)

// LEDLaw is its voltage at a current, V.
func LEDLaw(i float64) float64 { return LEDN*VT25*math.Log(1+i/LEDIS) + i*LEDRS }

// LEDPart is that LED as a part.
func LEDPart() design.Part {
	e := &design.Emitter{VfRefTempC: 25, VfVPerK: new(0.0), RatedCurrentA: new(1.0)}
	for _, i := range []float64{0.01, 0.05, 0.2, 0.7, 1.5} {
		e.Forward = append(e.Forward, design.ForwardPoint{CurrentA: i, VoltageV: LEDLaw(i)})
	}
	return design.Part{ID: "led", Name: "Test emitter", Emitter: e}
}

// Options say what kind of light to make at random.
type Options struct {
	Depth  int
	Joints float64 // share of nodes with a bad joint
	Odd    bool    // with what jumps or folds: start voltages, falling loads, weak supplies
	Feeds  int     // 0 is taken as 1
}

// Light makes lights that need not be wise.
func Light(random *rand.Rand, depth int) *design.Light {
	return Tree(random, Options{Depth: depth, Joints: 1.0 / 14})
}

// Tree makes lights that need not be wise, of a kind.
func Tree(random *rand.Rand, o Options) *design.Light {
	between := func(a, b float64) float64 { return a + (b-a)*random.Float64() }
	parts := []design.Part{LEDPart(), {ID: "cell", Name: "c", Cell: &design.Cell{Chemistry: "li-ion-4.2", CapacityAh: between(0.5, 5), ResistanceOhm: between(0.01, 0.2)}},
		{ID: "lin", Name: "l", Driver: &design.Driver{Family: "linear", HeadroomV: new(between(0, 1)), QuiescentA: new(between(0, 0.01))}},
		{ID: "buck", Name: "b", Driver: &design.Driver{Family: "buck", HeadroomV: new(between(0.2, 2)), Efficiency: new(between(0.7, 0.97)), EfficiencyInV: new(12.0), EfficiencyOut: new(6.0)}},
		{ID: "res", Name: "r", Driver: &design.Driver{Family: "resistor", ResistanceOhm: new(between(0.5, 30))}},
		{ID: "none", Name: "n", Driver: &design.Driver{Family: "none"}},
		{ID: "boost", Name: "u", Driver: &design.Driver{Family: "boost", Efficiency: new(between(0.7, 0.97)), EfficiencyInV: new(6.0), EfficiencyOut: new(9.0), EfficiencyAtA: new(0.5)}},
		{ID: "both", Name: "ud", Driver: &design.Driver{Family: "buck-boost", MaxVoltageV: new(between(4, 30)), Efficiency: new(between(0.7, 0.95)), EfficiencyInV: new(6.0), EfficiencyOut: new(6.0), EfficiencyAtA: new(0.5)}},
		{ID: "module", Name: "m", Driver: &design.Driver{Family: "voltage", Topology: []string{"step-down", "step-up", "either"}[random.IntN(3)], SetVoltageV: new(between(3, 12)), Efficiency: new(between(0.7, 0.97)), EfficiencyAtA: new(1.0)}},
		{ID: "drop", Name: "z", Driver: &design.Driver{Family: "dropper", DropV: new(between(0.5, 5))}},
		{ID: "foldback", Name: "f", Driver: &design.Driver{Family: "voltage", Topology: "either", SetVoltageV: new(between(3, 12)), MaxCurrentA: new(between(0.5, 3)), FoldbackA: new(between(0.05, 0.4)), Efficiency: new(0.9)}},
		{ID: "strip", Name: "s", Strip: &design.Strip{VoltageV: between(4, 14), PerMetreA: new(between(0.1, 1.5)), CutM: 0.1, LoopOhm: new(between(0, 0.3)), FluxLmPer: new(500.0)}}}
	e := parts[0].Emitter
	e.VfVPerK = new(-between(0.001, 0.004))
	e.FluxLm, e.FluxCurrentA, e.EfficacyLmPerW, e.RthKPerW = new(between(20, 200)), new(0.5), new(300.0), new(between(1, 15))
	drivers := []string{"lin", "buck", "res", "none", "boost", "both", "module", "drop"}
	if o.Odd {
		drivers = append(drivers, "foldback")
	}
	id := 0
	name := func() string { id++; return fmt.Sprintf("n%d", id) }
	var nodes func(depth int) []design.Node
	nodes = func(depth int) []design.Node {
		var out []design.Node
		for range 1 + random.IntN(2) {
			n := design.Node{ID: name(), BodyID: "b"}
			if random.Float64() < o.Joints {
				n.Fault = &design.Fault{SeriesOhm: between(0, 2)}
			}
			kinds := 8
			if o.Odd {
				kinds = 10
			}
			switch kind := random.IntN(kinds); {
			case kind < 2 && depth > 0:
				n.Switch = &design.Switch{ContactOhm: between(0, 0.2)}
				n.Loads = nodes(depth - 1)
			case kind < 5 && depth > 0:
				n.Driver = &design.DriverUse{PartID: drivers[random.IntN(len(drivers))], SetCurrentA: new(between(0.05, 2))}
				if random.IntN(5) == 0 {
					n.Driver.Dimming = &design.Level{Current: new(between(0.1, 1)), Duty: new(between(0.1, 1))}
				}
				n.Loads = nodes(depth - 1)
			case kind == 5:
				n.Load = &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 3, CurrentA: between(0.01, 0.3)}, {VoltageV: 6, CurrentA: between(0.01, 0.6)}}, Beyond: []string{"power", "current"}[random.IntN(2)]}
			case kind == 8:
				n.Aux = &design.Auxiliary{CurrentA: between(0.005, 0.3), StartV: new(between(0, 9))}
			case kind == 9:
				n.Load = &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 2, CurrentA: between(0.05, 0.6)}, {VoltageV: between(3, 8), CurrentA: between(0.01, 0.5)}, {VoltageV: 9, CurrentA: between(0.01, 0.6)}}, Beyond: []string{"power", "current"}[random.IntN(2)]}
			case kind == 6:
				n.Strip = &design.StripUse{PartID: "strip", PiecesM: []float64{between(0.1, 3)}, BothEnds: random.IntN(2) == 0}
			default:
				n.Array = &design.Array{PartID: "led", Series: 1 + random.IntN(3), Parallel: 1 + random.IntN(3), Joint: &design.Joint{KPerW: new(between(0, 2))}}
				if random.IntN(4) == 0 {
					n.Array.BallastOhm = new(between(0, 1))
					n.Array.Unequal = []design.Strings{{Strings: 1, OffsetV: between(-0.1, 0.1), HotterK: between(0, 20)}}
					if *n.Array.BallastOhm > 0.4 { // with junctions of their own
						n.Array.Unequal[0].HotterK = 0
					}
					if *n.Array.BallastOhm > 0.7 {
						n.Array.Mixed = []design.Mixed{{PartID: "led", Series: 1}}
					}
					if *n.Array.BallastOhm > 0.85 {
						n.Array.Unequal[0].Shorted = n.Array.Series
						n.Array.Unequal[0].Open = *n.Array.BallastOhm > 0.93
					}
				}
			}
			out = append(out, n)
		}
		return out
	}
	v := design.Variant{ID: "v", Name: "v", Bodies: []design.Body{{ID: "b", Name: "b", KPerW: new(between(0.5, 10)), HeatJPerK: new(between(10, 500))}}}
	for k := range max(o.Feeds, 1) {
		source := design.Source{ID: fmt.Sprintf("s%d", k), Pack: &design.Pack{PartID: "cell", Series: 1 + random.IntN(4), Parallel: 1 + random.IntN(2), ContactOhm: between(0, 0.1), BodyID: "b"}}
		if o.Odd && random.IntN(3) == 0 {
			source.Pack, source.Supply = nil, &design.Supply{VoltageV: between(3, 20), ResistanceOhm: between(0, 3), MaxCurrentA: new(between(0.2, 4))}
		}
		v.Feeds = append(v.Feeds, design.Feed{ID: fmt.Sprintf("f%d", k), Sources: []design.Source{source}, Loads: nodes(o.Depth)})
	}
	return &design.Light{Name: "random", Conditions: design.Conditions{AmbientC: between(-10, 40)}, Parts: parts, Variants: []design.Variant{v}}
}

// OnSupply is a light that hangs on a supply.
func OnSupply(volts, ohm float64, parts []design.Part, loads ...design.Node) *design.Light {
	return &design.Light{
		Name: "test", Conditions: design.Conditions{AmbientC: 25}, Parts: parts,
		Variants: []design.Variant{{ID: "v", Name: "v", Feeds: []design.Feed{{
			ID: "f", Sources: []design.Source{{ID: "s", Supply: &design.Supply{VoltageV: volts, ResistanceOhm: ohm}}}, Loads: loads,
		}}}},
	}
}

// Counted gives some nodes of a random tree a count.
func Counted(random *rand.Rand, nodes []design.Node, share float64) {
	for i := range nodes {
		if random.Float64() < share {
			nodes[i].Count = 2 + random.IntN(3)
		}
		Counted(random, nodes[i].Loads, share)
	}
}

// WrittenOut is nodes with every counted one written out as so many. Their ids begin
// with that of the node and an x.
func WrittenOut(nodes []design.Node) []design.Node {
	out := []design.Node{}
	for _, n := range nodes {
		for copy := range max(n.Count, 1) {
			one := n
			one.Count = 0
			one.Loads = WrittenOut(n.Loads)
			if n.Count > 1 {
				mark(&one, fmt.Sprintf("x%d", copy))
			}
			out = append(out, one)
		}
	}
	return out
}

func mark(n *design.Node, with string) {
	n.ID += with
	for i := range n.Loads {
		mark(&n.Loads[i], with)
	}
}
