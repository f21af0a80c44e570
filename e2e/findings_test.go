package e2e

import (
	"bytes"
	"encoding/json"
	"net/http"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"

	"photherm/app/api"
	"photherm/core/design"
	"photherm/examples"
)

// spoiled puts a demo light on the shelf with something done to it.
func spoiled(t *testing.T, file, name string, spoil func(l *design.Light, loads []design.Node)) string {
	t.Helper()
	data, err := examples.Files.ReadFile(file)
	if err != nil {
		t.Fatal(err)
	}
	l, err := design.Decode(data)
	if err != nil {
		t.Fatal(err)
	}
	l.Name = name
	if file == "shore-search-handlamp.json" {
		l.Variants = l.Variants[:1] // as copyOf
	}
	spoil(l, l.Variants[0].Feeds[0].Loads)
	body, err := json.Marshal(l)
	if err != nil {
		t.Fatal(err)
	}
	r, err := http.Post(program.URL("/api/lights"), "application/json", bytes.NewReader(body))
	if err != nil {
		t.Fatal(err)
	}
	defer r.Body.Close()
	var made api.StoredLight
	if r.StatusCode != 201 {
		t.Fatalf("%d: %s", r.StatusCode, text(t, r))
	}
	if err := json.NewDecoder(r.Body).Decode(&made); err != nil {
		t.Fatal(err)
	}
	return made.ID
}

// No dead ends: from every finding the page goes to a control of what it points at,
// on whatever stage or among whatever part's figures that stands.
func TestEveryFindingLeadsToItsControl(t *testing.T) {
	codes := map[string]bool{}
	for _, c := range []struct {
		name, file string
		spoil      func(l *design.Light, loads []design.Node)
	}{
		{"Handlamp pushed hard", "shore-search-handlamp.json", func(l *design.Light, loads []design.Node) {
			d := &loads[1].Loads[0]
			d.Driver.SetCurrentA = new(6.0)
			d.Driver.Modes, d.Driver.Mode = []design.Mode{{Name: "flash", Level: design.Level{Duty: new(0.5), FrequencyHz: new(8.0)}}}, "flash"
			loads[1].Switch.RatingA = new(0.1)
			l.Parts[0].Cell.MaxDischargeA, l.Parts[0].Cell.MaxC = new(0.2), new(26.0)
			l.Parts[1].Driver.MaxCaseC = new(26.0)
			l.Parts[2].Emitter.MaxJunctionC, l.Parts[2].Emitter.Colour, l.Parts[2].Emitter.RthKPerW = new(40.0), "red", nil
			l.Variants[0].Bodies[0].MaxC = new(30.0)
			d.Loads[0].Array.Joint = &design.Joint{KPerW: new(1.0), MaxC: new(30.0)}
			d.Loads[0].Array.BeamDeg = new(8.0)
			l.Brief.OutputLm, l.Brief.RuntimeH = new(1e5), new(100.0)
		}},
		{"Handlamp with a cell too many", "shore-search-handlamp.json", func(l *design.Light, loads []design.Node) {
			d := &loads[1].Loads[0]
			l.Variants[0].Feeds[0].Sources[0].Pack.Series = 20
			l.Parts[1].Driver.DimFloor, l.Parts[1].Driver.PWMMaxHz, l.Parts[1].Driver.RiseS = new(0.3), new(500.0), new(2e-4)
			d.Driver.Dimming = &design.Level{Current: new(0.1), Duty: new(0.01), FrequencyHz: new(1000.0)}
			l.Parts[2].Emitter.Forward = l.Parts[2].Emitter.Forward[:2]
			l.Parts[2].Emitter.FluxLm = nil
			l.Variants[0].Bodies[0].KPerW = nil
		}},
		{"Handlamp with a cell too few", "shore-search-handlamp.json", func(l *design.Light, loads []design.Node) {
			l.Variants[0].Feeds[0].Sources[0].Pack.Series = 2
			l.Parts[1].Driver.Dimming = "none"
			loads[1].Loads[0].Driver.Dimming = &design.Level{Current: new(0.5), Duty: new(0.5)}
			loads[1].Loads[0].Loads[0].BodyID = ""
		}},
		{"Lantern from another bag", "pier-lantern.json", func(l *design.Light, loads []design.Node) {
			l.Variants[0].Feeds[0].Sources[0].Pack.Series = 3
			loads[0].Loads[0].Driver.SetCurrentA, loads[0].Loads[0].Driver.TiedChannels = new(30.0), 9
			l.Parts[2].Emitter.VfBinV, l.Parts[2].Emitter.RthKPerW = new(0.3), new(90.0)
		}},
		{"Rack with its earth open", "germination-rack.json", func(l *design.Light, loads []design.Node) {
			d := &loads[0].Loads[0]
			d.Driver.SetCurrentA, d.Driver.SetVoltageV, d.Driver.Unearthed = new(9.0), new(70.0), true
			l.Parts[0].Driver.Class, l.Parts[0].Driver.Isolated, l.Parts[0].Driver.OpenOutputV = "I", new(false), new(80.0)
			l.Parts[0].Driver.Ripple, l.Parts[0].Driver.MinLoadW = new(0.4), new(5000.0)
			l.Conditions.NearWater = true
			d.Loads = []design.Node{{ID: "late", Switch: &design.Switch{}, Loads: d.Loads}}
		}},
		{"Strip cut wrong", "chart-table-strip.json", func(l *design.Light, loads []design.Node) {
			loads[0].Dimmer.MaxLoadW, loads[0].Dimmer.MinLoadW = new(2.0), new(1.0)
			l.Parts[0].Driver.Dimming, l.Parts[0].Driver.MaxVoltageV = "none", new(40.0)
			l.Parts[1].Strip.LongestM, l.Parts[1].Strip.FluxLmPer = new(0.5), nil
			loads[0].Loads[0].Loads[0].Strip.PiecesM[0] = 9.013
			loads[0].Loads[0].Driver.SetVoltageV = new(30.0)
		}},
		{"Strip under a dimmer too large", "chart-table-strip.json", func(l *design.Light, loads []design.Node) {
			loads[0].Dimmer.MinLoadW = new(400.0)
			l.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "battery", Supply: &design.Supply{VoltageV: 100, MaxCurrentA: new(0.001), Unit: "twin", UnitMaxW: new(0.01)}}
		}},
		{"Ring straight on a cell", "pier-lantern.json", func(l *design.Light, loads []design.Node) {
			l.Parts[1].Driver = &design.Driver{Family: "none"}
			loads[0].Loads[0].Driver.SetCurrentA = nil
			l.Parts[0].Cell.ResistanceOhm = 1e-4
		}},
		{"Ring behind a small resistor", "pier-lantern.json", func(l *design.Light, loads []design.Node) {
			l.Parts[1].Driver = &design.Driver{Family: "resistor", ResistanceOhm: new(0.5), RatedW: new(0.01)}
			loads[0].Loads[0].Driver.SetCurrentA = nil
		}},
		{"Ring under a step-up", "pier-lantern.json", func(l *design.Light, loads []design.Node) {
			l.Variants[0].Feeds[0].Sources[0].Pack.Series = 4
			l.Parts[1].Driver = &design.Driver{Family: "boost", MinCurrentA: new(0.8), MaxCurrentA: new(1.0), MaxVoltageV: new(30.0), JumperA: []float64{0.35, 1}}
		}},
		{"Ring on a window", "pier-lantern.json", func(l *design.Light, loads []design.Node) {
			l.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "wall", Mains: &design.Mains{VoltageV: 230, FrequencyHz: 50}}
			l.Parts[1].Driver = &design.Driver{Family: "window", MinVoltageV: new(20.0), MaxVoltageV: new(40.0)}
		}},
		{"Handlamp that cannot be", "shore-search-handlamp.json", func(l *design.Light, loads []design.Node) {
			e := l.Parts[2].Emitter
			e.FluxLm, e.FluxCurrent, e.VfBinV = new(*e.FluxLm*8), nil, new(0.2)
			e.Spectrum, e.EfficacyLmPerW = &design.Spectrum{WhiteK: new(4000.0)}, new(200.0)
			a := loads[1].Loads[0].Loads[0].Array
			a.Series, a.Parallel, a.Unequal = 2, 3, []design.Strings{{Strings: 1, Shorted: 1}}
			l.Variants[0].Bodies[0].Joints = []design.BodyLink{{BodyID: "rim", Joint: design.Joint{KPerW: new(2.0), MaxC: new(18.0)}}}
			l.Variants[0].Bodies = append(l.Variants[0].Bodies, design.Body{ID: "rim", Name: "Rim", KPerW: new(8.0), MassKg: new(0.05)})
			l.Variants[0].Feeds[0].Loads = append(loads, design.Node{ID: "bridge", Fault: &design.Fault{State: "short", SeriesOhm: 40}, Switch: &design.Switch{}})
		}},
		{"Lantern behind a module", "pier-lantern.json", func(l *design.Light, loads []design.Node) {
			l.Parts = append(l.Parts, design.Part{ID: "module", Name: "Module", Driver: &design.Driver{Family: "voltage", Topology: "step-down", SetVoltageV: new(5.0), MaxCurrentA: new(3.0), Efficiency: new(0.9)}})
			l.Parts[1].Driver.InputMaxV, l.Parts[1].Driver.InputMinV, l.Parts[1].Driver.Channels = new(3.0), nil, 1
			driver := loads[0].Loads[0]
			driver.Driver.Chip = "one"
			twin := driver
			twin.ID, twin.Name, twin.Loads = "twin", "Twin", nil
			loads[0].Loads = []design.Node{{ID: "module", Driver: &design.DriverUse{PartID: "module"}, Loads: []design.Node{driver, twin}}}
		}},
		{"Handlamp too big for its room", "shore-search-handlamp.json", func(l *design.Light, loads []design.Node) {
			l.Parts[1].Driver.DiameterM, l.Brief.RoomDiamM = new(0.03), new(0.02)
			l.Brief.EmptyH, l.Brief.Money, l.Parts[0].Price = new(100.0), new(1.0), new(3.0)
			loads[1].Switch.Duty = new(0.5)
		}},
		{"Handlamp badly cooled", "shore-search-handlamp.json", func(l *design.Light, loads []design.Node) {
			v := &l.Variants[0]
			v.Bodies[0].Shape = &design.Shape{Kind: "fins", Pose: "down", LengthM: new(0.08), WidthM: new(0.06), ThicknessM: new(0.004), Fins: 8, FinHeightM: new(0.02), FinThickM: new(0.0015), Fan: &design.Fan{NodeID: "fan", FlowM3H: 2}}
			d := &loads[1].Loads[0]
			d.Loads = append(d.Loads, design.Node{ID: "fan", Aux: &design.Auxiliary{Purpose: "fan", CurrentA: 0.1}})
			d.Driver.StepDown = &design.StepDown{To: 0.6, AfterS: new(300.0)}
			l.Parts[2].Emitter.Claimed = &design.Claim{PowerW: new(10.0)}
			v.Bodies = append(v.Bodies, design.Body{ID: "twice", Name: "Twice", KPerW: new(4.0), MassKg: new(0.1), Shape: &design.Shape{Kind: "disc", DiameterM: new(0.012), ThicknessM: new(0.003)}})
		}},
		{"Strip on wood", "chart-table-strip.json", func(l *design.Light, _ []design.Node) {
			b := &l.Variants[0].Bodies[0]
			b.Shape = &design.Shape{Kind: "plate", Material: "wood", LengthM: new(1.5), WidthM: new(0.09), ThicknessM: new(0.018)}
			for i := range l.Parts {
				if s := l.Parts[i].Strip; s != nil {
					s.WidthM = new(0.01)
				}
			}
		}},
		{"Rack heaped in a corner", "germination-rack.json", func(l *design.Light, _ []design.Node) {
			o := &l.Variants[0].Layouts[0]
			for i := range o.Spots {
				o.Spots[i] = design.LayoutSpot{NodeID: "boards", XM: 0.06 + 0.11*float64(i%3) + 0.7*float64(i/3), YM: 0.06, LengthM: new(0.1), WidthM: new(0.1)}
			}
		}},
		{"Strip that lets go", "chart-table-strip.json", func(l *design.Light, loads []design.Node) {
			loads[0].Loads[0].Loads[0].Strip.Joint = &design.Joint{KPerW: new(2.0), MaxC: new(30.0)}
			module := design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 12, CurrentA: 0.1}}, SteadyV: new(30.0)}
			fragile := module
			fragile.SteadyV, fragile.MaxV = nil, new(5.0)
			loads[0].Loads[0].Loads = append(loads[0].Loads[0].Loads, design.Node{ID: "module", Load: &module}, design.Node{ID: "fragile", Load: &fragile})
		}},
		{"Handlamp badly packed", "shore-search-handlamp.json", func(l *design.Light, _ []design.Node) {
			pack := l.Variants[0].Feeds[0].Sources[0].Pack
			one, others := design.CellGroup{Cells: []design.PackCell{{CapacityAh: new(1.5)}}}, design.CellGroup{Cells: []design.PackCell{{Label: "a"}, {Label: "b"}}}
			pack.Groups, pack.FuseA, pack.Build, pack.AlarmCellV = []design.CellGroup{one, others, others, others}, new(0.5), "soldered", new(3.0)
			l.Parts[0].Cell.CapacityAh, l.Conditions.AmbientC = 9.9, -5
			board, charger := l.Part("board").Protect, l.Part("charger").Charger
			board.Series, board.Chemistry, board.MaxA, board.OverCellV = 3, "lifepo4", new(0.4), new(4.2)
			charger.CurrentA, charger.EndCellV, charger.Kind, charger.InputV = new(9.0), new(4.4), "linear", new(15.0)
		}},
		{"Handlamp cut off when full", "shore-search-handlamp.json", func(l *design.Light, _ []design.Node) {
			l.Variants[0].Feeds[0].Sources[0].Pack.CutoffCellV = new(4.3)
			l.Part("board").Protect.CutCellV = 2.0
			l.Part("charger").Charger.Chemistry = "lifepo4"
		}},
		{"Handlamp on dry cells", "shore-search-handlamp.json", func(l *design.Light, _ []design.Node) {
			pack := l.Variants[0].Feeds[0].Sources[0].Pack
			pack.ProtectionID, pack.CutoffCellV, pack.AlarmCellV = "", nil, new(2.5)
			l.Parts[0].Cell.Chemistry, l.Parts[0].Cell.MinV = "lithium-3.0", nil
		}},
		{"Lantern on a power bank", "pier-lantern.json", func(l *design.Light, _ []design.Node) {
			l.Variants[0].Feeds[0].Sources[0] = design.Source{ID: "bank", Supply: &design.Supply{VoltageV: 5, Kind: "power-bank", KeepsOnA: new(5.0)}}
		}},
		{"Handlamp with a charger for one", "shore-search-handlamp.json", func(l *design.Light, _ []design.Node) {
			l.Part("charger").Charger.Series = 1
			l.Variants[0].Feeds[0].Sources[0].Pack.Charger.ProgramOhm = new(1000.0)
		}},
		{"Ring behind a dropper", "pier-lantern.json", func(l *design.Light, loads []design.Node) {
			l.Variants[0].Feeds[0].Sources[0].Pack.Series = 3
			l.Parts[1].Driver = &design.Driver{Family: "dropper", DropV: new(8.0)}
			loads[0].Loads[0].Driver.SetCurrentA = nil
		}},
	} {
		id := spoiled(t, c.file, c.name, c.spoil)
		findings := glance(t, id).Findings
		p := open(t, "/lights/"+id)
		p.sees(findings[len(findings)-1].Title)
		for i, f := range findings {
			codes[f.Code] = true
			p.until("finding to press", `(i) => { const all = document.querySelectorAll('[data-finding]'); if (i >= all.length) return false; document.activeElement.blur(); all[i].querySelector('button').click(); return true }`, i)
			pointer := f.Pointer
			if strings.HasPrefix(pointer, "/parts/") {
				// A part's own figures stand on the page, or in a dialog as those of a first part.
				pointer = "/" + strings.SplitN(pointer, "/", 4)[3]
				p.until(c.name+": "+f.Code+" to lead to "+f.Pointer, `(end) => document.activeElement.dataset.pointer?.endsWith(end)`, pointer)
			} else {
				p.until(c.name+": "+f.Code+" to lead to "+f.Pointer, `(at) => (document.activeElement.dataset.pointer + '/').startsWith(at + '/')`, pointer)
			}
			if has, _, _ := p.Has("[role=dialog]"); has {
				p.keys(input.Escape)
				p.until("the dialog to close", `() => document.querySelector('[role=dialog]') === null`)
			}
		}
	}
	if len(codes) < 60 {
		t.Errorf("only %d kinds of finding were met: %v", len(codes), codes)
	}
	t.Logf("%d kinds of finding met", len(codes))
}
