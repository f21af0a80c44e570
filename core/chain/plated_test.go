package chain

import (
	"context"
	"math"
	"strings"
	"testing"

	"photherm/core/design"
	"photherm/core/heat"
	"photherm/core/internal/sample"
)

// onPlate is the handlamp's emitters doubled, twelve and four, with places on a sheet.
func onPlate(t *testing.T, change func(*design.Light)) *Model {
	t.Helper()
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	v := &light.Variants[0]
	b := &v.Bodies[0]
	b.KPerW, b.HeatJPerK, b.MassKg = nil, nil, nil
	b.Shape = &design.Shape{Kind: "plate", LengthM: ptr(0.2), WidthM: ptr(0.12), ThicknessM: ptr(0.002), Surface: "painted"}
	first := design.FindNode(v.Feeds[0].Loads, "emitters")
	first.Array.Joint = &design.Joint{KPerW: ptr(0.4), AreaM2: ptr(1e-4)}
	copied, err := design.Clone(light)
	if err != nil {
		t.Fatal(err)
	}
	second := *design.FindNode(copied.Variants[0].Feeds[0].Loads, "emitters")
	second.ID, second.Name = "more", "More"
	feed := &v.Feeds[0]
	var hang func(nodes []design.Node) bool
	hang = func(nodes []design.Node) bool {
		for i := range nodes {
			for k := range nodes[i].Loads {
				if nodes[i].Loads[k].ID == "emitters" {
					nodes[i].Loads = append(nodes[i].Loads, second)
					return true
				}
			}
			if hang(nodes[i].Loads) {
				return true
			}
		}
		return false
	}
	hang(feed.Loads)
	v.Layouts = []design.Layout{{ID: "places", BodyID: b.ID, Spots: []design.LayoutSpot{
		{NodeID: "emitters", XM: 0.03, YM: 0.03}, {NodeID: "emitters", XM: 0.06, YM: 0.035}, {NodeID: "emitters", XM: 0.1, YM: 0.1},
		{NodeID: "more", XM: 0.16, YM: 0.06, LengthM: ptr(0.02), WidthM: ptr(0.01)}, {NodeID: "more", XM: 0.135, YM: 0.06, LengthM: ptr(0.01)},
	}}}
	change(light)
	return compile(t, light)
}

func restOf(t *testing.T, m *Model) (*Solver, []float64) {
	t.Helper()
	s := m.Solver()
	st, err := s.Steady(context.Background())
	if err != nil || !st.Converged {
		t.Fatalf("%v %+v", err, st)
	}
	return s, st.Record
}

// What the chain says of every place against a map of the same plate on a fine grid, with the
// heat that comes to rest in the chain: under each pad within 0.5 % of the highest rise. Each
// emitter's junction stands above its own place; the body is the mean, and gives all heat to
// the air.
func TestPlacesAgainstTheMap(t *testing.T) {
	for name, hole := range map[string]bool{"plain": false, "a hole between": true} {
		m := onPlate(t, func(l *design.Light) {
			if hole {
				l.Variants[0].Layouts[0].KeepOuts = []design.KeepOut{{XM: 0.045, YM: 0.03, LengthM: 0.006, WidthM: 0.05, Hole: true}}
			}
		})
		s, record := restOf(t, m)
		p := &m.plates[0]
		sheet := p.law.Sheet(400, p.rest)
		layout := &m.Variant().Layouts[0]
		q := make([]float64, sheet.NX*sheet.NY)
		into, spots := 0.0, 0
		pad := func(a *plated, i int) heat.Pad {
			spot := &layout.Spots[a.spots[i].index]
			long, wide := spot.Pad(design.FindNode(m.Variant().Feeds[0].Loads, spot.NodeID).Array, len(a.spots))
			return heat.Pad{XM: spot.XM, YM: spot.YM, LengthM: long, WidthM: wide}
		}
		for a := range p.arrays {
			w := s.intoPlate(&p.arrays[a])
			into += w
			for i := range p.arrays[a].spots {
				spots++
				sheet.Cover(pad(&p.arrays[a], i), func(c int, share float64) { q[c] += w / float64(len(p.arrays[a].spots)) * share })
			}
		}
		rise, err := sheet.Solve(q)
		if err != nil {
			t.Fatal(err)
		}
		mean, most, cells := 0.0, 0.0, 0.0
		for c, r := range rise {
			if sheet.Hole == nil || !sheet.Hole[c] {
				mean, cells = mean+r, cells+1
			}
			most = max(most, r)
		}
		mean /= cells
		body := column(t, m, record, m.Variant().Bodies[0].ID, "bodyC")
		hottest := map[int]float64{}
		for a := range p.arrays {
			x := &p.arrays[a]
			under := s.lumpC(s.y, x.lump)
			for i := range x.spots {
				plateK, _ := p.above(s, a, i)
				there := 0.0
				sheet.Cover(pad(x, i), func(c int, share float64) { there += share * rise[c] })
				if got, want := under+plateK-body, there-mean; math.Abs(got-want) > 5e-3*most {
					t.Errorf("%s: spot %d of %s is %g K above the mean, map %g of %g", name, i, layout.Spots[x.spots[i].index].NodeID, got, want, most)
				}
				hottest[a] = max(hottest[a], there-mean+body-under)
			}
			above := column(t, m, record, layout.Spots[x.spots[0].index].NodeID, "junctionC") - s.lumpC(s.y, m.junction[x.node])
			if math.Abs(above-hottest[a]) > 5e-3*most+0.02 {
				t.Errorf("%s: its hottest junction is %g K above the mean of them, the map has %g", name, above, hottest[a])
			}
		}
		if spots != 5 || into < 3 {
			t.Errorf("%s: %d places, %g W", name, spots, into)
		}
		closeTo(t, "to the air", column(t, m, record, m.Variant().Bodies[0].ID, "airW")+column(t, m, record, "", "looseW"), column(t, m, record, "", "heatW"), 1e-6)
	}
}

// In time too the ledger closes, and places that are far apart stay cooler than a heap.
func TestHeapedAndApart(t *testing.T) {
	hottest := func(spots ...design.LayoutSpot) float64 {
		m := onPlate(t, func(l *design.Light) { l.Variants[0].Layouts[0].Spots = spots })
		if r := run(t, m); !r.Ledger.Closes() {
			t.Errorf("the ledger is %g open", r.Ledger.Closure)
		}
		_, record := restOf(t, m)
		return column(t, m, record, "emitters", "junctionC")
	}
	at := func(x, y float64) design.LayoutSpot {
		return design.LayoutSpot{NodeID: "emitters", XM: x, YM: y, LengthM: ptr(0.008)}
	}
	heap := hottest(at(0.02, 0.02), at(0.029, 0.02), at(0.02, 0.029), at(0.029, 0.029))
	apart := hottest(at(0.05, 0.03), at(0.15, 0.03), at(0.05, 0.09), at(0.15, 0.09))
	if heap < apart+3 {
		t.Errorf("in a corner %g °C, apart %g °C", heap, apart)
	}
	// The hottest of places alike is no hotter than their mean.
	even := onPlate(t, func(l *design.Light) {
		l.Variants[0].Layouts[0].Spots = []design.LayoutSpot{at(0.05, 0.03), at(0.15, 0.03), at(0.05, 0.09), at(0.15, 0.09)}
	})
	s, record := restOf(t, even)
	k := even.plates[0].arrays[0].node
	closeTo(t, "all alike", column(t, even, record, "emitters", "junctionC"), s.lumpC(s.y, even.junction[k]), 1e-6)
}

// A layout that cannot be is told in one sentence at its place, and the light is solved
// without it; so is one on a sheet of unknown thickness.
func TestPlacesThatCannotBe(t *testing.T) {
	plain := onPlate(t, func(l *design.Light) { l.Variants[0].Layouts = nil })
	_, record := restOf(t, plain)
	want := column(t, plain, record, "emitters", "junctionC")
	for says, change := range map[string]func(l *design.Light, o *design.Layout){
		"reaches beyond": func(_ *design.Light, o *design.Layout) { o.Spots[0].XM = 0.001 },
		"overlap":        func(_ *design.Light, o *design.Layout) { o.Spots[1].XM, o.Spots[1].YM = 0.031, 0.03 },
		"on what is kept free": func(_ *design.Light, o *design.Layout) {
			o.KeepOuts = []design.KeepOut{{XM: 0.03, YM: 0.03, LengthM: 0.02, WidthM: 0.02}}
		},
		"what is kept free at": func(_ *design.Light, o *design.Layout) {
			o.KeepOuts = []design.KeepOut{{XM: 0.2, YM: 0.1, LengthM: 0.02, WidthM: 0.005}}
		},
		"no longer there": func(_ *design.Light, o *design.Layout) { o.Spots[2].NodeID = "gone" },
		"no face of known length": func(l *design.Light, _ *design.Layout) {
			l.Variants[0].Bodies[0].Shape = &design.Shape{Kind: "tube", LengthM: ptr(0.2), DiameterM: ptr(0.12)}
		},
		"give its thickness": func(l *design.Light, _ *design.Layout) { l.Variants[0].Bodies[0].Shape.ThicknessM = nil },
		"mounted elsewhere": func(l *design.Light, o *design.Layout) {
			l.Variants[0].Bodies = append(l.Variants[0].Bodies, design.Body{ID: "else", Name: "Else", KPerW: ptr(3.0)})
			o.BodyID = "else"
			l.Variants[0].Bodies[1].Shape = &design.Shape{Kind: "plate", LengthM: ptr(0.2), WidthM: ptr(0.12)}
		},
	} {
		m := onPlate(t, func(l *design.Light) { change(l, &l.Variants[0].Layouts[0]) })
		told := false
		for _, miss := range m.Missing() {
			told = told || strings.Contains(miss.Why, says)
		}
		if !told || len(m.plates) > 0 {
			t.Errorf("%s: told %v, %d plates, %+v", says, told, len(m.plates), m.Missing())
		}
		if says == "give its thickness" || says == "no face of known length" {
			continue // another body
		}
		_, record := restOf(t, m)
		closeTo(t, "as without places", column(t, m, record, "emitters", "junctionC"), want, 1e-9)
	}
	// Exactly at the edge, and side by side, pads may lie.
	m := onPlate(t, func(l *design.Light) {
		o := &l.Variants[0].Layouts[0]
		o.Spots = []design.LayoutSpot{{NodeID: "emitters", XM: 0.005, YM: 0.005, LengthM: ptr(0.01)}, {NodeID: "emitters", XM: 0.015, YM: 0.005, LengthM: ptr(0.01)}}
	})
	if len(m.plates) != 1 {
		t.Errorf("at the edge: %+v", m.Missing())
	}
}

// What a plate's joints conduct goes through its held edges, that of others does not; and
// cells that are cut out are drawn as what is beside them, at an edge too.
func TestHeldEdgesAndHoles(t *testing.T) {
	joined := onPlate(t, func(l *design.Light) {
		v := &l.Variants[0]
		v.Bodies[0].Joints = []design.BodyLink{{BodyID: "rim", Joint: design.Joint{KPerW: ptr(0.5)}}}
		v.Bodies = append(v.Bodies, design.Body{ID: "rim", Name: "Rim", KPerW: ptr(2.0), Joints: []design.BodyLink{{BodyID: "far", Joint: design.Joint{KPerW: ptr(0.1)}}}}, design.Body{ID: "far", Name: "Far", KPerW: ptr(2.0)})
		v.Layouts[0].Held = []string{"left"}
		v.Layouts[0].KeepOuts = []design.KeepOut{{XM: 0.195, YM: 0.1, LengthM: 0.01, WidthM: 0.03, Hole: true}}
	})
	p := &joined.plates[0]
	if p.rest.HeldW != 2 || p.rest.Held != [4]bool{true, false, false, false} {
		t.Errorf("held by %g W/K at %v", p.rest.HeldW, p.rest.Held)
	}
	s, _ := restOf(t, joined)
	m, err := s.MapOf(0, 80)
	if err != nil {
		t.Fatal(err)
	}
	cell := func(i, j int) float64 { return m.C[j*m.NX+i] }
	if cell(0, m.NY/2) > cell(m.NX/2, m.NY/2)-1 || math.Abs(m.OffW-m.IntoW) > 1e-3*m.IntoW {
		t.Errorf("at the held edge %g °C, in the middle %g; %g W in, %g off", cell(0, m.NY/2), cell(m.NX/2, m.NY/2), m.IntoW, m.OffW)
	}
	// The hole lies at the right edge: beside it is the plate to its left, not the other edge.
	j := int(0.1 / m.WidthM * float64(m.NY))
	if got, beside := cell(m.NX-1, j), cell(m.NX-6, j); math.Abs(got-beside) > 0.3*math.Abs(beside-cell(0, j)) {
		t.Errorf("cut out at the edge %g °C, beside it %g, at the other edge %g", got, beside, cell(0, j))
	}
}

// On the way from the hottest emitter to the air every layer has its own kelvins: what the
// board has itself, the joint with its pad, the plate to its mean.
func TestLayersOnTheWay(t *testing.T) {
	m := onPlate(t, func(l *design.Light) {
		design.FindNode(l.Variants[0].Feeds[0].Loads, "emitters").Array.BoardKPerW = ptr(1.5)
	})
	s, record := restOf(t, m)
	of := func(figure string) float64 { return column(t, m, record, "emitters", figure) }
	x := m.platedOf(m.wayOfNode(t, "emitters"))[0]
	w := s.intoPlate(x)
	closeTo(t, "board", of("caseC")-of("boardC"), w*1.5/3, 1e-4)
	closeTo(t, "joint and pad", of("boardC")-of("seatC"), w*(0.4+x.padKPerW()), 1e-4)
	if of("seatC") < column(t, m, record, m.Variant().Bodies[0].ID, "bodyC")+0.2 {
		t.Errorf("the plate under it is at %g °C", of("seatC"))
	}
}

// Places of emitters that are not chosen yet give no heat, and nothing is told of them.
func TestPlacesOfNothing(t *testing.T) {
	m := onPlate(t, func(l *design.Light) {
		design.FindNode(l.Variants[0].Feeds[0].Loads, "more").Array.PartID = ""
	})
	s, _ := restOf(t, m)
	heat := 0.0
	for _, p := range s.Places() {
		if heat += p.HeatW; p.Node != "emitters" {
			t.Errorf("told: %+v", p)
		}
	}
	got, err := s.MapOf(0, 60)
	if err != nil {
		t.Fatal(err)
	}
	closeTo(t, "into the plate", got.IntoW, heat, 1e-9)
	if heat < 3 {
		t.Errorf("%g W", heat)
	}
}

func (m *Model) wayOfNode(t *testing.T, id string) int {
	t.Helper()
	for k := range m.net.Nodes {
		if m.net.Nodes[k].ID == id {
			return k
		}
	}
	t.Fatalf("no node %s", id)
	return -1
}
