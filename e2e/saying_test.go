package e2e

import (
	"math"
	"strings"
	"testing"

	"photherm/core/design"
)

// A light without a driver is brought up step by step, and a voltage that is read becomes
// the model's with one gesture: marked at its figure, and counted.
func TestBringUpWithoutADriver(t *testing.T) {
	id := spoiled(t, "shore-search-handlamp.json", "Handlamp without a driver", func(l *design.Light, loads []design.Node) {
		a := loads[1].Loads[0].Loads[0]
		a.Array.Series, a.Array.Parallel = 1, 3
		l.Variants[0].Feeds[0].Sources[0].Pack.Series = 1
		loads[1].Loads = []design.Node{a}
	})
	p := open(t, "/lights/"+id+"/driver")
	p.press("button", "Bring up")
	p.sees("Bringing up Three on one star")
	p.sees("First power from a bench supply")
	p.figure("/step/voltage", "3.1 V")
	p.press("button", "for each emitter")
	p.saved()
	v := stored(t, id).Variants[0]
	a := v.Feeds[0].Loads[1].Loads[0].Array
	if a.OffsetV == nil || *a.OffsetV > -0.05 || len(v.Measured) != 1 || !strings.HasSuffix(v.Measured[0].At, "/emitters/array/measuredOffsetV") {
		t.Fatalf("%+v, measured %+v", a.OffsetV, v.Measured)
	}
	p.sees("agrees with the calculation")
	p.sees("1 measured")
	p.press("[data-stage=emitters]", "")
	p.until("the mark at the figure", `() => document.querySelector('[data-measured]')?.textContent.includes('read 3.10 V')`)
	// Typed over it is measured no longer.
	p.figure("/array/measuredOffsetV", "0 V")
	p.saved()
	if m := stored(t, id).Variants[0].Measured; len(m) != 0 {
		t.Errorf("still measured: %+v", m)
	}
}

// Set-up speaks of every driver, names the source its sweep goes over, and tries any range.
func TestAnyRangeIsTried(t *testing.T) {
	p := open(t, "/lights/"+copyOf(t, "slipway-lantern.json", "Lantern tried")+"/driver?pane=setup")
	for _, side := range []string{"North", "East", "South", "West"} {
		p.sees("Setting up " + side + " driver")
	}
	p.sees("Over the range of Three in series, two abreast")
	p.figure("/tried/low", "7 V")
	p.figure("/tried/high", "12 V")
	p.until("the range tried", `() => ['7.00 V', '9.50 V', '12.0 V'].every((v) => [...document.querySelectorAll('[data-testid=setup] td')].some((td) => td.textContent === v))`)
	p.figure("/tried/high", "6 V")
	p.sees("The higher one stands here")
}

// What lights up is changed in one gesture: a load known by its draw, with one reading, its
// constant light, and how many there are; then strip, stuck to its body with an adhesive.
func TestWhatLightsUp(t *testing.T) {
	id := spoiled(t, "chart-table-strip.json", "Table without a light", func(l *design.Light, loads []design.Node) {
		loads[0].Loads[0].Loads = nil
	})
	p := open(t, "/lights/"+id+"/emitters")
	p.sees("Nothing lights up yet")
	p.press("section[aria-label=Workbench] [role=combobox]", "nothing yet")
	p.press("[role=option]", "a load known by its draw")
	p.sees("nothing read yet")
	p.write("section[aria-label=Workbench] textarea[data-pointer$='/points']", "12 V 250 mA")
	p.figure("/load/steadyFromVoltageV", "9 V")
	p.figure("/load/maxVoltageV", "30 V")
	p.figure("/count", "3")
	p.saved()
	lit := func() design.Node { return stored(t, id).Variants[0].Feeds[0].Loads[0].Loads[0].Loads[0] }
	if n := lit(); n.Count != 3 || n.Load == nil || len(n.Load.Points) != 1 || n.Load.SteadyV == nil || *n.Load.SteadyV != 9 || *n.Load.MaxV != 30 {
		t.Fatalf("%+v, %+v", n, n.Load)
	}
	p.press("section[aria-label=Workbench] [role=combobox]", "a load known by its draw")
	p.press("[role=option]", "strip by the metre")
	p.saved()
	if n := lit(); n.Load != nil || n.Strip == nil || n.BodyID != "profile" {
		t.Fatalf("%+v", n)
	}
	p.press("[data-stage=heat]", "")
	p.press("[data-pointer$='/strip/joint']", "known by its K/W")
	p.press("[role=option]", "foam tape of strip")
	p.saved()
	if j := lit().Strip.Joint; j == nil || j.ThicknessM == nil || j.AreaM2 != nil || j.MaxC == nil {
		t.Errorf("%+v", j)
	}
}

// An emitter by what its seller says: read while it is typed, kept with what is claimed; of
// the package before it nothing is kept.
func TestEmitterByItsLabel(t *testing.T) {
	id := copyOf(t, "boathouse-floodlight.json", "Floodlight with another package")
	p := open(t, "/lights/"+id+"/emitters")
	p.figure("/array/packageRows", "5")
	p.sees("Each row of dies in it")
	p.press("section[aria-label=Workbench] button", "Change…")
	p.press("[role=dialog] button", "By its label…")
	p.write("[data-testid=label] input", "T8 tube 18 W")
	p.sees("That is a ready lamp")
	p.write("[data-testid=label] input", "30 W 30-34 V 1500 lm ceramic")
	p.sees("10 dies in series")
	p.sees("Not used: ceramic")
	// What is typed last is kept, though it has not been answered yet.
	p.slow("*/api/begin")
	p.write("[data-testid=label] input", "20 W 30-34 V 1500 lm")
	p.press("[role=dialog] button", "Take it")
	p.until("the label to be kept", `() => !document.querySelector('[role=dialog]')`)
	p.saved()
	light := stored(t, id)
	a := light.Variants[0].Feeds[0].Loads[0].Loads[0].Loads[0].Array
	e := light.Part(a.PartID).Emitter
	if a.PackageRows != 0 {
		t.Errorf("%d rows of the package before", a.PackageRows)
	}
	if e.JunctionsSer != 10 || e.Claimed == nil || e.Claimed.PowerW == nil || *e.Claimed.PowerW != 20 || *e.Claimed.FluxLm != 1500 {
		t.Errorf("%+v, claimed %+v", e, e.Claimed)
	}
}

// A whole board read warm at its wires stands as one in the light: what its wiring was is
// not kept, and one is assumed until more are said.
func TestWholeBoardStandsAsOne(t *testing.T) {
	id := copyOf(t, "germination-rack.json", "Rack of a found board")
	p := open(t, "/lights/"+id+"/emitters")
	p.press("section[aria-label=Workbench] button", "Change…")
	p.press("[role=dialog] button", "From bench readings…")
	p.press("[data-testid=measured] [role=combobox]", "one emitter")
	p.press("[role=option]", "a whole board, at its wires")
	p.press("[data-testid=measured] [role=combobox]", "quick and cold")
	p.press("[role=option]", "warm, at rest")
	p.write("[data-testid=measured] textarea", "0.1 A 33.1 V\n0.35 A 34.6 V\n0.7 A 35.9 V")
	p.press("[data-testid=measured] button", "Keep it")
	p.sees("2 assumed")
	p.saved()
	light := stored(t, id)
	v := light.Variants[0]
	a := v.Feeds[0].Loads[0].Loads[0].Loads[0].Array
	if a.Series != 1 || a.Parallel != 1 || a.Count != 0 || a.BoardKPerW != nil || len(v.Assumed) != 2 {
		t.Errorf("%+v, assumed %+v", a, v.Assumed)
	}
	for _, r := range light.Part(a.PartID).Emitter.Forward {
		if r.CaseC == nil || *r.CaseC != 45 {
			t.Errorf("read warm: %+v", r)
		}
	}
	p.figure("/array/parallel", "4")
	p.saved()
	if v := stored(t, id).Variants[0]; len(v.Assumed) != 1 {
		t.Errorf("once it is said: %+v", v.Assumed)
	}
}

// A length of wire stands for its resistance, and the volts of a rested cell or of the pack
// for a charge; each is said back while it is typed.
func TestWireAndVoltsAreUnderstood(t *testing.T) {
	id := copyOf(t, "shore-search-handlamp.json", "Handlamp by the volt")
	p := open(t, "/lights/"+id+"/source")
	p.figure("/pack/contactOhm", "1.2 m AWG 24")
	p.saved()
	if ohm := stored(t, id).Variants[0].Feeds[0].Sources[0].Pack.ContactOhm; math.Abs(ohm-0.101) > 1e-3 {
		t.Errorf("1.2 m AWG 24 are %g Ω", ohm)
	}
	p = open(t, "/lights/"+id)
	charge := func(said string) float64 {
		t.Helper()
		p.figure("/conditions/charge", said)
		p.saved()
		if c := stored(t, id).Conditions.Charge; c != nil {
			return *c
		}
		return math.NaN()
	}
	p.sees("the volts of a rested cell")
	cell, pack, full := charge("3.9 V"), charge("15.6 V"), charge("16.8 V")
	if !(cell > 0.5 && cell < 0.85) || math.Abs(cell-pack) > 1e-9 || full < 0.99 {
		t.Errorf("3.9 V a cell are %g, 15.6 V for four %g, 16.8 V %g", cell, pack, full)
	}
	p.figure("/conditions/charge", "1.0 V")
	p.sees("A rested cell stands between")
}

// A fault put into the one string there is goes dark and names the emitter.
func TestFaultInASingleString(t *testing.T) {
	id := copyOf(t, "shore-search-handlamp.json", "Handlamp with a fault")
	p := open(t, "/lights/"+id+"/emitters")
	p.press("[data-pointer$='/array/unequal']", "none")
	p.press("[role=option]", "an emitter or joint open")
	p.figure("/array/unequal/0/at", "2")
	p.sees("Emitter 2 of Three on one star, counted from plus, is open")
	p.press("[data-pointer$='/array/unequal']", "open")
	p.press("[role=option]", "emitters shorted")
	p.until("light again", `() => /lm/.test(document.querySelector('[data-answer=output]').textContent)`)
	p.saved()
	if u := stored(t, id).Variants[0].Feeds[0].Loads[1].Loads[0].Loads[0].Array.Unequal; len(u) != 1 || u[0].Shorted != 1 || u[0].Open {
		t.Errorf("%+v", u)
	}
}

// A light of which nothing is said lists what to say first; each step leads to where it is
// said, and is ticked once it is.
func TestFirstSteps(t *testing.T) {
	id := spoiled(t, "shore-search-handlamp.json", "Nothing said yet", func(l *design.Light, _ []design.Node) {
		l.Brief, l.Parts = design.Brief{}, []design.Part{}
		l.Variants[0].Bodies, l.Variants[0].Feeds[0].Sources, l.Variants[0].Feeds[0].Loads = []design.Body{}, []design.Source{}, []design.Node{}
	})
	p := open(t, "/lights/"+id)
	p.sees("Nothing flows yet")
	p.until("nothing shown as nought", `() => !/\b0 (lm|W|stop)/.test(document.body.textContent)`)
	p.press("[data-testid=first-steps] button", "Say it")
	p.press("[data-pointer='/variants/0/feeds/0/sources']", "not chosen yet")
	p.press("[role=option]", "Bench supply")
	p.until("the first step done", `() => [...document.querySelectorAll('[data-testid=first-steps] li')].map((li) => li.textContent[0]).join('') === '✓○○○'`)
	p.press("[data-testid=first-steps] li:nth-child(4) button", "Say it")
	p.press("button", "Add a body")
	p.figure("/bodies/0/kPerW", "5 K/W")
	p.until("the last step done", `() => [...document.querySelectorAll('[data-testid=first-steps] li')].map((li) => li.textContent[0]).join('') === '✓○○✓'`)
}

// A body by what a ruler tells of it: measures begin assumed, warn where they do not go
// together, and both schools follow; the length that physics asks for is tried and keeps the
// limit, and a fan that stops is told.
func TestSinkByItsMeasures(t *testing.T) {
	id := copyOf(t, "shore-search-handlamp.json", "Handlamp on fins")
	p := open(t, "/lights/"+id+"/heat?pane=sink")
	p.sees("Area rule")
	p.press("[data-pointer='/variants/0/bodies/0/shape']", "a round tube")
	p.press("[role=option]", "plate fins on a base")
	p.sees("6 assumed")
	p.figure("/shape/lengthM", "60 mm")
	p.figure("/shape/fins", "8")
	p.sees("4 assumed")
	p.saved()
	b := stored(t, id).Variants[0].Bodies[0]
	if b.KPerW != nil || b.Shape == nil || b.Shape.Fins != 8 || *b.Shape.LengthM != 0.06 {
		t.Fatalf("%+v %+v", b, b.Shape)
	}
	p.sees("Area rule")
	p.press("[data-testid=sink] [title='Try this length']", "")
	p.sees("Keep")
	p.press("button", "Keep")
	p.saved()
	longer := *stored(t, id).Variants[0].Bodies[0].Shape.LengthM
	if longer < 0.07 {
		t.Errorf("cut to %g m", longer)
	}
	p.press("button", "A fan blows through it…")
	p.sees("its fan stops")
	p.sees("Should its fan stop")
	p.figure("/shape/finThicknessM", "12 mm")
	p.sees("leave no room for air")
}

// A charger that is plugged in is drawn against the stream, with its watts, and told in the source's line.
func TestChargingOnTheRibbon(t *testing.T) {
	id := copyOf(t, "shore-search-handlamp.json", "Handlamp on its charger")
	p := open(t, "/lights/"+id+"/source")
	p.press("input[type=checkbox][data-pointer$='/charger/pluggedIn']", "")
	p.unfold()
	p.get("[data-testid=charger]", "charger 1")
	p.get("[data-testid=ribbon] [data-stage=source]", "charger")
	p.saved()
	if c := stored(t, id).Variants[0].Feeds[0].Sources[0].Pack.Charger; c == nil || !c.PluggedIn {
		t.Errorf("%+v", c)
	}
}

// A board that bears less than the light draws trips: at once the light is dark and says why, or later
// its run ends there.
func TestBoardTrips(t *testing.T) {
	p := open(t, "/lights/"+copyOf(t, "shore-search-handlamp.json", "Handlamp behind a small board")+"/source")
	p.press("button", "All figures of the board…")
	p.figure("/protection/maxCurrentA", "0.9 A")
	p.press("[role=dialog] button", "Done")
	p.sees("the board lets 900 mA through: it switches off as soon as it is switched on")
	p.sees("It does not light, so there is nothing to draw")
	p.press("button", "All figures of the board…")
	p.figure("/protection/maxCurrentA", "1.2 A")
	p.press("[role=dialog] button", "Done")
	p.sees("The board lets 1.20 A through, and after")
	p.sees("board trips")
	p.misses("It does not light")
}
