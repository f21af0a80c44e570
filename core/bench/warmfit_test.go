package bench

import (
	"context"
	"math"
	"math/rand/v2"
	"runtime"
	"sync"
	"testing"

	"photherm/core/design"
	"photherm/core/heat"
)

// plateLight heats a small block with so many watts, joined to an upright plate.
func plateLight(watts, thickM float64, surface string) *design.Light {
	shape := &design.Shape{Kind: "plate", Material: "aluminium", LengthM: p(0.2), WidthM: p(0.15), ThicknessM: p(thickM), Surface: surface}
	return &design.Light{Format: design.Format, Version: design.Version, Name: "heater", Conditions: design.Conditions{AmbientC: 20}, Parts: []design.Part{},
		Variants: []design.Variant{{ID: "v", Name: "v", Bodies: []design.Body{{ID: "a", Name: "Block", HeatJPerK: p(20.0), Joints: []design.BodyLink{{BodyID: "b", Joint: design.Joint{KPerW: p(0.5)}}}}, {ID: "b", Name: "Plate", Shape: shape}},
			Feeds: []design.Feed{{ID: "f", Sources: []design.Source{{ID: "rail", Supply: &design.Supply{VoltageV: 10}}}, Loads: []design.Node{{ID: "load", BodyID: "a", Load: &design.MeasuredLoad{Points: []design.LoadPoint{{VoltageV: 10, CurrentA: watts / 10}}}}}}}}}}
}

// A truth is a warm-up computed by this test alone: two lumps, air whose film grows with a power
// of the rise that the fit is not told, radiation by the fourth powers, in steps of a second by
// Runge and Kutta's rule.
type truth struct {
	watts, blockJ, plateJ, jointK, film, power, emissivity, areaM2 float64
}

// churchillChu is the film of an upright plate of a height at a rise in air of 20 °C, W/(m²·K)
// (Churchill & Chu, 1975, the laminar form; air of 300 to 320 K by Incropera & DeWitt, table A.4).
func churchillChu(riseK, highM float64) float64 {
	filmK := 293.15 + riseK/2
	nu := 15.89e-6 * math.Pow(filmK/300, 1.75)
	k, pr := 0.0263*math.Pow(filmK/300, 0.85), 0.707
	ra := 9.81 / filmK * riseK * highM * highM * highM / nu / nu * pr
	return k / highM * (0.68 + 0.670*math.Pow(ra, 0.25)/math.Pow(1+math.Pow(0.492/pr, 9.0/16), 4.0/9))
}

func (x *truth) out(c float64) float64 {
	rise := c - 20
	if rise <= 0 {
		return 0
	}
	k := c + 273.15
	return x.areaM2 * (x.film*math.Pow(rise/30, x.power)*rise + x.emissivity*5.670374e-8*(math.Pow(k, 4)-math.Pow(293.15, 4)))
}

// warm is the block at every second, and where it ends.
func (x *truth) warm(seconds int) (c []float64, end float64) {
	rate := func(a, b float64) (da, db float64) {
		flow := (a - b) / x.jointK
		return (x.watts - flow) / x.blockJ, (flow - x.out(b)) / x.plateJ
	}
	a, b := 20.0, 20.0
	for range seconds {
		a1, b1 := rate(a, b)
		a2, b2 := rate(a+a1/2, b+b1/2)
		a3, b3 := rate(a+a2/2, b+b2/2)
		a4, b4 := rate(a+a3, b+b3)
		a, b = a+(a1+2*a2+2*a3+a4)/6, b+(b1+2*b2+2*b3+b4)/6
		c = append(c, a)
	}
	low, high := 20.0, 500.0
	for range 80 {
		if mid := (low + high) / 2; x.out(mid) < x.watts {
			low = mid
		} else {
			high = mid
		}
	}
	return c, low + x.watts*x.jointK
}

// A trial is how fits of many truths did.
type trial struct{ bias, within, width, on float64 }

// tried fits logs of so many minutes of seeded truths.
func tried(t *testing.T, surface string, trials, minutes int, noise func(*rand.Rand) func(c float64) float64) trial {
	t.Helper()
	watts, thick := 20.0, 0.010
	if surface == "bare" {
		watts, thick = 12, 0.005
	}
	light := plateLight(watts, thick, surface)
	shape := light.Variants[0].Bodies[1].Shape
	plateJ, ok := heat.CapacityJPerK(&light.Variants[0].Bodies[1])
	if !ok {
		t.Fatal("no heat capacity")
	}
	var sum trial
	var mu sync.Mutex
	var group sync.WaitGroup
	for worker := range runtime.GOMAXPROCS(0) {
		group.Go(func() {
			for seed := worker; seed < trials; seed += runtime.GOMAXPROCS(0) {
				r := rand.New(rand.NewPCG(uint64(seed), 7))
				x := truth{watts: watts, blockJ: 20, plateJ: plateJ * (1 + 0.025*r.NormFloat64()), jointK: 0.5 * math.Exp(0.25*r.NormFloat64()), film: churchillChu(30, 0.2) * math.Exp(0.15*r.NormFloat64()), power: 0.20 + 0.13*r.Float64(), emissivity: max(0.02, heat.EmissivityOf(shape)+0.025*r.NormFloat64()), areaM2: 2 * 0.2 * 0.15}
				c, end := x.warm(60 * minutes)
				add := noise(r)
				log := WarmLog{Owner: "a", Figure: "bodyC"}
				for i := range c {
					log.S, log.C = append(log.S, float64(i+1)), append(log.C, add(c[i]))
				}
				fit, err := WarmFitOf(context.Background(), light, WarmQuestion{Log: log})
				mu.Lock()
				if err != nil {
					t.Errorf("seed %d: %v", seed, err)
				} else {
					sum.bias += (fit.RestC - end) / float64(trials)
					sum.width += (fit.High - fit.Low) / 2 / float64(trials)
					if fit.Low <= end && end <= fit.High {
						sum.within += 1 / float64(trials)
					}
					if fit.MeasureOn {
						sum.on += 1 / float64(trials)
					}
				}
				mu.Unlock()
			}
		})
	}
	group.Wait()
	return sum
}

func white(r *rand.Rand) func(float64) float64 {
	return func(c float64) float64 { return c + 0.1*r.NormFloat64() }
}

func steps(*rand.Rand) func(float64) float64 {
	return func(c float64) float64 { return math.Round(c*10) / 10 }
}

// draught is 0.2 K that hangs together for 60 s.
func draught(r *rand.Rand) func(float64) float64 {
	rho := math.Exp(-1.0 / 60)
	x := 0.2 * r.NormFloat64()
	return func(c float64) float64 {
		x = rho*x + 0.2*math.Sqrt(1-rho*rho)*r.NormFloat64()
		return c + x
	}
}

// Where a warm-up ends, from its first minutes: with white noise of 0.1 K after ten, and with a
// draught that the fit is not told of after thirty, the end is right to 1 K on average and the
// band holds four in five; before that, with the draught, the band is honestly wide and says so.
func TestWarmUpOfAnotherLaw(t *testing.T) {
	for _, surface := range []string{"painted", "bare"} {
		for _, c := range []struct {
			name    string
			minutes int
			noise   func(*rand.Rand) func(float64) float64
			covers  bool
			on      float64 // share of the fits that must say so, at least
		}{{"white", 10, white, true, 0}, {"draught", 30, draught, true, 0}, {"draught", 10, draught, false, 0.9}, {"draught", 20, draught, false, 0.75}, {"steps", 10, steps, false, 0}} {
			trials := 200
			if !c.covers {
				trials = 60
			}
			got := tried(t, surface, trials, c.minutes, c.noise)
			t.Logf("%s, %s, %d min: bias %.2f K, band ±%.2f K holds %.1f %%, of which %.0f %% say measure on", surface, c.name, c.minutes, got.bias, got.width, 100*got.within, 100*got.on)
			switch {
			case c.covers && (math.Abs(got.bias) > 1 || got.within < 0.75 || got.within > 0.85):
				t.Errorf("%s, %s, %d min: %+v", surface, c.name, c.minutes, got)
			case !c.covers && (math.Abs(got.bias) > got.width/3 || got.within < 0.7 || got.on < c.on):
				t.Errorf("%s, %s, %d min: %+v", surface, c.name, c.minutes, got)
			}
		}
	}
}

// A figure taken from one log is not counted twice by the next: the fit begins from the document
// again, and taken anew the light ends where the log says.
func TestWarmUpTakenTwice(t *testing.T) {
	light := plainLoad()
	light.Variants[0].Bodies[0].KPerW = p(3.6)
	log := WarmLog{Owner: "b", Figure: "bodyC"}
	for s := 0.0; s <= 1500; s += 10 {
		log.S, log.C = append(log.S, s), append(log.C, 20+12*2.5*(1-math.Exp(-s/500)))
	}
	var first float64
	for round := range 2 {
		fit, err := WarmFitOf(context.Background(), light, WarmQuestion{Log: log})
		if err != nil {
			t.Fatal(err)
		}
		if round == 0 {
			first = fit.RestC
		} else if math.Abs(fit.RestC-first) > 0.01 {
			t.Errorf("again it ends at %g, not %g °C", fit.RestC, first)
		}
		light.Variants[0].Corrected = nil
		for _, f := range fit.Figures {
			light.Variants[0].Corrected = append(light.Variants[0].Corrected, f.Take)
		}
		if r := plan(t, light).row(t, "b", "bodyC-rest").Reading; math.Abs(r.Expected-fit.RestC) > 0.05 {
			t.Errorf("taken, it expects %g, the fit says %g °C", r.Expected, fit.RestC)
		}
	}
}
